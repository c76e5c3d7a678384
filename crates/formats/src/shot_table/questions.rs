//! What a file does not tell, asked in a sentence with the answers to choose from.
//!
//! Every answer is a change to the layout, so that whoever shows a question needs to know
//! nothing of tables. A question stands for as long as the file gives rise to it; it is open
//! until its key is among those that were settled.

mod of_columns;
mod of_rows;

use super::grid::{Grid, told};
use super::layout::{ColumnUse, Layout};
use super::line::Line;
use chrono::NaiveDate;
use serde::Serialize;
use serde_json::{Value, json};
use std::collections::BTreeMap;
use tally_core::vocabulary::invalid::Invalid;
use utoipa::ToSchema;

/// One answer.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Choice {
    /// What it is called.
    pub label: String,
    /// The fields of the layout that it changes, with what they become.
    #[schema(value_type = Object)]
    pub change: BTreeMap<String, Value>,
}

/// Something that the file does not tell.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Question {
    /// What goes among the settled ones with the answer.
    pub key: String,
    /// The question.
    pub asks: String,
    /// Cells or rows that it is about.
    pub cells: Vec<String>,
    /// The answers; none where a club is to be chosen for `of_club`, or a player.
    pub choices: Vec<Choice>,
    /// What the file calls a club, empty for rows that name none.
    pub of_club: Option<String>,
    /// The place of the answer that the layout has now.
    pub chosen: Option<usize>,
    /// Whether it waits for an answer.
    pub open: bool,
}

impl Question {
    fn new(
        layout: &Layout,
        key: &str,
        asks: String,
        cells: Vec<String>,
        choices: Vec<Choice>,
    ) -> Self {
        let now = serde_json::to_value(layout).unwrap_or_default();
        let has = |choice: &Choice| {
            choice
                .change
                .iter()
                .all(|(field, value)| now.get(field) == Some(value))
        };
        let open = !layout.settled.contains(key);
        Self {
            key: key.to_owned(),
            asks,
            cells,
            chosen: choices.iter().position(has).filter(|_| !open),
            choices,
            of_club: None,
            open,
        }
    }
}

fn choice(label: impl Into<String>, field: &str, value: Value) -> Choice {
    Choice {
        label: label.into(),
        change: BTreeMap::from([(field.to_owned(), value)]),
    }
}

/// Questions that a file still asks when it is read by a layout: no row of it goes in before
/// they are answered.
///
/// # Errors
/// [`Invalid`] when the file is not what the layout says.
pub fn still_open(head: &[u8], layout: &Layout, today: NaiveDate) -> Result<Vec<String>, Invalid> {
    let grid = Grid::read(head, &layout.source, layout.across)?;
    let all = questions(&grid, layout, today);
    Ok(all.into_iter().filter(|q| q.open).map(|q| q.asks).collect())
}

/// All that a file asks.
pub(super) fn questions(grid: &Grid, layout: &Layout, today: NaiveDate) -> Vec<Question> {
    let asked = Asked {
        names: grid.names(layout),
        rows: grid.shots(layout),
        grid,
        layout,
        today,
    };
    let mut all = Vec::new();
    all.extend(asked.blocks());
    all.extend(asked.players());
    all.extend(asked.doubles());
    all.extend(asked.backspin());
    all.extend(asked.either());
    all.extend(asked.unnamed());
    all.extend(asked.units_told());
    all.extend(asked.units());
    all.extend(asked.undated());
    all.extend(asked.dates());
    all.extend(asked.elapsed());
    all.extend(asked.days_down());
    all.extend(asked.order());
    all.extend(asked.zeros());
    all.extend(asked.sides());
    all.extend(asked.by_hand());
    all.extend(asked.one_sided());
    all.extend(asked.averages());
    all.extend(asked.parted());
    all.extend(asked.alike());
    all.extend(asked.club_column());
    all.extend(asked.clubs());
    all.extend(asked.left_out());
    // What cannot be is told once the units and days are known.
    if !all.iter().any(|q: &Question| q.open) {
        all.extend(asked.believed());
    }
    all
}

/// What is known of a file when questions about it are made.
struct Asked<'a> {
    grid: &'a Grid,
    layout: &'a Layout,
    names: Vec<String>,
    rows: Vec<&'a Line>,
    today: NaiveDate,
}

impl Asked<'_> {
    fn ask(&self, key: &str, asks: String, cells: Vec<String>, choices: Vec<Choice>) -> Question {
        Question::new(self.layout, key, asks, cells, choices)
    }

    /// The cells of a column that hold something.
    fn told(&self, i: usize) -> Vec<&str> {
        told(&self.rows, i)
    }

    /// The first of them, to be shown.
    fn first(&self, i: usize) -> Vec<String> {
        self.told(i)
            .into_iter()
            .take(3)
            .map(str::to_owned)
            .collect()
    }

    fn name(&self, i: usize) -> String {
        format!("“{}”", self.names.get(i).map_or("", String::as_str))
    }

    fn list(&self, columns: &[usize]) -> String {
        let names: Vec<String> = columns.iter().map(|i| self.name(*i)).collect();
        listed(&names)
    }

    fn columns_with(&self, i: usize, becomes: ColumnUse) -> Vec<ColumnUse> {
        let mut columns = self.layout.columns.clone();
        columns[i] = becomes;
        columns
    }

    /// The answers that say what a column holds.
    fn becoming<T: Into<String>>(
        &self,
        i: usize,
        answers: impl IntoIterator<Item = (T, ColumnUse)>,
    ) -> Vec<Choice> {
        let answers = answers.into_iter();
        answers
            .map(|(label, held)| choice(label, "columns", json!(self.columns_with(i, held))))
            .collect()
    }

    fn column(&self, is: ColumnUse) -> Option<usize> {
        self.layout.columns.iter().position(|column| *column == is)
    }
}

fn listed(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [one] => one.clone(),
        [many @ .., last] => format!("{} and {last}", many.join(", ")),
    }
}
