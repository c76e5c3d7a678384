//! Finding anything that has a name, by the beginnings of its words.

use chrono::NaiveDate;
use serde::Serialize;
use unicode_normalization::UnicodeNormalization;
use unicode_normalization::char::is_combining_mark;
use utoipa::ToSchema;

/// What something is. Of things that fit equally well, the kinds come in this order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// A player.
    Player,
    /// Something to do.
    Act,
    /// A page of the application.
    Page,
    /// A session.
    Session,
    /// A decision.
    Decision,
    /// A club of a player's bag.
    Club,
    /// A device.
    Device,
    /// A house rule.
    Rule,
}

/// Something that can be found.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Thing {
    /// What it is.
    pub kind: Kind,
    /// What it is called.
    pub label: String,
    /// What is said beside it.
    pub about: String,
    /// Its day, which is looked for as "14 February 2026" and written as whoever looks writes days.
    #[schema(format = Date)]
    pub day: Option<NaiveDate>,
    /// Where it is.
    pub path: String,
}

/// Most of one kind among what is found.
const MOST_OF_A_KIND: usize = 6;
/// Most that is found.
const MOST: usize = 20;
/// Words that are not looked for: "a speed day for Bram".
const SMALL: [&str; 9] = ["a", "an", "at", "for", "in", "of", "on", "the", "with"];

/// A text as it is compared: small letters without their marks.
pub fn folded(text: &str) -> String {
    if text.is_ascii() {
        return text.to_ascii_lowercase();
    }
    text.nfd()
        .filter(|c| !is_combining_mark(*c))
        .flat_map(char::to_lowercase)
        .collect()
}

/// The words that are looked for.
pub fn words(asked: &str) -> Vec<String> {
    let all: Vec<String> = pieces(&folded(asked)).map(str::to_owned).collect();
    let telling: Vec<String> = all
        .iter()
        .filter(|word| !SMALL.contains(&word.as_str()))
        .cloned()
        .collect();
    // Who types "a" looks for names that begin with it.
    if telling.is_empty() { all } else { telling }
}

/// How many of the words a text has.
pub fn has(text: &str, words: &[String]) -> usize {
    let text = folded(text);
    words.iter().filter(|word| fit(&text, word) > 0).count()
}

/// What fits all that is looked for, best first, of what holds a thing each.
pub fn find<T>(asked: &str, held: Vec<T>, thing: impl Fn(&T) -> &Thing) -> Vec<T> {
    let words = words(asked);
    if words.is_empty() {
        return vec![];
    }
    let begins = folded(asked.trim());
    // Of hundreds of sessions none writes its day out where nobody looks for one.
    let of_days = words.iter().any(|word| is_of_a_day(word));
    let mut fitting: Vec<(u32, T)> = held
        .into_iter()
        .filter_map(|one| Some((fits(thing(&one), &words, &begins, of_days)?, one)))
        .collect();
    let kind = |one: &T| thing(one).kind;
    // Stable: what came first of its kind, the latest, stays before.
    fitting.sort_by(|(a, one), (b, other)| b.cmp(a).then(kind(one).cmp(&kind(other))));
    let mut taken: Vec<T> = vec![];
    for (_, one) in fitting {
        let alike = taken.iter().filter(|t| kind(t) == kind(&one)).count();
        if alike < MOST_OF_A_KIND && taken.len() < MOST {
            taken.push(one);
        }
    }
    taken
}

/// Whether a word may be one of a day's: a number, or a part of a month's name.
fn is_of_a_day(word: &str) -> bool {
    const MONTHS: &str =
        "january february march april may june july august september october november december";
    word.bytes().all(|byte| byte.is_ascii_digit()) || fit(MONTHS, word) > 0
}

/// How well a thing fits; nothing when a word is nowhere in it, or in its day where words may be
/// of days.
fn fits(thing: &Thing, words: &[String], begins: &str, of_days: bool) -> Option<u32> {
    let mut about = folded(&thing.about);
    if let Some(day) = thing.day.filter(|_| of_days) {
        about.push_str(&day.format(" %-d %B %Y").to_string().to_ascii_lowercase());
    }
    let label = folded(&thing.label);
    let mut score = if label.starts_with(begins) { 10 } else { 0 };
    for word in words {
        score += match (fit(&label, word), fit(&about, word)) {
            (0, 0) => return None,
            (0, _) => 1,
            (in_label, _) => 1 + in_label,
        };
    }
    Some(score)
}

