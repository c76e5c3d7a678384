//! Warming up and being ready: what to do before the first full swing, and when to
//! hold back.
//!
//! The list goes from the ground up, then from half swings to full ones, then a few
//! balls with short and middle irons. A coach can edit it. Nothing here is advice on
//! an injury: pain holds the full-effort work and sends to those who may judge it.

use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::text::{lines_within, text_within};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most entries of a list.
const MOST_MOVEMENTS: usize = 40;
/// Below this age the cautions speak of growing, years.
pub const GROWN: i32 = 18;

/// One thing to do before hitting.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Movement {
    /// Its name in files and the API.
    pub key: String,
    /// What it is called.
    pub label: String,
    /// How it is done, in a line.
    #[serde(default)]
    pub how: String,
    /// How often.
    pub repetitions: u32,
    /// Whether that often on each side.
    #[serde(default)]
    pub each_side: bool,
}

/// Key, name, how, repetitions, and whether they are for each side.
type Usual = (&'static str, &'static str, &'static str, u32, bool);

/// From ankles to shoulders, then swings, then easy balls.
const USUAL: [Usual; 11] = [
    (
        "ankles",
        "Ankle rocks",
        "Knee over the toes, heel down",
        10,
        true,
    ),
    (
        "calves",
        "Heel lifts",
        "Slowly up, more slowly down",
        10,
        false,
    ),
    (
        "hips",
        "Hip circles",
        "Hold on to a club, big and slow",
        10,
        true,
    ),
    (
        "spine",
        "Turns with a club on the shoulders",
        "Feet still, turn until it stops by itself",
        10,
        true,
    ),
    (
        "shoulders",
        "Arm circles",
        "From small to as large as is comfortable",
        10,
        true,
    ),
    (
        "squats",
        "Squats",
        "As deep as is comfortable, heels down",
        10,
        false,
    ),
    (
        "side_hops",
        "Side hops",
        "Land softly; step instead if hopping hurts",
        10,
        true,
    ),
    (
        "half_swings",
        "Half swings",
        "No ball, either way round",
        5,
        true,
    ),
    (
        "building_swings",
        "Swings from half to full",
        "No ball, each a little faster",
        6,
        false,
    ),
    ("wedges", "Short wedges", "Balls, easy tempo", 6, false),
    (
        "middle_irons",
        "Middle irons",
        "Balls, up to the usual tempo",
        6,
        false,
    ),
];

/// Our list.
pub fn usual() -> Vec<Movement> {
    USUAL
        .map(|(key, label, how, repetitions, each_side)| Movement {
            key: key.to_owned(),
            label: label.to_owned(),
            how: how.to_owned(),
            repetitions,
            each_side,
        })
        .into()
}

/// Checks an edited list; fields are named as `movements[2].label`.
///
/// # Errors
/// [`Invalid`] for an empty or overlong list, an empty label, a key used twice, or
/// repetitions outside 1…100.
pub fn check(movements: &[Movement]) -> Result<(), Invalid> {
    if movements.is_empty() || movements.len() > MOST_MOVEMENTS {
        let remedy = format!("list 1 to {MOST_MOVEMENTS} movements");
        return Err(Invalid::new(
            "movements",
            movements.len(),
            "is not a list",
            remedy,
        ));
    }
    for (i, movement) in movements.iter().enumerate() {
        let field = |name: &str| format!("movements[{i}].{name}");
        text_within(&field("key"), &movement.key, 60)?;
        text_within(&field("label"), &movement.label, 100)?;
        if !movement.how.is_empty() {
            text_within(&field("how"), &movement.how, 200)?;
        }
        within(
            &field("repetitions"),
            f64::from(movement.repetitions),
            1.0..=100.0,
            "",
        )?;
        if movements[..i].iter().any(|other| other.key == movement.key) {
            return Err(Invalid::new(
                field("key"),
                &movement.key,
                "stands twice",
                "give each movement a key of its own",
            ));
        }
    }
    Ok(())
}

/// What the player says before hitting.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Readiness {
    /// Sleep last night, 1 poor to 5 good.
    pub sleep: u8,
    /// Soreness, 0 none to 3 strong.
    pub soreness: u8,
    /// Whether there was hard exercise in the last two days.
    pub hard_exercise: bool,
    /// Whether anything hurts.
    pub pain: bool,
    /// Where, or anything else worth knowing.
    #[serde(default)]
    pub note: String,
}

