//! What a session's purpose proposes to hit: blocks of balls with their aim and rest.
//!
//! Orders are balanced ([`balanced_order`]), so that warming up and tiring do not look
//! like the thing that is tried: A B B A for two ways, ladders there and back out of
//! order (Cochran & Cox 1957).

use crate::physics::club::Club;
use crate::reach::launch_spin::TargetWindow;
use crate::session::gear::Gear;
use crate::session::purpose::Purpose;
use crate::session::test_plan::balanced_order;
use crate::shots::swung::Swung;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::text::text_within;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most blocks of a plan.
const MOST_BLOCKS: usize = 60;
/// Most balls of a block.
const MOST_BALLS: u32 = 200;

/// What each ball of a block should do.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Target {
    /// The value aimed at.
    pub quantity: Quantity,
    /// Least that meets it, internal units.
    pub low: Option<f64>,
    /// Most that meets it.
    pub high: Option<f64>,
}

/// How a value stands to its target.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Met {
    /// Within it.
    Met,
    /// Less than it asks for.
    Under,
    /// More than it asks for.
    Over,
}

impl Target {
    /// How `value` stands to this target.
    pub fn judge(&self, value: f64) -> Met {
        if self.low.is_some_and(|low| value < low) {
            Met::Under
        } else if self.high.is_some_and(|high| value > high) {
            Met::Over
        } else {
            Met::Met
        }
    }
}

/// A block of balls to hit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlannedBlock {
    /// What it is called.
    pub label: String,
    /// The club, when it is not the session's.
    #[serde(default)]
    pub club: Option<Club>,
    /// What each ball should do, when that matters.
    #[serde(default)]
    pub target: Option<Target>,
    /// How many balls.
    pub balls: u32,
    /// Rest before each ball, s; 0 for none asked.
    #[serde(default)]
    pub rest_s: u32,
    /// Rest after the whole of it, s; 0 for none asked.
    #[serde(default)]
    pub rest_after_s: u32,
    /// Whether it asks for full effort: such blocks are held when there is pain.
    #[serde(default)]
    pub full_effort: bool,
    /// Effort felt that it asks for, %, where a protocol says it.
    #[serde(default)]
    pub effort_pct: Option<u32>,
    /// What is swung without a ball; absent where balls are hit.
    #[serde(default)]
    pub swung: Option<Swung>,
    /// What it is hit with, where that is not as in the rest of the session.
    #[serde(default)]
    pub gear: Gear,
}

impl PlannedBlock {
    /// A block without target, rest or full effort.
    pub fn new(label: impl Into<String>, balls: u32) -> Self {
        Self {
            label: label.into(),
            club: None,
            target: None,
            balls,
            rest_s: 0,
            rest_after_s: 0,
            full_effort: false,
            effort_pct: None,
            swung: None,
            gear: Gear::default(),
        }
    }

    /// What its balls go by: the label, with what they were hit with where that was changed.
    pub fn known_as(&self) -> String {
        self.gear.named(&self.label)
    }

    /// Whether its swings are meant to be slower than they can be: they tell of no speed.
    pub fn gentle(&self) -> bool {
        self.effort_pct.is_some() && !self.full_effort
    }

    fn resting(mut self, seconds: u32) -> Self {
        self.rest_s = seconds;
        self
    }

    fn aiming(mut self, target: Option<Target>) -> Self {
        self.target = target;
        self
    }

    fn full(mut self) -> Self {
        self.full_effort = true;
        self
    }

    /// Checks one block of a plan; fields are named as `blocks[2].balls`.
    ///
    /// # Errors
    /// [`Invalid`] for an empty label, balls outside 1…200, rest outside 0…1,800 s, or
    /// a target that nothing can meet.
    pub fn check(&self, index: usize) -> Result<(), Invalid> {
        let field = |name: &str| format!("blocks[{index}].{name}");
        text_within(&field("label"), &self.label, 100)?;
        within(
            &field("balls"),
            f64::from(self.balls),
            1.0..=f64::from(MOST_BALLS),
            "",
        )?;
        let rests = [("rest_s", self.rest_s), ("rest_after_s", self.rest_after_s)];
        for (name, rest) in rests {
            within(&field(name), f64::from(rest), 0.0..=1800.0, "s")?;
        }
        if let Some(effort) = self.effort_pct {
            within(&field("effort_pct"), f64::from(effort), 30.0..=100.0, "%")?;
        }
        if let Some(swung) = &self.swung {
            swung.check(&field("swung"))?;
        }
        self.gear.check(&field("gear"))?;
        let Some(target) = self.target else {
            return Ok(());
        };
        for (name, end) in [("target.low", target.low), ("target.high", target.high)] {
            if let Some(value) = end {
                let unit = target.quantity.dimension().accepted()[0];
                target
                    .quantity
                    .accept(unit.from_internal(value), unit)
                    .map_err(|why| Invalid {
                        field: field(name),
                        ..why
                    })?;
            }
        }
        match (target.low, target.high) {
            (None, None) => Err(Invalid::missing(
                field("target"),
                "give the least, the most, or both",
            )),
            (Some(low), Some(high)) if low >= high => Err(Invalid::new(
                field("target.low"),
                low,
                "is not below the most",
                "give the smaller number first",
            )),
            _ => Ok(()),
        }
    }
}

