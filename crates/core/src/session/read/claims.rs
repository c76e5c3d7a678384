//! Unclaimed carry of a session's shots, and where the most of it lies.

use super::{Question, ShotRead};
use crate::physics::club::Club;
use crate::reach::unclaimed::{Attainable, Claim, Lever, Unclaimed, split};
use crate::reach::window::Freedom;
use crate::shots::standing::{Judged, Standing};
use crate::shots::told::is_calculated;
use crate::verdicts::working::{Working, air_row, figure_row, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// Splits the unclaimed carry of every shot that has club speed and launch, and gives the mean over
/// the kept ones.
pub(super) fn claim(
    question: &Question<'_>,
    judged: &[Judged],
    reads: &mut [ShotRead],
) -> Option<Unclaimed> {
    let mut split = split_all(question, judged);
    for (place, unclaimed) in &split {
        reads[*place].share = Some(unclaimed.actual / unclaimed.attainable);
        reads[*place].unclaimed = Some(unclaimed.into());
    }
    split.retain(|(place, _)| judged[*place].standing == Standing::Kept);
    let of_kept: Vec<Unclaimed> = split.into_iter().map(|(_, of)| of).collect();
    Unclaimed::mean(&of_kept)
}

/// Unclaimed carry of the shots that have club speed and launch, each with its shot's place.
pub(super) fn split_all(question: &Question<'_>, judged: &[Judged]) -> Vec<(usize, Unclaimed)> {
    let with_launch: Vec<_> = question
        .shots
        .iter()
        .zip(judged)
        .enumerate()
        .filter_map(|(i, (shot, judged))| {
            let speed = shot.reading.get(Quantity::ClubSpeed)?;
            let believed = judged.told.believed_flight(&question.rules).copied();
            let told = judged.told.launch.zip(believed)?;
            Some((i, speed, told, shot.reading.get(Quantity::Carry)))
        })
        .collect();
    let speeds = with_launch.iter().map(|row| row.1);
    let (least, most) = (
        speeds.clone().fold(f64::INFINITY, f64::min),
        speeds.fold(f64::NEG_INFINITY, f64::max),
    );
    if with_launch.is_empty() {
        return vec![];
    }
    let kept = question.shots.iter().zip(judged);
    let kept = kept.filter(|(_, judged)| judged.standing == Standing::Kept);
    let freedom = Freedom::of_player(question.club, kept.map(|(shot, _)| &shot.reading));
    let Ok(attainable) = Attainable::over(question.club, freedom, least, most) else {
        return vec![];
    };
    let (places, claims): (Vec<usize>, Vec<Claim>) = with_launch
        .into_iter()
        .map(|(i, speed, (launch, flight), carry)| {
            let claim = Claim {
                launch,
                flown: Some(flight.carry),
                carry,
                attainable: attainable.at(speed),
            };
            (i, claim)
        })
        .filter(|(_, claim)| claim.attainable.check().is_ok())
        .unzip();
    let split = split(&claims, &question.conditions).unwrap_or_default();
    places.into_iter().zip(split).collect()
}

/// Standard errors of the model within which nothing is claimed: 90 % of its misses.
const LEAST_TOLD: f64 = 1.645;

/// Where most of the unclaimed carry lies, and whose it is: the strike's, the
/// delivery's, the ball's or device's. What the figures do not show, it does not say.
pub(super) fn unclaimed_said(unclaimed: Option<&Unclaimed>, question: &Question<'_>) -> Sentence {
    let Some(unclaimed) = unclaimed else {
        let guessed = question.shots.iter().any(|shot| {
            let all = [
                Quantity::ClubSpeed,
                Quantity::BallSpeed,
                Quantity::LaunchAngle,
            ];
            all.iter().all(|q| shot.reading.get(*q).is_some())
                && is_calculated(&shot.reading, Quantity::SpinRate)
        });
        return Sentence::of(if guessed {
            "Spin was only calculated here, so what is unclaimed is not split. A marked ball, or a device that sees the ball turn, measures it."
        } else {
            "No kept shot has club speed, ball speed, launch angle and spin, so what is unclaimed cannot be split."
        });
    };
    let whole = unclaimed.whole();
    let margin = question.rules.carry_margin;
    if whole <= 0.0 {
        return Sentence::of(
            "Nothing is left unclaimed: these balls go as far as a sound strike at this club speed, or further.",
        );
    }
    if whole <= margin {
        return Sentence::of("Hardly any carry is left unclaimed at this club speed: ")
            .figure(whole, Dimension::Distance)
            .words(".");
    }
    // What the model cannot tell at the level of the house is nothing to claim.
    if whole <= LEAST_TOLD * unclaimed.model_error {
        return Sentence::of("What is left unclaimed at this club speed, ")
            .figure(whole, Dimension::Distance)
            .words(", is no more than the model can tell.");
    }
    let said = Sentence::default()
        .figure(whole, Dimension::Distance)
        .words(" of carry are left unclaimed at this club speed. ");
    let largest = unclaimed.largest().map(|share| (share.lever, share.carry));
    if unclaimed.unexplained > margin
        && largest.is_none_or(|(_, most)| unclaimed.unexplained > most)
    {
        return said
            .words("Most of it, ")
            .bare(unclaimed.unexplained, Dimension::Distance)
            .words(", is not in the launch: the ball, or the device, falls short of what its launch flies.");
    }
    match largest {
        Some((lever, most)) if most > 0.0 => said
            .words("The most is in ")
            .words(match lever {
                Lever::BallSpeed => "ball speed, ",
                Lever::Launch => "launch, ",
                Lever::Spin => "spin, ",
                Lever::Curve => "curve, ",
                Lever::Conditions => "air and wind, ",
            })
            .bare(most, Dimension::Distance)
            .words(match lever {
                Lever::BallSpeed => ": the strike, before technique is changed.",
                Lever::Launch | Lever::Spin => {
                    ": how the loft is delivered; where that fits, look at the club."
                }
                Lever::Curve => ": face against path.",
                Lever::Conditions => ".",
            }),
        _ => said.words("No one lever stands out."),
    }
}

/// How the unclaimed carry was worked out.
pub(super) fn working(unclaimed: Option<&Unclaimed>, question: &Question<'_>) -> Working {
    let carry = |label: &str, metres: f64| figure_row(label, metres, Dimension::Distance);
    let results = unclaimed.map_or_else(Vec::new, |unclaimed| {
        let shares = unclaimed
            .shares
            .iter()
            .map(|share| carry(share.label, share.carry));
        [
            carry("Attainable", unclaimed.attainable),
            carry("Carried", unclaimed.actual),
            carry("Unclaimed", unclaimed.whole()),
        ]
        .into_iter()
        .chain(shares)
        .chain([
            carry("Flown short of its launch", unclaimed.unexplained),
            carry("The model’s own error", unclaimed.model_error),
        ])
        .collect()
    });
    let shots = unclaimed.map_or(0, |unclaimed| unclaimed.n);
    let attainable = if question.club == Club::Driver {
        "Attainable: the furthest carry over every attack and loft that can be delivered at this club speed, in calm mild air at sea level."
    } else {
        "Attainable: the flight of a sound delivery with this club at this club speed, in calm mild air at sea level. Further is not what this club is for."
    };
    Working {
        inputs: vec![
            row(
                "Shots",
                Sentence::of(format!(
                    "{shots} kept with club speed, ball speed, launch angle and spin"
                )),
            ),
            air_row(&question.conditions),
        ],
        formula: vec![
            Sentence::of(attainable),
            Sentence::of("Five levers lie between a shot and the attainable one: ball speed, launch, spin, curve, air and wind. The share of each is what it adds to the carry, averaged over every order of pulling the five; so the shares add up to the whole. Shot by shot, then the mean."),
            Sentence::of("Flown short of its launch: the carry flown from the shot's own launch, less the carry seen. It is no lever's."),
        ],
        rules: vec![carry("Margin", question.rules.carry_margin)],
        results,
        sources: vec![
            "Shares: Shapley 1953.".to_owned(),
            "Impact: Cochran & Stobbs 1968; Penner 2001, 2003. Flight: Bearman & Harvey 1976; Smits & Smith 1994.".to_owned(),
        ],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::conditions::Conditions;
    use crate::session::read::{Report, read};
    use crate::shots::reading::{Provenance, Reading};
    use crate::shots::standing::Shot;
    use crate::verdicts::house_rules::HouseRules;
    use crate::vocabulary::units::{MPH, Units, YARD};

    /// A 7-iron struck at 80 mph: sound, with shares of its ball speed and loft, and a
    /// carry of so many yards beyond its launch's flight.
    fn shot(speed: f64, launch: f64, beyond: f64) -> Shot {
        let sound = Club::Iron7.reference_launch(80.0 * MPH);
        let mut reading = Reading::default();
        let mut set = |quantity, si| reading.set(quantity, si, Provenance::Measured);
        set(Quantity::ClubSpeed, 80.0 * MPH);
        set(Quantity::BallSpeed, sound.ball_speed * speed);
        set(Quantity::LaunchAngle, sound.launch_angle_deg * launch);
        set(Quantity::SpinRate, sound.spin_rate_rpm);
        let flown =
            crate::shots::expected_carry::by_launch(&reading, &Conditions::REFERENCE).unwrap();
        reading.set(
            Quantity::Carry,
            flown.carry + beyond * YARD,
            Provenance::Measured,
        );
        Shot {
            reading,
            decision: None,
        }
    }

    fn read_of(shots: &[Shot]) -> Report {
        read(&Question {
            player: "Petra",
            club: Club::Iron7,
            conditions: Conditions::REFERENCE,
            rules: HouseRules::default(),
            shots,
        })
    }

    fn said(shots: &[Shot]) -> String {
        read_of(shots).unclaimed_said.show(Units::MphYd)
    }

    #[test]
    fn the_working_lists_every_share_between_attainable_and_carried() {
        let working = read_of(&[shot(0.93, 1.0, 0.0)]).unclaimed_working;
        assert_eq!(working.results.len(), 3 + Lever::ALL.len() + 2);
        let sources = working.sources.join(" ");
        assert!(sources.contains("Shapley 1953"), "{sources}");
    }

    #[test]
    fn a_sound_strike_leaves_hardly_anything() {
        assert_eq!(
            said(&[shot(1.0, 1.0, 0.0)]),
            "Nothing is left unclaimed: these balls go as far as a sound strike at this club speed, or further."
        );
        assert!(said(&[shot(0.99, 1.0, 0.0)]).starts_with("Hardly any carry"));
    }

    #[test]
    fn what_the_model_cannot_tell_is_not_claimed() {
        let strict = |speed: f64| {
            let rules = HouseRules {
                carry_margin: 1.0 * YARD,
                ..HouseRules::default()
            };
            let shots = [shot(speed, 1.0, 0.0)];
            read(&Question {
                player: "Petra",
                club: Club::Iron7,
                conditions: Conditions::REFERENCE,
                rules,
                shots: &shots,
            })
            .unclaimed_said
            .show(Units::MphYd)
        };
        assert!(
            strict(0.985).contains("no more than the model can tell"),
            "{}",
            strict(0.985)
        );
        assert!(strict(0.93).contains("The most is in ball speed"));
    }

    #[test]
    fn a_weak_strike_and_a_low_launch_are_told_apart() {
        assert!(said(&[shot(0.93, 1.0, 0.0)]).contains("The most is in ball speed"));
        assert!(said(&[shot(1.0, 0.55, 0.0)]).contains("The most is in launch"));
    }

    #[test]
    fn a_ball_that_falls_short_of_its_launch_is_blamed_before_the_player() {
        let told = said(&[shot(1.0, 1.0, -12.0)]);
        assert!(
            told.contains("is not in the launch: the ball, or the device"),
            "{told}"
        );
    }

    #[test]
    fn without_launch_and_spin_it_says_what_is_missing() {
        let mut bare = shot(1.0, 1.0, 0.0);
        bare.reading.0.remove(&Quantity::SpinRate);
        let report = read_of(&[bare]);
        assert!(report.unclaimed.is_none() && report.shots[0].unclaimed.is_none());
        assert!(
            report
                .unclaimed_said
                .show(Units::MphYd)
                .contains("cannot be split")
        );
    }
}
