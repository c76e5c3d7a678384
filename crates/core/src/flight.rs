//! Where a ball goes once it has left the club.
//!
//! A point mass under gravity, drag and lift, in still air:
//!
//! ```text
//! m dv/dt = m g − ½ρA·Cd·|v|·v + ½ρA·Cl·|v|²·(ŝ × v̂)
//! dω/dt   = −2.0e-5 · ω·|v| / r                          (Smits & Smith 1994)
//! ```
//!
//! `ŝ` is the spin axis, fixed in space. Cd and Cl are smooth functions of the spin
//! ratio S = ωr/|v| and the Reynolds number (Bearman & Harvey 1976; Smits & Smith
//! 1994; see [`Aero`]), calibrated by `examples/calibrate_flight.rs`. Integration is
//! adaptive Dormand & Prince (1980) 5(4); apex and landing are found on each step's
//! cubic Hermite interpolant.

use crate::air::{Air, Conditions};
use crate::invalid::{Invalid, within};
use std::f64::consts::PI;

/// Standard gravity, m/s².
const GRAVITY: f64 = 9.806_65;
/// Mass of a ball, kg: the most the rules of golf allow.
const BALL_MASS: f64 = 0.045_93;
/// Radius of a ball, m: the least the rules of golf allow.
pub const BALL_RADIUS: f64 = 0.021_335;
/// Spin decay constant (Smits & Smith 1994).
const SPIN_DECAY: f64 = 2.0e-5;
/// Error allowed per step, m and m/s; keeps carry within 0.1 yd of a 1 ms RK4.
const TOLERANCE: f64 = 3e-4;
/// No flight in the accepted domain lasts longer, s.
const LONGEST: f64 = 30.0;

/// How a ball leaves the club.
#[derive(Debug, Clone, Copy, PartialEq)]
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
    /// Checks every field against the domain in which the model is valid.
    ///
    /// # Errors
    /// [`Invalid`] outside ball speed 5…100 m/s, launch −10…75°, direction ±60°,
    /// spin 0…15,000 rpm, axis ±90°.
    pub fn check(&self) -> Result<(), Invalid> {
        within("ball_speed", self.ball_speed, 5.0..=100.0, "m/s")?;
        within(
            "launch_angle_deg",
            self.launch_angle_deg,
            -10.0..=75.0,
            "deg",
        )?;
        within(
            "launch_direction_deg",
            self.launch_direction_deg,
            -60.0..=60.0,
            "deg",
        )?;
        within("spin_rate_rpm", self.spin_rate_rpm, 0.0..=15_000.0, "rpm")?;
        within("spin_axis_deg", self.spin_axis_deg, -90.0..=90.0, "deg")?;
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
    /// ball's drag crisis: left free, it drifts to where thin air would cost carry.
    pub slow_re: f64,
}

impl Aero {
    /// The least-squares fit to the reference averages; `docs/physics.md` has the
    /// residuals, and a test fails when these are no longer the best.
    pub const CALIBRATED: Aero = Aero {
        lift_most: 0.4402,
        lift_half: 0.1555,
        drag_least: 0.12,
        drag_spin: 0.2451,
        drag_half: 0.1138,
        drag_slow: 0.3569,
        slow_re: 0.70e5,
    };

    /// Drag and lift coefficients.
    fn coefficients(&self, spin_ratio: f64, reynolds: f64) -> (f64, f64) {
        let slow = (reynolds / self.slow_re).powi(3);
        let drag = self.drag_least
            + self.drag_spin * spin_ratio / (spin_ratio + self.drag_half)
            + self.drag_slow * (-slow * slow).exp();
        let lift = self.lift_most * spin_ratio / (spin_ratio + self.lift_half);
        (drag, lift)
    }
}

