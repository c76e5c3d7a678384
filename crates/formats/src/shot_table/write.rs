//! Our own table of shots.

use super::formulas::as_text;
use chrono::{DateTime, Utc};
use csv::Writer;
use std::io::Write;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::Swung;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Units;
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
    /// Name of what measured it.
    pub device: String,
    /// Its values.
    pub reading: Reading,
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
    let quantities: Vec<_> = Quantity::all()
        .map(|q| (q, q.dimension().shown(units)))
        .collect();
    if header {
        let mut names = [
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
        ]
        .map(str::to_owned)
        .to_vec();
        for (quantity, unit) in &quantities {
            names.push(quantity.field(*unit));
            names.push(format!("{}_from", quantity.key()));
        }
        writer.write_record(&names)?;
    }
    for shot in shots {
        let mut row = vec![
            shot.player,
            shot.hit_at
                .to_rfc3339_opts(chrono::SecondsFormat::Millis, true),
            shot.club,
            shot.block,
            shot.standing.to_owned(),
            shot.reason.unwrap_or_default().to_owned(),
            shot.shot.to_string(),
            shot.device,
            shot.swung
                .as_ref()
                .map(|s| s.implement.clone())
                .unwrap_or_default(),
            shot.swung
                .as_ref()
                .and_then(|s| s.side)
                .map(|side| side.key().to_owned())
                .unwrap_or_default(),
            shot.swung.and_then(|s| s.position).unwrap_or_default(),
            shot.effort_pct
                .map(|pct| pct.to_string())
                .unwrap_or_default(),
        ];
        for (quantity, unit) in &quantities {
            match shot.reading.value(*quantity) {
                Some(value) => {
                    row.push(unit.from_internal(value.si).to_string());
                    row.push(
                        match value.from {
                            Provenance::Measured => "measured",
                            Provenance::Calculated => "calculated",
                            Provenance::Entered => "entered",
                        }
                        .to_owned(),
                    );
                }
                None => row.extend([String::new(), String::new()]),
            }
        }
        writer.write_record(row.iter().map(|cell| as_text(cell).into_owned()))?;
    }
    writer.flush()?;
    Ok(())
}