/// How well a word fits a folded text: it is one of its words, begins one, or lies within.
fn fit(text: &str, word: &str) -> u32 {
    // Scripts without spaces have no beginnings of words.
    let anywhere = word.chars().count() >= 3 || !word.is_ascii();
    pieces(text)
        .map(|piece| match piece {
            piece if piece == word => 3,
            piece if piece.starts_with(word) => 2,
            piece if anywhere && piece.contains(word) => 1,
            _ => 0,
        })
        .max()
        .unwrap_or(0)
}

fn pieces(text: &str) -> impl Iterator<Item = &str> {
    text.split(|c: char| !c.is_alphanumeric())
        .filter(|piece| !piece.is_empty())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn thing(kind: Kind, label: &str, about: &str) -> Thing {
        Thing {
            kind,
            label: label.to_owned(),
            about: about.to_owned(),
            day: None,
            path: String::new(),
        }
    }

    fn on(day: &str, thing: Thing) -> Thing {
        Thing {
            day: Some(day.parse().unwrap()),
            ..thing
        }
    }

    fn school() -> Vec<Thing> {
        vec![
            thing(Kind::Player, "Bram Lindqvale", ""),
            thing(Kind::Player, "Ésme Brambäck", ""),
            thing(Kind::Player, "山田 花子", ""),
            thing(Kind::Act, "Begin a speed day for Bram Lindqvale", ""),
            on(
                "2026-05-03",
                thing(Kind::Session, "Speed day, driver", "Bram Lindqvale, barn"),
            ),
            on(
                "2026-05-01",
                thing(Kind::Session, "Benchmark, 7-iron", "Bram Lindqvale, barn"),
            ),
            thing(Kind::Rule, "Level of every interval", "Statistics"),
        ]
    }

    fn labels(asked: &str) -> Vec<String> {
        let found = find(asked, school(), |thing| thing).into_iter();
        found.map(|thing| thing.label).collect()
    }

    #[test]
    fn a_name_is_found_by_its_beginning_with_or_without_its_marks() {
        assert_eq!(labels("bra")[..2], ["Bram Lindqvale", "Ésme Brambäck"]);
        assert_eq!(labels("esme"), ["Ésme Brambäck"]);
        assert_eq!(labels("BRAMBÄCK")[0], "Ésme Brambäck");
        assert_eq!(labels("花子"), ["山田 花子"]);
    }

    #[test]
    fn all_words_are_looked_for_in_any_order() {
        assert_eq!(
            labels("speed day for bram")[0],
            "Begin a speed day for Bram Lindqvale"
        );
        assert_eq!(labels("bram may bench"), ["Benchmark, 7-iron"]);
        assert_eq!(labels("7 iron bram"), ["Benchmark, 7-iron"]);
        assert!(labels("bram piano").is_empty());
    }

    #[test]
    fn a_session_is_found_by_any_part_of_its_day_and_by_no_other_number() {
        let of_both = ["Speed day, driver", "Benchmark, 7-iron"];
        for asked in ["may 2026 barn", "barn ma", "barn 2026", "barn 026"] {
            assert_eq!(labels(asked), of_both, "{asked}");
        }
        assert_eq!(labels("3 may barn"), ["Speed day, driver"]);
        assert!(labels("barn 14").is_empty());
        assert!(labels("barn june").is_empty());
    }

    #[test]
    fn nothing_is_found_by_nothing() {
        for asked in ["", "  ", "—", "?!"] {
            assert!(labels(asked).is_empty(), "{asked}");
        }
    }

    #[test]
    fn one_kind_leaves_room_for_the_others() {
        let mut many: Vec<Thing> = (0..50)
            .map(|n| thing(Kind::Session, &format!("Speed day {n}"), ""))
            .collect();
        many.push(thing(Kind::Rule, "Margin of speed", ""));
        let found = find("speed", many, |thing| thing);
        assert_eq!(found.len(), MOST_OF_A_KIND + 1);
        // Of the same kind the order is kept.
        assert_eq!(found[0].label, "Speed day 0");
    }
}
