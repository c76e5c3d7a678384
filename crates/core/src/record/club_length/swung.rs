//! What a child swung, by the length it was swung with.

use crate::physics::club::Club;
use crate::record::figures::{Series, series_of};
use crate::record::series::Occasion;
use crate::session::plan::PlannedBlock;
use crate::session::purpose::Purpose;
use crate::shots::ball::Ball;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::quantity::Quantity;
use std::collections::BTreeMap;

/// Latest sessions with the driver that a child is told by.
pub const LATEST: usize = 3;

/// What a child swung with one length of club.
#[derive(Debug, Clone, PartialEq)]
pub struct SwungLength {
    /// The length, m.
    pub length: f64,
    /// Kept club speeds, m/s.
    pub club_speeds: Vec<f64>,
    /// Kept hand speeds, m/s.
    pub hand_speeds: Vec<f64>,
}

/// The swings of a child.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Swung {
    /// By the length they were made with, mm.
    by_length: BTreeMap<i64, SwungLength>,
    /// Whether there were some of which no length is known.
    pub unmeasured: bool,
}

impl Swung {
    /// A ball of a test of lengths: with the length its block names, or that of the driver in
    /// the bag (m), unless it was choked down by nobody knows how much.
    pub fn test(
        &mut self,
        ball: &Ball,
        plan: &PlannedBlock,
        driver: Option<f64>,
        rules: &HouseRules,
    ) {
        if !ball.kept() || ball.club != Club::Driver {
            return;
        }
        let own = series_of(Purpose::ClubLength, &plan.label, false).is_some();
        self.add(
            plan.gear.length_m.or(driver.filter(|_| own)),
            ball.counted(Quantity::ClubSpeed, rules),
            ball.counted(Quantity::HandSpeed, rules),
        );
    }

    /// Where no test told anything: the usual swings with the driver of the latest `occasions`.
    pub fn usual(&mut self, occasions: &[Occasion], driver: Option<f64>) {
        if !self.by_length.is_empty() {
            return;
        }
        let key = |quantity| (Series::Usual, Club::Driver, quantity);
        let with = occasions.iter().rev().filter_map(|occasion| {
            let of = |quantity| occasion.figures.series.get(&key(quantity));
            Some((of(Quantity::ClubSpeed)?, of(Quantity::HandSpeed)))
        });
        for (club, hand) in with.take(LATEST) {
            for speed in club {
                self.add(driver, Some(*speed), None);
            }
            for speed in hand.into_iter().flatten() {
                self.add(driver, None, Some(*speed));
            }
        }
    }

    /// Those that have a club speed, shortest first.
    pub fn with_speed(self) -> Vec<SwungLength> {
        let all = self.by_length.into_values();
        all.filter(|told| !told.club_speeds.is_empty()).collect()
    }

    fn add(&mut self, length: Option<f64>, club: Option<f64>, hand: Option<f64>) {
        let Some(length) = length else {
            self.unmeasured |= club.is_some();
            return;
        };
        let of = self.by_length.entry((length * 1000.0).round() as i64);
        let told = of.or_insert_with(|| SwungLength {
            length,
            club_speeds: Vec::new(),
            hand_speeds: Vec::new(),
        });
        told.club_speeds.extend(club);
        told.hand_speeds.extend(hand);
    }
}

/// Refuses a driver (m) that is as long as its player is tall (m), or longer.
///
/// # Errors
/// [`Invalid`] for such a length.
pub fn driver_of_a_player(driver: f64, height: f64) -> Result<(), Invalid> {
    if driver < height {
        return Ok(());
    }
    let shown = format!("{:.1} cm", 100.0 * driver);
    let problem = format!(
        "is longer than the player is tall ({:.0} cm)",
        100.0 * height
    );
    Err(Invalid::new("driver", shown, problem, "measure both again"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::record::figures::SessionFigures;

    fn occasion(speeds: &[f64]) -> Occasion {
        let key = (Series::Usual, Club::Driver, Quantity::ClubSpeed);
        Occasion {
            date: "2026-01-01".parse().unwrap(),
            device: 0,
            indoors: None,
            head: None,
            figures: SessionFigures {
                series: [(key, speeds.to_vec())].into(),
                ..SessionFigures::default()
            },
        }
    }

    #[test]
    fn usual_swings_count_by_the_driver_of_the_bag_and_are_told_of_where_it_is_not_measured() {
        let days = [[40.0], [30.0], [31.0], [32.0]].map(|speeds| occasion(&speeds));
        let mut swung = Swung::default();
        swung.usual(&days, Some(1.02));
        assert!(!swung.unmeasured);
        let told = swung.with_speed();
        assert_eq!(told.len(), 1);
        assert_eq!(told[0].club_speeds, [32.0, 31.0, 30.0]);

        let mut unknown = Swung::default();
        unknown.usual(&days, None);
        assert!(unknown.unmeasured);
        assert_eq!(unknown.with_speed(), []);
    }

    #[test]
    fn a_driver_is_shorter_than_its_player() {
        assert_eq!(driver_of_a_player(0.9, 1.3), Ok(()));
        let refused = driver_of_a_player(1.3, 1.3).unwrap_err();
        assert!(refused.problem.contains("130 cm"), "{refused:?}");
    }
}
