//! How far each club speed can be sent.

use super::{FASTEST, NoReach, ReachQuestion, SLOWEST, Today, at};
use crate::physics::furthest::between;
use crate::reach::window::best;
use crate::vocabulary::invalid::Invalid;
use rayon::prelude::*;

/// Speeds at which the furthest is searched.
const NODES: usize = 15;

/// The furthest that each club speed can be sent.
pub(super) struct Furthest {
    /// Pairs of club speed (m/s) and distance (m), slowest first.
    nodes: Vec<[f64; 2]>,
}

impl Furthest {
    pub fn search(question: &ReachQuestion) -> Result<Self, Invalid> {
        let nodes = (0..NODES)
            .into_par_iter()
            .map(|i| {
                let speed = SLOWEST + (FASTEST - SLOWEST) * i as f64 / (NODES - 1) as f64;
                Ok([
                    speed,
                    best(&at(question, speed, question.freedom))?.distance,
                ])
            })
            .collect::<Result<_, Invalid>>()?;
        Ok(Self { nodes })
    }

    /// Raises the furthest to what this player did: a ball that beats the model shows that
    /// its reference is too short for this player, ball or air. Returns by how much.
    pub fn raised_to(&mut self, days: &[Today]) -> f64 {
        let beaten = days
            .iter()
            .map(|day| day.distance / self.at(day.club_speed))
            .fold(1.0, f64::max);
        for node in &mut self.nodes {
            node[1] *= beaten;
        }
        beaten
    }

    /// The furthest at a club speed, m.
    pub fn at(&self, speed: f64) -> f64 {
        between(&self.nodes, speed)
    }

    /// The least club speed that goes `distance`, m/s.
    pub fn speed_for(&self, distance: f64) -> Result<f64, NoReach> {
        let most = self.at(FASTEST);
        if distance > most {
            return Err(NoReach::TooFar {
                target: distance,
                club_speed: FASTEST,
                most,
            });
        }
        let (mut low, mut high) = (SLOWEST, FASTEST);
        for _ in 0..40 {
            let middle = 0.5 * (low + high);
            if self.at(middle) < distance {
                low = middle;
            } else {
                high = middle;
            }
        }
        Ok(high)
    }
}
