//! Device line, version 1: newline-delimited JSON over TCP.
//!
//! A device says hello, then sends shots; each line is answered. See
//! `docs/formats.md` for an example session.

mod trace_line;
mod unread;

use crate::shot_table::club as club_of;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value as Json};
use std::collections::BTreeSet;
use tally_core::session::tags::Tags;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::{SwingSide, Swung};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::text::text_within;
use trace_line::parse_trace;
pub use trace_line::{TraceLine, write_trace};
use uuid::Uuid;

/// The problem of a line that the server could not store just then: it is to be sent again.
pub const NOT_NOW: &str = "could not be stored just now";

/// The version this module speaks.
pub const VERSION: u64 = 1;
/// Longest line accepted, bytes. A full shot takes about 1,500, a trace up to 200,000.
pub const LONGEST_LINE: usize = 262_144;
/// Longest device or run name, characters.
const LONGEST_NAME: usize = 100;
/// Longest name of an implement or a position, characters.
const LONGEST_TOLD: usize = 40;

/// The first line of a connection.
#[derive(Debug, Clone, PartialEq)]
pub struct Hello {
    /// Its secret, as the school gave it.
    pub token: String,
    /// Its own time, when it has a clock.
    pub time: Option<DateTime<Utc>>,
    /// Its kind.
    pub kind: DeviceKind,
    /// Name of this run of sequence numbers; a device that starts again at 1 begins
    /// a new run.
    pub run: String,
    /// The session to store under; absent: the one that is in progress.
    pub session: Option<Uuid>,
    /// Values it measures.
    pub measures: BTreeSet<Quantity>,
    /// Values it calculates.
    pub calculates: BTreeSet<Quantity>,
    /// Names in it that are not known.
    pub unread: Vec<String>,
}

/// One shot.
#[derive(Debug, Clone, PartialEq)]
pub struct ShotLine {
    /// Number of the shot within the run.
    pub sequence: i64,
    /// When it was hit.
    pub time: DateTime<Utc>,
    /// What it tells of where it belongs.
    pub tags: Tags,
    /// Its values.
    pub reading: Reading,
    /// What it told that is not known, kept apart.
    pub unread: Map<String, Json>,
}

/// A line from a device.
#[derive(Debug, Clone, PartialEq)]
pub enum Line {
    /// Who speaks.
    Hello(Hello),
    /// A shot.
    Shot(ShotLine),
    /// The trace of a shot that was told of before.
    Trace(TraceLine),
    /// Whether anybody is there.
    Ping,
}

/// A line to a device.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "snake_case")]
pub enum Answer {
    /// The hello is accepted; shots go to this session.
    Welcome {
        /// Version spoken.
        version: u64,
        /// Session that shots are stored under.
        session: Uuid,
        /// Names in the hello that are not known here.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        unread: Vec<String>,
    },
    /// Somebody is there.
    Pong,
    /// The shot is stored for good.
    Ack {
        /// Its number.
        sequence: i64,
        /// The shot's identifier.
        shot: Uuid,
        /// Whether it had been stored before.
        again: bool,
        /// Names in the line that are not known here; their values are kept apart.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        unread: Vec<String>,
    },
    /// The line was not used.
    Error {
        /// Number of the shot, where the line gave one.
        #[serde(skip_serializing_if = "Option::is_none")]
        sequence: Option<i64>,
        /// The field at fault.
        field: String,
        /// The value at fault.
        value: String,
        /// What is wrong with it.
        problem: String,
        /// What to do.
        remedy: String,
    },
}

impl Answer {
    /// The error line for a refused line.
    pub fn refuse(sequence: Option<i64>, why: Invalid) -> Self {
        Answer::Error {
            sequence,
            field: why.field,
            value: why.value,
            problem: why.problem,
            remedy: why.remedy,
        }
    }

    /// The line as sent, newline included.
    pub fn to_line(&self) -> String {
        let mut line = serde_json::to_string(self).expect("an answer is plain data");
        line.push('\n');
        line
    }
}

