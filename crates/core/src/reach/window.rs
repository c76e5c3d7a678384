//! The best launch and spin that a swing can make of a speed.
//!
//! A swing delivers an attack angle and a dynamic loft; the impact model makes a
//! launch of them, flight and ground a distance. Over what a club and a swing can
//! deliver ([`Freedom`]) the distance is searched: a coarse grid, then ever smaller
//! grids about its best point. The *window* is everything deliverable within a
//! tolerance of that best.

mod freedom;
mod map;
mod spin_between;

use crate::physics::air::Air;
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::{Flight, fly_with};
use crate::physics::impact::{Contact, Delivery, Head, strike_with};
use crate::physics::launch::{Aero, Launch};
use crate::physics::run::{Rest, to_rest_with};
use crate::physics::turf::Ground;
use crate::vocabulary::invalid::{Invalid, within};
pub use freedom::Freedom;
pub use map::{Level, Map, map};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
pub use spin_between::spin_between;
use std::ops::RangeInclusive;
use utoipa::ToSchema;

/// Least spin loft that a swing delivers, deg: below it the ball slips off the face.
const LEAST_SPIN_LOFT_DEG: f64 = 10.0;
/// Points to a side of the coarse grid, of the grids that refine it, and of the grid
/// that tells how wide the window is.
const COARSE: usize = 9;
const WIDE: usize = 21;
const FINE: usize = 5;
/// Refinements; each shrinks the grid to a third.
const REFINEMENTS: i32 = 4;

/// Which distance is to be long.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Aim {
    /// Distance in the air.
    Carry,
    /// Carry and run.
    Total,
}

/// What there is to begin with.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Speed {
    /// The ball's speed, m/s, however it came about.
    Ball(f64),
    /// The club's speed, m/s; the ball's follows from the delivery.
    Club(f64),
}

/// What is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Question {
    /// Speed of ball or club.
    pub speed: Speed,
    /// The club.
    pub club: Club,
    /// Carry or total.
    pub aim: Aim,
    /// Air, wind and ground.
    pub conditions: Conditions,
    /// What may be delivered.
    pub freedom: Freedom,
    /// Distance to the best within which a delivery is as good, m.
    pub tolerance: f64,
}

/// A delivery with all that comes of it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Outcome {
    /// How club meets ball.
    pub delivery: Delivery,
    /// How the ball leaves.
    pub launch: Launch,
    /// How it flies.
    pub flight: Flight,
    /// Where it comes to rest.
    pub rest: Rest,
    /// The distance that is sought, m.
    pub distance: f64,
}

/// Least and most of something.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Range {
    /// Least.
    pub from: f64,
    /// Most.
    pub to: f64,
}

impl Range {
    /// The least and most of `values`.
    pub fn over(values: impl Iterator<Item = f64>) -> Range {
        values.fold(
            Range {
                from: f64::INFINITY,
                to: f64::NEG_INFINITY,
            },
            |r, v| Range {
                from: r.from.min(v),
                to: r.to.max(v),
            },
        )
    }

    /// Whether `value` lies within.
    pub fn contains(&self, value: f64) -> bool {
        (self.from..=self.to).contains(&value)
    }
}

/// The best, and what is as good within the tolerance.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Window {
    /// The best delivery and what comes of it.
    pub best: Outcome,
    /// The tolerance, m.
    pub tolerance: f64,
    /// Launch angles within it, deg.
    pub launch_angle_deg: Range,
    /// Spin rates within it, rpm.
    pub spin_rate_rpm: Range,
    /// Landing angles within it, deg.
    pub landing_angle_deg: Range,
    /// Attack angles within it, deg.
    pub angle_of_attack_deg: Range,
    /// Dynamic lofts within it, deg.
    pub dynamic_loft_deg: Range,
}

