//! One ball on its way: the forces at its launch, and its steps until it touches the ground.

use crate::physics::air::Air;
use crate::physics::equations::{GRAVITY, Moving, Pull, SPIN_DECAY, Stepped};
use crate::physics::launch::{Aero, BALL_MASS, BALL_RADIUS, Launch};
use crate::physics::wind;
use std::f64::consts::PI;

/// Error allowed per step, m and m/s; keeps carry within 0.1 yd of a 1 ms RK4.
const TOLERANCE: f64 = 4e-4;
/// The same of the step that lands in the wind, which falls off near the ground like a logarithm
/// and ends there: no step follows whose start it could spoil, and a shorter one lands no better.
pub(crate) const LAST_TOLERANCE: f64 = 1.2e-2;
/// A ball that leaves flatter than this, as a share of its speed, mostly comes down as flat,
/// where an error in height is many times as much in carry: it is allowed less of one,
const FLAT: f64 = 0.1;
/// and at least this share of the error of others.
const FLATTEST: f64 = 0.25;
/// A ball that comes down flatter than this, as a share of its speed, grazes the ground:
/// where it touches is told well only near the end of a step.
pub(crate) const GRAZING: f64 = 0.2;
/// Share of a step from which on its interpolant is as good as the step itself.
pub(crate) const NEAR_THE_END: f64 = 0.9;
/// A step shorter than this is told well all along, s.
pub(crate) const LONG_ENOUGH: f64 = 0.02;
/// How much further than the touch such a step is made.
pub(crate) const JUST_BEYOND: f64 = 1.02;
/// Slower than this no ball is taken to fall when it is asked how long it still flies, m/s².
pub(crate) const SLOW_FALL: f64 = 0.1;
/// First step, s, in still air and in the wind, which near the ground changes fast.
pub(crate) const FIRST_STEPS: [f64; 2] = [0.1, 0.025];
/// No flight in the accepted domain lasts longer, s.
pub(crate) const LONGEST: f64 = 30.0;

/// State of a ball: position (m), velocity (m/s), spin (rad/s). Axes: x to the
/// target, y to the left, z up.
pub(crate) type State = [f64; 7];
pub(crate) const X: usize = 0;
pub(crate) const Y: usize = 1;
pub(crate) const Z: usize = 2;
pub(crate) const VZ: usize = 5;
pub(crate) const SPIN: usize = 6;

/// A ball at the moment it touches the ground.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Touch {
    pub at: State,
    /// Its spin axis.
    pub axis: [f64; 3],
    /// Peak height on the way, m.
    pub apex: f64,
    /// Time since the start, s.
    pub time: f64,
}

/// A ball about to fly: its state and its spin axis.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Start {
    pub at: State,
    pub axis: [f64; 3],
}

/// The air as many flights at once need it.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Surroundings {
    /// ½ρA/m, 1/m.
    pub pressure_per_mass: f64,
    /// Reynolds number per speed, s/m.
    pub reynolds_per_speed: f64,
    /// Wind ten metres up along x and y, m/s.
    pub wind: Option<[f64; 2]>,
    /// How the air takes hold of the ball.
    pub aero: Aero,
}

/// The forces on one ball in one air, with what does not change worked out once.
pub(crate) struct Forces<'a> {
    aero: &'a Aero,
    /// Spin axis, unit vector fixed in space.
    pub axis: [f64; 3],
    /// ½ρA/m, 1/m.
    pressure_per_mass: f64,
    /// Reynolds number per speed, s/m.
    reynolds_per_speed: f64,
    /// Wind ten metres up along x and y, m/s, when there is any.
    wind: Option<[f64; 2]>,
}

impl<'a> Forces<'a> {
    /// The forces on a ball leaving the tee, and its state there.
    pub fn at_launch(launch: &Launch, air: &'a Air) -> (Self, State) {
        let (sin_up, cos_up) = launch.launch_angle_deg.to_radians().sin_cos();
        let (sin_away, cos_away) = launch.launch_direction_deg.to_radians().sin_cos();
        let (sin_tilt, cos_tilt) = launch.spin_axis_deg.to_radians().sin_cos();
        // Right of the flight, and the upward normal to it; the axis of pure backspin
        // points right, and tilting it dips its right end.
        let right = [-sin_away, -cos_away, 0.0];
        let normal = [-sin_up * cos_away, sin_up * sin_away, cos_up];
        let axis = std::array::from_fn(|i| right[i] * cos_tilt - normal[i] * sin_tilt);
        let [along, to_right] = air.wind;
        let forces = Self {
            aero: &air.aero,
            axis,
            pressure_per_mass: 0.5 * air.density * PI * BALL_RADIUS * BALL_RADIUS / BALL_MASS,
            reynolds_per_speed: air.density * 2.0 * BALL_RADIUS / air.viscosity,
            wind: (along != 0.0 || to_right != 0.0).then_some([along, -to_right]),
        };
        let level = launch.ball_speed * cos_up;
        let start = [
            0.0,
            0.0,
            0.0,
            level * cos_away,
            -level * sin_away,
            launch.ball_speed * sin_up,
            launch.spin_rate_rpm * PI / 30.0,
        ];
        (forces, start)
    }

