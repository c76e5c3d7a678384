//! The clubs of a player's bag, in words.

use crate::physics::club::Club;
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
