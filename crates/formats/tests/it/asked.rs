//! What a file does not tell is asked, and each answer is taken.

use crate::shapes::{read, today};
use chrono::NaiveDate;
use tally_core::physics::club::Club;
use tally_core::vocabulary::quantity::Quantity;
use tally_formats::shot_table::{ImportedShot, Layout, Looked, When, guess, look};

/// What a file is by a layout.
pub fn looked(file: &str, layout: &Layout) -> Looked {
    look(file.as_bytes(), layout, today()).unwrap()
}

/// The layout with the answer of one question taken.
pub fn answered(file: &str, layout: &Layout, key: &str, label: &str) -> Layout {
    let questions = looked(file, layout).questions;
    let question = questions.iter().find(|q| q.key == key && q.open);
    let question = question.unwrap_or_else(|| panic!("{key} is not asked: {questions:#?}"));
    let choice = question.choices.iter().find(|c| c.label == label).unwrap();
    let mut layout = serde_json::to_value(layout).unwrap();
    for (field, value) in &choice.change {
        layout[field] = value.clone();
    }
    let mut layout: Layout = serde_json::from_value(layout).unwrap();
    layout.settled.insert(question.key.clone());
    let still = looked(file, &layout).questions;
    assert!(still.iter().all(|q| q.key != key || !q.open), "{still:#?}");
    layout
}

/// Keys of what a file asks.
fn keys(file: &str) -> Vec<String> {
    let layout = guess(file.as_bytes(), today()).unwrap();
    let asked = looked(file, &layout).questions.into_iter();
    asked.filter(|q| q.open).map(|q| q.key).collect()
}

/// The layout that is guessed, with the answer of one question taken.
fn with_answer(file: &str, key: &str, label: &str) -> Layout {
    let layout = guess(file.as_bytes(), today()).unwrap();
    answered(file, &layout, key, label)
}

fn clubs(file: &str, layout: Layout) -> Vec<Option<Club>> {
    let (shots, bad) = read(file.as_bytes(), layout);
    assert_eq!(bad, 0);
    shots.into_iter().map(|shot| shot.club).collect()
}

#[test]
fn two_values_that_may_be_either_of_two_are_asked_of_each_and_are_no_blocks() {
    let file = "club,Distance,Speed\n7i,140,78\n7i,141,79\n";
    assert_eq!(keys(file), ["either:1", "either:2"]);
    // Nor are values in units that are not known, as they are not the same.
    let file = "club,Aa (xx),Bb (yy)\n7i,140,78\n7i,141,79\n";
    assert_eq!(keys(file), Vec::<String>::new());
}

#[test]
fn an_h_and_a_number_is_a_hybrid_in_english_alone() {
    let file = |header: &str, club: &str| format!("{header}\n{club};140\n{club};141\n");
    assert_eq!(keys(&file("Club;Carry (m)", "H4")), Vec::<String>::new());
    assert_eq!(keys(&file("Club;Carry (m)", "H7")), ["club:H7"]);
    for header in [
        "Schläger;Carry (m)",
        "Palo;Carry (m)",
        "Club;Draagafstand (m)",
    ] {
        assert_eq!(keys(&file(header, "H4")), ["club:H4"], "{header}");
        assert_eq!(keys(&file(header, "Hybrid 4")), Vec::<String>::new());
    }
}

#[test]
fn a_distance_that_names_no_unit_is_asked_about_where_letters_stand_before_it_too() {
    for cells in [["L 9.9", "R 5.6"], ["9.9 L", "5.6 R"], ["-9.9", "5.6"]] {
        let [a, b] = cells;
        let file = format!("Club,Side\n7i,{a}\n7i,{b}\n");
        assert_eq!(keys(&file), ["unit:distances"], "{a}");
    }
}

#[test]
fn a_column_of_lefts_and_rights_gives_another_its_side() {
    let file = "Offline (yd),Direction,Carry (yd)\n5,Left,150\n3,right,148\n0,Straight,149\n";
    let sides = |layout: Layout| -> Vec<f64> {
        let (shots, bad) = read(file.as_bytes(), layout);
        assert_eq!(bad, 0);
        let side = |shot: &ImportedShot| shot.reading.get(Quantity::Side).unwrap();
        shots
            .iter()
            .map(|shot| (side(shot) / 0.9144).round())
            .collect()
    };
    assert_eq!(
        sides(with_answer(file, "sides", "Offline (yd)")),
        [-5.0, 3.0, 0.0]
    );
    assert_eq!(
        sides(with_answer(file, "sides", "of none of them")),
        [5.0, 3.0, 0.0]
    );
    // A side that its own column does not tell is no guess.
    let file = "Offline (yd),Direction,Carry (yd)\n5,Left,150\n3,right,148\n4,,149\n";
    let layout = with_answer(file, "sides", "Offline (yd)");
    assert_eq!(read(file.as_bytes(), layout).1, 1);
    // Where the values have signs, the words say nothing more.
    let file = "Offline (yd),Direction,Carry (yd)\n-5,Left,150\n3,right,148\n";
    assert_eq!(keys(file), Vec::<String>::new());
}

