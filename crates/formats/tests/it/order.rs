//! Files whose first row was not hit first, and rows that leave to the one above what is so.

use crate::asked::{answered, looked};
use crate::shapes::today;
use std::io::Read;
use tally_core::physics::club::Club;
use tally_formats::shot_table::{Layout, Placed, Places, Rows, When, guess, remembered};

fn places(file: impl Read, layout: Layout) -> (Vec<Placed>, Places) {
    let (zone, back) = ("UTC", layout.newest_first);
    let mut places = Places::new(zone, today(), Club::Driver, back).unwrap();
    let mut rows = Rows::open(file, layout).unwrap();
    let mut placed = Vec::new();
    while let Some(row) = rows.next_row() {
        placed.push(places.place(&row.unwrap().shot.unwrap()));
    }
    (placed, places)
}

/// The rows of a file in the order that its shots stand in once they are in.
fn hit(file: &str, layout: Layout) -> Vec<usize> {
    let (placed, _) = places(file.as_bytes(), layout);
    let mut order: Vec<usize> = (1..=placed.len()).collect();
    order.sort_by_key(|row| (placed[row - 1].hit_at, placed[row - 1].shot));
    order
}

#[test]
fn of_rows_whose_times_go_back_the_last_was_hit_first_within_a_minute_too() {
    let file = "time,club,carry (yd)\n\
        2026-04-18 10:03,7i,150\n2026-04-18 10:02,7i,151\n2026-04-18 10:02,7i,152\n\
        2026-04-18 10:02,7i,153\n2026-04-18 10:01,7i,154\n";
    let layout = guess(file.as_bytes(), today()).unwrap();
    assert_eq!(hit(file, layout.clone()), [5, 4, 3, 2, 1]);
    assert!(places(file.as_bytes(), layout).1.unordered);
    // The other way round nothing is turned.
    let mut lines: Vec<&str> = file.lines().collect();
    lines[1..].reverse();
    let file = lines.join("\n");
    let layout = guess(file.as_bytes(), today()).unwrap();
    assert_eq!(hit(&file, layout.clone()), [1, 2, 3, 4, 5]);
    assert!(!places(file.as_bytes(), layout).1.unordered);
}

#[test]
fn numbers_that_count_down_and_days_that_go_back_are_asked_about() {
    for (name, file) in [
        (
            "numbers",
            "shot,club,carry (yd)\n3,7i,150\n2,7i,151\n1,7i,152\n",
        ),
        (
            "numbers of two days",
            "date,no,club,carry (yd)\n2026-04-19,#2,7i,150\n2026-04-19,#1,7i,151\n2026-04-18,#3,7i,152\n2026-04-18,#2,7i,153\n2026-04-18,#1,7i,154\n",
        ),
        (
            "days",
            "date,club,carry (yd)\n2026-04-19,7i,150\n2026-04-18,7i,151\n2026-04-18,7i,152\n",
        ),
    ] {
        let layout = guess(file.as_bytes(), today()).unwrap();
        let as_it_stands = answered(file, &layout, "order", "no, as they stand");
        let turned = answered(file, &layout, "order", "yes, the last row first");
        let back = hit(file, turned);
        let rows = back.len();
        assert_eq!(back, (1..=rows).rev().collect::<Vec<_>>(), "{name}");
        // Days stay in order whatever is answered.
        assert_ne!(hit(file, as_it_stands), back, "{name}");
    }
    for (name, file) in [
        ("up", "shot,club,carry (yd)\n1,7i,150\n2,7i,151\n3,7i,152\n"),
        (
            "each day from 1",
            "date,shot,club,carry (yd)\n2026-04-18,1,7i,150\n2026-04-18,2,7i,151\n2026-04-19,1,7i,152\n2026-04-19,2,7i,153\n",
        ),
        (
            "times tell",
            "time,shot,club,carry (yd)\n2026-04-18 10:01,3,7i,150\n2026-04-18 10:02,2,7i,151\n2026-04-18 10:03,1,7i,152\n",
        ),
        (
            "one day",
            "date,club,carry (yd)\n2026-04-18,7i,150\n2026-04-18,7i,151\n",
        ),
    ] {
        let layout = guess(file.as_bytes(), today()).unwrap();
        let asked = looked(file, &layout).questions;
        assert!(asked.is_empty(), "{name}: {asked:#?}");
        let rows = file.lines().count() - 1;
        assert_eq!(hit(file, layout), (1..=rows).collect::<Vec<_>>(), "{name}");
    }
}

#[test]
fn an_order_that_was_told_of_one_file_is_not_taken_for_the_next() {
    let down = "shot,club,carry (yd)\n3,7i,150\n2,7i,151\n1,7i,152\n";
    let up = "shot,club,carry (yd)\n1,7i,150\n2,7i,151\n3,7i,152\n";
    let guessed = |file: &str| guess(file.as_bytes(), today()).unwrap();
    let told = answered(down, &guessed(down), "order", "yes, the last row first");
    let again = remembered(&guessed(up), told.clone()).unwrap();
    assert_eq!(hit(up, again), [1, 2, 3]);
    let again = remembered(&guessed(down), told).unwrap();
    answered(down, &again, "order", "yes, the last row first");
}

#[test]
fn a_day_that_stands_once_above_its_rows_holds_for_them_when_a_person_says_so() {
    let file = "date,club,carry (yd)\n18.04.2026 10:02,7i,150\n,7i,151\n19.04.2026,7i,152\n,7i,153\n\
        45.04.2026,7i,154\n,7i,155\n";
    let layout = guess(file.as_bytes(), today()).unwrap();
    let days = |layout: Layout| {
        let mut rows = Rows::open(file.as_bytes(), layout).unwrap();
        let all = std::iter::from_fn(|| rows.next_row());
        all.map(|row| row.unwrap().shot.ok().map(|shot| shot.when))
            .collect::<Vec<_>>()
    };
    let left_out = answered(file, &layout, "days_down", "no, leave them out");
    let kept = days(left_out);
    assert!(kept[0].is_some() && kept[1].is_none() && kept[3].is_none());
    let day = |text: &str| Some(When::Day(text.parse().unwrap()));
    let down = days(answered(
        file,
        &layout,
        "days_down",
        "yes, as the row above",
    ));
    // The day of the row above, and not its time.
    assert_eq!(down[1], day("2026-04-18"));
    assert_eq!(down[2..4], [day("2026-04-19"), day("2026-04-19")]);
    // Nor an earlier one below a day that cannot be read.
    assert_eq!(down[4..], [None, None]);
}
