//! From a distance to what must be true for it, and back from a speed.
//!
//! *Efficiency* is the share that a shot makes of the furthest that its club speed can
//! be sent ([`crate::reach::window`]): 1 with everything right. The better it is, the less
//! speed a distance needs. The furthest is searched at a few speeds and interpolated
//! by a parabola through the three nearest; speeds are then found by bisection, as
//! more speed always goes further.

mod furthest;
mod words;

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::normalise::Seen;
use crate::physics::run::fly_to_rest;
use crate::reach::window::{Aim, Freedom, Question, Speed, Window, best, window};
use crate::shots::reading::Reading;
use crate::shots::told::launch_of;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::working::Working;
use crate::vocabulary::inputs;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::{Dimension, Units};
use furthest::Furthest;
use rayon::prelude::*;
use serde::Serialize;
use utoipa::ToSchema;

/// Club speeds between which distances are searched, m/s.
const SLOWEST: f64 = 18.0;
const FASTEST: f64 = 75.0;
/// Efficiencies over which the iso-distance curve is drawn.
const CURVE: [f64; 2] = [0.70, 1.0];
const CURVE_POINTS: usize = 31;

/// Label of the coach's own efficiency.
const CHOSEN: &str = "Chosen";

/// What is asked.
#[derive(Debug, Clone, PartialEq)]
pub struct ReachQuestion {
    /// Where from.
    pub from: From,
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
    /// An efficiency of the coach's choice beside the house's, 0…1.
    pub efficiency: Option<f64>,
    /// What the player did in each session, the latest last: the sentence speaks of
    /// that one.
    pub sessions: Vec<Today>,
    /// The house's efficiencies.
    pub rules: HouseRules,
}

/// Which end the question starts from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum From {
    /// A distance to reach, m.
    Target(f64),
    /// A club speed to make the most of, m/s.
    ClubSpeed(f64),
}

/// What a player did on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Today {
    /// Club speed, m/s.
    pub club_speed: f64,
    /// Distance of the kind asked for, m.
    pub distance: f64,
}

/// One efficiency, with the speed and the distance that belong to it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct EfficiencyLevel {
    /// Its name.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// Share of the furthest, 0…1.
    pub efficiency: f64,
    /// Club speed, m/s.
    pub club_speed: f64,
    /// Distance, m.
    pub distance: f64,
    /// Best launch and spin at that speed, and what is as good.
    pub window: Window,
}

/// A point of the iso-distance curve, or of a speed's distances.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct CurvePoint {
    /// Share of the furthest, 0…1.
    pub efficiency: f64,
    /// Club speed, m/s.
    pub club_speed: f64,
}

/// The furthest with one angle of attack.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct AttackWorth {
    /// Angle of attack, deg.
    pub angle_of_attack_deg: f64,
    /// The furthest with it at the first level's speed, m.
    pub distance: f64,
}

/// A player's day against the question.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct TodayRead {
    /// Club speed, m/s.
    pub club_speed: f64,
    /// Distance, m.
    pub distance: f64,
    /// Share of the furthest at that speed.
    pub efficiency: f64,
    /// Club speed that reaches the target at that efficiency, m/s, when one does.
    pub speed_needed: Option<f64>,
    /// Efficiency that reaches the target at that speed; above 1 when none does.
    pub efficiency_needed: Option<f64>,
}

/// The answer.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Reach {
    /// What to change first and what it is worth.
    pub sentence: Sentence,
    /// Where the player stands, when one was given.
    pub detail: Option<Sentence>,
    /// Everything right, solid, typical, and the chosen one when one was.
    pub levels: Vec<EfficiencyLevel>,
    /// Speed against efficiency at the target; empty when a speed was given.
    pub curve: Vec<CurvePoint>,
    /// What the angle of attack is worth.
    pub attack: Vec<AttackWorth>,
    /// The player's sessions, in the order given.
    pub sessions: Vec<TodayRead>,
    /// How it was worked out.
    pub working: Working,
}

