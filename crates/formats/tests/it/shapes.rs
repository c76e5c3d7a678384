//! Files of every shape that people bring: each goes in right by itself, or asks what it does
//! not tell, or is refused; none goes in wrong without a word.

use chrono::NaiveDate;
use tally_core::physics::club::Club;
use tally_core::vocabulary::quantity::Quantity as Q;
use tally_core::vocabulary::units::Unit as U;
use tally_formats::shot_table::{ColumnUse, ImportedShot, Layout, Rows, guess, look, remembered};

pub fn today() -> NaiveDate {
    "2026-11-27".parse().unwrap()
}

/// What is wanted of a file as it comes.
pub struct Wanted<'a> {
    /// Keys of what it asks.
    pub asks: &'a [&'a str],
    /// Shots and rows that are refused.
    pub rows: (usize, usize),
    /// Values of the first shot.
    pub first: &'a [(Q, U, f64)],
}

pub fn read(bytes: &[u8], layout: Layout) -> (Vec<ImportedShot>, usize) {
    let (mut good, mut bad) = (Vec::new(), 0);
    let mut rows = Rows::open(bytes, layout).unwrap();
    while let Some(row) = rows.next_row() {
        match row.unwrap().shot {
            Ok(shot) => good.push(shot),
            Err(_) => bad += 1,
        }
    }
    (good, bad)
}

/// Holds a file to what is wanted of it; its shots.
pub fn held(name: &str, bytes: &[u8], wanted: &Wanted<'_>) -> Vec<ImportedShot> {
    let layout = guess(bytes, today()).unwrap_or_else(|why| panic!("{name}: {why}"));
    let looked = look(bytes, &layout, today()).unwrap();
    let open = looked.questions.iter().filter(|q| q.open);
    let asked: Vec<&str> = open.map(|q| q.key.as_str()).collect();
    assert_eq!(asked, wanted.asks, "{name}: {:#?}", looked.questions);
    let (good, bad) = read(bytes, layout);
    assert_eq!(
        (good.len(), bad),
        wanted.rows,
        "{name}: {:?}",
        looked.layout.columns
    );
    for (quantity, unit, value) in wanted.first {
        let there = good[0]
            .reading
            .get(*quantity)
            .map(|si| unit.from_internal(si));
        let near = there.is_some_and(|there| (there - value).abs() < 1e-6);
        assert!(near, "{name}: {quantity:?} is {there:?} and not {value}");
    }
    let values = good.first().map_or(0, |shot| shot.reading.0.len());
    assert_eq!(values, wanted.first.len(), "{name}: {:?}", good.first());
    good
}

/// A file that goes in by itself: three shots of a 7-iron as told first.
pub fn right(name: &str, text: &str, first: &[(Q, U, f64)]) -> Vec<ImportedShot> {
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first,
    };
    held(name, text.as_bytes(), &wanted)
}

pub const SPEED: (Q, U, f64) = (Q::ClubSpeed, U::Mph, 82.4);
pub const CARRY: (Q, U, f64) = (Q::Carry, U::Yd, 165.2);