impl Readiness {
    /// Checks the answers.
    ///
    /// # Errors
    /// [`Invalid`] outside sleep 1…5 and soreness 0…3.
    pub fn check(&self) -> Result<(), Invalid> {
        within("sleep", f64::from(self.sleep), 1.0..=5.0, "")?;
        within("soreness", f64::from(self.soreness), 0.0..=3.0, "")?;
        if !self.note.is_empty() {
            lines_within("note", &self.note, 500)?;
        }
        Ok(())
    }
}

/// What stands where full effort is asked for.
pub fn effort_cautions(age: Option<i32>) -> Vec<&'static str> {
    let mut said = vec![
        "All-out swings only when warm and rested between; stop when the speed falls or anything hurts.",
    ];
    if age.is_some_and(|age| age < GROWN) {
        said.push(GROWING);
    }
    said
}

const GROWING: &str =
    "Still growing: few full-speed swings, long rests, and stop at the first ache.";

/// What to be careful about, for this player on this day, the gravest first.
pub fn cautions(readiness: Option<&Readiness>, age: Option<i32>) -> Vec<&'static str> {
    let mut said = Vec::new();
    if let Some(readiness) = readiness {
        if readiness.pain {
            said.push("Something hurts: full-effort blocks are held. Gentle work only, or stop. A doctor or a physiotherapist decides when to swing hard again.");
        }
        if readiness.soreness >= 2 || readiness.hard_exercise {
            said.push(
                "Sore or tired: warm up longer, expect less speed today, and do not chase a best.",
            );
        }
        if readiness.sleep <= 2 {
            said.push("Little sleep: speed will be down by itself. Read it so.");
        }
    }
    if age.is_some_and(|age| age < GROWN) {
        said.push(GROWING);
    }
    said.push(
        "Stop at any sharp pain, dizziness, numbness or tightness in the chest, and see a doctor.",
    );
    said
}

#[cfg(test)]
mod tests {
    use super::*;

    fn fine() -> Readiness {
        Readiness {
            sleep: 4,
            soreness: 0,
            hard_exercise: false,
            pain: false,
            note: String::new(),
        }
    }

    #[test]
    fn our_list_passes_its_own_check_and_goes_from_the_ground_to_the_ball() {
        let list = usual();
        assert_eq!(check(&list), Ok(()));
        assert_eq!(list.first().unwrap().key, "ankles");
        assert_eq!(list.last().unwrap().key, "middle_irons");
    }

    #[test]
    fn pain_is_the_first_thing_said_and_sends_to_a_doctor() {
        let hurt = Readiness {
            pain: true,
            sleep: 1,
            ..fine()
        };
        let said = cautions(Some(&hurt), Some(34));
        assert!(said[0].contains("held") && said[0].contains("doctor"));
        assert_eq!(said.len(), 3);
    }

    #[test]
    fn everyone_is_told_when_to_stop_and_a_child_more() {
        assert_eq!(cautions(Some(&fine()), Some(34)).len(), 1);
        let child = cautions(None, Some(11));
        assert!(child[0].starts_with("Still growing") && child[1].starts_with("Stop at"));
    }

    #[test]
    fn a_list_with_two_of_a_kind_is_refused() {
        let mut list = usual();
        list[1].key = list[0].key.clone();
        assert_eq!(check(&list).unwrap_err().field, "movements[1].key");
        assert_eq!(check(&[]).unwrap_err().field, "movements");
    }
}
