//! The furthest that a swing can make of a speed.
//!
//! A swing delivers an attack angle and a spin loft; the impact model makes a launch of
//! them, flight and ground a distance. Over what a club and a swing can deliver
//! ([`Freedom`]) the distance is searched: a coarse grid, finer grids about its best
//! point, and at last the top of the quadratic through the finest, so that the answer
//! moves smoothly with what was asked.
//!
//! With an iron or a hybrid the longest is always the most delofted. What is sought there
//! is the longest flight that is still *useful* ([`Useful`]): no flatter, no lower and with
//! no less spin than the house asks, or than the reference delivery gives at that speed
//! where that is less.

mod by_speed;
mod question;

use crate::physics::air::Air;
use crate::physics::club::Club;
use crate::physics::flight::{Flight, fly_all, fly_with};
use crate::physics::impact::{Contact, Delivery, Head, strike_with};
use crate::physics::launch::Launch;
use crate::physics::run::{rest_all, to_rest_with};
use crate::physics::turf::Ground;
use crate::vocabulary::invalid::{Invalid, within};
pub(crate) use by_speed::between;
pub use by_speed::furthest_carry;
pub use question::{Aim, Freedom, Outcome, Question, Speed, Useful};

/// Least spin loft that a swing delivers, deg.
pub(crate) const LEAST_SPIN_LOFT_DEG: f64 = 10.0;
/// Points to a side of the coarse grid.
const COARSE: usize = 14;
/// Half the sides of the finer grids, as shares of what is free. The top of the last is
/// told by the quadratic through it.
const FINER: [f64; 4] = [0.14, 0.06, 0.025, 0.05];
/// What the quadratic may seem to lose, m: no more than flights in lanes are rounded.
const ROUNDED: f64 = 0.05;

pub(crate) fn struck(delivery: &Delivery, head: &Head) -> Launch {
    strike_with(delivery, head, &Contact::CALIBRATED)
}

/// A delivery as fast as it takes to send the ball off at `ball_speed`, with its launch.
pub(crate) fn struck_at(
    mut delivery: Delivery,
    head: &Head,
    ball_speed: f64,
) -> (Delivery, Launch) {
    let mut launch = struck(&delivery, head);
    // Restitution hardly depends on speed, so two scalings are plenty.
    for _ in 0..2 {
        delivery.club_speed *= ball_speed / launch.ball_speed;
        launch = struck(&delivery, head);
    }
    (delivery, launch)
}

/// The furthest of `question`.
///
/// # Errors
/// [`Invalid`] for a speed, air or ground out of range.
pub fn best(question: &Question) -> Result<Outcome, Invalid> {
    Ok(Bench::new(question)?.search())
}

/// A checked question with its air and head worked out once.
pub(crate) struct Bench<'a> {
    question: &'a Question,
    air: Air,
    ground: Ground,
    head: Head,
    /// The least loft that is useful: at the least attack, half way, at the most.
    floor: Option<[f64; 3]>,
}

/// What a flight must be at least, for one question.
struct Least {
    apex: f64,
    landing_angle_deg: f64,
    spin_rate_rpm: f64,
}

impl Least {
    fn met_by(&self, launch: &Launch, flight: &Flight) -> bool {
        flight.apex >= self.apex
            && flight.landing_angle_deg >= self.landing_angle_deg
            && launch.spin_rate_rpm >= self.spin_rate_rpm
    }
}

impl<'a> Bench<'a> {
    pub fn new(question: &'a Question) -> Result<Self, Invalid> {
        match question.speed {
            Speed::Ball(speed) => within("ball_speed", speed, 12.0..=108.0, "m/s")?,
            Speed::Club(speed) => within("club_speed", speed, 10.0..=75.0, "m/s")?,
        };
        let ground = question.conditions.ground();
        ground.check()?;
        let mut bench = Self {
            question,
            air: question.conditions.air()?,
            ground,
            head: question.club.head(),
            floor: None,
        };
        if question.club >= Club::Hybrid {
            let least = bench.least();
            let [from, to] = question.freedom.angle_of_attack_deg;
            bench.floor = Some(
                [0.0, 0.5, 1.0]
                    .map(|share| bench.least_useful_loft(from + share * (to - from), &least)),
            );
        }
        Ok(bench)
    }

