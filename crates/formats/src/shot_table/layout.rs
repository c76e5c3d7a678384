//! How a table is read: what a person can see and put right.

use super::clubs;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use tally_core::physics::club::Club;
use tally_core::shots::reading::Provenance;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Unit;
use utoipa::ToSchema;

/// Most columns of a table.
pub const MOST_COLUMNS: usize = 500;
/// Most names of clubs and answers of one layout.
const MOST_NAMES: usize = 500;

/// Where the cells come from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "is")]
pub enum Source {
    /// Text with a character between cells.
    Text {
        /// How bytes become text: a label such as `utf-8` or `windows-1252`. A byte-order mark
        /// stands before it.
        encoding: String,
        /// Between two cells: `,`, `;`, `|` or a tab.
        delimiter: char,
    },
    /// A sheet of a workbook.
    Sheet {
        /// Its name.
        name: String,
    },
    /// JSON: a list of shots, or one shot a line.
    Json,
}

/// How a date of numbers is ordered. Four figures of a year are understood wherever they stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DateStyle {
    /// 18/04/2026, 18.04.26.
    DayFirst,
    /// 04/18/2026.
    MonthFirst,
    /// 26-04-18.
    YearFirst,
}

impl DateStyle {
    /// All of them, the likeliest first.
    pub const ALL: [DateStyle; 3] = [
        DateStyle::DayFirst,
        DateStyle::MonthFirst,
        DateStyle::YearFirst,
    ];
}

/// Years that shots may be of.
pub const YEARS: std::ops::RangeInclusive<i32> = 1980..=2200;

/// How the days of a file are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct DaysWritten {
    /// How their numbers are ordered.
    pub style: DateStyle,
    /// The year of those that name none.
    pub year: Option<i32>,
}

impl From<DateStyle> for DaysWritten {
    fn from(style: DateStyle) -> Self {
        Self { style, year: None }
    }
}

/// What becomes of a row that is like an earlier one in every cell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Alike {
    /// Each is a shot.
    #[default]
    Each,
    /// It is the same shot again.
    Once,
}

/// What a column holds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "is")]
pub enum ColumnUse {
    /// Nothing that is used.
    Unused,
    /// A value of the shot. A unit in a cell stands before this one.
    Value {
        /// Which.
        quantity: Quantity,
        /// Its unit, by its suffix; empty for numbers alone.
        #[serde(with = "unit_suffix")]
        #[schema(value_type = String)]
        unit: Unit,
    },
    /// A shot in each cell, of this value; the column's name is the block.
    Shots {
        /// Which.
        quantity: Quantity,
        /// Its unit, by its suffix.
        #[serde(with = "unit_suffix")]
        #[schema(value_type = String)]
        unit: Unit,
    },
    /// How a value came about: `measured`, `calculated`, `entered`.
    From {
        /// Which.
        quantity: Quantity,
    },
    /// Left or right, of a value that stands in another column without its side.
    Sides {
        /// Which.
        quantity: Quantity,
    },
    /// The unit, row by row, of a value that stands in another column.
    Units {
        /// Which.
        quantity: Quantity,
    },
    /// The day, and perhaps the time, of the shot.
    Date,
    /// The time of day.
    Time,
    /// The club.
    Club,
    /// Whose shot it is.
    Player,
    /// The shot's number: a row without one, where others have one, is no shot.
    Number,
    /// What was tried: a block's label.
    Block,
    /// The state that the coach gave it: `kept`, `set_aside`, `doubtful`, or empty.
    Standing,
    /// Why it was set aside.
    Reason,
    /// A mark of rows that whoever wrote the file left out: `yes`.
    LeftOut,
    /// A mark of rows that count: `no` leaves them out.
    Counts,
    /// The identifier of a shot of ours that went out as this row.
    OurShot,
    /// What was swung without a ball.
    Implement,
    /// The side it was swung from: `dominant` or `other`.
    SwingSide,
    /// How the player stood: `normal`, `stepping`, `kneeling`.
    Position,
    /// Effort felt that was asked for, %.
    Effort,
}

impl ColumnUse {
    /// A value in a unit.
    pub fn value(quantity: Quantity, unit: Unit) -> ColumnUse {
        ColumnUse::Value { quantity, unit }
    }

