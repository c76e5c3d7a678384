//! What leaves the club when it meets the ball.
//!
//! Oblique impact of a free club head on a ball (Cochran & Stobbs 1968; Penner 2001,
//! 2003), in three dimensions:
//!
//! - Along the face normal, the ball leaves at `(1 + e) · vₙ · M/(M + m)`. The
//!   restitution `e` is that of a solid face, less the faster the blow, plus the
//!   spring of a thin face. Off centre the head turns away, so that less of its mass
//!   is felt: `1/M' = 1/M + x²/I_v + y²/I_h`.
//! - Along the face the ball grips: sliding turns into rolling, and the skin that was
//!   wound up returns some of it. Friction can give no more than its share of the
//!   normal impulse, so a blow more oblique than that slides (Maw, Barber & Fawcett
//!   1976; Cross 2002), sooner when the face is wet or grass lies between ([`Lie`]).
//! - A head that turns under an off-centre blow drags the ball's skin with it (gear
//!   effect), by the depth of its centre of gravity behind the face. Bulge and roll
//!   of a wood's face turn the face normal with the place that is struck. The club
//!   turns shut as it comes through, so that its toe is faster than its heel.
//!
//! Few coefficients ([`Contact`]) are fitted by `examples/calibrate_impact.rs` to
//! published averages. Toe is to the right: left-handed players are mirrored first.

mod explain;
mod lie;

use crate::physics::launch::{BALL_MASS, BALL_RADIUS, Launch};
use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
pub use explain::{Explanation, delivery_of, explain};
pub use lie::Lie;
use nalgebra::Vector3;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use utoipa::ToSchema;

/// The liveliest blow that the rules of golf let a face give.
const LEGAL_RESTITUTION: f64 = 0.83;
/// The most that a ball can gain on the club that hits it: a legal face on a 200 g
/// head with its share of shaft, struck square.
pub const LEGAL_SMASH: f64 = 1.52;
/// Normal speed for which the solid restitution is given, m/s.
const SOLID_AT: f64 = 35.0;
/// Distance off centre at which a thin face has lost two thirds of its spring, m.
const SPRING_WIDTH: f64 = 0.035;
/// Speed that a place on the face gains for each metre towards the toe, as a share of
/// the club's, 1/m: a head of a driver turns shut by about 40 rad/s at 50 m/s.
const TOE_GAIN: f64 = 0.8;
/// How sharply grip gives way to sliding: the power mean of the two has this power.
const GIVING_WAY: i32 = 6;

/// What a club head brings to an impact.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Head {
    /// Mass felt by the ball, with the shaft's share, kg.
    pub mass: f64,
    /// Restitution that a thin face adds to a solid one's.
    pub spring: f64,
    /// Centre of gravity behind the face, m.
    pub depth: f64,
    /// Moment of inertia about the vertical and the heel–toe axis, kg·m².
    pub inertia: [f64; 2],
    /// How much the face bulges and rolls, 1/m: the inverse of its radius.
    pub bulge: f64,
}

impl Head {
    /// The head that usually delivers a loft, for deliveries whose club is not known:
    /// a wood's at ten degrees, an iron's at twenty, and in between, where either may be
    /// meant, something of both; heavier the more loft.
    pub fn for_loft(dynamic_loft_deg: f64) -> Head {
        let t = ((dynamic_loft_deg - 10.0) / 10.0).clamp(0.0, 1.0);
        let iron = t * t * (3.0 - 2.0 * t);
        let between = |wood: f64, solid: f64| wood + iron * (solid - wood);
        let heavier = (dynamic_loft_deg - 14.0).clamp(0.0, 22.0) / 22.0;
        Head {
            mass: between(0.230, 0.263 + 0.050 * heavier),
            spring: between(0.112, 0.0),
            depth: between(0.034, 0.008),
            inertia: [between(4.2e-4, 2.4e-4), between(2.8e-4, 0.9e-4)],
            bulge: between(3.5, 0.0),
        }
    }
}

/// How the club meets the ball.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Delivery {
    /// Club speed, m/s.
    pub club_speed: f64,
    /// Angle of attack, deg, + is upward.
    pub angle_of_attack_deg: f64,
    /// Loft delivered at the centre of the face, deg.
    pub dynamic_loft_deg: f64,
    /// Club path, deg, + is right.
    #[serde(default)]
    pub club_path_deg: f64,
    /// Face angle at the centre of the face, deg, + is right.
    #[serde(default)]
    pub face_angle_deg: f64,
    /// Impact toward the toe (+), m.
    #[serde(default)]
    pub impact_toe: f64,
    /// Impact high (+) on the face, m.
    #[serde(default)]
    pub impact_high: f64,
    /// What is between ball and face.
    #[serde(default)]
    pub lie: Lie,
}