/// Why there is no answer.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NoReach {
    /// An input cannot be used.
    #[error(transparent)]
    Invalid(#[from] Invalid),
    /// No delivery goes that far.
    #[error("no delivery reaches {target} m at {club_speed} m/s; the most is {most} m")]
    TooFar {
        /// What was asked for, m.
        target: f64,
        /// The fastest that was tried, m/s.
        club_speed: f64,
        /// How far that goes, m.
        most: f64,
    },
}

impl NoReach {
    /// The refusal in the coach's units, under the name of the field.
    pub fn in_words(self, field: &str, units: Units) -> Invalid {
        match self {
            NoReach::Invalid(invalid) => invalid,
            NoReach::TooFar {
                target,
                club_speed,
                most,
            } => {
                let far = |m: f64| Dimension::Distance.show(m, units);
                let speed = Dimension::Speed.show(club_speed, units);
                Invalid::new(
                    field,
                    far(target),
                    format!(
                        "is out of reach: no delivery reaches {} at {speed}; the most is {}",
                        far(target),
                        far(most)
                    ),
                    format!("give at most {}", far(most)),
                )
            }
        }
    }
}

/// What a set of shots hit in `here` comes to in `there`: mean club speed, and the
/// mean carry brought over by the flight model with, for a total, the run as recorded, or
/// else the model's.
/// Nothing without a shot that has club speed, carry and launch.
pub fn day_of(
    shots: &[&Reading],
    here: &Conditions,
    there: &Conditions,
    aim: Aim,
) -> Option<Today> {
    let rows: Vec<[f64; 2]> = shots
        .iter()
        .filter_map(|reading| {
            let seen = Seen {
                carry: reading.get(Quantity::Carry)?,
                launch: launch_of(reading).ok()?.0,
                conditions: *here,
            };
            // A run that was recorded stands before one that is modelled.
            let run = match (aim, reading.get(Quantity::Total)) {
                (Aim::Carry, _) => 0.0,
                (Aim::Total, Some(total)) => total - seen.carry,
                (Aim::Total, None) => fly_to_rest(&seen.launch, there).ok()?.1.run,
            };
            let carry = seen.in_conditions(there).ok()?;
            Some([reading.get(Quantity::ClubSpeed)?, carry + run])
        })
        .collect();
    let mean = |i: usize| rows.iter().map(|row| row[i]).sum::<f64>() / rows.len() as f64;
    (!rows.is_empty()).then(|| Today {
        club_speed: mean(0),
        distance: mean(1),
    })
}

/// Answers `question`.
///
/// # Errors
/// [`NoReach`] for inputs out of range or a distance no swing reaches.
pub fn reach(question: &ReachQuestion) -> Result<Reach, NoReach> {
    check(question)?;
    let mut furthest = Furthest::search(question)?;
    let raised = furthest.raised_to(&question.sessions);
    let rules = &question.rules;
    let levels = [
        ("Everything right", 1.0),
        ("Solid", rules.solid(question.club)),
        ("Typical", rules.typical(question.club)),
    ];
    let chosen = question.efficiency.map(|efficiency| (CHOSEN, efficiency));
    if let From::Target(target) = question.from {
        furthest.speed_for(target)?;
    }
    let levels = levels
        .into_par_iter()
        .chain(chosen)
        .filter_map(|(label, efficiency)| {
            let club_speed = match question.from {
                From::ClubSpeed(speed) => speed,
                // A speed beyond any swing is left out; the curve shows it go there.
                From::Target(target) => furthest.speed_for(target / efficiency).ok()?,
            };
            let window = window(&at(question, club_speed, question.freedom));
            Some(window.map(|window| EfficiencyLevel {
                label,
                efficiency,
                club_speed,
                distance: match question.from {
                    From::Target(target) => target,
                    From::ClubSpeed(_) => raised * efficiency * window.best.distance,
                },
                window,
            }))
        })
        .collect::<Result<Vec<_>, _>>()?;
    let curve = match question.from {
        From::ClubSpeed(_) => vec![],
        From::Target(target) => curve(&furthest, target),
    };
    let sessions: Vec<_> = question
        .sessions
        .iter()
        .map(|day| today_read(question, *day, &furthest))
        .collect();
    let attack = attack_worth(question, levels[0].club_speed)?;
    Ok(Reach {
        sentence: words::sentence(question, &levels, sessions.last(), &furthest),
        working: words::working(question, &levels, raised),
        detail: words::detail(sessions.last(), &furthest, raised),
        levels,
        curve,
        attack,
        sessions,
    })
}