    /// Whether both hold the same, so that one of them is too many.
    pub(crate) fn doubles(&self, other: &ColumnUse) -> bool {
        match (self, other) {
            (ColumnUse::Unused | ColumnUse::Shots { .. }, _) => false,
            (ColumnUse::Value { quantity: a, .. }, ColumnUse::Value { quantity: b, .. }) => a == b,
            (a, b) => a == b,
        }
    }

    pub(crate) fn holds_values(&self) -> bool {
        matches!(self, ColumnUse::Value { .. } | ColumnUse::Shots { .. })
    }
}

mod unit_suffix {
    use serde::{Deserialize, Deserializer, Serializer};
    use tally_core::vocabulary::units::{Dimension, Unit};

    pub fn serialize<S: Serializer>(unit: &Unit, out: S) -> Result<S::Ok, S::Error> {
        out.serialize_str(unit.suffix())
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Unit, D::Error> {
        let suffix = String::deserialize(from)?;
        Dimension::ALL
            .iter()
            .flat_map(|dimension| dimension.accepted())
            .find(|unit| unit.suffix() == suffix)
            .copied()
            .ok_or_else(|| serde::de::Error::custom(format!("{suffix:?} is not a unit")))
    }
}

/// Answers that are of one file and not of its kind.
const OF_ONE_FILE: [&str; 11] = [
    "alike",
    "averages",
    "believed",
    "days_down",
    "one_sided",
    "order",
    "players",
    "to_come",
    "undated",
    "unnamed",
    "year",
];

/// The layout of a file that has the columns of an earlier one: what a person put right then
/// holds again, what was of that one file is asked anew. Nothing where they are written in
/// different ways.
pub fn remembered(guessed: &Layout, earlier: Layout) -> Option<Layout> {
    // Without names nothing tells that the columns are the same.
    let alike = guessed.header_row > 0
        && guessed.columns.len() == earlier.columns.len()
        && guessed.across == earlier.across
        && std::mem::discriminant(&guessed.source) == std::mem::discriminant(&earlier.source);
    if !alike {
        return None;
    }
    let mut clubs = earlier.clubs;
    clubs.remove("");
    let mut settled = earlier.settled;
    // What that file's own cells spoke against is said in a key of more parts.
    let spoke_against = |key: &str| key.starts_with("dates:") || key.matches(':').count() > 1;
    settled.retain(|key| !OF_ONE_FILE.contains(&key.as_str()) && !spoke_against(key));
    // Units that stand below the names are those of this file.
    let both = guessed.columns.iter().zip(earlier.columns);
    let columns = both.map(|(now, then)| match guessed.unit_row && now.doubles(&then) {
        true => *now,
        false => then,
    });
    Some(Layout {
        columns: columns.collect(),
        dates: if settled.contains("dates") {
            earlier.dates
        } else {
            guessed.dates
        },
        provenance: earlier.provenance,
        zero_is_missing: earlier.zero_is_missing,
        clubs,
        settled,
        ..guessed.clone()
    })
}

/// How a table is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Layout {
    /// Where the cells come from.
    pub source: Source,
    /// Whether each column is a shot, with its values below each other.
    #[serde(default)]
    pub across: bool,
    /// The row that names the columns, from 1; 0 when none does. Rows above it are not read.
    pub header_row: u64,
    /// Whether the row below it tells the units.
    #[serde(default)]
    pub unit_row: bool,
    /// How a date of numbers is ordered.
    pub dates: DateStyle,
    /// The year of days that name none.
    #[serde(default)]
    pub year: Option<i32>,
    /// What each column holds, in order.
    pub columns: Vec<ColumnUse>,
    /// Provenance of values whose column says nothing about it.
    pub provenance: Provenance,
    /// Whether a 0 in angles and sides stands for a value that is missing. A speed, a spin, or
    /// a distance of 0 always does.
    #[serde(default)]
    pub zero_is_missing: bool,
    /// Whether letters of another language than English stand for left and right beside angles
    /// too: G, I, S or V with D or H.
    #[serde(default)]
    pub side_letters: bool,
    /// What becomes of rows that are alike in every cell.
    #[serde(default)]
    pub alike: Alike,
    /// Clubs by what the file calls them, where that is not plain; empty for rows that name
    /// none.
    #[serde(default)]
    pub clubs: BTreeMap<String, Club>,
    /// Whether a row that names no club was hit with that of the row above it.
    #[serde(default)]
    pub filled_down: bool,
    /// Whether a row that names no day is of that of the row above it.
    #[serde(default)]
    pub days_down: bool,
    /// Whether the last row was hit first.
    #[serde(default)]
    pub newest_first: bool,
    /// Whose rows are read, by what the file calls them; all when absent.
    #[serde(default)]
    pub only: Option<String>,
    /// Keys of the questions that a person answered.
    #[serde(default)]
    pub settled: BTreeSet<String>,
}