#[test]
fn titles_separators_units_below_and_sums_are_told_from_shots() {
    let usual: &[_] = &[SPEED, CARRY];
    for (name, text) in [
        (
            "plain",
            "Club Speed (mph),Carry (yd)\n82.4,165.2\n81,160\n83,166\n",
        ),
        (
            "titles",
            "Session report\nPlayer: Wren\n\nClub Speed (mph),Carry (yd)\n82.4,165.2\n81,160\n83,166\n",
        ),
        (
            "sep",
            "sep=;\nClub Speed (mph);Carry (yd)\n82,4;165,2\n81;160\n83;166\n",
        ),
        (
            "units below",
            "Club Speed,Carry\nmph,yd\n82.4,165.2\n81,160\n83,166\n",
        ),
        (
            "units below in brackets, beside a number",
            "#,Club Speed,Carry\n,[mph],[yd]\n1,82.4,165.2\n2,81,160\n3,83,166\n",
        ),
        (
            "units below, one of which nobody knows",
            "No,Club Speed,Carry,Face to Path,Tempo\n,mph,yd,deg,beats\n1,82.4,165.2,1,90\n2,81,160,2,91\n3,83,166,1,90\n",
        ),
        (
            "sums in other languages",
            "Nr;Club Speed (mph);Carry (yd)\n1;82,4;165,2\n2;81;160\n3;83;166\nStabw.;1;3\nGem.;82;163\nDesv.;1;3\n",
        ),
        (
            "units below in brackets",
            "Club Speed;Carry\n[mph];[yd]\n82,4;165,2\n81,0;160,0\n83,0;166,0\n",
        ),
        (
            "average at the end",
            "Shot,Club Speed (mph),Carry (yd)\n1,82.4,165.2\n2,81,160\n3,83,166\nAverage,82.1,163.7\nStd. Dev.,1,3\n",
        ),
        (
            "sums within",
            "Club,Club Speed (mph),Carry (yd)\n7i,82.4,165.2\n7i,81,160\nAvg,81.7,162.6\n7i,83,166\nMean of 1,83,166\n",
        ),
        (
            "header again",
            "Club Speed (mph),Carry (yd)\n82.4,165.2\n\nClub Speed (mph),Carry (yd)\n81,160\n83,166\n",
        ),
        (
            "blank rows",
            "\n\nClub Speed (mph),Carry (yd)\n\n82.4,165.2\n,\n81,160\n\n83,166\n\n",
        ),
        (
            "tabs",
            "Club Speed (mph)\tCarry (yd)\n82.4\t165.2\n81\t160\n83\t166\n",
        ),
        (
            "bars",
            "Club Speed (mph)|Carry (yd)\n82.4|165.2\n81|160\n83|166\n",
        ),
        (
            "quoted decimal commas",
            "Club Speed (mph),Carry (yd)\n\"82,4\",\"165,2\"\n\"81,0\",\"160,0\"\n\"83,0\",\"166,0\"\n",
        ),
        (
            "trailing delimiters",
            "Club Speed (mph),Carry (yd),\n82.4,165.2,\n81,160,\n83,166,\n",
        ),
        (
            "across",
            "Shot,1,2,3\nClub Speed (mph),82.4,81,83\nCarry (yd),165.2,160,166\nNotes,a,b,c\nSmash Factor,,,\n",
        ),
        ("a list of JSON", r#"[{"clubSpeed_mph":1}]"#),
    ] {
        if name == "a list of JSON" {
            let json = r#"{"shots":[{"club speed (mph)":82.4,"carry":{"value":165.2,"unit":"yd"}},{"club speed (mph)":81,"carry":{"value":160,"unit":"yd"}},{"club speed (mph)":83,"carry":{"value":166,"unit":"yd"}}]}"#;
            right(name, json, usual);
            continue;
        }
        right(name, text, usual);
    }
    let lines = "{\"club_speed_mph\":82.4,\"carry_yd\":165.2}\n{\"club_speed_mph\":81,\"carry_yd\":160}\n{\"club_speed_mph\":83,\"carry_yd\":166}\n";
    right("JSON by line", lines, usual);
}

#[test]
fn what_a_file_does_not_tell_is_asked() {
    for (name, text, asks) in [
        (
            "days",
            "Date,Carry (yd)\n03/04/2026,165\n04/05/2026,160\n05/05/2026,166\n",
            &["dates"][..],
        ),
        (
            "years of two figures",
            "Date,Carry (yd)\n26-04-18,165\n26-04-19,160\n26-04-20,166\n",
            &["dates"],
        ),
        (
            "days to come",
            "Date,Carry (yd)\n2027-04-18,165\n2027-04-19,160\n2027-04-20,166\n",
            &["to_come"],
        ),
        (
            "a distance",
            "Club Speed (mph),Carry\n82.4,165\n81,160\n83,166\n",
            &["unit:distances"],
        ),
        (
            "a junior's speed",
            "Club Speed,Block\n46,a\n47,a\n45,a\n",
            &["unit:speeds"],
        ),
        (
            "a height",
            "Club Speed (mph),Apex\n82.4,30\n81,29\n83,31\n",
            &["unit:heights"],
        ),
        (
            "a force",
            "Club Speed (mph),Lead force\n82.4,120\n81,118\n83,121\n",
            &["unit:forces"],
        ),
        (
            "a club",
            "Club,Carry (yd)\nOld faithful,165\n7,160\n7i,166\n",
            &["club:7", "club:Old faithful"],
        ),
        (
            "rows without a club",
            "Club,Carry (yd)\n7i,165\n,160\n7i,166\n",
            &["club:"],
        ),
        (
            "players",
            "Player,Carry (yd)\nWren,165\nAda,160\nWren,166\n",
            &["players"],
        ),
        (
            "rows alike",
            "Club Speed (mph),Carry (yd),Spin (rpm)\n82.4,165.2,6900\n81,160,6000\n82.4,165.2,6900\n",
            &["alike"],
        ),
        (
            "zeros",
            "Club path,Carry (yd)\n0,165\n0,160\n0,161\n1.2,166\n",
            &["zeros"],
        ),
        (
            "carries that differ",
            "Carry (yd),Carry distance (m),Club\n165,140,7i\n160,139,7i\n166,142,7i\n",
            &["double:carry"],
        ),
        (
            "backspin",
            "Backspin (rpm),Side spin (rpm),Carry (yd)\n6900,300,165\n6000,200,160\n6500,-100,166\n",
            &["backspin"],
        ),
        (
            "blocks",
            "60 %,80 %,100 %\n120,140,155\n118,141,156\n121,139,158\n",
            &["blocks"],
        ),
        (
            "commas twice",
            "Club Speed (mph),Carry (yd),,\n82,4,165,2\n81,0,160,0\n83,0,166,0\n",
            &["unnamed"],
        ),
        (
            "columns that are swapped",
            "Club Speed (mph),Ball speed (mph),Carry (yd)\n118,82,165\n117,81,160\n119,83,166\n118,81,164\n",
            &["believed"],
        ),
        (
            "a unit that is wrong",
            "Ball speed (m/s),Launch angle,Spin (rpm),Carry (yd)\n110,16,6900,165\n108,17,6800,160\n109,16,6700,166\n",
            &["believed"],
        ),
    ] {
        let layout = guess(text.as_bytes(), today()).unwrap();
        let looked = look(text.as_bytes(), &layout, today()).unwrap();
        let open: Vec<&str> = looked
            .questions
            .iter()
            .filter(|q| q.open)
            .map(|q| q.key.as_str())
            .collect();
        assert_eq!(open, asks, "{name}: {:#?}", looked.questions);
    }
}

#[test]
fn rows_that_cannot_be_read_are_refused_and_say_why() {
    for (name, text, words) in [
        (
            "a lost delimiter",
            "Club Speed (mph),Carry (yd),Spin (rpm)\n82.4,165.2\n81,160,6900\n83,166,6900\n",
            "2 cells",
        ),
        (
            "a row of sums without a name",
            "Shot,Club Speed (mph),Carry (yd)\n1,82.4,165.2\n2,81,160\n3,83,166\n4,83,166\n5,83,166\n,82.1,163.7\n",
            "number",
        ),
        (
            "a wrong day",
            "Date,Carry (yd)\n31.02.2026,165\n18.04.2026,160\n19.04.2026,166\n",
            "not a date",
        ),
        (
            "a sign and a side",
            "Side (yd),Carry (yd)\n-3 R,165\n3 R,160\n3 L,166\n",
            "different things",
        ),
        (
            "another unit",
            "Carry (yd)\n165 furlongs\n160\n166\n",
            "no unit of this value",
        ),
        (
            "an impossible speed",
            "Club Speed (mph),Carry (yd)\n900,165\n81,160\n83,166\n",
            "out of range",
        ),
    ] {
        let layout = guess(text.as_bytes(), today()).unwrap();
        let mut rows = Rows::open(text.as_bytes(), layout).unwrap();
        let mut troubles = Vec::new();
        while let Some(row) = rows.next_row() {
            troubles.extend(
                row.unwrap()
                    .shot
                    .err()
                    .into_iter()
                    .flat_map(|bad| bad.troubles),
            );
        }
        assert_eq!(troubles.len(), 1, "{name}: {troubles:?}");
        assert!(troubles[0].problem.contains(words), "{name}: {troubles:?}");
        assert!(!troubles[0].remedy.is_empty());
    }
}

#[test]
fn rows_are_counted_as_people_count_them() {
    for end in ["\n", "\r\n"] {
        let lines = [
            "Report",
            "",
            "Club Speed (mph),Carry (yd),Notes",
            "82.4,165.2,\"two\nlines\"",
            "",
            "fast,160,x",
        ];
        let text = lines.join(end) + end;
        let layout = guess(text.as_bytes(), today()).unwrap();
        assert_eq!(layout.header_row, 3);
        let mut rows = Rows::open(text.as_bytes(), layout).unwrap();
        let read: Vec<u64> = std::iter::from_fn(|| rows.next_row())
            .map(|row| row.unwrap().row)
            .collect();
        assert_eq!(read, [4, 6]);
    }
}

#[test]
fn only_the_rows_of_one_player_are_read_and_the_others_counted() {
    let text = "Player,Carry (yd)\nWren,165\nAda,160\nWren,166\n,150\n";
    let mut layout = guess(text.as_bytes(), today()).unwrap();
    layout.only = Some("Wren".to_owned());
    let mut rows = Rows::open(text.as_bytes(), layout).unwrap();
    let mut shots = 0;
    while let Some(row) = rows.next_row() {
        row.unwrap().shot.unwrap();
        shots += 1;
    }
    assert_eq!(shots, 2);
    assert_eq!(
        rows.skipped().told(),
        ["Rows of others were left out: 1 without a name, 1 of Ada."]
    );
}

#[test]
fn a_row_of_which_several_cells_cannot_be_read_is_refused_once() {
    let text = "Date,60 %,80 %\n2026-04-18,120,140\nnever,far,121\n2026-04-18,far,near\n";
    let mut layout = guess(text.as_bytes(), today()).unwrap();
    let shots = ColumnUse::Shots {
        quantity: Q::Carry,
        unit: U::Yd,
    };
    layout.columns = vec![ColumnUse::Date, shots, shots];
    let (good, bad) = read(text.as_bytes(), layout);
    assert_eq!((good.len(), bad), (2, 2));
}

/// Keys of what a file asks as it comes.
fn open_keys(file: &str) -> Vec<String> {
    open_like(file, |_| {}, file)
}

/// Keys of what is open when a file is read as an earlier one with the same columns was.
fn open_like(earlier: &str, change: impl FnOnce(&mut Layout), text: &str) -> Vec<String> {
    let mut then = guess(earlier.as_bytes(), today()).unwrap();
    change(&mut then);
    let guessed = guess(text.as_bytes(), today()).unwrap();
    let layout = remembered(&guessed, then).unwrap_or(guessed);
    let looked = look(text.as_bytes(), &layout, today()).unwrap();
    looked
        .questions
        .into_iter()
        .filter(|q| q.open)
        .map(|q| q.key)
        .collect()
}

#[test]
fn what_was_said_of_an_earlier_file_holds_until_a_later_one_speaks_against_it() {
    let settle = |key: &'static str| {
        move |layout: &mut Layout| {
            layout.settled.insert(key.to_owned());
        }
    };
    let none: [&str; 0] = [];
    // Days: the same again, and one that only the other order can be.
    let days = |day: &str| format!("Date,Carry (yd)\n{day},165\n03/04/2026,160\n");
    assert_eq!(
        open_like(&days("02/04/2026"), settle("dates"), &days("05/04/2026")),
        none
    );
    assert_eq!(
        open_like(&days("02/04/2026"), settle("dates"), &days("04/18/2026")),
        ["dates:day_first"]
    );
    // Speeds: a junior's were miles an hour, and these cannot be.
    let speeds = |speed: &str| format!("Club Speed,Block\n{speed},a\n{speed},a\n");
    let miles = |layout: &mut Layout| {
        layout.columns[0] = ColumnUse::value(Q::ClubSpeed, U::Mph);
        layout.settled.insert("unit:speeds".to_owned());
    };
    assert_eq!(open_like(&speeds("46"), miles, &speeds("44")), none);
    assert_eq!(
        open_like(&speeds("46"), miles, &speeds("190")),
        ["unit:speeds:mph"]
    );
    // Units below the names are those of the file, whatever stood there before.
    let below = |unit: &str| format!("Club Speed,Carry\n{unit},yd\n92,210\n93,212\n");
    let (then, now) = (below("mph"), below("km/h"));
    let (then, now) = (
        guess(then.as_bytes(), today()).unwrap(),
        guess(now.as_bytes(), today()).unwrap(),
    );
    let layout = remembered(&now, then).unwrap();
    assert_eq!(layout.columns[0], ColumnUse::value(Q::ClubSpeed, U::Kmh));
    // Without names nothing tells that columns are the same.
    let bare = guess(b"92.1,251\n93.4,255\n", today()).unwrap();
    assert_eq!(remembered(&bare, bare.clone()), None);
}

