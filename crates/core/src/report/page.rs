//! The page that a player takes home: what was seen, what it means, what to do until next
//! time, and what comes next.
//!
//! The coach chooses lines from a [draft](crate::report::draft), says them in other words or
//! adds lines of their own. What was computed stays beside what is said instead of it. The text
//! is made here, in the reader's units, so that link, print and table say the same.

mod shown;

use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::{Sentence, first_name};
use crate::vocabulary::text::lines_within;
use crate::vocabulary::units::Units;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
pub use shown::{ShownLine, ShownPage, ShownPart, ShownPicture, ShownRow};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What was seen, at most, in sentences: more is not remembered.
pub const MOST_SEEN: usize = 3;
/// Lines of a page, at most.
const MOST_LINES: usize = 80;
/// Longest sentence of a coach, characters.
pub const LONGEST_LINE: usize = 400;
/// Longest heading, characters.
const LONGEST_TITLE: usize = 120;

/// Who reads it.
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
pub enum Reader {
    /// A child: best and usual, no intervals.
    Child,
    /// A club player: the sentence, an average and a best.
    ClubPlayer,
    /// An elite player: with intervals, spread and count.
    Elite,
}

impl Keyed for Reader {
    const KIND: &'static str = "a reader";
}

/// How the page calls the player.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CalledBy {
    /// By the whole name; never a child.
    Name,
    /// By the first name.
    FirstName,
    /// By initials.
    Initials,
}

impl CalledBy {
    /// What that is of a name: of a child never more than the first one.
    ///
    /// ```
    /// use tally_core::report::page::CalledBy;
    /// assert_eq!(CalledBy::Name.of("Mila Brandt", true), "Mila");
    /// assert_eq!(CalledBy::Initials.of("Mila van Brandt", false), "M. v. B.");
    /// ```
    pub fn of(self, name: &str, child: bool) -> String {
        match self {
            CalledBy::Name if !child => name.to_owned(),
            CalledBy::Name | CalledBy::FirstName => first_name(name).to_owned(),
            CalledBy::Initials => {
                let initials = name
                    .split_whitespace()
                    .filter_map(|part| part.chars().next());
                let initials: Vec<String> = initials.map(|first| format!("{first}.")).collect();
                initials.join(" ")
            }
        }
    }
}

/// The parts of a page, in their order.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    ToSchema,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
pub enum PagePart {
    /// What was seen.
    Seen,
    /// What it means.
    Means,
    /// What to do until next time.
    Until,
    /// What comes next: targets and dates.
    Next,
}

/// The shots behind a sentence: a row for each set of them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Picture {
    /// Of which value.
    pub quantity: Quantity,
    /// The sets, in hitting order.
    pub rows: Vec<PictureRow>,
}

/// The shots of one set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PictureRow {
    /// What it is called.
    pub label: String,
    /// Its values, internal units.
    pub values: Vec<f64>,
}

/// A line that may stand on a page.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DraftLine {
    /// What it goes by.
    pub key: String,
    /// Where it stands.
    pub part: PagePart,
    /// What it says.
    pub said: Sentence,
    /// The day it is about.
    pub on: Option<NaiveDate>,
    /// Its picture.
    pub picture: Option<Picture>,
    /// Whether it is proposed.
    pub ticked: bool,
}

/// A line that the coach wants.
#[derive(Debug, Clone, PartialEq, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChosenLine {
    /// The line of the draft; none for one of the coach's own.
    pub key: Option<String>,
    /// Where it stands; a line of the draft stands where it stood.
    pub part: PagePart,
    /// The coach's words in place of what is computed.
    pub said: Option<String>,
}

/// A line of a page.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PageLine {
    /// The line of the draft that it is.
    pub key: Option<String>,
    /// Where it stands.
    pub part: PagePart,
    /// What was computed.
    pub computed: Option<Sentence>,
    /// What the coach says, in place of it where there is something.
    pub said: Option<String>,
    /// The day it is about.
    pub on: Option<NaiveDate>,
    /// Its picture.
    pub picture: Option<Picture>,
}