impl Delivery {
    /// A straight, centred delivery.
    pub fn straight(club_speed: f64, angle_of_attack_deg: f64, dynamic_loft_deg: f64) -> Self {
        Delivery {
            club_speed,
            angle_of_attack_deg,
            dynamic_loft_deg,
            club_path_deg: 0.0,
            face_angle_deg: 0.0,
            impact_toe: 0.0,
            impact_high: 0.0,
            lie: Lie::Dry,
        }
    }

    /// Checks every field against the domain in which the model is valid.
    ///
    /// # Errors
    /// [`Invalid`] outside club speed 5…75 m/s, attack ±20°, dynamic loft 0…75°, path
    /// and face ±30°, impact ±40 mm, or when the face would meet the ball from above.
    pub fn check(&self) -> Result<(), Invalid> {
        for (key, value) in [
            ("club_speed", self.club_speed),
            ("angle_of_attack_deg", self.angle_of_attack_deg),
            ("dynamic_loft_deg", self.dynamic_loft_deg),
            ("club_path_deg", self.club_path_deg),
            ("face_angle_deg", self.face_angle_deg),
            ("impact_toe", self.impact_toe),
            ("impact_high", self.impact_high),
        ] {
            inputs::check(key, value)?;
        }
        let spin_loft = self.dynamic_loft_deg - self.angle_of_attack_deg;
        if spin_loft < 0.0 {
            return Err(Invalid::new(
                "dynamic_loft_deg",
                self.dynamic_loft_deg,
                format!(
                    "lies below the angle of attack, {}",
                    self.angle_of_attack_deg
                ),
                "give a dynamic loft above the angle of attack",
            ));
        }
        if spin_loft > 80.0 {
            return Err(Invalid::new(
                "dynamic_loft_deg",
                self.dynamic_loft_deg,
                "is more than 80 deg above the angle of attack",
                "give a spin loft of at most 80 deg",
            ));
        }
        Ok(())
    }

    /// The same with the dynamic loft of a club of `static_loft_deg` whose shaft leans
    /// `shaft_lean_deg` towards the target: lean takes loft off degree for degree.
    ///
    /// # Errors
    /// [`Invalid`] outside loft 4…70° and lean ±20°.
    pub fn held(self, static_loft_deg: f64, shaft_lean_deg: f64) -> Result<Self, Invalid> {
        let loft = inputs::check("static_loft_deg", static_loft_deg)?;
        let lean = inputs::check("shaft_lean_deg", shaft_lean_deg)?;
        Ok(Delivery {
            dynamic_loft_deg: loft - lean,
            ..self
        })
    }
}

/// The contact of ball and face.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Contact {
    /// Restitution of a solid face at a normal speed of 35 m/s.
    pub solid: f64,
    /// Restitution lost for each m/s more of normal speed.
    pub fading: f64,
    /// Tangential restitution of a ball that grips.
    pub grip: f64,
    /// Friction of ball and dry face: the most that the impulse along the face can be of
    /// the one across it.
    pub friction: f64,
}

impl Contact {
    /// The least-squares fit to the reference averages; `docs/physics.md` has the
    /// residuals, and a test fails when these are no longer the best.
    pub const CALIBRATED: Contact = Contact {
        solid: 0.7575,
        fading: 0.002,
        grip: 0.2261,
        friction: 0.40,
    };
}

/// The launch of a delivery by a head.
///
/// ```
/// use tally_core::physics::{club::Club, impact::{Delivery, strike}};
/// // 100 mph, a degree up, 13° of loft; then the same off the toe.
/// let middle = Delivery::straight(44.7, 1.0, 13.0);
/// let toe = Delivery { impact_toe: 0.015, ..middle };
/// let head = Club::Driver.head();
/// let (sound, off) = (strike(&middle, &head)?, strike(&toe, &head)?);
/// assert!(off.ball_speed < sound.ball_speed);
/// assert!(off.spin_axis_deg < sound.spin_axis_deg); // The gear effect draws it.
/// # Ok::<(), tally_core::vocabulary::invalid::Invalid>(())
/// ```
///
/// # Errors
/// [`Invalid`] outside the domain of [`Delivery::check`].
pub fn strike(delivery: &Delivery, head: &Head) -> Result<Launch, Invalid> {
    delivery.check()?;
    Ok(strike_with(delivery, head, &Contact::CALIBRATED))
}

