//! A force session: what the drills changed, value by value.

use super::{OpeningQuestion, numbers, sets_of};
use crate::trials::compare::{BallSet, Basis, CompareQuestion, CompareReport, compare};
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// What is told, in this order.
const TOLD: [(Quantity, &str); 13] = [
    (Quantity::VerticalForceLead, "lead force"),
    (Quantity::WholeForceLead, "lead force"),
    (Quantity::VerticalForceTrail, "trail force"),
    (Quantity::WholeForceTrail, "trail force"),
    (Quantity::VerticalForce, "both feet"),
    (Quantity::WholeForce, "both feet"),
    (Quantity::WholeTorque, "torque"),
    (Quantity::Torque, "torque by mass"),
    (Quantity::VerticalPeak, "peak"),
    (Quantity::LeadPeak, "lead foot’s peak"),
    (Quantity::TrailPeak, "trail foot’s peak"),
    (Quantity::TorquePeak, "torque’s peak"),
    (Quantity::ClubSpeed, "club speed"),
];

pub(super) fn verdict(question: &OpeningQuestion<'_>) -> Verdict {
    let sets = first_and_last(sets_of(question));
    let reports: Vec<(&str, CompareReport)> = TOLD
        .iter()
        .filter_map(|(quantity, name)| {
            let report = compare(&CompareQuestion {
                quantity: *quantity,
                sets: sets.clone(),
                margin: None,
                fairway_width: None,
                club_gap: None,
                order_in: true,
                looks: question.looks,
                prepared: None,
                others: vec![],
                chosen_of: None,
                rules: question.rules,
            });
            let report = report.ok().filter(|r| !r.differences.is_empty())?;
            Some((*name, report))
        })
        .collect();
    let Some((_, first)) = reports.first() else {
        return numbers::verdict(question);
    };
    let sure = |report: &CompareReport| {
        matches!(
            report.differences[0].kind,
            VerdictKind::Yes | VerdictKind::No
        )
    };
    let (moved, open): (Vec<_>, Vec<_>) = reports.iter().partition(|(_, report)| sure(report));
    let said = Sentence::of(format!("{} against {}: ", sets[1].label, sets[0].label));
    let said = if moved.is_empty() {
        said.words("nothing changed that can be told from chance.")
    } else {
        let mut parts = moved.iter().map(|(name, report)| change(name, report));
        let first = parts.next().unwrap_or_default();
        parts
            .fold(said.join(first), |said, part| said.words(", ").join(part))
            .words(".")
    };
    let said = match early_enough(&moved, question.rules.peak_early) {
        Some(when) => said.words(when),
        None => said,
    };
    let said = if moved.len() > 1 {
        said.words(" They moved together; what drove what is not told by it.")
    } else {
        said
    };
    let one_after_other = first.differences[0].basis == Basis::OneAfterOther;
    let said = if one_after_other && !moved.is_empty() {
        said.words(" They were one after the other: order and change cannot be told apart.")
    } else {
        said
    };
    let detail = open.iter().fold(
        Sentence::of(format!(
            "{} against {} swings",
            first.sets[1].values, first.sets[0].values
        )),
        |said, (name, _)| said.words(format!(" · {name}: no sure change")),
    );
    Verdict {
        kind: first.differences[0].kind,
        sentence: said,
        detail,
        more_balls: first.differences[0].more_balls,
        working: first.verdict.working.clone(),
    }
}

/// What was before the drills and what after: the first set and the last.
fn first_and_last(mut sets: Vec<BallSet>) -> Vec<BallSet> {
    if sets.len() > 2 {
        let last = sets.len() - 1;
        sets.swap(1, last);
        sets.truncate(2);
    }
    sets
}

/// "lead force 104 → 133 % BW"; for the peak, when it comes.
fn change(name: &str, report: &CompareReport) -> Sentence {
    let dimension = report.quantity.dimension();
    let [was, is] = [0, 1].map(|i| report.sets[i].kept.map_or(0.0, |kept| kept.mean));
    if dimension == Dimension::Moment {
        let word = if is > was { " earlier" } else { " later" };
        return Sentence::of(format!("the {name} "))
            .apart_in_full(is, was, Dimension::Moment)
            .words(format!("{word}, from "))
            .join(when(was))
            .words(" to ")
            .join(when(is));
    }
    Sentence::of(format!("{name} "))
        .bare(was, dimension)
        .words(" → ")
        .figure(is, dimension)
}

fn when(before: f64) -> Sentence {
    let side = if before < 0.0 {
        " after impact"
    } else {
        " before it"
    };
    Sentence::default()
        .figure(before.abs(), Dimension::Moment)
        .words(side)
}

/// Whether a peak that came too late to help is early enough now.
fn early_enough(moved: &[&(&str, CompareReport)], early: f64) -> Option<&'static str> {
    let (_, peak) = moved
        .iter()
        .find(|(_, report)| report.quantity == Quantity::VerticalPeak)?;
    let [was, is] = [0, 1].map(|i| peak.sets[i].kept.map_or(0.0, |kept| kept.mean));
    (was < early && is >= early).then_some(" The push now comes early enough to help the swing.")
}
