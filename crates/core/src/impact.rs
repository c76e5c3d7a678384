//! What leaves the club when it meets the ball.
//!
//! Oblique impact of a free club head on a ball (Cochran & Stobbs 1968; Penner 2001,
//! 2003): along the face normal, restitution and effective masses give the ball its
//! speed; along the face, sliding turns into rolling and gives it spin, with a
//! tangential restitution that grows with spin loft (thin contact slips, a lofted
//! one winds the ball up). Off-centre strikes lose speed and, by the gear effect,
//! tilt and change the spin.

use crate::flight::{BALL_RADIUS, Launch};
use std::f64::consts::PI;

/// Mass of a ball, kg.
const BALL_MASS: f64 = 0.045_93;
/// Restitution lost as the blow turns from square to glancing.
const GLANCE_LOSS: f64 = 0.223;
/// Tangential restitution: what it tends to, its fall with spin loft, and the slip
/// of a nearly square blow. Set by hand near the reference averages, for the simulator.
const TANGENTIAL: [f64; 4] = [0.555, -0.519, -36.8, 0.06];
/// Ball speed lost per squared distance off centre, 1/m².
const OFF_CENTRE_LOSS: f64 = 160.0;
/// Spin axis tilted per metre toward the toe, deg/m (a toe strike curves left).
const GEAR_AXIS: f64 = -550.0;
/// Share of spin lost per metre high on the face, 1/m.
const GEAR_SPIN: f64 = 14.0;
/// Launch gained per metre high on the face (bulge and roll, give of the head), deg/m.
const HIGH_LAUNCH: f64 = 120.0;

/// What a club head brings to an impact.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Head {
    /// Mass, kg.
    pub mass: f64,
    /// Restitution of a square blow.
    pub restitution: f64,
}

/// How the club meets the ball.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Delivery {
    /// Club speed, m/s.
    pub club_speed: f64,
    /// Angle of attack, deg, + is upward.
    pub angle_of_attack_deg: f64,
    /// Loft delivered, deg.
    pub dynamic_loft_deg: f64,
    /// Club path, deg, + is right.
    pub club_path_deg: f64,
    /// Face angle, deg, + is right.
    pub face_angle_deg: f64,
    /// Impact toward the toe (+), m.
    pub impact_toe: f64,
    /// Impact high (+) on the face, m.
    pub impact_high: f64,
}

