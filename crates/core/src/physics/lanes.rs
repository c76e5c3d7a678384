//! Many flights at once, in the lanes of the machine's vector unit.
//!
//! The equations and the method are [`crate::physics::equations`], in single
//! precision, sixteen flights abreast. A lane whose ball lands is filled with the next one
//! at once, so that none is idle. Whether the machine has a unit of lanes that
//! multiplies and adds at once is found at run time; without one the flights go one by one
//! in double precision, less than 0.05 yd apart where they do not graze the ground. One
//! machine always answers the same, whichever lane a flight falls in.

mod lane;

use crate::physics::equations::{self, Moving, Number, Stepped};
use crate::physics::motion::{
    FIRST_STEPS, Forces, GRAZING, JUST_BEYOND, LAST_TOLERANCE, LONG_ENOUGH, LONGEST, NEAR_THE_END,
    SLOW_FALL, Start, Surroundings, Touch, allowed_share,
};
use lane::{Lane, WIDE};
use pulp::{Arch, Simd, WithSimd};

/// Error allowed per step, in velocity (m/s) and in height (m).
const TOLERANCE: f64 = 8e-4;
/// How many times that the step may err that lands in the wind.
const LAST: f32 = (LAST_TOLERANCE / TOLERANCE) as f32;

/// What is to be flown, and what becomes of it.
pub(crate) trait Errand {
    /// The next ball.
    fn next(&mut self) -> Option<Start>;
    /// Takes note of where the ball that was given out as the `job`-th touched the ground;
    /// it may fly on from there.
    fn landed(&mut self, job: usize, touch: &Touch) -> Option<Start>;
    /// Whether it asks how high a ball flew, which costs as much as where it landed.
    fn asks_for_apex(&self) -> bool {
        true
    }
}

/// Flies all that an errand gives out.
pub(crate) fn fly(errand: &mut dyn Errand, air: &Surroundings) {
    Arch::new().dispatch(Sortie { errand, air });
}

struct Sortie<'a> {
    errand: &'a mut dyn Errand,
    air: &'a Surroundings,
}

impl WithSimd for Sortie<'_> {
    type Output = ();

    // What is compiled for a unit must be inlined into the function made for it.
    #[inline(always)]
    fn with_simd<S: Simd>(self, _: S) {
        match self.air.wind {
            // Without a unit that multiplies and adds at once, lanes gain nothing.
            _ if S::IS_SCALAR => self.one_by_one(),
            None => self.abreast::<false>(),
            Some(_) => self.abreast::<true>(),
        }
    }
}

impl Sortie<'_> {
    #[inline(always)]
    fn abreast<const WINDY: bool>(self) {
        let air = self.air;
        let pull = Pull::<WINDY>::of(
            air.pressure_per_mass,
            air.reynolds_per_speed,
            air.wind,
            &air.aero,
        );
        let mut balls = Balls::new(self.errand, FIRST_STEPS[usize::from(WINDY)] as f32);
        while balls.flying > 0 {
            balls.step(&pull, self.errand);
        }
    }

    fn one_by_one(self) {
        let mut given = 0;
        while let Some(mut start) = self.errand.next() {
            loop {
                let touch = Forces::from_lanes(self.air, &start).descend(start.at, |_| ());
                match self.errand.landed(given, &touch) {
                    Some(again) => start = again,
                    None => break,
                }
            }
            given += 1;
        }
    }
}

/// How the air pulls on every ball.
type Pull<const WINDY: bool> = equations::Pull<Lane, WINDY>;

/// Whether a flight is over: at the ground, or longer under way than any is. Asked so that
/// what is no number ends it too.
#[inline(always)]
fn over(height: f32, time: f32) -> bool {
    !(height > 0.0 && time < LONGEST as f32)
}

/// The balls in the air.
struct Balls {
    place: [Lane; 3],
    moving: Moving<Lane>,
    slope: Moving<Lane>,
    axis: [Lane; 3],
    step: Lane,
    tolerance: Lane,
    time: Lane,
    apex: Lane,
    asks_for_apex: bool,
    /// Whether the top of the ball in the lane is looked for: it hops no higher than it flew.
    tops: [bool; WIDE],
    /// Which ball is in the lane, if any.
    job: [Option<usize>; WIDE],
    given: usize,
    flying: usize,
    /// Whether the slopes must be worked out anew, as a ball was put into a lane.
    fresh: bool,
    first_step: f32,
}

/// What was seen of one ball on one step.
enum Seen {
    Flying,
    Landed(Touch),
    /// It touches too early in the step to tell where; the step to take instead, s.
    TooFar(f32),
}

