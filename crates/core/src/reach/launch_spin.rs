//! Where a set of shots lies on the map of launch and spin, and what moves it in.
//!
//! The map is drawn for the set's mean ball speed in its conditions. With a teed
//! driver the target region is everything deliverable-or-not within the tolerance of
//! the best that can be delivered ([`crate::reach::window`]); with any other club, where the
//! furthest is not what is wanted, it is a box about the reference delivery's launch.
//! A window that was saved for the player goes before both.

mod target;

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::launch::Launch;
use crate::reach::window::{Aim, Freedom, MAP_LAUNCH_DEG, Map, Range, map, spin_between};
use crate::shots::standing::{Shot, Standing};
use crate::shots::told::{is_calculated, launch_of};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use target::{Launched, Target};
use utoipa::ToSchema;

/// How a shot lies to the target region.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Place {
    /// In it.
    Inside,
    /// Within twice its width.
    Near,
    /// Beyond.
    Outside,
}

/// A player's own target with a club: least and most launch and spin.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct TargetWindow {
    /// Launch angle, deg.
    pub launch_angle_deg: [f64; 2],
    /// Spin rate, rpm.
    pub spin_rate_rpm: [f64; 2],
}

impl TargetWindow {
    /// The window about a launch, as wide as the house calls sound.
    ///
    /// # Errors
    /// [`Invalid`] outside launch 0…60° or spin 100…13,000 rpm.
    pub fn about(
        launch_angle_deg: f64,
        spin_rate_rpm: f64,
        rules: &HouseRules,
    ) -> Result<Self, Invalid> {
        let launch = within("launch_angle_deg", launch_angle_deg, MAP_LAUNCH_DEG, "deg")?;
        let spin = within("spin_rate_rpm", spin_rate_rpm, 100.0..=13_000.0, "rpm")?;
        let half = rules.sound_spin_share * spin;
        Ok(TargetWindow {
            launch_angle_deg: [
                launch - rules.sound_launch_deg,
                launch + rules.sound_launch_deg,
            ],
            spin_rate_rpm: [spin - half, spin + half],
        })
    }
}

/// A shot on the map.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct PlacedShot {
    /// Its place in the session's shots, from 0.
    pub index: usize,
    /// Launch angle, deg.
    pub launch_angle_deg: f64,
    /// Spin rate, rpm.
    pub spin_rate_rpm: f64,
    /// How it stands in the figures.
    pub standing: Standing,
    /// How it lies to the target region.
    pub place: Place,
    /// Whether the device only calculated its spin.
    pub calculated_spin: bool,
}

/// The map with the shots on it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LaunchSpin {
    /// What moves the set in.
    pub sentence: Sentence,
    /// What stands under it: spins that do not count, what the wind moves.
    pub note: Option<Sentence>,
    /// Ball speed of the map, m/s: the mean of the kept shots.
    pub ball_speed: f64,
    /// The map; its region is the target region.
    pub map: Map,
    /// The player's own target window, when one was saved.
    pub saved: Option<TargetWindow>,
    /// The launch at the heart of the target region.
    pub target: Launch,
    /// Outline of what the club can be made to deliver; empty with other clubs than
    /// the driver.
    pub deliverable: Vec<[f64; 2]>,
    /// The shots that have ball speed, launch and spin.
    pub shots: Vec<PlacedShot>,
    /// Kept shots inside the region.
    pub inside: usize,
    /// Kept shots on the map whose spin counts.
    pub kept: usize,
    /// Kept shots whose spin was only calculated.
    pub calculated_spin: usize,
}

/// Why there is no map.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NoMap {
    /// No kept shot has ball speed, launch angle and spin.
    #[error(
        "no kept shot has ball speed, launch angle and spin, so there is nothing to put on the map"
    )]
    NoShots,
    /// A value lies outside the model's domain.
    #[error(transparent)]
    Invalid(#[from] Invalid),
}

/// A shot that can be put on the map.
struct OnMap {
    index: usize,
    launch: Launch,
    standing: Standing,
    calculated_spin: bool,
    /// Whether it is kept and its spin counts: only such shots judge and are judged.
    counts: bool,
}