/// What became of a ball, up to its first touch of level ground.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flight {
    /// Straight-line distance from the tee to the landing point, m.
    pub carry: f64,
    /// Landing point right (+) of the target line, m.
    pub side: f64,
    /// Peak height, m.
    pub apex: f64,
    /// Angle below the horizon at landing, deg.
    pub landing_angle_deg: f64,
    /// Speed at landing, m/s.
    pub landing_speed: f64,
    /// Spin left at landing, rpm.
    pub landing_spin_rpm: f64,
    /// Time in the air, s.
    pub hang_time: f64,
}

/// Flies `launch` through the air of `conditions`.
///
/// ```
/// use tally_core::air::Conditions;
/// use tally_core::flight::{Launch, fly};
/// let launch = Launch {
///     ball_speed: 53.2, // 119 mph
///     launch_angle_deg: 13.2,
///     launch_direction_deg: 0.0,
///     spin_rate_rpm: 4080.0,
///     spin_axis_deg: 0.0,
/// };
/// let flight = fly(&launch, &Conditions::REFERENCE)?;
/// assert!((150.0..165.0).contains(&flight.carry));
/// # Ok::<(), tally_core::invalid::Invalid>(())
/// ```
///
/// # Errors
/// [`Invalid`] outside the domain of [`Launch::check`] and [`Conditions::air`].
pub fn fly(launch: &Launch, conditions: &Conditions) -> Result<Flight, Invalid> {
    launch.check()?;
    Ok(fly_with(launch, &conditions.air()?, &Aero::CALIBRATED))
}

/// Flies a checked launch with given coefficients; for calibration.
pub fn fly_with(launch: &Launch, air: &Air, aero: &Aero) -> Flight {
    let forces = Forces::new(launch, air, aero);
    let mut at = forces.start(launch);
    let mut slope = forces.slope(&at);
    let (mut time, mut step, mut apex) = (0.0, 0.02, 0.0_f64);
    loop {
        let (next, next_slope, error) = forces.dormand_prince(&at, &slope, step);
        if error > TOLERANCE {
            step *= (0.9 * (TOLERANCE / error).powf(0.2)).max(0.2);
            continue;
        }
        let stretch = Stretch {
            from: &at,
            from_slope: &slope,
            to: &next,
            to_slope: &next_slope,
            step,
        };
        if at[VZ] > 0.0 && next[VZ] <= 0.0 {
            let peak = stretch.crossing(VZ);
            apex = apex.max(stretch.at(peak)[Z]);
        }
        if next[Z] <= 0.0 || time > LONGEST {
            let touch = stretch.crossing(Z);
            return landed(&stretch.at(touch), apex, time + touch * step);
        }
        time += step;
        at = next;
        slope = next_slope;
        step *= (0.9 * (TOLERANCE / error.max(1e-9)).powf(0.2)).clamp(0.3, 4.0);
    }
}

/// State of a ball: position (m), velocity (m/s), spin (rad/s). Axes: x to the
/// target, y to the left, z up.
type State = [f64; 7];
const X: usize = 0;
const Y: usize = 1;
const Z: usize = 2;
const VX: usize = 3;
const VY: usize = 4;
const VZ: usize = 5;
const SPIN: usize = 6;

fn landed(at: &State, apex: f64, hang_time: f64) -> Flight {
    let ground_speed = at[VX].hypot(at[VY]);
    Flight {
        carry: at[X].hypot(at[Y]),
        side: -at[Y],
        apex,
        landing_angle_deg: (-at[VZ]).atan2(ground_speed).to_degrees(),
        landing_speed: ground_speed.hypot(at[VZ]),
        landing_spin_rpm: at[SPIN] * 30.0 / PI,
        hang_time,
    }
}

/// The forces on one ball in one air, with what does not change worked out once.
struct Forces<'a> {
    aero: &'a Aero,
    /// Spin axis, unit vector fixed in space.
    axis: [f64; 3],
    /// ½ρA/m, 1/m.
    pressure_per_mass: f64,
    /// Reynolds number per speed, s/m.
    reynolds_per_speed: f64,
}