/// A page as it is kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Page {
    /// What stands above it.
    pub title: String,
    /// How the player is called on it.
    pub called: String,
    /// Who reads it.
    pub reader: Reader,
    /// In which units.
    pub units: Units,
    /// The first day and the last that it is about.
    pub days: [NaiveDate; 2],
    /// Its lines, part by part.
    pub lines: Vec<PageLine>,
}

/// What a page is made of.
#[derive(Debug, Clone, PartialEq)]
pub struct PageMade<'a> {
    /// What stands above it.
    pub title: &'a str,
    /// How the player is called on it.
    pub called: String,
    /// Who reads it.
    pub reader: Reader,
    /// In which units.
    pub units: Units,
    /// The first day and the last that it is about.
    pub days: [NaiveDate; 2],
    /// What may stand on it.
    pub draft: Vec<DraftLine>,
    /// What is to stand on it.
    pub chosen: &'a [ChosenLine],
}

impl Page {
    /// The page of what a coach chose.
    ///
    /// # Errors
    /// [`Invalid`] naming the line, for one that the draft has not, words that are empty or too
    /// long, more than three sentences of what was seen, and for a page without a line.
    pub fn taken(made: PageMade<'_>) -> Result<Page, Invalid> {
        if made.chosen.is_empty() {
            return Err(Invalid::missing("lines", "tick a line, or write one"));
        }
        if made.chosen.len() > MOST_LINES {
            let problem = format!("are more than {MOST_LINES}");
            return Err(Invalid::new(
                "lines",
                made.chosen.len(),
                problem,
                "leave some out",
            ));
        }
        let mut draft: BTreeMap<&str, &DraftLine> = made
            .draft
            .iter()
            .map(|line| (line.key.as_str(), line))
            .collect();
        let mut lines = Vec::new();
        for (i, chosen) in made.chosen.iter().enumerate() {
            let field = |name: &str| format!("lines[{i}].{name}");
            let said = chosen.said.as_ref().filter(|said| !said.trim().is_empty());
            let said = said
                .map(|said| lines_within(&field("said"), said, LONGEST_LINE))
                .transpose()?;
            let line = match &chosen.key {
                Some(key) => {
                    let of = draft.remove(key.as_str()).ok_or_else(|| {
                        let problem = "is not, or no longer, among what this session tells";
                        let remedy =
                            "open the page again and choose once more; give each line once";
                        Invalid::new(field("key"), key, problem, remedy)
                    })?;
                    PageLine {
                        key: Some(key.clone()),
                        part: of.part,
                        computed: Some(of.said.clone()),
                        // What is said in the computed words stays computed.
                        said: said.filter(|said| *said != of.said.show(made.units)),
                        on: of.on,
                        picture: of.picture.clone(),
                    }
                }
                None => PageLine {
                    key: None,
                    part: chosen.part,
                    computed: None,
                    said: Some(said.ok_or_else(|| {
                        Invalid::missing(field("said"), "write a sentence, or leave the line out")
                    })?),
                    on: None,
                    picture: None,
                },
            };
            lines.push(line);
        }
        lines.sort_by_key(|line| line.part);
        let seen = lines
            .iter()
            .filter(|line| line.part == PagePart::Seen)
            .count();
        if seen > MOST_SEEN {
            let problem = format!("are more than the {MOST_SEEN} sentences that one remembers");
            return Err(Invalid::new(
                "lines",
                seen,
                problem,
                "untick the least telling of what was seen",
            ));
        }
        Ok(Page {
            title: lines_within("title", made.title, LONGEST_TITLE)?,
            called: made.called,
            reader: made.reader,
            units: made.units,
            days: made.days,
            lines,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::{Dimension, MPH};

    fn draft() -> Vec<DraftLine> {
        let line = |key: &str, part, said| DraftLine {
            key: key.to_owned(),
            part,
            said,
            on: None,
            picture: None,
            ticked: true,
        };
        let speed = Sentence::of("All-out is ")
            .figure(6.8 * MPH, Dimension::Speed)
            .words(" faster.");
        vec![
            DraftLine {
                picture: Some(Picture {
                    quantity: Quantity::ClubSpeed,
                    rows: vec![PictureRow {
                        label: "All-out".to_owned(),
                        values: vec![40.0, 41.0],
                    }],
                }),
                ..line("opening", PagePart::Seen, speed)
            },
            line(
                "worth",
                PagePart::Means,
                Sentence::of("Each mph more is 2 yd."),
            ),
        ]
    }

    fn made(chosen: &[ChosenLine]) -> Result<Page, Invalid> {
        let day = NaiveDate::from_ymd_opt(2026, 11, 27).unwrap();
        Page::taken(PageMade {
            title: "Speed day",
            called: "Bram".to_owned(),
            reader: Reader::ClubPlayer,
            units: Units::MphYd,
            days: [day, day],
            draft: draft(),
            chosen,
        })
    }

    fn of(key: Option<&str>, part: PagePart, said: Option<&str>) -> ChosenLine {
        ChosenLine {
            key: key.map(str::to_owned),
            part,
            said: said.map(str::to_owned),
        }
    }

    #[test]
    fn what_was_computed_stays_beside_what_the_coach_says() {
        let page = made(&[
            of(None, PagePart::Until, Some("Three all-out swings a day.")),
            of(
                Some("opening"),
                PagePart::Seen,
                Some("You found another gear."),
            ),
        ])
        .unwrap();
        assert_eq!(page.lines[0].computed, Some(draft()[0].said.clone()));
        let shown = page.shown();
        let headings: Vec<_> = shown.parts.iter().map(|part| part.heading).collect();
        assert_eq!(headings, ["What we saw", "Until next time"]);
        assert_eq!(shown.parts[0].lines[0].text, "You found another gear.");
        let picture = shown.parts[0].lines[0].picture.as_ref().unwrap();
        assert_eq!(
            (&*picture.label, &*picture.rows[0].mean_said),
            ("Club speed, mph", "90.6")
        );
    }

    #[test]
    fn words_left_as_they_were_computed_stay_computed() {
        let page = made(&[of(
            Some("opening"),
            PagePart::Seen,
            Some("All-out is 6.8 mph faster."),
        )]);
        assert_eq!(page.unwrap().lines[0].said, None);
    }

    #[test]
    fn what_cannot_stand_on_a_page_is_named_with_its_line() {
        let seen = |said| of(None, PagePart::Seen, Some(said));
        for (chosen, field) in [
            (vec![], "lines"),
            (vec![of(Some("gone"), PagePart::Seen, None)], "lines[0].key"),
            (
                vec![of(Some("worth"), PagePart::Means, None); 2],
                "lines[1].key",
            ),
            (vec![of(None, PagePart::Next, Some("  "))], "lines[0].said"),
            (vec![seen("a"), seen("b"), seen("c"), seen("d")], "lines"),
            (vec![seen(&"long ".repeat(90))], "lines[0].said"),
        ] {
            assert_eq!(made(&chosen).unwrap_err().field, field);
        }
    }

    #[test]
    fn of_forty_decisions_eight_are_shown_and_the_rest_counted() {
        let many: Vec<String> = (0..40).map(|i| format!("Do {i}.")).collect();
        let chosen: Vec<_> = many
            .iter()
            .map(|said| of(None, PagePart::Until, Some(said)))
            .collect();
        let shown = made(&chosen).unwrap().shown();
        assert_eq!((shown.parts[0].lines.len(), shown.parts[0].more), (8, 32));
    }
}