/// Draws the map of `shots` with how they stand, a contour every `step` m. A shot whose
/// spin was only calculated is drawn and marked; it moves no figure and gives no advice,
/// unless the house counts such spin.
///
/// # Errors
/// [`NoMap`] without a kept shot to draw, or outside the domain of flight.
pub fn launch_spin(
    shots: &[(&Shot, Standing)],
    club: Club,
    conditions: &Conditions,
    rules: &HouseRules,
    saved: Option<TargetWindow>,
    step: f64,
) -> Result<LaunchSpin, NoMap> {
    let on_map = launches_of(shots, rules);
    let measured = mean_of(on_map.iter().filter(|s| s.counts));
    let kept = || on_map.iter().filter(|s| s.standing == Standing::Kept);
    let middle = measured.or_else(|| mean_of(kept())).ok_or(NoMap::NoShots)?;
    let ball_speed = middle.ball_speed;
    let target = match saved {
        Some(window) => Target::saved(window, ball_speed),
        None => {
            let judged = on_map.iter().filter(|s| s.counts).map(|s| s.launch);
            let seen = Launched {
                balls: judged.collect(),
                middle: measured,
            };
            let freedom = freedom_of(shots, club);
            Target::of(club, ball_speed, conditions, rules, freedom, &seen)?
        }
    };

    let sides = sides_for(on_map.iter().map(|s| s.launch).chain([target.launch]));
    let from = target.distances.map_or(f64::INFINITY, |[good, _]| good);
    let mut drawn = map(ball_speed, conditions, Aim::Carry, sides, step, from)?;
    if let Some(ring) = target.ring() {
        drawn.region = vec![ring];
    }
    let placed: Vec<PlacedShot> = on_map
        .iter()
        .map(|shot| PlacedShot {
            index: shot.index,
            launch_angle_deg: shot.launch.launch_angle_deg,
            spin_rate_rpm: shot.launch.spin_rate_rpm,
            standing: shot.standing,
            place: target.place(&shot.launch, ball_speed, conditions),
            calculated_spin: shot.calculated_spin,
        })
        .collect();
    let counting = || on_map.iter().zip(&placed).filter(|(shot, _)| shot.counts);
    let inside = counting().filter(|(_, p)| p.place == Place::Inside).count();
    let [of, calculated] = [
        counting().count(),
        kept().filter(|s| s.calculated_spin).count(),
    ];
    let sentence = match measured {
        Some(middle) => target.sentence(&middle, ball_speed, conditions, [inside, of]),
        None => unmeasured(&middle, club, freedom_of(shots, club)),
    };
    Ok(LaunchSpin {
        sentence,
        note: note(club, &target, [of, calculated], conditions, rules),
        ball_speed,
        map: drawn,
        saved,
        target: target.launch,
        deliverable: target.deliverable.clone(),
        inside,
        kept: of,
        calculated_spin: calculated,
        shots: placed,
    })
}

/// What the player can deliver, from the kept shots.
fn freedom_of(shots: &[(&Shot, Standing)], club: Club) -> Freedom {
    let kept = shots.iter().filter(|(_, s)| *s == Standing::Kept);
    Freedom::of_player(club, kept.map(|(shot, _)| &shot.reading))
}

/// The mean of some shots' launches, straight.
fn mean_of<'a>(shots: impl Iterator<Item = &'a OnMap>) -> Option<Launch> {
    let launches: Vec<&Launch> = shots.map(|shot| &shot.launch).collect();
    let n = launches.len() as f64;
    let mean = |value: fn(&Launch) -> f64| launches.iter().map(|l| value(l)).sum::<f64>() / n;
    (!launches.is_empty()).then(|| Launch {
        ball_speed: mean(|l| l.ball_speed),
        launch_angle_deg: mean(|l| l.launch_angle_deg),
        launch_direction_deg: 0.0,
        spin_rate_rpm: mean(|l| l.spin_rate_rpm),
        spin_axis_deg: 0.0,
    })
}

