//! The clubs of a player's bag: in words, and how many balls tell what one carries.

use crate::physics::club::Club;
use crate::session::hit::{HitReport, Question};
use crate::session::plan::PlannedBlock;
use crate::shots::standing::Standing;
use crate::statistics::summary::{needed_for, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// What is known of a club of a bag; what is not known is left out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BagClub<'a> {
    /// Its kind.
    pub club: Club,
    /// Its head, in the coach's words; empty when not told.
    pub head: &'a str,
    /// Loft, deg.
    pub loft_deg: Option<f64>,
    /// Length, m.
    pub length_m: Option<f64>,
    /// Mass, kg.
    pub mass_kg: Option<f64>,
    /// Shaft flex, in the coach's words; empty when not told.
    pub flex: &'a str,
}

impl BagClub<'_> {
    /// All that is known of it.
    ///
    /// ```
    /// use tally_core::physics::club::Club;
    /// use tally_core::session::bag::BagClub;
    /// use tally_core::vocabulary::units::Units;
    /// let club = BagClub {
    ///     club: Club::Driver,
    ///     head: "low spin",
    ///     loft_deg: Some(10.5),
    ///     length_m: Some(1.14),
    ///     mass_kg: None,
    ///     flex: "regular",
    /// };
    /// let said = club.in_words();
    /// assert_eq!(said.show(Units::KmhM), "Driver, low spin, 10.5°, 114.0 cm, regular");
    /// assert_eq!(said.show(Units::MphYd), "Driver, low spin, 10.5°, 44.9 in, regular");
    /// ```
    pub fn in_words(&self) -> Sentence {
        let mut said = Sentence::of(self.club.label());
        if !self.head.is_empty() {
            said = said.words(format!(", {}", self.head));
        }
        if let Some(loft) = self.loft_deg {
            said = said.words(format!(", {loft}°"));
        }
        if let Some(length) = self.length_m {
            said = said.words(", ").figure(length, Dimension::ClubLength);
        }
        if let Some(mass) = self.mass_kg {
            said = said.words(format!(", {:.0} g", mass * 1000.0));
        }
        if !self.flex.is_empty() {
            said = said.words(format!(", {}", self.flex));
        }
        said
    }
}

/// Scatter of carry as a share of it, where few balls tell it.
pub(crate) const SCATTERS: f64 = 0.045;
/// Most balls that are asked for at once.
const MOST_MORE: usize = 12;

/// How many more balls would tell the carry of these well enough; none when it is known.
pub fn more_balls(carries: &[f64], rules: &HouseRules) -> Option<usize> {
    let told = summarise(carries, rules.interval_level)?;
    let n = told.n;
    let spread = match told.spread {
        Some(spread) if n > 2 => spread,
        _ => SCATTERS * told.mean,
    };
    // One or two balls that came down together are no spread.
    let spread = spread.max(0.02 * told.mean);
    let needed = needed_for(rules.bag_known, spread, rules.interval_level, n + MOST_MORE);
    let more = needed.map_or(MOST_MORE, |needed| needed.saturating_sub(n));
    (more > 0).then_some(more)
}

/// What to hit next in a session through the bag: whether the carry of the club that is hit is
/// known well enough by its balls so far, or, at the end of its last block, how many more would do.
pub fn gapping_advice(question: &Question<'_>, report: &HitReport) -> Option<Sentence> {
    let club_of = |plan: &PlannedBlock| plan.club.unwrap_or(question.club);
    let at = report.place.block;
    let club = club_of(question.blocks.get(at)?);
    let same = question.shots.iter().zip(&report.shots);
    let same = same.filter(|(shot, judged)| {
        judged.standing == Standing::Kept
            && question.blocks.get(shot.block).map(club_of) == Some(club)
    });
    let carries: Vec<f64> = same
        .filter_map(|(shot, _)| shot.reading.get(Quantity::Carry))
        .collect();
    let later = question.blocks.get(at + 1..).unwrap_or_default();
    let last = later.iter().all(|plan| club_of(plan) != club);
    let whole = report.place.hit >= report.place.balls as usize;
    advice(club, &carries, last && whole, question.rules)
}

