//! Unclaimed carry: what a club speed could have carried, less what it did.
//!
//! The attainable shot has the best launch that this speed can be given with the
//! driver ([`crate::reach::window`]), or the reference delivery's with any other club, in
//! reference conditions. Between the shot and that one stand five levers. What each
//! is worth depends on which others were pulled before, so the share of each is its
//! average over every order of pulling them (Shapley 1953); the shares add up to the
//! whole exactly. What the carry seen differs from the flight of its own launch is no
//! lever's and stands apart.

use crate::physics::air::Air;
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::{SWING_ERROR, carry_all};
use crate::physics::launch::Launch;
use crate::reach::window::{Aim, Freedom, Question, Speed, Useful, best};
use crate::vocabulary::invalid::Invalid;
use rayon::prelude::*;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Something that separates a shot from the attainable one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Lever {
    /// Ball speed: the strike.
    BallSpeed,
    /// Launch angle.
    Launch,
    /// Spin rate.
    Spin,
    /// Launch direction and spin axis.
    Curve,
    /// Air, wind and the warmth of the ball.
    Conditions,
}

impl Lever {
    /// All levers, in the order they are shown.
    pub const ALL: [Lever; 5] = [
        Lever::BallSpeed,
        Lever::Launch,
        Lever::Spin,
        Lever::Curve,
        Lever::Conditions,
    ];

    /// The name on screen.
    pub fn label(self) -> &'static str {
        match self {
            Lever::BallSpeed => "Ball speed",
            Lever::Launch => "Launch",
            Lever::Spin => "Spin",
            Lever::Curve => "Curve",
            Lever::Conditions => "Air and wind",
        }
    }
}

/// The share of one lever.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Share {
    /// Which.
    pub lever: Lever,
    /// Its name.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// Carry left unclaimed by it, m; negative where the shot is ahead.
    pub carry: f64,
}

/// Attainable less actual carry, split.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Unclaimed {
    /// Carry of the attainable shot, m.
    pub attainable: f64,
    /// Carry of this one: as seen, or as flown from its launch when none was seen, m.
    pub actual: f64,
    /// The five shares.
    pub shares: Vec<Share>,
    /// Flown from its own launch less seen, m: no lever's; nothing when it went further.
    pub unexplained: f64,
    /// Standard error of the attainable carry by the model, m.
    pub model_error: f64,
    /// Over how many shots this is the mean.
    pub n: usize,
}

/// Unclaimed carry of one shot among thousands that are told at once: the same, without what
/// is the same for all of them.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct UnclaimedOfShot {
    /// Carry of the attainable shot, m.
    pub attainable: f64,
    /// Carry of this one, m.
    pub actual: f64,
    /// Carry left unclaimed by each lever, m.
    pub shares: BTreeMap<Lever, f64>,
    /// Flown from its own launch less seen, m.
    pub unexplained: f64,
}

impl From<&Unclaimed> for UnclaimedOfShot {
    fn from(of: &Unclaimed) -> Self {
        UnclaimedOfShot {
            attainable: of.attainable,
            actual: of.actual,
            shares: of.shares.iter().map(|s| (s.lever, s.carry)).collect(),
            unexplained: of.unexplained,
        }
    }
}

impl Unclaimed {
    /// The whole: attainable less actual, m.
    pub fn whole(&self) -> f64 {
        self.attainable - self.actual
    }

    /// The lever with the most to claim.
    pub fn largest(&self) -> Option<&Share> {
        let within_reach = self.shares.iter().filter(|s| s.lever != Lever::Conditions);
        within_reach.max_by(|a, b| a.carry.total_cmp(&b.carry))
    }

    /// The mean over several shots; shares still add up to the whole.
    pub fn mean(shots: &[Unclaimed]) -> Option<Unclaimed> {
        let n = shots.len();
        let mean =
            |value: &dyn Fn(&Unclaimed) -> f64| shots.iter().map(value).sum::<f64>() / n as f64;
        (n > 0).then(|| Unclaimed {
            attainable: mean(&|u| u.attainable),
            actual: mean(&|u| u.actual),
            shares: Lever::ALL
                .iter()
                .enumerate()
                .map(|(i, &lever)| Share {
                    lever,
                    label: lever.label(),
                    carry: mean(&|u| u.shares[i].carry),
                })
                .collect(),
            unexplained: mean(&|u| u.unexplained),
            // Every shot is judged by the same model: its error does not average out.
            model_error: mean(&|u| u.model_error),
            n,
        })
    }
}

