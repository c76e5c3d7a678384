//! The rows of a table, one after the other.

use super::cells::{self, zero_is_nothing};
use super::formulas::taken_back;
use super::grid::{Sort, Sorts, heading, names_of};
use super::layout::{Alike, ColumnUse, Layout};
use super::line::Line;
use super::numbers::is_nothing;
use super::source::{Lines, RowsError};
use super::units::unit_named;
use super::{CellTrouble, ImportedShot, When, clubs, dates};
use chrono::NaiveDate;
use csv::StringRecord;
use std::collections::{BTreeMap, HashSet, VecDeque};
use std::hash::{BuildHasher, RandomState};
use std::io::Read;
use tally_core::physics::club::Club;
use tally_core::shots::mark::Reason;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::{SwingSide, Swung};
use tally_core::vocabulary::characters::{kept, unkeepable};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::text::text_within;
use uuid::Uuid;

/// Names of others that are kept in mind.
const MOST_OTHERS: usize = 200;

/// One row.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadRow {
    /// From 1, as the file stands.
    pub row: u64,
    /// The shot, or what is wrong with it.
    pub shot: Result<ImportedShot, BadRow>,
}

/// A row that cannot be used.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BadRow {
    /// Its cells, as they stand.
    pub cells: Vec<String>,
    /// Everything that is wrong with it.
    pub troubles: Vec<CellTrouble>,
}

/// Rows that were passed over, and why.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Skipped {
    /// Rows that sum others up.
    pub summaries: u64,
    /// The names of the columns, or their units, once more.
    pub headers: u64,
    /// Rows like an earlier one in every cell.
    pub alike: u64,
    /// Rows of others, by what the file calls them.
    pub others: BTreeMap<String, u64>,
}

impl Skipped {
    /// What was passed over, in sentences.
    pub fn told(&self) -> Vec<String> {
        let rows = |many: u64, one: &str, more: &str| match many {
            0 => None,
            1 => Some(format!("1 row {one}.")),
            _ => Some(format!("{many} rows {more}.")),
        };
        let mut said: Vec<String> = [
            rows(
                self.summaries,
                "summed others up and is no shot",
                "summed others up and are no shots",
            ),
            rows(
                self.headers,
                "named the columns once more",
                "named the columns once more",
            ),
            rows(
                self.alike,
                "was like an earlier one and was left out",
                "were like earlier ones and were left out",
            ),
        ]
        .into_iter()
        .flatten()
        .collect();
        let others = self.others.iter().map(|(name, rows)| match name.as_str() {
            "" => format!("{rows} without a name"),
            name => format!("{rows} of {name}"),
        });
        let others: Vec<String> = others.collect();
        if !others.is_empty() {
            said.push(format!(
                "Rows of others were left out: {}.",
                others.join(", ")
            ));
        }
        said
    }
}

/// The rows of a table in order.
pub struct Rows<R: Read> {
    lines: Lines<R>,
    layout: Layout,
    sorts: Sorts,
    names: Vec<String>,
    /// The club that the rows below its heading are hit with, as the file calls it.
    heading: Option<String>,
    /// The club of the row above, as the file calls it.
    above: Option<String>,
    /// The day of the row above.
    day_above: Option<NaiveDate>,
    /// The row of other names below which rows stand that are of another table.
    under_others: Option<u64>,
    /// Whether the row of units is still to come.
    units_to_come: bool,
    /// Shots of a row that holds several.
    waiting: VecDeque<ReadRow>,
    seen: HashSet<u64>,
    hasher: RandomState,
    skipped: Skipped,
}

impl Rows<std::io::Empty> {
    /// Reads rows that are held.
    pub(super) fn held(lines: Vec<Line>, layout: Layout) -> Self {
        Self::of(Lines::held(lines), layout)
    }
}

impl<R: Read> Rows<R> {
    /// Begins to read a table.
    ///
    /// # Errors
    /// [`RowsError`] when the file is not what its layout says.
    pub fn open(input: R, layout: Layout) -> Result<Self, RowsError> {
        let lines = Lines::open(input, &layout.source, layout.across)?;
        Ok(Self::of(lines, layout))
    }

