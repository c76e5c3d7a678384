//! Tables as people bring them.

use super::*;
use chrono::NaiveDate;
use proptest::prelude::*;
use tally_core::shots::reading::Provenance;
use tally_core::shots::swung::SwingSide;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{MPH, Unit, Units, YARD};

/// The day on which files are looked at.
fn today() -> NaiveDate {
    "2026-11-27".parse().unwrap()
}

fn guessed(text: &[u8]) -> Looked {
    look(text, &guess(text, today()).unwrap(), today()).unwrap()
}

/// What is asked of a file as it comes.
fn asked(text: &[u8]) -> Vec<String> {
    guessed(text)
        .questions
        .into_iter()
        .filter(|q| q.open)
        .map(|q| q.key)
        .collect()
}

fn read(layout: Layout, text: &[u8]) -> Vec<Result<ImportedShot, Vec<CellTrouble>>> {
    let mut rows = Rows::open(text, layout).unwrap();
    let mut found = Vec::new();
    while let Some(row) = rows.next_row() {
        found.push(row.unwrap().shot.map_err(|bad| bad.troubles));
    }
    found
}

fn as_guessed(text: &[u8]) -> Vec<Result<ImportedShot, Vec<CellTrouble>>> {
    read(guess(text, today()).unwrap(), text)
}

fn good(text: &[u8]) -> Vec<ImportedShot> {
    as_guessed(text).into_iter().map(Result::unwrap).collect()
}

fn mph(shot: &ImportedShot) -> f64 {
    shot.reading.get(Quantity::ClubSpeed).unwrap() / MPH
}

fn yards_of(shot: &ImportedShot) -> f64 {
    shot.reading.get(Quantity::Carry).unwrap() / YARD
}

fn near(value: f64, wanted: f64) -> bool {
    (value - wanted).abs() < 1e-9
}

#[test]
fn the_sample_that_is_offered_comes_in_whole() {
    let text = include_bytes!("../../../../web/public/sample-shots.csv");
    let guessed = guessed(text);
    let unused = |column: &ColumnUse| *column == ColumnUse::Unused;
    assert!(!guessed.layout.columns.iter().any(unused), "{guessed:?}");
    assert_eq!(guessed.remarks, Vec::<String>::new());
    assert_eq!(guessed.questions, []);
    let shots = good(text);
    assert_eq!(shots.len(), 7);
    assert!(near(mph(&shots[6]), 101.5) && near(yards_of(&shots[6]), 253.0));
}

#[test]
fn columns_are_known_by_many_names_and_their_units() {
    let text = "Date,Club Type,Club Speed (mph),BallSpeed [mph],Launch Angle,Spin Rate,Carry Distance (yd),Weather\n\
                2026-04-18 10:15,7i,82.4,118.0,16.2,6900,165,fine\n";
    let guessed = guessed(text.as_bytes());
    let value = ColumnUse::value;
    assert_eq!(
        guessed.layout.columns,
        [
            ColumnUse::Date,
            ColumnUse::Club,
            value(Quantity::ClubSpeed, Unit::Mph),
            value(Quantity::BallSpeed, Unit::Mph),
            value(Quantity::LaunchAngle, Unit::Deg),
            value(Quantity::SpinRate, Unit::Rpm),
            value(Quantity::Carry, Unit::Yd),
            ColumnUse::Unused,
        ]
    );
    let shot = &good(text.as_bytes())[0];
    assert_eq!(shot.club, Some(Club::Iron7));
    assert!(near(mph(shot), 82.4) && near(yards_of(shot), 165.0));
}