/// The window of `question`.
///
/// ```
/// use tally_core::physics::{club::Club, conditions::Conditions};
/// use tally_core::reach::window::{Aim, Freedom, Question, Speed, window};
/// let asked = Question {
///     speed: Speed::Club(44.7),
///     club: Club::Driver,
///     aim: Aim::Carry,
///     conditions: Conditions::REFERENCE,
///     freedom: Freedom::of(Club::Driver),
///     tolerance: 3.0,
/// };
/// let found = window(&asked)?;
/// assert!(found.launch_angle_deg.contains(found.best.launch.launch_angle_deg));
/// # Ok::<(), tally_core::vocabulary::invalid::Invalid>(())
/// ```
///
/// # Errors
/// [`Invalid`] for a speed, tolerance, air or ground out of range.
pub fn window(question: &Question) -> Result<Window, Invalid> {
    let bench = Bench::new(question)?;
    within("tolerance", question.tolerance, 0.1..=100.0, "m")?;
    let best = bench.search();
    let shares = grid([0.5, 0.5], 0.5, WIDE);
    let wide: Vec<_> = shares.par_iter().map(|s| bench.outcome(*s)).collect();
    let good: Vec<_> = wide
        .into_iter()
        .chain([best])
        .filter(|o| o.distance >= best.distance - question.tolerance)
        .collect();
    let over = |value: fn(&Outcome) -> f64| Range::over(good.iter().map(value));
    Ok(Window {
        best,
        tolerance: question.tolerance,
        launch_angle_deg: over(|o| o.launch.launch_angle_deg),
        spin_rate_rpm: over(|o| o.launch.spin_rate_rpm),
        landing_angle_deg: over(|o| o.flight.landing_angle_deg),
        angle_of_attack_deg: over(|o| o.delivery.angle_of_attack_deg),
        dynamic_loft_deg: over(|o| o.delivery.dynamic_loft_deg),
    })
}

/// The best alone, without the rest of the window.
///
/// # Errors
/// As [`window`].
pub fn best(question: &Question) -> Result<Outcome, Invalid> {
    Ok(Bench::new(question)?.search())
}

/// The launch and spin that can be delivered, as a closed outline: launch angle (deg)
/// and spin rate (rpm) along the limits of attack and loft.
///
/// # Errors
/// As [`window`].
pub fn deliverable(question: &Question) -> Result<Vec<[f64; 2]>, Invalid> {
    let bench = Bench::new(question)?;
    let steps = (0..=12).map(|i| f64::from(i) / 12.0);
    let sides: Vec<[f64; 2]> = steps
        .clone()
        .map(|s| [s, 0.0])
        .chain(steps.clone().map(|s| [1.0, s]))
        .chain(steps.clone().map(|s| [1.0 - s, 1.0]))
        .chain(steps.map(|s| [0.0, 1.0 - s]))
        .collect();
    Ok(sides
        .into_iter()
        .map(|share| {
            let launch = bench.launch(&bench.delivery(share)).1;
            [launch.launch_angle_deg, launch.spin_rate_rpm]
        })
        .collect())
}

fn struck(delivery: &Delivery, head: &Head) -> Launch {
    strike_with(delivery, head, &Contact::CALIBRATED)
}

/// A delivery as fast as it takes to send the ball off at `ball_speed`, with its launch.
fn struck_at(mut delivery: Delivery, head: &Head, ball_speed: f64) -> (Delivery, Launch) {
    let mut launch = struck(&delivery, head);
    // Restitution hardly depends on speed, so two scalings are plenty.
    for _ in 0..2 {
        delivery.club_speed *= ball_speed / launch.ball_speed;
        launch = struck(&delivery, head);
    }
    (delivery, launch)
}

/// A checked question with its air and head worked out once.
struct Bench<'a> {
    question: &'a Question,
    air: Air,
    ground: Ground,
    head: Head,
}

impl<'a> Bench<'a> {
    fn new(question: &'a Question) -> Result<Self, Invalid> {
        match question.speed {
            Speed::Ball(speed) => within("ball_speed", speed, 12.0..=98.0, "m/s")?,
            Speed::Club(speed) => within("club_speed", speed, 10.0..=64.0, "m/s")?,
        };
        let ground = question.conditions.ground();
        ground.check()?;
        Ok(Self {
            question,
            air: question.conditions.air()?,
            ground,
            head: question.club.head(),
        })
    }

