//! The inverse of impact: which deliveries explain a launch that was measured.
//!
//! Five measured values (ball speed, launch angle and direction, spin rate and axis)
//! fix five of the delivery (club speed, attack, loft, path, face) once the place on
//! the face is given. Solved by damped Newton steps on the impact model itself.

use super::{Contact, Delivery, Head, Lie, strike_with};
use crate::physics::launch::Launch;
use nalgebra::{SMatrix, SVector};
use serde::Serialize;
use utoipa::ToSchema;

type Five = SVector<f64, 5>;

/// Strike heights that are tried, m: low, centred and high.
const HEIGHTS: [f64; 3] = [-0.008, 0.0, 0.008];
/// Attack angles beyond this, deg, are no one's swing at a ball on the ground.
const STEEPEST: f64 = 12.0;

/// A delivery that the model turns into the measured launch.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Explanation {
    /// The delivery.
    pub delivery: Delivery,
    /// Ball speed over its club speed.
    pub smash_factor: f64,
}

/// The deliveries that explain `launch`, for a strike low, centred and high on the
/// face; those that no swing makes are left out, so there may be none.
pub fn explain(launch: &Launch, head: &Head) -> Vec<Explanation> {
    HEIGHTS
        .iter()
        .filter_map(|&high| delivery_of(launch, head, [0.0, high]))
        .map(|delivery| Explanation {
            delivery,
            smash_factor: launch.ball_speed / delivery.club_speed,
        })
        .collect()
}

/// The one delivery struck at `[toe, high]` (m) that gives `launch`, if there is one.
pub fn delivery_of(launch: &Launch, head: &Head, [toe, high]: [f64; 2]) -> Option<Delivery> {
    let delivery = |at: &Five| Delivery {
        club_speed: at[0],
        angle_of_attack_deg: at[1],
        dynamic_loft_deg: at[2],
        club_path_deg: at[3],
        face_angle_deg: at[4],
        impact_toe: toe,
        impact_high: high,
        lie: Lie::Dry,
    };
    let wanted = coordinates(launch);
    let miss =
        |at: &Five| coordinates(&strike_with(&delivery(at), head, &Contact::CALIBRATED)) - wanted;
    let away = launch.launch_direction_deg;
    let mut at = Five::from([
        launch.ball_speed / 1.4,
        -2.0,
        launch.launch_angle_deg.max(0.0) * 1.2 + 3.0,
        away,
        away,
    ]);
    let mut error = miss(&at);
    for _ in 0..60 {
        if error.amax() < 1e-9 {
            break;
        }
        let mut jacobian = SMatrix::<f64, 5, 5>::zeros();
        for i in 0..5 {
            let mut moved = at;
            moved[i] += 1e-5;
            jacobian.set_column(i, &((miss(&moved) - error) / 1e-5));
        }
        let step = jacobian.lu().solve(&error)?;
        // A step no longer than the linear picture can be trusted for.
        let damp = (4.0 / step.amax()).min(1.0);
        at -= step * damp;
        error = miss(&at);
    }
    let found = delivery(&at);
    let swung = found.check().is_ok() && found.angle_of_attack_deg.abs() <= STEEPEST;
    (error.amax() < 1e-6 && swung).then_some(found)
}

/// A launch in coordinates of like size: m/s, deg, deg, and spin as m/s of ball skin.
fn coordinates(launch: &Launch) -> Five {
    let (side, back) = launch.spin_axis_deg.to_radians().sin_cos();
    let skin = launch.spin_rate_rpm / 450.0;
    Five::from([
        launch.ball_speed,
        launch.launch_angle_deg,
        launch.launch_direction_deg,
        skin * back,
        skin * side,
    ])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn the_delivery_of_a_struck_ball_is_found_again(
            speed in 25.0..55.0f64, attack in -7.0..6.0f64, spin_loft in 8.0..42.0f64,
            path in -8.0..8.0f64, face in -6.0..6.0f64, toe in -0.015..0.015f64,
        ) {
            let struck = Delivery {
                club_path_deg: path,
                face_angle_deg: face,
                impact_toe: toe,
                ..Delivery::straight(speed, attack, attack + spin_loft)
            };
            prop_assume!(struck.check().is_ok());
            let head = Club::Iron5.head();
            let launch = strike_with(&struck, &head, &Contact::CALIBRATED);
            let found = delivery_of(&launch, &head, [toe, 0.0]);
            prop_assert!(found.is_some(), "{struck:?}");
            let found = found.unwrap();
            prop_assert!((found.club_speed - speed).abs() < 1e-4, "{found:?} {struck:?}");
            prop_assert!((found.angle_of_attack_deg - attack).abs() < 1e-3);
            prop_assert!((found.face_angle_deg - face).abs() < 1e-3);
        }
    }

    #[test]
    fn a_launch_that_no_club_gives_has_no_delivery() {
        let impossible = Launch {
            ball_speed: 70.0,
            launch_angle_deg: 12.0,
            launch_direction_deg: 0.0,
            spin_rate_rpm: 14_000.0,
            spin_axis_deg: 0.0,
        };
        assert_eq!(explain(&impossible, &Club::Driver.head()), []);
    }

    #[test]
    fn struck_higher_the_same_launch_came_from_more_spin_loft() {
        let head = Club::Driver.head();
        let launch = Club::Driver.reference_launch(46.0);
        let told = explain(&launch, &head);
        assert_eq!(told.len(), 3, "{told:?}");
        let spin_loft =
            |e: &Explanation| e.delivery.dynamic_loft_deg - e.delivery.angle_of_attack_deg;
        assert!(
            spin_loft(&told[0]) < spin_loft(&told[1]) && spin_loft(&told[1]) < spin_loft(&told[2])
        );
    }
}
