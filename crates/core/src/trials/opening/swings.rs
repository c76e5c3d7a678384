//! Swings without a ball: bests by implement, side and position.

use super::{OpeningQuestion, Swing, told};
use crate::shots::swung::{SwingSide, Swung, leaps};
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// Swings of one implement, side and position.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SwingRow {
    /// What was swung, and how.
    pub swung: Swung,
    /// Swings.
    pub n: usize,
    /// The fastest, m/s.
    pub best: f64,
    /// Their mean, m/s.
    pub mean: f64,
    /// Whether they were meant to be slower than they could be.
    pub gentle: bool,
}

/// The swings by implement, side and position, in the order they first came.
pub fn swing_rows(swings: &[Swing]) -> Vec<SwingRow> {
    let mut rows: Vec<SwingRow> = Vec::new();
    for swing in swings {
        let place = rows
            .iter()
            .position(|row| row.swung == swing.swung && row.gentle == swing.gentle);
        let place = place.unwrap_or_else(|| {
            rows.push(SwingRow {
                swung: swing.swung.clone(),
                n: 0,
                best: 0.0,
                mean: 0.0,
                gentle: swing.gentle,
            });
            rows.len() - 1
        });
        let row = &mut rows[place];
        row.mean = (row.mean * row.n as f64 + swing.speed) / (row.n + 1) as f64;
        row.n += 1;
        row.best = row.best.max(swing.speed);
    }
    rows
}

/// For each swing, whether no body makes it beside the others of the same implement and side.
pub fn leapt(swings: &[Swing], jump: f64) -> Vec<bool> {
    let key = |swing: &Swing| {
        let Swung {
            implement, side, ..
        } = swing.swung.clone();
        (implement, side, swing.gentle)
    };
    let mut told = vec![false; swings.len()];
    let mut seen = Vec::new();
    for swing in swings {
        let of = key(swing);
        if seen.contains(&of) {
            continue;
        }
        let same: Vec<usize> = (0..swings.len())
            .filter(|at| key(&swings[*at]) == of)
            .collect();
        let speeds: Vec<f64> = same.iter().map(|at| swings[*at].speed).collect();
        for (at, leapt) in same.iter().zip(leaps(&speeds, jump)) {
            told[*at] = leapt;
        }
        seen.push(of);
    }
    told
}

/// How much slower the other side is over the implements that both swung, as a share.
pub fn other_side(rows: &[SwingRow]) -> Option<f64> {
    let shares: Vec<f64> = rows
        .iter()
        .filter(|row| row.swung.side == Some(SwingSide::Other) && !row.gentle)
        .filter_map(|other| {
            let twin = Swung {
                side: Some(SwingSide::Dominant),
                ..other.swung.clone()
            };
            let own = rows.iter().find(|row| row.swung == twin && !row.gentle)?;
            Some(1.0 - other.mean / own.mean)
        })
        .collect();
    (!shares.is_empty()).then(|| shares.iter().sum::<f64>() / shares.len() as f64)
}

/// How the other side compares, in words.
pub fn other_side_said(slower: f64) -> String {
    format!(
        "The other side is {:.0} % {}.",
        slower.abs() * 100.0,
        if slower < 0.0 { "faster" } else { "slower" }
    )
}

pub(super) fn verdict(question: &OpeningQuestion<'_>) -> Verdict {
    let rows = swing_rows(question.swings);
    let Some(best) = rows.iter().max_by(|a, b| a.best.total_cmp(&b.best)) else {
        let none = Sentence::of("No swings yet. They appear here as they are made.");
        return told(
            VerdictKind::CannotTellYet,
            none,
            Sentence::default(),
            FORMULA,
        );
    };
    let said = Sentence::of(format!("{}’s fastest swing was ", question.player))
        .figure(best.best, Dimension::Speed)
        .words(format!(
            ", with the {} implement: no club speed, and not to be held against one.",
            best.swung.implement
        ));
    let said = match other_side(&rows) {
        Some(slower) => said.words(format!(" {}", other_side_said(slower))),
        None => said,
    };
    let mut implements: Vec<&str> = Vec::new();
    for row in &rows {
        if !implements.contains(&row.swung.implement.as_str()) {
            implements.push(&row.swung.implement);
        }
    }
    let detail = implements.into_iter().fold(
        Sentence::of(format!("{} swings", question.swings.len())),
        |said, implement| {
            let of = rows.iter().filter(|row| row.swung.implement == implement);
            let best = of.map(|row| row.best).fold(0.0, f64::max);
            said.words(format!(" · best {implement} "))
                .figure(best, Dimension::Speed)
        },
    );
    told(VerdictKind::Same, said, detail, FORMULA)
}

const FORMULA: &str = "Best and mean of the swings of each implement, side and position. The other side: mean speed over that of the same implement and position from the player’s own side, averaged.";
