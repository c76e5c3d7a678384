//! What the columns of an archive may hold: the rules that the API keeps to, for rows that
//! come in from a file.
//!
//! A test holds the list against the database's own catalogue.

use crate::base::packed_trace::written_trace;
use crate::base::tables::Table;
use serde::de::DeserializeOwned;
use serde_json::{Map, Value};
use std::ops::RangeInclusive;
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::club::Club;
use tally_core::physics::turf::Surface;
use tally_core::record::benchmark::{BenchmarkFigure, BenchmarkSetting};
use tally_core::record::reference_levels::{self, ReferenceLevel};
use tally_core::report::page::Page;
use tally_core::school::access::Role;
use tally_core::school::player_facts::{HEIGHT_M, MASS_KG};
use tally_core::session::acts::SessionAct;
use tally_core::session::notes;
use tally_core::session::plan::{self, PlannedBlock};
use tally_core::session::purpose::Purpose;
use tally_core::session::warm_up::{self, Movement};
use tally_core::shots::device::DeviceKind;
use tally_core::shots::mark::{MarkKind, Reason};
use tally_core::shots::reading::{Offsets, Reading};
use tally_core::training::implement::ImplementKind;
use tally_core::training::programme::{Programme, ProgrammeAct};
use tally_core::training::protocol::Protocol;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::characters::unkeepable;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment;
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::text::{lines_within, own_path, text_within};
use tally_core::vocabulary::zone::zone;
use uuid::Uuid;

/// One column.
pub struct Column {
    /// Its name.
    pub name: &'static str,
    holds: Holds,
    /// Whether it may hold nothing.
    pub empty: bool,
}

/// What a column holds.
enum Holds {
    Id,
    Flag,
    Moment,
    Day,
    Whole(RangeInclusive<i64>),
    Number(RangeInclusive<f64>),
    /// A text that this accepts.
    Text(fn(&str, &str) -> Result<(), Invalid>),
    /// A document that this accepts.
    Json(fn(&str, &Value) -> Result<(), Invalid>),
}

const fn column(name: &'static str, holds: Holds) -> Column {
    Column {
        name,
        holds,
        empty: false,
    }
}

const fn id(name: &'static str) -> Column {
    column(name, Holds::Id)
}

const fn at(name: &'static str) -> Column {
    column(name, Holds::Moment)
}

const fn text(name: &'static str, rule: fn(&str, &str) -> Result<(), Invalid>) -> Column {
    column(name, Holds::Text(rule))
}

const fn number(name: &'static str, range: RangeInclusive<f64>) -> Column {
    column(name, Holds::Number(range))
}

const fn whole(name: &'static str, range: RangeInclusive<i64>) -> Column {
    column(name, Holds::Whole(range))
}

const fn json(name: &'static str, rule: fn(&str, &Value) -> Result<(), Invalid>) -> Column {
    column(name, Holds::Json(rule))
}

impl Column {
    /// The same that may hold nothing.
    const fn or_none(self) -> Column {
        Column {
            name: self.name,
            holds: self.holds,
            empty: true,
        }
    }

    fn check(&self, field: &str, value: &Value) -> Result<(), Invalid> {
        let other = |kind: &str| {
            let problem = format!("is not {kind}");
            Invalid::new(field, value, problem, "leave it as it was exported")
        };
        if value.is_null() {
            return if self.empty {
                Ok(())
            } else {
                Err(Invalid::missing(field, "leave it as it was exported"))
            };
        }
        let told = |kind: &str| value.as_str().ok_or_else(|| other(kind));
        match &self.holds {
            Holds::Id => {
                let id = told("an identifier")?.parse::<Uuid>();
                id.map(|_| ()).map_err(|_| other("an identifier"))
            }
            Holds::Flag => value
                .as_bool()
                .map(|_| ())
                .ok_or_else(|| other("true or false")),
            Holds::Moment => {
                let at = told("a moment")?.parse().map_err(|_| other("a moment"))?;
                moment::moment(field, at).map(|_| ())
            }
            Holds::Day => {
                let day = told("a day")?.parse().map_err(|_| other("a day"))?;
                moment::day(field, day).map(|_| ())
            }
            Holds::Whole(range) => match value.as_i64() {
                Some(number) if range.contains(&number) => Ok(()),
                _ => Err(other(&format!(
                    "a whole number from {} to {}",
                    range.start(),
                    range.end()
                ))),
            },
            Holds::Number(range) => {
                let number = value.as_f64().ok_or_else(|| other("a number"))?;
                within(field, number, range.clone(), "").map(|_| ())
            }
            Holds::Text(rule) => rule(field, told("a text")?),
            Holds::Json(rule) => rule(field, value),
        }
    }
}

