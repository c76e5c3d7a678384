//! Protocols: ordered sets of swings, in levels.

use crate::physics::club::Club;
use crate::session::bounds::{Swings, within_bounds};
use crate::session::plan::PlannedBlock;
use crate::session::purpose::Purpose;
use crate::shots::swung::{SwingSide, Swung};
use crate::verdicts::build::Build;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::text::{lines_within, text_within};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a player stands.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Position {
    /// As for a ball.
    Normal,
    /// With a step into the swing.
    Stepping,
    /// On both knees.
    Kneeling,
    /// With the feet together.
    FeetTogether,
}

impl Keyed for Position {
    const KIND: &'static str = "a position";
}

impl Position {
    /// The name that its swings carry.
    ///
    /// ```
    /// use tally_core::training::protocol::Position;
    /// assert_eq!(Position::FeetTogether.label(), "feet together");
    /// ```
    pub fn label(self) -> String {
        self.key().replace('_', " ")
    }
}

/// What a set is of.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum SetOf {
    /// Swings without a ball.
    Swings {
        /// The implement, by the school's name.
        #[serde(default)]
        implement: String,
        /// From which side.
        side: SwingSide,
        /// How the player stands.
        position: Position,
    },
    /// Balls.
    Balls {
        /// With which club.
        club: Club,
    },
}

/// A set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProtocolSet {
    /// Of what.
    pub of: SetOf,
    /// How many swings or balls.
    pub swings: u32,
    /// Effort felt, %.
    pub effort_pct: u32,
    /// Rest after the set, s.
    pub rest_s: u32,
}

/// Effort from which a swing is full, %.
pub const FULL_PCT: u32 = 95;

impl ProtocolSet {
    /// Whether it asks for full effort.
    pub fn full(&self) -> bool {
        self.effort_pct >= FULL_PCT
    }

    /// The set as a block of a session.
    pub fn block(&self) -> PlannedBlock {
        let (label, swung, club) = match &self.of {
            SetOf::Swings {
                implement,
                side,
                position,
            } => {
                let swung = Swung {
                    implement: implement.clone(),
                    side: Some(*side),
                    position: Some(position.label()),
                };
                (swung.words(), Some(swung), None)
            }
            SetOf::Balls { club } => (
                if self.full() {
                    "Full speed".to_owned()
                } else {
                    "Usual".to_owned()
                },
                None,
                Some(*club),
            ),
        };
        PlannedBlock {
            club,
            full_effort: self.full(),
            effort_pct: Some(self.effort_pct),
            rest_after_s: self.rest_s,
            swung,
            ..PlannedBlock::new(label, self.swings)
        }
    }
}

/// A level.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProtocolLevel {
    /// What it is called.
    pub name: String,
    /// What changes from the level before.
    #[serde(default)]
    pub changes: String,
    /// Its sets, in order.
    pub sets: Vec<ProtocolSet>,
}

/// Ordered sets, in levels.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Protocol {
    /// What it is called.
    pub name: String,
    /// What it is for, in a line.
    #[serde(default)]
    pub about: String,
    /// The work it rests on: author and year.
    #[serde(default)]
    pub source: String,
    /// Its levels, the easiest first.
    pub levels: Vec<ProtocolLevel>,
}

/// Most levels of a protocol.
const MOST_LEVELS: usize = 8;
/// Most sets of a level.
const MOST_SETS: usize = 40;

impl Protocol {
    /// Checks what was typed; fields are named as `levels[0].sets[2].swings`.
    ///
    /// # Errors
    /// Every [`Invalid`] text, number or set, and a set without an implement among them.
    pub fn check(&self) -> Result<(), Vec<Invalid>> {
        let mut errors: Vec<Invalid> = [
            text_within("name", &self.name, 60).err(),
            lines_within("about", &self.about, 300)
                .err()
                .filter(|_| !self.about.is_empty()),
            lines_within("source", &self.source, 300)
                .err()
                .filter(|_| !self.source.is_empty()),
        ]
        .into_iter()
        .flatten()
        .collect();
        if self.levels.is_empty() || self.levels.len() > MOST_LEVELS {
            let remedy = format!("give 1 to {MOST_LEVELS} levels");
            errors.push(Invalid::new(
                "levels",
                self.levels.len(),
                "is no number of levels",
                remedy,
            ));
        }
        for (at, level) in self.levels.iter().enumerate() {
            let field = |name: &str| format!("levels[{at}].{name}");
            errors.extend(text_within(&field("name"), &level.name, 60).err());
            if level.sets.is_empty() || level.sets.len() > MOST_SETS {
                let remedy = format!("give 1 to {MOST_SETS} sets");
                errors.push(Invalid::new(
                    field("sets"),
                    level.sets.len(),
                    "is no number of sets",
                    remedy,
                ));
            }
            for (i, set) in level.sets.iter().enumerate() {
                errors.extend(set.check(&field(&format!("sets[{i}]"))));
            }
        }
        if errors.is_empty() {
            Ok(())
        } else {
            Err(errors)
        }
    }

    /// The implements that its sets name, each once, in order.
    pub fn implements(&self) -> Vec<&str> {
        let mut named: Vec<&str> = Vec::new();
        for set in self.levels.iter().flat_map(|level| &level.sets) {
            if let SetOf::Swings { implement, .. } = &set.of
                && !named.contains(&implement.as_str())
            {
                named.push(implement);
            }
        }
        named
    }

