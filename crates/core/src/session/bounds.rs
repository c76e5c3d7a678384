//! What the house lets a body swing on one day.

use crate::session::plan::PlannedBlock;
use crate::verdicts::build::Build;
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

/// The same blocks within what the house's bounds for a body leave of the day: first
/// full-effort blocks, then all, give up balls in proportion, then whole blocks from the end.
/// Says whether anything was given up. Where nothing is left, there are putts and chips.
///
/// ```
/// use tally_core::session::bounds::{Swings, within_bounds};
/// use tally_core::session::plan::PlannedBlock;
/// use tally_core::verdicts::build::Build;
/// use tally_core::verdicts::house_rules::HouseRules;
/// let all_out = PlannedBlock { full_effort: true, ..PlannedBlock::new("All-out", 50) };
/// let rules = HouseRules::default();
/// let (held, gave_up) = within_bounds(vec![all_out], Build::Growing, Swings::default(), &rules);
/// assert!(gave_up && held[0].balls <= 10);
/// ```
pub fn within_bounds(
    mut blocks: Vec<PlannedBlock>,
    build: Build,
    today: Swings,
    rules: &HouseRules,
) -> (Vec<PlannedBlock>, bool) {
    let [full, full_of_week] = rules.full_swings_of(build);
    // What the week leaves is left of the day too.
    let full = full.min((full_of_week - f64::from(today.week)).max(0.0) + f64::from(today.full));
    let full = (full as u32).saturating_sub(today.full);
    let all = (rules.all_swings_of(build) as u32).saturating_sub(today.all);
    let gave_up = [
        shorten(&mut blocks, full, |block| block.full_effort),
        shorten(&mut blocks, all, |_| true),
    ];
    if blocks.is_empty() {
        blocks.push(PlannedBlock::new("Putts and chips", 10));
    }
    (blocks, gave_up.contains(&true))
}

/// Leaves `most` balls to the blocks that count; says whether any were given up.
fn shorten(
    blocks: &mut Vec<PlannedBlock>,
    most: u32,
    counts: impl Fn(&PlannedBlock) -> bool,
) -> bool {
    let asked: u32 = blocks.iter().filter(|b| counts(b)).map(|b| b.balls).sum();
    if asked <= most {
        return false;
    }
    let mut left = most;
    blocks.retain_mut(|block| {
        if !counts(block) {
            return true;
        }
        let share = f64::from(block.balls) * f64::from(most) / f64::from(asked);
        let fewer = (share.floor() as u32).max(1).min(block.balls);
        block.balls = fewer.min(left);
        left -= block.balls;
        block.balls > 0
    });
    true
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
            within_bounds(vec![all_out.clone()], Build::Trained, swung, &rules).0[0].balls
        };
        assert_eq!([left(0, 0), left(0, 100), left(5, 105)], [40, 20, 15]);
    }

    #[test]
    fn no_proposal_goes_beyond_the_bounds_of_an_age() {
        let rules = HouseRules::default();
        let builds = [
            (Build::Trained, 40, 150),
            (Build::Growing, 10, 70),
            (Build::Beginning, 20, 150),
        ];
        for (build, full, all) in builds {
            for purpose in Purpose::all() {
                let long = with_balls(&propose(purpose, &known(&rules)), 102);
                let (held, _) = within_bounds(long, build, Swings::default(), &rules);
                let balls = |full_only: bool| -> u32 {
                    let of = held.iter().filter(|b| !full_only || b.full_effort);
                    of.map(|b| b.balls).sum()
                };
                assert!(
                    balls(true) <= full,
                    "{purpose:?} {build:?}: {}",
                    balls(true)
                );
                assert!(
                    balls(false) <= all,
                    "{purpose:?} {build:?}: {}",
                    balls(false)
                );
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
            within_bounds(all_out.clone(), Build::Growing, today, &rules).0
        };
        assert_eq!((after(0)[0].balls, after(6)[0].balls), (10, 4));
        let nothing_left = after(30);
        assert!(nothing_left.iter().all(|block| !block.full_effort));
        assert_eq!(nothing_left[0].label, "Putts and chips");
    }

    #[test]
    fn more_blocks_than_swings_lose_the_last_of_them() {
        let rules = HouseRules::default();
        let set = |n: u32| PlannedBlock {
            full_effort: true,
            ..PlannedBlock::new(format!("set {n}"), 3)
        };
        let sets: Vec<PlannedBlock> = (1..=13).map(set).collect();
        let (held, gave_up) = within_bounds(sets, Build::Growing, Swings::default(), &rules);
        let balls: u32 = held.iter().map(|block| block.balls).sum();
        assert!(gave_up);
        assert_eq!((held.len(), balls), (10, 10));
        assert_eq!(held[9].label, "set 10");
    }
}
