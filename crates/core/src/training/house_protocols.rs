//! The protocols that come with the house: ours to begin with, each school's to change.
//!
//! Built from published work on light, heavy and counterweighted implements, strength and
//! intent; volumes kept to the house's bounds for a trained player.

use crate::physics::club::Club;
use crate::shots::swung::SwingSide::{self, Dominant, Other};
use crate::training::protocol::Position::{self, FeetTogether, Kneeling, Normal, Stepping};
use crate::training::protocol::{Protocol, ProtocolLevel, ProtocolSet, SetOf};
use uuid::Uuid;

/// Identifier of the first of ours; the others follow.
const FIRST: u128 = 0x0199_aa11_0000_7000_8000_0000_0000_0001;

/// Ours, each with an identifier that stays.
pub fn house_protocols() -> Vec<(Uuid, Protocol)> {
    let all = [
        overspeed(),
        strength(),
        speed_day(),
        first_steps(),
        intent_test(),
    ];
    let ids = (FIRST..).map(Uuid::from_u128);
    ids.zip(all).collect()
}

/// Identifier of the test of intent.
pub fn intent_test_id() -> Uuid {
    Uuid::from_u128(FIRST + 4)
}

const OVERSPEED: &str = "DeRenne, Buxton, Hetzler and Ho 1995; Szymanski, DeRenne and Spaniol 2009; rests after de Salles and others 2009.";
const STRENGTH: &str =
    "Fletcher and Hartwell 2004; Doan, Newton, Kwon and Kraemer 2006; Lephart and others 2007.";
const INTENT: &str = "Behm and Sale 1993: what is meant to be fast trains speed.";
const YOUNG: &str = "Lloyd and others 2014: few, supervised, technique first.";

fn swings(
    implement: &str,
    side: SwingSide,
    position: Position,
    (swings, effort_pct, rest_s): (u32, u32, u32),
) -> ProtocolSet {
    ProtocolSet {
        of: SetOf::Swings {
            implement: implement.to_owned(),
            side,
            position,
        },
        swings,
        effort_pct,
        rest_s,
    }
}

fn balls(swings: u32, effort_pct: u32, rest_s: u32) -> ProtocolSet {
    ProtocolSet {
        of: SetOf::Balls { club: Club::Driver },
        swings,
        effort_pct,
        rest_s,
    }
}

fn level(name: &str, changes: &str, sets: Vec<ProtocolSet>) -> ProtocolLevel {
    ProtocolLevel {
        name: name.to_owned(),
        changes: changes.to_owned(),
        sets,
    }
}

fn protocol(name: &str, about: &str, source: &str, levels: Vec<ProtocolLevel>) -> Protocol {
    Protocol {
        name: name.to_owned(),
        about: about.to_owned(),
        source: source.to_owned(),
        levels,
    }
}

/// Each implement from both sides, three swings a set.
fn both_sides(implements: &[&str], position: Position, rest_s: u32) -> Vec<ProtocolSet> {
    let each = |implement: &&str| {
        [Dominant, Other].map(|side| swings(implement, side, position, (3, 100, rest_s)))
    };
    implements.iter().flat_map(each).collect()
}

fn overspeed() -> Protocol {
    let three = ["light", "medium", "heavy"];
    let mut first = both_sides(&["light", "medium"], Normal, 60);
    first.push(swings("own driver", Dominant, Normal, (3, 100, 0)));
    let mut second = both_sides(&three, Normal, 60);
    second.push(swings("light", Dominant, Stepping, (3, 100, 90)));
    second.push(swings("own driver", Dominant, Normal, (3, 100, 0)));
    let mut third = both_sides(&three, Normal, 60);
    third.extend(both_sides(&three, Stepping, 60));
    third.push(swings("light", Dominant, Normal, (3, 100, 0)));
    protocol(
        "Overspeed",
        "Faster than the driver can be swung, then slower with more mass; both sides.",
        OVERSPEED,
        vec![
            level("One", "", first),
            level(
                "Two",
                "The heavy stick comes in, and one set with a step.",
                second,
            ),
            level(
                "Three",
                "Every stick with a step too, the light one last.",
                third,
            ),
        ],
    )
}