    fn least(&self) -> Least {
        let Question { club, useful, .. } = self.question;
        let (delivery, launch) = self.launch(&club.reference_delivery(self.club_speed()));
        let flight = self.fly(&launch);
        let high = useful.apex_per_speed * delivery.club_speed;
        Least {
            apex: if *club >= Club::Iron3 {
                high.min(flight.apex)
            } else {
                0.0
            },
            landing_angle_deg: useful.landing_least_deg.min(flight.landing_angle_deg),
            spin_rate_rpm: (1.0 - useful.spin_share) * launch.spin_rate_rpm,
        }
    }

    /// The least loft at an attack whose flight is `least`, by bisection: all three rise
    /// with loft.
    fn least_useful_loft(&self, attack: f64, least: &Least) -> f64 {
        let [mut low, mut high] = self.lofts(attack);
        let meets = |loft: f64| {
            let launch = self.launch(&self.delivered(attack, loft)).1;
            least.met_by(&launch, &self.fly(&launch))
        };
        if meets(low) {
            return low;
        }
        for _ in 0..14 {
            let middle = 0.5 * (low + high);
            if meets(middle) {
                high = middle;
            } else {
                low = middle;
            }
        }
        high
    }

    fn fly(&self, launch: &Launch) -> Flight {
        fly_with(launch, &self.air)
    }

    /// Club speed, as asked or as a first guess.
    fn club_speed(&self) -> f64 {
        match self.question.speed {
            Speed::Club(speed) => speed,
            Speed::Ball(speed) => speed / 1.4,
        }
    }

    /// Least and most loft at an attack, whatever is useful.
    fn lofts(&self, attack: f64) -> [f64; 2] {
        let [from, to] = self.question.freedom.dynamic_loft_deg;
        let least = from.max(attack + LEAST_SPIN_LOFT_DEG);
        [least, to.max(least)]
    }

    fn delivered(&self, attack: f64, loft: f64) -> Delivery {
        Delivery {
            angle_of_attack_deg: attack,
            dynamic_loft_deg: loft,
            ..self.question.club.reference_delivery(self.club_speed())
        }
    }

    /// The delivery at a share (0…1 each) of the limits of attack and, within what that
    /// attack leaves, of loft.
    pub fn delivery(&self, [attack, loft]: [f64; 2]) -> Delivery {
        let [from, to] = self.question.freedom.angle_of_attack_deg;
        let share = attack;
        let attack = from + share * (to - from);
        let [mut least, most] = self.lofts(attack);
        if let Some([a, b, c]) = self.floor {
            // The parabola through the three.
            let (u, v) = (share - 0.5, 4.0 * (share - 0.5) * (share - 0.5));
            let floor = b + (c - a) * u + (0.5 * (a + c) - b) * v;
            least = floor.clamp(least, most);
        }
        self.delivered(attack, least + loft * (most - least))
    }

    /// The delivery at the speed asked for, with its launch. A ball speed has the ball's
    /// warmth in it already.
    pub fn launch(&self, delivery: &Delivery) -> (Delivery, Launch) {
        match self.question.speed {
            Speed::Ball(speed) => struck_at(*delivery, &self.head, speed),
            Speed::Club(_) => {
                let launch = struck(delivery, &self.head);
                (
                    *delivery,
                    launch.at(self.question.conditions.liveliness() * launch.ball_speed),
                )
            }
        }
    }

    pub fn outcome(&self, share: [f64; 2]) -> Outcome {
        let (delivery, launch) = self.launch(&self.delivery(share));
        let (flight, rest) = to_rest_with(&launch, &self.air, &self.ground);
        Outcome {
            delivery,
            launch,
            flight,
            rest,
            distance: match self.question.aim {
                Aim::Carry => flight.carry,
                Aim::Total => rest.total,
            },
        }
    }