#[test]
fn of_two_columns_the_one_that_counts_is_in_the_unit_that_was_said() {
    let text = "Carry (yd),Carry distance,Total\n165,150,160\n160,146,156\n";
    let mut layout = guess(text.as_bytes(), today()).unwrap();
    layout.columns[2] = ColumnUse::value(Q::Total, U::M);
    layout.settled.insert("unit:distances".to_owned());
    let looked = look(text.as_bytes(), &layout, today()).unwrap();
    let question = looked
        .questions
        .iter()
        .find(|q| q.key == "double:carry")
        .unwrap();
    let columns: Vec<ColumnUse> =
        serde_json::from_value(question.choices[1].change["columns"].clone()).unwrap();
    assert_eq!(columns[1], ColumnUse::value(Q::Carry, U::M));
}

#[test]
fn a_heading_tells_the_club_of_the_rows_below_it() {
    let file = "Club: 7 Iron\nShot,Ball Speed (mph),Carry (yd)\n1,118,160\n2,119,161\n\n\
        Club: Driver\nShot,Ball Speed (mph),Carry (yd)\n1,148,240\n\n\
        ,Pitching wedge,\n1,100,120\n";
    let wanted = Wanted {
        asks: &[],
        rows: (4, 0),
        first: &[(Q::BallSpeed, U::Mph, 118.0), (Q::Carry, U::Yd, 160.0)],
    };
    let shots = held("headings", file.as_bytes(), &wanted);
    let clubs: Vec<_> = shots.iter().map(|shot| shot.club).collect();
    let [iron, driver, wedge] = [Club::Iron7, Club::Driver, Club::WedgePitching].map(Some);
    assert_eq!(clubs, [iron, iron, driver, wedge]);

    // One that is not known is asked for, and its rows are not taken for the club before.
    let file = "Club: 7 Iron\nBall Speed (mph),Carry (yd)\n118,160\nClub: Spoon\n148,240\n";
    let wanted = Wanted {
        asks: &["club:Spoon"],
        rows: (1, 1),
        ..wanted
    };
    held("spoon", file.as_bytes(), &wanted);

    // A title above the names of the columns may name the club that one plays at.
    let file = "Club: Fen and Fell\nBall Speed (mph),Carry (yd)\n118,160\n119,161\n";
    let wanted = Wanted {
        asks: &[],
        rows: (2, 0),
        ..wanted
    };
    let shots = held("title", file.as_bytes(), &wanted);
    assert_eq!(shots[0].club, None);
}

