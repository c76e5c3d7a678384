//! What another club would do, in words.

use super::{
    ClubOutcome, LONGEST_ALLOWED, Lever, LeverWorth, LoftPoint, NOTHING, OtherClubQuestion, SOURCES,
};
use crate::statistics::summary::Estimate;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, air_row, figure_row, row};
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// Where a lever's band comes from, in a line; [`SOURCES`] has more.
pub(super) fn source(lever: Lever) -> &'static str {
    match lever {
        Lever::Length => "after Kenny et al. 2008 and Cross & Nathan 2009; sizes ours",
        Lever::HeadMass => "after Daish 1972 and Cross & Nathan 2009; sizes ours",
        Lever::Loft => "by the impact model; 60 to 100 % of it arrives, ours",
        Lever::Shaft => "after Betzler et al. 2012 and MacKenzie & Boucher 2017; sizes ours",
        Lever::Tee => "by the impact model; 40 to 100 % of it arrives, ours",
        Lever::Forgiveness => {
            "by the impact model: a head that turns less keeps ball speed off its middle, and spins a high strike more"
        }
    }
}

/// What differs: "1.0 in longer".
pub(super) fn lever(question: &OtherClubQuestion, lever: Lever) -> Sentence {
    let by = question.difference(lever);
    let (size, more) = (by.abs(), by > 0.0);
    let which = |one: &'static str, other: &'static str| if more { one } else { other };
    let figure = |dimension| Sentence::default().figure(size, dimension);
    match lever {
        Lever::Length => figure(Dimension::ClubLength).words(which(" longer", " shorter")),
        Lever::Loft => figure(Dimension::Angle).words(which(" more loft", " less loft")),
        Lever::HeadMass => Sentence::of(format!(
            "a head {size:.0} g {}",
            which("heavier", "lighter")
        )),
        Lever::Forgiveness => Sentence::of(format!(
            "a head that turns {:.0} % {}",
            size,
            which("less", "more easily")
        )),
        Lever::Shaft => Sentence::of(match size {
            1.0 => format!("a shaft a step {}", which("softer", "stiffer")),
            steps => format!("a shaft {steps} steps {}", which("softer", "stiffer")),
        }),
        Lever::Tee => Sentence::of("teed ")
            .figure(size, Dimension::FaceOffset)
            .words(which(" higher", " lower")),
    }
}

pub(super) fn verdict(
    question: &OtherClubQuestion,
    levers: &[LeverWorth],
    [now, other]: [&ClubOutcome; 2],
    carry: Estimate,
    gone_at: Option<f64>,
) -> Verdict {
    let (kind, sentence) = match levers {
        [] => (
            VerdictKind::Same,
            Sentence::of("This swing carries ")
                .figure(now.carry, Dimension::Distance)
                .words(" with the club of now; change something of the other."),
        ),
        levers => {
            let (kind, said) = compared(carry);
            let said = changed(levers).begun().words(": ").join(said);
            // Where nothing is gained for sure, nothing can be gone.
            let gone = gone(gone_at.filter(|_| kind == VerdictKind::Yes));
            (kind, said.join(gone))
        }
    };
    Verdict {
        kind,
        sentence,
        detail: Sentence::of("Carry ")
            .bare(now.carry, Dimension::Distance)
            .words(" → ")
            .figure(other.carry, Dimension::Distance)
            .words(", total ")
            .bare(now.total, Dimension::Distance)
            .words(" → ")
            .figure(other.total, Dimension::Distance)
            .words(", by the impact model"),
        more_balls: None,
        working: working(question, levers, carry),
    }
}

/// All that differs, with commas and an "and".
fn changed(levers: &[LeverWorth]) -> Sentence {
    let last = levers.len() - 1;
    let parts = levers.iter().enumerate();
    parts.fold(Sentence::default(), |said, (i, worth)| {
        let said = match i {
            0 => said,
            i if i == last => said.words(" and "),
            _ => said.words(", "),
        };
        said.join(worth.said.clone())
    })
}

fn compared(carry: Estimate) -> (VerdictKind, Sentence) {
    let band = |said: Sentence, low: f64, high: f64| {
        said.words(" (")
            .bare(low, Dimension::Distance)
            .words(" to ")
            .bare(high, Dimension::Distance)
            .words(").")
    };
    let (low, high) = (carry.low, carry.high);
    if low.abs().max(high.abs()) < 2.0 * NOTHING {
        return (VerdictKind::Same, Sentence::of("as far as before."));
    }
    if low > 0.0 && carry.value > NOTHING {
        let said = Sentence::of("about ")
            .figure(carry.value, Dimension::Distance)
            .words(" further");
        return (VerdictKind::Yes, band(said, low, high));
    }
    if high < 0.0 && carry.value < -NOTHING {
        let said = Sentence::of("about ")
            .figure(-carry.value, Dimension::Distance)
            .words(" shorter");
        return (VerdictKind::No, band(said, -high, -low));
    }
    let said = Sentence::of("it may be shorter or further, ")
        .bare(low, Dimension::Distance)
        .words(" to ")
        .figure(high, Dimension::Distance)
        .words(".");
    (VerdictKind::CannotTellYet, said)
}

