//! What a launch monitor makes of a swing.

use crate::golfer::{Truth, standard_normal};
use rand::{Rng, RngExt};
use tally_core::shots::device::DeviceKind;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::trace::{Checkpoint, Marks, Trace, TraceChannel};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{MPH, YARD};

/// A simulated device.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Monitor {
    /// Follows the ball to the ground; often cannot see the spin and works it out.
    Radar,
    /// Photographs impact; spin is measured, everything in the air is worked out.
    Camera,
    /// A small radar: speeds alone.
    HandRadar,
    /// Feels the ground under the feet.
    ForcePlate,
}

/// How often a radar sees the spin, 0…1.
const SPIN_SEEN: f64 = 0.7;
/// How often a radar that does not see the spin believes a wrong one, 0…1.
const SPIN_WRONG: f64 = 0.12;

impl Monitor {
    /// The one of a kind, where there is one.
    pub fn of_kind(kind: DeviceKind) -> Option<Monitor> {
        match kind {
            DeviceKind::Radar => Some(Monitor::Radar),
            DeviceKind::Camera => Some(Monitor::Camera),
            DeviceKind::HandRadar => Some(Monitor::HandRadar),
            DeviceKind::ForcePlate => Some(Monitor::ForcePlate),
            DeviceKind::File => None,
        }
    }

    /// Its kind on the device line.
    pub fn kind(self) -> DeviceKind {
        match self {
            Monitor::Radar => DeviceKind::Radar,
            Monitor::Camera => DeviceKind::Camera,
            Monitor::HandRadar => DeviceKind::HandRadar,
            Monitor::ForcePlate => DeviceKind::ForcePlate,
        }
    }

    /// Its secret in the demo school.
    pub fn demo_token(self) -> String {
        format!("dev-demo-{}", self.kind().key())
    }

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
                Q::HandSpeed,
            ],
            Monitor::HandRadar => &[Q::ClubSpeed, Q::BallSpeed],
            Monitor::ForcePlate => &[
                Q::VerticalForceLead,
                Q::VerticalForce,
                Q::Torque,
                Q::VerticalPeak,
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
            Monitor::HandRadar => &[Q::SmashFactor],
            Monitor::ForcePlate => &[],
        }
    }

    /// Reports a swing without a ball: a radar reads its speed, other devices nothing.
    pub fn watch_swing(self, speed: f64, rng: &mut impl Rng) -> Option<Reading> {
        if !matches!(self, Monitor::Radar | Monitor::HandRadar) {
            return None;
        }
        let mut seen = Seen {
            reading: Reading::default(),
            rng,
        };
        seen.measured(Quantity::ClubSpeed, speed, 0.5 * MPH, MPH);
        Some(seen.reading)
    }

    /// Reports a swing, with this device's noise.
    pub fn watch(self, truth: &Truth, rng: &mut impl Rng) -> Reading {
        let mut seen = Seen {
            reading: Reading::default(),
            rng,
        };
        match self {
            Monitor::Radar => seen.by_radar(truth),
            Monitor::Camera => seen.by_camera(truth),
            Monitor::HandRadar => seen.speeds(truth, 0.9),
            Monitor::ForcePlate => seen.by_force_plate(truth),
        }
        seen.reading
    }
}

/// A reading in the making.
struct Seen<'a, R> {
    reading: Reading,
    rng: &'a mut R,
}

impl<R: Rng> Seen<'_, R> {
    /// Notes a value with noise, rounded to the device's step.
    fn note(
        &mut self,
        quantity: Quantity,
        value: f64,
        noise: f64,
        step: f64,
        from: Provenance,
    ) -> f64 {
        let seen = ((value + noise * standard_normal(self.rng)) / step).round() * step;
        let range = quantity.range();
        let held = seen.clamp(*range.start(), *range.end());
        self.reading.set(quantity, held, from);
        seen
    }

    fn measured(&mut self, quantity: Quantity, value: f64, noise: f64, step: f64) -> f64 {
        self.note(quantity, value, noise, step, Provenance::Measured)
    }

    fn speeds(&mut self, truth: &Truth, club_noise_mph: f64) {
        use Quantity as Q;
        let club = self.measured(
            Q::ClubSpeed,
            truth.delivery.club_speed,
            club_noise_mph * MPH,
            0.1 * MPH,
        );
        let ball = self.measured(Q::BallSpeed, truth.launch.ball_speed, 0.3 * MPH, 0.1 * MPH);
        self.note(
            Q::SmashFactor,
            ball / club,
            0.0,
            0.01,
            Provenance::Calculated,
        );
    }

    fn directions(&mut self, truth: &Truth) {
        use Quantity as Q;
        self.measured(Q::LaunchAngle, truth.launch.launch_angle_deg, 0.2, 0.1);
        self.measured(
            Q::LaunchDirection,
            truth.launch.launch_direction_deg,
            0.3,
            0.1,
        );
    }

    fn flight(&mut self, truth: &Truth, noise_yd: f64, from: Provenance) {
        use Quantity as Q;
        let flight = &truth.flight;
        self.note(Q::Carry, flight.carry, noise_yd * YARD, 0.1 * YARD, from);
        self.note(Q::Side, flight.side, noise_yd * YARD, 0.1 * YARD, from);
        self.note(Q::Apex, flight.apex, 0.4, 0.1, from);
        self.note(Q::LandingAngle, flight.landing_angle_deg, 0.6, 0.1, from);
        self.note(Q::HangTime, flight.hang_time, 0.05, 0.01, from);
    }

    fn by_camera(&mut self, truth: &Truth) {
        use Quantity as Q;
        let (delivery, launch) = (&truth.delivery, &truth.launch);
        self.speeds(truth, 0.9);
        self.directions(truth);
        self.flight(truth, 2.2, Provenance::Calculated);
        self.measured(Q::AngleOfAttack, delivery.angle_of_attack_deg, 0.4, 0.1);
        self.note(
            Q::DynamicLoft,
            delivery.dynamic_loft_deg,
            0.6,
            0.1,
            Provenance::Calculated,
        );
        self.measured(Q::SpinRate, launch.spin_rate_rpm, 45.0, 10.0);
        self.measured(Q::SpinAxis, launch.spin_axis_deg, 0.8, 0.1);
        self.measured(Q::ImpactToe, delivery.impact_toe, 0.001, 0.001);
        self.measured(Q::ImpactHigh, delivery.impact_high, 0.001, 0.001);
        self.measured(Q::HandSpeed, truth.hand_speed, 0.1, 0.01);
    }

    fn by_radar(&mut self, truth: &Truth) {
        use Quantity as Q;
        self.speeds(truth, 0.6);
        self.directions(truth);
        self.flight(truth, 1.2, Provenance::Measured);
        let seen = self.rng.random_bool(SPIN_SEEN);
        let wrong = self.rng.random_bool(SPIN_WRONG);
        let factor = if !seen && wrong { 0.3 } else { 1.0 };
        let noise = if seen { 60.0 } else { 300.0 };
        let from = if seen || wrong {
            Provenance::Measured
        } else {
            Provenance::Calculated
        };
        let launch = &truth.launch;
        self.note(
            Q::SpinRate,
            launch.spin_rate_rpm * factor,
            noise,
            10.0,
            from,
        );
        self.note(
            Q::SpinAxis,
            launch.spin_axis_deg,
            1.5,
            0.1,
            Provenance::Calculated,
        );
    }

    fn by_force_plate(&mut self, truth: &Truth) {
        use Quantity as Q;
        let ground = &truth.ground;
        self.measured(Q::VerticalForceLead, ground.lead, 3.0, 1.0);
        self.measured(Q::VerticalForce, ground.both, 4.0, 1.0);
        self.measured(Q::Torque, ground.torque, 0.05, 0.01);
        self.measured(Q::VerticalPeak, ground.peak, 0.004, 0.001);
    }
}