#[test]
fn a_club_that_stands_once_above_its_rows_holds_for_them_when_a_person_says_so() {
    let file = "club,ball speed (mph),carry (yd)\n7i,118,160\n,119,161\nPW,100,120\n,101,121\n";
    let mut layout = guess(file.as_bytes(), today()).unwrap();
    let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
    let [question] = &asked[..] else {
        panic!("{asked:#?}")
    };
    assert_eq!(question.choices[0].label, "that of the row above");
    layout.filled_down = true;
    let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
    assert!(asked.iter().all(|question| !question.open), "{asked:#?}");
    let (shots, bad) = read(file.as_bytes(), layout);
    let clubs: Vec<_> = shots.iter().map(|shot| shot.club.unwrap()).collect();
    use Club::{Iron7, WedgePitching};
    assert_eq!(clubs, [Iron7, Iron7, WedgePitching, WedgePitching]);
    assert_eq!(bad, 0);
}

#[test]
fn rows_that_are_marked_as_left_out_are_set_aside_when_a_person_says_so() {
    for (name, [out, stays]) in [
        ("Excluded", ["yes", "no"]),
        ("Outlier", ["x", ""]),
        ("Valid", ["0", "1"]),
        ("Gültig", ["nein", "ja"]),
    ] {
        let file =
            format!("club;ball speed (mph);{name}\n7i;118;{stays}\n7i;81;{out}\n7i;119;{stays}\n");
        let mut layout = guess(file.as_bytes(), today()).unwrap();
        let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
        let [question] = &asked[..] else {
            panic!("{name}: {asked:#?}")
        };
        assert!(
            question.open && question.asks.contains("1 of the first 3 rows was left out"),
            "{asked:#?}"
        );
        let mut answers = Vec::new();
        for choice in &question.choices {
            layout.columns = serde_json::from_value(choice.change["columns"].clone()).unwrap();
            layout.settled.insert(question.key.clone());
            let looked = look(file.as_bytes(), &layout, today()).unwrap();
            assert!(looked.questions.iter().all(|question| !question.open));
            let (shots, bad) = read(file.as_bytes(), layout.clone());
            assert_eq!(bad, 0, "{name}");
            answers.push(shots.iter().map(|shot| shot.set_aside).collect::<Vec<_>>());
        }
        assert_eq!(answers, [[false, true, false], [false; 3]], "{name}");
    }
    // Nothing is marked, or something else stands there.
    for cells in ["no\n7i;119;no", "wind\n7i;119;late"] {
        let file = format!("club;ball speed (mph);Excluded\n7i;118;{cells}\n");
        held(
            "marks",
            file.as_bytes(),
            &Wanted {
                asks: &[],
                rows: (2, 0),
                first: &[(Q::BallSpeed, U::Mph, 118.0)],
            },
        );
    }
}