fn advice(club: Club, carries: &[f64], at_its_end: bool, rules: &HouseRules) -> Option<Sentence> {
    let name = club.in_words();
    match more_balls(carries, rules) {
        None if carries.len() > 2 => Some(
            Sentence::of(format!("The {name} is known to "))
                .figure(rules.bag_known, Dimension::Distance)
                .words(": go on to the next club."),
        ),
        Some(more) if at_its_end => {
            let number = match more {
                1 => "One more".to_owned(),
                2 => "Two more".to_owned(),
                3 => "Three more".to_owned(),
                more => format!("{more} more"),
            };
            Some(
                Sentence::of(format!("{number} with the {name} would tell its carry to "))
                    .figure(rules.bag_known, Dimension::Distance)
                    .words("."),
            )
        }
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::conditions::Conditions;
    use crate::session::hit::{HitShot, hit};
    use crate::shots::reading::{Provenance, Reading};
    use crate::vocabulary::units::Units;

    #[test]
    fn more_balls_are_asked_for_until_a_carry_is_known() {
        let rules = HouseRules::default();
        let known: Vec<f64> = (0..12).map(|i| 150.0 + f64::from(i % 5)).collect();
        assert_eq!(more_balls(&known, &rules), None);
        assert!(more_balls(&[150.0, 158.0, 139.0], &rules).is_some_and(|n| (1..=12).contains(&n)));
        assert!(more_balls(&[150.0], &rules).is_some_and(|n| n >= 2));
        assert_eq!(more_balls(&[], &rules), None);
    }

    #[test]
    fn a_club_that_is_known_is_left_and_one_that_is_not_gets_some_more() {
        let rules = HouseRules::default();
        let said = |carries: &[f64], whole| {
            advice(Club::Iron6, carries, whole, &rules).map(|s| s.show(Units::MphYd))
        };
        let even = [150.0, 151.0, 152.0, 150.5, 151.5, 150.0];
        assert_eq!(
            said(&even, false).unwrap(),
            "The 6-iron is known to 4 yd: go on to the next club."
        );
        let wild = [150.0, 158.0, 146.0, 155.0];
        assert_eq!(said(&wild, false), None);
        assert!(
            said(&wild, true)
                .unwrap()
                .ends_with("more with the 6-iron would tell its carry to 4 yd.")
        );
    }

    #[test]
    fn more_are_asked_for_at_the_last_block_of_a_club_alone() {
        let rules = HouseRules::default();
        let reading = |carry: f64| {
            let mut reading = Reading::default();
            reading.set(Quantity::Carry, carry, Provenance::Measured);
            reading
        };
        let carries = [150.0, 139.0, 158.0, 146.0, 160.0, 141.0].map(reading);
        let plan = |club: Club| PlannedBlock {
            club: Some(club),
            ..PlannedBlock::new(club.label(), 3)
        };
        let blocks = [Club::Iron6, Club::Driver, Club::Iron6].map(plan);
        let said = |current: usize, blocks_hit: &[usize]| {
            let shots: Vec<HitShot<'_>> = blocks_hit
                .iter()
                .zip(&carries)
                .map(|(block, reading)| HitShot {
                    block: *block,
                    reading,
                    decision: None,
                })
                .collect();
            let question = Question {
                shown: &[],
                club: Club::Iron7,
                conditions: Conditions::REFERENCE,
                rules: &rules,
                blocks: &blocks,
                current,
                shots: &shots,
                hidden: &[],
                last: None,
            };
            gapping_advice(&question, &hit(&question)).map(|s| s.show(Units::MphYd))
        };
        assert_eq!(said(0, &[0, 0, 0]), None);
        let last = said(2, &[0, 0, 0, 2, 2, 2]).unwrap();
        assert!(last.contains("more with the 6-iron would tell"), "{last}");
    }
}