fn check(question: &ReachQuestion) -> Result<(), Invalid> {
    match question.from {
        From::Target(target) => inputs::check("reach_target", target)?,
        From::ClubSpeed(speed) => inputs::check("reach_club_speed", speed)?,
    };
    if let Some(efficiency) = question.efficiency {
        inputs::check("efficiency_pct", 100.0 * efficiency)?;
    }
    for today in &question.sessions {
        within(
            "today_club_speed",
            today.club_speed,
            SLOWEST..=FASTEST,
            "m/s",
        )?;
        within("today_distance", today.distance, 10.0..=500.0, "m")?;
    }
    Ok(())
}

fn at(question: &ReachQuestion, club_speed: f64, freedom: Freedom) -> Question {
    Question {
        speed: Speed::Club(club_speed),
        club: question.club,
        aim: question.aim,
        conditions: question.conditions,
        freedom,
        useful: question.rules.useful(),
        tolerance: question.tolerance,
    }
}

fn curve(furthest: &Furthest, target: f64) -> Vec<CurvePoint> {
    let [from, to] = CURVE;
    (0..CURVE_POINTS)
        .filter_map(|i| {
            let efficiency = from + (to - from) * i as f64 / (CURVE_POINTS - 1) as f64;
            Some(CurvePoint {
                efficiency,
                club_speed: furthest.speed_for(target / efficiency).ok()?,
            })
        })
        .collect()
}

fn attack_worth(question: &ReachQuestion, club_speed: f64) -> Result<Vec<AttackWorth>, Invalid> {
    let [from, to] = question.freedom.angle_of_attack_deg;
    let steps = ((to - from).round() as usize).clamp(1, 20);
    (0..=steps)
        .into_par_iter()
        .map(|i| {
            let attack = from + (to - from) * i as f64 / steps as f64;
            let freedom = question.freedom.with_attack(attack, attack)?;
            Ok(AttackWorth {
                angle_of_attack_deg: attack,
                distance: best(&at(question, club_speed, freedom))?.distance,
            })
        })
        .collect()
}

