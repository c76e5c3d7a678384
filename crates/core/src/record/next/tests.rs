use super::*;
use crate::reach::unclaimed::Share;
use crate::vocabulary::units::{MPH, Units};

fn day(month: u32, day: u32) -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, month, day).unwrap()
}

fn sure(value: f64, error: f64) -> Estimate {
    Estimate {
        value,
        low: value - error,
        high: value + error,
        n: 20,
    }
}

/// Balls that leave these yards to launch and spin, more or less.
fn claimed(launch: f64, spin: f64) -> Vec<Unclaimed> {
    let each = [-2.0, 0.0, 1.0, 1.0, -1.0, 1.0].map(|stray| {
        let share = |lever: Lever, carry: f64| Share {
            lever,
            label: lever.label(),
            carry: carry * YARD,
        };
        Unclaimed {
            attainable: (230.0 + launch + spin) * YARD,
            actual: 230.0 * YARD,
            shares: vec![
                share(Lever::BallSpeed, stray),
                share(Lever::Launch, launch + stray),
                share(Lever::Spin, spin - stray),
                share(Lever::Curve, 0.0),
                share(Lever::Conditions, 0.0),
            ],
            unexplained: 0.0,
            model_error: 3.0,
            n: 1,
        }
    });
    each.to_vec()
}

fn question() -> NextQuestion {
    NextQuestion {
        today: day(4, 18),
        club: Club::Driver,
        usual: Some(sure(100.0 * MPH, 0.5 * MPH)),
        fast: Some(sure(106.0 * MPH, 0.6 * MPH)),
        trend: None,
        peers: PeersTold::default(),
        growing: false,
        claimed: claimed(9.0, 14.0),
        landed: vec![],
        carries: vec![],
        spin_measured: Some(day(4, 10)),
        open: vec![],
        chosen: vec![],
        by: RankedBy::Score,
        rules: HouseRules::default(),
    }
}

fn kinds(question: &NextQuestion) -> Vec<NextKind> {
    next(question).iter().map(|item| item.kind).collect()
}

#[test]
fn the_most_worth_comes_first_in_yards_and_strokes() {
    let items = next(&question());
    let said = items[0].said.show(Units::MphYd);
    assert!(
        said.starts_with("Give it the spin this speed wants: worth 14 yd"),
        "{said}"
    );
    let worth: Vec<f64> = items
        .iter()
        .map(|i| i.worth.unwrap().strokes.value)
        .collect();
    assert!(worth.iter().all(|other| *other <= worth[0]), "{worth:?}");
    // Fourteen yards from every tee are most of a stroke a round to such a player.
    assert!((0.4..1.2).contains(&worth[0]), "{worth:?}");
    assert!(items.iter().all(|item| item.working.is_some()));
}

#[test]
fn what_is_pinned_stands_first_and_what_is_dismissed_stays_away() {
    let mut asked = question();
    let keys: Vec<String> = next(&asked).into_iter().map(|item| item.key).collect();
    asked.chosen = vec![(keys[2].clone(), true), (keys[0].clone(), false)];
    let items = next(&asked);
    assert_eq!((&items[0].key, items[0].pinned), (&keys[2], true));
    assert!(items.iter().all(|item| item.key != keys[0]));
}

#[test]
fn a_wild_driver_is_narrowed_first_for_the_score_and_never_for_distance() {
    let sides = [
        -45.0, 38.0, -20.0, 30.0, 5.0, -33.0, 22.0, -8.0, 41.0, -28.0,
    ];
    let landed = sides.map(|side| Landed { carry: 205.0, side });
    let wild = NextQuestion {
        landed: landed.to_vec(),
        claimed: claimed(2.5, 1.0),
        fast: None,
        ..question()
    };
    assert_eq!(kinds(&wild)[0], NextKind::Spread);
    let far = NextQuestion {
        by: RankedBy::Distance,
        ..wild
    };
    assert_eq!(kinds(&far)[0], NextKind::Unclaimed);
}

#[test]
fn what_nobody_measured_and_what_was_left_open_are_named_without_a_worth() {
    let asked = NextQuestion {
        usual: None,
        claimed: vec![],
        spin_measured: Some(day(1, 4)),
        open: vec![OpenTest {
            key: "a".to_owned(),
            told: Sentence::of("The heads cannot be told apart yet."),
            day: day(3, 2),
        }],
        carries: vec![
            (Club::Iron5, sure(170.0 * YARD, 2.0)),
            (Club::Iron8, sure(140.0 * YARD, 2.0)),
            (Club::Iron9, sure(129.0 * YARD, 2.0)),
        ],
        ..question()
    };
    let items = next(&asked);
    let said: Vec<String> = items.iter().map(|i| i.said.show(Units::MphYd)).collect();
    assert_eq!(
        said,
        [
            "Fill the bag: between 5-iron and 8-iron lie 30 yd.",
            "Measure spin: none was measured with the driver since 4 January, and launch is judged half blind without.",
            "Finish the test of 2 March: The heads cannot be told apart yet.",
        ]
    );
    assert!(items[1].worth.is_none() && items[2].worth.is_none());
    let gap = items[0].worth.unwrap().strokes;
    assert!(0.0 < gap.low && gap.low < gap.value && gap.value < gap.high);
    // A player of whom nothing is known is told to measure, and nothing else.
    let nothing = NextQuestion {
        spin_measured: None,
        open: vec![],
        carries: vec![],
        ..asked
    };
    assert_eq!(kinds(&nothing), [NextKind::Measurement]);
}

proptest::proptest! {
    #[test]
    fn more_carry_never_costs_strokes(carry in 60.0..280.0f64, more in 0.0..40.0f64) {
        let rules = HouseRules::default();
        for club in [Club::Driver, Club::Wood3, Club::Iron7, Club::WedgePitching] {
            proptest::prop_assert!(strokes_saved(club, carry, more, &rules) >= -1e-9);
        }
    }
}

#[test]
fn speed_that_others_have_is_proposed_where_no_faster_swing_is_there_and_is_never_sure() {
    let mut behind = question();
    behind.fast = None;
    behind.claimed = vec![];
    behind.peers.group = "club players of 19 to 49".to_owned();
    behind.peers.rank = crate::record::peers::rank(
        100.0 * MPH,
        &[101.0, 102.0, 104.0, 104.0, 105.0, 106.0, 107.0].map(|mph| mph * MPH),
    );
    behind.trend = Some(crate::record::progress::LevelChange {
        since: crate::record::progress::Since::Start,
        date: day(1, 1),
        change: sure(3.0 * MPH, 0.5 * MPH),
        kind: crate::record::progress::ChangeKind::RealAndWorthIt,
        more_check_ins: None,
    });
    let items = next(&behind);
    assert_eq!(
        items[0].said.show(Units::MphYd),
        "Build speed with the driver: it is 4.0 mph under the middle of 8 club players of 19 to \
         49 here; half of that carries 6 yd further. It went up 3.0 mph since the start."
    );
    assert_eq!(items[0].worth.unwrap().carry.unwrap().low, 0.0);
    // A child may only have grown later than the others.
    behind.growing = true;
    assert!(next(&behind).is_empty());
    behind.growing = false;
    // One at the middle of the group has nothing to catch up.
    behind.usual = Some(sure(104.0 * MPH, 0.5 * MPH));
    assert!(next(&behind).is_empty());
}