impl Layout {
    /// How its days are written.
    pub(crate) fn days(&self) -> DaysWritten {
        DaysWritten {
            style: self.dates,
            year: self.year,
        }
    }

    /// The club that a sheet is named for, as it stands, where no column tells any.
    pub(crate) fn club_of_sheet(&self) -> Option<&str> {
        let Source::Sheet { name } = &self.source else {
            return None;
        };
        let told = self.columns.contains(&ColumnUse::Club);
        // One letter may stand for anything.
        let named = name.chars().count() > 1 && clubs::club(name).is_some();
        (named && !told).then_some(name.as_str())
    }

    /// The column that tells the unit of a value row by row.
    pub(crate) fn units_of(&self, quantity: Quantity) -> Option<usize> {
        let units = ColumnUse::Units { quantity };
        self.columns.iter().position(|column| *column == units)
    }

    /// Checks a layout that a person changed.
    ///
    /// # Errors
    /// [`Invalid`] when no column holds a value, a value or role stands twice, a unit
    /// does not fit its value, or the file is said to be written in no way that is known.
    pub fn check(&self) -> Result<(), Invalid> {
        self.check_source()?;
        let most = |field: &str, many: usize, most: usize| {
            if many <= most {
                return Ok(());
            }
            Err(Invalid::new(
                field,
                many,
                "are too many",
                format!("keep {most} at most"),
            ))
        };
        most("columns", self.columns.len(), MOST_COLUMNS)?;
        most("clubs", self.clubs.len(), MOST_NAMES)?;
        most("settled", self.settled.len(), MOST_NAMES)?;
        if let Some(year) = self.year.filter(|year| !YEARS.contains(year)) {
            let remedy = format!("give one from {} to {}", YEARS.start(), YEARS.end());
            return Err(Invalid::new("year", year, "is out of range", remedy));
        }
        for (i, column) in self.columns.iter().enumerate() {
            let field = format!("columns[{i}]");
            if let ColumnUse::Value { quantity, unit } | ColumnUse::Shots { quantity, unit } =
                column
            {
                quantity
                    .dimension()
                    .unit_of_suffix(&format!("{field}.unit"), unit.suffix())?;
            }
            let before = &self.columns[..i];
            if let Some(first) = before.iter().position(|other| column.doubles(other)) {
                let problem = format!("holds the same as column {}", first + 1);
                return Err(Invalid::new(
                    field,
                    i + 1,
                    problem,
                    "leave one of them unused",
                ));
            }
        }
        if !self.columns.iter().any(ColumnUse::holds_values) {
            return Err(Invalid::new(
                "columns",
                self.columns.len(),
                "hold no value of a shot",
                "say which column does",
            ));
        }
        Ok(())
    }

    fn check_source(&self) -> Result<(), Invalid> {
        let Source::Text {
            encoding,
            delimiter,
        } = &self.source
        else {
            return Ok(());
        };
        if !matches!(delimiter, ',' | ';' | '|' | '\t') {
            let remedy = "use a comma, a semicolon, a bar or a tab";
            return Err(Invalid::new(
                "delimiter",
                delimiter,
                "cannot separate cells",
                remedy,
            ));
        }
        if encoding_rs::Encoding::for_label(encoding.as_bytes()).is_none() {
            let remedy = "use a label such as utf-8, windows-1252 or shift_jis";
            return Err(Invalid::new(
                "encoding",
                encoding,
                "is not an encoding",
                remedy,
            ));
        }
        Ok(())
    }
}