#[test]
fn a_table_written_as_json_is_read_and_one_of_nothings_does_not_fill_the_memory() {
    for (name, text) in [
        (
            "rows",
            r#"[["Club", "Club speed (mph)"], ["7i", 82.4], ["7i", 81], ["7i", null]]"#,
        ),
        (
            "columns and data",
            r#"{"columns": ["Club", "Club speed (mph)"], "data": [["7i", 82.4], ["7i", 81], ["7i", 83]]}"#,
        ),
        (
            "lists by column",
            r#"{"Club": ["7i", "7i", "7i"], "Club speed (mph)": [82.4, 81, 83]}"#,
        ),
        (
            "shots by number",
            r#"{"2": {"Club": "7i", "Club speed (mph)": 81}, "10": {"Club": "7i", "Club speed (mph)": 83},
                "1": {"Club": "7i", "Club speed (mph)": 82.4}}"#,
        ),
    ] {
        let wanted = Wanted {
            asks: &[],
            rows: if name == "rows" { (2, 1) } else { (3, 0) },
            first: &[SPEED],
        };
        held(name, text.as_bytes(), &wanted);
    }
    let names: Vec<String> = (0..400).map(|n| format!("\"value {n}\": {n}")).collect();
    let text = format!("[{{{}}}{}]", names.join(","), ",{}".repeat(200_000));
    let refused = guess(text.as_bytes(), today()).unwrap_err();
    assert!(refused.problem.contains("larger than"), "{refused}");
}