    /// The same for the lanes that fly many at once: the air, and the ball at the start.
    pub fn for_lanes(self, at: State) -> (Surroundings, Start) {
        let air = Surroundings {
            pressure_per_mass: self.pressure_per_mass,
            reynolds_per_speed: self.reynolds_per_speed,
            wind: self.wind,
            aero: *self.aero,
        };
        (
            air,
            Start {
                at,
                axis: self.axis,
            },
        )
    }

    /// The forces on a ball that was made ready for the lanes.
    pub fn from_lanes(air: &'a Surroundings, start: &Start) -> Self {
        Self {
            aero: &air.aero,
            axis: start.axis,
            pressure_per_mass: air.pressure_per_mass,
            reynolds_per_speed: air.reynolds_per_speed,
            wind: air.wind,
        }
    }

    /// Follows the ball until it touches level ground, showing every stretch of the
    /// way to `see`. A ball that starts downward is on
    /// the ground at once.
    pub fn descend(&self, start: State, see: impl FnMut(&Stretch)) -> Touch {
        if start[VZ] < 0.0 {
            return self.touch(start, 0.0, 0.0);
        }
        match self.wind {
            None => self.follow::<false>(start, see),
            Some(_) => self.follow::<true>(start, see),
        }
    }

    fn touch(&self, at: State, apex: f64, time: f64) -> Touch {
        Touch {
            at,
            axis: self.axis,
            apex,
            time,
        }
    }

    fn follow<const WINDY: bool>(
        &self,
        [x, y, z, vx, vy, vz, spin]: State,
        mut see: impl FnMut(&Stretch),
    ) -> Touch {
        let pull = Pull::<f64, WINDY>::of(
            self.pressure_per_mass,
            self.reynolds_per_speed,
            self.wind,
            self.aero,
        );
        let (mut place, mut moving) = ([x, y, z], [vx, vy, vz, spin]);
        let mut slope = pull.slope(z, moving, &self.axis);
        let (mut time, mut apex) = (0.0, 0.0_f64);
        let mut step = FIRST_STEPS[usize::from(WINDY)];
        let share = allowed_share(vx, vy, vz);
        let [tolerance, last_tolerance] = [TOLERANCE, LAST_TOLERANCE].map(|error| error * share);
        loop {
            if WINDY {
                step = step.min(JUST_BEYOND * until_ground(place[2], moving[2], slope[2]));
            }
            let to = pull.step(place, moving, slope, &self.axis, step, tolerance);
            let lands = to.place[2] <= 0.0;
            let allowed = if WINDY && lands {
                last_tolerance
            } else {
                tolerance
            };
            if to.error > allowed {
                step = to.next;
                continue;
            }
            let stretch = Stretch::of(place, moving, slope, &to, step);
            let [vx, vy, vz, _] = to.moving;
            if lands && vz.abs() < GRAZING * length(vx, vy) {
                let share = stretch.crossing(Z);
                if share < NEAR_THE_END && step > LONG_ENOUGH {
                    step *= JUST_BEYOND * share;
                    continue;
                }
            }
            if moving[2] > 0.0 && vz <= 0.0 {
                apex = apex.max(stretch.component(Z, stretch.crossing(VZ)));
            }
            see(&stretch);
            if lands || time > LONGEST {
                let share = stretch.crossing(Z);
                return self.touch(stretch.at(share), apex, time + share * step);
            }
            time += step;
            (place, moving, slope) = (to.place, to.moving, to.slope);
            step = to.next;
        }
    }

    /// The yardstick: fixed steps of classical Runge–Kutta.
    pub fn descend_by_fixed_steps(&self, start: State, h: f64) -> Touch {
        let (mut at, mut time, mut apex) = (start, 0.0, 0.0_f64);
        loop {
            let step = |k: &State, h: f64| -> State { std::array::from_fn(|i| at[i] + h * k[i]) };
            let k1 = self.slope(&at);
            let k2 = self.slope(&step(&k1, h / 2.0));
            let k3 = self.slope(&step(&k2, h / 2.0));
            let k4 = self.slope(&step(&k3, h));
            let next: State = std::array::from_fn(|i| {
                at[i] + h / 6.0 * (k1[i] + 2.0 * k2[i] + 2.0 * k3[i] + k4[i])
            });
            apex = apex.max(next[Z]);
            if next[Z] <= 0.0 {
                let share = at[Z] / (at[Z] - next[Z]);
                return Touch {
                    at: std::array::from_fn(|i| at[i] + share * (next[i] - at[i])),
                    axis: self.axis,
                    apex,
                    time: time + share * h,
                };
            }
            time += h;
            at = next;
        }
    }