/// Checks a whole plan.
///
/// # Errors
/// Every [`Invalid`] block, or one for a plan that is empty or longer than 60 blocks.
pub fn check(blocks: &[PlannedBlock]) -> Result<(), Vec<Invalid>> {
    if blocks.is_empty() || blocks.len() > MOST_BLOCKS {
        let remedy = format!("plan 1 to {MOST_BLOCKS} blocks");
        return Err(vec![Invalid::new(
            "blocks",
            blocks.len(),
            "is not a plan",
            remedy,
        )]);
    }
    let errors: Vec<_> = blocks
        .iter()
        .enumerate()
        .filter_map(|(i, block)| block.check(i).err())
        .collect();
    if errors.is_empty() {
        Ok(())
    } else {
        Err(errors)
    }
}

/// The same blocks with `each` balls for every label, shared evenly by its blocks and
/// rounded up.
pub fn with_balls(blocks: &[PlannedBlock], each: usize) -> Vec<PlannedBlock> {
    blocks
        .iter()
        .map(|block| {
            let same = |b: &&PlannedBlock| b.label == block.label && b.gear == block.gear;
            let same = blocks.iter().filter(same).count();
            let balls = each.div_ceil(same).clamp(1, MOST_BALLS as usize);
            PlannedBlock {
                balls: balls as u32,
                ..block.clone()
            }
        })
        .collect()
}

/// What is known of the player when a plan is proposed.
#[derive(Debug, Clone, Copy)]
pub struct Known<'a> {
    /// The session's club.
    pub club: Club,
    /// The clubs of the player's bag, longest first; empty when not known.
    pub bag: &'a [Club],
    /// Usual club speed with this club, m/s.
    pub usual_speed: Option<f64>,
    /// Best club speed with it so far, m/s.
    pub best_speed: Option<f64>,
    /// Length of it, m, where it is noted.
    pub club_length_m: Option<f64>,
    /// The launch and spin that the player aims for with it.
    pub window: Option<TargetWindow>,
    /// The house's thresholds.
    pub rules: &'a HouseRules,
}

/// The blocks that a purpose proposes.
pub fn propose(purpose: Purpose, known: &Known<'_>) -> Vec<PlannedBlock> {
    match purpose {
        Purpose::Benchmark => vec![PlannedBlock::new("Stock", 12).resting(20)],
        Purpose::ExpectedCarry => {
            vec![
                PlannedBlock::new("Stock", 12)
                    .resting(20)
                    .aiming(known.carry_by_factor()),
            ]
        }
        Purpose::LaunchAndSpin => there_and_back("As usual", "With the change", 6, 20)
            .into_iter()
            .map(|block| block.aiming(known.launch_window()))
            .collect(),
        Purpose::SpeedLadder => in_turns(&[75, 80, 85, 90, 95, 100], |share| {
            let block = PlannedBlock::new(format!("{share} % of stock"), 2).resting(20);
            block.aiming(known.speed_step(f64::from(share) / 100.0))
        }),
        Purpose::EffortLadder => effort_ladder(),
        Purpose::Comparison => there_and_back("A", "B", 6, 20),
        Purpose::SpeedDay => vec![
            PlannedBlock::new("Normal swings", 4).resting(30),
            PlannedBlock::new("Full speed, flight ignored", 5)
                .resting(60)
                .full()
                .aiming(known.beat_best()),
            PlannedBlock::new("Full speed once more", 5)
                .resting(60)
                .full()
                .aiming(known.beat_best()),
            PlannedBlock::new("Normal swings again", 4).resting(30),
        ],
        Purpose::Force => vec![
            PlannedBlock::new("Before", 6).resting(30),
            PlannedBlock::new("Drills", 8).resting(20),
            PlannedBlock::new("After", 6).resting(30),
        ],
        Purpose::BagGapping => each_club(known),
        Purpose::Technique => there_and_back("As usual", "With the change", 6, 30),
        // A protocol says what is swung; without one, easy swings.
        Purpose::Training => vec![PlannedBlock::new("Easy swings", 5).resting(10)],
        Purpose::ClubLength => three_lengths(known),
    }
}

