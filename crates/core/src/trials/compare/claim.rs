//! What a sure difference is worth: as it was prepared for, among the other comparisons
//! of these weeks, and as it will likely be seen again.

use super::{CompareQuestion, DifferenceRead};
use crate::statistics::many::standing;
use crate::statistics::summary::{Estimate, student_t};
use crate::verdicts::verdict::VerdictKind;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::{Dimension, Units};
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, StudentsT};
use utoipa::ToSchema;

/// A claim among the other comparisons that were made lately.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Among {
    /// The others.
    pub others: usize,
    /// Whether it stands when all are counted ([`standing`]).
    pub stands: bool,
}

/// The surest claim among the other comparisons.
pub(super) fn among(question: &CompareQuestion, differences: &[DifferenceRead]) -> Option<Among> {
    let claims = differences
        .iter()
        .filter(|d| matches!(d.kind, VerdictKind::Yes | VerdictKind::No));
    let surest = claims.map(|d| d.chance).reduce(f64::min)?;
    let mut all = vec![surest];
    all.extend(&question.others);
    Some(Among {
        others: question.others.len(),
        stands: standing(&all, question.rules.interval_level)[0],
    })
}

/// From an interval at `level` told as one at `once`: how often chance alone would show as
/// much as its value, and that value drawn toward none by as much as it is unsure.
pub(super) fn by_chance(
    difference: &Estimate,
    [level, once]: [f64; 2],
    freedom: usize,
) -> (f64, f64) {
    let error = difference.half_width() / student_t(level, freedom);
    if error <= 0.0 || difference.value == 0.0 {
        return (f64::from(difference.value == 0.0), difference.value);
    }
    let student = StudentsT::new(0.0, 1.0, freedom as f64).expect("both sets have two balls");
    let beyond = 2.0 * student.cdf(-difference.value.abs() / error);
    let looked = (1.0 - once) / (1.0 - level);
    let kept = 1.0 - (error / difference.value).powi(2);
    let likely = difference.value * kept.max(0.0);
    ((beyond * looked).min(1.0), likely)
}

/// What is said where a test is judged by another value or margin than it was prepared for.
pub(super) fn as_prepared(question: &CompareQuestion, margin: f64) -> Sentence {
    let Some(prepared) = question.prepared else {
        return Sentence::default();
    };
    let (meant, dimension) = (prepared.quantity, prepared.quantity.dimension());
    let fixed = prepared
        .margin
        .unwrap_or_else(|| question.rules.margin(meant));
    let same = meant == question.quantity && (fixed - margin).abs() < dimension.grain() / 2.0;
    if same {
        return Sentence::default();
    }
    Sentence::of(format!(
        "The test was prepared for {} within ",
        meant.label().to_lowercase()
    ))
    .figure(fixed, dimension)
    .words(": this is a lead, not its answer. ")
}

/// How a sure difference is likely to be seen again, and how it stands among others.
pub(super) fn beside_others(
    told: &DifferenceRead,
    among: Option<Among>,
    dimension: Dimension,
) -> Sentence {
    let claimed = matches!(told.kind, VerdictKind::Yes | VerdictKind::No);
    if !claimed {
        return Sentence::default();
    }
    let shown = |v: f64| dimension.as_shown(v, Units::MphYd);
    let said = if shown(told.likely) == shown(told.difference.value) {
        Sentence::default()
    } else {
        Sentence::of(" · next time likely nearer ").figure(told.likely.abs(), dimension)
    };
    match among {
        Some(Among { others, stands }) if others > 0 => said.words(format!(
            " · one of {} comparisons of the last weeks: counted together it {}",
            others + 1,
            if stands {
                "stands"
            } else {
                "does not stand yet, see it again"
            }
        )),
        _ => said,
    }
}
