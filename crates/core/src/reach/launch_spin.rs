//! Where a set of shots lies on the map of launch and spin, and what moves it in.
//!
//! The map is drawn for the set's mean ball speed in its conditions. With a teed
//! driver the target region is everything deliverable-or-not within the tolerance of
//! the best that can be delivered ([`crate::reach::window`]); with any other club, where the
//! furthest is not what is wanted, it is a box about the reference delivery's launch.
//! A window that was saved for the player goes before both.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::fly;
use crate::physics::launch::Launch;
use crate::reach::window::{
    Aim, Freedom, MAP_LAUNCH_DEG, Map, Question, Range, Speed, best, deliverable, map,
};
use crate::shots::reading::Provenance;
use crate::shots::standing::{Shot, Standing};
use crate::shots::told::launch_of;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// Launch closer than this to the target's, deg, and spin closer than this share, fit:
/// devices tell them no better.
const FITS_DEG: f64 = 0.4;
const FITS_SHARE: f64 = 0.05;

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
    /// Kept shots on the map.
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

/// Draws the map of `shots` with how they stand, a contour every `step` m.
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
    let launches = launches_of(shots);
    let [ball_speed, launch_angle_deg, spin_rate_rpm] =
        mean_of_kept(&launches).ok_or(NoMap::NoShots)?;
    let target = match saved {
        Some(window) => Target::saved(window, ball_speed),
        None => Target::of(club, ball_speed, conditions, rules)?,
    };

    let sides = sides_for(launches.iter().map(|l| l.1).chain([target.launch]));
    let from = target.distances.map_or(f64::INFINITY, |[good, _]| good);
    let mut drawn = map(ball_speed, conditions, Aim::Carry, sides, step, from)?;
    if let Some(ring) = target.ring() {
        drawn.region = vec![ring];
    }
    let shots: Vec<PlacedShot> = launches
        .iter()
        .map(|(index, launch, standing, calculated_spin)| PlacedShot {
            index: *index,
            launch_angle_deg: launch.launch_angle_deg,
            spin_rate_rpm: launch.spin_rate_rpm,
            standing: *standing,
            place: target.place(launch, ball_speed, conditions),
            calculated_spin: *calculated_spin,
        })
        .collect();
    let kept = || shots.iter().filter(|s| s.standing == Standing::Kept);
    let inside = kept().filter(|s| s.place == Place::Inside).count();
    let middle = Launch {
        ball_speed,
        launch_angle_deg,
        spin_rate_rpm,
        ..target.launch
    };
    Ok(LaunchSpin {
        sentence: target.sentence(&middle, ball_speed, conditions, [inside, kept().count()]),
        ball_speed,
        map: drawn,
        saved,
        target: target.launch,
        deliverable: target.deliverable.clone(),
        inside,
        kept: kept().count(),
        calculated_spin: kept().filter(|s| s.calculated_spin).count(),
        shots,
    })
}

/// Mean ball speed, launch angle and spin rate of the kept launches.
fn mean_of_kept(launches: &[(usize, Launch, Standing, bool)]) -> Option<[f64; 3]> {
    let kept = launches.iter().filter(|l| l.2 == Standing::Kept);
    let n = kept.clone().count();
    let mean =
        |value: fn(&Launch) -> f64| kept.clone().map(|l| value(&l.1)).sum::<f64>() / n as f64;
    (n > 0).then(|| {
        [
            mean(|l| l.ball_speed),
            mean(|l| l.launch_angle_deg),
            mean(|l| l.spin_rate_rpm),
        ]
    })
}