#[test]
fn what_is_no_table_is_told_by_its_kind() {
    for (bytes, kind) in [
        (&b"<html><table><tr>"[..], "a web page"),
        (b"<?xml version=\"1.0\"?><shots><shot/></shots>", "XML"),
        (b"%PDF-1.7\n1 0 obj", "a PDF"),
        (b"{\\rtf1\\ansi Club\\par}", "a text document"),
        (b"\x89PNG\r\n\x1a\n\0\0", "a picture"),
    ] {
        let refused = guess(bytes, today()).unwrap_err();
        assert!(
            refused.problem.starts_with(&format!("is {kind}")),
            "{refused}"
        );
    }
}

#[test]
fn rows_below_other_names_are_not_read_as_if_they_stood_below_the_first() {
    let file = "Club,Ball Speed (mph),Carry (yd)\nDriver,136,231\nDriver,137,232\n\n\
        Club,Carry (m),Ball Speed (km/h)\n7i,140,178\n7i,141,179\n\n\
        Club,Ball Speed (mph),Carry (yd)\nDriver,138,233\n";
    let wanted = Wanted {
        asks: &[],
        rows: (3, 2),
        first: &[(Q::BallSpeed, U::Mph, 136.0), (Q::Carry, U::Yd, 231.0)],
    };
    held("two tables", file.as_bytes(), &wanted);
    let mut rows = Rows::open(file.as_bytes(), guess(file.as_bytes(), today()).unwrap()).unwrap();
    let refused = std::iter::from_fn(|| rows.next_row()).find_map(|row| row.unwrap().shot.err());
    let trouble = &refused.unwrap().troubles[0];
    assert!(trouble.problem.contains("in row 5"), "{trouble:?}");
    // The same names in another language say nothing new.
    let file = "Club,Ball Speed (mph),Carry (yd)\nSchläger,Ballgeschwindigkeit (mph),Carry (yd)\n\
        Driver,136,231\nDriver,137,232\n";
    let wanted = Wanted {
        rows: (2, 0),
        ..wanted
    };
    held("two languages", file.as_bytes(), &wanted);
}