/// Reads one line. A shot is checked against `hello`, which must have come first.
///
/// # Errors
/// The shot's sequence number, when it can be read, and [`Invalid`] naming the field.
pub fn parse(line: &str, hello: Option<&Hello>) -> Result<Line, (Option<i64>, Invalid)> {
    let json: Json = serde_json::from_str(line).map_err(|e| {
        let refused = Invalid::new(
            "line",
            line,
            format!("is not JSON ({e})"),
            "send one JSON object per line",
        );
        (None, refused)
    })?;
    let Json::Object(object) = json else {
        let refused = Invalid::new(
            "line",
            line,
            "is not an object",
            "send one JSON object per line",
        );
        return Err((None, refused));
    };
    let sequence = object.get("sequence").and_then(Json::as_i64);
    parse_object(&object, hello).map_err(|refused| (sequence, refused))
}

fn parse_object(object: &Map<String, Json>, hello: Option<&Hello>) -> Result<Line, Invalid> {
    match text(object, "type", "give \"hello\" or \"shot\"")? {
        "hello" => parse_hello(object).map(Line::Hello),
        "shot" => {
            let hello = hello.ok_or_else(|| {
                Invalid::new("type", "shot", "came before any hello", "say hello first")
            })?;
            parse_shot(object, hello).map(Line::Shot)
        }
        "trace" => {
            hello.ok_or_else(|| {
                Invalid::new("type", "trace", "came before any hello", "say hello first")
            })?;
            parse_trace(object).map(Line::Trace)
        }
        "ping" => Ok(Line::Ping),
        other => Err(Invalid::new(
            "type",
            other,
            "is not a line of this version",
            "give \"hello\", \"shot\", \"trace\" or \"ping\"",
        )),
    }
}

fn parse_hello(object: &Map<String, Json>) -> Result<Hello, Invalid> {
    let version = object
        .get("version")
        .ok_or_else(|| Invalid::missing("version", format!("give {VERSION}")))?;
    if version.as_u64() != Some(VERSION) {
        return Err(Invalid::new(
            "version",
            version,
            "is not spoken here",
            format!("speak version {VERSION}"),
        ));
    }
    let token = text(
        object,
        "token",
        "give the secret that the school made for this device",
    )?;
    let kind = text(object, "kind", "give a kind such as \"radar\"")?;
    let own_time = match object.get("time") {
        None | Some(Json::Null) => None,
        Some(_) => Some(time(object, "give the device's own time")?),
    };
    let session = match object.get("session") {
        None | Some(Json::Null) => None,
        Some(given) => Some(given.as_str().and_then(|s| s.parse().ok()).ok_or_else(|| {
            Invalid::new(
                "session",
                given,
                "is not an identifier",
                "copy it from the session's address, or leave it out",
            )
        })?),
    };
    let (measures, mut unread) = quantities(object, "measures")?;
    let (calculates, others) = quantities(object, "calculates")?;
    unread.extend(others);
    unread.extend(
        unread::fields_of(object, "hello")
            .into_iter()
            .map(|(name, _)| name),
    );
    Ok(Hello {
        token: token.to_owned(),
        time: own_time,
        kind: DeviceKind::speaking("kind", kind)?,
        run: name(object, "run")?,
        session,
        measures,
        calculates,
        unread,
    })
}

fn sequence_of(object: &Map<String, Json>) -> Result<i64, Invalid> {
    let given = object
        .get("sequence")
        .ok_or_else(|| Invalid::missing("sequence", "number the shots of a run from 1"))?;
    given.as_i64().filter(|n| *n > 0).ok_or_else(|| {
        Invalid::new(
            "sequence",
            given,
            "is not a whole number from 1",
            "number the shots of a run from 1",
        )
    })
}