/// The shots that have a launch.
fn launches_of(shots: &[(&Shot, Standing)], rules: &HouseRules) -> Vec<OnMap> {
    shots
        .iter()
        .enumerate()
        .filter_map(|(index, (shot, standing))| {
            let launch = launch_of(&shot.reading).ok()?.0;
            launch.check().ok()?;
            let calculated_spin = is_calculated(&shot.reading, Quantity::SpinRate);
            let believed = !calculated_spin || rules.counts_calculated_spin();
            Some(OnMap {
                index,
                launch,
                standing: *standing,
                calculated_spin,
                counts: *standing == Standing::Kept && believed,
            })
        })
        .collect()
}

/// What is said where no spin was measured: why there is no advice, what would measure
/// it, and between which spins the launch and speed leave it.
fn unmeasured(middle: &Launch, club: Club, freedom: Freedom) -> Sentence {
    let said = Sentence::of(
        "Spin was only calculated here, so it gives no advice. A marked ball, or a device that sees the ball turn, measures it.",
    );
    match spin_between(club, middle.ball_speed, middle.launch_angle_deg, freedom) {
        Some(spin) => said
            .words(" This launch and ball speed leave it between ")
            .bare(spin.from, Dimension::Spin)
            .words(" and ")
            .figure(spin.to, Dimension::Spin)
            .words("."),
        None => said,
    }
}

/// What stands under the sentence: calculated spins that do not count, and what the wind
/// moves.
fn note(
    club: Club,
    target: &Target,
    [counted, calculated]: [usize; 2],
    conditions: &Conditions,
    rules: &HouseRules,
) -> Option<Sentence> {
    let left_out = (calculated > 0 && counted > 0 && !rules.counts_calculated_spin()).then(|| {
        let have = if calculated == 1 { "has" } else { "have" };
        Sentence::of(format!(
            "{calculated} more {have} only calculated spin: on the map, not in the advice."
        ))
    });
    let moved = moved_by_wind(club, target, conditions, rules);
    match (left_out, moved) {
        (Some(one), Some(other)) => Some(one.words(" ").join(other)),
        (one, other) => one.or(other),
    }
}

/// How the target differs from that of a calm day, when the wind moves it.
fn moved_by_wind(
    club: Club,
    target: &Target,
    conditions: &Conditions,
    rules: &HouseRules,
) -> Option<Sentence> {
    conditions.wind.filter(|wind| wind.speed_mps > 0.5)?;
    let freedom = target.freedom?;
    let in_air = |conditions: &Conditions| {
        let speed = target.launch.ball_speed;
        let nothing = Launched::default();
        let found = Target::of(club, speed, conditions, rules, freedom, &nothing).ok()?;
        Some([found.launch.launch_angle_deg, found.launch.spin_rate_rpm])
    };
    let calm = Conditions {
        wind: None,
        ..*conditions
    };
    let ([launch, spin], [still, unmoved]) = (in_air(conditions)?, in_air(&calm)?);
    let word = |moved: f64, less, more| if moved < 0.0 { less } else { more };
    let said = Sentence::of("In this wind the target is ")
        .figure((launch - still).abs(), Dimension::Angle)
        .words(word(launch - still, " lower, with ", " higher, with "))
        .figure((spin - unmoved).abs(), Dimension::Spin)
        .words(word(spin - unmoved, " less", " more"))
        .words(" than on a calm day.");
    Some(said)
}

/// The sides of a map that shows all of these launches.
fn sides_for(on_map: impl Iterator<Item = Launch> + Clone) -> [Range; 2] {
    let reach = |value: fn(&Launch) -> f64, pad: f64, least: f64, most: f64| {
        let range = Range::over(on_map.clone().map(|l| value(&l)));
        Range {
            from: (range.from - pad).clamp(least, most - pad),
            to: (range.to + pad).clamp(least + pad, most),
        }
    };
    [
        reach(|l| l.launch_angle_deg, 3.0, 0.0, 60.0),
        reach(|l| l.spin_rate_rpm, 800.0, 0.0, 13_000.0),
    ]
}

#[cfg(test)]
mod tests {
    use super::target::at_speed;
    use super::*;
    use crate::physics::flight::fly;
    use crate::shots::reading::{Provenance, Reading};
    use crate::vocabulary::units::{MPH, Units, YARD};
    use proptest::prelude::*;

