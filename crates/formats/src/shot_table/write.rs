//! Our own table of shots.

use super::formulas::as_text;
use chrono::{DateTime, SecondsFormat, Utc};
use csv::Writer;
use std::io::Write;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::Swung;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Unit, Units};
use uuid::Uuid;

/// A shot to write.
#[derive(Debug, Clone, PartialEq)]
pub struct OutShot {
    /// The player's name.
    pub player: String,
    /// When it was hit.
    pub hit_at: DateTime<Utc>,
    /// Key of the club; empty where an implement was swung.
    pub club: String,
    /// What was swung without a ball.
    pub swung: Option<Swung>,
    /// Effort felt that its block asked for, %.
    pub effort_pct: Option<u32>,
    /// Label of its block.
    pub block: String,
    /// How it stands: `kept`, `set_aside` or `doubtful`.
    pub standing: &'static str,
    /// Key of why it was set aside.
    pub reason: Option<&'static str>,
    /// Its identifier, by which it is known when it comes back.
    pub shot: Uuid,
    /// The session that it was hit in.
    pub session: Uuid,
    /// Name of what measured it.
    pub device: String,
    /// Its values.
    pub reading: Reading,
}

/// What stands in a row at a column.
pub(super) enum Cell {
    /// Nothing.
    Empty,
    /// A text.
    Text(String),
    /// A number.
    Number(f64),
}

impl Cell {
    fn text(text: impl Into<String>) -> Cell {
        match text.into() {
            text if text.is_empty() => Cell::Empty,
            text => Cell::Text(text),
        }
    }
}

/// Names of the columns before the values.
const FIRST: [&str; 12] = [
    "player",
    "hit_at",
    "club",
    "block",
    "standing",
    "set_aside_reason",
    "our_shot",
    "device",
    "implement",
    "swing_side",
    "position",
    "effort_pct",
];

/// The columns of our table in some units: names, and what stands under them.
pub(super) struct Columns(Vec<(Quantity, Unit)>);

impl Columns {
    pub(super) fn of(units: Units) -> Columns {
        Columns(
            Quantity::all()
                .map(|q| (q, q.dimension().shown(units)))
                .collect(),
        )
    }

    /// The names: one for each value with its unit, and one for how it came about.
    pub(super) fn names(&self) -> Vec<String> {
        let values = self.0.iter().flat_map(|(quantity, unit)| {
            [quantity.field(*unit), format!("{}_from", quantity.key())]
        });
        FIRST.map(str::to_owned).into_iter().chain(values).collect()
    }

    /// How many columns hold texts before the values begin, but for the effort.
    pub(super) fn is_number(&self, column: usize) -> bool {
        match column.checked_sub(FIRST.len()) {
            None => FIRST[column] == "effort_pct",
            Some(value) => value % 2 == 0,
        }
    }

    pub(super) fn row(&self, shot: OutShot) -> Vec<Cell> {
        let swung = shot.swung.as_ref();
        let side = swung.and_then(|s| s.side).map(|side| side.key());
        let at = shot.hit_at.to_rfc3339_opts(SecondsFormat::Millis, true);
        let mut row = vec![
            Cell::text(shot.player),
            Cell::text(at),
            Cell::text(shot.club),
            Cell::text(shot.block),
            Cell::text(shot.standing),
            Cell::text(shot.reason.unwrap_or_default()),
            Cell::text(shot.shot.to_string()),
            Cell::text(shot.device),
            Cell::text(swung.map_or("", |s| &s.implement)),
            Cell::text(side.unwrap_or_default()),
            Cell::text(
                swung
                    .and_then(|s| s.position.as_deref())
                    .unwrap_or_default(),
            ),
            shot.effort_pct
                .map_or(Cell::Empty, |pct| Cell::Number(pct.into())),
        ];
        for (quantity, unit) in &self.0 {
            row.extend(match shot.reading.value(*quantity) {
                Some(value) => [
                    Cell::Number(unit.from_internal(value.si)),
                    Cell::text(match value.from {
                        Provenance::Measured => "measured",
                        Provenance::Calculated => "calculated",
                        Provenance::Entered => "entered",
                    }),
                ],
                None => [Cell::Empty, Cell::Empty],
            });
        }
        row
    }
}

/// Writes shots in the coach's units: one column for each value, named with its unit,
/// and one for how it came about.
///
/// # Errors
/// When `out` cannot be written.
pub fn write_shots(
    out: impl Write,
    shots: impl IntoIterator<Item = OutShot>,
    units: Units,
    header: bool,
) -> Result<(), csv::Error> {
    let mut writer = Writer::from_writer(out);
    let columns = Columns::of(units);
    if header {
        writer.write_record(columns.names())?;
    }
    for shot in shots {
        writer.write_record(columns.row(shot).iter().map(|cell| match cell {
            Cell::Empty => String::new(),
            Cell::Text(text) => as_text(text).into_owned(),
            Cell::Number(number) => number.to_string(),
        }))?;
    }
    writer.flush()?;
    Ok(())
}