fn parse_shot(object: &Map<String, Json>, hello: &Hello) -> Result<ShotLine, Invalid> {
    let sequence = sequence_of(object)?;
    let time = time(object, "give the time of impact")?;
    let values = match object.get("values") {
        Some(Json::Object(values)) if !values.is_empty() => values,
        _ => {
            return Err(Invalid::missing(
                "values",
                "give an object such as {\"club_speed_mph\": {\"value\": 83.1, \"from\": \"measured\"}}",
            ));
        }
    };
    let mut reading = Reading::default();
    let mut apart = unread::fields_of(object, "shot");
    for (field, value) in values {
        if unread::is_new(field) {
            unread::keep(&mut apart, field, value);
            continue;
        }
        let (quantity, si, from) = parse_value(field, value, hello)?;
        if reading.value(quantity).is_some() {
            return Err(Invalid::new(
                field,
                value,
                "is given twice, in two units",
                "give it once",
            ));
        }
        reading.set(quantity, si, from);
    }
    if reading.0.is_empty() {
        let names = values.keys().cloned().collect::<Vec<_>>().join(", ");
        let remedy = "give one value at least that is known, such as club_speed_mph";
        return Err(Invalid::new("values", names, "are not known here", remedy));
    }
    let club = match object.get("club") {
        None | Some(Json::Null) => None,
        Some(told) => {
            let club = told.as_str().and_then(club_of);
            if club.is_none() {
                // No shot is lost for a word.
                unread::keep(&mut apart, "club", told);
            }
            club
        }
    };
    let block = match object.get("block") {
        None | Some(Json::Null) => None,
        Some(_) => {
            let told = text(object, "block", "name the block, or leave the field out")?;
            Some(text_within("block", told, LONGEST_TOLD)?)
        }
    };
    Ok(ShotLine {
        sequence,
        time,
        tags: Tags {
            swung: swung(object)?,
            club,
            block,
        },
        reading,
        unread: apart,
    })
}

/// What was swung without a ball: its side and position mean nothing without it.
fn swung(object: &Map<String, Json>) -> Result<Option<Swung>, Invalid> {
    const REMEDY: &str = "name what was swung, such as \"light\", or leave the field out";
    let told = |field: &str| match object.get(field) {
        None | Some(Json::Null) => Ok(None),
        Some(_) => text(object, field, REMEDY).map(Some),
    };
    let (side, position) = (told("swing_side")?, told("position")?);
    let Some(implement) = told("implement")? else {
        let stray = [("swing_side", side), ("position", position)];
        return match stray
            .into_iter()
            .find_map(|(field, told)| Some((field, told?)))
        {
            None => Ok(None),
            Some((field, told)) => {
                let remedy = "name the implement too, or leave this out";
                Err(Invalid::new(
                    field,
                    told,
                    "came without an implement",
                    remedy,
                ))
            }
        };
    };
    Ok(Some(Swung {
        implement: text_within("implement", implement, LONGEST_TOLD)?,
        side: side
            .map(|side| SwingSide::from_key("swing_side", side))
            .transpose()?,
        position: position
            .map(|stood| text_within("position", stood, LONGEST_TOLD))
            .transpose()?,
    }))
}

fn time(object: &Map<String, Json>, remedy: &str) -> Result<DateTime<Utc>, Invalid> {
    const EXAMPLE: &str = "2026-04-18T10:15:30.250Z";
    let given = text(object, "time", &format!("{remedy}, as {EXAMPLE}"))?;
    DateTime::parse_from_rfc3339(given)
        .map(|time| time.with_timezone(&Utc))
        .map_err(|_| {
            let remedy = format!("write it as {EXAMPLE}");
            Invalid::new("time", given, "is not an RFC 3339 time", remedy)
        })
}

