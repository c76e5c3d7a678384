//! Lines as devices write them, good and bad.

use super::*;
use proptest::prelude::*;
use tally_core::physics::club::Club;

const HELLO: &str = r#"{"type":"hello","version":1,"token":"s3cret","kind":"radar","run":"a","measures":["club_speed","ball_speed"],"calculates":["spin_rate"]}"#;

pub(super) fn hello() -> Hello {
    match parse(HELLO, None) {
        Ok(Line::Hello(hello)) => hello,
        other => panic!("{other:?}"),
    }
}

pub(super) fn refused(line: &str) -> (Option<i64>, Invalid) {
    parse(line, Some(&hello())).unwrap_err()
}

fn shot_with(values: &str) -> String {
    format!(r#"{{"type":"shot","sequence":7,"time":"2026-04-18T10:15:30Z","values":{values}}}"#)
}

#[test]
fn a_shot_comes_in_with_units_and_provenance() {
    let line = shot_with(
        r#"{"club_speed_mph":{"value":100,"from":"measured"},"spin_rate_rpm":{"value":2600,"from":"calculated"}}"#,
    );
    let Ok(Line::Shot(shot)) = parse(&line, Some(&hello())) else {
        panic!("refused");
    };
    assert_eq!(shot.sequence, 7);
    assert_eq!(shot.reading.get(Quantity::ClubSpeed), Some(44.704));
    assert_eq!(
        shot.reading.value(Quantity::SpinRate).unwrap().from,
        Provenance::Calculated
    );
}

#[test]
fn a_swing_tells_what_was_swung_and_is_written_as_it_is_read() {
    let swing = |told: &str| {
        shot_with(r#"{"club_speed_mph":{"value":112,"from":"measured"}}"#).replacen(
            "{",
            &format!("{{{told},"),
            1,
        )
    };
    let read = |line: &str| match parse(line, Some(&hello())) {
        Ok(Line::Shot(shot)) => shot,
        other => panic!("{other:?}"),
    };
    let told = read(&swing(
        r#""implement":"light","swing_side":"other","position":"kneeling""#,
    ));
    let swung = Swung {
        implement: "light".into(),
        side: Some(SwingSide::Other),
        position: Some("kneeling".into()),
    };
    assert_eq!(told.tags, Tags::swung(swung));
    assert_eq!(read(&write_shot(&told)), told);
    assert_eq!(read(&swing(r#""implement":null"#)).tags, Tags::default());
    for (bad, field) in [
        (r#""swing_side":"other""#, "swing_side"),
        (r#""position":"kneeling""#, "position"),
        (r#""implement":7"#, "implement"),
        (r#""implement":"light","swing_side":"left""#, "swing_side"),
    ] {
        assert_eq!(refused(&swing(bad)).1.field, field, "{bad}");
    }
    // A club as people write it; one that nobody knows is told back, and costs no shot.
    let with = read(&swing(r#""club":"7 iron","block":"Stock""#));
    assert_eq!(with.tags.club, club_of("7i"));
    assert_eq!(with.tags.block.as_deref(), Some("Stock"));
    let odd = read(&swing(r#""club":"my old one""#));
    assert_eq!(
        (odd.tags.club, &odd.unread["club"]),
        (None, &"my old one".into())
    );
    assert_eq!(refused(&swing(r#""block":7"#)).1.field, "block");
    let long = format!(r#""implement":"{}""#, "x".repeat(41));
    assert_eq!(refused(&swing(&long)).1.field, "implement");
}

#[test]
fn each_bad_line_is_refused_by_its_field() {
    for (line, field) in [
        ("not json".to_owned(), "line"),
        ("[1,2]".to_owned(), "line"),
        ("{}".to_owned(), "type"),
        (r#"{"type":"goodbye"}"#.to_owned(), "type"),
        (HELLO.replace("\"version\":1", "\"version\":9"), "version"),
        (HELLO.replace("radar", "abacus"), "kind"),
        (HELLO.replace("\"token\":\"s3cret\",", ""), "token"),
        (
            HELLO.replace("\"run\"", "\"time\":\"noon\",\"run\""),
            "time",
        ),
        (HELLO.replace("\"run\":\"a\",", ""), "run"),
        (
            HELLO.replace("[\"club_speed\",\"ball_speed\"]", "7"),
            "measures",
        ),
        (
            shot_with(r#"{"spin_loft_deg":{"value":12,"from":"measured"}}"#),
            "values",
        ),
        (shot_with("{}"), "values"),
        (
            shot_with(r#"{"club_speed_mph":{"value":"fast","from":"measured"}}"#),
            "club_speed_mph",
        ),
        (
            shot_with(r#"{"club_speed_mph":{"value":-80,"from":"measured"}}"#),
            "club_speed_mph",
        ),
        (
            shot_with(r#"{"club_speed_yd":{"value":80,"from":"measured"}}"#),
            "club_speed_yd",
        ),
        (
            shot_with(r#"{"club_speed_mph":{"value":80}}"#),
            "club_speed_mph",
        ),
        (
            shot_with(r#"{"carry_yd":{"value":80,"from":"measured"}}"#),
            "carry_yd",
        ),
        (
            shot_with(r#"{"club_speed_mph":{"value":NaN,"from":"measured"}}"#),
            "line",
        ),
        (shot_with("{}").replace("\"sequence\":7,", ""), "sequence"),
        (
            shot_with("{}").replace("2026-04-18T10:15:30Z", "ten past"),
            "time",
        ),
    ] {
        assert_eq!(refused(&line).1.field, field, "{line}");
    }
}

#[test]
fn what_is_new_is_kept_apart_and_told() {
    let hello = HELLO
        .replace("[\"club_speed\",", "[\"club_speed\",\"spin_loft\",")
        .replace("\"run\"", "\"firmware\":\"9.1\",\"run\"");
    let Ok(Line::Hello(hello)) = parse(&hello, None) else {
        panic!("refused");
    };
    assert_eq!(hello.unread, ["spin_loft", "firmware"]);
    let line = shot_with(
        r#"{"club_speed_mph":{"value":100,"from":"measured"},"spin_loft_deg":{"value":12.5,"from":"measured"}}"#,
    )
    .replacen('{', "{\"battery_pct\":71,", 1);
    let Ok(Line::Shot(shot)) = parse(&line, Some(&hello)) else {
        panic!("refused");
    };
    assert_eq!(shot.reading.0.len(), 1);
    let told: Vec<&String> = shot.unread.keys().collect();
    assert_eq!(told, ["battery_pct", "spin_loft_deg"]);
    assert_eq!(shot.unread["spin_loft_deg"]["value"], 12.5);
    assert_eq!(parse(r#"{"type":"ping"}"#, None), Ok(Line::Ping));
}

#[test]
fn a_refused_shot_still_tells_its_number() {
    let (sequence, _) = refused(&shot_with("{}"));
    assert_eq!(sequence, Some(7));
}

#[test]
fn a_shot_before_hello_is_told_to_say_hello() {
    let (_, why) = parse(&shot_with("{}"), None).unwrap_err();
    assert_eq!(why.remedy, "say hello first");
}

#[test]
fn what_is_written_is_read_back_the_same() {
    let hello = hello();
    let mut reading = Reading::default();
    reading.set(Quantity::BallSpeed, 61.25, Provenance::Measured);
    let shot = ShotLine {
        sequence: 3,
        time: "2026-04-18T10:15:30.250Z".parse().unwrap(),
        tags: Tags {
            club: Some(Club::Driver),
            block: Some("Stock".into()),
            ..Tags::default()
        },
        reading,
        unread: Map::new(),
    };
    assert_eq!(
        parse(&write_hello(&hello), None),
        Ok(Line::Hello(hello.clone()))
    );
    assert_eq!(
        parse(&write_shot(&shot), Some(&hello)),
        Ok(Line::Shot(shot))
    );
}

proptest! {
    #[test]
    fn no_line_whatever_makes_it_panic(line in ".{0,200}") {
        let _ = parse(&line, Some(&hello()));
    }
}

#[test]
fn the_document_tells_every_quantity_with_its_units_and_range() {
    let document = include_str!("../../../../docs/formats.md");
    let rows: Vec<String> = Quantity::all().map(row).collect();
    let missing: Vec<&String> = rows
        .iter()
        .filter(|row| !document.contains(&format!("{row}\n")))
        .collect();
    assert!(missing.is_empty(), "docs/formats.md lacks {missing:#?}");
}

/// How the document tells of a quantity.
fn row(quantity: Quantity) -> String {
    let units = quantity.dimension().accepted();
    let suffix = |unit: &tally_core::vocabulary::units::Unit| match unit.suffix() {
        "" => "none".to_owned(),
        suffix => format!("`_{suffix}`"),
    };
    let suffixes: Vec<String> = units.iter().map(suffix).collect();
    let range = quantity.range();
    let bound = |si: f64| {
        let shown = units[0].from_internal(si);
        ((shown * 100.0).round() / 100.0).to_string()
    };
    format!(
        "| `{}` | {} | {} to {} |",
        quantity.key(),
        suffixes.join(", "),
        bound(*range.start()),
        bound(*range.end())
    )
}
