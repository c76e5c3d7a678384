//! What a layout makes of a file: names, first cells, what is odd, and what is to be asked.

use super::clubs;
use super::grid::{Grid, Sort, Sorts};
use super::guess::filled;
use super::layout::{ColumnUse, Layout, Source};
use super::names::{Says, says};
use super::numbers::is_nothing;
use super::questions::{Question, questions};
use super::rows::{ReadRow, Rows};
use super::workbook::{is_workbook, sheets};
use chrono::NaiveDate;
use serde::Serialize;
use std::collections::BTreeMap;
use tally_core::vocabulary::characters::kept;
use tally_core::vocabulary::invalid::Invalid;
use utoipa::ToSchema;

/// Rows of the beginning that a header is chosen from.
const BEGINNING: usize = 12;

/// Rows of one player among the first of a file.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct PlayersRows {
    /// What the file calls the player.
    pub name: String,
    /// How many of the first rows are theirs.
    pub rows: usize,
}

/// What a layout makes of a file.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Looked {
    /// The layout.
    pub layout: Layout,
    /// The columns' names; "Column 3" where there is none.
    pub names: Vec<String>,
    /// The first cells of each column.
    pub samples: Vec<Vec<String>>,
    /// What is odd about it, in sentences.
    pub remarks: Vec<String>,
    /// What it does not tell.
    pub questions: Vec<Question>,
    /// Whose shots they are, where a column tells.
    pub players: Vec<PlayersRows>,
    /// The sheets of a workbook.
    pub sheets: Vec<String>,
    /// The first rows as they stand, for a header to be chosen from.
    pub beginning: Vec<Row>,
}

/// A row as it stands in the file.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Row {
    /// Its number.
    pub row: u64,
    /// Its cells.
    pub text: String,
}

/// Looks at a file by a layout.
///
/// # Errors
/// [`Invalid`] when the file is not what the layout says.
pub fn look(head: &[u8], layout: &Layout, today: NaiveDate) -> Result<Looked, Invalid> {
    looked_at(head, layout, today).map(|(looked, _)| looked)
}

/// The same, with the first rows as they will be stored; none by a layout that cannot be used.
///
/// # Errors
/// [`Invalid`] when the file is not what the layout says.
pub fn looked_at(
    head: &[u8],
    layout: &Layout,
    today: NaiveDate,
) -> Result<(Looked, Vec<ReadRow>), Invalid> {
    let grid = Grid::read(head, &layout.source, layout.across)?;
    let mut layout = layout.clone();
    // Of another shape than was guessed: what its columns hold is guessed anew.
    if layout.columns.is_empty() {
        layout = filled(layout, &grid, today)?;
    }
    let width = grid
        .header(&layout)
        .map_or(grid.width(), |line| line.cells.len());
    layout.columns.resize(width, ColumnUse::Unused);
    let names = grid.names(&layout);
    let rows = grid.shots(&layout);
    let told = |i: usize| {
        let cells = rows
            .iter()
            .filter_map(move |line| line.cells.get(i))
            .map(str::trim);
        cells.filter(|cell| !is_nothing(cell))
    };
    let mut players: BTreeMap<String, usize> = BTreeMap::new();
    if let Some(at) = layout.columns.iter().position(|c| *c == ColumnUse::Player) {
        for name in told(at) {
            *players.entry(kept(name)).or_default() += 1;
        }
    }
    let beginning = grid.lines.iter().take(BEGINNING);
    let sheets = names_of_sheets(head)?;
    let looked = Looked {
        samples: (0..width)
            .map(|i| told(i).take(3).map(kept).collect())
            .collect(),
        remarks: remarks(&grid, &layout, &names, &sheets),
        questions: questions(&grid, &layout, today),
        players: players
            .into_iter()
            .map(|(name, rows)| PlayersRows { name, rows })
            .collect(),
        sheets,
        beginning: beginning
            .map(|line| Row {
                row: line.row,
                text: kept(&line.cells.iter().collect::<Vec<_>>().join(" · ")),
            })
            .collect(),
        names,
        layout,
    };
    let rows = match looked.layout.check() {
        Ok(()) => Rows::held(grid.lines, looked.layout.clone()).all(),
        Err(_) => Vec::new(),
    };
    Ok((looked, rows))
}

/// Names of the sheets of a workbook; none of another file.
fn names_of_sheets(head: &[u8]) -> Result<Vec<String>, Invalid> {
    if !is_workbook(head) {
        return Ok(Vec::new());
    }
    let all = sheets(head, usize::MAX, 0)?;
    Ok(all.into_iter().map(|sheet| sheet.name).collect())
}