fn name(field: &str, text: &str) -> Result<(), Invalid> {
    text_within(field, text, 300).map(|_| ())
}

fn name_or_none(field: &str, text: &str) -> Result<(), Invalid> {
    if text.is_empty() {
        Ok(())
    } else {
        name(field, text)
    }
}

fn words(field: &str, text: &str) -> Result<(), Invalid> {
    lines_within(field, text, 2000).map(|_| ())
}

fn words_or_none(field: &str, text: &str) -> Result<(), Invalid> {
    if text.is_empty() {
        Ok(())
    } else {
        words(field, text)
    }
}

fn path_or_none(field: &str, text: &str) -> Result<(), Invalid> {
    if text.is_empty() {
        return Ok(());
    }
    own_path(field, text, 4000).map(|_| ())
}

fn known_zone(field: &str, text: &str) -> Result<(), Invalid> {
    zone(field, text).map(|_| ())
}

fn keyed<T: Keyed>(field: &str, text: &str) -> Result<(), Invalid> {
    T::from_key(field, text).map(|_| ())
}

fn import_state(field: &str, text: &str) -> Result<(), Invalid> {
    const STATES: [&str; 8] = [
        "running",
        "cancelling",
        "done",
        "cancelled",
        "refused",
        "known",
        "failed",
        "undone",
    ];
    if STATES.contains(&text) {
        return Ok(());
    }
    Err(Invalid::new(
        field,
        text,
        "is no state of an import",
        "leave it as it was exported",
    ))
}

/// A document as core reads it.
fn read<T: DeserializeOwned>(field: &str, value: &Value) -> Result<T, Invalid> {
    if let Some(odd) = odd_text(value) {
        let problem = format!("has a character that is not kept, {}", odd.escape_unicode());
        return Err(Invalid::new(field, "", problem, "take it out"));
    }
    T::deserialize(value).map_err(|error| {
        let problem = format!("cannot be read ({error})");
        Invalid::new(field, value, problem, "leave it as it was exported")
    })
}

/// A character of some text of a document that cannot be kept.
fn odd_text(value: &Value) -> Option<char> {
    let odd = |text: &str| text.chars().find(|c| unkeepable(*c) && *c != '\n');
    match value {
        Value::String(text) => odd(text),
        Value::Array(items) => items.iter().find_map(odd_text),
        Value::Object(fields) => fields
            .iter()
            .find_map(|(name, value)| odd(name).or_else(|| odd_text(value))),
        _ => None,
    }
}

fn readable<T: DeserializeOwned>(field: &str, value: &Value) -> Result<(), Invalid> {
    read::<T>(field, value).map(|_| ())
}

fn block_plan(field: &str, value: &Value) -> Result<(), Invalid> {
    let told: PlannedBlock = read(field, value)?;
    // The balls of an import's block are what came, and none were planned.
    if told.balls == 0 {
        Ok(())
    } else {
        told.check(0)
    }
}

fn template(field: &str, value: &Value) -> Result<(), Invalid> {
    let blocks: Vec<PlannedBlock> = read(field, value)?;
    plan::check(&blocks).map_err(|mut errors| errors.swap_remove(0))
}

fn protocol(field: &str, value: &Value) -> Result<(), Invalid> {
    let told: Protocol = read(field, value)?;
    told.check().map_err(|mut errors| errors.swap_remove(0))
}

fn programme(field: &str, value: &Value) -> Result<(), Invalid> {
    let told: Programme = read(field, value)?;
    told.check().map_err(|mut errors| errors.swap_remove(0))
}

fn programme_act(field: &str, value: &Value) -> Result<(), Invalid> {
    read::<ProgrammeAct>(field, value)?.check()
}

fn tags(field: &str, value: &Value) -> Result<(), Invalid> {
    notes::tags(&read::<Vec<String>>(field, value)?).map(|_| ())
}