#[test]
fn headings_over_the_names_are_part_of_them() {
    let text = "Club,,Ball,,,Flight\n\
                Speed (mph),Path (deg),Speed (mph),Launch (deg),Spin (rpm),Carry (yd)\n\
                92.1,2.1,135.2,12.1,2500,221\n\
                Speed (mph),Path (deg),Speed (mph),Launch (deg),Spin (rpm),Carry (yd)\n\
                93.1,1.1,136.2,11.1,2600,223\n";
    let looked = guessed(text.as_bytes());
    let value = ColumnUse::value;
    assert_eq!(
        looked.layout.columns,
        [
            value(Quantity::ClubSpeed, Unit::Mph),
            value(Quantity::ClubPath, Unit::Deg),
            value(Quantity::BallSpeed, Unit::Mph),
            value(Quantity::LaunchAngle, Unit::Deg),
            value(Quantity::SpinRate, Unit::Rpm),
            value(Quantity::Carry, Unit::Yd),
        ]
    );
    assert_eq!(looked.names[2], "Ball Speed (mph)");
    assert_eq!(looked.remarks, ["Rows 1 and 2 name the columns together."]);
    let shots = good(text.as_bytes());
    assert_eq!(shots.len(), 2);
    assert!(near(mph(&shots[1]), 93.1) && near(yards_of(&shots[1]), 223.0));
    // What was meant is not what was done, and a title is no heading.
    let aimed = "Target,,Shot,,\nCarry (yd),Speed (mph),Carry (yd),Ball Speed (mph),Direction\n150,80,147,110,1\n";
    let columns = guessed(aimed.as_bytes()).layout.columns;
    assert_eq!(columns[0], ColumnUse::Unused);
    assert_eq!(columns[2], value(Quantity::Carry, Unit::Yd));
    let titled = "Club night,\nSpeed (mph),Carry (yd)\n92.1,221\n93.1,223\n";
    let columns = guessed(titled.as_bytes()).layout.columns;
    assert_eq!(columns[0], ColumnUse::Unused);
}

#[test]
fn lines_drawn_between_rows_are_none_and_a_web_page_says_what_it_is() {
    let table = "| Club | Ball Speed (mph) | Carry (yd) |\n|---|---|---|\n| Driver | 136 | 231 |\n";
    assert_eq!(asked(table.as_bytes()), Vec::<String>::new());
    assert_eq!(good(table.as_bytes()).len(), 1);
    for page in [
        "<html><table><tr><td>",
        "\u{feff}\n<!DOCTYPE HTML><html>",
        "<TABLE border=1>",
    ] {
        let why = guess(page.as_bytes(), today()).unwrap_err().to_string();
        assert!(
            why.contains("web page") && why.contains("spreadsheet"),
            "{why}"
        );
    }
}

#[test]
fn speeds_that_hardly_anyone_swings_are_asked_about() {
    let text = "Club,Club Speed (mph),Ball Speed (mph),Carry (yd)\nDriver,148.2,219.1,231\nDriver,149.2,220.1,233\n";
    assert_eq!(asked(text.as_bytes()), ["believed"]);
}

#[test]
fn units_that_no_name_tells_are_asked_for_where_the_numbers_leave_doubt() {
    // A junior's 46 may be miles an hour, and a long hitter's metres a second.
    assert_eq!(
        asked(b"club speed,block\n46.2,a\n47.0,a\n"),
        ["unit:speeds"]
    );
    // With a carry beside it, it can be but one; yards and metres stay apart by too little.
    let metric = "club speed;ball speed;carry\n44,2;62,1;201,5\n45,0;63,0;204,0\n";
    let looked = guessed(metric.as_bytes());
    let unit = |i: usize| match looked.layout.columns[i] {
        ColumnUse::Value { unit, .. } => unit,
        other => panic!("{other:?}"),
    };
    assert_eq!([unit(0), unit(1), unit(2)], [Unit::Mps, Unit::Mps, Unit::M]);
    assert_eq!(asked(metric.as_bytes()), ["unit:distances"]);
    assert!(
        looked
            .remarks
            .iter()
            .any(|r| r.contains("taken as ball speed in m/s")),
        "{:?}",
        looked.remarks
    );
    // The answer is a change to the layout, and the question stays to be seen.
    let question = &looked.questions[0];
    let yards = question.choices.iter().find(|c| c.label == "yd").unwrap();
    let mut layout = serde_json::to_value(&looked.layout).unwrap();
    for (field, value) in &yards.change {
        layout[field] = value.clone();
    }
    layout["settled"] = serde_json::json!([question.key]);
    let layout: Layout = serde_json::from_value(layout).unwrap();
    let again = look(metric.as_bytes(), &layout, today()).unwrap();
    assert!(!again.questions[0].open);
    let chosen = again.questions[0].chosen.unwrap();
    assert_eq!(again.questions[0].choices[chosen].label, "yd");
    assert!(near(
        yards_of(&read(layout, metric.as_bytes())[0].clone().unwrap()),
        201.5
    ));
}