    /// The delivery at a share (0…1 each) of the limits of attack and loft.
    fn delivery(&self, [attack, loft]: [f64; 2]) -> Delivery {
        let Freedom {
            angle_of_attack_deg: [attack_from, attack_to],
            dynamic_loft_deg: [loft_from, loft_to],
        } = self.question.freedom;
        let attack = attack_from + attack * (attack_to - attack_from);
        let loft = loft_from + loft * (loft_to - loft_from);
        let club_speed = match self.question.speed {
            Speed::Club(speed) => speed,
            // A first guess; the launch is scaled to the ball speed.
            Speed::Ball(speed) => speed / 1.4,
        };
        Delivery::straight(club_speed, attack, loft.max(attack + LEAST_SPIN_LOFT_DEG))
    }

    /// The delivery at the speed asked for, with its launch.
    fn launch(&self, delivery: &Delivery) -> (Delivery, Launch) {
        match self.question.speed {
            Speed::Ball(speed) => struck_at(*delivery, &self.head, speed),
            Speed::Club(_) => (*delivery, struck(delivery, &self.head)),
        }
    }

    fn outcome(&self, share: [f64; 2]) -> Outcome {
        let (delivery, launch) = self.launch(&self.delivery(share));
        let (flight, rest) = to_rest_with(&launch, &self.air, &self.ground);
        Outcome {
            delivery,
            launch,
            flight,
            rest,
            distance: match self.question.aim {
                Aim::Carry => flight.carry,
                Aim::Total => rest.total,
            },
        }
    }

    /// The distance alone; carry needs no ground.
    fn distance(&self, share: [f64; 2]) -> f64 {
        match self.question.aim {
            Aim::Total => self.outcome(share).distance,
            Aim::Carry => {
                let launch = self.launch(&self.delivery(share)).1;
                fly_with(&launch, &self.air, &Aero::CALIBRATED).carry
            }
        }
    }

    /// The best outcome.
    fn search(&self) -> Outcome {
        let shares = grid([0.5, 0.5], 0.5, COARSE);
        let coarse: Vec<_> = shares.par_iter().map(|s| self.distance(*s)).collect();
        let mut best = shares
            .into_iter()
            .zip(coarse)
            .fold(([0.5, 0.5], f64::NEG_INFINITY), further);
        for refinement in 1..=REFINEMENTS {
            let half = 0.35 * 0.36_f64.powi(refinement);
            best = grid(best.0, half, FINE)
                .into_iter()
                .map(|share| (share, self.distance(share)))
                .fold(best, further);
        }
        self.outcome(best.0)
    }
}

/// The later of two only when it is further: ties go to the first, for repeatability.
fn further(a: ([f64; 2], f64), b: ([f64; 2], f64)) -> ([f64; 2], f64) {
    if b.1 > a.1 { b } else { a }
}

/// A square grid of shares about a centre, held to 0…1.
fn grid(centre: [f64; 2], half: f64, points: usize) -> Vec<[f64; 2]> {
    let along = |c: f64, i: usize| {
        (c + half * (2.0 * i as f64 / (points - 1) as f64 - 1.0)).clamp(0.0, 1.0)
    };
    (0..points * points)
        .map(|i| [along(centre[0], i / points), along(centre[1], i % points)])
        .collect()
}

