//! Bounce and run: what the ball does after it lands.
//!
//! Each bounce is that of a rigid sphere on compliant turf (Penner 2002). The turf
//! gives, so the ball climbs out of a dent: the surface it meets is tilted against
//! its travel by an angle that grows with speed and with the sine of twice the
//! steepness, as a ball from straight above leaves a level dent. Across that surface
//! it rebounds with a restitution that falls with speed; along it, friction turns
//! sliding into rolling, as far as friction reaches. Spin is kept as a vector, so
//! backspin checks or reverses the ball and sidespin kicks it. Between bounces the
//! ball flies as in [`crate::physics::flight`]. When the hops are spent it rolls to rest under
//! a constant resistance. What the turf adds to each is [`crate::physics::turf`]'s.

use crate::physics::air::Air;
use crate::physics::conditions::Conditions;
use crate::physics::equations::GRAVITY;
use crate::physics::flight::{FLIGHT_ERROR, Flight, PathPoint, Waiting, in_lanes};
use crate::physics::lanes::{self, Errand};
use crate::physics::launch::{BALL_RADIUS, Launch};
use crate::physics::motion::{Forces, SPIN, Start, State, Stretch, Touch, VZ, X, Y, Z, length};
use crate::physics::turf::Ground;
use crate::vocabulary::invalid::Invalid;
use nalgebra::Vector3;
use serde::Serialize;
use utoipa::ToSchema;

/// Tilt of the dent, deg, at the speed (m/s) below and at 44.4° (Penner 2002).
const DENT_DEG: f64 = 15.4;
const DENT_SPEED: f64 = 18.6;
/// The dent's wall never leans further than this, deg: beyond it turf tears.
const DENT_MOST_DEG: f64 = 35.0;
/// A rebound slower than this upward is no hop any more, m/s.
const LEAST_HOP: f64 = 0.05;
/// A hop that starts up slower than this flies as without air, m/s.
const AIRLESS_HOP: f64 = 1.0;
/// Standard error of a run, as a share of it: published runs of the same launch on grounds
/// called alike differ by a third.
const RUN_ERROR: f64 = 0.33;
/// More hops than any ball makes.
const MOST_HOPS: usize = 30;
/// Speed into the grass, m/s, at which it takes most of its share of the level speed.
const GRASS_BENDS: f64 = 1.5;

/// Where the ball comes to rest.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Rest {
    /// Straight-line distance from the tee, m; negative behind it.
    pub total: f64,
    /// Total less carry, m; negative when the ball comes back.
    pub run: f64,
    /// Right (+) of the target line, m.
    pub side: f64,
    /// Standard error of the total, m: the flight's, and that of a run, which no two grounds
    /// give alike.
    pub error: f64,
}

/// A flight followed to rest, with the whole way.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Journey {
    /// The flight.
    pub flight: Flight,
    /// Where it ended.
    pub rest: Rest,
    /// The way through the air, from the tee to the first touch.
    pub air_path: Vec<PathPoint>,
    /// The hops and the roll, from the first touch to rest.
    pub ground_path: Vec<PathPoint>,
}

/// Flies `launch` and lets it bounce and run on the ground of `conditions`.
///
/// ```
/// use tally_core::physics::{club::Club, conditions::Conditions, run::fly_to_rest};
/// use tally_core::physics::turf::{Ground, Surface};
/// let iron = Club::Iron7.reference_launch(40.0);
/// let firm = Ground { surface: Surface::Fairway, firmness: 1.0 };
/// let (flight, rest) = fly_to_rest(&iron, &Conditions { ground: Some(firm), ..Conditions::REFERENCE })?;
/// assert!(rest.total > flight.carry && (rest.total - flight.carry - rest.run).abs() < 1e-9);
/// # Ok::<(), tally_core::vocabulary::invalid::Invalid>(())
/// ```
///
/// # Errors
/// [`Invalid`] outside the domain of flight, air or ground.
pub fn fly_to_rest(launch: &Launch, conditions: &Conditions) -> Result<(Flight, Rest), Invalid> {
    launch.check()?;
    conditions.ground().check()?;
    Ok(to_rest_with(
        launch,
        &conditions.air()?,
        &conditions.ground(),
    ))
}

