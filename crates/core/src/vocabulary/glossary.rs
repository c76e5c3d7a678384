//! The words of the trade, as this product uses them.

use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// A word with what it means.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Word {
    /// As it stands on screen.
    pub term: &'static str,
    /// What it means, in a sentence.
    pub means: &'static str,
    /// What kind of value it is, which tells its unit.
    pub dimension: Option<Dimension>,
}

/// Every word, in the order of the alphabet.
pub fn glossary() -> Vec<Word> {
    let values = Quantity::all().map(|quantity| Word {
        term: quantity.label(),
        means: means(quantity),
        dimension: Some(quantity.dimension()),
    });
    let others = OTHERS.iter().map(|(term, means)| Word {
        term,
        means,
        dimension: None,
    });
    let mut all: Vec<Word> = values.chain(others).collect();
    all.sort_by_key(|word| word.term.to_lowercase());
    all
}

/// What a value of a shot is.
fn means(quantity: Quantity) -> &'static str {
    use Quantity as Q;
    match quantity {
        Q::ClubSpeed => "Speed of the club head just before it meets the ball.",
        Q::BallSpeed => "Speed of the ball just after it leaves the club.",
        Q::SmashFactor => {
            "Ball speed over club speed: how well the strike passed the speed on. About 1.50 for a driver struck in the middle, less with more loft."
        }
        Q::AngleOfAttack => {
            "Whether the club head comes down (−) or up (+) into the ball, against level ground."
        }
        Q::ClubPath => {
            "Where the club head is going at impact, seen from above: right (+) or left (−) of the target line."
        }
        Q::FaceAngle => {
            "Where the face points at impact, seen from above: right (+) or left (−) of the target line. The ball starts mostly that way."
        }
        Q::DynamicLoft => {
            "The loft that the face really shows at impact, by how the shaft leans and bends; rarely the one stamped on the club."
        }
        Q::LaunchAngle => "How steeply the ball starts, up from the horizon.",
        Q::LaunchDirection => "Where the ball starts, right (+) or left (−) of the target line.",
        Q::SpinRate => {
            "How fast the ball turns when it leaves the club, backspin and curve together."
        }
        Q::SpinAxis => {
            "How far the axis that the ball turns about is tilted: to the right (+) it curves right, to the left (−) left."
        }
        Q::Carry => "How far the ball flies, until it would touch level ground.",
        Q::Side => "How far right (+) or left (−) of the target line it lands.",
        Q::Total => "Carry and run together.",
        Q::Apex => "The highest point of the flight.",
        Q::LandingAngle => "How steeply the ball comes down: the steeper, the sooner it stops.",
        Q::HangTime => "How long the ball is in the air.",
        Q::ImpactToe => {
            "Where the ball was struck, toward the toe (+) or the heel (−) of the face."
        }
        Q::ImpactHigh => "Where the ball was struck, high (+) or low (−) on the face.",
        Q::HandSpeed => "The greatest speed of the hands on the way down.",
        Q::VerticalForceLead => {
            "The greatest push of the lead foot into the ground, as a share of body weight."
        }
        Q::VerticalForceTrail => {
            "The greatest push of the trail foot into the ground, as a share of body weight."
        }
        Q::VerticalForce => {
            "The greatest push of both feet into the ground, as a share of body weight."
        }
        Q::WholeForceLead => "The greatest push of the lead foot into the ground.",
        Q::WholeForceTrail => "The greatest push of the trail foot into the ground.",
        Q::WholeForce => "The greatest push of both feet into the ground.",
        Q::Torque => {
            "The greatest turning effort of the feet against the ground, for each kilogram of the player."
        }
        Q::WholeTorque => "The greatest turning effort of the feet against the ground.",
        Q::VerticalPeak => "How long before impact the push of both feet is greatest.",
        Q::LeadPeak => "How long before impact the push of the lead foot is greatest.",
        Q::TrailPeak => "How long before impact the push of the trail foot is greatest.",
        Q::TorquePeak => "How long before impact the turning effort is greatest.",
    }
}

