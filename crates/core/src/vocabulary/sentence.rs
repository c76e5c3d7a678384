//! Sentences whose numbers stay numbers until someone reads them.
//!
//! A verdict is worded here, but the unit it is read in is the coach's choice of the
//! moment. So a sentence is a list of words and quantities; whoever shows it formats
//! the quantities, and nothing is worded twice.

use crate::vocabulary::moment::{day_said, needs_year};
use crate::vocabulary::units::{Dimension, Units};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A piece of a sentence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum Part {
    /// Words as they stand.
    Words {
        /// The words.
        text: String,
    },
    /// A number in internal units, to be shown in the coach's.
    Figure {
        /// The value, internal units.
        si: f64,
        /// What kind of thing it is.
        dimension: Dimension,
        /// Whether the unit is left out because a neighbour carries it.
        bare: bool,
    },
    /// How far two numbers lie apart as they are shown, without sign, so that
    /// whoever takes one from the other gets the same.
    Apart {
        /// The one, internal units.
        one: f64,
        /// The other.
        other: f64,
        /// What kind of thing they are.
        dimension: Dimension,
        /// Whether the unit is left out.
        bare: bool,
    },
    /// A day, to be written as the reader's people write it.
    Day {
        /// The day.
        date: NaiveDate,
        /// Whether its year is said.
        year: bool,
    },
}

/// Words and figures in reading order.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Sentence(pub Vec<Part>);

impl Sentence {
    /// A sentence of words alone.
    pub fn of(text: impl Into<String>) -> Self {
        Self::default().words(text)
    }

    /// Adds words.
    pub fn words(mut self, text: impl Into<String>) -> Self {
        self.0.push(Part::Words { text: text.into() });
        self
    }

    /// Adds a figure with its unit.
    pub fn figure(mut self, si: f64, dimension: Dimension) -> Self {
        self.0.push(Part::Figure {
            si,
            dimension,
            bare: false,
        });
        self
    }

    /// Adds a figure without its unit.
    pub fn bare(mut self, si: f64, dimension: Dimension) -> Self {
        self.0.push(Part::Figure {
            si,
            dimension,
            bare: true,
        });
        self
    }

    /// Adds how far two figures lie apart as they are shown.
    pub fn apart(mut self, one: f64, other: f64, dimension: Dimension) -> Self {
        self.0.push(Part::Apart {
            one,
            other,
            dimension,
            bare: true,
        });
        self
    }

    /// The same with the unit.
    pub fn apart_in_full(mut self, one: f64, other: f64, dimension: Dimension) -> Self {
        self.0.push(Part::Apart {
            one,
            other,
            dimension,
            bare: false,
        });
        self
    }

    /// Adds a day, with its year where another of that name may lie between it and `now`.
    pub fn day(mut self, date: NaiveDate, now: NaiveDate) -> Self {
        let year = needs_year(date, now);
        self.0.push(Part::Day { date, year });
        self
    }

    /// The same with its first word as a sentence begins.
    pub(crate) fn begun(mut self) -> Self {
        if let Some(Part::Words { text }) = self.0.first_mut() {
            *text = capital(text);
        }
        self
    }

    /// Adds another sentence.
    pub fn join(mut self, other: Sentence) -> Self {
        self.0.extend(other.0);
        self
    }

    /// The sentence as read in `units`.
    pub fn show(&self, units: Units) -> String {
        self.0
            .iter()
            .map(|part| match part {
                Part::Words { text } => text.clone(),
                Part::Day { date, year } => day_said(*date, *year),
                Part::Figure {
                    si,
                    dimension,
                    bare: false,
                } => dimension.show(*si, units),
                Part::Figure { si, dimension, .. } => dimension.show_bare(*si, units),
                Part::Apart {
                    one,
                    other,
                    dimension,
                    bare,
                } => {
                    let shown = |value| dimension.as_shown(value, units);
                    let apart = (shown(*one) - shown(*other)).abs();
                    if *bare {
                        dimension.show_bare(apart, units)
                    } else {
                        dimension.show(apart, units)
                    }
                }
            })
            .collect()
    }
}

/// Words as a sentence begins with them.
pub(crate) fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| {
        first.to_uppercase().chain(letters).collect()
    })
}

/// What a player is called in a sentence: the first of their names.
pub fn first_name(name: &str) -> &str {
    name.split_whitespace().next().unwrap_or(name)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::YARD;

    #[test]
    fn what_lies_between_two_figures_is_what_lies_between_them_as_shown() {
        let (one, other) = (220.4 * YARD, 208.6 * YARD);
        let apart = Sentence::default().apart(one, other, Dimension::Distance);
        // 220 and 209 are shown, so 11 it is, though 11.8 yd lie between.
        assert_eq!(apart.show(Units::MphYd), "11");
    }

    #[test]
    fn a_day_is_said_with_its_year_where_another_of_its_name_may_lie_between() {
        let day = |text: &str| text.parse().unwrap();
        let said = |date| Sentence::of("since ").day(day(date), day("2026-11-28"));
        assert_eq!(said("2026-03-04").show(Units::MphYd), "since 4 March");
        assert_eq!(said("2025-03-04").show(Units::MphYd), "since 4 March 2025");
    }

    #[test]
    fn one_sentence_reads_in_yards_and_in_metres() {
        let said = Sentence::of("carries ")
            .figure(179.0 * YARD, Dimension::Distance)
            .words(", from ")
            .bare(177.0 * YARD, Dimension::Distance);
        assert_eq!(said.show(Units::MphYd), "carries 179 yd, from 177");
        assert_eq!(said.show(Units::KmhM), "carries 164 m, from 162");
    }
}
