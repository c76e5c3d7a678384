//! The first rows of a file, and which of its rows are what.

use super::ColumnUse;
use super::clubs;
use super::layout::{Layout, Source};
use super::line::Line;
use super::names::{Says, plain_text, says};
use super::numbers::{self, is_nothing};
use super::source::{Lines, RowsError};
use super::terms::{Means, meant, sums_up};
use super::units::is_unit;
use csv::StringRecord;
use std::cell::RefCell;
use std::collections::{HashMap, HashSet};
use tally_core::vocabulary::characters::kept;
use tally_core::vocabulary::invalid::Invalid;

/// Rows looked at.
pub const LOOKED_AT: usize = 400;
/// Longest words that may name a row that sums others up, bytes.
const LONGEST_WORDS: usize = 60;
/// Words that are kept in mind.
const MOST_KNOWN: usize = 500;

/// The first rows of a file.
pub struct Grid {
    /// In order.
    pub lines: Vec<Line>,
}

impl Grid {
    /// Reads the first rows of a file that is written as `source` says.
    ///
    /// # Errors
    /// [`Invalid`] when it is not.
    pub fn read(head: &[u8], source: &Source, across: bool) -> Result<Grid, Invalid> {
        let refused = |why: RowsError| match why {
            RowsError::Unreadable(why) => why,
            other => Invalid::new("file", "", other.to_string(), "save it again"),
        };
        let mut rows = Lines::open(head, source, across).map_err(refused)?;
        let mut lines = Vec::new();
        while lines.len() < LOOKED_AT {
            match rows.next_line() {
                Some(Ok(line)) => lines.push(line),
                // The head may end within a row.
                Some(Err(_)) | None => break,
            }
        }
        Ok(Grid { lines })
    }

    /// Most cells of a row.
    pub fn width(&self) -> usize {
        self.lines
            .iter()
            .map(|line| line.cells.len())
            .max()
            .unwrap_or(0)
    }

    /// The row that names the columns.
    pub fn header(&self, layout: &Layout) -> Option<&Line> {
        self.lines
            .iter()
            .find(|line| line.row == layout.header_row && line.row > 0)
    }

    /// What that row and a row of headings over it call the columns: "Speed" under "Ball" is ball
    /// speed.
    pub fn named(&self, layout: &Layout) -> Option<StringRecord> {
        let header = self.header(layout)?;
        let over = self.lines.iter().find(|line| line.row + 1 == header.row);
        let together = over.and_then(|over| under_headings(&over.cells, &header.cells));
        Some(together.unwrap_or_else(|| header.cells.clone()))
    }

    /// The row of units below it.
    pub fn units(&self, layout: &Layout) -> Option<&Line> {
        let below = |line: &&Line| line.row > layout.header_row;
        layout
            .unit_row
            .then(|| self.lines.iter().find(below))
            .flatten()
    }

    /// The columns' names.
    pub fn names(&self, layout: &Layout) -> Vec<String> {
        let header = self.named(layout);
        let header = header.as_ref();
        names_of(
            header,
            layout
                .columns
                .len()
                .max(header.map_or(self.width(), StringRecord::len)),
        )
    }

    /// The rows that hold shots.
    pub fn shots<'a>(&'a self, layout: &Layout) -> Vec<&'a Line> {
        let sorts = Sorts::new(layout, self.header(layout).map(|line| &line.cells));
        let units = self.units(layout).map(|line| line.row);
        let below = |line: &&Line| line.row > layout.header_row && Some(line.row) != units;
        let mut here = true;
        let holds = |line: &&Line| {
            let sort = sorts.of(&line.cells);
            here = match sort {
                Sort::OtherNames => false,
                Sort::Header => true,
                _ => here,
            };
            here && sort == Sort::Shot
        };
        self.lines.iter().filter(below).filter(holds).collect()
    }
}

/// The cells of a column that hold something.
pub fn told<'a>(rows: &[&'a Line], i: usize) -> Vec<&'a str> {
    let cells = rows
        .iter()
        .filter_map(|line| line.cells.get(i))
        .map(str::trim);
    cells.filter(|cell| !is_nothing(cell)).collect()
}

/// Names of columns; "Column 3" where there is none.
pub fn names_of(header: Option<&StringRecord>, width: usize) -> Vec<String> {
    (0..width)
        .map(
            |i| match header.and_then(|cells| cells.get(i)).map(str::trim) {
                Some(name) if !name.is_empty() => kept(name.trim_start_matches('\u{feff}')),
                _ => format!("Column {}", i + 1),
            },
        )
        .collect()
}

