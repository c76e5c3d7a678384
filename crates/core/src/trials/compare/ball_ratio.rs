//! What one kind of ball does against another from the same swing: learnt from both, hit
//! by the same player.

use super::basis::decided;
use super::difference::{Pair, mean};
use super::{BallSet, CompareQuestion};
use crate::physics::ball_kind::BallKind;
use crate::physics::conditions::Conditions;
use crate::physics::launch::Launch;
use crate::physics::normalise::{BallRatio, Seen};
use crate::shots::ball::Ball;
use crate::statistics::summary::Estimate;
use crate::vocabulary::quantity::Quantity;
use serde::Serialize;
use utoipa::ToSchema;

/// Balls of each kind that a ratio needs.
const LEAST: usize = 3;

/// A kind of ball against that of the first set.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct BallTold {
    /// The kind.
    pub ball: BallKind,
    /// The first set's.
    pub against: BallKind,
    /// Its ball speed as a share of the other's, for the same club speed where that is known.
    pub speed: Estimate,
    /// Its spin likewise, where the spin counts.
    pub spin: Option<Estimate>,
    /// What it carried in the mean, m.
    pub carry: Option<f64>,
    /// What the first set's ball would have carried from the same swings by the model, m.
    pub would_carry: Option<f64>,
}

/// What a set's kind of ball does against the first set's, where both are known and differ.
pub(super) fn ball_told(
    question: &CompareQuestion,
    set: usize,
    levels: [f64; 2],
) -> Option<BallTold> {
    let (first, other) = (&question.sets[0], &question.sets[set]);
    let (against, ball) = (first.ball?, other.ball?);
    if against == ball {
        return None;
    }
    let speed = share(question, first, other, Quantity::BallSpeed, levels)?;
    let spin = share(question, first, other, Quantity::SpinRate, levels);
    let carry = of(question, other, Quantity::Carry);
    let ratio = BallRatio {
        speed: speed.value,
        spin: spin.map_or(speed.value, |spin| spin.value),
    };
    let would_carry = carry
        .zip(launch(question, other))
        .and_then(|(carry, launch)| {
            let conditions = Conditions::REFERENCE;
            let seen = Seen {
                carry,
                launch,
                conditions,
            };
            seen.with_other_ball(ratio).ok()
        });
    Some(BallTold {
        ball,
        against,
        speed,
        spin,
        carry,
        would_carry,
    })
}

/// A value of one set as a share of the first's, per club speed where each ball has one:
/// the difference of logarithms, told as any other difference is.
fn share(
    question: &CompareQuestion,
    first: &BallSet,
    other: &BallSet,
    quantity: Quantity,
    levels: [f64; 2],
) -> Option<Estimate> {
    let counted = |ball: &Ball, quantity| {
        let counted = ball.kept().then(|| ball.counted(quantity, &question.rules));
        counted.flatten().filter(|value| *value > 0.0)
    };
    let balls = || first.balls.iter().chain(&other.balls);
    let per_speed = balls().all(|ball| {
        counted(ball, quantity).is_none() || counted(ball, Quantity::ClubSpeed).is_some()
    });
    let pair = Pair::of(&first.balls, &other.balls, |ball| {
        let value = counted(ball, quantity)?;
        let speed = per_speed.then(|| counted(ball, Quantity::ClubSpeed));
        Some((value / speed.flatten().unwrap_or(1.0)).ln())
    });
    if pair.first.len() < LEAST || pair.other.len() < LEAST {
        return None;
    }
    let typical = balls().find_map(|ball| counted(ball, quantity))?;
    let told = decided(&pair, levels, quantity.dimension().grain() / typical);
    told.basis.can_tell().then(|| Estimate {
        value: told.difference.value.exp(),
        low: told.difference.low.exp(),
        high: told.difference.high.exp(),
        n: told.difference.n,
    })
}

/// The mean of a value over a set's kept balls.
fn of(question: &CompareQuestion, set: &BallSet, quantity: Quantity) -> Option<f64> {
    let kept = set.balls.iter().filter(|ball| ball.kept());
    let values: Vec<f64> = kept
        .filter_map(|ball| ball.counted(quantity, &question.rules))
        .collect();
    (!values.is_empty()).then(|| mean(&values))
}

/// The mean launch of a set, straight.
fn launch(question: &CompareQuestion, set: &BallSet) -> Option<Launch> {
    Some(Launch {
        ball_speed: of(question, set, Quantity::BallSpeed)?,
        launch_angle_deg: of(question, set, Quantity::LaunchAngle)?,
        launch_direction_deg: 0.0,
        spin_rate_rpm: of(question, set, Quantity::SpinRate)?,
        spin_axis_deg: 0.0,
    })
}

#[cfg(test)]
mod tests {
    use super::super::tests::ask;
    use super::*;
    use crate::shots::ball::tests::ball;
    use crate::statistics::looks::Looks;
    use crate::trials::compare::compare;

    fn hit(kind: BallKind, place: usize, speed: f64, spin: f64) -> BallSet {
        let swings = [41.0, 41.6, 40.7, 41.2, 40.9, 41.4];
        let balls = swings.iter().enumerate().map(|(i, swing)| {
            // Swung a little faster by turns, so that the ball alone makes the ratio.
            let swing = swing + 0.5 * place as f64;
            let values = [
                (Quantity::ClubSpeed, swing),
                (
                    Quantity::BallSpeed,
                    swing * 1.38 * speed * (1.0 + 2e-3 * (i % 3) as f64),
                ),
                (Quantity::LaunchAngle, 17.0),
                (
                    Quantity::SpinRate,
                    swing * 160.0 * spin * (1.0 + 1e-2 * (i % 2) as f64),
                ),
                (Quantity::Carry, 160.0 * speed),
            ];
            ball(2 * i + place, &values)
        });
        BallSet {
            label: format!("{kind:?}"),
            balls: balls.collect(),
            ball: Some(kind),
        }
    }

    fn told(sets: Vec<BallSet>) -> Option<BallTold> {
        let question = CompareQuestion {
            order_in: true,
            looks: Looks::Once,
            ..ask(sets)
        };
        compare(&question).unwrap().differences[0].ball
    }

    #[test]
    fn a_slower_softer_ball_is_told_per_swing_with_what_the_other_would_carry() {
        let premium = hit(BallKind::Premium, 0, 1.0, 1.0);
        let told = told(vec![premium, hit(BallKind::Range, 1, 0.96, 0.9)]).unwrap();
        assert_eq!(
            (told.ball, told.against),
            (BallKind::Range, BallKind::Premium)
        );
        assert!((told.speed.value - 0.96).abs() < 2e-3, "{told:?}");
        assert!((told.spin.unwrap().value - 0.9).abs() < 0.01, "{told:?}");
        assert!(told.speed.low < 0.96 && 0.96 < told.speed.high, "{told:?}");
        let (carry, would) = (told.carry.unwrap(), told.would_carry.unwrap());
        assert!((1.03..1.10).contains(&(would / carry)), "{told:?}");
    }

    #[test]
    fn nothing_is_told_of_one_kind_or_of_one_day_each() {
        let premium = || hit(BallKind::Premium, 0, 1.0, 1.0);
        assert_eq!(
            told(vec![premium(), hit(BallKind::Premium, 1, 0.96, 0.9)]),
            None
        );
        let mut other = hit(BallKind::Range, 1, 0.96, 0.9);
        other.balls.iter_mut().for_each(|ball| ball.session = 1);
        assert_eq!(told(vec![premium(), other]), None);
    }
}