    /// The equations as they are written, for the yardstick.
    #[inline]
    fn slope(&self, at: &State) -> State {
        let [_, _, z, vx, vy, vz, spin] = *at;
        let (ux, uy) = match self.wind {
            None => (vx, vy),
            Some([wx, wy]) => {
                let share = wind::share_at(z);
                (vx - share * wx, vy - share * wy)
            }
        };
        let speed = (ux * ux + uy * uy + vz * vz).sqrt().max(1e-6);
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
            -slow * ux + turn * (ay * vz - az * uy),
            -slow * uy + turn * (az * ux - ax * vz),
            -slow * vz + turn * (ax * uy - ay * ux) - GRAVITY,
            -SPIN_DECAY * spin * speed / BALL_RADIUS,
        ]
    }
}

/// What share of the error of others the flight of a ball of this velocity is allowed.
pub(crate) fn allowed_share(vx: f64, vy: f64, vz: f64) -> f64 {
    (vz / (FLAT * length(length(vx, vy), vz)).max(1e-6)).clamp(FLATTEST, 1.0)
}

/// The length of two sides at a right angle. Nothing that flies is so fast or so slow that its
/// square is no number, which `hypot` sees to at several times the cost.
pub(crate) fn length(along: f64, across: f64) -> f64 {
    (along * along + across * across).sqrt()
}

/// About how long a ball still flies, s: as if it went on falling as it does now, and at least
/// [`SLOW_FALL`]. No step in the wind goes far beyond: under the ground there is none to go by.
fn until_ground(height: f64, rise: f64, gains: f64) -> f64 {
    let fall = (-gains).max(SLOW_FALL);
    let whole = (rise + (rise * rise + 2.0 * fall * height).sqrt()) / fall;
    whole.max(LONG_ENOUGH)
}

/// One accepted step, with the cubic Hermite interpolant through it.
pub(crate) struct Stretch {
    from: State,
    from_slope: State,
    to: State,
    to_slope: State,
    /// Its length, s.
    pub step: f64,
}

impl Stretch {
    #[inline(always)]
    fn of(
        place: [f64; 3],
        moving: Moving<f64>,
        slope: Moving<f64>,
        to: &Stepped<f64>,
        step: f64,
    ) -> Self {
        let state =
            |[x, y, z]: [f64; 3], [vx, vy, vz, spin]: Moving<f64>| [x, y, z, vx, vy, vz, spin];
        let slopes = |[vx, vy, vz, _]: Moving<f64>, slope| state([vx, vy, vz], slope);
        Stretch {
            from: state(place, moving),
            from_slope: slopes(moving, slope),
            to: state(to.place, to.moving),
            to_slope: slopes(to.moving, to.slope),
            step,
        }
    }

    /// State at a share `t` (0…1) of the step.
    pub fn at(&self, t: f64) -> State {
        std::array::from_fn(|i| self.component(i, t))
    }

    fn component(&self, i: usize, t: f64) -> f64 {
        let (u, h) = (1.0 - t, self.step);
        self.from[i] * u * u * (1.0 + 2.0 * t)
            + self.to[i] * t * t * (3.0 - 2.0 * t)
            + h * t * u * (u * self.from_slope[i] - t * self.to_slope[i])
    }

    /// Share of the step at which component `i` falls through zero, by Newton's steps from
    /// the end, where it has fallen through.
    fn crossing(&self, i: usize) -> f64 {
        let (a, b) = (self.step * self.from_slope[i], self.step * self.to_slope[i]);
        // from + a t + c t² + d t³, the same cubic.
        let d = 2.0 * (self.from[i] - self.to[i]) + a + b;
        let c = self.to[i] - self.from[i] - a - d;
        let mut t = 1.0;
        for _ in 0..7 {
            let value = self.from[i] + t * (a + t * (c + t * d));
            let slope = a + t * (2.0 * c + t * 3.0 * d);
            let before = t;
            t = (t - value / slope.min(-1e-12)).clamp(0.0, 1.0);
            if (t - before).abs() < 1e-12 {
                break;
            }
        }
        t
    }
}