/// The launch of a delivery by a head.
pub fn strike(delivery: &Delivery, head: &Head) -> Launch {
    let across = delivery.face_angle_deg - delivery.club_path_deg;
    let upward = delivery.dynamic_loft_deg - delivery.angle_of_attack_deg;
    let spin_loft = upward.hypot(across).to_radians();
    let (normal, along) = (
        delivery.club_speed * spin_loft.cos(),
        delivery.club_speed * spin_loft.sin(),
    );

    let off_centre = delivery.impact_toe.powi(2) + delivery.impact_high.powi(2);
    let restitution = head.restitution - GLANCE_LOSS * spin_loft.sin().powi(2);
    let out = normal * (1.0 + restitution) * head.mass / (head.mass + BALL_MASS)
        * (1.0 - OFF_CENTRE_LOSS * off_centre);

    let [most, fall, slip, width] = TANGENTIAL;
    let tangential =
        (most + fall * spin_loft.sin() + slip * (-spin_loft.sin() / width).exp()).clamp(-0.6, 0.6);
    // Rolling at the end: a solid sphere (2/5 m r²) on a free head.
    let slide = along * (1.0 + tangential) / (3.5 + BALL_MASS / head.mass);
    let spin = 2.5 * slide / BALL_RADIUS * 30.0 / PI;

    // The ball leaves between face and path, nearer the face, in the plane of both.
    let from_face = slide.atan2(out).to_degrees() / spin_loft.to_degrees().max(1e-9);
    Launch {
        ball_speed: out.hypot(slide),
        launch_angle_deg: delivery.dynamic_loft_deg - upward * from_face
            + HIGH_LAUNCH * delivery.impact_high,
        launch_direction_deg: delivery.face_angle_deg - across * from_face,
        spin_rate_rpm: spin * (1.0 - GEAR_SPIN * delivery.impact_high).max(0.2),
        spin_axis_deg: (across.atan2(upward).to_degrees() + GEAR_AXIS * delivery.impact_toe)
            .clamp(-85.0, 85.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::club::Club;
    use crate::units::MPH;

    fn delivery(mph: f64, attack: f64, loft: f64) -> Delivery {
        Delivery {
            club_speed: mph * MPH,
            angle_of_attack_deg: attack,
            dynamic_loft_deg: loft,
            club_path_deg: 0.0,
            face_angle_deg: 0.0,
            impact_toe: 0.0,
            impact_high: 0.0,
        }
    }

    #[test]
    fn elite_deliveries_leave_near_their_published_launches() {
        // Published averages; the dynamic loft is the one that gives their launch.
        for (club, mph, attack, loft, ball, launch, spin) in [
            (Club::Driver, 113.0, -1.3, 13.2, 167.0, 10.9, 2686.0),
            (Club::Iron6, 92.0, -4.1, 20.0, 127.0, 14.1, 6231.0),
            (Club::WedgePitching, 83.0, -5.0, 34.6, 102.0, 24.2, 9304.0),
        ] {
            let struck = strike(&delivery(mph, attack, loft), &club.head());
            assert!(
                (struck.ball_speed / MPH - ball).abs() < 4.0,
                "{club:?} {}",
                struck.ball_speed / MPH
            );
            assert!(
                (struck.launch_angle_deg - launch).abs() < 2.0,
                "{club:?} {}",
                struck.launch_angle_deg
            );
            assert!(
                (struck.spin_rate_rpm / spin - 1.0).abs() < 0.25,
                "{club:?} {}",
                struck.spin_rate_rpm
            );
        }
    }

    #[test]
    fn an_open_face_starts_right_and_curves_right() {
        let open = Delivery {
            face_angle_deg: 3.0,
            ..delivery(90.0, -3.0, 18.0)
        };
        let struck = strike(&open, &Club::Iron5.head());
        assert!(struck.launch_direction_deg > 1.5 && struck.spin_axis_deg > 2.0);
    }

    #[test]
    fn off_centre_costs_speed_and_a_toe_strike_turns_left() {
        let centre = strike(&delivery(100.0, 0.0, 13.0), &Club::Driver.head());
        let toe = Delivery {
            impact_toe: 0.02,
            ..delivery(100.0, 0.0, 13.0)
        };
        let toe = strike(&toe, &Club::Driver.head());
        assert!(toe.ball_speed < centre.ball_speed * 0.97);
        assert!(toe.spin_axis_deg < centre.spin_axis_deg - 5.0);
    }

    #[test]
    fn high_on_the_face_launches_higher_with_less_spin() {
        let centre = strike(&delivery(100.0, 0.0, 13.0), &Club::Driver.head());
        let high = Delivery {
            impact_high: 0.01,
            ..delivery(100.0, 0.0, 13.0)
        };
        let high = strike(&high, &Club::Driver.head());
        assert!(high.launch_angle_deg > centre.launch_angle_deg);
        assert!(high.spin_rate_rpm < centre.spin_rate_rpm);
    }

    #[test]
    fn mirrored_deliveries_leave_mirrored() {
        let one = Delivery {
            club_path_deg: 4.0,
            face_angle_deg: 1.0,
            impact_toe: 0.005,
            ..delivery(90.0, -3.0, 18.0)
        };
        let other = Delivery {
            club_path_deg: -4.0,
            face_angle_deg: -1.0,
            impact_toe: -0.005,
            ..one
        };
        let (a, b) = (
            strike(&one, &Club::Iron5.head()),
            strike(&other, &Club::Iron5.head()),
        );
        assert!((a.spin_axis_deg + b.spin_axis_deg).abs() < 1e-9);
        assert!((a.launch_direction_deg + b.launch_direction_deg).abs() < 1e-9);
        assert_eq!(a.ball_speed, b.ball_speed);
    }
}