/// The clubs of the bag, or those usual where it is not known, from the shortest to the longest
/// and back: each has the same mean place, so that warming up is no club's carry.
fn each_club(known: &Known<'_>) -> Vec<PlannedBlock> {
    let usual = [
        Club::WedgeSand,
        Club::Iron9,
        Club::Iron7,
        Club::Iron5,
        Club::Wood5,
        Club::Driver,
    ];
    let short_first: Vec<Club> = known.bag.iter().rev().copied().collect();
    let clubs = if short_first.is_empty() {
        usual.to_vec()
    } else {
        short_first
    };
    let back = clubs.iter().rev();
    clubs
        .iter()
        .chain(back)
        .map(|club| PlannedBlock {
            club: (*club != known.club).then_some(*club),
            ..PlannedBlock::new(club.label(), 3).resting(15)
        })
        .collect()
}

/// The club as it is, and choked down twice, in a balanced order: light load, so that children
/// can do it.
fn three_lengths(known: &Known<'_>) -> Vec<PlannedBlock> {
    in_turns(&[0, 4, 8], |cm| {
        let label = match cm {
            0 => "Usual length".to_owned(),
            cm => format!("{cm} cm shorter"),
        };
        let length = known.club_length_m.filter(|_| cm > 0);
        PlannedBlock {
            gear: Gear {
                length_m: length.map(|length| length - f64::from(cm) / 100.0),
                ..Gear::default()
            },
            ..PlannedBlock::new(label, 3).resting(30)
        }
    })
}

/// Two ways, A B B A.
fn there_and_back(one: &str, other: &str, balls: u32, rest: u32) -> Vec<PlannedBlock> {
    in_turns(&[one, other], |label| {
        PlannedBlock::new(label, balls).resting(rest)
    })
}

/// Each way in a balanced order, there and back.
fn in_turns<T: Copy>(ways: &[T], block: impl Fn(T) -> PlannedBlock) -> Vec<PlannedBlock> {
    let order = balanced_order(ways.len(), 2).into_iter();
    order.map(|way| block(ways[way])).collect()
}

/// Feels and stock in turns, the gentlest first: each has the same mean place.
fn effort_ladder() -> Vec<PlannedBlock> {
    let ways = ["50 %", "60 %", "70 %", "80 %", "90 %", "100 %", "Stock"];
    in_turns(&ways, |label| {
        let block = PlannedBlock::new(label, 3).resting(25);
        if matches!(label, "90 %" | "100 %") {
            block.full()
        } else {
            block
        }
    })
}