/// The launches of the shots that have one, with their place, their standing, and whether
/// their spin was only calculated.
fn launches_of(shots: &[(&Shot, Standing)]) -> Vec<(usize, Launch, Standing, bool)> {
    shots
        .iter()
        .enumerate()
        .filter_map(|(i, (shot, standing))| {
            let spin = shot.reading.value(Quantity::SpinRate)?;
            let launch = launch_of(&shot.reading).ok()?.0;
            launch.check().ok()?;
            Some((i, launch, *standing, spin.from == Provenance::Calculated))
        })
        .collect()
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

/// The target region of a club at a ball speed.
struct Target {
    launch: Launch,
    /// Carries that are inside and near, where the region is one of distance, m.
    distances: Option<[f64; 2]>,
    /// Half widths of launch (deg) and spin (rpm), where it is a box.
    half: [f64; 2],
    deliverable: Vec<[f64; 2]>,
}

impl Target {
    fn saved(window: TargetWindow, ball_speed: f64) -> Self {
        let middle = |[from, to]: [f64; 2]| 0.5 * (from + to);
        let half = |[from, to]: [f64; 2]| 0.5 * (to - from);
        Target {
            launch: Launch {
                ball_speed,
                launch_angle_deg: middle(window.launch_angle_deg),
                launch_direction_deg: 0.0,
                spin_rate_rpm: middle(window.spin_rate_rpm),
                spin_axis_deg: 0.0,
            },
            distances: None,
            half: [half(window.launch_angle_deg), half(window.spin_rate_rpm)],
            deliverable: vec![],
        }
    }

    fn of(
        club: Club,
        ball_speed: f64,
        conditions: &Conditions,
        rules: &HouseRules,
    ) -> Result<Self, Invalid> {
        if club != Club::Driver {
            let launch = club.reference_launch_of_ball(ball_speed);
            return Ok(Target {
                half: [
                    rules.sound_launch_deg,
                    rules.sound_spin_share * launch.spin_rate_rpm,
                ],
                launch,
                distances: None,
                deliverable: vec![],
            });
        }
        let question = Question {
            speed: Speed::Ball(ball_speed),
            club,
            aim: Aim::Carry,
            conditions: *conditions,
            freedom: Freedom::of(club),
            tolerance: rules.window_tolerance,
        };
        let found = best(&question)?;
        let tolerance = rules.window_tolerance;
        Ok(Target {
            launch: found.launch,
            distances: Some([found.distance - tolerance, found.distance - 2.0 * tolerance]),
            half: [0.0; 2],
            deliverable: deliverable(&question)?,
        })
    }

    fn ring(&self) -> Option<Vec<[f64; 2]>> {
        let ([launch, spin], at) = (self.half, self.launch);
        let corner = |l: f64, s: f64| {
            [
                at.launch_angle_deg + l * launch,
                at.spin_rate_rpm + s * spin,
            ]
        };
        self.distances.is_none().then(|| {
            vec![
                corner(-1.0, -1.0),
                corner(1.0, -1.0),
                corner(1.0, 1.0),
                corner(-1.0, 1.0),
                corner(-1.0, -1.0),
            ]
        })
    }

    fn place(&self, shot: &Launch, ball_speed: f64, conditions: &Conditions) -> Place {
        let within = match self.distances {
            // As if struck straight at the map's speed, so that the map tells the same.
            Some([good, near]) => {
                let straight = Launch {
                    ball_speed,
                    launch_angle_deg: shot.launch_angle_deg,
                    spin_rate_rpm: shot.spin_rate_rpm,
                    ..self.launch
                };
                let carry = fly(&straight, conditions).map_or(0.0, |f| f.carry);
                [carry >= good, carry >= near]
            }
            None => {
                let off =
                    (shot.launch_angle_deg - self.launch.launch_angle_deg).abs() / self.half[0];
                let spun = (shot.spin_rate_rpm - self.launch.spin_rate_rpm).abs() / self.half[1];
                [off.max(spun) <= 1.0, off.max(spun) <= 2.0]
            }
        };
        match within {
            [true, _] => Place::Inside,
            [_, true] => Place::Near,
            _ => Place::Outside,
        }
    }

    /// How many are inside, where the middle of the set lies, and which lever moves it.
    fn sentence(
        &self,
        middle: &Launch,
        ball_speed: f64,
        conditions: &Conditions,
        [inside, kept]: [usize; 2],
    ) -> Sentence {
        let balls = if kept == 1 { "ball is" } else { "balls are" };
        let said = Sentence::of(format!("{inside} of {kept} {balls} inside the window. "));
        if self.place(middle, ball_speed, conditions) == Place::Inside {
            return said.words("Their middle lies inside it.");
        }
        let launch = self.launch.launch_angle_deg - middle.launch_angle_deg;
        let spin = self.launch.spin_rate_rpm - middle.spin_rate_rpm;
        let fits = [
            launch.abs() < FITS_DEG,
            spin.abs() < FITS_SHARE * middle.spin_rate_rpm,
        ];
        let word = |missing: f64| if missing > 0.0 { "low" } else { "high" };
        let up = "strike it more on the way up, ball further forward, or higher on the face";
        let down = "strike it less on the way up, ball further back, or lower on the face";
        let lever = match (launch > 0.0, spin > 0.0) {
            (_, false) if fits[0] => up,
            (_, true) if fits[0] => down,
            (true, true) => "deliver more loft",
            (true, _) if fits[1] => "deliver more loft",
            (false, false) => "deliver less loft",
            (false, _) if fits[1] => "deliver less loft",
            (true, false) => up,
            (false, true) => down,
        };
        let said = if fits[0] {
            said.words("Launch fits")
        } else {
            said.words("Launch is ")
                .figure(launch.abs(), Dimension::Angle)
                .words(format!(" {}", word(launch)))
        };
        let said = if fits[1] {
            said.words(" and spin fits")
        } else {
            said.words(" and spin is ")
                .figure(spin.abs(), Dimension::Spin)
                .words(format!(" {}", word(spin)))
        };
        said.words(format!(": {lever}."))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::reading::Reading;
    use crate::vocabulary::units::{MPH, Units, YARD};

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
            Provenance::Calculated,
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
        assert_eq!((told.inside, told.kept, told.calculated_spin), (1, 2, 2));
    }

    #[test]
    fn a_low_spinning_drive_is_told_to_go_up() {
        let told = drawn(Club::Driver, &[shot(Club::Driver, [0.6, 1.6])]).unwrap();
        let said = told.sentence.show(Units::MphYd);
        assert!(
            said.contains("low and spin is") && said.contains("on the way up"),
            "{said}"
        );
        assert!(!told.map.levels.is_empty() && !told.deliverable.is_empty());
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
        let shots = [shot(Club::Driver, [1.0, 1.0])];
        let standing = [(&shots[0], Standing::Kept)];
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
