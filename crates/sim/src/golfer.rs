//! A golfer whose true swing is known.

use rand::{Rng, RngExt};
use rand_distr::{Distribution, Normal};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::{Flight, fly};
use tally_core::physics::impact::{Contact, Delivery, strike_with};
use tally_core::physics::launch::Launch;
use tally_core::vocabulary::units::MPH;

/// A golfer's habits with one club: means and, in `scatter`, how far they stray.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Golfer {
    /// Name, for lists.
    pub name: &'static str,
    /// Club speed as a share of the reference golfer's with the same club.
    pub speed_share: f64,
    /// Angle of attack beyond what the club asks for, deg.
    pub attack_deg: f64,
    /// Dynamic loft beyond what the club asks for, deg.
    pub loft_deg: f64,
    /// Mean club path, deg.
    pub path_deg: f64,
    /// Mean face angle, deg.
    pub face_deg: f64,
    /// Mean strike toward the toe, m.
    pub toe: f64,
    /// 1 for an even player; 2 strays twice as far.
    pub scatter: f64,
    /// Share of swings that are mishit badly, 0…1.
    pub mishits: f64,
}

/// The golfers that can be asked for by name.
pub const GOLFERS: [Golfer; 6] = [
    golfer("ilse", 0.805, -0.5, 0.2, 1.5, 0.5, -0.004, 1.0, 0.06),
    golfer("dov", 1.02, 1.5, 1.0, -1.0, 0.0, 0.002, 1.7, 0.10),
    golfer("petra", 0.72, -0.5, 0.5, 2.0, 1.0, 0.0, 0.9, 0.05),
    golfer("bram", 1.09, 2.5, 0.5, 1.0, 1.0, 0.003, 1.3, 0.08),
    golfer("ayla", 0.78, -1.0, -1.0, 0.0, 0.5, 0.0, 1.1, 0.08),
    golfer("niko", 0.66, 0.5, -1.0, -1.0, -1.0, -0.003, 1.6, 0.12),
];

#[expect(clippy::too_many_arguments, reason = "one row of a table")]
const fn golfer(
    name: &'static str,
    speed_share: f64,
    attack_deg: f64,
    loft_deg: f64,
    path_deg: f64,
    face_deg: f64,
    toe: f64,
    scatter: f64,
    mishits: f64,
) -> Golfer {
    Golfer {
        name,
        speed_share,
        attack_deg,
        loft_deg,
        path_deg,
        face_deg,
        toe,
        scatter,
        mishits,
    }
}

/// How a golfer is at the moment of a swing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Form {
    /// Full swings made before in this session; the first ones are slower.
    pub swings: u32,
    /// Effort felt, 0…1; 1 is the stock swing, and above it is trying harder.
    pub effort: f64,
}

impl Form {
    /// Warm, fresh, and swinging as usual.
    pub const USUAL: Form = Form {
        swings: 12,
        effort: 1.0,
    };

    /// Club speed as a share of the usual: v(n) = 1 − gain·exp(−n/τ) − fatigue·n, and
    /// half the effort felt is still three quarters of the speed.
    pub fn speed_share(&self) -> f64 {
        const GAIN: f64 = 0.04;
        const TAU: f64 = 5.0;
        const FATIGUE: f64 = 0.0004;
        let n = f64::from(self.swings);
        let warm = 1.0 - GAIN * (-n / TAU).exp() - FATIGUE * (n - 12.0).max(0.0);
        warm * (0.5 + 0.5 * self.effort)
    }

    /// How much further the club strays than usual: trying harder costs control.
    fn straying(&self) -> f64 {
        (0.7 + 0.3 * self.effort) * (1.0 + 2.0 * (self.effort - 1.0).max(0.0))
    }
}

/// What the feet did in one swing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ground {
    /// Vertical force under the lead foot, % of body weight.
    pub lead: f64,
    /// Vertical force under both, % of body weight.
    pub both: f64,
    /// Torque, N·m/kg.
    pub torque: f64,
    /// When the vertical force peaked, s before impact.
    pub peak: f64,
}

/// What truly happened in one swing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Truth {
    /// Peak speed of the hands, m/s.
    pub hand_speed: f64,
    /// What the feet did.
    pub ground: Ground,
    /// How club met ball.
    pub delivery: Delivery,
    /// How the ball left.
    pub launch: Launch,
    /// Where it went.
    pub flight: Flight,
}

impl Golfer {
    /// Swings once, warm and as usual.
    pub fn swing(&self, club: Club, conditions: &Conditions, rng: &mut impl Rng) -> Truth {
        self.swing_in(Form::USUAL, club, conditions, rng)
    }

