//! How a ball leaves the club, and how the air takes hold of it.

use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Mass of a ball, kg: the most the rules of golf allow.
pub const BALL_MASS: f64 = 0.045_93;
/// Radius of a ball, m: the least the rules of golf allow.
pub const BALL_RADIUS: f64 = 0.021_335;

/// How a ball leaves the club.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Launch {
    /// Ball speed, m/s.
    pub ball_speed: f64,
    /// Up from the horizon, deg.
    pub launch_angle_deg: f64,
    /// Right (+) of the target line, deg.
    pub launch_direction_deg: f64,
    /// Total spin, rpm.
    pub spin_rate_rpm: f64,
    /// Tilt of the spin axis, deg, + tilts the flight to the right.
    pub spin_axis_deg: f64,
}

impl Launch {
    /// The same at another ball speed, m/s.
    #[must_use]
    pub fn at(self, ball_speed: f64) -> Self {
        Launch { ball_speed, ..self }
    }

    /// Checks every field against the domain in which the model is valid.
    ///
    /// # Errors
    /// [`Invalid`] outside ball speed 5…110 m/s, launch −10…75°, direction ±60°,
    /// spin 0…15,000 rpm, axis ±90°.
    pub fn check(&self) -> Result<(), Invalid> {
        for (key, value) in [
            ("ball_speed", self.ball_speed),
            ("launch_angle_deg", self.launch_angle_deg),
            ("launch_direction_deg", self.launch_direction_deg),
            ("spin_rate_rpm", self.spin_rate_rpm),
            ("spin_axis_deg", self.spin_axis_deg),
        ] {
            inputs::check(key, value)?;
        }
        Ok(())
    }
}

/// Drag and lift of a ball, as smooth functions of spin ratio S and Reynolds number.
///
/// ```text
/// Cl = lift_most · S / (S + lift_half)
/// Cd = drag_least + drag_spin · S / (S + drag_half) + drag_slow · exp(−(Re / slow_re)⁶)
/// ```
///
/// Lift saturates with spin; drag grows with spin, and once more where a slow ball
/// loses the benefit of its dimples (the drag crisis).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Aero {
    /// Lift coefficient that very high spin approaches.
    pub lift_most: f64,
    /// Spin ratio at which half of it is reached.
    pub lift_half: f64,
    /// Drag coefficient of a fast ball without spin. Held fixed in calibration: the
    /// reference flights all spin, so they cannot tell it from `drag_spin`.
    pub drag_least: f64,
    /// Drag coefficient that very high spin adds.
    pub drag_spin: f64,
    /// Spin ratio at which half of it is added.
    pub drag_half: f64,
    /// Drag coefficient that a very slow ball adds.
    pub drag_slow: f64,
    /// Reynolds number about which that happens. Held fixed at the end of a dimpled
    /// ball's drag crisis (Bearman & Harvey 1976).
    pub slow_re: f64,
}

impl Aero {
    /// The least-squares fit to the reference averages and to what thin air is known to
    /// do; `docs/physics.md` has the residuals, and a test fails when these are no longer the best.
    pub const CALIBRATED: Aero = Aero {
        lift_most: 0.4956,
        lift_half: 0.1846,
        drag_least: 0.12,
        drag_spin: 0.3106,
        drag_half: 0.1673,
        drag_slow: 0.1853,
        slow_re: 0.70e5,
    };

    /// Drag and lift coefficients.
    #[inline]
    pub(crate) fn coefficients(&self, spin_ratio: f64, reynolds: f64) -> (f64, f64) {
        let slow = (reynolds / self.slow_re).powi(3);
        let drag = self.drag_least
            + self.drag_spin * spin_ratio / (spin_ratio + self.drag_half)
            + self.drag_slow * (-slow * slow).exp();
        let lift = self.lift_most * spin_ratio / (spin_ratio + self.lift_half);
        (drag, lift)
    }
}