#[test]
fn an_empty_file_and_a_header_alone_say_so() {
    for (text, problem) in [
        ("", "is empty"),
        ("  \n \n", "is empty"),
        ("club speed,carry\n", "no rows"),
    ] {
        let refused = guess(text.as_bytes(), today()).unwrap_err();
        assert!(refused.problem.contains(problem), "{refused:?}");
        assert!(!refused.remedy.is_empty());
    }
}

#[test]
fn without_a_header_columns_are_numbered_and_the_coach_says_what_they_hold() {
    let text = b"92.1,251\n93.4,255\n";
    let guessed = guessed(text);
    assert_eq!(guessed.layout.header_row, 0);
    assert_eq!(guessed.names, ["Column 1", "Column 2"]);
    assert!(guessed.layout.check().is_err(), "nothing is mapped yet");
    let mut layout = guessed.layout;
    layout.columns[0] = ColumnUse::value(Quantity::ClubSpeed, Unit::Mph);
    layout.check().unwrap();
    assert_eq!(read(layout, text).len(), 2);
}

#[test]
fn of_two_columns_that_tell_the_same_a_person_says_which_counts() {
    let text = b"club speed (mph),carry (yd),carry (yd)\n92.1,251,249\n";
    let looked = guessed(text);
    assert_eq!(looked.layout.columns[2], ColumnUse::Unused);
    let [question] = &looked.questions[..] else {
        panic!("{:?}", looked.questions);
    };
    assert!(question.open && question.choices.len() == 2, "{question:?}");
    let mut both = looked.layout;
    both.columns[2] = both.columns[1];
    assert_eq!(both.check().unwrap_err().field, "columns[2]");
    // Where both say the same there is nothing to ask.
    assert_eq!(
        asked(b"club speed (mph),carry (yd),carry (yd)\n92.1,251,251\n"),
        [""; 0]
    );
}

#[test]
fn semicolons_decimal_commas_a_byte_order_mark_and_latin_1_are_read() {
    let german =
        "\u{feff}Datum;club speed (mph);carry (m);block\n18.04.2026;92,4;1.201,5;für später\n";
    let refused = as_guessed(german.as_bytes());
    // 1.201,5 is 1201.5 m: read as written, and refused as no golfer's carry.
    assert_eq!(refused[0].as_ref().unwrap_err()[0].name, "carry (m)");
    let fair = german.replace("1.201,5", "229,6");
    let shot = &good(fair.as_bytes())[0];
    assert!(near(mph(shot), 92.4));
    let latin: Vec<u8> = fair
        .trim_start_matches('\u{feff}')
        .chars()
        .map(|c| c as u8)
        .collect();
    let Source::Text { encoding, .. } = guess(&latin, today()).unwrap().source else {
        panic!("it is text");
    };
    assert_eq!(encoding, "windows-1252");
    assert_eq!(good(&latin)[0].block.as_deref(), Some("für später"));
}

#[test]
fn two_hundred_columns_are_read_and_a_thousand_refused() {
    let wide = |n: usize| {
        let names: Vec<_> = (0..n).map(|i| format!("extra {i}")).collect();
        format!(
            "club speed (mph),{}\n92.4{}\n",
            names.join(","),
            ",7".repeat(n)
        )
    };
    assert!(near(mph(&good(wide(200).as_bytes())[0]), 92.4));
    assert!(
        guess(wide(1000).as_bytes(), today())
            .unwrap_err()
            .problem
            .contains("too many")
    );
}