/// Flies a checked launch to rest in checked air on checked ground; for maps.
pub fn to_rest_with(launch: &Launch, air: &Air, ground: &Ground) -> (Flight, Rest) {
    let (forces, start) = Forces::at_launch(launch, air);
    let touch = forces.descend(start, |_| ());
    let flight = Flight::from_touch(&touch);
    let end = run_out(forces, &touch, ground, |_| ());
    (flight, rest(&flight, end))
}

/// Flies many launches through the same air and lets them bounce and run on the same ground,
/// sixteen at once on every core.
///
/// # Errors
/// [`Invalid`] for the first launch outside the domain, or for the conditions.
pub fn fly_many_to_rest(
    launches: &[Launch],
    conditions: &Conditions,
) -> Result<Vec<(Flight, Rest)>, Invalid> {
    let air = conditions.air()?;
    conditions.ground().check()?;
    launches.iter().try_for_each(Launch::check)?;
    Ok(rest_all(launches, &air, &conditions.ground()))
}

/// Flies checked launches to rest in checked air on checked ground, sixteen abreast.
pub(crate) fn rest_all(launches: &[Launch], air: &Air, ground: &Ground) -> Vec<(Flight, Rest)> {
    in_lanes(launches, air, |launches, surroundings| {
        let mut runs = Runs {
            launches: Waiting { launches, air },
            ground,
            under_way: vec![UnderWay::default(); launches.len()],
        };
        lanes::fly(&mut runs, surroundings);
        let done = runs.under_way.into_iter();
        done.map(|ball| (ball.flight, rest(&ball.flight, ball.end)))
            .collect()
    })
}

/// A ball on its way to rest.
#[derive(Clone, Copy)]
struct UnderWay {
    flight: Flight,
    hops: usize,
    end: [f64; 2],
}

impl Default for UnderWay {
    fn default() -> Self {
        UnderWay {
            flight: Flight::NONE,
            hops: 0,
            end: [0.0; 2],
        }
    }
}

/// Launches on their way to rest.
struct Runs<'a> {
    launches: Waiting<'a>,
    ground: &'a Ground,
    under_way: Vec<UnderWay>,
}

impl Errand for Runs<'_> {
    fn next(&mut self) -> Option<Start> {
        self.launches.next()
    }

    fn landed(&mut self, job: usize, touch: &Touch) -> Option<Start> {
        let ball = &mut self.under_way[job];
        if ball.hops == 0 {
            ball.flight = Flight::from_touch(touch);
        }
        match onward(touch, self.ground, &mut ball.hops) {
            Onward::Hop(start) => Some(start),
            Onward::Rest(end) => {
                ball.end = end;
                None
            }
        }
    }
}

/// [`fly_to_rest`] with the whole way, sampled every `every` seconds.
///
/// # Errors
/// As [`fly_to_rest`].
pub fn journey(launch: &Launch, conditions: &Conditions, every: f64) -> Result<Journey, Invalid> {
    launch.check()?;
    let ground = conditions.ground();
    ground.check()?;
    let air = conditions.air()?;
    let (forces, start) = Forces::at_launch(launch, &air);
    let mut air_path = vec![point(&start)];
    let touch = forces.descend(start, |stretch| sample(stretch, every, &mut air_path));
    air_path.push(point(&touch.at));
    let flight = Flight::from_touch(&touch);
    let mut ground_path = vec![point(&touch.at)];
    let end = run_out(forces, &touch, &ground, |way| match way {
        Way::Hop(stretch) => sample(stretch, every, &mut ground_path),
        Way::Touch(at) => ground_path.push(point(at)),
    });
    ground_path.push(PathPoint {
        along: end[X],
        side: -end[Y],
        height: 0.0,
    });
    Ok(Journey {
        rest: rest(&flight, end),
        flight,
        air_path,
        ground_path,
    })
}

fn rest(flight: &Flight, end: [f64; 2]) -> Rest {
    let total = length(end[X], end[Y]).copysign(end[X]);
    Rest {
        total,
        run: total - flight.carry,
        side: -end[Y],
        error: length(
            FLIGHT_ERROR * flight.carry,
            RUN_ERROR * (total - flight.carry),
        ),
    }
}

fn point(at: &State) -> PathPoint {
    PathPoint {
        along: at[X],
        side: -at[Y],
        height: at[Z].max(0.0),
    }
}