    fn shot(club: Club, share: [f64; 2]) -> Shot {
        let launch = club.reference_launch(95.0 * MPH);
        let mut reading = Reading::default();
        let measured = Provenance::Measured;
        reading.set(Quantity::BallSpeed, launch.ball_speed, measured);
        reading.set(
            Quantity::LaunchAngle,
            launch.launch_angle_deg * share[0],
            measured,
        );
        reading.set(
            Quantity::SpinRate,
            launch.spin_rate_rpm * share[1],
            measured,
        );
        Shot {
            reading,
            decision: None,
        }
    }

    fn drawn(club: Club, shots: &[Shot]) -> Result<LaunchSpin, NoMap> {
        let standing: Vec<_> = shots.iter().map(|s| (s, Standing::Kept)).collect();
        launch_spin(
            &standing,
            club,
            &Conditions::REFERENCE,
            &HouseRules::default(),
            None,
            5.0 * YARD,
        )
    }

    #[test]
    fn an_iron_struck_soundly_is_inside_and_a_thin_one_is_outside() {
        let shots = [shot(Club::Iron6, [1.0, 1.0]), shot(Club::Iron6, [0.4, 0.6])];
        let told = drawn(Club::Iron6, &shots).unwrap();
        let places: Vec<_> = told.shots.iter().map(|s| s.place).collect();
        assert_eq!(places, [Place::Inside, Place::Outside]);
        assert_eq!((told.inside, told.kept, told.calculated_spin), (1, 2, 0));
    }

    #[test]
    fn a_low_spinning_drive_is_told_to_go_up() {
        let told = drawn(Club::Driver, &vec![shot(Club::Driver, [0.6, 1.6]); 3]).unwrap();
        let said = told.sentence.show(Units::MphYd);
        assert!(
            said.contains("low and spin is") && said.contains("on the way up"),
            "{said}"
        );
        assert!(!told.map.levels.is_empty() && !told.deliverable.is_empty());
    }

    /// The same with a spin that the device only worked out.
    fn guessed(share: [f64; 2]) -> Shot {
        let mut shot = shot(Club::Driver, share);
        let spin = shot.reading.get(Quantity::SpinRate).unwrap();
        let from = Provenance::Calculated;
        shot.reading.set(Quantity::SpinRate, spin, from);
        shot
    }

    #[test]
    fn a_spin_that_was_only_calculated_gives_no_advice_and_says_what_would_measure_it() {
        let told = drawn(Club::Driver, &[guessed([1.3, 2.0])]).unwrap();
        assert_eq!((told.inside, told.kept, told.calculated_spin), (0, 0, 1));
        let said = told.sentence.show(Units::MphYd);
        assert!(said.starts_with("Spin was only calculated here"), "{said}");
        assert!(said.contains("A marked ball"), "{said}");
        assert!(
            !said.contains("loft") && !said.contains("on the way"),
            "{said}"
        );
        let mut counting = HouseRules::default();
        counting.set("calculated_spin", Some(1.0)).unwrap();
        let shot = guessed([1.3, 2.0]);
        let kept = [(&shot, Standing::Kept)];
        let here = Conditions::REFERENCE;
        let step = 5.0 * YARD;
        let told = launch_spin(&kept, Club::Driver, &here, &counting, None, step).unwrap();
        assert_eq!(told.kept, 1);
    }

    #[test]
    fn beside_measured_spins_the_calculated_ones_are_drawn_and_counted_out() {
        let shots = [
            shot(Club::Driver, [1.0, 1.0]),
            guessed([1.0, 2.5]),
            guessed([1.0, 2.2]),
        ];
        let told = drawn(Club::Driver, &shots).unwrap();
        assert_eq!((told.shots.len(), told.kept), (3, 1));
        let alone = drawn(Club::Driver, &shots[..1]).unwrap();
        assert_eq!(told.sentence, alone.sentence);
        let note = told.note.unwrap().show(Units::MphYd);
        assert!(
            note.starts_with("2 more have only calculated spin"),
            "{note}"
        );
    }