impl Balls {
    #[inline(always)]
    fn new(errand: &mut dyn Errand, first_step: f32) -> Self {
        let zero = Lane::of(0.0);
        let mut balls = Balls {
            place: [zero; 3],
            moving: [zero; 4],
            slope: [zero; 4],
            axis: [zero; 3],
            step: zero,
            tolerance: zero,
            time: zero,
            apex: zero,
            asks_for_apex: errand.asks_for_apex(),
            tops: [false; WIDE],
            job: [None; WIDE],
            given: 0,
            flying: 0,
            fresh: true,
            first_step,
        };
        for lane in 0..WIDE {
            balls.fill(lane, errand);
        }
        balls
    }

    /// Puts the next ball into a lane, or a ball that hovers out of the way.
    fn fill(&mut self, lane: usize, errand: &mut dyn Errand) {
        // A ball that is struck into the ground is there at once.
        while let Some(start) = errand.next() {
            let job = self.given;
            self.given += 1;
            if start.at[5] < 0.0 {
                let touch = Touch {
                    at: start.at,
                    axis: start.axis,
                    apex: 0.0,
                    time: 0.0,
                };
                if let Some(again) = errand.landed(job, &touch) {
                    return self.put(lane, job, &again, false);
                }
            } else {
                return self.put(lane, job, &start, self.asks_for_apex);
            }
        }
        self.flying -= usize::from(self.job[lane].is_some());
        self.job[lane] = None;
        self.tops[lane] = false;
        let idle = Start {
            at: [0.0, 0.0, 1e4, 10.0, 0.0, 10.0, 0.0],
            axis: [0.0, -1.0, 0.0],
        };
        self.load(lane, &idle);
    }

    fn put(&mut self, lane: usize, job: usize, start: &Start, top: bool) {
        self.flying += usize::from(self.job[lane].is_none());
        self.job[lane] = Some(job);
        self.tops[lane] = top;
        self.load(lane, start);
    }

    fn load(&mut self, lane: usize, start: &Start) {
        for i in 0..3 {
            self.place[i].0[lane] = start.at[i] as f32;
            self.axis[i].0[lane] = start.axis[i] as f32;
        }
        for i in 0..4 {
            self.moving[i].0[lane] = start.at[3 + i] as f32;
        }
        let [_, _, _, vx, vy, vz, _] = start.at;
        self.tolerance.0[lane] = (TOLERANCE * allowed_share(vx, vy, vz)) as f32;
        self.step.0[lane] = self.first_step;
        self.time.0[lane] = 0.0;
        self.apex.0[lane] = 0.0;
        self.fresh = true;
    }

    #[inline(always)]
    fn step<const WINDY: bool>(&mut self, pull: &Pull<WINDY>, errand: &mut dyn Errand) {
        if self.fresh {
            self.slope = pull.slope(self.place[2], self.moving, &self.axis);
            self.fresh = false;
        }
        let (place, moving, slope) = (self.place, self.moving, self.slope);
        let to = pull.step(place, moving, slope, &self.axis, self.step, self.tolerance);
        let mut refused = [false; WIDE];
        let mut events = [false; WIDE];
        let mut eventful = false;
        for i in 0..WIDE {
            let lands = WINDY & (to.place[2].0[i] <= 0.0);
            let allowed = if lands { LAST } else { 1.0 };
            refused[i] = to.error.0[i] > allowed * self.tolerance.0[i];
            let landed = over(to.place[2].0[i], self.time.0[i]);
            let topped = (self.moving[2].0[i] > 0.0) & (to.moving[2].0[i] <= 0.0);
            events[i] = landed | (topped & self.tops[i]);
            eventful |= events[i];
        }
        let mut landed = [None; WIDE];
        let mut next = to.next;
        if eventful {
            for lane in 0..WIDE {
                if !events[lane] || refused[lane] || self.job[lane].is_none() {
                    continue;
                }
                match self.look_at(lane, &to) {
                    Seen::Flying => {}
                    Seen::Landed(touch) => landed[lane] = Some(touch),
                    Seen::TooFar(step) => {
                        refused[lane] = true;
                        next.0[lane] = step;
                    }
                }
            }
        }
        for i in 0..3 {
            self.place[i] = self.place[i].unless(&refused, to.place[i]);
        }
        for i in 0..4 {
            self.moving[i] = self.moving[i].unless(&refused, to.moving[i]);
            self.slope[i] = self.slope[i].unless(&refused, to.slope[i]);
        }
        self.time = self.time.unless(&refused, self.time + self.step);
        self.step = if WINDY {
            next.smaller(self.until_ground().scaled(JUST_BEYOND))
        } else {
            next
        };
        if eventful {
            for (lane, touch) in landed.into_iter().enumerate() {
                if let Some((job, touch)) = touch.zip(self.job[lane]).map(|(t, j)| (j, t)) {
                    match errand.landed(job, &touch) {
                        Some(again) => self.put(lane, job, &again, false),
                        None => self.fill(lane, errand),
                    }
                }
            }
        }
    }