/// Adds the points of a stretch that lie above the ground.
fn sample(stretch: &Stretch, every: f64, path: &mut Vec<PathPoint>) {
    let pieces = (stretch.step / every).ceil().max(1.0);
    for i in 1..=pieces as usize {
        let at = stretch.at(i as f64 / pieces);
        if at[Z] > 0.0 {
            path.push(point(&at));
        }
    }
}

/// A piece of the way after the first touch.
enum Way<'a> {
    Hop(&'a Stretch),
    Touch(&'a State),
}

/// Bounces and rolls from a touch to rest; returns x and y there, m.
fn run_out(
    mut forces: Forces<'_>,
    touch: &Touch,
    ground: &Ground,
    mut see: impl FnMut(Way<'_>),
) -> [f64; 2] {
    let (mut touch, mut hops) = (*touch, 0);
    loop {
        match onward(&touch, ground, &mut hops) {
            Onward::Hop(start) => {
                forces.axis = start.axis;
                touch = forces.descend(start.at, |s| see(Way::Hop(s)));
                see(Way::Touch(&touch.at));
            }
            Onward::Rest(end) => return end,
        }
    }
}

/// What a ball does from a touch on.
enum Onward {
    /// It hops through the air.
    Hop(Start),
    /// It comes to rest at x and y, m.
    Rest([f64; 2]),
}

/// Bounces a ball that touches the ground, and rolls it out once its hops are spent; `hops`
/// counts them.
fn onward(touch: &Touch, ground: &Ground, hops: &mut usize) -> Onward {
    let mut at = touch.at;
    let mut spin = Vector3::from(touch.axis) * at[SPIN];
    let mut velocity = Vector3::new(at[3], at[4], at[VZ]);
    while *hops < MOST_HOPS {
        *hops += 1;
        (velocity, spin) = bounce(velocity, spin, ground);
        if velocity.z < LEAST_HOP {
            break;
        }
        if velocity.z > AIRLESS_HOP {
            let turning = spin.norm();
            let axis = if turning > 0.0 {
                (spin / turning).into()
            } else {
                [0.0, -1.0, 0.0]
            };
            let at = [
                at[X], at[Y], 0.0, velocity.x, velocity.y, velocity.z, turning,
            ];
            return Onward::Hop(Start { at, axis });
        }
        // So low a hop the air does not change.
        let time = 2.0 * velocity.z / GRAVITY;
        at[X] += time * velocity.x;
        at[Y] += time * velocity.y;
        velocity.z = -velocity.z;
    }
    // Sliding gives way to rolling: a solid sphere keeps 5/7 of its travel and takes
    // 2/7 of its spin's.
    let rolling = velocity * (5.0 / 7.0) + spin.cross(&Vector3::z()) * (2.0 / 7.0 * BALL_RADIUS);
    let speed = length(rolling.x, rolling.y);
    let reach = speed / (2.0 * ground.rolling_resistance() * GRAVITY);
    Onward::Rest([at[X] + rolling.x * reach, at[Y] + rolling.y * reach])
}

/// One bounce: velocity (m/s) and spin (rad/s) after it.
fn bounce(
    velocity: Vector3<f64>,
    spin: Vector3<f64>,
    ground: &Ground,
) -> (Vector3<f64>, Vector3<f64>) {
    let along = length(velocity.x, velocity.y);
    let speed = length(along, velocity.z).max(1e-9);
    // The sine of twice the steepness, times the speed.
    let steep = 2.0 * -velocity.z * along / speed;
    let tilt = (DENT_DEG * ground.dent() * steep / DENT_SPEED)
        .clamp(0.0, DENT_MOST_DEG)
        .to_radians();
    let heading = if along > 1e-9 {
        Vector3::new(velocity.x / along, velocity.y / along, 0.0)
    } else {
        Vector3::zeros()
    };
    let (lean, upright) = tilt.sin_cos();
    let normal = Vector3::z() * upright - heading * lean;

    let inward = -velocity.dot(&normal);
    let push = (1.0 + ground.restitution(inward)) * inward;
    let arm = normal * -BALL_RADIUS;
    let sliding = velocity + normal * inward + spin.cross(&arm);
    let slip = sliding.norm();
    let rub = if slip > 1e-9 {
        sliding * (-(2.0 / 7.0 * slip).min(ground.friction() * push) / slip)
    } else {
        Vector3::zeros()
    };
    // A ball that hardly presses into the grass is hardly held by it.
    let pressed = inward / (inward + GRASS_BENDS);
    let rub = rub - heading * (ground.ploughing() * pressed * along);
    (
        velocity + normal * push + rub,
        spin + arm.cross(&rub) / (0.4 * BALL_RADIUS * BALL_RADIUS),
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::physics::turf::Surface;
    use crate::physics::wind::Wind;
    use crate::vocabulary::keyed::Keyed;
    use crate::vocabulary::units::{MPH, YARD};
    use proptest::prelude::*;

    fn elite(club: Club) -> Launch {
        club.reference_launch(club.reference_club_speed())
    }

    fn on(surface: Surface, firmness: f64) -> Conditions {
        Conditions {
            ground: Some(Ground { surface, firmness }),
            ..Conditions::REFERENCE
        }
    }

    fn run_yd(club: Club, conditions: &Conditions) -> f64 {
        fly_to_rest(&elite(club), conditions).unwrap().1.run / YARD
    }

    #[test]
    fn an_average_fairway_gives_the_runs_that_coaches_see() {
        let average = Conditions::REFERENCE;
        let runs: Vec<_> = Club::all().map(|c| (c, run_yd(c, &average))).collect();
        for (club, least, most) in [
            (Club::Driver, 13.0, 30.0),
            (Club::Iron6, 3.0, 8.0),
            (Club::Iron7, 3.0, 8.0),
            (Club::WedgePitching, 0.0, 4.0),
            (Club::WedgeSand, -1.0, 3.0),
        ] {
            let run = run_yd(club, &average);
            assert!(
                (least..=most).contains(&run),
                "{club:?} runs {run}: {runs:?}"
            );
        }
    }

    #[test]
    fn firmer_ground_runs_further_with_every_club() {
        for club in Club::all() {
            let runs = [0.0, 0.25, 0.5, 0.75, 1.0].map(|f| run_yd(club, &on(Surface::Fairway, f)));
            assert!(runs.windows(2).all(|w| w[0] < w[1]), "{club:?} {runs:?}");
        }
    }

    #[test]
    fn a_spinning_wedge_comes_back_on_a_soft_green() {
        let wedge = Launch {
            ball_speed: 90.0 * MPH,
            launch_angle_deg: 28.0,
            launch_direction_deg: 0.0,
            spin_rate_rpm: 11_500.0,
            spin_axis_deg: 0.0,
        };
        let back = fly_to_rest(&wedge, &on(Surface::Green, 0.2)).unwrap().1;
        assert!(back.run < 0.0, "{back:?}");
        let knuckle = Launch {
            spin_rate_rpm: 3000.0,
            ..wedge
        };
        let on_it = fly_to_rest(&knuckle, &on(Surface::Green, 0.2)).unwrap().1;
        assert!(on_it.run > back.run + 1.0);
    }

    #[test]
    fn the_journey_ends_where_the_ball_rests_and_touches_where_it_lands() {
        let slice = Launch {
            spin_axis_deg: 12.0,
            ..elite(Club::Driver)
        };
        let told = journey(&slice, &Conditions::REFERENCE, 0.05).unwrap();
        let (flight, rest) = fly_to_rest(&slice, &Conditions::REFERENCE).unwrap();
        assert_eq!((told.flight, told.rest), (flight, rest));
        let landing = told.air_path.last().unwrap();
        assert!((landing.along.hypot(landing.side) - flight.carry).abs() < 1e-6);
        let end = told.ground_path.last().unwrap();
        assert!((end.along.hypot(end.side) - rest.total).abs() < 1e-6);
        let peak = told.air_path.iter().map(|p| p.height).fold(0.0, f64::max);
        assert!((peak - flight.apex).abs() < 0.1);
    }

    #[test]
    fn ground_beyond_hard_is_refused_by_name() {
        let refused = fly_to_rest(&elite(Club::Iron7), &on(Surface::Green, 1.5)).unwrap_err();
        assert_eq!(refused.field, "firmness");
    }

    #[test]
    fn runs_of_many_balls_at_once_are_the_same_runs() {
        for ground in [
            Ground::AVERAGE_FAIRWAY,
            Ground {
                surface: Surface::Green,
                firmness: 0.3,
            },
        ] {
            let launches: Vec<Launch> = Club::all()
                .chain(Club::all())
                .enumerate()
                .map(|(i, club)| {
                    club.reference_launch((0.6 + 0.02 * i as f64) * club.reference_club_speed())
                })
                .collect();
            let air = Conditions::REFERENCE.air().unwrap();
            let at_once = rest_all(&launches, &air, &ground);
            for (launch, (flight, rest)) in launches.iter().zip(at_once) {
                let (alone, at_rest) = to_rest_with(launch, &air, &ground);
                assert!((alone.carry - flight.carry).abs() < 0.1 * YARD);
                assert!(
                    (at_rest.total - rest.total).abs() < 0.15 * YARD,
                    "{at_rest:?} {rest:?}"
                );
            }
        }
    }

    /// A little more of anything never makes a ball jump.
    #[test]
    fn totals_change_without_jumps_in_speed_spin_and_wind() {
        let base = elite(Club::WedgePitching);
        let green = on(Surface::Green, 0.2);
        let total = |launch: &Launch, conditions: &Conditions| {
            fly_to_rest(launch, conditions).unwrap().1.total / YARD
        };
        let breath = |i: u32| Conditions {
            wind: Some(Wind {
                speed_mps: 0.01 * f64::from(i),
                from_deg: 0.0,
            }),
            ..green
        };
        let spun = |i: u32| Launch {
            spin_rate_rpm: 4000.0 + 5.0 * f64::from(i),
            ..base
        };
        let faster = |i: u32| Club::Driver.reference_launch(35.0 + 0.01 * f64::from(i));
        let steps: [(&str, Vec<f64>); 3] = [
            (
                "wind",
                (0..1000).map(|i| total(&base, &breath(i))).collect(),
            ),
            ("spin", (0..1000).map(|i| total(&spun(i), &green)).collect()),
            (
                "speed",
                (0..1000)
                    .map(|i| total(&faster(i), &Conditions::REFERENCE))
                    .collect(),
            ),
        ];
        for (name, totals) in steps {
            let jump = totals
                .windows(2)
                .map(|w| (w[1] - w[0]).abs())
                .fold(0.0, f64::max);
            assert!(jump < 0.35, "{jump} yd along {name}");
        }
    }

    proptest! {
        #[test]
        fn a_mirrored_shot_rests_at_the_mirrored_place(
            speed in 20.0..80.0f64, up in 3.0..50.0f64, spin in 0.0..11_000.0f64,
            axis in -30.0..30.0f64, from in 0.0..360.0f64, firmness in 0.0..1.0f64,
        ) {
            let one = Launch {
                ball_speed: speed, launch_angle_deg: up, launch_direction_deg: 2.0,
                spin_rate_rpm: spin, spin_axis_deg: axis,
            };
            let other = Launch { launch_direction_deg: -2.0, spin_axis_deg: -axis, ..one };
            let wind = Wind { speed_mps: 6.0, from_deg: from };
            let here = Conditions { wind: Some(wind), ..on(Surface::Fairway, firmness) };
            let there = Conditions { wind: Some(wind.mirrored()), ..here };
            let (a, b) = (fly_to_rest(&one, &here).unwrap().1, fly_to_rest(&other, &there).unwrap().1);
            prop_assert!((a.side + b.side).abs() < 1e-3, "{a:?} {b:?}");
            prop_assert!((a.total - b.total).abs() < 1e-3);
        }

        #[test]
        fn no_bounce_makes_energy(
            speed in 2.0..45.0f64, steep in 5.0..85.0f64, spin in -800.0..800.0f64, firmness in 0.0..1.0f64,
        ) {
            let (down, level) = steep.to_radians().sin_cos();
            let velocity = Vector3::new(speed * level, 0.0, -speed * down);
            let turning = Vector3::new(0.0, spin, 0.0);
            let ground = Ground { surface: Surface::Green, firmness };
            let energy = |v: &Vector3<f64>, w: &Vector3<f64>| {
                v.norm_squared() + 0.4 * BALL_RADIUS * BALL_RADIUS * w.norm_squared()
            };
            let (after, turned) = bounce(velocity, turning, &ground);
            prop_assert!(energy(&after, &turned) <= energy(&velocity, &turning) + 1e-9);
        }
    }
}