/// The trace that gives a force plate's reading: forces that rise to their peak when it says so,
/// after a moment's unweighting, and a torque that leads them by a little.
pub fn trace_of(reading: &Reading) -> Option<Trace> {
    const RATE_HZ: f64 = 1000.0;
    const IMPACT_S: f64 = 1.3;
    /// Where the club is when, s before impact.
    const BEFORE_IMPACT_S: [(Checkpoint, f64); 2] = [
        (Checkpoint::LeadArmLevel, 0.115),
        (Checkpoint::ShaftLevel, 0.06),
    ];
    /// A body that the plate takes for the player's, kg: readings tell torque by mass.
    const MASS_KG: f64 = 70.0;
    let value = |quantity| reading.get(quantity);
    let (lead, both) = (
        value(Quantity::VerticalForceLead)?,
        value(Quantity::VerticalForce)?,
    );
    let torque = match value(Quantity::WholeTorque) {
        Some(whole) => whole,
        None => value(Quantity::Torque)? * MASS_KG,
    };
    let peak = IMPACT_S - value(Quantity::VerticalPeak)?;
    let bump = |t: f64, at: f64, wide: f64| (-((t - at) / wide).powi(2)).exp();
    let channel = |of: &dyn Fn(f64) -> f64| {
        let values = (0..1600).map(|i| {
            let t = f64::from(i) / RATE_HZ;
            // A plate hums a little.
            Some(of(t) + 0.25 * (t * 340.0).sin())
        });
        values.collect::<Vec<Option<f64>>>()
    };
    let unweights = |t: f64| 22.0 * bump(t, peak - 0.32, 0.12);
    let channels = [
        (
            TraceChannel::Lead,
            channel(&|t| 48.0 - 0.6 * unweights(t) + (lead - 48.0) * bump(t, peak, 0.11)),
        ),
        (
            TraceChannel::Both,
            channel(&|t| 100.0 - unweights(t) + (both - 100.0) * bump(t, peak, 0.10)),
        ),
        (
            TraceChannel::Torque,
            channel(&|t| torque * (bump(t, peak - 0.03, 0.13) - 0.25 * bump(t, peak - 0.5, 0.2))),
        ),
    ];
    let marks = Marks {
        impact_s: Some(IMPACT_S),
        checkpoints: BEFORE_IMPACT_S.map(|(of, s)| (of, IMPACT_S - s)).into(),
    };
    Trace::taken(RATE_HZ, marks, channels.into()).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::golfer::GOLFERS;
    use rand::SeedableRng;
    use rand_pcg::Pcg64;
    use tally_core::physics::club::Club;
    use tally_core::physics::conditions::Conditions;

    #[test]
    fn a_device_reports_only_what_it_announces_and_as_it_announces_it() {
        for monitor in [
            Monitor::Radar,
            Monitor::Camera,
            Monitor::HandRadar,
            Monitor::ForcePlate,
        ] {
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

    #[test]
    fn a_trace_peaks_where_and_when_its_reading_says() {
        let mut rng = Pcg64::seed_from_u64(8);
        for _ in 0..40 {
            let truth = GOLFERS[4].swing(Club::Driver, &Conditions::REFERENCE, &mut rng);
            let reading = Monitor::ForcePlate.watch(&truth, &mut rng);
            let trace = trace_of(&reading).unwrap();
            let [most, when] = trace.peak(TraceChannel::Both).unwrap();
            let told = |quantity| reading.get(quantity).unwrap();
            assert!((most - told(Quantity::VerticalForce)).abs() < 3.0);
            assert!((when - told(Quantity::VerticalPeak)).abs() < 0.02);
        }
    }
}
