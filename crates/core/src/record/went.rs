//! Where the speed went: from the swing without a ball to the club, from the club to the ball,
//! from the ball to the carry.

use crate::physics::club::Club;
use crate::record::progress::ChangeKind::{RealAndWorthIt, RealButSmall};
use crate::record::progress::{LevelChange, NINETY, ProgressRead, Since};
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use chrono::TimeDelta;
use serde::Serialize;
use utoipa::ToSchema;

/// A step of the way.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StepKind {
    /// Swings of an implement, without a ball.
    Implement,
    /// All-out swings of the club.
    AllOut,
    /// Usual swings of the club.
    Usual,
    /// What these gave to the ball.
    BallSpeed,
    /// How far it carried.
    Carry,
}

/// What became of one step since the start.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Step {
    /// Which.
    pub kind: StepKind,
    /// The value it is told in.
    pub quantity: Quantity,
    /// Its change.
    pub change: Estimate,
    /// Which part of what the step before promised arrived here; absent where that did not
    /// surely change, was not followed over the same weeks, or leaves the part open.
    pub arrived: Option<Estimate>,
}

/// What each step is read from; a step that nothing tells of is absent.
#[derive(Debug, Clone, Copy, Default)]
pub struct Steps<'a> {
    /// Swings of the implement that most sessions tell of.
    pub implement: Option<&'a ProgressRead>,
    /// All-out club speed.
    pub all_out: Option<&'a ProgressRead>,
    /// Usual club speed.
    pub usual: Option<&'a ProgressRead>,
    /// Ball speed of usual swings.
    pub ball_speed: Option<&'a ProgressRead>,
    /// Smash factor of usual swings.
    pub smash: Option<&'a ProgressRead>,
    /// Carry of usual swings.
    pub carry: Option<&'a ProgressRead>,
}

/// Where the speed went.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct WentTold {
    /// Where it was lost, where it was.
    pub sentence: Option<Sentence>,
    /// Step by step; none of fewer than two.
    pub steps: Vec<Step>,
}

/// Two steps are held together when they were begun within this many days.
const BEGUN_TOGETHER: i64 = 28;
/// A part that may be none or all is no answer.
const TOLD_WITHIN: f64 = 1.0;
/// A part that surely stays under this was lost on the way.
const LOST: f64 = 0.75;

/// Says where the speed went with a club.
pub fn where_it_went(steps: &Steps<'_>, club: Club, rules: &HouseRules) -> WentTold {
    let ways = [
        (StepKind::Implement, steps.implement),
        (StepKind::AllOut, steps.all_out),
        (StepKind::Usual, steps.usual),
        (StepKind::BallSpeed, steps.ball_speed),
        (StepKind::Carry, steps.carry),
    ];
    let mut told: Vec<Step> = Vec::new();
    let mut before: Option<(StepKind, &ProgressRead)> = None;
    for (kind, read) in ways {
        let Some(read) = read else { continue };
        let Some(change) = since_start(read) else {
            continue;
        };
        let arrived = before.and_then(|(from, earlier)| {
            let promised = promised(steps, [from, kind], [earlier, read], club, rules)?;
            arrived(promised, change.change)
        });
        told.push(Step {
            kind,
            quantity: read.quantity,
            change: change.change,
            arrived,
        });
        before = Some((kind, read));
    }
    if told.len() < 2 {
        told.clear();
    }
    WentTold {
        sentence: strike_lost(steps).or_else(|| lost(&told)),
        steps: told,
    }
}

fn since_start(read: &ProgressRead) -> Option<&LevelChange> {
    read.changes
        .first()
        .filter(|change| change.since == Since::Start)
}