fn gone(gone_at: Option<f64>) -> Sentence {
    match gone_at {
        Some(factor) => Sentence::of(format!(
            " The gain is gone once strikes scatter {:.0} % wider.",
            (20.0 * (factor - 1.0)).round() * 5.0
        )),
        None => Sentence::default(),
    }
}

/// The lofts that carry this swing furthest.
pub(super) fn lofts(lofts: &[LoftPoint], tolerance: f64) -> Option<Sentence> {
    let furthest = |of: fn(&LoftPoint) -> f64| {
        let best = lofts.iter().max_by(|a, b| of(a).total_cmp(&of(b)))?;
        let good = lofts.iter().filter(move |p| of(best) - of(p) <= tolerance);
        let good: Vec<f64> = good.map(|point| point.loft_deg).collect();
        Some((best.loft_deg, *good.first()?, *good.last()?))
    };
    let (carry, low, high) = furthest(|point| point.carry)?;
    let (total, ..) = furthest(|point| point.total)?;
    let ends = [lofts.first()?.loft_deg, lofts.last()?.loft_deg];
    let said = if ends.contains(&carry) {
        let which = if carry == ends[0] { "less" } else { "more" };
        Sentence::of(format!(
            "For carry this swing wants {which} loft still than "
        ))
        .figure(carry, Dimension::Angle)
    } else {
        Sentence::of("This swing carries furthest with ")
            .figure(carry, Dimension::Angle)
            .words(" of loft; ")
            .bare(low, Dimension::Angle)
            .words("° to ")
            .figure(high, Dimension::Angle)
            .words(" are within ")
            .figure(tolerance, Dimension::Distance)
    };
    let said = if ends.contains(&total) || (total - carry).abs() < 0.75 {
        said
    } else {
        said.words(", and it rolls furthest with ")
            .figure(total, Dimension::Angle)
    };
    Some(said.words("."))
}

pub(super) fn cautions(question: &OtherClubQuestion) -> Vec<Sentence> {
    let mut said = Vec::new();
    if question.other.club_length_m > LONGEST_ALLOWED + 1e-9 {
        said.push(Sentence::of(
            "Longer than the 48 in that the rules of golf allow; many competitions allow less.",
        ));
    }
    said.push(Sentence::of(
        "A player swings another club a little otherwise, and no model sees how. Before anything is bought, hit both, in turns: the comparison decides.",
    ));
    said
}

fn working(question: &OtherClubQuestion, levers: &[LeverWorth], carry: Estimate) -> Working {
    let own = &question.delivery;
    let mut inputs = vec![
        figure_row("Club speed", own.club_speed, Dimension::Speed),
        figure_row("Angle of attack", own.angle_of_attack_deg, Dimension::Angle),
        figure_row("Dynamic loft", own.dynamic_loft_deg, Dimension::Angle),
        row(
            "Strikes scatter",
            Sentence::default()
                .figure(question.scatter[0], Dimension::FaceOffset)
                .words(" toe to heel, ")
                .figure(question.scatter[1], Dimension::FaceOffset)
                .words(" high to low"),
        ),
        air_row(&question.conditions),
    ];
    inputs.extend(
        levers
            .iter()
            .map(|worth| row("Other club", worth.said.clone())),
    );
    let mut results: Vec<_> = levers
        .iter()
        .map(|worth| {
            let said = Sentence::default()
                .figure(worth.carry.value, Dimension::Distance)
                .words(" (")
                .bare(worth.carry.low, Dimension::Distance)
                .words(" to ")
                .bare(worth.carry.high, Dimension::Distance)
                .words("), with it alone");
            row("Carry", said)
        })
        .collect();
    results.push(row(
        "Carry, all together",
        Sentence::default()
            .bare(carry.low, Dimension::Distance)
            .words(" to ")
            .figure(carry.high, Dimension::Distance),
    ));
    Working {
        inputs,
        formula: vec![
            Sentence::of(
                "Club speed goes with length to the power 0.3 (0.1 to 0.5), with head mass to the power −0.19 (−0.26 to −0.10). 85 % of a degree of loft arrives (60 to 100 %). A step softer: 0.3° more loft (−0.2 to 0.8) and speed within 0.5 %. 70 % of a higher tee arrives at the strike (40 to 100 %). Strikes scatter 3 % wider for each inch of length (0 to 8 %).",
            ),
            Sentence::of(
                "Each swing is struck at nine places over its scatter; carry is their mean. What each band alone changes is added as independent errors are.",
            ),
        ],
        rules: Vec::new(),
        results,
        sources: SOURCES.map(str::to_owned).into(),
    }
}