    /// Where a lane's ball topped out, which is noted, or landed on the way `to`.
    #[inline(never)]
    fn look_at(&mut self, lane: usize, to: &Stepped<Lane>) -> Seen {
        let (rises, topped) = (self.moving[2].0[lane], to.moving[2].0[lane]);
        let landed = over(to.place[2].0[lane], self.time.0[lane]);
        let over_the_top = self.tops[lane] && rises > 0.0 && topped <= 0.0;
        let stretch = Stretch::of(self, to, lane);
        let share = if landed { stretch.crossing(2) } else { 1.0 };
        if landed {
            let [_, _, _, vx, vy, vz, _] = stretch.to;
            let grazes = vz * vz < (GRAZING * GRAZING) as f32 * (vx * vx + vy * vy);
            let long = stretch.step > LONG_ENOUGH as f32;
            let down = stretch.to[2] <= 0.0;
            if down && grazes && long && share < NEAR_THE_END as f32 {
                return Seen::TooFar(JUST_BEYOND as f32 * share * stretch.step);
            }
        }
        if over_the_top {
            let top = stretch.component(2, stretch.crossing(5));
            self.apex.0[lane] = self.apex.0[lane].max(top);
        }
        if !landed {
            return Seen::Flying;
        }
        Seen::Landed(Touch {
            at: std::array::from_fn(|i| f64::from(stretch.component(i, share))),
            axis: self.axis.map(|axis| f64::from(axis.0[lane])),
            apex: f64::from(self.apex.0[lane]),
            time: f64::from(self.time.0[lane] + share * stretch.step),
        })
    }

    /// About how long each ball still flies, s, as [`crate::physics::motion`] has it.
    #[inline(always)]
    fn until_ground(&self) -> Lane {
        let (z, v) = (self.place[2], self.moving[2]);
        let fall = self.slope[2].scaled(-1.0).at_least(SLOW_FALL);
        let left = (fall * z).scaled_plus(2.0, v * v).at_least(0.0).sqrt();
        ((v + left) * fall.inverse()).at_least(LONG_ENOUGH)
    }
}

/// One lane's step with the cubic Hermite interpolant through it.
struct Stretch {
    from: [f32; 7],
    from_slope: [f32; 7],
    to: [f32; 7],
    to_slope: [f32; 7],
    step: f32,
}

impl Stretch {
    fn of(balls: &Balls, to: &Stepped<Lane>, lane: usize) -> Self {
        let state = |place: &[Lane; 3], moving: &Moving<Lane>| {
            std::array::from_fn(|i| {
                if i < 3 {
                    place[i].0[lane]
                } else {
                    moving[i - 3].0[lane]
                }
            })
        };
        let slopes = |moving: &Moving<Lane>, slope: &Moving<Lane>| {
            std::array::from_fn(|i| {
                if i < 3 {
                    moving[i].0[lane]
                } else {
                    slope[i - 3].0[lane]
                }
            })
        };
        Stretch {
            from: state(&balls.place, &balls.moving),
            from_slope: slopes(&balls.moving, &balls.slope),
            to: state(&to.place, &to.moving),
            to_slope: slopes(&to.moving, &to.slope),
            step: balls.step.0[lane],
        }
    }

    fn component(&self, i: usize, t: f32) -> f32 {
        let u = 1.0 - t;
        self.from[i] * u * u * (1.0 + 2.0 * t)
            + self.to[i] * t * t * (3.0 - 2.0 * t)
            + self.step * t * u * (u * self.from_slope[i] - t * self.to_slope[i])
    }

    /// Share of the step at which component `i` falls through zero, by Newton's steps from
    /// the end, where it has fallen through.
    fn crossing(&self, i: usize) -> f32 {
        let (from, to) = (self.from[i], self.to[i]);
        let (a, b) = (self.step * self.from_slope[i], self.step * self.to_slope[i]);
        // from + a t + c t² + d t³, the same cubic.
        let d = 2.0 * (from - to) + a + b;
        let c = to - from - a - d;
        let mut t = 1.0;
        for _ in 0..6 {
            let value = from + t * (a + t * (c + t * d));
            let slope = a + t * (2.0 * c + t * 3.0 * d);
            let before = t;
            t = (t - value / slope.min(-1e-9)).clamp(0.0, 1.0);
            if (t - before).abs() <= f32::EPSILON {
                break;
            }
        }
        t
    }
}
