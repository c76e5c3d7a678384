//! A practice session: a virtual golfer who does what the blocks ask, watched by one or
//! several simulated devices at once.

use crate::golfer::{Form, Golfer};
use crate::monitor::Monitor;
use rand::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::plan::PlannedBlock;
use tally_core::shots::reading::Reading;
use tally_core::shots::swung::SwingSide;
use tally_core::training::protocol::Position;
use tally_core::vocabulary::keyed::Keyed;

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

    /// Does what a block asks for: with its own club or `club`, at its own effort or `effort`.
    /// A device that cannot read it reports nothing.
    pub fn do_as_asked(
        &mut self,
        plan: &PlannedBlock,
        club: Club,
        effort: Option<f64>,
        watched_by: &[Monitor],
    ) -> Vec<Option<Reading>> {
        let effort = match (plan.effort_pct, effort) {
            (None, Some(effort)) => effort,
            _ => effort_in(plan),
        };
        match swish_of(plan) {
            Some(what) => self.swing_without_ball(&what, effort, watched_by),
            None => {
                let seen = self.swing(plan.club.unwrap_or(club), effort, watched_by);
                seen.into_iter().map(Some).collect()
            }
        }
    }

    /// Swings once without a ball and tells what each device reports of it; one that cannot
    /// read such a swing reports nothing.
    pub fn swing_without_ball(
        &mut self,
        what: &Swish,
        effort: f64,
        watched_by: &[Monitor],
    ) -> Vec<Option<Reading>> {
        /// How far the speed of a swing strays, as a share.
        const STRAYS: f64 = 0.013;
        let form = Form {
            swings: self.swings,
            effort,
        };
        self.swings += 1;
        let usual = self.golfer.speed_share * Club::Driver.reference_club_speed();
        let strays: f64 = StandardNormal.sample(&mut self.rng);
        let strays = 1.0 + STRAYS * self.golfer.scatter.sqrt() * strays;
        let speed = usual * form.speed_share() * what.factor() * strays;
        let seen = watched_by.iter();
        seen.map(|monitor| monitor.watch_swing(speed, &mut self.rng))
            .collect()
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

/// What is swung without a ball.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Swish {
    /// Mass as a share of the driver's.
    pub share: f64,
    /// From the side that is not the player's own.
    pub other_side: bool,
    /// How the player stands.
    pub position: Position,
}

impl Swish {
    /// Speed as a share of the player's with a driver and a ball.
    fn factor(&self) -> f64 {
        /// Without a ball nothing has to be hit.
        const NO_BALL: f64 = 1.02;
        /// A tenth less mass is three per cent more speed.
        const MASS: f64 = -0.3;
        const OTHER_SIDE: f64 = 0.87;
        let side = if self.other_side { OTHER_SIDE } else { 1.0 };
        let stands = match self.position {
            Position::Normal => 1.0,
            Position::Stepping => 1.01,
            Position::Kneeling => 0.82,
            Position::FeetTogether => 0.93,
        };
        NO_BALL * self.share.powf(MASS) * side * stands
    }
}

/// What is swung in a set without a ball, with a guess at the mass of an implement that is
/// known by its name alone; none where balls are hit.
fn swish_of(plan: &PlannedBlock) -> Option<Swish> {
    let swung = plan.swung.as_ref()?;
    let share = match swung.implement.as_str() {
        "light" => 0.8,
        "medium" => 0.9,
        "heavy" => 1.05,
        "counterweighted" => 1.15,
        _ => 1.0,
    };
    let stood = swung.position.as_deref().unwrap_or("normal");
    let position = Position::all().find(|position| position.label() == stood);
    Some(Swish {
        share,
        other_side: swung.side == Some(SwingSide::Other),
        position: position.unwrap_or(Position::Normal),
    })
}

/// The effort that a block asks for: by its own number, or by its label.
fn effort_in(plan: &PlannedBlock) -> f64 {
    match plan.effort_pct {
        Some(_) if plan.full_effort => FULL,
        // A ball that is not hit all out is hit as usual.
        Some(_) if plan.swung.is_none() => 1.0,
        Some(pct) => f64::from(pct) / 100.0,
        None => effort_of(&plan.label),
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
    fn a_lighter_stick_is_faster_the_other_side_slower_and_a_camera_sees_neither() {
        let mean = |share, other_side| {
            let what = Swish {
                share,
                other_side,
                position: Position::Normal,
            };
            let mut practice = Practice::new(GOLFERS[3], Conditions::REFERENCE, 12, 3);
            let watched = [Monitor::HandRadar, Monitor::Camera];
            let speeds = (0..40).map(|_| {
                let seen = practice.swing_without_ball(&what, FULL, &watched);
                assert!(seen[1].is_none());
                seen[0].as_ref().unwrap().get(Quantity::ClubSpeed).unwrap()
            });
            speeds.sum::<f64>() / 40.0
        };
        let own = mean(1.0, false);
        assert!((mean(0.8, false) / own - 1.069).abs() < 0.01);
        assert!((mean(1.0, true) / own - 0.87).abs() < 0.01);
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