    /// What a session of a level is held for: balls for speed alone are a speed day.
    pub fn purpose(&self, level: usize) -> Purpose {
        let balls = |set: &ProtocolSet| matches!(set.of, SetOf::Balls { .. });
        match self.levels.get(level) {
            Some(level) if level.sets.iter().all(balls) => Purpose::SpeedDay,
            _ => Purpose::Training,
        }
    }

    /// What a session of a level asks for, within what the house lets this body swing: half of
    /// each set in a lighter week. Says whether swings were given up for the bounds.
    pub fn blocks(
        &self,
        level: usize,
        lighter: bool,
        build: Build,
        swung: Swings,
        rules: &HouseRules,
    ) -> (Vec<PlannedBlock>, bool) {
        let level = &self.levels[level.min(self.levels.len() - 1)];
        let blocks = level.sets.iter().map(|set| {
            let block = set.block();
            let half = block.balls.div_ceil(2);
            PlannedBlock {
                balls: if lighter { half } else { block.balls },
                ..block
            }
        });
        within_bounds(blocks.collect(), build, swung, rules)
    }
}

impl ProtocolLevel {
    /// Its swings: those at full effort, and all.
    pub fn volume(&self) -> [u32; 2] {
        let full = self.sets.iter().filter(|set| set.full());
        [
            full.map(|set| set.swings).sum(),
            self.sets.iter().map(|set| set.swings).sum(),
        ]
    }
}

impl ProtocolSet {
    fn check(&self, field: &str) -> Vec<Invalid> {
        let number = |name: &str, value: u32, range, unit| {
            within(&format!("{field}.{name}"), f64::from(value), range, unit).err()
        };
        let implement = match &self.of {
            SetOf::Swings { implement, .. } if implement.trim().is_empty() => {
                Some(Invalid::missing(
                    format!("{field}.of.implement"),
                    "say what is swung: one of the school’s implements",
                ))
            }
            SetOf::Swings { implement, .. } => {
                text_within(&format!("{field}.of.implement"), implement, 40).err()
            }
            SetOf::Balls { .. } => None,
        };
        [
            implement,
            number("swings", self.swings, 1.0..=30.0, ""),
            number("effort_pct", self.effort_pct, 30.0..=100.0, "%"),
            number("rest_s", self.rest_s, 0.0..=600.0, "s"),
        ]
        .into_iter()
        .flatten()
        .collect()
    }
}

/// What stands beside a plan that asks a player to kneel; nothing where none does.
pub fn kneeling_caution(blocks: &[PlannedBlock]) -> Option<&'static str> {
    let kneels = |block: &PlannedBlock| {
        let position = block
            .swung
            .as_ref()
            .and_then(|swung| swung.position.as_deref());
        position == Some("kneeling")
    };
    blocks.iter().any(kneels).then_some(
        "Kneeling sets: something soft underneath, and nobody with sore knees; they stand instead.",
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::training::house_protocols::house_protocols;

    #[test]
    fn every_fault_of_a_protocol_is_named_where_it_is() {
        let mut protocol = house_protocols()[0].1.clone();
        protocol.name.clear();
        protocol.levels[0].sets[1] = ProtocolSet {
            of: SetOf::Swings {
                implement: " ".to_owned(),
                side: SwingSide::Other,
                position: Position::Normal,
            },
            swings: 0,
            effort_pct: 100,
            rest_s: 900,
        };
        let errors = protocol.check().unwrap_err();
        let fields: Vec<&str> = errors.iter().map(|error| error.field.as_str()).collect();
        let set = "levels[0].sets[1]";
        assert_eq!(
            fields,
            [
                "name",
                &format!("{set}.of.implement"),
                &format!("{set}.swings"),
                &format!("{set}.rest_s")
            ]
        );
    }

    #[test]
    fn a_lighter_week_halves_each_set_and_a_child_is_held_to_its_bounds() {
        let (_, protocol) = &house_protocols()[0];
        let rules = HouseRules::default();
        let top = protocol.levels.len() - 1;
        let swings = |lighter, build| -> [u32; 2] {
            let (blocks, _) = protocol.blocks(top, lighter, build, Swings::default(), &rules);
            let full = blocks
                .iter()
                .filter(|b| b.full_effort)
                .map(|b| b.balls)
                .sum();
            [full, blocks.iter().map(|b| b.balls).sum()]
        };
        let [whole, _] = swings(false, Build::Trained);
        let [light, _] = swings(true, Build::Trained);
        assert!(light < whole && light * 2 >= whole, "{light} of {whole}");
        assert!(swings(false, Build::Growing)[0] <= 10);
        assert!(swings(false, Build::Beginning)[0] <= 20);
    }

    #[test]
    fn a_set_s_swings_carry_what_was_swung_and_balls_are_the_club_s() {
        let set = |of| ProtocolSet {
            of,
            swings: 3,
            effort_pct: 100,
            rest_s: 60,
        };
        let swung = set(SetOf::Swings {
            implement: "light".to_owned(),
            side: SwingSide::Other,
            position: Position::FeetTogether,
        })
        .block();
        assert_eq!(swung.label, "light · other side · feet together");
        assert!(swung.swung.is_some() && swung.full_effort && swung.rest_after_s == 60);
        let balls = set(SetOf::Balls { club: Club::Driver }).block();
        assert!(balls.swung.is_none() && balls.club == Some(Club::Driver));
    }
}