    fn of(lines: Lines<R>, layout: Layout) -> Self {
        Self {
            lines,
            sorts: Sorts::new(&layout, None),
            names: names_of(None, layout.columns.len()),
            heading: layout.club_of_sheet().map(str::to_owned),
            above: None,
            day_above: None,
            under_others: None,
            units_to_come: layout.unit_row,
            layout,
            waiting: VecDeque::new(),
            seen: HashSet::new(),
            hasher: RandomState::new(),
            skipped: Skipped::default(),
        }
    }

    /// The next row; `None` at the end.
    ///
    /// # Errors
    /// [`RowsError`] when the rest cannot be read.
    pub fn next_row(&mut self) -> Option<Result<ReadRow, RowsError>> {
        loop {
            if let Some(waiting) = self.waiting.pop_front() {
                return Some(Ok(waiting));
            }
            let line = match self.lines.next_line()? {
                Ok(line) => line,
                Err(error) => return Some(Err(error)),
            };
            if line.row < self.layout.header_row {
                // A title may name a golf club.
                if self.sorts.of(&line.cells) == Sort::Heading
                    && let Some(club) = heading(&line.cells)
                    && clubs::club(club).is_some()
                {
                    self.heading = Some(club.to_owned());
                }
                continue;
            }
            if line.row == self.layout.header_row {
                self.names = names_of(Some(&line.cells), line.cells.len());
                self.sorts = Sorts::new(&self.layout, Some(&line.cells));
                continue;
            }
            if std::mem::take(&mut self.units_to_come) {
                continue;
            }
            match self.sorts.of(&line.cells) {
                Sort::Blank => continue,
                Sort::Header => {
                    self.skipped.headers += 1;
                    self.under_others = None;
                }
                Sort::OtherNames => {
                    self.skipped.headers += 1;
                    self.under_others = Some(line.row);
                }
                Sort::Summary => self.skipped.summaries += 1,
                Sort::Heading => self.heading = heading(&line.cells).map(str::to_owned),
                Sort::Shot if self.is_another_s(&line.cells) => self.note_above(&line.cells),
                Sort::Shot if self.is_seen(&line.cells) => self.skipped.alike += 1,
                Sort::Shot => {
                    self.note_above(&line.cells);
                    self.read(&line);
                }
            }
        }
    }

    /// All that can be read of the rest.
    pub(super) fn all(mut self) -> Vec<ReadRow> {
        std::iter::from_fn(|| self.next_row())
            .map_while(Result::ok)
            .collect()
    }

    /// The columns' names.
    pub fn names(&self) -> &[String] {
        &self.names
    }

    /// What was passed over so far.
    pub fn skipped(&self) -> &Skipped {
        &self.skipped
    }

    /// Keeps the club and the day of a row in mind for those below it.
    fn note_above(&mut self, cells: &StringRecord) {
        let told = self.layout.columns.iter().zip(cells);
        if self.layout.days_down {
            let mut days = told
                .clone()
                .filter(|(column, cell)| **column == ColumnUse::Date && !is_nothing(cell.trim()));
            // Below a day that cannot be read none is known.
            if let Some((_, cell)) = days.next() {
                self.day_above = dates::fits(cell, self.layout.days());
            }
        }
        let mut told = told.filter(|(column, cell)| {
            self.layout.filled_down && **column == ColumnUse::Club && !is_nothing(cell.trim())
        });
        if let Some((_, club)) = told.next() {
            self.above = Some(taken_back(club.trim()).to_owned());
        }
    }

    fn is_another_s(&mut self, cells: &StringRecord) -> bool {
        let Some(only) = &self.layout.only else {
            return false;
        };
        let at = self
            .layout
            .columns
            .iter()
            .position(|c| *c == ColumnUse::Player);
        let Some(name) = at.map(|at| cells.get(at).unwrap_or("").trim()) else {
            return false;
        };
        let name = if is_nothing(name) { "" } else { name };
        if name == only.trim() {
            return false;
        }
        let others = &mut self.skipped.others;
        if others.contains_key(name) || others.len() < MOST_OTHERS {
            *others.entry(kept(name)).or_default() += 1;
        }
        true
    }

    fn is_seen(&mut self, cells: &StringRecord) -> bool {
        self.layout.alike == Alike::Once
            && !self
                .seen
                .insert(self.hasher.hash_one(cells.iter().collect::<Vec<_>>()))
    }