#[test]
fn balls_that_all_went_to_the_right_may_be_of_a_file_that_tells_no_side() {
    let rows = |cells: [i32; 6]| cells.map(|n| format!("7i,{n},150\n")).concat();
    let header = "Club,Offline (yd),Carry (yd)\n";
    let file = format!("{header}{}", rows([5, 3, 8, 1, 12, 4]));
    assert_eq!(keys(&file), ["one_sided"]);
    let layout = with_answer(&file, "one_sided", "not told; leave it out");
    let (shots, _) = read(file.as_bytes(), layout);
    assert_eq!(shots[0].reading.get(Quantity::Side), None);
    assert_eq!(
        keys(&format!("{header}{}", rows([5, 3, -8, 1, 12, 4]))),
        Vec::<String>::new()
    );
}

#[test]
fn what_several_shots_came_to_is_not_taken_for_a_shot() {
    for file in [
        "Club,Shots,Carry (yd)\nDriver,10,230\n7i,12,150\n",
        "Schläger;Anzahl;Carry (m)\nDriver;10;230\nEisen 7;12;150\n",
        "Club,Avg Club Speed (mph),Carry (yd)\nDriver,98,230\n7i,80,150\n",
        "Club,Club Speed avg (mph),Carry (yd)\n7i,80,150\n8i,78,139\n",
        "Club,Carry (yd),Carry SD (yd)\n7i,150,4.2\n8i,139,4.0\n",
        "Club,Carry (yd),n\n7i,150,12\n8i,139,12\n",
    ] {
        assert_eq!(keys(file), ["averages"], "{file}");
    }
    for file in [
        "Shots,Club,Carry (yd)\n1,7i,150\n1,7i,151\n",
        "Shots,Club,Carry (yd)\n1,7i,150\n2,7i,151\n",
        "Shot Score,Club,Carry (yd)\n80,7i,150\n72,7i,151\n",
        "Club,Carry (yd),n\n7i,150,1\n7i,139,2\n",
        "Club,Carry (yd),n\n7i,150,3\n7i,139,4\n8i,130,1\n8i,131,2\n",
        "Club,Carry (yd),Spin deviation\n7i,150,12\n8i,139,11\n",
    ] {
        assert_eq!(keys(file), Vec::<String>::new(), "{file}");
    }
}

#[test]
fn a_carry_that_no_ball_of_its_speed_flies_is_asked_about() {
    let file = "Ball Speed (mph),Carry (m)\n50.1,150\n50.5,151\n";
    assert_eq!(keys(file), ["believed"]);
    let file = "Club Speed (mph),Carry (m)\n35.8,150\n36,151\n";
    assert_eq!(keys(file), ["believed"]);
}

#[test]
fn days_without_a_year_are_of_the_year_that_is_said() {
    let file =
        |[one, other]: [&str; 2]| format!("Date,club,carry (yd)\n{one},7i,140\n{other},7i,141\n");
    for written in [
        ["18 Apr", "19 Apr"],
        ["18/4", "19/4"],
        ["4/18", "4/19"],
        ["18.4.", "19.4."],
    ] {
        let file = file(written);
        assert_eq!(keys(&file), ["year"], "{written:?}");
        let layout = with_answer(&file, "year", "2025");
        assert!(looked(&file, &layout).questions.iter().all(|q| !q.open));
        let (shots, bad) = read(file.as_bytes(), layout);
        let days: Vec<_> = shots.iter().map(|shot| shot.when).collect();
        let of = |n| When::Day(NaiveDate::from_ymd_opt(2025, 4, n).unwrap());
        assert_eq!((days, bad), (vec![of(18), of(19)], 0), "{written:?}");
        // They may also be no days at all.
        let (shots, _) = read(
            file.as_bytes(),
            with_answer(&file, "year", "one day for all rows, which I choose"),
        );
        assert!(shots.iter().all(|shot| shot.when == When::Unknown));
    }
    // Which number is the month is still asked.
    let both = file(["4/5", "6/7"]);
    let layout = with_answer(&both, "year", "2025");
    let asked = looked(&both, &layout).questions;
    assert!(asked.iter().any(|q| q.key == "dates" && q.open));
    // A year that no shot may be of is refused.
    let mut layout = layout;
    layout.year = Some(20_255);
    assert_eq!(layout.check().unwrap_err().field, "year");
}