/// Whether headings over the names are part of them.
fn named_by_two(grid: &Grid, layout: &Layout) -> bool {
    grid.named(layout).as_ref() != grid.header(layout).map(|line| &line.cells)
}

fn remarks(grid: &Grid, layout: &Layout, names: &[String], sheets: &[String]) -> Vec<String> {
    let mut said = Vec::new();
    match &layout.source {
        Source::Text { encoding, .. } if encoding != "utf-8" => {
            said.push(format!("It is not UTF-8, so it is read as {encoding}."));
        }
        Source::Sheet { name } => {
            let others = sheets.iter().filter(|other| *other != name);
            let others: Vec<String> = others.map(|other| format!("“{other}”")).collect();
            said.push(match &others[..] {
                [] => format!("The sheet “{name}” is read."),
                [other] => format!(
                    "The sheet “{name}” is read and {other} is not: choose it below to bring it in too."
                ),
                [first, ..] => format!(
                    "The sheet “{name}” is read; {} others are not, {first} among them: choose each below to bring it in too.",
                    others.len()
                ),
            });
        }
        Source::Text { .. } | Source::Json => {}
    }
    if let Some(club) = layout.club_of_sheet().and_then(clubs::club) {
        let club = club.label().to_lowercase();
        said.push(format!(
            "Its shots were hit with the {club}, as it is named."
        ));
    }
    if layout.across {
        said.push("Each column is read as a shot, with its values below each other.".to_owned());
    }
    if layout.header_row == 0 {
        let why = "No row names the columns: say what each holds.";
        said.push(why.to_owned());
    } else if named_by_two(grid, layout) {
        said.push(format!(
            "Rows {} and {} name the columns together.",
            layout.header_row - 1,
            layout.header_row
        ));
    } else if layout.header_row > 1 {
        said.push(format!(
            "Row {} names the columns; what stands above it is not read.",
            layout.header_row
        ));
    }
    let sorts = Sorts::new(layout, grid.header(layout).map(|line| &line.cells));
    let header = grid.named(layout);
    let header = header.as_ref();
    let sums: Vec<u64> = grid
        .lines
        .iter()
        .filter(|line| line.row > layout.header_row && sorts.of(&line.cells) == Sort::Summary)
        .map(|line| line.row)
        .collect();
    match sums[..] {
        [] => {}
        [one] => said.push(format!("Row {one} sums others up and is no shot.")),
        [first, ..] => said.push(format!(
            "{} rows sum others up and are no shots, the first of them row {first}.",
            sums.len()
        )),
    }
    let units = grid.units(layout).map(|line| &line.cells);
    for (i, column) in layout.columns.iter().enumerate() {
        let name = header.and_then(|cells| cells.get(i)).unwrap_or("");
        let why = says(name, units.and_then(|cells| cells.get(i)));
        if let (ColumnUse::Shots { .. }, Some(club)) = (column, clubs::begun_with(&names[i])) {
            let club = club.label().to_lowercase();
            said.push(format!("Shots of “{}” were hit with the {club}.", names[i]));
        }
        if let ColumnUse::Units { quantity } = column {
            let label = quantity.label().to_lowercase();
            said.push(format!(
                "“{}” tells the unit of {label} in each row.",
                names[i]
            ));
        }
        if let (ColumnUse::Unused, Says::Refused(why)) = (column, why) {
            said.push(format!("“{}” is not used: {why}.", names[i]));
        }
        if let (ColumnUse::Value { quantity, unit }, Says::WithoutUnit(_)) =
            (column, says(name, units.and_then(|cells| cells.get(i))))
            && layout.units_of(*quantity).is_none()
        {
            let label = quantity.label().to_lowercase();
            said.push(format!(
                "“{}” is taken as {label} in {}.",
                names[i],
                unit.symbol()
            ));
        }
    }
    let unused: Vec<String> = layout
        .columns
        .iter()
        .zip(names)
        .filter(|(column, _)| **column == ColumnUse::Unused)
        .map(|(_, name)| format!("“{name}”"))
        .collect();
    if !unused.is_empty() && unused.len() < layout.columns.len() {
        let more = unused.len().saturating_sub(8);
        let shown = unused
            .iter()
            .take(8)
            .cloned()
            .collect::<Vec<_>>()
            .join(", ");
        let more = if more > 0 {
            format!(" and {more} more")
        } else {
            String::new()
        };
        said.push(format!("Not used: {shown}{more}."));
    }
    said
}