#[test]
fn a_quote_that_never_closes_is_named_and_does_not_fill_the_memory() {
    let mut text = String::from("club speed (mph),block\n92.4,\"fine\n");
    for _ in 0..200_000 {
        text.push_str("93.0,more\n");
    }
    let layout = guess(b"club speed (mph),block\n92.4,fine\n", today()).unwrap();
    let mut rows = Rows::open(text.as_bytes(), layout.clone()).unwrap();
    let told = rows.next_row().unwrap().unwrap_err().to_string();
    assert!(
        told.contains("row 2") && told.contains("quote is not closed"),
        "{told}"
    );
    assert!(rows.next_row().is_none());
    // In a small file the rest is one cell, which no number is.
    let small = b"block,club speed (mph)\nfine,\"92.4\nfine,93.0\n";
    let troubles = as_guessed(small)[0].clone().unwrap_err();
    assert!(
        troubles[0].remedy.contains("close the quote"),
        "{troubles:?}"
    );
}

#[test]
fn numbers_carry_their_own_units_mixed_or_not() {
    let text = b"club speed,carry,side\n92.4 mph,229.5 m,3.2 L\n41.3 m/s,251 yd,4 R\n148.7 km/h,\"1,0\",0\n";
    let rows = as_guessed(text);
    let first = rows[0].clone().unwrap();
    assert!(near(mph(&first), 92.4) && near(yards_of(&first) * YARD, 229.5));
    assert!(first.reading.get(Quantity::Side).unwrap() < 0.0);
    let second = rows[1].clone().unwrap();
    assert!((mph(&second) - 92.4).abs() < 0.1 && near(yards_of(&second), 251.0));
    assert!(second.reading.get(Quantity::Side).unwrap() > 0.0);
    let odd = as_guessed(b"club speed (mph),carry (yd)\n92.4 furlongs,250\n")[0]
        .clone()
        .unwrap_err();
    assert_eq!(
        (odd[0].row, odd[0].column, odd[0].value.as_str()),
        (2, 1, "92.4 furlongs")
    );
    assert!(odd[0].remedy.contains("mph"));
}

#[test]
fn dates_in_three_styles_are_the_same_day() {
    let day = chrono::NaiveDate::from_ymd_opt(2026, 4, 18).unwrap();
    for (date, second) in [
        ("2026-04-18", "2026-04-19"),
        ("18.04.2026", "19.04.2026"),
        ("04/18/2026", "04/19/2026"),
    ] {
        let text = format!("date,club speed (mph)\n{date},92\n{second},93\n");
        assert_eq!(good(text.as_bytes())[0].when, When::Day(day), "{date}");
    }
    let timed = good(b"date,time,club speed (mph)\n04/18/2026,3:07 PM,92\n");
    assert_eq!(
        timed[0].when,
        When::Local(day.and_hms_opt(15, 7, 0).unwrap())
    );
    let bad = as_guessed(b"date,club speed (mph)\n31.02.2026,92\n18.04.2026,93\n");
    assert!(
        bad[0].as_ref().unwrap_err()[0]
            .remedy
            .contains("2026-04-18")
    );
}

#[test]
fn every_fault_of_a_row_is_told_by_row_column_value_and_remedy() {
    let text = b"club,club speed (mph),carry (yd)\nspoon,fast,251\ndriver,900,251\ndriver,92\ndriver,,\ndriver,93,250\n";
    let rows = as_guessed(text);
    let faults = rows[0].clone().unwrap_err();
    assert_eq!(
        faults.iter().map(|f| (f.row, f.column)).collect::<Vec<_>>(),
        [(2, 1), (2, 2)]
    );
    assert_eq!(rows[1].clone().unwrap_err()[0].problem, "is out of range");
    assert!(
        rows[2].clone().unwrap_err()[0]
            .problem
            .contains("2 cells and the table has 3")
    );
    assert!(rows[3].clone().unwrap_err()[0].problem.contains("no value"));
    assert!(rows[4].is_ok());
}