/// Attainable launches for a club over a stretch of club speeds. The best launch
/// changes smoothly with speed, so it is searched at three speeds and interpolated.
#[derive(Debug, Clone)]
pub enum Attainable {
    /// The reference delivery's launch.
    Sound(Club),
    /// Best launches at three club speeds (m/s).
    Best(Box<[(f64, Launch); 3]>),
}

impl Attainable {
    /// Attainable launches for club speeds about `least` to `most`, m/s, within what the
    /// player can deliver.
    ///
    /// # Errors
    /// [`Invalid`] outside the domain of [`crate::reach::window`].
    pub fn over(club: Club, freedom: Freedom, least: f64, most: f64) -> Result<Self, Invalid> {
        if club != Club::Driver {
            return Ok(Attainable::Sound(club));
        }
        let (least, most) = (least.clamp(15.0, 55.0), most.clamp(15.0, 55.0));
        let least = least.min(most - 1.0);
        let nodes = [least, 0.5 * (least + most), most].map(|speed| {
            best(&Question {
                speed: Speed::Club(speed),
                club,
                aim: Aim::Carry,
                conditions: Conditions::REFERENCE,
                freedom,
                useful: Useful::USUAL,
                tolerance: 1.0,
            })
            .map(|outcome| (speed, outcome.launch))
        });
        let [a, b, c] = nodes;
        Ok(Attainable::Best(Box::new([a?, b?, c?])))
    }

    /// The attainable launch at a club speed, m/s.
    pub fn at(&self, club_speed: f64) -> Launch {
        let nodes = match self {
            Attainable::Sound(club) => return club.reference_launch(club_speed),
            Attainable::Best(nodes) => nodes,
        };
        // The parabola through three points (Lagrange).
        let blend = |value: fn(&Launch) -> f64| {
            (0..3)
                .map(|i| {
                    let others = (0..3).filter(|j| *j != i);
                    let weight: f64 = others
                        .map(|j| (club_speed - nodes[j].0) / (nodes[i].0 - nodes[j].0))
                        .product();
                    weight * value(&nodes[i].1)
                })
                .sum()
        };
        Launch {
            ball_speed: blend(|l| l.ball_speed),
            launch_angle_deg: blend(|l| l.launch_angle_deg),
            launch_direction_deg: 0.0,
            spin_rate_rpm: blend(|l| l.spin_rate_rpm),
            spin_axis_deg: 0.0,
        }
    }
}

/// A shot whose unclaimed carry is asked for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Claim {
    /// How it left.
    pub launch: Launch,
    /// Carry of that launch in the air it was hit in, m, when it was flown already.
    pub flown: Option<f64>,
    /// Carry as seen, m.
    pub carry: Option<f64>,
    /// The launch that could be had.
    pub attainable: Launch,
}

/// Splits the unclaimed carry of each shot hit in `conditions`.
///
/// # Errors
/// [`Invalid`] outside the domain of flight.
pub fn split(claims: &[Claim], conditions: &Conditions) -> Result<Vec<Unclaimed>, Invalid> {
    let (here, reference) = (conditions.air()?, Conditions::REFERENCE.air()?);
    for claim in claims {
        claim.launch.check()?;
        claim.attainable.check()?;
    }
    let lively = conditions.liveliness();
    let split = claims
        .par_chunks(AT_ONCE)
        .flat_map_iter(|claims| split_some(claims, &here, &reference, lively));
    Ok(split.collect())
}

/// Claims whose flights are flown together: enough to keep the lanes busy.
const AT_ONCE: usize = 256;