/// The launch of a checked delivery with given coefficients; for calibration and for
/// simulated swings.
pub fn strike_with(delivery: &Delivery, head: &Head, contact: &Contact) -> Launch {
    let (toe, high) = (delivery.impact_toe, delivery.impact_high);
    let normal = direction(
        delivery.dynamic_loft_deg + (high * head.bulge).to_degrees(),
        delivery.face_angle_deg + (toe * head.bulge).to_degrees(),
    );
    let club = direction(delivery.angle_of_attack_deg, delivery.club_path_deg)
        * (delivery.club_speed * (1.0 + TOE_GAIN * toe));
    let inward = club.dot(&normal);

    let [about_vertical, about_heel_toe] = head.inertia;
    let felt = 1.0 / (1.0 / head.mass + toe * toe / about_vertical + high * high / about_heel_toe);
    let off_centre = (toe * toe + high * high) / (SPRING_WIDTH * SPRING_WIDTH);
    let restitution = (contact.solid - contact.fading * (inward - SOLID_AT)
        + head.spring * (-off_centre).exp())
    .clamp(0.0, LEGAL_RESTITUTION);
    let out = inward * (1.0 + restitution) * felt / (felt + BALL_MASS);

    // The face turning under the blow moves up or to the toe where it is struck.
    let turning = head.depth * BALL_MASS * out;
    let right = Vector3::new(0.0, -1.0, 0.0);
    let gear =
        right * (turning * toe / about_vertical) + Vector3::z() * (turning * high / about_heel_toe);
    let gear = gear - normal * gear.dot(&normal);
    let sliding = club - normal * inward + gear;
    // A solid sphere (2/5 m r²) ends rolling on a free head, which turns about its
    // centre of gravity as well.
    let dragged = 1.0 / head.mass + head.depth * head.depth / about_heel_toe;
    let gripped = sliding * ((1.0 + contact.grip) / (3.5 + BALL_MASS * dragged));
    // Friction gives at most its share of the impulse across the face.
    let most = contact.friction * delivery.lie.friction_share() * out;
    let beyond = (gripped.norm() / most).powi(GIVING_WAY);
    let slide = gripped * (1.0 + beyond).powf(-1.0 / f64::from(GIVING_WAY));

    let ball = normal * out + slide;
    let spin = -normal.cross(&slide) * (2.5 / BALL_RADIUS);
    as_launch(&ball, &spin)
}

/// Unit vector up and to the right of the target line. Axes as in flight: x to the
/// target, y to the left, z up.
fn direction(up_deg: f64, right_deg: f64) -> Vector3<f64> {
    let (sin_up, cos_up) = up_deg.to_radians().sin_cos();
    let (sin_right, cos_right) = right_deg.to_radians().sin_cos();
    Vector3::new(cos_up * cos_right, -cos_up * sin_right, sin_up)
}

