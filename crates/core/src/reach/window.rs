//! The best launch and spin that a swing can make of a speed, and what is as good.
//!
//! The *window* is everything deliverable within a tolerance of the furthest
//! ([`crate::physics::furthest`]). Its limits are found where the distance crosses the
//! tolerance between the points of a grid, so that they move smoothly with what was asked.

mod freedom;
mod map;
mod spin_between;

use crate::physics::flight::{FLIGHT_ERROR, SWING_ERROR};
pub use crate::physics::furthest::{Aim, Freedom, Outcome, Question, Speed, Useful, best};
use crate::physics::furthest::{Bench, Tried, grid};
use crate::vocabulary::invalid::{Invalid, within};
pub use map::{Level, Map, map};
use serde::Serialize;
pub use spin_between::spin_between;
use std::ops::RangeInclusive;
use utoipa::ToSchema;

/// Points to a side of the grid that tells how wide the window is.
const WIDE: usize = 21;

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
    /// Standard error of the best distance by the model, m.
    pub model_error: f64,
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
/// use tally_core::reach::window::{Aim, Freedom, Question, Speed, Useful, window};
/// let asked = Question {
///     speed: Speed::Club(44.7),
///     club: Club::Driver,
///     aim: Aim::Carry,
///     conditions: Conditions::REFERENCE,
///     freedom: Freedom::of(Club::Driver),
///     useful: Useful::USUAL,
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
    let edge = Edge::of(&bench, &best, question.tolerance);
    Ok(Window {
        best,
        tolerance: question.tolerance,
        model_error: match question.speed {
            Speed::Ball(_) => FLIGHT_ERROR * best.distance,
            Speed::Club(_) => SWING_ERROR * best.distance,
        },
        launch_angle_deg: edge.over(best.launch.launch_angle_deg, |t| t.launch.launch_angle_deg),
        spin_rate_rpm: edge.over(best.launch.spin_rate_rpm, |t| t.launch.spin_rate_rpm),
        landing_angle_deg: edge.over(best.flight.landing_angle_deg, |t| {
            t.flight.landing_angle_deg
        }),
        angle_of_attack_deg: edge.over(best.delivery.angle_of_attack_deg, |t| {
            t.delivery.angle_of_attack_deg
        }),
        dynamic_loft_deg: edge.over(best.delivery.dynamic_loft_deg, |t| {
            t.delivery.dynamic_loft_deg
        }),
    })
}

/// A grid over what can be delivered, and the least distance that is as good.
struct Edge {
    tried: Vec<Tried>,
    least: f64,
}

impl Edge {
    fn of(bench: &Bench<'_>, best: &Outcome, tolerance: f64) -> Self {
        Edge {
            tried: bench.try_all(&grid([0.5, 0.5], 0.5, WIDE)),
            least: best.distance - tolerance,
        }
    }

    /// Least and most of a value where the distance is as good: at the points inside, at
    /// the crossings between a point inside and a neighbour outside, and at the best.
    fn over(&self, best: f64, value: fn(&Tried) -> f64) -> Range {
        let good = |t: &Tried| t.distance >= self.least;
        let inside = self.tried.iter().filter(|t| good(t)).map(value);
        let right = (0..WIDE * WIDE)
            .filter(|i| i % WIDE + 1 < WIDE)
            .map(|i| (i, i + 1));
        let down = (0..WIDE * (WIDE - 1)).map(|i| (i, i + WIDE));
        let crossings = right.chain(down).filter_map(|(i, j)| {
            let (a, b) = (&self.tried[i], &self.tried[j]);
            let share = (self.least - a.distance) / (b.distance - a.distance);
            (good(a) != good(b)).then(|| value(a) + share * (value(b) - value(a)))
        });
        Range::over(inside.chain(crossings).chain([best]))
    }
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

/// Accepted limits of a map's sides, for forms and messages.
pub const MAP_LAUNCH_DEG: RangeInclusive<f64> = 0.0..=60.0;
/// Accepted limits of a map's spin, rpm.
pub const MAP_SPIN_RPM: RangeInclusive<f64> = 0.0..=13_000.0;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::physics::conditions::Conditions;
    use crate::physics::turf::{Ground, Surface};
    use crate::physics::wind::Wind;
    use crate::vocabulary::units::{MPH, YARD};

    fn driver(speed: Speed) -> Question {
        Question {
            speed,
            club: Club::Driver,
            aim: Aim::Carry,
            conditions: Conditions::REFERENCE,
            freedom: Freedom::of(Club::Driver),
            useful: Useful::USUAL,
            tolerance: 3.0 * YARD,
        }
    }

    /// Steps of a mile an hour over what players swing: how far the best and the edges of
    /// the window move at most, launch in deg and spin in rpm.
    fn moves(club: Club, aim: Aim) -> [[f64; 2]; 2] {
        let windows: Vec<Window> = (60..=135)
            .map(|mph| {
                window(&Question {
                    club,
                    aim,
                    freedom: Freedom::of(club),
                    ..driver(Speed::Club(f64::from(mph) * MPH))
                })
                .unwrap()
            })
            .collect();
        let most = |value: &dyn Fn(&Window) -> f64| {
            let steps = windows
                .windows(2)
                .map(|w| (value(&w[1]) - value(&w[0])).abs());
            steps.fold(0.0, f64::max)
        };
        let edges =
            |range: fn(&Window) -> Range| most(&|w| range(w).from).max(most(&|w| range(w).to));
        [
            [
                most(&|w| w.best.launch.launch_angle_deg),
                most(&|w| w.best.launch.spin_rate_rpm),
            ],
            [edges(|w| w.launch_angle_deg), edges(|w| w.spin_rate_rpm)],
        ]
    }

    #[test]
    fn a_mile_an_hour_never_makes_a_window_jump() {
        for club in [
            Club::Driver,
            Club::Wood5,
            Club::Iron4,
            Club::Iron7,
            Club::WedgePitching,
        ] {
            for aim in [Aim::Carry, Aim::Total] {
                let moved = moves(club, aim);
                let [[launch, spin], [edge_launch, edge_spin]] = moved;
                assert!(
                    launch < 0.65 && spin < 120.0,
                    "{club:?} {aim:?}: best {moved:?}"
                );
                assert!(
                    edge_launch < 0.65 && edge_spin < 170.0,
                    "{club:?} {aim:?}: edge {moved:?}"
                );
            }
        }
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
        assert!(total.flight.landing_angle_deg < carry.flight.landing_angle_deg - 1.0);
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