/// What a step's sure change promises to the next, in that one's value.
fn promised(
    steps: &Steps<'_>,
    [from, to]: [StepKind; 2],
    [earlier, later]: [&ProgressRead; 2],
    club: Club,
    rules: &HouseRules,
) -> Option<Estimate> {
    let change = since_start(earlier)?;
    if !matches!(change.kind, RealAndWorthIt | RealButSmall) {
        return None;
    }
    let apart = since_start(later)?.date - change.date;
    if apart.abs() > TimeDelta::days(BEGUN_TOGETHER) {
        return None;
    }
    let first = |read: &ProgressRead| Some(read.days.first()?.level?.value);
    let each = match (from, to) {
        // The strike as it was at the start.
        (StepKind::Usual, StepKind::BallSpeed) => first(later)? / first(earlier)?,
        // What the house expects of so much speed, struck as at the start.
        (StepKind::BallSpeed, StepKind::Carry) => {
            let speed = first(steps.usual?)?;
            rules.carry_per_speed(club, speed) * speed / first(earlier)?
        }
        (StepKind::Usual, StepKind::Carry) => rules.carry_per_speed(club, first(earlier)?),
        // A mile an hour of one swing for one of another.
        _ => 1.0,
    };
    let times = |value: f64| value * each;
    Some(Estimate {
        value: times(change.change.value),
        low: times(change.change.low),
        high: times(change.change.high),
        n: change.change.n,
    })
}

/// Which part of what was promised came, both being unsure: by propagation of errors, first
/// order.
fn arrived(promised: Estimate, came: Estimate) -> Option<Estimate> {
    let sd = |of: Estimate| (of.high - of.low) / (2.0 * NINETY);
    if promised.value.abs() < 1e-9 {
        return None;
    }
    let part = came.value / promised.value;
    let unsure = (sd(came).powi(2) + (part * sd(promised)).powi(2)).sqrt() / promised.value.abs();
    let told = Estimate {
        value: part,
        low: part - NINETY * unsure,
        high: part + NINETY * unsure,
        n: came.n.min(promised.n),
    };
    (told.high - told.low <= TOLD_WITHIN).then_some(told)
}

/// Club speed that the strike did not follow: said first, because it is mended soonest.
fn strike_lost(steps: &Steps<'_>) -> Option<Sentence> {
    let real = |of: &ProgressRead| {
        let change = since_start(of)?;
        matches!(change.kind, RealAndWorthIt | RealButSmall).then_some(change.change.value)
    };
    let (speed, smash) = (steps.usual?, steps.smash?);
    let up = real(speed).filter(|up| *up > 0.0)?;
    let lost = real(smash).filter(|lost| *lost < 0.0)?;
    let levels = |of: &ProgressRead| {
        let ends = [of.days.first()?.level?, of.days.last()?.level?];
        Some(ends.map(|level| level.value))
    };
    let [then, now] = levels(smash)?;
    let ball = up * now + lost * (levels(speed)?[1] - up);
    let mut said = Sentence::of("The strike did not keep up: smash fell from ")
        .bare(then, Quantity::SmashFactor.dimension())
        .words(" to ")
        .bare(now, Quantity::SmashFactor.dimension())
        .words(", so that ")
        .figure(up, Quantity::ClubSpeed.dimension())
        .words(" of club speed");
    // Less than a device tells apart is nothing.
    said = if ball < Quantity::BallSpeed.dimension().grain() {
        said.words(" gave the ball no speed")
    } else {
        said.words(" became ")
            .figure(ball, Quantity::BallSpeed.dimension())
            .words(" of ball speed")
    };
    if let Some(change) = steps.carry.and_then(since_start) {
        said = said
            .words(" and ")
            .figure(change.change.value, Quantity::Carry.dimension())
            .words(" of carry");
    }
    Some(said.words("."))
}