fn split_some(claims: &[Claim], here: &Air, reference: &Air, lively: f64) -> Vec<Unclaimed> {
    let sets: Vec<Sets> = claims
        .iter()
        .map(|claim| Sets::of(claim, here == reference, lively))
        .collect();
    // Every flight that anybody needs, in either air, at once.
    let flown = |wanted: fn(&(usize, Launch)) -> bool, air: &Air| {
        let launches = sets.iter().flat_map(|set| &set.flights);
        let launches: Vec<Launch> = launches.filter(|f| wanted(f)).map(|f| f.1).collect();
        carry_all(&launches, air).into_iter()
    };
    let mut in_reference = flown(|(pulled, _)| has(*pulled, Lever::Conditions), reference);
    let mut in_here = flown(|(pulled, _)| !has(*pulled, Lever::Conditions), here);
    claims
        .iter()
        .zip(&sets)
        .map(|(claim, set)| {
            let carries = set.carries(claim, &mut in_here, &mut in_reference);
            let flown = carries[0];
            let actual = claim.carry.unwrap_or(flown);
            // A ball that beats the model of its own launch moves the attainable with it.
            let beaten = (actual - flown).max(0.0);
            Unclaimed {
                attainable: carries[carries.len() - 1] + beaten,
                actual,
                shares: Lever::ALL
                    .iter()
                    .map(|&lever| Share {
                        lever,
                        label: lever.label(),
                        carry: shapley(&carries, lever),
                    })
                    .collect(),
                unexplained: (flown - actual).max(0.0),
                model_error: SWING_ERROR * carries[carries.len() - 1],
                n: 1,
            }
        })
        .collect()
}

/// The sets of pulled levers of one claim. Levers that change nothing cost no flight.
struct Sets {
    /// The levers that change something.
    active: usize,
    /// What must be flown: the levers pulled and the launch, fewest levers first.
    flights: Vec<(usize, Launch)>,
}

/// How many sets of levers there are.
const ALL_SETS: usize = 1 << Lever::ALL.len();

impl Sets {
    /// A ball leaves here at `lively` of the speed that it would have in reference conditions.
    fn of(claim: &Claim, same_air: bool, lively: f64) -> Self {
        let launch = |pulled| pull(&claim.launch, &claim.attainable, pulled, lively);
        let idle = |lever: &Lever| {
            let moved = launch(1 << (*lever as usize)) != claim.launch;
            !moved && (*lever != Lever::Conditions || same_air)
        };
        let active = Lever::ALL
            .iter()
            .filter(|lever| !idle(lever))
            .fold(0, |set, lever| set | 1 << (*lever as usize));
        let known = |pulled: &usize| *pulled == 0 && claim.flown.is_some();
        let flights = (0..ALL_SETS)
            .filter(|pulled| pulled & !active == 0 && !known(pulled))
            .map(|pulled| (pulled, launch(pulled)))
            .collect();
        Sets { active, flights }
    }

    /// Carry for every set, from the flights in the order they were asked for.
    fn carries(
        &self,
        claim: &Claim,
        in_here: &mut impl Iterator<Item = f64>,
        in_reference: &mut impl Iterator<Item = f64>,
    ) -> Vec<f64> {
        let mut carries = vec![claim.flown.unwrap_or_default(); ALL_SETS];
        for (pulled, _) in &self.flights {
            let flown = if has(*pulled, Lever::Conditions) {
                in_reference.next()
            } else {
                in_here.next()
            };
            carries[*pulled] = flown.expect("a flight for every set that was asked for");
        }
        for pulled in 0..ALL_SETS {
            carries[pulled] = carries[pulled & self.active];
        }
        carries
    }
}

fn has(pulled: usize, lever: Lever) -> bool {
    pulled >> (lever as usize) & 1 == 1
}

/// The launch once some levers are pulled over to the attainable one. What a cold ball costs
/// is the conditions', not the strike's.
fn pull(shot: &Launch, attainable: &Launch, pulled: usize, lively: f64) -> Launch {
    let from = |lever| if has(pulled, lever) { attainable } else { shot };
    Launch {
        ball_speed: from(Lever::BallSpeed).ball_speed
            * match [Lever::BallSpeed, Lever::Conditions].map(|lever| has(pulled, lever)) {
                [true, false] => lively,
                [false, true] => 1.0 / lively,
                _ => 1.0,
            },
        launch_angle_deg: from(Lever::Launch).launch_angle_deg,
        spin_rate_rpm: from(Lever::Spin).spin_rate_rpm,
        launch_direction_deg: from(Lever::Curve).launch_direction_deg,
        spin_axis_deg: from(Lever::Curve).spin_axis_deg,
    }
}

