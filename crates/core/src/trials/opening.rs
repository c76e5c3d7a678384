//! What a session is opened with: the sentence of its purpose.
//!
//! A speed day answers by speed, a force session by force, a ladder by its steps. Where
//! blocks differ on purpose, no mean is taken over them.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::reach::launch_spin::{TargetWindow, launch_spin};
use crate::session::acts::Prepared;
use crate::session::purpose::{Analysis, Purpose};
use crate::session::read::{Question, verdict_of};
use crate::shots::ball::Ball;
use crate::shots::face::{FaceRead, face};
use crate::shots::mark::Decision;
use crate::shots::standing::{Shot, Standing};
use crate::shots::swung::Swung;
use crate::statistics::looks::Looks;
use crate::statistics::summary::{Summary, summarise};
use crate::trials::compare::{BallSet, CompareQuestion, compare, propose_sets};
use crate::trials::effort::{EffortQuestion, effort};
use crate::trials::hole::{Criterion, Hole};
use crate::trials::speed_ladder::{LadderBall, speed_ladder};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

mod force;
mod numbers;
mod swings;

pub use swings::{SwingRow, leapt, other_side, other_side_said, swing_rows};

/// A swing without a ball.
#[derive(Debug, Clone, PartialEq)]
pub struct Swing {
    /// What was swung, and how.
    pub swung: Swung,
    /// Its speed, m/s.
    pub speed: f64,
    /// Whether it was meant to be slower than it could be.
    pub gentle: bool,
}

/// What a session is opened by.
#[derive(Debug, Clone, PartialEq)]
pub struct OpeningQuestion<'a> {
    /// The player's name, for the sentence.
    pub player: &'a str,
    /// Why the session was held.
    pub purpose: Purpose,
    /// The numbers shown in it, the greatest first.
    pub shown: &'a [Quantity],
    /// The club that is looked at.
    pub club: Club,
    /// Its air.
    pub conditions: Conditions,
    /// All balls of that club in hitting order, with their blocks.
    pub balls: &'a [LadderBall],
    /// Balls of every club, for a bag.
    pub bag: &'a [Ball],
    /// Which labels ask for full effort.
    pub full: &'a [(String, bool)],
    /// Swings without a ball.
    pub swings: &'a [Swing],
    /// The same value last time, kept balls of the same purpose and club.
    pub last: Option<Summary>,
    /// The player's own target of launch and spin with the club, when one was saved.
    pub window: Option<TargetWindow>,
    /// The player's reference maximum of club speed, m/s.
    pub reference: Option<f64>,
    /// Carry between neighbouring clubs of this player, m, when known.
    pub club_gap: Option<f64>,
    /// How the balls were looked at.
    pub looks: Looks,
    /// What the session's test was prepared for.
    pub prepared: Option<Prepared>,
    /// The house's thresholds.
    pub rules: HouseRules,
}

/// What a session is opened with.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Opening {
    /// The purpose that it answers.
    pub purpose: Purpose,
    /// The answer.
    pub verdict: Verdict,
    /// Bests of swings without a ball, by implement, side and position.
    pub swings: Vec<SwingRow>,
    /// The blocks one by one, where they differ on purpose: no mean is taken over them.
    pub blocks: Vec<BlockRow>,
    /// Where on the face the balls were struck, and what that cost.
    pub face: FaceRead,
}

/// The kept balls of all blocks with a label.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BlockRow {
    /// The label.
    pub label: String,
    /// Kept balls.
    pub n: usize,
    /// The values that the purpose shows, and the carry.
    pub figures: Vec<BlockFigure>,
}

/// One value over the kept balls of a block.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct BlockFigure {
    /// Which.
    pub quantity: Quantity,
    /// Its summary.
    pub summary: Summary,
}

/// Whether a purpose's blocks differ on purpose.
fn differ(purpose: Purpose) -> bool {
    !matches!(
        purpose,
        Purpose::Benchmark | Purpose::ExpectedCarry | Purpose::BagGapping
    )
}

