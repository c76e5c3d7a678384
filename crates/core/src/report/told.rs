//! What a session, or the days of a period, give to a player's page.

use crate::physics::club::Club;
use crate::record::series::{Occasion, choices, follow};
use crate::report::page::{Picture, PictureRow};
use crate::shots::ball::Ball;
use crate::trials::opening::{Opening, Swing};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use chrono::{Datelike, NaiveDate};
use std::collections::{BTreeMap, BTreeSet};

/// Rows of a picture, at most: what a page of paper holds beside its words.
const MOST_ROWS: usize = 14;

/// The shots of a block, or of a day.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct PageSet {
    /// What it is called.
    pub label: String,
    /// Its kept values, in hitting order.
    pub values: BTreeMap<Quantity, Vec<f64>>,
}

/// A conclusion.
#[derive(Debug, Clone, PartialEq)]
pub struct PageSaid {
    /// What it goes by.
    pub key: &'static str,
    /// The sentence.
    pub sentence: Sentence,
    /// What stands behind it.
    pub detail: Sentence,
}

/// What a page is made of.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct PageTold {
    /// The conclusion, where there is one.
    pub said: Option<PageSaid>,
    /// The values that matter, the greatest first.
    pub shown: Vec<Quantity>,
    /// The one club that it is about; none of several, or of swings without a ball.
    pub club: Option<Club>,
    /// The shots, set by set.
    pub sets: Vec<PageSet>,
    /// Whether the sets differ on purpose, so that no mean is taken over them.
    pub mixed: bool,
}

impl PageTold {
    /// What a session tells: its balls in hitting order with the labels of their blocks, and its
    /// swings without a ball.
    pub fn of_session(
        opening: Opening,
        shown: Vec<Quantity>,
        balls: &[(String, Ball)],
        swings: &[Swing],
        rules: &HouseRules,
    ) -> PageTold {
        let mut sets = Vec::new();
        for (label, ball) in balls.iter().filter(|(_, ball)| ball.kept()) {
            let set = set_of(&mut sets, label);
            for quantity in Quantity::all() {
                if let Some(value) = ball.counted(quantity, rules) {
                    set.values.entry(quantity).or_default().push(value);
                }
            }
        }
        for swing in swings {
            let set = set_of(&mut sets, &swing.swung.implement);
            let speeds = set.values.entry(Quantity::ClubSpeed).or_default();
            speeds.push(swing.speed);
        }
        let clubs: BTreeSet<Club> = balls.iter().map(|(_, ball)| ball.club).collect();
        let alone = clubs.len() == 1 && swings.is_empty();
        PageTold {
            mixed: !opening.blocks.is_empty(),
            said: Some(PageSaid {
                key: "opening",
                sentence: opening.verdict.sentence,
                detail: opening.verdict.detail,
            }),
            club: clubs.first().copied().filter(|_| alone),
            shown,
            sets,
        }
    }

    /// What the days from one to another tell of what a coach looks at first.
    pub fn of_days(occasions: &[Occasion], days: [NaiveDate; 2], rules: &HouseRules) -> PageTold {
        let [from, to] = days;
        let within = |occasion: &&Occasion| (from..=to).contains(&occasion.date);
        let within: Vec<Occasion> = occasions.iter().filter(within).cloned().collect();
        let Some(first) = choices(&within).into_iter().next() else {
            return PageTold::default();
        };
        let progress = follow(&within, &first.key, None, None, rules);
        let one_year = from.year() == to.year();
        let sets = progress.days.iter().map(|day| PageSet {
            label: day
                .date
                .format(if one_year { "%-d %b" } else { "%-d %b %Y" })
                .to_string(),
            values: BTreeMap::from([(progress.quantity, day.values.clone())]),
        });
        PageTold {
            sets: sets.collect(),
            mixed: false,
            shown: vec![progress.quantity],
            club: first.key.club,
            said: Some(PageSaid {
                key: "progress",
                sentence: progress.sentence,
                detail: progress.detail,
            }),
        }
    }

    /// Every value of the shots.
    pub(super) fn values(&self, of: Quantity) -> Vec<f64> {
        let sets = self.sets.iter().filter_map(|set| set.values.get(&of));
        sets.flatten().copied().collect()
    }

    /// The shots of a value as they are drawn: of more sets than a page holds the first, the
    /// last, and others evenly between.
    pub(super) fn picture(&self, of: Quantity) -> Option<Picture> {
        let rows = self.sets.iter().filter_map(|set| {
            Some(PictureRow {
                label: set.label.clone(),
                values: set.values.get(&of)?.clone(),
            })
        });
        let mut rows: Vec<PictureRow> = rows.collect();
        let last = rows.len().checked_sub(1)?;
        if last >= MOST_ROWS {
            let wanted: BTreeSet<usize> =
                (0..MOST_ROWS).map(|i| i * last / (MOST_ROWS - 1)).collect();
            let mut place = 0..;
            rows.retain(|_| place.next().is_some_and(|at| wanted.contains(&at)));
        }
        Some(Picture { quantity: of, rows })
    }
}

fn set_of<'a>(sets: &'a mut Vec<PageSet>, label: &str) -> &'a mut PageSet {
    let place = sets.iter().position(|set| set.label == label);
    let place = place.unwrap_or_else(|| {
        sets.push(PageSet {
            label: label.to_owned(),
            ..PageSet::default()
        });
        sets.len() - 1
    });
    &mut sets[place]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn of_many_days_a_picture_holds_the_first_the_last_and_some_between() {
        let sets = (0..60).map(|day| PageSet {
            label: day.to_string(),
            values: [(Quantity::ClubSpeed, vec![40.0 + f64::from(day)])].into(),
        });
        let told = PageTold {
            sets: sets.collect(),
            ..PageTold::default()
        };
        let rows = told.picture(Quantity::ClubSpeed).unwrap().rows;
        assert_eq!(rows.len(), MOST_ROWS);
        assert_eq!((&*rows[0].label, &*rows[MOST_ROWS - 1].label), ("0", "59"));
        assert_eq!(told.values(Quantity::ClubSpeed).len(), 60);
        assert_eq!(told.picture(Quantity::Carry), None);
    }

    #[test]
    fn blocks_of_one_name_are_one_set() {
        let mut sets = Vec::new();
        for label in ["Usual", "Quiet", "Quiet", "Usual"] {
            let values = &mut set_of(&mut sets, label).values;
            values.entry(Quantity::Carry).or_default().push(100.0);
        }
        let told: Vec<_> = sets
            .iter()
            .map(|set| (&*set.label, set.values[&Quantity::Carry].len()))
            .collect();
        assert_eq!(told, [("Usual", 2), ("Quiet", 2)]);
    }
}