/// Shapley's value of a lever, from the carry of every set of pulled levers.
fn shapley(carries: &[f64], lever: Lever) -> f64 {
    let levers = Lever::ALL.len();
    let factorial = |n: usize| (1..=n).product::<usize>() as f64;
    let bit = 1 << (lever as usize);
    (0..carries.len())
        .filter(|pulled| pulled & bit == 0)
        .map(|pulled| {
            let before = pulled.count_ones() as usize;
            let weight = factorial(before) * factorial(levers - before - 1) / factorial(levers);
            weight * (carries[pulled | bit] - carries[pulled])
        })
        .sum()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::{MPH, YARD};
    use proptest::prelude::*;

    fn claim(launch: Launch) -> Claim {
        let attainable =
            Attainable::over(Club::Driver, Freedom::of(Club::Driver), 40.0, 50.0).unwrap();
        Claim {
            launch,
            flown: None,
            carry: None,
            attainable: attainable.at(44.0),
        }
    }

    fn one(claim: Claim, conditions: &Conditions) -> Unclaimed {
        split(&[claim], conditions).unwrap().remove(0)
    }

    fn share(of: &Unclaimed, lever: Lever) -> f64 {
        of.shares.iter().find(|s| s.lever == lever).unwrap().carry
    }

    #[test]
    fn the_attainable_shot_has_nothing_unclaimed() {
        let best = claim(Club::Driver.reference_launch(44.0)).attainable;
        let nothing = one(claim(best), &Conditions::REFERENCE);
        assert!(nothing.whole().abs() < 1e-9);
        assert!(nothing.shares.iter().all(|s| s.carry.abs() < 1e-9));
    }

    #[test]
    fn a_lever_that_alone_differs_gets_the_whole() {
        let mut weak = claim(Club::Driver.reference_launch(44.0)).attainable;
        weak.ball_speed -= 4.0 * MPH;
        let split = one(claim(weak), &Conditions::REFERENCE);
        assert!((share(&split, Lever::BallSpeed) - split.whole()).abs() < 1e-9);
        assert!(split.whole() > 5.0 * YARD);
        assert_eq!(split.largest().unwrap().lever, Lever::BallSpeed);
    }

    #[test]
    fn thin_air_is_carry_already_claimed() {
        let high = Conditions {
            altitude_m: 1140.0,
            ..Conditions::REFERENCE
        };
        let split = one(claim(Club::Driver.reference_launch(44.0)), &high);
        assert!(share(&split, Lever::Conditions) < -3.0 * YARD);
    }

    #[test]
    fn the_interpolated_best_is_the_searched_best() {
        let attainable =
            Attainable::over(Club::Driver, Freedom::of(Club::Driver), 38.0, 50.0).unwrap();
        let air = Conditions::REFERENCE.air().unwrap();
        for speed in [39.0, 42.0, 47.0, 49.0] {
            let searched = best(&Question {
                speed: Speed::Club(speed),
                club: Club::Driver,
                aim: Aim::Carry,
                conditions: Conditions::REFERENCE,
                freedom: Freedom::of(Club::Driver),
                useful: Useful::USUAL,
                tolerance: 1.0,
            })
            .unwrap();
            let carry = carry_all(&[attainable.at(speed)], &air)[0];
            assert!(
                (carry - searched.distance).abs() < 0.3 * YARD,
                "{carry} {}",
                searched.distance
            );
        }
    }

    proptest! {
        #[test]
        fn the_shares_add_up_to_the_whole(
            speed in 40.0..70.0f64, up in 4.0..22.0f64, spin in 1500.0..5000.0f64,
            axis in -25.0..25.0f64, away in -6.0..6.0f64, metres in 0.0..2000.0f64, carry in 100.0..250.0f64,
        ) {
            let launch = Launch {
                ball_speed: speed, launch_angle_deg: up, launch_direction_deg: away,
                spin_rate_rpm: spin, spin_axis_deg: axis,
            };
            let here = Conditions { altitude_m: metres, ..Conditions::REFERENCE };
            let split = one(Claim { carry: Some(carry), ..claim(launch) }, &here);
            let sum: f64 = split.shares.iter().map(|s| s.carry).sum();
            prop_assert!((sum + split.unexplained - split.whole()).abs() < 0.01 * YARD);
        }
    }
}