impl<'a> Forces<'a> {
    fn new(launch: &Launch, air: &Air, aero: &'a Aero) -> Self {
        let (up, away) = (
            launch.launch_angle_deg.to_radians(),
            launch.launch_direction_deg.to_radians(),
        );
        let tilt = launch.spin_axis_deg.to_radians();
        // Right of the flight, and the upward normal to it; the axis of pure backspin
        // points right, and tilting it dips its right end.
        let right = [-away.sin(), -away.cos(), 0.0];
        let normal = [-up.sin() * away.cos(), up.sin() * away.sin(), up.cos()];
        let axis = std::array::from_fn(|i| right[i] * tilt.cos() - normal[i] * tilt.sin());
        Self {
            aero,
            axis,
            pressure_per_mass: 0.5 * air.density * PI * BALL_RADIUS * BALL_RADIUS / BALL_MASS,
            reynolds_per_speed: air.density * 2.0 * BALL_RADIUS / air.viscosity,
        }
    }

    fn start(&self, launch: &Launch) -> State {
        let (up, away) = (
            launch.launch_angle_deg.to_radians(),
            launch.launch_direction_deg.to_radians(),
        );
        let level = launch.ball_speed * up.cos();
        [
            0.0,
            0.0,
            0.0,
            level * away.cos(),
            -level * away.sin(),
            launch.ball_speed * up.sin(),
            launch.spin_rate_rpm * PI / 30.0,
        ]
    }

    fn slope(&self, at: &State) -> State {
        let [_, _, _, vx, vy, vz, spin] = *at;
        let speed = (vx * vx + vy * vy + vz * vz).sqrt().max(1e-6);
        let (drag, lift) = self
            .aero
            .coefficients(spin * BALL_RADIUS / speed, self.reynolds_per_speed * speed);
        let slow = self.pressure_per_mass * drag * speed;
        let turn = self.pressure_per_mass * lift * speed;
        let [ax, ay, az] = self.axis;
        [
            vx,
            vy,
            vz,
            -slow * vx + turn * (ay * vz - az * vy),
            -slow * vy + turn * (az * vx - ax * vz),
            -slow * vz + turn * (ax * vy - ay * vx) - GRAVITY,
            -SPIN_DECAY * spin * speed / BALL_RADIUS,
        ]
    }

    /// One step of Dormand & Prince (1980): the new state, its slope, and the error.
    fn dormand_prince(&self, at: &State, k1: &State, h: f64) -> (State, State, f64) {
        let sum = |terms: &[(f64, &State)]| -> State {
            std::array::from_fn(|i| at[i] + h * terms.iter().map(|(b, k)| b * k[i]).sum::<f64>())
        };
        let k2 = self.slope(&sum(&[(1.0 / 5.0, k1)]));
        let k3 = self.slope(&sum(&[(3.0 / 40.0, k1), (9.0 / 40.0, &k2)]));
        let k4 = self.slope(&sum(&[
            (44.0 / 45.0, k1),
            (-56.0 / 15.0, &k2),
            (32.0 / 9.0, &k3),
        ]));
        let k5 = self.slope(&sum(&[
            (19372.0 / 6561.0, k1),
            (-25360.0 / 2187.0, &k2),
            (64448.0 / 6561.0, &k3),
            (-212.0 / 729.0, &k4),
        ]));
        let k6 = self.slope(&sum(&[
            (9017.0 / 3168.0, k1),
            (-355.0 / 33.0, &k2),
            (46732.0 / 5247.0, &k3),
            (49.0 / 176.0, &k4),
            (-5103.0 / 18656.0, &k5),
        ]));
        let next = sum(&[
            (35.0 / 384.0, k1),
            (500.0 / 1113.0, &k3),
            (125.0 / 192.0, &k4),
            (-2187.0 / 6784.0, &k5),
            (11.0 / 84.0, &k6),
        ]);
        let k7 = self.slope(&next);
        // Spin is left out: it is in other units and far smoother than the motion.
        let error = (0..SPIN)
            .map(|i| {
                h * (71.0 / 57600.0 * k1[i] - 71.0 / 16695.0 * k3[i] + 71.0 / 1920.0 * k4[i]
                    - 17253.0 / 339_200.0 * k5[i]
                    + 22.0 / 525.0 * k6[i]
                    - 1.0 / 40.0 * k7[i])
                    .abs()
            })
            .fold(0.0, f64::max);
        (next, k7, error)
    }
}