/// A ball's velocity (m/s) and spin (rad/s) as a launch. Rifle spin, about the line
/// of flight, is left out: it turns no flight.
fn as_launch(ball: &Vector3<f64>, spin: &Vector3<f64>) -> Launch {
    let level = ball.x.hypot(ball.y);
    let (up, away) = (ball.z.atan2(level), (-ball.y).atan2(ball.x));
    let right = Vector3::new(-away.sin(), -away.cos(), 0.0);
    let normal = Vector3::new(-up.sin() * away.cos(), up.sin() * away.sin(), up.cos());
    let (back, side) = (spin.dot(&right), -spin.dot(&normal));
    Launch {
        ball_speed: ball.norm(),
        launch_angle_deg: up.to_degrees(),
        launch_direction_deg: away.to_degrees(),
        spin_rate_rpm: back.hypot(side) * 30.0 / PI,
        spin_axis_deg: side.atan2(back).to_degrees().clamp(-90.0, 90.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::vocabulary::keyed::Keyed;
    use crate::vocabulary::units::MPH;

    fn struck(delivery: &Delivery, club: Club) -> Launch {
        strike(delivery, &club.head()).unwrap()
    }

    fn delivery(mph: f64, attack: f64, loft: f64) -> Delivery {
        Delivery::straight(mph * MPH, attack, loft)
    }

    #[test]
    fn an_open_face_starts_right_and_curves_right() {
        let open = Delivery {
            face_angle_deg: 3.0,
            ..delivery(90.0, -3.0, 18.0)
        };
        let struck = struck(&open, Club::Iron5);
        assert!(struck.launch_direction_deg > 1.5 && struck.spin_axis_deg > 2.0);
    }

    #[test]
    fn off_centre_costs_speed_and_a_toe_strike_turns_left() {
        let centre = struck(&delivery(100.0, 0.0, 13.0), Club::Driver);
        let toe = Delivery {
            impact_toe: 0.02,
            ..delivery(100.0, 0.0, 13.0)
        };
        let heel = Delivery {
            impact_toe: -0.02,
            ..toe
        };
        let (toe, heel) = (struck(&toe, Club::Driver), struck(&heel, Club::Driver));
        assert!(toe.ball_speed < centre.ball_speed * 0.99);
        // The heel comes through slower than the toe.
        assert!(heel.ball_speed < toe.ball_speed - 1.0);
        assert!(toe.spin_axis_deg < centre.spin_axis_deg - 5.0);
    }

    #[test]
    fn high_on_the_face_launches_higher_with_less_spin() {
        let centre = struck(&delivery(100.0, 0.0, 13.0), Club::Driver);
        let high = Delivery {
            impact_high: 0.01,
            ..delivery(100.0, 0.0, 13.0)
        };
        let high = struck(&high, Club::Driver);
        assert!(high.launch_angle_deg > centre.launch_angle_deg);
        assert!(high.spin_rate_rpm < centre.spin_rate_rpm);
    }

    #[test]
    fn a_square_centred_blow_keeps_momentum_and_makes_no_energy() {
        let head = Club::Driver.head();
        let flat = strike(&delivery(100.0, 0.0, 0.0), &head).unwrap();
        let left = 100.0 * MPH - flat.ball_speed * BALL_MASS / head.mass;
        let before = head.mass * (100.0 * MPH).powi(2);
        let after = head.mass * left * left + BALL_MASS * flat.ball_speed.powi(2);
        assert!(left > 0.0 && after < before);
        assert_eq!(flat.spin_rate_rpm, 0.0);
    }

    #[test]
    fn no_delivery_beats_the_legal_smash() {
        for more in 0..20 {
            for club in Club::all() {
                let least = club.reference_delivery(40.0).dynamic_loft_deg - 3.0;
                let loft = least + f64::from(more);
                let ball = struck(&delivery(70.0, 0.0, loft), club).ball_speed;
                assert!(ball / (70.0 * MPH) < LEGAL_SMASH, "{club:?} {loft}");
            }
        }
    }

    #[test]
    fn the_curve_starts_between_face_and_path_nearer_the_face() {
        let fade = Delivery {
            club_path_deg: -4.0,
            ..delivery(90.0, -3.0, 20.0)
        };
        let away = struck(&fade, Club::Iron6).launch_direction_deg;
        assert!((-1.6..-0.2).contains(&away), "{away}");
    }

    #[test]
    fn shaft_lean_takes_loft_off_degree_for_degree() {
        let leant = delivery(90.0, -4.0, 0.0).held(34.0, 8.0).unwrap();
        assert_eq!(leant.dynamic_loft_deg, 26.0);
        let refused = delivery(90.0, -4.0, 0.0).held(34.0, 80.0).unwrap_err();
        assert_eq!(refused.field, "shaft_lean_deg");
    }

    #[test]
    fn a_face_that_meets_the_ball_from_above_is_refused() {
        let refused = strike(&delivery(90.0, 5.0, 3.0), &Club::Iron6.head()).unwrap_err();
        assert_eq!(refused.field, "dynamic_loft_deg");
    }

    #[test]
    fn mirrored_deliveries_leave_mirrored() {
        let one = Delivery {
            club_path_deg: 4.0,
            face_angle_deg: 1.0,
            impact_high: 0.005,
            ..delivery(90.0, -3.0, 18.0)
        };
        let other = Delivery {
            club_path_deg: -4.0,
            face_angle_deg: -1.0,
            ..one
        };
        let (a, b) = (struck(&one, Club::Iron5), struck(&other, Club::Iron5));
        assert!((a.spin_axis_deg + b.spin_axis_deg).abs() < 1e-9);
        assert!((a.launch_direction_deg + b.launch_direction_deg).abs() < 1e-9);
        assert_eq!(a.ball_speed, b.ball_speed);
    }
}