/// The blocks of a purpose whose blocks differ, when there is more than one.
fn blocks(question: &OpeningQuestion<'_>) -> Vec<BlockRow> {
    let mut labels: Vec<&String> = Vec::new();
    for ladder in question.balls {
        if !labels.contains(&&ladder.label) {
            labels.push(&ladder.label);
        }
    }
    if labels.len() < 2 || !differ(question.purpose) {
        return vec![];
    }
    let mut shown = question.shown.to_vec();
    if !shown.contains(&Quantity::Carry) {
        shown.push(Quantity::Carry);
    }
    let row = |label: &String| {
        let balls = || {
            let of = question.balls.iter().filter(|l| l.label == *label);
            of.map(|ladder| &ladder.ball)
        };
        let figures = shown.iter().filter_map(|quantity| {
            let summary = kept(balls(), *quantity, &question.rules)?;
            Some(BlockFigure {
                quantity: *quantity,
                summary,
            })
        });
        BlockRow {
            label: label.clone(),
            n: balls().filter(|ball| ball.kept()).count(),
            figures: figures.collect(),
        }
    };
    labels.into_iter().map(row).collect()
}

/// Opens a session.
pub fn opening(question: &OpeningQuestion<'_>) -> Opening {
    let purpose = question.purpose;
    let verdict = if question.balls.is_empty() && !question.swings.is_empty() {
        swings::verdict(question)
    } else {
        match (purpose, purpose.decides_by()) {
            (Purpose::Force, _) => force::verdict(question),
            (_, Analysis::Effort) => by_effort(question),
            (_, Analysis::SpeedLadder) => {
                speed_ladder(question.balls, &looked_at(question)).verdict
            }
            (Purpose::BagGapping, _) => numbers::bag(question),
            (Purpose::ExpectedCarry, _) => expected(question),
            (Purpose::LaunchAndSpin, _) if sets_of(question).len() < 2 => by_launch(question),
            (_, Analysis::Comparison) => {
                let meant = question.prepared.map(|prepared| prepared.quantity);
                let meant = meant.or(question.shown.first().copied());
                let told = meant.and_then(|quantity| compared(question, quantity));
                told.unwrap_or_else(|| match purpose {
                    Purpose::Technique => numbers::technique(question),
                    _ => numbers::verdict(question),
                })
            }
            (_, Analysis::WarmUp) => numbers::verdict(question),
        }
    };
    Opening {
        purpose,
        verdict,
        swings: swing_rows(question.swings),
        blocks: blocks(question),
        face: face(
            question.balls.iter().map(|ladder| &ladder.ball),
            question.club,
            &question.rules,
        ),
    }
}

/// The shots as they stand.
fn shots_of(question: &OpeningQuestion<'_>) -> Vec<Shot> {
    question
        .balls
        .iter()
        .map(|ladder| Shot {
            reading: ladder.ball.reading.clone(),
            decision: match ladder.ball.standing {
                Standing::Kept => Some(Decision::Keep),
                Standing::SetAside => Some(Decision::SetAside),
                Standing::Doubtful => None,
            },
        })
        .collect()
}

/// Where the balls lie to the player's target of launch and spin.
fn by_launch(question: &OpeningQuestion<'_>) -> Verdict {
    let shots = shots_of(question);
    let standing: Vec<(&Shot, Standing)> = shots
        .iter()
        .zip(question.balls)
        .map(|(shot, ladder)| (shot, ladder.ball.standing))
        .collect();
    let (rules, here) = (&question.rules, &question.conditions);
    let step = question.rules.carry_margin;
    match launch_spin(&standing, question.club, here, rules, question.window, step) {
        Ok(map) => {
            let kind = match (map.kept, map.inside) {
                (0, _) => VerdictKind::CannotTellYet,
                (kept, inside) if 2 * inside > kept => VerdictKind::Same,
                _ => VerdictKind::No,
            };
            let balls = Sentence::of(format!("{} balls with a spin that counts", map.kept));
            let detail = match map.note {
                Some(note) => balls.words(" · ").join(note),
                None => balls,
            };
            told(
                kind,
                map.sentence,
                detail,
                "The target is the best launch and spin that this player can deliver, by the impact and flight models, and never worse than the balls it judges.",
            )
        }
        Err(_) => numbers::verdict(question),
    }
}

/// The carry against what the speed should give.
fn expected(question: &OpeningQuestion<'_>) -> Verdict {
    let shots = shots_of(question);
    verdict_of(&Question {
        player: question.player,
        club: question.club,
        conditions: question.conditions,
        rules: question.rules,
        shots: &shots,
    })
}

/// The house's thresholds with the level that looking while balls are hit asks for.
fn looked_at(question: &OpeningQuestion<'_>) -> HouseRules {
    question
        .rules
        .looked_at(question.looks, question.balls.len())
}