    /// Swings once in this form.
    pub fn swing_in(
        &self,
        form: Form,
        club: Club,
        conditions: &Conditions,
        rng: &mut impl Rng,
    ) -> Truth {
        let straying = if form == Form::USUAL {
            1.0
        } else {
            form.straying()
        };
        let share = if form == Form::USUAL {
            1.0
        } else {
            form.speed_share()
        };
        let mut stray = |spread: f64| spread * self.scatter * straying * standard_normal(rng);
        let usual = club.reference_delivery(self.speed_share * club.reference_club_speed());
        let mut delivery = Delivery {
            club_speed: usual.club_speed * share + stray(0.9 * MPH),
            angle_of_attack_deg: usual.angle_of_attack_deg + self.attack_deg + stray(0.8),
            dynamic_loft_deg: usual.dynamic_loft_deg + self.loft_deg + stray(0.9),
            club_path_deg: self.path_deg + stray(1.4),
            face_angle_deg: self.face_deg + stray(1.2),
            impact_toe: self.toe + stray(0.005),
            impact_high: usual.impact_high + stray(0.004),
            ..usual
        };
        if rng.random_bool(self.mishits) {
            // A real mishit: out on the heel or toe, and low.
            delivery.impact_toe += if rng.random_bool(0.5) { 0.024 } else { -0.024 };
            delivery.impact_high -= 0.009;
            delivery.club_speed *= 0.97;
        }
        let launch = strike_with(&delivery, &club.head(), &Contact::CALIBRATED);
        let launch = within_domain(launch.at(conditions.liveliness() * launch.ball_speed));
        let flight =
            fly(&launch, conditions).expect("launch and conditions were held to the domain");
        Truth {
            hand_speed: 0.21 * delivery.club_speed,
            ground: self.ground(delivery.club_speed),
            delivery,
            launch,
            flight,
        }
    }

    /// Force that goes with a club speed: more for more, and a little earlier.
    fn ground(&self, club_speed: f64) -> Ground {
        let fast = club_speed / (50.0 * self.speed_share);
        Ground {
            lead: 115.0 * fast,
            both: 165.0 * fast,
            torque: 1.6 * fast,
            peak: 0.045 + 0.02 * (fast - 1.0),
        }
    }
}

/// Holds a freak swing to launches that the flight model covers.
fn within_domain(launch: Launch) -> Launch {
    Launch {
        ball_speed: launch.ball_speed.clamp(8.0, 95.0),
        launch_angle_deg: launch.launch_angle_deg.clamp(-5.0, 65.0),
        launch_direction_deg: launch.launch_direction_deg.clamp(-40.0, 40.0),
        spin_rate_rpm: launch.spin_rate_rpm.clamp(300.0, 13_000.0),
        spin_axis_deg: launch.spin_axis_deg.clamp(-60.0, 60.0),
    }
}

/// One draw of the standard normal distribution.
pub(crate) fn standard_normal(rng: &mut impl Rng) -> f64 {
    Normal::new(0.0, 1.0)
        .expect("a spread of one is valid")
        .sample(rng)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand::SeedableRng;
    use rand_pcg::Pcg64;
    use tally_core::vocabulary::keyed::Keyed;
    use tally_core::vocabulary::units::YARD;

    fn carries(golfer: &Golfer, club: Club, seed: u64) -> Vec<f64> {
        let mut rng = Pcg64::seed_from_u64(seed);
        (0..200)
            .map(|_| {
                golfer
                    .swing(club, &Conditions::REFERENCE, &mut rng)
                    .flight
                    .carry
                    / YARD
            })
            .collect()
    }

    #[test]
    fn the_same_seed_swings_the_same() {
        assert_eq!(
            carries(&GOLFERS[0], Club::Wood5, 7),
            carries(&GOLFERS[0], Club::Wood5, 7)
        );
        assert_ne!(
            carries(&GOLFERS[0], Club::Wood5, 7),
            carries(&GOLFERS[0], Club::Wood5, 8)
        );
    }

    #[test]
    fn every_golfer_carries_a_distance_a_golfer_could() {
        for golfer in &GOLFERS {
            for club in Club::all() {
                let carries = carries(golfer, club, 1);
                let mean = carries.iter().sum::<f64>() / carries.len() as f64;
                assert!(
                    (25.0..330.0).contains(&mean),
                    "{} {club:?} {mean}",
                    golfer.name
                );
            }
        }
    }

    #[test]
    fn the_first_swings_are_slower_and_half_the_effort_is_three_quarters_of_the_speed() {
        let share = |swings, effort| Form { swings, effort }.speed_share();
        assert!(share(0, 1.0) < 0.97 && share(12, 1.0) > 0.995);
        assert!(share(60, 1.0) < share(12, 1.0));
        assert!((share(12, 0.5) / share(12, 1.0) - 0.75).abs() < 1e-9);
    }

    #[test]
    fn the_wilder_golfer_strays_further() {
        let spread = |golfer: &Golfer| {
            let mut rng = Pcg64::seed_from_u64(3);
            let sides: Vec<_> = (0..300)
                .map(|_| {
                    golfer
                        .swing(Club::Driver, &Conditions::REFERENCE, &mut rng)
                        .flight
                        .side
                })
                .collect();
            let mean = sides.iter().sum::<f64>() / 300.0;
            sides.iter().map(|s| (s - mean).powi(2)).sum::<f64>()
        };
        assert!(spread(&GOLFERS[1]) > spread(&GOLFERS[2]));
    }
}