/// Names with the headings over them, where some tell nothing by themselves and do so together. A
/// heading holds to the right until the next. What two columns share is told apart by theirs: of
/// "Carry" under "Shot" and "Carry" under "Target", neither is then known.
fn under_headings(over: &StringRecord, names: &StringRecord) -> Option<StringRecord> {
    let words = |cell: &str| cell.chars().any(char::is_alphabetic);
    let told = || over.iter().map(str::trim).filter(|cell| !cell.is_empty());
    if !told().all(words) || told().collect::<HashSet<_>>().len() < 2 {
        return None;
    }
    let known = |name: &str| says(name, None) != Says::Nothing;
    let mut heading = "";
    let both: Vec<(&str, String)> = (0..names.len())
        .map(|i| {
            let above = over.get(i).unwrap_or("").trim();
            if !above.is_empty() {
                heading = above;
            }
            let name = names.get(i).unwrap_or("").trim();
            (name, format!("{heading} {name}"))
        })
        .collect();
    let shared = |name: &str| both.iter().filter(|(other, _)| *other == name).count() > 1;
    let matters = |(name, both): &(&str, String)| {
        !name.is_empty()
            && if known(name) {
                shared(name)
            } else {
                known(both)
            }
    };
    if !both.iter().any(matters) {
        return None;
    }
    let each = both.iter().map(|(name, both)| {
        if !name.is_empty() && (known(both) || shared(name)) {
            both.as_str()
        } else {
            name
        }
    });
    Some(each.collect())
}

/// A word no longer than this may be a unit.
const LONGEST_UNIT: usize = 8;

/// What a row is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sort {
    /// A shot.
    Shot,
    /// Nothing stands in it.
    Blank,
    /// The names of the columns once more, or their units.
    Header,
    /// What sums others up.
    Summary,
    /// A heading that tells the club of the rows below it.
    Heading,
    /// The names of other columns: what stands below is another table.
    OtherNames,
}

/// The club that a row tells those below it to be hit with, where it holds nothing else: "Club: 7
/// iron", "Schläger | Eisen 7", "--- Driver ---". As it stands, known or not.
pub fn heading(cells: &StringRecord) -> Option<&str> {
    let mut told = cells.iter().map(str::trim).filter(|cell| !cell.is_empty());
    let (first, second) = (told.next()?, told.next());
    if told.next().is_some() || first.len() > LONGEST_WORDS {
        return None;
    }
    let is_club = |name: &str| meant(name) == Some(Means::Role(ColumnUse::Club));
    let named = match second {
        Some(club) => Some((first.trim_end_matches([':', '=']), club)),
        None => first.split_once([':', '=']),
    };
    if let Some((name, club)) = named {
        let club = club.trim();
        return (is_club(name) && !is_nothing(club)).then_some(club);
    }
    let bare = first.trim_matches(|c: char| matches!(c, '-' | '=' | '*' | '#' | ' '));
    let by_itself = bare.chars().filter(|c| c.is_alphanumeric()).count() > 1;
    (by_itself && clubs::club(bare).is_some()).then_some(bare)
}

/// Tells rows apart below a header.
pub struct Sorts {
    header: Vec<String>,
    /// Whether clubs are told by headings, where no column tells them and there are several.
    headings: bool,
    /// Columns whose words tell a shot from a row that sums others up.
    tells: Vec<bool>,
    /// What was said of words before, so that each is looked up once.
    known: RefCell<HashMap<(bool, String), bool>>,
}

impl Sorts {
    /// By the columns of a layout and the names above them.
    pub fn new(layout: &Layout, header: Option<&StringRecord>) -> Self {
        let named = |i: usize| {
            header
                .and_then(|cells| cells.get(i))
                .is_some_and(|name| !name.trim().is_empty())
        };
        let tells = layout
            .columns
            .iter()
            .enumerate()
            .map(|(i, column)| match column {
                ColumnUse::Number | ColumnUse::Date | ColumnUse::Time | ColumnUse::Club => true,
                // On its side, the first column was the names above the shots.
                ColumnUse::Unused => !named(i) || (layout.across && i == 0),
                _ => false,
            });
        let tells = tells.collect();
        Self {
            header: header
                .map(|cells| cells.iter().map(|cell| cell.trim().to_owned()).collect())
                .unwrap_or_default(),
            headings: layout.columns.len() > 1 && !layout.columns.contains(&ColumnUse::Club),
            tells,
            known: RefCell::default(),
        }
    }