fn strength() -> Protocol {
    let gentle = |implement: &str, position| {
        [Dominant, Other].map(|side| swings(implement, side, position, (4, 80, 60)))
    };
    let mut first = gentle("heavy", Normal).to_vec();
    first.extend(gentle("counterweighted", Normal));
    first.push(swings("own driver", Dominant, Normal, (3, 100, 0)));
    let mut second = gentle("heavy", Kneeling).to_vec();
    second.extend(gentle("heavy", FeetTogether));
    second.extend(gentle("counterweighted", Stepping));
    second.push(swings("own driver", Dominant, Normal, (3, 100, 0)));
    protocol(
        "Strength",
        "More mass at four fifths of the effort, then three swings with the driver.",
        STRENGTH,
        vec![
            level("One", "", first),
            level(
                "Two",
                "Kneeling and with the feet together: the body alone makes the speed.",
                second,
            ),
        ],
    )
}

fn speed_day() -> Protocol {
    let day = |bundles: usize| {
        let mut sets = vec![balls(5, 80, 60)];
        sets.extend((0..bundles).map(|_| balls(5, 100, 120)));
        sets.push(balls(5, 80, 0));
        sets
    };
    protocol(
        "Speed day with balls",
        "All-out balls in bundles, their flight ignored; normal swings before and after.",
        INTENT,
        vec![
            level("Two bundles", "", day(2)),
            level("Four bundles", "Two more bundles of five.", day(4)),
        ],
    )
}

fn first_steps() -> Protocol {
    protocol(
        "First steps",
        "For children and beginners: few swings, both sides, never more than a few all-out.",
        YOUNG,
        vec![
            level(
                "One",
                "",
                vec![
                    swings("light", Dominant, Normal, (3, 70, 30)),
                    swings("light", Other, Normal, (3, 70, 30)),
                    swings("own driver", Dominant, FeetTogether, (3, 70, 60)),
                    swings("light", Dominant, Normal, (3, 100, 0)),
                ],
            ),
            level(
                "Two",
                "Three swings with the driver as fast as they like.",
                vec![
                    swings("light", Dominant, Normal, (3, 70, 30)),
                    swings("light", Other, Normal, (3, 70, 30)),
                    swings("light", Dominant, Normal, (3, 100, 60)),
                    swings("own driver", Dominant, Normal, (3, 100, 0)),
                ],
            ),
        ],
    )
}

fn intent_test() -> Protocol {
    protocol(
        "Intent test",
        "Usual swings, then full speed in two bundles, then usual swings again: what intent alone gives.",
        INTENT,
        vec![level(
            "One",
            "",
            vec![
                balls(6, 80, 60),
                balls(6, 100, 90),
                balls(6, 100, 90),
                balls(6, 80, 0),
            ],
        )],
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::verdicts::build::Build;
    use crate::verdicts::house_rules::HouseRules;

    #[test]
    fn ours_pass_their_own_check_cite_somebody_and_keep_to_a_day_s_bounds() {
        let [full, _] = HouseRules::default().full_swings_of(Build::Trained);
        for (_, protocol) in house_protocols() {
            assert_eq!(protocol.check(), Ok(()), "{}", protocol.name);
            assert!(!protocol.source.is_empty());
            for level in &protocol.levels {
                let [all_out, _] = level.volume();
                assert!(
                    f64::from(all_out) <= full,
                    "{} {}",
                    protocol.name,
                    level.name
                );
            }
        }
        let last = &house_protocols()[4];
        assert_eq!(
            (last.0, last.1.name.as_str()),
            (intent_test_id(), "Intent test")
        );
    }

    #[test]
    fn first_steps_keep_to_what_a_child_may_swing() {
        let [full, _] = HouseRules::default().full_swings_of(Build::Growing);
        let (_, steps) = &house_protocols()[3];
        assert!(
            steps
                .levels
                .iter()
                .all(|level| f64::from(level.volume()[0]) <= full)
        );
    }
}
