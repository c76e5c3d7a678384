//! What the house lets a body swing on one day.

use crate::session::plan::PlannedBlock;
use crate::session::warm_up::GROWN;
use crate::verdicts::house_rules::HouseRules;
use serde::Serialize;
use utoipa::ToSchema;

/// Swings of a player on one day, and those of its week.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Swings {
    /// Those in blocks of full effort.
    pub full: u32,
    /// All.
    pub all: u32,
    /// Those in blocks of full effort in seven days, this one among them.
    pub week: u32,
}

/// The same blocks within what the house's bounds for this age leave of the day: first
/// full-effort blocks, then all, give up balls in proportion, each keeping one. Says
/// whether anything was given up.
///
/// ```
/// use tally_core::session::bounds::{Swings, within_bounds};
/// use tally_core::session::plan::PlannedBlock;
/// use tally_core::verdicts::house_rules::HouseRules;
/// let all_out = PlannedBlock { full_effort: true, ..PlannedBlock::new("All-out", 50) };
/// let rules = HouseRules::default();
/// let (held, gave_up) = within_bounds(vec![all_out], Some(11), Swings::default(), &rules);
/// assert!(gave_up && held[0].balls <= 10);
/// ```
pub fn within_bounds(
    mut blocks: Vec<PlannedBlock>,
    age: Option<i32>,
    today: Swings,
    rules: &HouseRules,
) -> (Vec<PlannedBlock>, bool) {
    let growing = age.is_some_and(|age| age < GROWN);
    let [full, full_of_week] = rules.full_swings_of(growing);
    let all = if growing {
        rules.all_swings_growing
    } else {
        rules.all_swings
    };
    // What the week leaves is left of the day too.
    let full = full.min((full_of_week - f64::from(today.week)).max(0.0) + f64::from(today.full));
    let mut gave_up = false;
    for (most, swung, which) in [(full, today.full, true), (all, today.all, false)] {
        let counts = |block: &&mut PlannedBlock| !which || block.full_effort;
        let asked: u32 = blocks.iter_mut().filter(counts).map(|b| b.balls).sum();
        let most = (most as u32).saturating_sub(swung);
        if asked <= most {
            continue;
        }
        gave_up = true;
        for block in blocks.iter_mut().filter(counts) {
            let share = f64::from(block.balls) * f64::from(most) / f64::from(asked);
            let fewer = (share.floor() as u32).max(1);
            block.balls = fewer.min(block.balls);
        }
    }
    (blocks, gave_up)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::session::plan::tests::known;
    use crate::session::plan::{propose, with_balls};
    use crate::session::purpose::Purpose;
    use crate::vocabulary::keyed::Keyed;

    #[test]
    fn what_the_week_had_is_left_out_of_the_day() {
        let rules = HouseRules::default();
        let all_out = PlannedBlock {
            full_effort: true,
            ..PlannedBlock::new("All-out", 50)
        };
        let left = |full, week| {
            let swung = Swings {
                full,
                all: full,
                week,
            };
            within_bounds(vec![all_out.clone()], Some(30), swung, &rules).0[0].balls
        };
        assert_eq!([left(0, 0), left(0, 100), left(5, 105)], [40, 20, 15]);
    }

    #[test]
    fn no_proposal_goes_beyond_the_bounds_of_an_age() {
        let rules = HouseRules::default();
        for (age, full, all) in [(Some(34), 40, 150), (Some(11), 10, 70), (None, 40, 150)] {
            for purpose in Purpose::all() {
                let long = with_balls(&propose(purpose, &known(&rules)), 102);
                let (held, _) = within_bounds(long, age, Swings::default(), &rules);
                let balls = |full_only: bool| -> u32 {
                    let of = held.iter().filter(|b| !full_only || b.full_effort);
                    of.map(|b| b.balls).sum()
                };
                assert!(balls(true) <= full, "{purpose:?} {age:?}: {}", balls(true));
                assert!(balls(false) <= all, "{purpose:?} {age:?}: {}", balls(false));
                assert!(held.iter().all(|b| b.balls >= 1));
            }
        }
    }

    #[test]
    fn what_was_swung_earlier_that_day_is_taken_from_the_bounds() {
        let rules = HouseRules::default();
        let all_out = vec![PlannedBlock {
            full_effort: true,
            ..PlannedBlock::new("All-out", 10)
        }];
        let after = |full| {
            let today = Swings {
                full,
                all: full,
                week: full,
            };
            within_bounds(all_out.clone(), Some(11), today, &rules).0[0].balls
        };
        assert_eq!((after(0), after(6), after(30)), (10, 4, 1));
    }
}