    /// Reads a row: one shot, or one for each column that holds shots.
    fn read(&mut self, line: &Line) {
        let many: Vec<usize> = (0..self.layout.columns.len())
            .filter(|i| matches!(self.layout.columns[*i], ColumnUse::Shots { .. }))
            .filter(|i| !is_nothing(line.cells.get(*i).unwrap_or("").trim()))
            .collect();
        let each = if many.is_empty() {
            vec![None]
        } else {
            many.into_iter().map(Some).collect()
        };
        // However many of its cells cannot be read, a row is refused once.
        let mut troubles: Vec<CellTrouble> = Vec::new();
        if let Some(names) = self.under_others {
            let shown = line.cells.iter().collect::<Vec<_>>().join(" | ");
            let problem = format!("stands below other names of columns, in row {names}");
            let remedy = "bring it in by a file of its own, with those names above it";
            let why = Invalid::new("row", shown, problem, remedy);
            troubles.push(CellTrouble::of(line.row, 0, "", why));
        }
        for only in each
            .into_iter()
            .filter(|_| troubles.is_empty())
            .collect::<Vec<_>>()
        {
            match self.shot(line, only) {
                Ok(shot) => self.waiting.push_back(ReadRow {
                    row: line.row,
                    shot: Ok(shot),
                }),
                Err(more) => {
                    for trouble in more {
                        if !troubles.contains(&trouble) {
                            troubles.push(trouble);
                        }
                    }
                }
            }
        }
        if !troubles.is_empty() {
            let cells = line.cells.iter().map(kept).collect();
            self.waiting.push_back(ReadRow {
                row: line.row,
                shot: Err(BadRow { cells, troubles }),
            });
        }
    }

    /// The shot of a row; of the columns that hold shots, that of `only`.
    fn shot(&self, line: &Line, only: Option<usize>) -> Result<ImportedShot, Vec<CellTrouble>> {
        let whole_row = |why: Invalid| vec![CellTrouble::of(line.row, 0, "", why)];
        let expected = self.layout.columns.len();
        let told = line.cells.len();
        // Delimiters at the end of a row add nothing.
        let more = line
            .cells
            .iter()
            .skip(expected)
            .any(|cell| !cell.trim().is_empty());
        if told < expected || more {
            let problem = format!("has {told} cells and the table has {expected} columns");
            let remedy =
                "check its delimiters and quotes, and whether a comma stands before decimals too";
            let shown = line.cells.iter().collect::<Vec<_>>().join(" | ");
            return Err(whole_row(Invalid::new("row", shown, problem, remedy)));
        }
        let mut row = Taken {
            shot: ImportedShot::empty(),
            swung: Swung {
                implement: String::new(),
                side: None,
                position: None,
            },
            time: None,
        };
        let mut troubles = Vec::new();
        for (i, (cell, column)) in line.cells.iter().zip(&self.layout.columns).enumerate() {
            let cell = taken_back(cell.trim());
            if let ColumnUse::Shots { quantity, unit } = column {
                if Some(i) == only {
                    let name = self.names.get(i).cloned().unwrap_or_default();
                    row.shot.club = row.shot.club.or(clubs::begun_with(&name));
                    if row.shot.when == When::Unknown
                        && let Some(day) = dates::plainly(&name)
                    {
                        row.shot.when = When::Day(day);
                    }
                    row.shot.block = Some(name);
                    let column = ColumnUse::value(*quantity, *unit);
                    if let Err(why) = self.take(cell, column, &mut row) {
                        troubles.push(self.trouble(line, i, why));
                    }
                }
                continue;
            }
            let taken = match (is_nothing(cell), column, self.day_above) {
                (true, ColumnUse::Date, Some(day)) => {
                    row.shot.when = When::Day(day);
                    Ok(())
                }
                (true, ..) => Self::without(*column),
                (false, ..) => self
                    .in_its_unit(line, *column)
                    .and_then(|column| self.take(cell, column, &mut row)),
            };
            if let Err(why) = taken {
                troubles.push(self.trouble(line, i, why));
            }
        }
        let Taken {
            mut shot,
            swung,
            time,
        } = row;
        shot.when = match (time, shot.when) {
            (Some(time), When::Day(day)) => When::Local(day.and_time(time)),
            (Some(time), When::Unknown) => When::Clock(time),
            (_, when) => when,
        };
        self.set_provenance(&line.cells, &mut shot.reading);
        for (i, cell) in line.cells.iter().enumerate() {
            if let Err(why) = self.set_side(i, cell.trim(), &mut shot.reading) {
                troubles.push(self.trouble(line, i, why));
            }
        }
        shot.swung = (!swung.implement.is_empty()).then_some(swung);
        let of_club = self
            .layout
            .columns
            .iter()
            .position(|c| *c == ColumnUse::Club);
        if let (None, None, Some(name), None) = (of_club, &shot.swung, &self.heading, shot.club) {
            match self.club(name) {
                Ok(club) => shot.club = Some(club),
                Err(why) => troubles.extend(whole_row(why)),
            }
        }
        if let (Some(at), None, None) = (of_club, shot.club, &shot.swung)
            && line
                .cells
                .get(at)
                .is_some_and(|cell| is_nothing(cell.trim()))
        {
            shot.club = match &self.above {
                Some(above) if self.layout.filled_down => self.club(above).ok(),
                _ if self.layout.filled_down => None,
                _ => self.layout.clubs.get("").copied(),
            };
            if shot.club.is_none() {
                let remedy = "name the club, or say with which such rows were hit";
                troubles.push(self.trouble(line, at, Invalid::missing("club", remedy)));
            }
        }
        if troubles.is_empty() && shot.reading.0.is_empty() {
            let why = Invalid::new(
                "row",
                "",
                "holds no value",
                "leave the row out, or fill it in",
            );
            troubles.extend(whole_row(why));
        }
        if troubles.is_empty() {
            Ok(shot)
        } else {
            Err(troubles)
        }
    }

