//! What players of an age and a level usually reach: the house's own list, each with its
//! source.

use crate::physics::club::Club;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::playing_level::PlayingLevel;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::text::text_within;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What players of an age and a level usually reach.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReferenceLevel {
    /// With which club.
    pub club: Club,
    /// Of which value.
    pub quantity: Quantity,
    /// From which age on.
    pub from_age: i32,
    /// Up to which age.
    pub to_age: i32,
    /// How they play.
    pub level: PlayingLevel,
    /// What they reach, internal units.
    pub value: f64,
    /// Where that comes from.
    pub source: String,
}

/// References of a house, at most.
const MOST: usize = 200;
/// The oldest age that is asked for.
const OLDEST: i32 = 110;

/// Shares of elite men's speed, by level; ours.
const SHARES: [(PlayingLevel, f64); 4] = [
    (PlayingLevel::Elite, 1.0),
    (PlayingLevel::Competition, 0.93),
    (PlayingLevel::Club, 0.83),
    (PlayingLevel::Beginner, 0.72),
];

/// Our list: grown men with two clubs.
pub fn ours() -> Vec<ReferenceLevel> {
    let clubs = [Club::Driver, Club::Iron7].into_iter();
    let each = clubs.flat_map(|club| SHARES.map(|(level, share)| (club, level, share)));
    each.map(|(club, level, share)| ReferenceLevel {
        club,
        quantity: Quantity::ClubSpeed,
        from_age: 19,
        to_age: 49,
        level,
        value: share * club.reference_club_speed(),
        source: if level == PlayingLevel::Elite {
            "Published averages of elite men.".to_owned()
        } else {
            format!(
                "Ours: {:.0} % of what elite men average. Women and children need references of \
                 their own: put in those you trust.",
                100.0 * share
            )
        },
    })
    .collect()
}

/// A list as it may be kept.
///
/// # Errors
/// [`Invalid`] for each thing wrong, by its row.
pub fn check(list: &[ReferenceLevel]) -> Result<(), Vec<Invalid>> {
    let mut errors = Vec::new();
    if list.len() > MOST {
        let problem = format!("are more than {MOST}");
        errors.push(Invalid::new(
            "levels",
            list.len(),
            problem,
            "keep those you use",
        ));
    }
    for (place, row) in list.iter().enumerate() {
        let field = |name: &str| format!("levels[{place}].{name}");
        for (name, age) in [("from_age", row.from_age), ("to_age", row.to_age)] {
            let range = 0.0..=f64::from(OLDEST);
            if let Err(error) = within(&field(name), f64::from(age), range, "years") {
                errors.push(error);
            }
        }
        if row.from_age > row.to_age {
            let remedy = "put the younger age first";
            let problem = format!("is under {}", row.from_age);
            errors.push(Invalid::new(field("to_age"), row.to_age, problem, remedy));
        }
        let believable = row.value.is_finite() && row.value > 0.0;
        if !believable || !row.quantity.range().contains(&row.value) {
            let problem = format!("is no {} that anybody reaches", row.quantity.label());
            errors.push(Invalid::new(
                field("value"),
                row.value,
                problem,
                "check the unit",
            ));
        }
        if let Err(error) = text_within(&field("source"), &row.source, 300) {
            errors.push(error);
        }
    }
    if errors.is_empty() {
        Ok(())
    } else {
        Err(errors)
    }
}

/// The reference that fits a player: of the narrowest ages where several do.
pub fn fitting(
    list: &[ReferenceLevel],
    (club, quantity): (Club, Quantity),
    age: i32,
    level: PlayingLevel,
) -> Option<&ReferenceLevel> {
    let fits = |row: &&ReferenceLevel| {
        (row.club, row.quantity, row.level) == (club, quantity, level)
            && (row.from_age..=row.to_age).contains(&age)
    };
    list.iter()
        .filter(fits)
        .min_by_key(|row| row.to_age - row.from_age)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ours_may_be_kept_and_the_narrowest_ages_win() {
        let mut list = ours();
        assert_eq!(check(&list), Ok(()));
        let of = (Club::Driver, Quantity::ClubSpeed);
        let own = ReferenceLevel {
            from_age: 30,
            to_age: 35,
            value: 45.0,
            ..list[2].clone()
        };
        list.push(own);
        let at = |age| fitting(&list, of, age, PlayingLevel::Club).map(|row| row.value);
        assert_eq!(at(33), Some(45.0));
        assert_eq!(at(40), Some(0.83 * Club::Driver.reference_club_speed()));
        assert_eq!(at(60), None);
    }

    #[test]
    fn what_is_wrong_is_named_by_its_row() {
        let mut list = ours();
        list[1].to_age = 10;
        list[2].value = f64::NAN;
        list[3].source = String::new();
        let fields: Vec<String> = check(&list)
            .unwrap_err()
            .into_iter()
            .map(|error| error.field)
            .collect();
        assert_eq!(
            fields,
            ["levels[1].to_age", "levels[2].value", "levels[3].source"]
        );
    }
}