fn act(field: &str, value: &Value) -> Result<(), Invalid> {
    read::<SessionAct>(field, value)?.check()
}

/// The columns of an archive's table, without the school's.
pub fn columns(table: &Table) -> &'static [Column] {
    const WORLD: RangeInclusive<i64> = 0..=i64::MAX;
    static SCHOOL: [Column; 1] = [text("name", name)];
    static COACH: [Column; 4] = [
        id("id"),
        text("name", name),
        text("role", keyed::<Role>),
        at("left_at").or_none(),
    ];
    static PLAYER: [Column; 14] = [
        id("id"),
        text("name", name),
        whole("born", 1900..=2199).or_none(),
        column("left_handed", Holds::Flag),
        text("aim", words_or_none),
        at("created_at"),
        id("coach_id").or_none(),
        text("guardian", name_or_none),
        column("consent_on", Holds::Day).or_none(),
        number("height_m", HEIGHT_M).or_none(),
        number("mass_kg", MASS_KG).or_none(),
        text("level", keyed::<PlayingLevel>).or_none(),
        at("archived_at").or_none(),
        column("height_on", Holds::Day).or_none(),
    ];
    static TRACE: [Column; 2] = [id("shot_id"), text("packed", written_trace)];
    static PLAYER_GROUP: [Column; 3] = [id("id"), text("name", name), at("made_at")];
    static PLAYER_GROUP_MEMBER: [Column; 2] = [id("group_id"), id("player_id")];
    static PLAYER_SHARE: [Column; 3] = [id("player_id"), id("coach_id"), at("shared_at")];
    static BAG_CLUB: [Column; 10] = [
        id("id"),
        id("player_id"),
        text("club", keyed::<Club>),
        text("head", name_or_none),
        number("loft_deg", 0.0..=90.0).or_none(),
        number("length_m", 0.0..=3.0).or_none(),
        number("mass_kg", 0.0..=5.0).or_none(),
        text("flex", name_or_none),
        at("added_at"),
        at("left_at").or_none(),
    ];
    static TARGET_WINDOW: [Column; 7] = [
        id("player_id"),
        text("club", keyed::<Club>),
        number("launch_from_deg", -90.0..=90.0),
        number("launch_to_deg", -90.0..=90.0),
        number("spin_from_rpm", 0.0..=30_000.0),
        number("spin_to_rpm", 0.0..=30_000.0),
        at("saved_at"),
    ];
    static IMPORT: [Column; 16] = [
        id("id"),
        id("player_id"),
        id("coach_id"),
        text("file_name", name),
        whole("bytes", WORLD).or_none(),
        whole("bytes_done", WORLD),
        whole("rows_good", WORLD),
        whole("rows_bad", WORLD),
        text("state", import_state),
        text("message", words_or_none),
        json("header", readable::<Vec<String>>),
        at("started_at"),
        at("touched_at"),
        json("layout", readable::<serde_json::Map<String, Value>>).or_none(),
        json("remarks", readable::<Vec<String>>),
        whole("rows_known", WORLD),
    ];
    static SESSION: [Column; 22] = [
        id("id"),
        id("player_id"),
        text("purpose", keyed::<Purpose>),
        text("club", keyed::<Club>),
        text("place", name_or_none),
        number("altitude_m", -500.0..=9_000.0),
        number("temperature_c", -90.0..=60.0),
        number("humidity_pct", 0.0..=100.0),
        number("pressure_hpa", 200.0..=1_200.0).or_none(),
        at("started_at"),
        text("zone", known_zone),
        at("ended_at").or_none(),
        number("wind_mps", 0.0..=100.0).or_none(),
        number("wind_from_deg", -360.0..=720.0).or_none(),
        text("surface", keyed::<Surface>).or_none(),
        number("firmness", 0.0..=1.0).or_none(),
        text("ball", keyed::<BallKind>),
        id("bag_club_id").or_none(),
        id("import_id").or_none(),
        column("indoors", Holds::Flag).or_none(),
        text("note", words_or_none),
        json("tags", tags),
    ];
    static BLOCK: [Column; 6] = [
        id("id"),
        id("session_id"),
        whole("position", 0..=i32::MAX as i64),
        text("label", name),
        json("plan", block_plan).or_none(),
        at("begun_at").or_none(),
    ];
    static SESSION_ACT: [Column; 5] = [
        id("id"),
        id("session_id"),
        id("coach_id"),
        at("made_at"),
        json("act", act),
    ];
    static DEVICE: [Column; 11] = [
        id("id"),
        text("name", name),
        text("kind", keyed::<DeviceKind>),
        at("seen_at"),
        json("offsets", readable::<Offsets>),
        json("measures", readable::<Vec<Quantity>>),
        json("calculates", readable::<Vec<Quantity>>),
        id("session_id").or_none(),
        at("heard_at").or_none(),
        number("clock_ahead_s", -1e12..=1e12).or_none(),
        column("practice", Holds::Flag),
    ];
    static SHOT: [Column; 4] = [id("id"), id("session_id"), id("block_id"), at("hit_at")];
    static DECISION: [Column; 10] = [
        id("id"),
        id("player_id"),
        id("session_id").or_none(),
        id("coach_id"),
        text("words", words),
        text("verdict", words_or_none),
        text("address", path_or_none),
        column("recheck_on", Holds::Day).or_none(),
        at("decided_at"),
        at("done_at").or_none(),
    ];
    static COMPARISON: [Column; 6] = [
        id("player_id"),
        text("key", name),
        at("made_at"),
        json("told", readable::<Sentence>),
        number("p", 0.0..=1.0),
        column("undecided", Holds::Flag),
    ];
    static NEXT_CHOICE: [Column; 6] = [
        id("player_id"),
        text("item", name),
        id("coach_id"),
        column("pinned", Holds::Flag),
        text("reason", words_or_none),
        at("chosen_at"),
    ];
    static GOAL: [Column; 6] = [
        id("player_id"),
        text("club", keyed::<Club>),
        text("quantity", keyed::<Quantity>),
        number("value", -1e6..=1e6),
        column("by_day", Holds::Day).or_none(),
        at("set_at"),
    ];
    static BENCHMARK: [Column; 11] = [
        id("id"),
        id("player_id"),
        id("session_id").or_none(),
        id("coach_id"),
        text("name", name),
        text("club", keyed::<Club>),
        column("held_on", Holds::Day),
        at("made_at"),
        json("setting", readable::<BenchmarkSetting>),
        json("figures", readable::<Vec<BenchmarkFigure>>),
        at("dropped_at").or_none(),
    ];
    static PAGE: [Column; 6] = [
        id("id"),
        id("player_id"),
        id("session_id").or_none(),
        id("coach_id"),
        at("written_at"),
        json("body", readable::<Page>),
    ];
    static SHOT_ENTRY: [Column; 6] = [
        id("id"),
        id("shot_id"),
        id("coach_id"),
        at("entered_at"),
        text("quantity", keyed::<Quantity>),
        number("si", -1e6..=1e6).or_none(),
    ];
    static SHOT_MARK: [Column; 8] = [
        id("id"),
        id("shot_id"),
        id("coach_id").or_none(),
        at("made_at"),
        text("kind", keyed::<MarkKind>),
        text("reason", keyed::<Reason>).or_none(),
        text("note", words_or_none),
        whole("strike", 1..=9).or_none(),
    ];
    static READING: [Column; 8] = [
        id("id"),
        id("shot_id"),
        id("device_id"),
        text("run", name),
        whole("sequence", 1..=i64::MAX),
        at("received_at"),
        json("values", readable::<Reading>),
        json("unread", readable::<serde_json::Map<String, Value>>).or_none(),
    ];
    static PLAN_TEMPLATE: [Column; 5] = [
        id("id"),
        text("name", name),
        text("purpose", keyed::<Purpose>),
        json("blocks", template),
        at("saved_at"),
    ];
    static IMPLEMENT: [Column; 8] = [
        id("id"),
        id("player_id").or_none(),
        text("name", name),
        text("kind", keyed::<ImplementKind>),
        number("mass_kg", 0.05..=3.0).or_none(),
        number("length_m", 0.3..=1.5).or_none(),
        at("added_at"),
        at("left_at").or_none(),
    ];
    static PROTOCOL: [Column; 4] = [
        id("id"),
        json("body", protocol),
        at("saved_at"),
        at("dropped_at").or_none(),
    ];
    static PROGRAMME: [Column; 6] = [
        id("id"),
        id("player_id"),
        id("coach_id"),
        json("body", programme),
        at("made_at"),
        at("replaced_at").or_none(),
    ];
    static PROGRAMME_ACT: [Column; 6] = [
        id("id"),
        id("programme_id"),
        id("player_id"),
        id("coach_id"),
        at("made_at"),
        json("act", programme_act),
    ];
    static RUN: [Column; 6] = [
        id("session_id"),
        id("protocol_id"),
        whole("level", 0..=7),
        column("lighter", Holds::Flag),
        id("programme_id").or_none(),
        whole("place", 0..=i32::MAX as i64).or_none(),
    ];
    static HOUSE_RULE: [Column; 5] = [
        id("id"),
        id("coach_id"),
        text("key", name),
        // Checked with its key.
        json("value", readable::<Value>).or_none(),
        at("changed_at"),
    ];
    match table.name {
        "school" => &SCHOOL,
        "coach" => &COACH,
        "player" => &PLAYER,
        "player_share" => &PLAYER_SHARE,
        "bag_club" => &BAG_CLUB,
        "target_window" => &TARGET_WINDOW,
        "import" => &IMPORT,
        "session" => &SESSION,
        "block" => &BLOCK,
        "session_act" => &SESSION_ACT,
        "device" => &DEVICE,
        "shot" => &SHOT,
        "decision" => &DECISION,
        "comparison" => &COMPARISON,
        "goal" => &GOAL,
        "next_choice" => &NEXT_CHOICE,
        "benchmark" => &BENCHMARK,
        "page" => &PAGE,
        "shot_entry" => &SHOT_ENTRY,
        "shot_mark" => &SHOT_MARK,
        "reading" => &READING,
        "plan_template" => &PLAN_TEMPLATE,
        "implement" => &IMPLEMENT,
        "player_group" => &PLAYER_GROUP,
        "trace" => &TRACE,
        "player_group_member" => &PLAYER_GROUP_MEMBER,
        "protocol" => &PROTOCOL,
        "programme" => &PROGRAMME,
        "programme_act" => &PROGRAMME_ACT,
        "run" => &RUN,
        "house_rule" => &HOUSE_RULE,
        _ => &[],
    }
}