    /// A column in the unit that another cell of the row tells.
    fn in_its_unit(&self, line: &Line, column: ColumnUse) -> Result<ColumnUse, Invalid> {
        let ColumnUse::Value { quantity, .. } = column else {
            return Ok(column);
        };
        let Some(at) = self.layout.units_of(quantity) else {
            return Ok(column);
        };
        let told = line.cells.get(at).unwrap_or("").trim();
        let unit = unit_named(quantity.dimension(), told).ok_or_else(|| {
            let problem = format!("is no unit of {}", quantity.label().to_lowercase());
            let accepted = quantity.dimension().accepted().iter();
            let accepted: Vec<&str> = accepted.map(|unit| unit.symbol()).collect();
            let remedy = format!("write {}", accepted.join(", "));
            Invalid::new("unit", told, problem, remedy)
        })?;
        Ok(ColumnUse::value(quantity, unit))
    }

    /// A club by what the file calls it.
    fn club(&self, name: &str) -> Result<Club, Invalid> {
        let known = self.layout.clubs.get(name).copied();
        known.or_else(|| clubs::club(name)).ok_or_else(|| {
            let remedy =
                "write a club such as driver, 5-wood, 7-iron or pitching wedge, or say which it is";
            Invalid::new("club", name, "is not a club this system knows", remedy)
        })
    }

    fn trouble(&self, line: &Line, i: usize, why: Invalid) -> CellTrouble {
        let name = self.names.get(i).map_or("", String::as_str);
        CellTrouble::of(line.row, i + 1, name, why)
    }

    /// What an empty cell means.
    fn without(column: ColumnUse) -> Result<(), Invalid> {
        match column {
            ColumnUse::Number => {
                let problem = "is missing where other rows have the shot's number";
                let remedy = "number the shot, or leave the row out when it sums others up";
                Err(Invalid::new("number", "", problem, remedy))
            }
            ColumnUse::Date => Err(Invalid::missing("date", "give the day of the shot")),
            _ => Ok(()),
        }
    }

