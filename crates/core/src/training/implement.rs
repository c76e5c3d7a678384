//! Implements: what a school's players swing, and how heavy it is beside their driver.

use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::text::text_within;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What kind of thing is swung.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum ImplementKind {
    /// A stick lighter than the driver.
    Lighter,
    /// One that is heavier.
    Heavier,
    /// A club with its weight towards the hands.
    Counterweighted,
    /// The player's own driver.
    OwnDriver,
    /// Any other club.
    Club,
}

impl Keyed for ImplementKind {
    const KIND: &'static str = "a kind of implement";
}

/// Mass of a driver where a player's own was not weighed, kg.
pub const USUAL_DRIVER_KG: f64 = 0.31;
/// Masses accepted, kg.
const MASS_KG: std::ops::RangeInclusive<f64> = 0.05..=3.0;
/// Lengths accepted, m.
const LENGTH_M: std::ops::RangeInclusive<f64> = 0.3..=1.5;

/// What is swung.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Implement {
    /// The school's own name, which its swings carry: light, heavy, own driver.
    pub name: String,
    /// What kind of thing it is.
    pub kind: ImplementKind,
    /// Mass, kg, where it was weighed.
    pub mass_kg: Option<f64>,
    /// Length, m, where it was measured.
    pub length_m: Option<f64>,
}

impl Implement {
    /// Checks what was typed.
    ///
    /// # Errors
    /// [`Invalid`] for a name that is empty or longer than 40 characters, a mass outside
    /// 50…3,000 g or a length outside 0.3…1.5 m.
    pub fn check(&self) -> Result<(), Invalid> {
        text_within("name", &self.name, 40)?;
        if let Some(mass) = self.mass_kg {
            let grams = |end: f64| end * 1000.0;
            let range = grams(*MASS_KG.start())..=grams(*MASS_KG.end());
            within("mass", (grams(mass) * 1e3).round() / 1e3, range, "g")?;
        }
        if let Some(length) = self.length_m {
            within("length", length, LENGTH_M, "m")?;
        }
        Ok(())
    }

    /// Its mass as a share of the player's driver; nothing where it was not weighed.
    ///
    /// ```
    /// use tally_core::training::implement::{Implement, ImplementKind};
    /// let light = Implement {
    ///     name: "light".to_owned(),
    ///     kind: ImplementKind::Lighter,
    ///     mass_kg: Some(0.248),
    ///     length_m: None,
    /// };
    /// assert!((light.share(Some(0.31)).unwrap() - 0.8).abs() < 1e-9);
    /// ```
    pub fn share(&self, driver_kg: Option<f64>) -> Option<f64> {
        if self.kind == ImplementKind::OwnDriver {
            return Some(1.0);
        }
        Some(self.mass_kg? / driver_kg.unwrap_or(USUAL_DRIVER_KG))
    }

    /// What to think of before it is swung at full effort: a mass too far from the driver's,
    /// or one that does not fit its kind; nothing where there is nothing to say.
    pub fn concern(&self, driver_kg: Option<f64>, rules: &HouseRules) -> Option<Sentence> {
        let Some(share) = self.share(driver_kg) else {
            return Some(Sentence::of(format!(
                "“{}” was not weighed: whether its mass lies within {:.0} % of the driver’s is not known.",
                self.name,
                100.0 * rules.implement_share
            )));
        };
        let off = share - 1.0;
        let driver = match driver_kg {
            Some(_) => "the player’s driver",
            None => "a usual driver",
        };
        let than = match (off.abs() * 100.0).round() {
            0.0 => format!("as heavy as {driver}"),
            by if off < 0.0 => format!("{by:.0} % lighter than {driver}"),
            by => format!("{by:.0} % heavier than {driver}"),
        };
        // A hair's breadth over the bound is the scale's.
        if off.abs() > rules.implement_share + 0.005 {
            return Some(Sentence::of(format!(
                "“{}” is {than}: further than the {:.0} % within which swings stay swings. Swing it gently, or not.",
                self.name,
                100.0 * rules.implement_share
            )));
        }
        let goes_as = match self.kind {
            ImplementKind::Lighter if off >= 0.0 => "lighter",
            ImplementKind::Heavier if off <= 0.0 => "heavier",
            _ => return None,
        };
        Some(Sentence::of(format!(
            "“{}” goes as {goes_as}, but is {than}: weigh it again, or change its kind.",
            self.name
        )))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::Units;

    fn stick(kind: ImplementKind, mass_kg: Option<f64>) -> Implement {
        Implement {
            name: "stick".to_owned(),
            kind,
            mass_kg,
            length_m: None,
        }
    }

    #[test]
    fn a_mass_far_from_the_driver_s_is_said_and_one_within_a_fifth_is_not() {
        let said = |kind, mass| {
            let told = stick(kind, mass).concern(Some(0.3), &HouseRules::default());
            told.map(|told| told.show(Units::MphYd))
        };
        use ImplementKind::{Heavier, Lighter, OwnDriver};
        assert_eq!(said(Lighter, Some(0.24)), None);
        assert_eq!(said(Heavier, Some(0.36)), None);
        assert_eq!(said(OwnDriver, None), None);
        let far = said(Heavier, Some(0.45)).unwrap();
        assert!(
            far.contains("50 % heavier than the player’s driver"),
            "{far}"
        );
        assert!(said(Lighter, None).unwrap().contains("was not weighed"));
        assert!(said(Lighter, Some(0.33)).unwrap().contains("10 % heavier"));
    }

    #[test]
    fn grams_typed_as_kilograms_are_refused_with_the_range() {
        let refused = stick(ImplementKind::Lighter, Some(248.0))
            .check()
            .unwrap_err();
        assert_eq!(
            (refused.field.as_str(), refused.remedy.as_str()),
            ("mass", "give a number from 50 to 3000 g")
        );
    }
}