/// Accepted limits of a map's sides, for forms and messages.
pub const MAP_LAUNCH_DEG: RangeInclusive<f64> = 0.0..=60.0;
/// Accepted limits of a map's spin, rpm.
pub const MAP_SPIN_RPM: RangeInclusive<f64> = 0.0..=13_000.0;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::turf::Surface;
    use crate::physics::wind::Wind;
    use crate::vocabulary::units::{MPH, YARD};

    fn driver(speed: Speed) -> Question {
        Question {
            speed,
            club: Club::Driver,
            aim: Aim::Carry,
            conditions: Conditions::REFERENCE,
            freedom: Freedom::of(Club::Driver),
            tolerance: 3.0 * YARD,
        }
    }

    #[test]
    fn no_deliverable_shot_goes_further_than_the_best() {
        let question = driver(Speed::Ball(150.0 * MPH));
        let bench = Bench::new(&question).unwrap();
        let found = bench.search();
        let finest = grid([0.5, 0.5], 0.5, 60)
            .into_iter()
            .map(|share| bench.distance(share))
            .fold(0.0, f64::max);
        assert!(
            found.distance > finest - 0.1 * YARD,
            "{} {finest}",
            found.distance
        );
        assert!((found.launch.ball_speed - 150.0 * MPH).abs() < 0.01);
    }

    #[test]
    fn hitting_up_carries_further_than_hitting_down() {
        let at = |attack: f64| {
            let question = driver(Speed::Club(95.0 * MPH));
            let freedom = question.freedom.with_attack(attack, attack).unwrap();
            best(&Question {
                freedom,
                ..question
            })
            .unwrap()
            .distance
                / YARD
        };
        let worth = at(5.0) - at(-5.0);
        assert!((8.0..40.0).contains(&worth), "{worth}");
    }

    #[test]
    fn a_slower_ball_wants_more_launch_and_a_faster_one_less_spin_loft_for_its_speed() {
        let window_at = |mph: f64| window(&driver(Speed::Ball(mph * MPH))).unwrap();
        let (slow, fast) = (window_at(110.0), window_at(170.0));
        assert!(slow.best.distance < fast.best.distance);
        for window in [slow, fast] {
            assert!(
                window
                    .launch_angle_deg
                    .contains(window.best.launch.launch_angle_deg)
            );
            assert!(
                window
                    .spin_rate_rpm
                    .contains(window.best.launch.spin_rate_rpm)
            );
        }
    }

    #[test]
    fn for_total_on_hard_ground_the_best_lands_flatter_than_for_carry() {
        let hard = Conditions {
            ground: Some(Ground {
                surface: Surface::Fairway,
                firmness: 0.9,
            }),
            ..Conditions::REFERENCE
        };
        let question = Question {
            conditions: hard,
            ..driver(Speed::Ball(150.0 * MPH))
        };
        let carry = best(&question).unwrap();
        let total = best(&Question {
            aim: Aim::Total,
            ..question
        })
        .unwrap();
        assert!(total.flight.landing_angle_deg < carry.flight.landing_angle_deg - 3.0);
        assert!(total.rest.total > carry.rest.total);
    }

    #[test]
    fn into_the_wind_lower_and_down_the_wind_higher() {
        let from = |from_deg: f64| {
            let wind = Some(Wind {
                speed_mps: 8.0,
                from_deg,
            });
            let conditions = Conditions {
                wind,
                ..Conditions::REFERENCE
            };
            best(&Question {
                conditions,
                ..driver(Speed::Ball(150.0 * MPH))
            })
            .unwrap()
            .launch
            .launch_angle_deg
        };
        assert!(from(0.0) < from(180.0));
    }

    #[test]
    fn a_window_of_no_width_and_limits_the_wrong_way_round_are_refused() {
        let question = Question {
            tolerance: 0.0,
            ..driver(Speed::Ball(60.0))
        };
        assert_eq!(window(&question).unwrap_err().field, "tolerance");
        let refused = Freedom::of(Club::Driver)
            .with_attack(3.0, -3.0)
            .unwrap_err();
        assert_eq!(refused.field, "attack_from_deg");
        let fast = driver(Speed::Club(90.0));
        assert_eq!(window(&fast).unwrap_err().field, "club_speed");
    }

    #[test]
    fn the_outline_of_what_can_be_delivered_is_closed_and_holds_the_best() {
        let question = driver(Speed::Ball(140.0 * MPH));
        let outline = deliverable(&question).unwrap();
        assert_eq!(outline.first(), outline.last());
        let found = best(&question).unwrap().launch;
        let side = |i: usize| Range::over(outline.iter().map(|p| p[i]));
        let near = |range: Range, value: f64| {
            let slack = 0.02 * (range.to - range.from);
            (range.from - slack..=range.to + slack).contains(&value)
        };
        assert!(near(side(0), found.launch_angle_deg) && near(side(1), found.spin_rate_rpm));
    }
}