/// The warm-up list, which stands among the house rules.
pub const WARM_UP_LIST: &str = "warm_up_list";
/// The reference levels, which stand there too.
pub const REFERENCE_LEVELS: &str = "reference_levels";
/// What stands among the house rules and is no number.
pub const LISTS: [&str; 2] = [WARM_UP_LIST, REFERENCE_LEVELS];

/// Refuses a row of an archive's table that the API would not have let in: one of its
/// fields, or one that there is not.
///
/// # Errors
/// [`Invalid`] naming table, row and field.
pub fn check(table: &Table, row_number: usize, row: &Map<String, Value>) -> Result<(), Invalid> {
    let field = |name: &str| format!("{}[{row_number}].{name}", table.name);
    let columns = columns(table);
    for name in row.keys() {
        if !columns.iter().any(|column| column.name == name) {
            let problem = "is nothing that an archive holds";
            return Err(Invalid::new(field(name), "", problem, "take it out"));
        }
    }
    for column in columns {
        let value = row.get(column.name).unwrap_or(&Value::Null);
        column.check(&field(column.name), value)?;
    }
    if table.name == "house_rule" {
        let key = row.get("key").and_then(Value::as_str).unwrap_or_default();
        return house_rule(
            &field("value"),
            key,
            row.get("value").unwrap_or(&Value::Null),
        );
    }
    Ok(())
}

fn house_rule(field: &str, key: &str, value: &Value) -> Result<(), Invalid> {
    if key == WARM_UP_LIST {
        return match value {
            Value::Null => Ok(()),
            list => warm_up::check(&read::<Vec<Movement>>(field, list)?),
        };
    }
    if key == REFERENCE_LEVELS {
        return match value {
            Value::Null => Ok(()),
            list => reference_levels::check(&read::<Vec<ReferenceLevel>>(field, list)?)
                .map_err(|mut errors| errors.swap_remove(0)),
        };
    }
    let number = match value {
        Value::Null => None,
        value => Some(read::<f64>(field, value)?),
    };
    HouseRules::default().set(key, number)
}