    /// What comes of each delivery: itself, its launch, its flight and the distance sought.
    pub fn try_all(&self, shares: &[[f64; 2]]) -> Vec<Tried> {
        let struck: Vec<(Delivery, Launch)> = shares
            .iter()
            .map(|share| self.launch(&self.delivery(*share)))
            .collect();
        let launches: Vec<Launch> = struck.iter().map(|(_, launch)| *launch).collect();
        let flown: Vec<(Flight, f64)> = match self.question.aim {
            Aim::Carry => fly_all(&launches, &self.air)
                .into_iter()
                .map(|flight| (flight, flight.carry))
                .collect(),
            Aim::Total => rest_all(&launches, &self.air, &self.ground)
                .into_iter()
                .map(|(flight, rest)| (flight, rest.total))
                .collect(),
        };
        struck
            .into_iter()
            .zip(flown)
            .map(|((delivery, launch), (flight, distance))| Tried {
                delivery,
                launch,
                flight,
                distance,
            })
            .collect()
    }

    fn distances(&self, shares: &[[f64; 2]]) -> Vec<f64> {
        self.try_all(shares)
            .iter()
            .map(|tried| tried.distance)
            .collect()
    }

    /// The best outcome.
    pub fn search(&self) -> Outcome {
        let shares = grid([0.5, 0.5], 0.5, COARSE);
        let mut best = furthest(&shares, &self.distances(&shares));
        let mut top = best;
        for half in FINER {
            let centre = best.map(|share| share.clamp(half, 1.0 - half));
            let shares = grid(centre, half, 5);
            let distances = self.distances(&shares);
            best = furthest(&shares, &distances);
            let [u, v] = top_of_quadratic(&distances);
            top = [centre[0] + half * u, centre[1] + half * v];
        }
        let (top, best) = (self.outcome(top), self.outcome(best));
        // Where the ground is far from a quadratic, the best that was seen.
        if top.distance > best.distance - ROUNDED {
            top
        } else {
            best
        }
    }
}

/// A delivery that was tried.
pub(crate) struct Tried {
    pub delivery: Delivery,
    pub launch: Launch,
    pub flight: Flight,
    /// The distance that is sought, m.
    pub distance: f64,
}

/// Where it went furthest; ties go to the first, for repeatability.
fn furthest(shares: &[[f64; 2]], distances: &[f64]) -> [f64; 2] {
    let start = ([0.5, 0.5], f64::NEG_INFINITY);
    let further = |a: ([f64; 2], f64), b: ([f64; 2], f64)| if b.1 > a.1 { b } else { a };
    let pairs = shares.iter().copied().zip(distances.iter().copied());
    pairs.fold(start, further).0
}

/// A square grid of shares about a centre.
pub(crate) fn grid(centre: [f64; 2], half: f64, points: usize) -> Vec<[f64; 2]> {
    let along = |c: f64, i: usize| c + half * (2.0 * i as f64 / (points - 1) as f64 - 1.0);
    (0..points * points)
        .map(|i| [along(centre[0], i / points), along(centre[1], i % points)])
        .collect()
}