#[test]
fn our_own_table_reads_back_as_it_was_in_every_unit() {
    let mut reading = Reading::default();
    reading.set(Quantity::ClubSpeed, 41.234_567, Provenance::Measured);
    reading.set(Quantity::SpinRate, 2612.0, Provenance::Calculated);
    reading.set(Quantity::Side, -3.25, Provenance::Entered);
    let out = OutShot {
        session: uuid::Uuid::nil(),
        player: "Wren, Aldous".into(),
        hit_at: "2026-04-18T10:15:30.250Z".parse().unwrap(),
        club: "iron7".into(),
        block: "Ball \"forward\"".into(),
        swung: Some(Swung {
            implement: "light".into(),
            side: Some(SwingSide::Other),
            position: Some("stepping".into()),
        }),
        effort_pct: Some(70),
        standing: "set_aside",
        reason: Some("mishit"),
        shot: "019da0ad-3880-7253-8895-e1e2164aa711".parse().unwrap(),
        device: "Deck radar".into(),
        reading: reading.clone(),
    };
    for units in [Units::MphYd, Units::KmhM, Units::MpsM] {
        let mut text = Vec::new();
        write_shots(&mut text, [out.clone()], units, true).unwrap();
        let back = &good(&text)[0];
        assert_eq!(back.when, When::At(out.hit_at));
        assert_eq!(
            (back.club, back.block.as_deref()),
            (Some(Club::Iron7), Some("Ball \"forward\""))
        );
        assert!(back.set_aside);
        assert_eq!(
            (back.reason, back.ours),
            (Some(Reason::Mishit), Some(out.shot))
        );
        assert_eq!((&back.swung, back.effort_pct), (&out.swung, Some(70)));
        for (quantity, value) in &reading.0 {
            let there = back.reading.value(*quantity).unwrap();
            assert!(
                (there.si - value.si).abs() < 1e-9 && there.from == value.from,
                "{quantity:?}"
            );
        }
    }
}

#[test]
fn efforts_open_blocks_of_their_own_and_words_of_effort_are_left_alone() {
    let told = "Club Speed (mph),Effort\n70,60 %\n71,60\n84,100\n";
    let shots = good(told.as_bytes());
    let efforts: Vec<_> = shots.iter().map(|shot| shot.effort_pct).collect();
    assert_eq!(efforts, [Some(60), Some(60), Some(100)]);
    let mut places =
        Places::new("UTC", "2026-04-20".parse().unwrap(), Club::Driver, false).unwrap();
    for shot in &shots {
        places.place(shot);
    }
    let blocks = places.new_blocks.iter();
    let labels: Vec<_> = blocks.map(|block| block.label.as_str()).collect();
    assert_eq!(labels, ["60 %", "100 %"]);
    let words = good(b"Club Speed (mph),Effort\n70,easy\n84,full\n");
    assert!(words.iter().all(|shot| shot.effort_pct.is_none()));
}

proptest! {
    #[test]
    fn nothing_that_is_brought_makes_it_fall_over(bytes in prop::collection::vec(any::<u8>(), 0..400)) {
        if let Ok(layout) = guess(&bytes, today()) {
            look(&bytes, &layout, today()).unwrap();
            let mut rows = Rows::open(bytes.as_slice(), layout).unwrap();
            while rows.next_row().is_some_and(|row| row.is_ok()) {}
        }
    }

    #[test]
    fn nothing_like_a_table_makes_it_fall_over(text in "([a-z ]{0,9}[,;\"\n][0-9.,\\-\"' ]{0,6}[,;\n]){0,30}") {
        if let Ok(layout) = guess(text.as_bytes(), today()) {
            look(text.as_bytes(), &layout, today()).unwrap();
            let mut rows = Rows::open(text.as_bytes(), layout).unwrap();
            while rows.next_row().is_some_and(|row| row.is_ok()) {}
        }
    }
}
