//! The target region of a club at a ball speed, and what moves a set into it.

use super::{Place, TargetWindow};
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::fly;
use crate::physics::launch::Launch;
use crate::reach::window::{Aim, Freedom, Question, Speed, best, deliverable};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// Launch closer than this to the target's, deg, and spin closer than this share, fit:
/// devices tell them no better.
const FITS_DEG: f64 = 0.4;
const FITS_SHARE: f64 = 0.05;
/// Balls with a spin that counts from which advice is given: one or two may be mishits.
const ADVISED_FROM: usize = 3;

/// The launch and spin of a shot, straight and at a speed.
pub(super) fn at_speed(shot: &Launch, ball_speed: f64) -> Launch {
    Launch {
        ball_speed,
        launch_direction_deg: 0.0,
        spin_axis_deg: 0.0,
        ..*shot
    }
}

/// The launches that a target judges, and their middle.
#[derive(Default)]
pub(super) struct Launched {
    pub balls: Vec<Launch>,
    pub middle: Option<Launch>,
}

/// The target region of a club at a ball speed.
pub(super) struct Target {
    pub launch: Launch,
    /// Carries that are inside and near, where the region is one of distance, m.
    pub distances: Option<[f64; 2]>,
    /// Half widths of launch (deg) and spin (rpm), where it is a box.
    half: [f64; 2],
    pub deliverable: Vec<[f64; 2]>,
    /// What was searched, where it was.
    pub freedom: Option<Freedom>,
}

impl Target {
    pub fn saved(window: TargetWindow, ball_speed: f64) -> Self {
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
            freedom: None,
        }
    }

    /// The target for balls of this speed: the best within what the player can deliver,
    /// and never worse, by the same model, than the launches it judges.
    pub fn of(
        club: Club,
        ball_speed: f64,
        conditions: &Conditions,
        rules: &HouseRules,
        freedom: Freedom,
        judged: &Launched,
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
                freedom: None,
            });
        }
        let question = Question {
            speed: Speed::Ball(ball_speed),
            club,
            aim: Aim::Carry,
            conditions: *conditions,
            freedom,
            useful: rules.useful(),
            tolerance: rules.window_tolerance,
        };
        let found = best(&question)?;
        let tolerance = rules.window_tolerance;
        // What was hit could be delivered, whatever the model thinks of it: the target is the
        // best of it all. What is as good is judged by the middle, though: one lucky ball is
        // nothing to ask of a set.
        let flown = |launch: &Launch| {
            let straight = at_speed(launch, ball_speed);
            let carry = fly(&straight, conditions).ok()?.carry;
            Some((straight, carry))
        };
        let further = |best: (Launch, f64), next: (Launch, f64)| {
            if next.1 > best.1 { next } else { best }
        };
        let found = (found.launch, found.distance);
        let asked = judged.middle.iter().filter_map(flown).fold(found, further);
        let (launch, _) = judged.balls.iter().filter_map(flown).fold(asked, further);
        Ok(Target {
            launch,
            distances: Some([asked.1 - tolerance, asked.1 - 2.0 * tolerance]),
            half: [0.0; 2],
            deliverable: deliverable(&question)?,
            freedom: Some(freedom),
        })
    }

    pub fn ring(&self) -> Option<Vec<[f64; 2]>> {
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

    pub fn place(&self, shot: &Launch, ball_speed: f64, conditions: &Conditions) -> Place {
        let within = match self.distances {
            // As if struck straight at the map's speed, so that the map tells the same.
            Some([good, near]) => {
                let straight = at_speed(shot, ball_speed);
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
    pub fn sentence(
        &self,
        middle: &Launch,
        ball_speed: f64,
        conditions: &Conditions,
        [inside, kept]: [usize; 2],
    ) -> Sentence {
        let balls = if kept == 1 { "ball" } else { "balls" };
        let verb = if inside == 1 { "is" } else { "are" };
        let said = Sentence::of(format!(
            "{inside} of {kept} {balls} {verb} inside the window. "
        ));
        if self.place(middle, ball_speed, conditions) == Place::Inside {
            return said.words("Their middle lies inside it.");
        }
        if kept < ADVISED_FROM {
            return said.words(if kept == 1 {
                "One measured spin is too few for advice.".to_owned()
            } else {
                format!("{kept} measured spins are too few for advice.")
            });
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