/// The top, within −1…1 each way, of the quadratic that fits values on a 5 × 5 grid best.
/// On such a grid 1, u, v, u² − ½, v² − ½ and uv are orthogonal, so each coefficient is
/// found by itself.
fn top_of_quadratic(values: &[f64]) -> [f64; 2] {
    let at = |i: usize| i as f64 / 2.0 - 1.0;
    let coefficient = |basis: &dyn Fn(f64, f64) -> f64| {
        let terms = values.iter().enumerate().map(|(i, value)| {
            let b = basis(at(i / 5), at(i % 5));
            [b * value, b * b]
        });
        let [along, norm] = terms.fold([0.0; 2], |[a, n], [x, y]| [a + x, n + y]);
        along / norm
    };
    let (by_u, by_v) = (coefficient(&|u, _| u), coefficient(&|_, v| v));
    let (by_uu, by_vv) = (
        coefficient(&|u, _| u * u - 0.5),
        coefficient(&|_, v| v * v - 0.5),
    );
    let by_uv = coefficient(&|u, v| u * v);
    let highest = |slope: f64, bend: f64| {
        if bend < 0.0 {
            (-0.5 * slope / bend).clamp(-1.0, 1.0)
        } else {
            1.0_f64.copysign(slope)
        }
    };
    let [mut u, mut v] = [0.0; 2];
    for _ in 0..60 {
        u = highest(by_u + by_uv * v, by_uu);
        v = highest(by_v + by_uv * u, by_vv);
    }
    [u, v]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::conditions::Conditions;
    use crate::vocabulary::keyed::Keyed;
    use crate::vocabulary::units::{MPH, YARD};
    use proptest::prelude::*;

    fn ask(club: Club, speed: Speed, aim: Aim) -> Question {
        Question {
            speed,
            club,
            aim,
            conditions: Conditions::REFERENCE,
            freedom: Freedom::of(club),
            useful: Useful::USUAL,
            tolerance: 1.0,
        }
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]
        #[test]
        fn no_deliverable_shot_goes_further_than_the_best(
            mph in 50.0..140.0f64, club in 0..Club::COUNT, total in any::<bool>(),
        ) {
            let club = Club::all().nth(club).unwrap();
            let aim = if total { Aim::Total } else { Aim::Carry };
            let question = ask(club, Speed::Club(mph * MPH), aim);
            let bench = Bench::new(&question).unwrap();
            let found = bench.search();
            let tried = bench.distances(&grid([0.5, 0.5], 0.5, 40));
            let finest = tried.into_iter().fold(0.0, f64::max);
            prop_assert!(found.distance > finest - 0.1 * YARD, "{} {finest}", found.distance);
        }
    }

    #[test]
    fn a_ball_speed_asked_for_is_the_ball_speed_of_the_best() {
        let found = best(&ask(Club::Driver, Speed::Ball(67.0), Aim::Carry)).unwrap();
        assert!((found.launch.ball_speed - 67.0).abs() < 0.01);
    }

    #[test]
    fn the_furthest_with_an_iron_is_one_that_holds_a_green_as_well_as_the_reference() {
        for club in Club::all().filter(|club| *club >= Club::Hybrid) {
            for share in [0.6, 0.8, 1.0] {
                let speed = share * club.reference_club_speed();
                let found = best(&ask(club, Speed::Club(speed), Aim::Total)).unwrap();
                let usual = fly_with(
                    &club.reference_launch(speed),
                    &Conditions::REFERENCE.air().unwrap(),
                );
                let least = usual.landing_angle_deg.min(Useful::USUAL.landing_least_deg);
                let lands = found.flight.landing_angle_deg;
                assert!(lands > least - 0.2, "{club:?} {share}: {lands} {least}");
                assert!(found.distance > usual.carry);
            }
        }
    }

    #[test]
    fn a_cold_ball_goes_less_far_from_the_same_swing_and_as_far_from_the_same_ball_speed() {
        let cold = Conditions {
            ball_temperature_c: Some(0.0),
            ..Conditions::REFERENCE
        };
        let in_it = |speed| {
            let question = Question {
                conditions: cold,
                ..ask(Club::Driver, speed, Aim::Carry)
            };
            best(&question).unwrap().distance
        };
        let warm = |speed| {
            best(&ask(Club::Driver, speed, Aim::Carry))
                .unwrap()
                .distance
        };
        let lost = warm(Speed::Club(45.0)) - in_it(Speed::Club(45.0));
        assert!((4.0 * YARD..9.0 * YARD).contains(&lost), "{lost}");
        assert_eq!(warm(Speed::Ball(65.0)), in_it(Speed::Ball(65.0)));
    }

    #[test]
    fn more_speed_always_reaches_further_and_juniors_have_a_furthest_too() {
        for club in Club::all() {
            let reached: Vec<f64> = (10..=75)
                .map(|speed| furthest_carry(club, f64::from(speed)))
                .collect();
            assert!(
                reached.windows(2).all(|w| w[0] < w[1]),
                "{club:?} {reached:?}"
            );
        }
        let junior = furthest_carry(Club::Driver, 56.0 * MPH) / YARD;
        assert!((88.0..102.0).contains(&junior), "{junior}");
    }

    #[test]
    fn the_top_of_a_known_hill_is_found() {
        let hill = |u: f64, v: f64| 5.0 - (u - 0.3).powi(2) - 2.0 * (v + 0.2).powi(2) + 0.5 * u * v;
        let values: Vec<f64> = (0..25)
            .map(|i| hill(f64::from(i / 5) / 2.0 - 1.0, f64::from(i % 5) / 2.0 - 1.0))
            .collect();
        let [u, v] = top_of_quadratic(&values);
        let best = hill(u, v);
        assert!(best >= hill(u + 0.01, v) && best >= hill(u - 0.01, v));
        assert!(best >= hill(u, v + 0.01) && best >= hill(u, v - 0.01));
    }
}