#[test]
fn two_units_of_one_value_that_say_the_same_are_no_question_and_two_that_do_not_are() {
    let file = "Club,Ball Speed (mph),Carry (yd),Carry (m)\n\
        Driver,136,231,211.2\nDriver,137,233,213.1\nDriver,137,,\n";
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first: &[(Q::BallSpeed, U::Mph, 136.0), (Q::Carry, U::Yd, 231.0)],
    };
    held("the same", file.as_bytes(), &wanted);
    let wanted = Wanted {
        asks: &["double:carry"],
        ..wanted
    };
    held("another", file.replace("213.1", "233").as_bytes(), &wanted);
    // The name says one unit, the row below it another.
    let file = "Club,Ball Speed (mph),Carry (yd)\n,m/s,m\nDriver,61,211\nDriver,62,212\n";
    let layout = guess(file.as_bytes(), today()).unwrap();
    assert_eq!(open_keys(file), ["unit:distances"]);
    // No ball is hit as far at 61 mph.
    assert_eq!(layout.columns[1], ColumnUse::value(Q::BallSpeed, U::Mps));
}

#[test]
fn a_clock_that_was_started_with_the_lesson_is_told_from_the_time_of_day_by_asking() {
    let file = "Time,Club,Ball Speed (mph)\n0:00,7i,118\n0:35,7i,119\n1:10,7i,117\n";
    let wanted = Wanted {
        asks: &["elapsed"],
        rows: (3, 0),
        first: &[(Q::BallSpeed, U::Mph, 118.0)],
    };
    held("a clock", file.as_bytes(), &wanted);
    let wanted = Wanted {
        asks: &[],
        ..wanted
    };
    held(
        "a morning",
        file.replace("0:00", "0:20").as_bytes(),
        &wanted,
    );
}

#[test]
fn values_that_cannot_be_together_are_asked_about() {
    for file in [
        "Club,Ball Speed (mph),Spin Rate (rpm),Carry (yd)\nDriver,136,2.45,231\nDriver,137,2.55,233\n",
        "Club,Ball Speed (mph),Carry (yd),Total (yd)\nDriver,136,250,211\nDriver,137,252,213\n",
    ] {
        assert_eq!(open_keys(file), ["believed"], "{file}");
    }
}