#[test]
fn days_that_cannot_be_read_are_asked_about_and_a_clock_under_their_name_is_one() {
    for [one, other] in [
        ["Today", "Yesterday"],
        ["260418", "260419"],
        ["18042026", "19042026"],
    ] {
        let file = format!("Date,club,carry (yd)\n{one},7i,140\n{other},7i,141\n");
        assert_eq!(keys(&file), ["undated"]);
    }
    let file = "Timestamp,club,carry (yd)\n10:15:30,7i,140\n10:16:12,7i,141\n";
    assert_eq!(keys(file), Vec::<String>::new());
    let (shots, _) = read(file.as_bytes(), guess(file.as_bytes(), today()).unwrap());
    assert!(shots.iter().all(|shot| matches!(shot.when, When::Clock(_))));
    // A day that could be a clock is a day.
    let file = "Date,club,carry (yd)\n18.04.26,7i,140\n19.04.26,7i,141\n";
    let (shots, _) = read(file.as_bytes(), guess(file.as_bytes(), today()).unwrap());
    assert!(shots.iter().all(|shot| matches!(shot.when, When::Day(_))));
}

#[test]
fn a_column_that_holds_clubs_by_another_name_is_asked_about() {
    let file = "Kij,carry (yd)\nDriver,231\nFerro 7,150\n";
    assert_eq!(keys(file), ["club_column:0"]);
    let layout = with_answer(file, "club_column:0", "it does");
    let each = [Some(Club::Driver), Some(Club::Iron7)];
    assert_eq!(clubs(file, layout), each);
    let layout = with_answer(file, "club_column:0", "it does not");
    assert_eq!(clubs(file, layout), [None, None]);
    // One without a name says it by what it holds; and where another names them, a word of them
    // elsewhere is a word.
    for file in [
        ",carry (yd)\nDriver,231\nFerro 7,150\n",
        "club,remark,carry (yd)\n7i,driver next,231\n7i,driver,150\n",
    ] {
        assert_eq!(keys(file), Vec::<String>::new(), "{file}");
    }
}

#[test]
fn a_column_for_each_club_is_of_that_club() {
    let file = "Driver carry (yd),7 iron carry (yd)\n231,150\n233,151\n";
    let layout = with_answer(file, "blocks", "carry, yd");
    let said = looked(file, &layout).remarks;
    assert!(
        said.iter()
            .any(|s| s == "Shots of “Driver carry (yd)” were hit with the driver.")
    );
    let each = [Some(Club::Driver), Some(Club::Iron7)];
    assert_eq!(clubs(file, layout), [each, each].concat());
}

#[test]
fn a_unit_in_a_column_of_its_own_is_that_of_each_row() {
    let carries = |file: &str, layout: Layout| -> Vec<f64> {
        let (shots, _) = read(file.as_bytes(), layout);
        let carry = |shot: ImportedShot| shot.reading.get(Quantity::Carry).unwrap();
        shots.into_iter().map(carry).collect()
    };
    let file = "Club,Carry,Unit\n7i,150,yd\n7i,140,m\n7i,141,furlongs\n7i,142,\n";
    let none = file.replace("furlongs", "m").replace("142,", "142,m");
    assert_eq!(keys(&none), Vec::<String>::new());
    let layout = guess(none.as_bytes(), today()).unwrap();
    assert_eq!(
        carries(&none, layout.clone()),
        [137.16, 140.0, 141.0, 142.0]
    );
    // A unit that is none, and one that is missing, refuse their rows.
    assert_eq!(carries(file, layout), [137.16, 140.0]);
    // Beside a name that tells it already, it is no question either.
    assert_eq!(
        keys("Club,Carry (yd),Unit\n7i,150,yd\n"),
        Vec::<String>::new()
    );
    // Each behind its value, or named for it.
    let file = "Club,Carry,Unit,Ball Speed,Unit\n7i,140,m,110,mph\n7i,150,yd,178,km/h\n";
    assert_eq!(keys(file), Vec::<String>::new());
    let file = "Club,Ball Speed,Carry,Carry Unit\n7i,110,140,m\n7i,111,150,yd\n";
    assert_eq!(keys(file), Vec::<String>::new());
    let layout = guess(file.as_bytes(), today()).unwrap();
    assert_eq!(carries(file, layout), [140.0, 137.16]);
    // One for which of two, is asked.
    let file = "Club,Carry,Side,Unit\n7i,150,-3,yd\n7i,140,2,m\n";
    assert_eq!(keys(file), ["units_of:3", "unit:distances"]);
    let layout = with_answer(file, "units_of:3", "carry");
    assert_eq!(carries(file, layout), [137.16, 140.0]);
}