impl Known<'_> {
    fn carry_by_factor(&self) -> Option<Target> {
        let expected = self.rules.carry_of(self.club, self.usual_speed?);
        Some(Target {
            quantity: Quantity::Carry,
            low: Some(expected - self.rules.carry_margin),
            high: None,
        })
    }

    fn launch_window(&self) -> Option<Target> {
        let [low, high] = match self.window {
            Some(window) => window.launch_angle_deg,
            None => {
                let launch = self
                    .club
                    .reference_launch(self.usual_speed?)
                    .launch_angle_deg;
                let half = self.rules.sound_launch_deg;
                [launch - half, launch + half]
            }
        };
        Some(Target {
            quantity: Quantity::LaunchAngle,
            low: Some(low),
            high: Some(high),
        })
    }

    fn speed_step(&self, share: f64) -> Option<Target> {
        let speed = self.usual_speed? * share;
        let half = self.usual_speed? * self.rules.step_tolerance;
        Some(Target {
            quantity: Quantity::ClubSpeed,
            low: Some(speed - half),
            high: Some(speed + half),
        })
    }

    fn beat_best(&self) -> Option<Target> {
        Some(Target {
            quantity: Quantity::ClubSpeed,
            low: Some(self.best_speed?),
            high: None,
        })
    }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::vocabulary::keyed::Keyed;

    /// A player of whom speeds are known.
    pub(crate) fn known(rules: &HouseRules) -> Known<'_> {
        Known {
            club: Club::Driver,
            bag: &[],
            usual_speed: Some(45.0),
            best_speed: Some(47.0),
            club_length_m: None,
            window: None,
            rules,
        }
    }

    #[test]
    fn every_purpose_proposes_a_plan_that_passes_its_own_check_known_or_not() {
        let rules = HouseRules::default();
        let nothing = Known {
            usual_speed: None,
            best_speed: None,
            ..known(&rules)
        };
        for purpose in Purpose::all() {
            for known in [known(&rules), nothing] {
                assert_eq!(check(&propose(purpose, &known)), Ok(()), "{purpose:?}");
            }
        }
    }

    #[test]
    fn every_way_of_a_ladder_and_of_a_comparison_has_the_same_mean_place() {
        let rules = HouseRules::default();
        for purpose in [
            Purpose::EffortLadder,
            Purpose::SpeedLadder,
            Purpose::Comparison,
        ] {
            let blocks = propose(purpose, &known(&rules));
            let place = |label: &str| {
                let places = blocks.iter().enumerate().filter(|(_, b)| b.label == label);
                let places: Vec<usize> = places.map(|(i, _)| i).collect();
                places.iter().sum::<usize>() as f64 / places.len() as f64
            };
            let middle = (blocks.len() - 1) as f64 / 2.0;
            assert!(
                blocks.iter().all(|b| place(&b.label) == middle),
                "{purpose:?}"
            );
        }
    }

    #[test]
    fn advised_balls_are_shared_by_the_blocks_of_a_label() {
        let rules = HouseRules::default();
        let blocks = with_balls(&propose(Purpose::Comparison, &known(&rules)), 25);
        assert!(blocks.iter().all(|b| b.balls == 13), "{blocks:?}");
        assert_eq!(check(&blocks), Ok(()));
    }

    #[test]
    fn full_effort_is_marked_where_it_is_asked_for() {
        let rules = HouseRules::default();
        let full = |purpose| {
            let blocks = propose(purpose, &known(&rules));
            blocks.iter().filter(|b| b.full_effort).count()
        };
        assert_eq!(full(Purpose::SpeedDay), 2);
        assert_eq!(full(Purpose::EffortLadder), 4);
        assert_eq!(full(Purpose::Benchmark), 0);
    }

    #[test]
    fn the_bag_is_gone_through_from_its_shortest_club_and_back() {
        let rules = HouseRules::default();
        let bag = [Club::Driver, Club::Iron7, Club::WedgePitching];
        let blocks = propose(
            Purpose::BagGapping,
            &Known {
                bag: &bag,
                ..known(&rules)
            },
        );
        let labels: Vec<_> = blocks.iter().map(|b| b.label.as_str()).collect();
        let there = ["Pitching wedge", "7-iron", "Driver"];
        assert_eq!(labels[..3], there);
        assert_eq!(labels[3..], ["Driver", "7-iron", "Pitching wedge"]);
        assert_eq!(blocks[2].club, None);
    }

    #[test]
    fn a_value_is_met_under_or_over_its_target() {
        let target = Target {
            quantity: Quantity::ClubSpeed,
            low: Some(40.0),
            high: Some(42.0),
        };
        assert_eq!(target.judge(39.9), Met::Under);
        assert_eq!(target.judge(40.0), Met::Met);
        assert_eq!(target.judge(42.1), Met::Over);
    }

    #[test]
    fn a_bad_block_is_named_by_its_place_and_field() {
        let mut blocks = vec![PlannedBlock::new("Stock", 10), PlannedBlock::new(" ", 10)];
        assert_eq!(check(&blocks).unwrap_err()[0].field, "blocks[1].label");
        blocks[1] = PlannedBlock::new("Many", 0);
        assert_eq!(check(&blocks).unwrap_err()[0].field, "blocks[1].balls");
        blocks[1] = PlannedBlock::new("Odd", 5).aiming(Some(Target {
            quantity: Quantity::Carry,
            low: Some(200.0),
            high: Some(100.0),
        }));
        assert_eq!(check(&blocks).unwrap_err()[0].field, "blocks[1].target.low");
        assert_eq!(check(&[]).unwrap_err()[0].field, "blocks");
    }
}