    fn take(&self, cell: &str, column: ColumnUse, row: &mut Taken) -> Result<(), Invalid> {
        if column == ColumnUse::Unused {
            return Ok(());
        }
        if cell.contains('\n') && column != ColumnUse::Block {
            let remedy = "close the quote that begins this cell, or take it out";
            return Err(Invalid::new(
                "cell",
                cell,
                "goes over several lines",
                remedy,
            ));
        }
        let odd = |c: char| unkeepable(c) && !matches!(c, '\n' | '\t');
        if let Some(odd) = cell.chars().find(|c| odd(*c)) {
            let problem = format!("has a character that is not kept, {}", odd.escape_unicode());
            return Err(Invalid::new("cell", cell, problem, "type plain text"));
        }
        let shot = &mut row.shot;
        match column {
            ColumnUse::Unused
            | ColumnUse::From { .. }
            | ColumnUse::Sides { .. }
            | ColumnUse::Units { .. }
            | ColumnUse::Player
            | ColumnUse::Shots { .. } => {}
            ColumnUse::Value { quantity, unit } => {
                let (si, from) = cells::value(quantity, unit, cell, self.layout.side_letters)?;
                let missing =
                    si == 0.0 && (self.layout.zero_is_missing || zero_is_nothing(quantity));
                if !missing {
                    shot.reading
                        .set(quantity, si, from.unwrap_or(self.layout.provenance));
                }
            }
            ColumnUse::Date => shot.when = dates::date(cell, self.layout.days())?,
            ColumnUse::Time => {
                let told = dates::time_of(cell).ok_or_else(|| {
                    Invalid::new(
                        "time",
                        cell,
                        "is not a time of day",
                        "write 10:15 or 10:15:30",
                    )
                })?;
                row.time = Some(told);
            }
            ColumnUse::Club => shot.club = Some(self.club(cell)?),
            ColumnUse::Number => {
                let plain = cell.trim_start_matches('#').trim();
                if plain.parse::<f64>().is_err() {
                    let problem = "is no number where other rows have the shot's";
                    let remedy = "number the shot, or leave the row out when it sums others up";
                    return Err(Invalid::new("number", cell, problem, remedy));
                }
            }
            ColumnUse::Block => shot.block = Some(cell.chars().take(100).collect()),
            ColumnUse::Standing => shot.set_aside |= cell == "set_aside",
            ColumnUse::LeftOut | ColumnUse::Counts => {
                let yes = cells::yes(cell).ok_or_else(|| {
                    let problem = "is neither yes nor no";
                    Invalid::new("mark", cell, problem, "write yes or no, or nothing")
                })?;
                shot.set_aside |= yes == (column == ColumnUse::LeftOut);
            }
            ColumnUse::Reason => shot.reason = Some(Reason::from_key("set_aside_reason", cell)?),
            ColumnUse::OurShot => {
                let id = Uuid::try_parse(cell).map_err(|_| {
                    Invalid::new(
                        "our_shot",
                        cell,
                        "is no identifier of a shot",
                        "leave the cell empty",
                    )
                })?;
                shot.ours = Some(id);
            }
            ColumnUse::Implement => row.swung.implement = text_within("implement", cell, 40)?,
            ColumnUse::SwingSide => {
                let side = cell.to_lowercase();
                row.swung.side = Some(SwingSide::from_key("swing_side", &side)?);
            }
            ColumnUse::Position => {
                row.swung.position = Some(text_within("position", &cell.to_lowercase(), 40)?);
            }
            ColumnUse::Effort => shot.effort_pct = Some(cells::effort(cell)?),
        }
        Ok(())
    }

    /// Gives a value the side that a cell of its own tells.
    fn set_side(&self, i: usize, cell: &str, reading: &mut Reading) -> Result<(), Invalid> {
        let Some(ColumnUse::Sides { quantity }) = self.layout.columns.get(i) else {
            return Ok(());
        };
        let Some(value) = reading.value(*quantity).filter(|value| value.si != 0.0) else {
            return Ok(());
        };
        let sign = cells::side(cell, true).filter(|sign| *sign != 0.0 && value.si > 0.0);
        let sign = sign.ok_or_else(|| {
            let problem = format!("tells no side of {}", quantity.label().to_lowercase());
            Invalid::new("side", cell, problem, "write left or right")
        })?;
        reading.set(*quantity, sign * value.si, value.from);
        Ok(())
    }

    fn set_provenance(&self, cells: &StringRecord, reading: &mut Reading) {
        for (cell, column) in cells.iter().zip(&self.layout.columns) {
            let ColumnUse::From { quantity } = column else {
                continue;
            };
            let from = match cell.trim() {
                "measured" => Provenance::Measured,
                "calculated" => Provenance::Calculated,
                "entered" => Provenance::Entered,
                _ => continue,
            };
            if let Some(si) = reading.get(*quantity) {
                reading.set(*quantity, si, from);
            }
        }
    }
}

/// What was taken from the cells of a row so far.
struct Taken {
    shot: ImportedShot,
    swung: Swung,
    time: Option<chrono::NaiveTime>,
}