#[test]
fn a_column_that_parts_the_shots_is_asked_about_and_makes_blocks() {
    let blocks = |file: &str, layout: Layout| -> Vec<Option<String>> {
        let (shots, _) = read(file.as_bytes(), layout);
        shots.into_iter().map(|shot| shot.block).collect()
    };
    let file = "Lesson,Club,Carry (yd)\nLesson 1,7i,150\nLesson 1,7i,151\nLesson 2,7i,152\n";
    assert_eq!(keys(file), ["parts:0"]);
    let layout = with_answer(file, "parts:0", "a block each");
    let of = |names: [&str; 3]| names.map(|name| Some(name.to_owned()));
    assert_eq!(
        blocks(file, layout),
        of(["Lesson 1", "Lesson 1", "Lesson 2"])
    );
    let layout = with_answer(file, "parts:0", "all alike");
    assert_eq!(blocks(file, layout), [None, None, None]);
    // Days part lessons as well; balls they do not.
    let dated = "Date,Week,Club,Carry (yd)\n2026-04-18,1,7i,150\n2026-04-18,1,7i,152\n2026-04-25,2,7i,151\n";
    assert_eq!(keys(dated), Vec::<String>::new());
    assert_eq!(keys(&dated.replace("Week", "Ball")), ["parts:1"]);
    // One lesson, and a name for every shot, part nothing.
    assert_eq!(
        keys(&file.replace("Lesson 2", "Lesson 1")),
        Vec::<String>::new()
    );
    let each = file.replacen("Lesson 1,7i,151", "Lesson 3,7i,151", 1);
    assert_eq!(keys(&each), Vec::<String>::new());
    // Nor do balls that are counted.
    let counted =
        "Ball,Club,Carry (yd)\n1,7i,150\n2,7i,151\n3,7i,152\n1,8i,139\n2,8i,140\n3,8i,141\n";
    assert_eq!(keys(counted), Vec::<String>::new());
    // Nor do they where the file tells its blocks itself.
    let told = "Block,Ball,Club,Carry (yd)\nA,new,7i,150\nA,new,7i,151\nB,old,7i,152\n";
    assert_eq!(keys(told), Vec::<String>::new());
}

#[test]
fn a_note_between_the_shots_is_no_club_that_is_asked_for() {
    let file = "Club,Club Speed* (mph),Carry (yd)\nTarget: 150 yd,,\n7i,80,150\n7i,81,152\n* by the device\n\u{1a}";
    assert_eq!(keys(file), Vec::<String>::new());
    let (shots, bad) = read(file.as_bytes(), guess(file.as_bytes(), today()).unwrap());
    assert_eq!((shots.len(), bad), (2, 2));
    // Where rows below go by it, it is.
    let file = "Club,Club Speed (mph),Carry (yd)\nOld faithful,,\n,80,150\n,81,152\n";
    assert_eq!(keys(file), ["club:Old faithful", "club:"]);
    // Of several columns about clubs that one counts which names them.
    let file = "Club Type,Club Name,Carry (yd)\nIron,7 Iron,150\nIron,8 Iron,139\n";
    assert_eq!(keys(file), Vec::<String>::new());
}

