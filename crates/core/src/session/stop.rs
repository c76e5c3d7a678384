//! When to stop swinging all out: speed that falls, too many swings of a day or a week.
//!
//! Pain needs no rule here: it holds every full-effort block at once.

use crate::session::bounds::Swings;
use crate::statistics::quantile::median;
use crate::verdicts::build::Build;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::sentence::Sentence;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Why to stop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StopKind {
    /// Speed fell from the session's best.
    Slower,
    /// Full-effort swings of the day are used up.
    ManyToday,
    /// Those of seven days are.
    ManyThisWeek,
}

impl StopKind {
    /// All of them, the one that is said first at the front.
    pub const ALL: [StopKind; 3] = [
        StopKind::ManyToday,
        StopKind::ManyThisWeek,
        StopKind::Slower,
    ];
}

/// To stop swinging all out.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Stop {
    /// Why.
    pub kind: StopKind,
    /// Why, and what is left to do, as a coach would say it.
    pub said: Sentence,
    /// Whether going on is for the coach to decide: never with players who still grow.
    pub may_go_on: bool,
}

/// What is asked.
#[derive(Debug, Clone, PartialEq)]
pub struct StopQuestion<'a> {
    /// Club speeds of the kept full-effort swings with one club or implement, in hitting order, m/s.
    pub speeds: &'a [f64],
    /// What the player swung, this session's swings among them.
    pub swung: Swings,
    /// How much full effort the player is used to.
    pub build: Build,
    /// What was said before, and gone over.
    pub over: &'a [StopKind],
    /// The house's rules.
    pub rules: &'a HouseRules,
}

/// How many SDs of a swing the speed must have fallen by at least: a wild swinger's middle
/// strays by itself.
const STRAYS: f64 = 1.6;

/// Whether to stop, and why: the day's bound before the week's before the speed.
pub fn stop(question: &StopQuestion<'_>) -> Option<Stop> {
    let rules = question.rules;
    let [day, week] = rules.full_swings_of(question.build);
    let holds = |kind: &StopKind| match kind {
        StopKind::ManyToday => f64::from(question.swung.full) >= day,
        StopKind::ManyThisWeek => f64::from(question.swung.week) >= week,
        StopKind::Slower => fell(question.speeds, rules),
    };
    let said = |kind: &StopKind| !question.over.contains(kind) && holds(kind);
    let kind = StopKind::ALL.into_iter().find(said)?;
    let why = match kind {
        StopKind::ManyToday => format!("{day:.0} full-effort swings are enough for one day"),
        StopKind::ManyThisWeek => format!("{week:.0} full-effort swings are enough for seven days"),
        StopKind::Slower => {
            let n = rules.stop_swings;
            format!(
                "the last {n:.0} swings are more than {:.0} % under this session’s best",
                100.0 * rules.stop_drop
            )
        }
    };
    Some(Stop {
        kind,
        said: Sentence::of(format!(
            "Stop all-out swings here: {why}. Easy swings, putting or the end of the session are left."
        )),
        may_go_on: !question.build.grows(),
    })
}

/// Whether the middle of the latest swings lies as far under the best middle of as many as the
/// house allows, and further than swings stray.
fn fell(speeds: &[f64], rules: &HouseRules) -> bool {
    let n = rules.stop_swings as usize;
    // Nothing can have fallen before there were two stretches.
    if n == 0 || speeds.len() < 2 * n {
        return false;
    }
    let middles: Vec<f64> = speeds.windows(n).map(median).collect();
    let best = middles.iter().copied().fold(0.0, f64::max);
    let steps: Vec<f64> = speeds
        .windows(2)
        .map(|pair| (pair[1] - pair[0]).abs())
        .collect();
    // The middle of a step is 0.954 SDs where swings stray normally and apart.
    let strays = median(&steps) / 0.954;
    let allowed = (rules.stop_drop * best).max(STRAYS * strays);
    middles[middles.len() - 1] < best - allowed
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand::{RngExt, SeedableRng};
    use rand_distr::{Distribution, StandardNormal};
    use rand_pcg::Pcg64;

    fn ask(speeds: &[f64], day: u32, week: u32, growing: bool) -> Option<Stop> {
        stop(&StopQuestion {
            speeds,
            swung: Swings {
                full: day,
                all: day,
                week,
            },
            build: Build::growing(growing),
            over: &[],
            rules: &HouseRules::default(),
        })
    }

    #[test]
    fn a_day_and_a_week_have_their_bounds_and_children_lower_ones_without_going_on() {
        let kind = |day, week, growing| ask(&[], day, week, growing).map(|stop| stop.kind);
        assert_eq!(kind(39, 39, false), None);
        assert_eq!(kind(40, 40, false), Some(StopKind::ManyToday));
        assert_eq!(kind(10, 120, false), Some(StopKind::ManyThisWeek));
        assert_eq!(kind(10, 10, true), Some(StopKind::ManyToday));
        assert!(!ask(&[], 10, 10, true).unwrap().may_go_on);
        assert!(ask(&[], 40, 40, false).unwrap().may_go_on);
    }

    #[test]
    fn what_was_gone_over_is_said_no_more_and_other_reasons_are() {
        let rules = HouseRules::default();
        let kind = |over: &[StopKind]| {
            let swung = Swings {
                full: 40,
                all: 40,
                week: 120,
            };
            let told = stop(&StopQuestion {
                speeds: &[],
                swung,
                build: Build::Trained,
                over,
                rules: &rules,
            });
            told.map(|stop| stop.kind)
        };
        assert_eq!(kind(&[]), Some(StopKind::ManyToday));
        assert_eq!(kind(&[StopKind::ManyToday]), Some(StopKind::ManyThisWeek));
        assert_eq!(kind(&StopKind::ALL), None);
    }

    /// How often one of a hundred sessions is stopped for its speed, by what a share `done` of
    /// it costs.
    fn stopped(costs: impl Fn(f64) -> f64, strays: f64) -> usize {
        let sessions = (0..100).filter(|seed| {
            let mut rng = Pcg64::seed_from_u64(7 * seed + 3);
            let speeds: Vec<f64> = (0..36)
                .map(|swing| {
                    let z: f64 = StandardNormal.sample(&mut rng);
                    let mishit = if rng.random::<f64>() < 0.05 {
                        0.08
                    } else {
                        0.0
                    };
                    50.0 * (1.0 - costs(f64::from(swing) / 35.0) - mishit + strays * z)
                })
                .collect();
            (1..=speeds.len()).any(|seen| ask(&speeds[..seen], 0, 0, false).is_some())
        });
        sessions.count()
    }

    #[test]
    fn ordinary_sessions_go_on_and_fatigue_of_five_per_cent_stops_them() {
        let ordinary: [fn(f64) -> f64; 3] = [
            |_| 0.0,
            |done| 0.01 * done,
            |done| 0.01 * (-9.0 * done).exp(),
        ];
        let tired: [fn(f64) -> f64; 2] = [
            |done| if done > 0.5 { 0.05 } else { 0.0 },
            |done| 0.05 * ((done - 0.4) / 0.4).clamp(0.0, 1.0),
        ];
        for strays in [0.01, 0.015] {
            let wrongly: usize = ordinary.iter().map(|costs| stopped(costs, strays)).sum();
            let rightly: usize = tired.iter().map(|costs| stopped(costs, strays)).sum();
            println!("strays {strays}: {wrongly} of 300 ordinary, {rightly} of 200 tired");
            assert!(
                wrongly <= 18 && rightly >= 170,
                "{strays}: {wrongly} {rightly}"
            );
        }
    }
}