    /// What a row is.
    pub fn of(&self, cells: &StringRecord) -> Sort {
        // Some programs end a file by a character that is none.
        let blank = |cell: &str| cell.chars().all(|c| c.is_whitespace() || c.is_control());
        let Some(first) = cells.iter().position(|cell| !blank(cell)) else {
            return Sort::Blank;
        };
        if is_page(cells) {
            return Sort::Blank;
        }
        if self.headings && heading(cells).is_some() {
            return Sort::Heading;
        }
        let again = !self.header.is_empty()
            && cells.len() == self.header.len()
            && cells
                .iter()
                .zip(&self.header)
                .all(|(cell, name)| cell.trim() == name);
        if again || is_units(cells) || is_rule(cells) {
            return Sort::Header;
        }
        if let Some(others) = self.names_others(cells) {
            return if others {
                Sort::OtherNames
            } else {
                Sort::Header
            };
        }
        // Where shots are counted and told apart, a word for a sum is one. Elsewhere only what
        // begins the row can be, when it is such a word and no more: a player may be called
        // Max, and a note may say what was best.
        let sums = cells.iter().enumerate().any(|(i, cell)| {
            let tells = self.tells.get(i).copied().unwrap_or(false);
            (tells || i == first) && self.sums_up(cell.trim(), !tells)
        });
        if sums { Sort::Summary } else { Sort::Shot }
    }
}

impl Sorts {
    /// Whether a row of several names of columns, without a number, names what does not stand
    /// above; nothing where it is no such row.
    fn names_others(&self, cells: &StringRecord) -> Option<bool> {
        let numbers = |cell: &str| cell.bytes().any(|byte| byte.is_ascii_digit());
        if self.header.is_empty() || cells.iter().any(numbers) {
            return None;
        }
        let claims = |cell: &str| {
            let said = Some(cell).filter(|cell| !cell.trim().is_empty());
            said.map(|cell| says(cell, None))
                .filter(|said| *said != Says::Nothing)
        };
        let known: Vec<(usize, Says)> = cells
            .iter()
            .enumerate()
            .filter_map(|(i, cell)| Some((i, claims(cell)?)))
            .collect();
        let other = |(i, said): &(usize, Says)| {
            let above = self.header.get(*i).and_then(|name| claims(name));
            above.as_ref() != Some(said)
        };
        (known.len() > 1).then(|| known.iter().any(other))
    }

    fn sums_up(&self, cell: &str, is_label: bool) -> bool {
        let begins = cell.chars().next();
        let is_number = |c: char| c.is_ascii_digit() || matches!(c, '-' | '+' | '.' | '−');
        if begins.is_none_or(is_number) || cell.len() > LONGEST_WORDS {
            return false;
        }
        let key = (is_label, cell.to_owned());
        if let Some(known) = self.known.borrow().get(&key) {
            return *known;
        }
        let sums = sums_up(cell, is_label);
        let mut known = self.known.borrow_mut();
        if known.len() < MOST_KNOWN {
            known.insert(key, sums);
        }
        sums
    }
}

/// Whether it is a line drawn between rows: "---", "===", as tables in texts have them.
fn is_rule(cells: &StringRecord) -> bool {
    let line =
        |cell: &str| cell.len() > 1 && cell.chars().all(|c| matches!(c, '-' | '=' | ':' | '+'));
    let mut told = cells.iter().map(str::trim).filter(|cell| !cell.is_empty());
    told.clone().count() > 1 && told.all(line)
}

/// Whether it only counts the pages of a print: "Page 1 of 3", "Seite 2/3".
fn is_page(cells: &StringRecord) -> bool {
    let mut told = cells.iter().map(str::trim).filter(|cell| !cell.is_empty());
    let (Some(only), None) = (told.next(), told.next()) else {
        return false;
    };
    let plain = plain_text(only);
    let mut words = plain
        .split(|c: char| !c.is_alphanumeric())
        .filter(|word| !word.is_empty());
    let page = ["page", "pagina", "seite", "sida", "ページ", "페이지"];
    let counts = |word: &str| {
        word.bytes().all(|byte| byte.is_ascii_digit())
            || ["of", "von", "de", "sur", "di", "av", "van"].contains(&word)
    };
    words.next().is_some_and(|word| page.contains(&word))
        && plain.bytes().any(|byte| byte.is_ascii_digit())
        && words.all(counts)
}

/// Whether every cell that holds anything is a unit, and one at least does; of many a few may be
/// words that are known for none, without a figure.
pub fn is_units(cells: &StringRecord) -> bool {
    let told: Vec<&str> = cells
        .iter()
        .map(str::trim)
        .filter(|cell| !cell.is_empty() && *cell != "-")
        .collect();
    let number = |cell: &str| numbers::number(cell, numbers::Marks::Decimals).is_some();
    let units = told.iter().filter(|cell| is_unit(cell) && !number(cell));
    let units = units.count();
    let may_be = |cell: &&str| {
        is_unit(cell)
            || (cell.chars().count() <= LONGEST_UNIT && !cell.bytes().any(|b| b.is_ascii_digit()))
    };
    units > 0
        && (units == told.len() || (units >= 3 * (told.len() - units) && told.iter().all(may_be)))
}