#[test]
fn a_table_of_another_shape_is_refused_and_told_apart() {
    let refused = |file: &str| guess(file.as_bytes(), today()).unwrap_err().to_string();
    let long = "Player,Shot,Metric,Value\nWren,1,Club Speed,80\nWren,1,Carry,150\n\
        Wren,2,Club Speed,81\nWren,2,Carry,152\n";
    assert!(refused(long).contains("“Metric”") || refused(long).contains("\"Metric\""));
    let beside = "Driver,,,7 Iron,,\nClub Speed (mph),Carry (yd),,Club Speed (mph),Carry (yd),\n\
        95,230,,80,150,\n96,232,,81,152,\n";
    assert!(
        refused(beside).contains("beside each other"),
        "{}",
        refused(beside)
    );
    let players =
        "Wren,,,Ilse,\nClub,Carry (yd),,Club,Carry (yd)\n7i,150,,8i,139\n7i,151,,8i,140\n";
    assert!(
        refused(players).contains("Wren, Ilse"),
        "{}",
        refused(players)
    );
    // Two values below each other, a shot in each column, are read on their side.
    let file = "Metric,1,2,3,Avg\nClub Speed (mph),78,80,82,80\nCarry (yd),140,150,160,150\n";
    let layout = guess(file.as_bytes(), today()).unwrap();
    assert!(layout.across);
    assert_eq!(read(file.as_bytes(), layout).0.len(), 3);
    let summed = "Metric,Min,Avg,Max\nClub Speed (mph),78,80,82\nCarry (yd),140,150,160\n";
    assert!(
        refused(summed).contains("holds no shot"),
        "{}",
        refused(summed)
    );
}

#[test]
fn what_a_row_of_shots_comes_to_is_none_of_them() {
    let carries = |file: &str| -> Vec<i64> {
        let (shots, _) = read(file.as_bytes(), with_answer(file, "blocks", "carry, m"));
        let carry = |shot: &ImportedShot| shot.reading.get(Quantity::Carry).unwrap() as i64;
        shots.iter().map(carry).collect()
    };
    for name in ["Total", "Avg", "Best"] {
        let file =
            format!("Club,Shot 1,Shot 2,Shot 3,{name}\n7i,140,142,139,421\n8i,130,129,131,390\n");
        assert_eq!(carries(&file), [140, 142, 139, 130, 129, 131], "{file}");
    }
    // A total that is more than the carry by what it rolled is one.
    let file = "Club,Roll (yd),Total (yd)\nDriver,20,250\nDriver,18,249\n";
    let (shots, _) = read(file.as_bytes(), guess(file.as_bytes(), today()).unwrap());
    assert!(shots[0].reading.get(Quantity::Total).is_some());
}

#[test]
fn columns_of_shots_that_are_called_by_a_day_are_of_that_day() {
    let days = |file: &str| -> Vec<When> {
        let (shots, _) = read(file.as_bytes(), with_answer(file, "blocks", "carry, m"));
        shots.into_iter().map(|shot| shot.when).collect()
    };
    let day = |day: &str| When::Day(day.parse().unwrap());
    let file = "Club,18-Apr-26,2026-04-25\n7i,140,142\n";
    assert_eq!(days(file), [day("2026-04-18"), day("2026-04-25")]);
    // One that may be read in two ways is none.
    let file = "Club,04/05/2026,04/06/2026\n7i,140,142\n";
    assert_eq!(days(file), [When::Unknown, When::Unknown]);
}

#[test]
fn sides_in_words_that_go_by_the_hand_leave_their_column_out_when_a_person_says_so() {
    let file = "Club,Path,Path Dir,Carry (yd)\n7i,3,in-out,150\n7i,2,out-in,152\n";
    assert_eq!(keys(file), ["by_hand:1"]);
    let path = |layout: Layout| {
        let (shots, _) = read(file.as_bytes(), layout);
        shots[1].reading.get(Quantity::ClubPath)
    };
    assert_eq!(path(with_answer(file, "by_hand:1", "leave it out")), None);
    assert_eq!(
        path(with_answer(file, "by_hand:1", "it has its sides")),
        Some(2.0)
    );
    // What was answered stays to be taken back.
    let left_out = with_answer(file, "by_hand:1", "leave it out");
    let asked = looked(file, &left_out).questions;
    assert_eq!(
        asked.iter().find(|q| q.key == "by_hand:1").unwrap().chosen,
        Some(0)
    );
    // Where the numbers tell it, it is no question.
    assert_eq!(keys(&file.replace("7i,2,", "7i,-2,")), Vec::<String>::new());
}

#[test]
fn shots_that_nobody_hits_are_asked_about() {
    for file in [
        "Club,Carry (yd),Total (yd)\nDriver,250,238\nDriver,251,240\n",
        "Club,Launch Angle,Launch Direction,Carry (yd)\nDriver,1.2,12.2,240\nDriver,-0.4,13,242\n",
        "Club,Spin Rate,Carry (yd)\n7i,9999,150\n7i,6900,152\n7i,9999,151\n",
    ] {
        assert_eq!(keys(file), ["believed"], "{file}");
    }
    // A wedge spins back.
    let file = "Club,Carry (yd),Total (yd)\nSW,80,76\nSW,81,77\n";
    assert_eq!(keys(file), Vec::<String>::new());
}
