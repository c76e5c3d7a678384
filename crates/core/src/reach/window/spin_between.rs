//! Which spins a launch leaves open when none was measured.

use super::{Freedom, Range};
use crate::physics::club::Club;
use crate::physics::furthest::{LEAST_SPIN_LOFT_DEG, struck_at};
use crate::physics::impact::{Delivery, Head};

/// Strike above or below the usual place that is reckoned with, m.
const HIGH_OR_LOW: f64 = 0.008;

/// Between which spins (rpm) a ball of this speed (m/s) and launch angle (deg) was struck,
/// by the impact model: over the attacks that are free, struck up to 8 mm above and below where
/// the club is usually met, with the model's own tenth either way. Nothing where no delivery gives it.
pub fn spin_between(
    club: Club,
    ball_speed: f64,
    launch_angle_deg: f64,
    freedom: Freedom,
) -> Option<Range> {
    let [from, to] = freedom.angle_of_attack_deg;
    let attacks = (0..5).map(|step| from + (to - from) * f64::from(step) / 4.0);
    let strikes = attacks.flat_map(|attack| {
        let usual = club.reference_delivery(ball_speed / 1.4);
        [-HIGH_OR_LOW, 0.0, HIGH_OR_LOW].map(|higher| Delivery {
            angle_of_attack_deg: attack,
            dynamic_loft_deg: attack + LEAST_SPIN_LOFT_DEG / 2.0,
            impact_high: usual.impact_high + higher,
            ..usual
        })
    });
    let head = club.head();
    let spins = Range::over(
        strikes.filter_map(|strike| spin_at_launch(strike, &head, ball_speed, launch_angle_deg)),
    );
    (spins.from <= spins.to).then_some(Range {
        from: 0.9 * spins.from,
        to: 1.1 * spins.to,
    })
}

/// The spin of a delivery once its loft launches the ball at an angle and its speed sends
/// it off at a speed; `least` has the least loft that is tried.
fn spin_at_launch(
    least: Delivery,
    head: &Head,
    ball_speed: f64,
    launch_angle_deg: f64,
) -> Option<f64> {
    let struck = |dynamic_loft_deg: f64| {
        let delivery = Delivery {
            dynamic_loft_deg,
            ..least
        };
        struck_at(delivery, head, ball_speed).1
    };
    let reaches = |loft: f64| struck(loft).launch_angle_deg >= launch_angle_deg;
    let (mut low, mut high) = (least.dynamic_loft_deg, 70.0);
    // The launch rises with the loft.
    if reaches(low) || !reaches(high) {
        return None;
    }
    for _ in 0..30 {
        let middle = 0.5 * (low + high);
        if reaches(middle) {
            high = middle;
        } else {
            low = middle;
        }
    }
    Some(struck(high).spin_rate_rpm)
}
