//! What a launch monitor makes of a swing.

use crate::golfer::{Truth, standard_normal};
use rand::{Rng, RngExt};
use tally_core::quantity::Quantity;
use tally_core::reading::{Provenance, Reading};
use tally_core::units::{MPH, YARD};

/// A simulated device.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Monitor {
    /// Follows the ball to the ground; often cannot see the spin and works it out.
    Radar,
    /// Photographs impact; spin is measured, everything in the air is worked out.
    Camera,
}

/// How often a radar sees the spin, 0…1.
const SPIN_SEEN: f64 = 0.7;
/// How often a calculated spin is far off, 0…1.
const SPIN_WRONG: f64 = 0.12;

impl Monitor {
    /// Values it measures.
    pub fn measures(self) -> &'static [Quantity] {
        use Quantity as Q;
        match self {
            Monitor::Radar => &[
                Q::ClubSpeed,
                Q::BallSpeed,
                Q::LaunchAngle,
                Q::LaunchDirection,
                Q::SpinRate,
                Q::Carry,
                Q::Side,
                Q::Apex,
                Q::LandingAngle,
                Q::HangTime,
            ],
            Monitor::Camera => &[
                Q::ClubSpeed,
                Q::BallSpeed,
                Q::AngleOfAttack,
                Q::LaunchAngle,
                Q::LaunchDirection,
                Q::SpinRate,
                Q::SpinAxis,
                Q::ImpactToe,
                Q::ImpactHigh,
            ],
        }
    }

    /// Values it calculates.
    pub fn calculates(self) -> &'static [Quantity] {
        use Quantity as Q;
        match self {
            Monitor::Radar => &[Q::SmashFactor, Q::SpinRate, Q::SpinAxis],
            Monitor::Camera => &[
                Q::SmashFactor,
                Q::DynamicLoft,
                Q::Carry,
                Q::Side,
                Q::Apex,
                Q::LandingAngle,
                Q::HangTime,
            ],
        }
    }

    /// Reports a swing, with this device's noise.
    pub fn watch(self, truth: &Truth, rng: &mut impl Rng) -> Reading {
        use Quantity as Q;
        let Truth {
            delivery,
            launch,
            flight,
        } = truth;
        let mut reading = Reading::default();
        let (club_noise, spin_noise, flight_noise) = match self {
            Monitor::Radar => (0.6, 60.0, 1.2),
            Monitor::Camera => (0.9, 45.0, 2.2),
        };
        let flight_from = match self {
            Monitor::Radar => Provenance::Measured,
            Monitor::Camera => Provenance::Calculated,
        };
        let mut noisy = |quantity: Quantity, value: f64, noise: f64, step: f64, from| {
            let seen = ((value + noise * standard_normal(rng)) / step).round() * step;
            let range = quantity.range();
            reading.set(quantity, seen.clamp(*range.start(), *range.end()), from);
            seen
        };
        let measured = Provenance::Measured;
        let club = noisy(
            Q::ClubSpeed,
            delivery.club_speed,
            club_noise * MPH,
            0.1 * MPH,
            measured,
        );
        let ball = noisy(
            Q::BallSpeed,
            launch.ball_speed,
            0.3 * MPH,
            0.1 * MPH,
            measured,
        );
        noisy(
            Q::SmashFactor,
            ball / club,
            0.0,
            0.01,
            Provenance::Calculated,
        );
        noisy(Q::LaunchAngle, launch.launch_angle_deg, 0.2, 0.1, measured);
        noisy(
            Q::LaunchDirection,
            launch.launch_direction_deg,
            0.3,
            0.1,
            measured,
        );
        noisy(
            Q::Carry,
            flight.carry,
            flight_noise * YARD,
            0.1 * YARD,
            flight_from,
        );
        noisy(
            Q::Side,
            flight.side,
            flight_noise * YARD,
            0.1 * YARD,
            flight_from,
        );
        noisy(Q::Apex, flight.apex, 0.4, 0.1, flight_from);
        noisy(
            Q::LandingAngle,
            flight.landing_angle_deg,
            0.6,
            0.1,
            flight_from,
        );
        noisy(Q::HangTime, flight.hang_time, 0.05, 0.01, flight_from);
        match self {
            Monitor::Camera => {
                noisy(
                    Q::AngleOfAttack,
                    delivery.angle_of_attack_deg,
                    0.4,
                    0.1,
                    measured,
                );
                noisy(
                    Q::DynamicLoft,
                    delivery.dynamic_loft_deg,
                    0.6,
                    0.1,
                    Provenance::Calculated,
                );
                noisy(
                    Q::SpinRate,
                    launch.spin_rate_rpm,
                    spin_noise,
                    10.0,
                    measured,
                );
                noisy(Q::SpinAxis, launch.spin_axis_deg, 0.8, 0.1, measured);
                noisy(Q::ImpactToe, delivery.impact_toe, 0.001, 0.001, measured);
                noisy(Q::ImpactHigh, delivery.impact_high, 0.001, 0.001, measured);
            }
            Monitor::Radar => {
                let seen = rng.random_bool(SPIN_SEEN);
                let factor = match (seen, rng.random_bool(SPIN_WRONG)) {
                    (false, true) => 0.45,
                    _ => 1.0,
                };
                let from = if seen {
                    measured
                } else {
                    Provenance::Calculated
                };
                let noise = if seen { spin_noise } else { 5.0 * spin_noise };
                let spin = launch.spin_rate_rpm * factor + noise * standard_normal(rng);
                reading.set(
                    Q::SpinRate,
                    ((spin / 10.0).round() * 10.0).clamp(0.0, 15_000.0),
                    from,
                );
                let axis = launch.spin_axis_deg + 1.5 * standard_normal(rng);
                reading.set(
                    Q::SpinAxis,
                    ((axis * 10.0).round() / 10.0).clamp(-90.0, 90.0),
                    Provenance::Calculated,
                );
            }
        }
        reading
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::golfer::GOLFERS;
    use rand::SeedableRng;
    use rand_pcg::Pcg64;
    use tally_core::air::Conditions;
    use tally_core::club::Club;

    #[test]
    fn a_device_reports_only_what_it_announces_and_as_it_announces_it() {
        for monitor in [Monitor::Radar, Monitor::Camera] {
            let mut rng = Pcg64::seed_from_u64(5);
            for _ in 0..100 {
                let truth = GOLFERS[1].swing(Club::Driver, &Conditions::REFERENCE, &mut rng);
                for (quantity, value) in monitor.watch(&truth, &mut rng).0 {
                    let announced = match value.from {
                        Provenance::Measured => monitor.measures(),
                        _ => monitor.calculates(),
                    };
                    assert!(
                        announced.contains(&quantity),
                        "{monitor:?} {quantity:?} {:?}",
                        value.from
                    );
                }
            }
        }
    }

    #[test]
    fn readings_scatter_about_the_truth() {
        let mut rng = Pcg64::seed_from_u64(9);
        let truth = GOLFERS[0].swing(Club::Iron6, &Conditions::REFERENCE, &mut rng);
        let n = 400;
        let mean = (0..n)
            .filter_map(|_| Monitor::Radar.watch(&truth, &mut rng).get(Quantity::Carry))
            .sum::<f64>()
            / f64::from(n);
        assert!((mean - truth.flight.carry).abs() < 0.2);
    }
}