fn parse_value(
    field: &str,
    value: &Json,
    hello: &Hello,
) -> Result<(Quantity, f64, Provenance), Invalid> {
    let (quantity, unit) = Quantity::from_field(field)?;
    let given = value.get("value").ok_or_else(|| {
        Invalid::new(
            field,
            value,
            "has no value",
            "give {\"value\": 83.1, \"from\": \"measured\"}",
        )
    })?;
    let number = given.as_f64().ok_or_else(|| {
        Invalid::new(
            field,
            given,
            "is not a number",
            "give a number, or leave the value out when there is none",
        )
    })?;
    let from = match value.get("from").and_then(Json::as_str) {
        Some("measured") if hello.measures.contains(&quantity) => Provenance::Measured,
        Some("calculated") if hello.calculates.contains(&quantity) => Provenance::Calculated,
        Some(from @ ("measured" | "calculated")) => {
            return Err(Invalid::new(
                field,
                from,
                "was not announced",
                format!(
                    "name \"{}\" in the hello's \"{}s\"",
                    quantity.key(),
                    from.trim_end_matches('d')
                ),
            ));
        }
        other => {
            return Err(Invalid::new(
                field,
                other.unwrap_or_default(),
                "has no provenance",
                "give \"from\": \"measured\" or \"calculated\"",
            ));
        }
    };
    Ok((quantity, quantity.accept(number, unit)?, from))
}

fn text<'a>(object: &'a Map<String, Json>, field: &str, remedy: &str) -> Result<&'a str, Invalid> {
    match object.get(field) {
        Some(Json::String(text)) if !text.trim().is_empty() => Ok(text),
        None | Some(Json::Null) => Err(Invalid::missing(field, remedy)),
        Some(other) => Err(Invalid::new(field, other, "is not a text", remedy)),
    }
}

fn name(object: &Map<String, Json>, field: &str) -> Result<String, Invalid> {
    let remedy = format!("give a name of up to {LONGEST_NAME} characters");
    text_within(field, text(object, field, &remedy)?, LONGEST_NAME)
}

fn quantities(
    object: &Map<String, Json>,
    field: &str,
) -> Result<(BTreeSet<Quantity>, Vec<String>), Invalid> {
    match object.get(field) {
        None => Ok((BTreeSet::new(), Vec::new())),
        Some(Json::Array(list)) => Ok(unread::known_of(list)),
        Some(other) => {
            let remedy = "give a list such as [\"club_speed\"]";
            Err(Invalid::new(field, other, "is not a list", remedy))
        }
    }
}

/// Writes the hello line, newline included.
pub fn write_hello(hello: &Hello) -> String {
    let keys = |set: &BTreeSet<Quantity>| -> Json { set.iter().map(|q| q.key()).collect() };
    let mut line = serde_json::json!({
        "type": "hello",
        "version": VERSION,
        "token": hello.token,
        "kind": hello.kind,
        "run": hello.run,
        "measures": keys(&hello.measures),
        "calculates": keys(&hello.calculates),
    });
    if let Some(time) = hello.time {
        line["time"] = as_written(time).into();
    }
    if let Some(session) = hello.session {
        line["session"] = session.to_string().into();
    }
    format!("{line}\n")
}

fn as_written(time: DateTime<Utc>) -> String {
    time.to_rfc3339_opts(chrono::SecondsFormat::Millis, true)
}

/// Writes a shot line, newline included. Values go in their internal units.
pub fn write_shot(shot: &ShotLine) -> String {
    let values: Map<String, Json> = shot
        .reading
        .0
        .iter()
        .map(|(quantity, value)| {
            let unit = *quantity
                .dimension()
                .accepted()
                .iter()
                .find(|unit| unit.size() == 1.0)
                .unwrap_or(&quantity.dimension().accepted()[0]);
            let json =
                serde_json::json!({"value": unit.from_internal(value.si), "from": value.from});
            (quantity.field(unit), json)
        })
        .collect();
    let mut line = serde_json::json!({
        "type": "shot",
        "sequence": shot.sequence,
        "time": as_written(shot.time),
        "values": values,
    });
    let (swung, club) = (
        shot.tags.swung.as_ref(),
        shot.tags.club.map(|club| club.key()),
    );
    let side = swung.and_then(|swung| swung.side).map(|side| side.key());
    for (field, told) in [
        ("implement", swung.map(|swung| swung.implement.as_str())),
        ("swing_side", side),
        (
            "position",
            swung.and_then(|swung| swung.position.as_deref()),
        ),
        ("club", club),
        ("block", shot.tags.block.as_deref()),
    ] {
        if let Some(told) = told {
            line[field] = told.into();
        }
    }
    format!("{line}\n")
}

#[cfg(test)]
mod tests;