    #[test]
    fn into_the_wind_the_target_moves_and_it_is_said() {
        let shot = shot(Club::Driver, [1.0, 1.0]);
        let windy = Conditions {
            wind: Some(crate::physics::wind::Wind {
                speed_mps: 7.0,
                from_deg: 0.0,
            }),
            ..Conditions::REFERENCE
        };
        let kept = [(&shot, Standing::Kept)];
        let rules = HouseRules::default();
        let told = launch_spin(&kept, Club::Driver, &windy, &rules, None, 5.0 * YARD).unwrap();
        let note = told.note.unwrap().show(Units::MphYd);
        assert!(note.contains("lower, with"), "{note}");
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]
        #[test]
        fn the_target_is_never_worse_than_the_balls_it_judges(
            mph in 85.0..135.0f64, attack in -6.0..12.0f64, spin_loft in 8.0..22.0f64,
            high in -0.01..0.012f64, told in any::<bool>(),
        ) {
            let delivery = crate::physics::impact::Delivery {
                impact_high: high,
                ..crate::physics::impact::Delivery::straight(mph * MPH, attack, attack + spin_loft)
            };
            let launch = crate::physics::impact::strike(&delivery, &Club::Driver.head()).unwrap();
            prop_assume!(launch.launch_angle_deg > 1.0);
            let mut hit = shot(Club::Driver, [1.0, 1.0]);
            for (quantity, si) in [
                (Quantity::BallSpeed, launch.ball_speed),
                (Quantity::LaunchAngle, launch.launch_angle_deg),
                (Quantity::SpinRate, launch.spin_rate_rpm),
            ] {
                hit.reading.set(quantity, si, Provenance::Measured);
            }
            if told {
                hit.reading.set(Quantity::AngleOfAttack, attack, Provenance::Measured);
            }
            let drawn = drawn(Club::Driver, &[hit.clone(), hit.clone(), hit]).unwrap();
            let carry = |launch: &Launch| fly(launch, &Conditions::REFERENCE).unwrap().carry;
            let straight = at_speed(&launch, drawn.ball_speed);
            prop_assert!(carry(&drawn.target) >= carry(&straight) - 1e-6);
        }
    }

    #[test]
    fn the_heart_of_the_target_is_inside() {
        let first = drawn(Club::Driver, &[shot(Club::Driver, [1.0, 1.0])]).unwrap();
        let mut best = shot(Club::Driver, [1.0, 1.0]);
        best.reading.set(
            Quantity::LaunchAngle,
            first.target.launch_angle_deg,
            Provenance::Measured,
        );
        best.reading.set(
            Quantity::SpinRate,
            first.target.spin_rate_rpm,
            Provenance::Measured,
        );
        let told = drawn(Club::Driver, &[best]).unwrap();
        assert_eq!(told.inside, 1);
        assert!(
            told.sentence
                .show(Units::MphYd)
                .ends_with("Their middle lies inside it.")
        );
    }

    #[test]
    fn a_saved_window_goes_before_ours() {
        let shot = shot(Club::Driver, [1.0, 1.0]);
        let standing = [(&shot, Standing::Kept); 3];
        let rules = HouseRules::default();
        let own = TargetWindow::about(30.0, 6000.0, &rules).unwrap();
        let told = launch_spin(
            &standing,
            Club::Driver,
            &Conditions::REFERENCE,
            &rules,
            Some(own),
            5.0 * YARD,
        )
        .unwrap();
        assert_eq!((told.saved, told.inside), (Some(own), 0));
        assert!(told.sentence.show(Units::MphYd).contains("more loft"));
        assert_eq!(
            TargetWindow::about(30.0, 90_000.0, &rules)
                .unwrap_err()
                .field,
            "spin_rate_rpm"
        );
    }

    #[test]
    fn without_spin_there_is_no_map_and_the_reason_is_said() {
        let mut bare = shot(Club::Driver, [1.0, 1.0]);
        bare.reading.0.remove(&Quantity::SpinRate);
        assert_eq!(drawn(Club::Driver, &[bare]).unwrap_err(), NoMap::NoShots);
    }
}