/// The first step on which what was gained surely did not all arrive.
fn lost(steps: &[Step]) -> Option<Sentence> {
    let (from, to) = steps.windows(2).find_map(|pair| {
        let [from, to] = pair else { return None };
        let gained = from.change.low > 0.0;
        let short = to.arrived.is_some_and(|part| part.high < LOST);
        (gained && short).then_some((from, to))
    })?;
    let gain =
        |step: &Step| Sentence::default().figure(step.change.value, step.quantity.dimension());
    let part = to.arrived?.value.max(0.0);
    let said = match to.kind {
        StepKind::AllOut => Sentence::of("Swings without a ball gained ")
            .join(gain(from))
            .words(", all-out swings with the club ")
            .join(gain(to))
            .words(": the speed has not come to the club yet."),
        StepKind::Usual => Sentence::of("The fast swing gained ")
            .join(gain(from))
            .words(", the usual one ")
            .join(gain(to))
            .words(": the speed is there and is not used yet."),
        StepKind::BallSpeed => Sentence::of("Club speed gained ")
            .join(gain(from))
            .words(" and ball speed ")
            .join(gain(to))
            .words(": the strike did not keep up."),
        StepKind::Carry => Sentence::of("Ball speed gained ")
            .join(gain(from))
            .words(" and carry ")
            .join(gain(to))
            .words(format!(
                ", about {:.0} % of what that speed should give: look at launch and spin.",
                100.0 * part
            )),
        StepKind::Implement => return None,
    };
    Some(said)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::record::figures::Series;
    use crate::record::series::tests::weekly;
    use crate::record::series::{SeriesKey, follow};
    use crate::vocabulary::units::{MPH, Units, YARD};

    fn read(rules: &HouseRules, values: impl Fn(f64) -> [f64; 3]) -> [ProgressRead; 3] {
        let quantities = [Quantity::ClubSpeed, Quantity::BallSpeed, Quantity::Carry];
        let occasions = weekly(|week| {
            let [speed, ball, carry] = values(week as f64);
            [
                (Quantity::ClubSpeed, speed * MPH),
                (Quantity::BallSpeed, ball * MPH),
                (Quantity::Carry, carry * YARD),
            ]
        });
        quantities.map(|quantity| {
            let key = SeriesKey::hit(Series::Usual, Club::Driver, quantity);
            follow(&occasions, &key, None, None, rules)
        })
    }

    #[test]
    fn speed_that_the_strike_did_not_follow_is_told() {
        let rules = HouseRules::default();
        let occasions = weekly(|week| {
            let week = week as f64;
            let (club, smash) = ((100.0 + week) * MPH, 1.49 - 0.005 * week);
            [
                (Quantity::ClubSpeed, club),
                (Quantity::SmashFactor, smash),
                (Quantity::Carry, (240.0 + 0.4 * week) * YARD),
            ]
        });
        let of = |quantity| {
            let key = SeriesKey::hit(Series::Usual, Club::Driver, quantity);
            follow(&occasions, &key, None, None, &rules)
        };
        let [speed, smash, carry] =
            [Quantity::ClubSpeed, Quantity::SmashFactor, Quantity::Carry].map(of);
        let steps = Steps {
            usual: Some(&speed),
            smash: Some(&smash),
            carry: Some(&carry),
            ..Steps::default()
        };
        let told = where_it_went(&steps, Club::Driver, &rules);
        let said = told.sentence.unwrap().show(Units::MphYd);
        assert!(
            said.starts_with("The strike did not keep up: smash fell from 1.49"),
            "{said}"
        );
        let swapped = Steps {
            usual: Some(&smash),
            smash: Some(&speed),
            ..Steps::default()
        };
        assert_eq!(where_it_went(&swapped, Club::Driver, &rules).sentence, None);
    }

    #[test]
    fn an_implement_faster_by_far_than_the_club_is_told_and_a_whole_gain_is_not() {
        let rules = HouseRules::default();
        let [implement, ball, carry] = read(&rules, |week| {
            [110.0 + 1.2 * week, 150.0 + 1.5 * week, 250.0 + 2.0 * week]
        });
        let [all_out, ..] = read(&rules, |week| [105.0 + 0.2 * week, 1.0, 1.0]);
        let told = where_it_went(
            &Steps {
                implement: Some(&implement),
                all_out: Some(&all_out),
                ..Steps::default()
            },
            Club::Driver,
            &rules,
        );
        let said = told.sentence.unwrap().show(Units::MphYd);
        assert!(said.contains("has not come to the club yet"), "{said}");
        assert_eq!(told.steps.len(), 2);
        assert!(told.steps[1].arrived.unwrap().high < LOST);
        let kept = Steps {
            usual: Some(&implement),
            ball_speed: Some(&ball),
            carry: Some(&carry),
            ..Steps::default()
        };
        assert_eq!(where_it_went(&kept, Club::Driver, &rules).sentence, None);
    }
}