#[test]
fn a_name_that_says_one_of_two_values_is_asked_about() {
    use Q::{BallSpeed, Carry, ClubSpeed, Total};
    for (name, labels) in [
        (
            "Distance (yd)",
            ["carry", "total", "leave it out"].as_slice(),
        ),
        ("Weite [m]", &["carry", "total", "leave it out"]),
        ("Speed (mph)", &["club speed", "ball speed", "leave it out"]),
        // The other is there.
        ("carry (yd),Distance (yd)", &["total", "leave it out"]),
        (
            "ball speed (mph),Vitesse (mph)",
            &["club speed", "leave it out"],
        ),
    ] {
        let several = name.contains(',');
        let rest = if several { "101," } else { "" };
        let file = format!("club,{name}\n7i,{rest}102\n7i,{rest}103\n");
        let mut layout = guess(file.as_bytes(), today()).unwrap();
        let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
        let of_it = asked.iter().find(|q| q.key.starts_with("either:"));
        let question = of_it.unwrap_or_else(|| panic!("{name}: {asked:#?}"));
        let told: Vec<_> = question.choices.iter().map(|c| c.label.as_str()).collect();
        assert!(question.open && told == labels, "{name}: {told:?}");
        layout.columns =
            serde_json::from_value(question.choices[0].change["columns"].clone()).unwrap();
        layout.settled.insert(question.key.clone());
        let (shots, bad) = read(file.as_bytes(), layout);
        let held = [Carry, Total, ClubSpeed, BallSpeed]
            .into_iter()
            .find(|quantity| quantity.label().to_lowercase() == labels[0]);
        assert!(
            shots[0].reading.get(held.unwrap()).is_some() && bad == 0,
            "{name}"
        );
    }
    // Both are there by their own names, or the name says more.
    for name in [
        "carry (yd),total (yd),distance (yd)",
        "target distance (yd),carry (yd),total (yd)",
    ] {
        let file = format!("club,{name}\n7i,101,102,103\n7i,102,103,104\n");
        let layout = guess(file.as_bytes(), today()).unwrap();
        let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
        assert!(
            asked.iter().all(|q| !q.key.starts_with("either:")),
            "{asked:#?}"
        );
    }
}

#[test]
fn a_list_of_shots_is_found_within_what_is_around_it() {
    let file = r#"{"session":{"player":"Dov","shots":[
        {"club":{"name":"7i"},"flight":{"carry":{"value":140,"unit":"m"}}},
        {"club":{"name":"7i"},"flight":{"carry":{"value":141,"unit":"m"}}}]}}"#;
    let layout = guess(file.as_bytes(), today()).unwrap();
    assert!(
        look(file.as_bytes(), &layout, today())
            .unwrap()
            .questions
            .is_empty()
    );
    let (shots, bad) = read(file.as_bytes(), layout);
    assert_eq!((shots.len(), bad), (2, 0));
    assert_eq!(shots[0].reading.get(Q::Carry), Some(140.0));
}

#[test]
fn columns_of_blocks_that_name_their_unit_are_asked_about_in_that_unit() {
    let file = "shot,Warm-up (yd),Block 1 (yd),Block 2 (yd)\n1,140,150,155\n2,141,151,156\n";
    let mut layout = guess(file.as_bytes(), today()).unwrap();
    let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
    let [question] = &asked[..] else {
        panic!("{asked:#?}")
    };
    let told: Vec<_> = question.choices.iter().map(|c| c.label.as_str()).collect();
    assert_eq!(told, ["carry, yd", "total, yd"]);
    layout.columns = serde_json::from_value(question.choices[0].change["columns"].clone()).unwrap();
    layout.settled.insert(question.key.clone());
    let (shots, bad) = read(file.as_bytes(), layout);
    assert_eq!((shots.len(), bad), (6, 0));
    // Values that are not read are no blocks.
    let file = "shot,Bounce (yd),Tempo (s)\n1,3,0.9\n2,4,0.8\n";
    let layout = guess(file.as_bytes(), today()).unwrap();
    let asked = look(file.as_bytes(), &layout, today()).unwrap().questions;
    assert!(asked.is_empty(), "{asked:#?}");
}