/// Words that are no values of a shot.
const OTHERS: [(&str, &str); 43] = [
    (
        "Agreement",
        "How two devices differ on the same balls: by how much on average, and within which limits 95 % of balls lie (Bland & Altman 1986).",
    ),
    (
        "Band",
        "The range that a player's own values usually keep to. What lies outside it is worth a look.",
    ),
    (
        "Benchmark",
        "A test with its set-up and its figures frozen, so that it can be repeated and compared.",
    ),
    (
        "Block",
        "Balls of one session that belong together: one club, one intent, one aim.",
    ),
    (
        "Board",
        "A second screen at the mat that shows the numbers of one session to whoever has its code.",
    ),
    (
        "Cannot tell yet",
        "The balls hit so far fit more than one answer. It says how many more would settle it.",
    ),
    (
        "Calculated",
        "Worked out by the device from other values, not measured: not to be practised on as if it were.",
    ),
    ("Check-in", "A benchmark repeated with the same set-up."),
    (
        "Conditions",
        "Height above the sea, temperature, humidity, wind and ground: what changes a ball's flight without the player.",
    ),
    (
        "Doubtful",
        "A reading that does not fit the others of its ball. It waits until the coach keeps it or sets it aside.",
    ),
    (
        "Drift",
        "What changes over a session by itself, by warming up or tiring. It is taken out before two things are compared.",
    ),
    (
        "Efficiency",
        "Ball speed for the club speed there is, against the best that this club allows.",
    ),
    (
        "Expected carry",
        "How far a sound strike carries at this club speed, in this air.",
    ),
    (
        "Feel effort",
        "How hard the player meant to swing, in per cent of all-out.",
    ),
    ("Gap", "The difference in carry between neighbouring clubs."),
    (
        "House factor",
        "Carry for each unit of club speed, for one club: the rule of thumb behind an expected carry.",
    ),
    (
        "House rule",
        "A threshold or factor that the school may change; ours and its reason stand beside it.",
    ),
    (
        "Implement",
        "What is swung in training: a lighter or heavier stick, or a club. Its mass is told as a share of the player's driver.",
    ),
    (
        "Interval",
        "The range that the truth lies in, at the certainty that the house rules set. Wide where few balls were hit.",
    ),
    ("Kept", "A ball that counts in the figures."),
    (
        "Lay-off",
        "A gap without sessions, and how much was left after it.",
    ),
    (
        "Missed its feel",
        "A ball that was not hit as it was meant. It stays in the record and out of the figures.",
    ),
    (
        "Off day",
        "A session outside the player's own band: the day, rather than the player, was different.",
    ),
    (
        "Overlap",
        "The chance that the shorter of two clubs flies past the longer.",
    ),
    (
        "Plateau",
        "A stretch in which nothing changed beyond what chance makes.",
    ),
    (
        "Protocol",
        "A training session laid down in sets: what is swung, how often, with how much rest.",
    ),
    (
        "Provenance",
        "Where a value comes from: measured, calculated by the device, or entered by hand.",
    ),
    (
        "Reach",
        "What must be true for the ball to go a distance: speed, strike, launch and spin.",
    ),
    ("Reading", "What one device reported for one ball."),
    (
        "Real effort",
        "The speed that came out, in per cent of the player's fastest.",
    ),
    (
        "Reference conditions",
        "The air that carries are brought to, so that days can be compared.",
    ),
    (
        "Run",
        "How far the ball goes on after it landed; also a training session being done.",
    ),
    (
        "Set aside",
        "Kept in the record with a reason, and left out of the figures. It can always be undone.",
    ),
    (
        "Solid strike",
        "A strike as a good one of this player's kind is: what an expected carry rests on.",
    ),
    (
        "Spin loft",
        "The angle between the loft delivered and the way the club moves: more of it spins more and passes on less speed.",
    ),
    (
        "Spread",
        "How far apart the balls of a player are; half of it matters as much as the average.",
    ),
    ("Stock", "The swing that the player brings to the course."),
    (
        "Straight equivalent",
        "What a curving or mishit ball would have carried from the middle of the face, straight.",
    ),
    ("Strike", "Where on the face the ball was met."),
    ("Swing side", "The player's usual side, or the other one."),
    (
        "Unclaimed carry",
        "What this club speed could carry beyond what it did, split among strike, launch, spin, curve and air.",
    ),
    (
        "Warm-up effect",
        "How much speed came with the first swings, and how many it took.",
    ),
    (
        "Window",
        "The launch and spin that carry about as far as any could at this ball speed.",
    ),
];

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn each_word_is_told_once_in_a_sentence() {
        let all = glossary();
        let terms: BTreeSet<String> = all.iter().map(|word| word.term.to_lowercase()).collect();
        assert_eq!(terms.len(), all.len());
        for word in all {
            let first = word.means.chars().next().is_some_and(char::is_uppercase);
            assert!(first && word.means.ends_with('.'), "{}", word.means);
        }
    }
}