fn today_read(question: &ReachQuestion, today: Today, furthest: &Furthest) -> TodayRead {
    let most = furthest.at(today.club_speed);
    let efficiency = today.distance / most;
    let target = match question.from {
        From::Target(target) => Some(target),
        From::ClubSpeed(_) => None,
    };
    TodayRead {
        club_speed: today.club_speed,
        distance: today.distance,
        efficiency,
        speed_needed: target.and_then(|t| furthest.speed_for(t / efficiency).ok()),
        efficiency_needed: target.map(|t| t / most),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::{MPH, YARD};

    fn ask(from: From, today: Option<Today>) -> ReachQuestion {
        ReachQuestion {
            from,
            club: Club::Driver,
            aim: Aim::Carry,
            conditions: Conditions::REFERENCE,
            freedom: Freedom::of(Club::Driver),
            tolerance: 3.0 * YARD,
            efficiency: None,
            sessions: today.into_iter().collect(),
            rules: HouseRules::default(),
        }
    }

    #[test]
    fn a_ball_that_beats_the_model_moves_the_reference_to_this_player() {
        let today = Today {
            club_speed: 95.0 * MPH,
            distance: 300.0 * YARD,
        };
        let told = reach(&ask(From::Target(320.0 * YARD), Some(today))).unwrap();
        assert!((told.sessions[0].efficiency - 1.0).abs() < 1e-9);
        let detail = told.detail.unwrap().show(Units::MphYd);
        assert!(detail.contains("100 % of the furthest"), "{detail}");
        assert!(detail.contains("further than the model"), "{detail}");
    }

    #[test]
    fn better_efficiency_needs_less_speed_all_along_the_curve() {
        let told = reach(&ask(From::Target(220.0 * YARD), None)).unwrap();
        assert!(
            told.curve
                .windows(2)
                .all(|w| w[0].club_speed > w[1].club_speed)
        );
        assert!(
            told.levels
                .windows(2)
                .all(|w| w[0].club_speed < w[1].club_speed)
        );
        let said = told.sentence.show(Units::MphYd);
        assert!(
            said.starts_with("220 yd of carry needs ") && said.contains(" typical"),
            "{said}"
        );
    }

    #[test]
    fn a_chosen_efficiency_stands_beside_the_house_s() {
        let question = ReachQuestion {
            efficiency: Some(0.8),
            ..ask(From::Target(200.0 * YARD), None)
        };
        let told = reach(&question).unwrap();
        let speeds: Vec<_> = told.levels.iter().map(|level| level.club_speed).collect();
        assert!(speeds.len() == 4 && speeds[3] > speeds[2], "{speeds:?}");
        let beyond = ReachQuestion {
            efficiency: Some(1.2),
            ..question
        };
        let refused = reach(&beyond).unwrap_err().in_words("target", Units::MphYd);
        assert_eq!(refused.field, "efficiency_pct");
    }

    #[test]
    fn the_speed_for_a_target_reaches_the_target() {
        let told = reach(&ask(From::Target(220.0 * YARD), None)).unwrap();
        let right = told.levels[0];
        assert!(
            (right.window.best.distance / YARD - 220.0).abs() < 0.3,
            "{}",
            right.window.best.distance / YARD
        );
        let back = reach(&ask(From::ClubSpeed(right.club_speed), None)).unwrap();
        assert!((back.levels[0].distance - right.window.best.distance).abs() < 1e-9);
        assert!(back.curve.is_empty());
    }

    #[test]
    fn hitting_up_is_worth_tens_of_yards_at_driver_speeds() {
        let told = reach(&ask(From::ClubSpeed(100.0 * MPH), None)).unwrap();
        let worth = told.attack.last().unwrap().distance - told.attack[0].distance;
        assert!((10.0..50.0).contains(&(worth / YARD)), "{}", worth / YARD);
    }

    #[test]
    fn an_unreachable_target_is_refused_with_the_most_there_is() {
        let refused = reach(&ask(From::Target(500.0 * YARD), None)).unwrap_err();
        let told = refused.in_words("target", Units::MphYd).to_string();
        assert!(
            told.contains("no delivery reaches 500 yd at 167.8 mph; the most is"),
            "{told}"
        );
    }

    #[test]
    fn the_sentence_says_what_to_change_first() {
        let said = |mph: f64, yards: f64| {
            let today = Today {
                club_speed: mph * MPH,
                distance: yards * YARD,
            };
            reach(&ask(From::Target(215.0 * YARD), Some(today)))
                .unwrap()
                .sentence
                .show(Units::MphYd)
        };
        for (mph, yards, words) in [
            (100.0, 220.0, "is there already: 220 yd at 100.0 mph"),
            (
                98.0,
                190.0,
                "is there without more speed: launch and strike first",
            ),
            (
                80.0,
                150.0,
                "needs launch and strike first, worth 21 yd, then",
            ),
            (85.0, 189.0, "more club speed: the strike is solid already"),
        ] {
            let told = said(mph, yards);
            assert!(told.contains(words), "{mph} {yards}: {told}");
        }
    }
}