/// One accepted step, with the cubic Hermite interpolant through it.
struct Stretch<'a> {
    from: &'a State,
    from_slope: &'a State,
    to: &'a State,
    to_slope: &'a State,
    step: f64,
}

impl Stretch<'_> {
    /// State at a share `t` (0…1) of the step.
    fn at(&self, t: f64) -> State {
        std::array::from_fn(|i| self.component(i, t))
    }

    fn component(&self, i: usize, t: f64) -> f64 {
        let (u, h) = (1.0 - t, self.step);
        self.from[i] * u * u * (1.0 + 2.0 * t)
            + self.to[i] * t * t * (3.0 - 2.0 * t)
            + h * t * u * (u * self.from_slope[i] - t * self.to_slope[i])
    }

    /// Share of the step at which component `i` falls through zero.
    fn crossing(&self, i: usize) -> f64 {
        let (mut low, mut high) = (0.0, 1.0);
        for _ in 0..40 {
            let middle = 0.5 * (low + high);
            if self.component(i, middle) > 0.0 {
                low = middle;
            } else {
                high = middle;
            }
        }
        high
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{MPH, YARD};
    use proptest::prelude::*;

    fn launch(ball_speed: f64, launch_angle_deg: f64, spin_rate_rpm: f64) -> Launch {
        Launch {
            ball_speed,
            launch_angle_deg,
            launch_direction_deg: 0.0,
            spin_rate_rpm,
            spin_axis_deg: 0.0,
        }
    }

    fn driver() -> Launch {
        launch(150.0 * MPH, 12.0, 2600.0)
    }

    /// The same equations by fixed 1 ms RK4, landing by straight line: the yardstick.
    fn rk4(launch: &Launch, air: &Air) -> Flight {
        let forces = Forces::new(launch, air, &Aero::CALIBRATED);
        let mut at = forces.start(launch);
        let (h, mut time, mut apex) = (1e-3, 0.0, 0.0_f64);
        loop {
            let step = |k: &State, h: f64| -> State { std::array::from_fn(|i| at[i] + h * k[i]) };
            let k1 = forces.slope(&at);
            let k2 = forces.slope(&step(&k1, h / 2.0));
            let k3 = forces.slope(&step(&k2, h / 2.0));
            let k4 = forces.slope(&step(&k3, h));
            let next: State = std::array::from_fn(|i| {
                at[i] + h / 6.0 * (k1[i] + 2.0 * k2[i] + 2.0 * k3[i] + k4[i])
            });
            apex = apex.max(next[Z]);
            if next[Z] <= 0.0 {
                let t = at[Z] / (at[Z] - next[Z]);
                let touch: State = std::array::from_fn(|i| at[i] + t * (next[i] - at[i]));
                return landed(&touch, apex, time + t * h);
            }
            time += h;
            at = next;
        }
    }

    #[test]
    fn without_air_a_ball_flies_the_textbook_parabola() {
        let vacuum = Air {
            density: 1e-12,
            viscosity: 1.8e-5,
        };
        let flight = fly_with(&launch(40.0, 30.0, 0.0), &vacuum, &Aero::CALIBRATED);
        let range = 40.0 * 40.0 * (60f64).to_radians().sin() / GRAVITY;
        let apex = (40.0 * (30f64).to_radians().sin()).powi(2) / (2.0 * GRAVITY);
        assert!((flight.carry - range).abs() < 1e-3);
        assert!((flight.apex - apex).abs() < 1e-3);
        assert!((flight.landing_angle_deg - 30.0).abs() < 1e-3);
    }

    #[test]
    fn zero_spin_falls_short() {
        let still = launch(150.0 * MPH, 12.0, 0.0);
        let spun = fly(&driver(), &Conditions::REFERENCE).unwrap();
        let fell = fly(&still, &Conditions::REFERENCE).unwrap();
        assert!(fell.carry < spun.carry - 20.0 * YARD);
    }

    #[test]
    fn a_ball_topped_into_the_ground_carries_nothing() {
        let topped = fly(&launch(30.0, -5.0, 1000.0), &Conditions::REFERENCE).unwrap();
        assert!(topped.carry < 0.01 && topped.hang_time < 0.01);
    }

    #[test]
    fn outside_the_domain_the_answer_is_an_error_with_the_field() {
        let refused = fly(&launch(160.0, 12.0, 2600.0), &Conditions::REFERENCE).unwrap_err();
        assert_eq!(refused.field, "ball_speed");
        assert!(fly(&launch(f64::NAN, 12.0, 2600.0), &Conditions::REFERENCE).is_err());
    }

    #[test]
    fn spin_decays_by_a_few_percent_a_second() {
        let flight = fly(&driver(), &Conditions::REFERENCE).unwrap();
        let left = flight.landing_spin_rpm / 2600.0;
        let a_second = 1.0 - left.powf(1.0 / flight.hang_time);
        assert!((0.02..0.06).contains(&a_second), "{a_second}");
    }

    proptest! {
        #[test]
        fn a_mirrored_spin_axis_mirrors_the_landing_point(
            speed in 20.0..85.0f64, up in 2.0..50.0f64, spin in 500.0..11_000.0f64,
            axis in -40.0..40.0f64, away in -10.0..10.0f64,
        ) {
            let one = Launch { launch_direction_deg: away, spin_axis_deg: axis, ..launch(speed, up, spin) };
            let other = Launch { launch_direction_deg: -away, spin_axis_deg: -axis, ..one };
            let (one, other) = (fly(&one, &Conditions::REFERENCE).unwrap(), fly(&other, &Conditions::REFERENCE).unwrap());
            prop_assert!((one.side + other.side).abs() < 1e-6);
            prop_assert!((one.carry - other.carry).abs() < 1e-6);
        }

        #[test]
        fn a_right_tilt_ends_further_right(speed in 30.0..85.0f64, up in 5.0..40.0f64, axis in 2.0..40.0f64) {
            let straight = launch(speed, up, 3500.0);
            let tilted = Launch { spin_axis_deg: axis, ..straight };
            prop_assert!(fly(&tilted, &Conditions::REFERENCE).unwrap().side > fly(&straight, &Conditions::REFERENCE).unwrap().side);
        }

        #[test]
        fn denser_air_never_carries_a_driver_flight_further(
            speed in 70.0..85.0f64, up in 11.0..16.0f64, spin in 2300.0..3500.0f64, metres in 0.0..1500.0f64,
        ) {
            let driver = launch(speed, up, spin);
            let high = Conditions { altitude_m: metres + 300.0, ..Conditions::REFERENCE };
            let low = Conditions { altitude_m: metres, ..Conditions::REFERENCE };
            let (dense, thin) = (fly(&driver, &low).unwrap(), fly(&driver, &high).unwrap());
            prop_assert!(dense.carry <= thin.carry, "{} {}", dense.carry, thin.carry);
        }

        #[test]
        fn the_adaptive_answer_is_within_a_tenth_of_a_yard_of_fixed_milliseconds(
            speed in 20.0..100.0f64, up in -5.0..60.0f64, spin in 0.0..12_000.0f64, axis in -30.0..30.0f64,
        ) {
            let launch = Launch { spin_axis_deg: axis, ..launch(speed, up, spin) };
            let air = Conditions::REFERENCE.air().unwrap();
            let (fast, slow) = (fly_with(&launch, &air, &Aero::CALIBRATED), rk4(&launch, &air));
            prop_assert!((fast.carry - slow.carry).abs() < 0.1 * YARD, "{} {}", fast.carry, slow.carry);
            prop_assert!((fast.side - slow.side).abs() < 0.1 * YARD);
            prop_assert!((fast.apex - slow.apex).abs() < 0.1 * YARD);
        }
    }
}