fn by_effort(question: &OpeningQuestion<'_>) -> Verdict {
    let balls: Vec<(Ball, String)> = question
        .balls
        .iter()
        .map(|ladder| (ladder.ball.clone(), ladder.label.clone()))
        .collect();
    let asked = EffortQuestion {
        player: question.player,
        balls: &balls,
        reference: question.reference,
        criterion: Criterion::default(),
        hole: Hole::usual(&question.rules),
        rules: looked_at(question),
    };
    match effort(&asked) {
        Ok(report) => report.verdict,
        Err(_) => numbers::verdict(question),
    }
}

/// The purpose's sets against each other; nothing when there are not two, or when neither
/// has the value.
fn compared(question: &OpeningQuestion<'_>, quantity: Quantity) -> Option<Verdict> {
    let sets = sets_of(question);
    let has = |set: &BallSet| {
        let counted = |ball: &Ball| ball.counted(quantity, &question.rules).is_some();
        set.balls.iter().any(counted)
    };
    if sets.len() < 2 || !sets.iter().all(has) {
        return None;
    }
    let speed = quantity == Quantity::ClubSpeed;
    let report = compare(&CompareQuestion {
        quantity,
        sets,
        margin: question
            .prepared
            .filter(|prepared| prepared.quantity == quantity)
            .and_then(|prepared| prepared.margin),
        fairway_width: None,
        club_gap: question.club_gap,
        order_in: true,
        looks: question.looks,
        prepared: question.prepared,
        others: vec![],
        chosen_of: None,
        rules: question.rules,
    })
    .ok()?;
    let mut verdict = report.verdict;
    let told = report.differences.first();
    if let Some((told, worth)) = told.and_then(|told| Some((told, told.worth?)))
        && speed
        && verdict.kind == VerdictKind::Yes
    {
        let clubs = told.clubs.map_or(0.0, |clubs| clubs.value);
        verdict.sentence = verdict
            .sentence
            .words(" Worth about ")
            .figure(worth.value, Dimension::Distance)
            .words(format!(" of carry{}.", clubs_said(clubs)));
    }
    if let Some(bests) = told.and_then(|told| told.bests) {
        let dimension = quantity.dimension();
        verdict.detail = verdict
            .detail
            .words(format!(" · best of {} tries ", bests.tries))
            .bare(bests.other, dimension)
            .words(" against ")
            .figure(bests.first, dimension);
    }
    Some(verdict)
}

/// The sets that the purpose's blocks make.
fn sets_of(question: &OpeningQuestion<'_>) -> Vec<BallSet> {
    propose_sets(question.purpose, question.full)
        .into_iter()
        .map(|set| BallSet {
            ball: None,
            balls: question
                .balls
                .iter()
                .filter(|ladder| set.blocks.contains(&ladder.label))
                .map(|ladder| ladder.ball.clone())
                .collect(),
            label: set.label,
        })
        .filter(|set| !set.balls.is_empty())
        .collect()
}

/// The kept values of a quantity.
fn kept<'a>(
    balls: impl Iterator<Item = &'a Ball>,
    quantity: Quantity,
    rules: &HouseRules,
) -> Option<Summary> {
    let values: Vec<f64> = balls
        .filter(|ball| ball.kept())
        .filter_map(|ball| ball.counted(quantity, rules))
        .collect();
    summarise(&values, rules.interval_level)
}

/// A verdict that tells numbers rather than judging them.
fn told(kind: VerdictKind, sentence: Sentence, detail: Sentence, formula: &str) -> Verdict {
    Verdict {
        kind,
        sentence,
        detail,
        more_balls: None,
        working: Working {
            inputs: vec![row("Balls", Sentence::of("kept ones only"))],
            formula: vec![Sentence::of(formula)],
            rules: vec![],
            results: vec![],
            sources: vec![],
        },
    }
}
/// So many clubs less into the green, to half a club: ", a club and a half".
fn clubs_said(clubs: f64) -> String {
    match (clubs * 2.0).round() as i64 {
        ..=0 => String::new(),
        1 => ", half a club".to_owned(),
        2 => ", a club".to_owned(),
        3 => ", a club and a half".to_owned(),
        halves if halves % 2 == 0 => format!(", {} clubs", halves / 2),
        halves => format!(", {} and a half clubs", halves / 2),
    }
}
