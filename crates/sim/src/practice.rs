//! A practice session: a virtual golfer who does what the blocks ask, watched by one or
//! several simulated devices at once.

use crate::golfer::{Form, Golfer};
use crate::monitor::Monitor;
use rand::SeedableRng;
use rand_pcg::Pcg64;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::shots::reading::Reading;

/// Effort of "as hard as you can", where 1 is the stock swing.
const FULL: f64 = 1.06;

/// A golfer at practice.
#[derive(Debug, Clone)]
pub struct Practice {
    golfer: Golfer,
    conditions: Conditions,
    rng: Pcg64,
    swings: u32,
}

impl Practice {
    /// A golfer who has made `swings` full swings today; the same seed swings the same.
    pub fn new(golfer: Golfer, conditions: Conditions, swings: u32, seed: u64) -> Self {
        Self {
            golfer,
            conditions,
            rng: Pcg64::seed_from_u64(seed),
            swings,
        }
    }

    /// Swings once at an effort (1 is stock) and tells what each device reports of it.
    pub fn swing(&mut self, club: Club, effort: f64, watched_by: &[Monitor]) -> Vec<Reading> {
        let form = Form {
            swings: self.swings,
            effort,
        };
        self.swings += 1;
        let truth = self
            .golfer
            .swing_in(form, club, &self.conditions, &mut self.rng);
        watched_by
            .iter()
            .map(|monitor| monitor.watch(&truth, &mut self.rng))
            .collect()
    }
}

/// The effort that a block's label asks for: "70 %" by feel, "85 % of stock" in speed,
/// "Full speed" all there is; anything else is the stock swing.
pub fn effort_of(label: &str) -> f64 {
    let share = |text: &str| text.trim().parse::<f64>().ok().map(|pct| pct / 100.0);
    if let Some(speed) = label.strip_suffix("% of stock").and_then(share) {
        // Half the effort is three quarters of the speed.
        return 2.0 * speed - 1.0;
    }
    if let Some(feel) = label.strip_suffix('%').and_then(share) {
        return feel * FULL;
    }
    if label.to_lowercase().starts_with("full") {
        return FULL;
    }
    1.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::golfer::GOLFERS;
    use tally_core::vocabulary::quantity::Quantity;

    fn mean_speed(swings: u32, label: &str) -> f64 {
        let mut practice = Practice::new(GOLFERS[1], Conditions::REFERENCE, swings, 7);
        let speeds = (0..40).map(|_| {
            practice.swings = swings;
            let seen = practice.swing(Club::Driver, effort_of(label), &[Monitor::HandRadar]);
            seen[0].get(Quantity::ClubSpeed).unwrap()
        });
        speeds.sum::<f64>() / 40.0
    }

    #[test]
    fn speed_follows_what_the_block_asks_for() {
        let stock = mean_speed(12, "Stock");
        let step = mean_speed(12, "85 % of stock") / stock;
        assert!((step - 0.85).abs() < 0.02, "{step}");
        assert!(mean_speed(12, "50 %") < 0.85 * stock);
        assert!(mean_speed(12, "Full speed, flight ignored") > stock);
        assert!(
            mean_speed(0, "Stock") < 0.98 * stock,
            "the first swing is cold"
        );
    }

    #[test]
    fn two_devices_see_the_same_swing() {
        let mut practice = Practice::new(GOLFERS[1], Conditions::REFERENCE, 12, 7);
        for _ in 0..30 {
            let seen = practice.swing(Club::Driver, 1.0, &[Monitor::Radar, Monitor::Camera]);
            let speed = |i: usize| seen[i].get(Quantity::BallSpeed).unwrap();
            assert!((speed(0) - speed(1)).abs() < 1.0);
        }
    }
}
