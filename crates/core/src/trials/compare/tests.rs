use super::*;
use crate::shots::ball::tests::ball;
use crate::shots::standing::Standing;
use crate::vocabulary::units::{MPH, Units, YARD};

fn set(label: &str, values: &[f64], order: impl Fn(usize) -> usize) -> BallSet {
    let balls = values.iter().enumerate();
    BallSet {
        ball: None,
        label: label.to_owned(),
        balls: balls
            .map(|(i, yd)| ball(order(i), &[(Quantity::Carry, yd * YARD)]))
            .collect(),
    }
}

pub(super) fn ask(sets: Vec<BallSet>) -> CompareQuestion {
    CompareQuestion {
        quantity: Quantity::Carry,
        sets,
        margin: None,
        fairway_width: None,
        club_gap: None,
        order_in: false,
        looks: Looks::Once,
        prepared: None,
        others: vec![],
        chosen_of: None,
        rules: HouseRules::default(),
    }
}

fn told(question: &CompareQuestion) -> (VerdictKind, String) {
    let report = compare(question).unwrap();
    assert!(!serde_json::to_string(&report).unwrap().contains("NaN"));
    (
        report.verdict.kind,
        report.verdict.sentence.show(Units::MphYd),
    )
}

/// Balls about `middle` yd, `apart` yd from one to the next.
fn about(middle: f64, apart: f64, n: usize) -> Vec<f64> {
    (0..n)
        .map(|i| middle + apart * (i as f64 - (n - 1) as f64 / 2.0))
        .collect()
}

#[test]
fn welch_s_interval_comes_out_as_in_student_s_sleep_data() {
    // Student's (1908) sleep data as two samples: difference 1.58, Welch's t −1.861 on
    // 17.776 degrees of freedom, 95 % interval −0.205 to 3.365 (as R's t.test prints).
    let one = [0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0];
    let two = [1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4];
    let difference = difference::welch(&one, &two, 0.95, 1e-9);
    assert!((difference.value - 1.58).abs() < 1e-9);
    assert!((difference.low + 0.2054832).abs() < 1e-5, "{difference:?}");
    assert!((difference.high - 3.3654832).abs() < 1e-5);
}

#[test]
fn few_balls_are_dealt_in_every_way() {
    // By hand: of the 20 ways to deal 1…6 into threes, only {1,2,3} and {4,5,6} differ
    // as much.
    let dealt = difference::shuffled(&[1.0, 2.0, 3.0], &[4.0, 5.0, 6.0]);
    assert!(dealt.exact && (dealt.p - 0.1).abs() < 1e-12, "{dealt:?}");
    let many = difference::shuffled(&about(0.0, 1.0, 30), &about(0.0, 1.0, 30));
    assert!(!many.exact && many.p > 0.9);
}

#[test]
fn the_best_of_fewer_tries_is_the_mean_over_every_choice() {
    // Of 1, 2, 3 the pairs have bests 2, 3, 3.
    assert!((difference::best_of(&[1.0, 3.0, 2.0], 2) - 8.0 / 3.0).abs() < 1e-12);
    assert!((difference::best_of(&[1.0, 3.0, 2.0], 3) - 3.0).abs() < 1e-12);
    assert!((difference::best_of(&[1.0, 3.0, 2.0], 1) - 2.0).abs() < 1e-12);
}

#[test]
fn a_clear_difference_is_said_with_its_size() {
    let question = ask(vec![
        set("As usual", &about(200.0, 0.6, 12), |i| i),
        set("Ball forward", &about(210.0, 0.6, 12), |i| i + 12),
    ]);
    let (kind, said) = told(&question);
    assert_eq!(kind, VerdictKind::Yes);
    assert_eq!(said, "Ball forward carries 10 yd further than As usual.");
}

#[test]
fn the_same_within_the_margin_is_said_as_such_and_not_for_a_smaller_margin() {
    let sets = || {
        vec![
            set("Short", &about(150.0, 1.0, 12), |i| 2 * i),
            set("Full", &about(151.0, 1.0, 12), |i| 2 * i + 1),
        ]
    };
    let (kind, said) = told(&ask(sets()));
    assert_eq!(kind, VerdictKind::Same);
    assert_eq!(said, "Full carries the same as Short within your 5 yd.");
    let strict = CompareQuestion {
        margin: Some(0.5 * YARD),
        ..ask(sets())
    };
    let (kind, said) = told(&strict);
    assert_eq!(kind, VerdictKind::CannotTellYet);
    assert!(said.contains("more balls of each"), "{said}");
}

#[test]
fn a_narrower_pattern_is_said_beside_the_carry() {
    let wide = |apart: f64| -> Vec<Ball> {
        (0..12)
            .map(|i| {
                let side = apart * (f64::from(i) - 5.5);
                let carry = 150.0 + f64::from(i * 5 % 12) / 3.0;
                ball(
                    i as usize,
                    &[
                        (Quantity::Carry, carry * YARD),
                        (Quantity::Side, side * YARD),
                    ],
                )
            })
            .collect()
    };
    let named = |label: &str, balls| BallSet {
        ball: None,
        label: label.to_owned(),
        balls,
    };
    let question = ask(vec![named("Usual", wide(4.0)), named("Quiet", wide(2.0))]);
    let (_, said) = told(&question);
    assert_eq!(
        said,
        "Quiet carries the same as Usual within your 5 yd, and ten balls land within 22 yd left to right instead of 44."
    );
}

#[test]
fn a_drift_over_the_session_is_taken_out_of_sets_hit_in_turns() {
    // Both sets are alike; all balls go half a yard further than the one before.
    let gone = |order: &[usize]| -> Vec<f64> {
        let waver = |o: &usize| 0.3 * ((o * 7 % 5) as f64 - 2.0);
        order
            .iter()
            .map(|o| 180.0 + 0.5 * *o as f64 + waver(o))
            .collect()
    };
    let (a, b) = ([0, 1, 2, 9, 10, 11, 12, 13], [3, 4, 5, 6, 7, 8, 14, 15]);
    let question = |order_in| CompareQuestion {
        order_in,
        ..ask(vec![
            set("A", &gone(&a), |i| a[i]),
            set("B", &gone(&b), |i| b[i]),
        ])
    };
    let read = |order_in| compare(&question(order_in)).unwrap().differences[0].clone();
    let (with, without) = (read(true), read(false));
    let width = |e: &Estimate| e.high - e.low;
    assert!(width(&with.difference) < 0.6 * width(&without.difference));
    assert!((with.drift.unwrap().value / YARD - 0.5).abs() < 0.1);
    assert_eq!(with.basis, Basis::Turns);
}

#[test]
fn one_after_the_other_the_means_stand_and_the_order_is_said_to_be_open() {
    let waver = |middle: f64| -> Vec<f64> {
        (0..8)
            .map(|i| middle + f64::from(i * 5 % 8) - 3.5)
            .collect()
    };
    let (first, other) = (waver(180.0), waver(192.0));
    let question = CompareQuestion {
        order_in: true,
        ..ask(vec![
            set("Before", &first, |i| i),
            set("After", &other, |i| i + 8),
        ])
    };
    let report = compare(&question).unwrap();
    let read = &report.differences[0];
    assert_eq!(read.basis, Basis::OneAfterOther);
    assert!((read.difference.value - 12.0 * YARD).abs() < 1e-9);
    assert!(read.difference.half_width() > 1.2 * read.raw.half_width());
    let said = report.verdict.sentence.show(Units::MphYd);
    assert!(
        said.starts_with("After carries 12 yd further than Before."),
        "{said}"
    );
    assert!(said.contains("one after the other"), "{said}");
}

#[test]
fn one_day_each_tells_what_was_seen_and_nothing_more() {
    let on = |label: &str, middle: f64, session: usize| {
        let mut set = set(label, &about(middle, 0.5, 12), |i| i);
        set.balls.iter_mut().for_each(|ball| ball.session = session);
        set
    };
    let question = CompareQuestion {
        order_in: true,
        ..ask(vec![on("April", 200.0, 0), on("May", 210.0, 1)])
    };
    let (kind, said) = told(&question);
    assert_eq!(kind, VerdictKind::CannotTellYet);
    assert!(
        said.starts_with("So far May carries 10 yd further than April (210 and 200 yd)"),
        "{said}"
    );
    assert!(said.contains("One day each cannot tell a change"), "{said}");
}

#[test]
fn the_same_is_not_said_while_another_set_is_open() {
    let open: Vec<f64> = (0..6).map(|i| 190.0 + 9.0 * f64::from(i)).collect();
    let question = ask(vec![
        set("A", &about(200.0, 1.0, 12), |i| i),
        set("B", &about(200.5, 1.0, 12), |i| i),
        set("C", &open, |i| i),
    ]);
    let (kind, said) = told(&question);
    assert_eq!(kind, VerdictKind::CannotTellYet);
    assert!(said.contains('C'), "{said}");
}

#[test]
fn bests_are_compared_at_equal_tries() {
    let more: Vec<f64> = (0..40).map(|i| 200.0 + f64::from(i % 8)).collect();
    let few: Vec<f64> = (0..8).map(|i| 200.0 + f64::from(i)).collect();
    let question = ask(vec![
        set("Many", &more, |i| i),
        set("Few", &few, |i| 40 + i),
    ]);
    let bests = compare(&question).unwrap().differences[0].bests.unwrap();
    assert_eq!(bests.tries, 8);
    assert!(bests.first < 207.0 * YARD && !bests.beyond_device);
}

#[test]
fn faster_swings_are_told_in_yards_and_clubs_too() {
    let swings = |label: &str, mph: f64| BallSet {
        ball: None,
        label: label.to_owned(),
        balls: (0..10)
            .map(|i| {
                let speed = (mph + 0.1 * (i % 3) as f64) * MPH;
                ball(i, &[(Quantity::ClubSpeed, speed)])
            })
            .collect(),
    };
    let question = CompareQuestion {
        quantity: Quantity::ClubSpeed,
        club_gap: Some(10.0 * YARD),
        ..ask(vec![swings("Normal", 100.0), swings("Full speed", 104.0)])
    };
    let report = compare(&question).unwrap();
    let read = &report.differences[0];
    let factor = question.rules.carry_per_speed(Club::Driver, 100.0 * MPH) / (YARD / MPH);
    assert!((read.worth.unwrap().value / YARD - 4.0 * factor).abs() < 0.02);
    assert!((read.clubs.unwrap().value - 0.4 * factor).abs() < 0.002);
    assert_eq!(
        report.verdict.sentence.show(Units::MphYd),
        "Full speed is 4.0 mph faster than Normal."
    );
}

#[test]
fn what_is_missing_is_said_and_never_a_verdict() {
    let good = || set("A", &about(200.0, 1.0, 6), |i| i);
    let mut aside = set("B", &about(200.0, 1.0, 3), |i| i);
    for ball in &mut aside.balls {
        ball.standing = Standing::SetAside;
    }
    let mut irons = set("B", &about(150.0, 1.0, 6), |i| i);
    irons.balls[2].club = Club::Iron7;
    let speedless = BallSet {
        ball: None,
        label: "B".to_owned(),
        balls: vec![ball(0, &[]), ball(1, &[])],
    };
    for (other, expected) in [
        (set("B", &[], |i| i), "“B” has no balls yet."),
        (
            set("B", &[200.0], |i| i),
            "Only one kept ball of “B” has a carry",
        ),
        (aside, "No ball of “B” stands"),
        (irons, "“B” holds balls of the driver and of the 7-iron"),
        (speedless, "No kept ball of “B” has a carry"),
    ] {
        let (kind, said) = told(&ask(vec![good(), other]));
        assert_eq!(kind, VerdictKind::CannotTellYet, "{said}");
        assert!(said.starts_with(expected), "{said}");
    }
}

#[test]
fn identical_values_are_the_same_with_the_device_s_own_doubt() {
    let question = ask(vec![
        set("A", &[200.0; 6], |i| i),
        set("B", &[200.0; 6], |i| i),
    ]);
    assert_eq!(told(&question).0, VerdictKind::Same);
    let two = ask(vec![
        set("A", &[200.0; 2], |i| i),
        set("B", &[200.0; 2], |i| i),
    ]);
    assert!(told(&two).1.contains("the same"));
}

#[test]
fn spin_that_was_only_calculated_is_named_as_the_reason() {
    let spun = |label: &str| BallSet {
        ball: None,
        label: label.to_owned(),
        balls: (0..4)
            .map(|i| {
                let mut ball = ball(i, &[]);
                ball.reading.set(
                    Quantity::SpinRate,
                    2500.0,
                    crate::shots::reading::Provenance::Calculated,
                );
                ball
            })
            .collect(),
    };
    let question = CompareQuestion {
        quantity: Quantity::SpinRate,
        ..ask(vec![spun("A"), spun("B")])
    };
    let (kind, said) = told(&question);
    assert_eq!(kind, VerdictKind::CannotTellYet);
    assert!(said.contains("calculated by the device"), "{said}");
}

#[test]
fn a_margin_of_nothing_and_a_fairway_of_less_are_refused_by_name() {
    let sets = || vec![set("A", &[1.0; 3], |i| i), set("B", &[1.0; 3], |i| i)];
    let refused = |question: CompareQuestion| compare(&question).unwrap_err().field;
    assert_eq!(
        refused(CompareQuestion {
            margin: Some(0.0),
            ..ask(sets())
        }),
        "margin"
    );
    assert_eq!(
        refused(CompareQuestion {
            fairway_width: Some(-3.0),
            ..ask(sets())
        }),
        "fairway_width"
    );
    assert_eq!(refused(ask(vec![sets().remove(0)])), "sets");
    let hung = CompareQuestion {
        quantity: Quantity::HangTime,
        ..ask(sets())
    };
    assert!(
        compare(&hung).is_ok(),
        "every value has a margin in the house"
    );
}

#[test]
fn a_speed_day_holds_full_speed_against_the_rest_and_others_label_against_label() {
    let blocks: Vec<(String, bool)> = [
        ("Normal swings", false),
        ("Full speed", true),
        ("Normal swings again", false),
        ("Full speed", true),
    ]
    .map(|(label, full)| (label.to_owned(), full))
    .into();
    let sets = |purpose| -> Vec<Vec<String>> {
        let sets = propose_sets(purpose, &blocks).into_iter();
        sets.map(|set| set.blocks).collect()
    };
    assert_eq!(
        sets(Purpose::SpeedDay),
        [
            vec!["Normal swings", "Normal swings again"],
            vec!["Full speed"]
        ]
    );
    assert_eq!(sets(Purpose::Comparison).len(), 3);
    let feels = ["50 %", "Stock", "100 %", "90 %"].map(|label| (label.to_owned(), false));
    let sets = propose_sets(Purpose::EffortLadder, &feels);
    let labels: Vec<&str> = sets.iter().map(|set| set.label.as_str()).collect();
    assert_eq!(labels, ["Stock", "50 %", "90 %", "100 %"]);
}

#[test]
fn the_gap_between_clubs_is_the_median_of_neighbours() {
    assert_eq!(club_gap(&[150.0, 120.0, 138.0, 200.0]), Some(18.0));
    assert_eq!(club_gap(&[150.0]), None);
    assert_eq!(club_gap(&[150.0, 150.0]), None);
}

#[test]
fn a_claim_is_held_beside_the_others_and_told_as_it_will_likely_be_seen_again() {
    let sets = || {
        vec![
            set("A", &[230.0, 233.0, 231.0, 234.0], |i| i),
            set("B", &[238.0, 241.0, 237.0, 242.0], |i| 4 + i),
        ]
    };
    let alone = ask(sets());
    let told = compare(&alone).unwrap();
    let surest = &told.differences[0];
    assert_eq!(
        told.among,
        Some(Among {
            others: 0,
            stands: true
        })
    );
    assert!(surest.chance < 0.05, "{}", surest.chance);
    assert!(surest.likely > 0.0 && surest.likely < surest.difference.value);
    let many = CompareQuestion {
        others: vec![0.6; 30],
        ..alone.clone()
    };
    let told = compare(&many).unwrap();
    let among = told.among.unwrap();
    assert_eq!(
        (among.others, among.stands),
        (30, surest.chance <= 0.1 / 31.0)
    );
    let said = told.verdict.detail.show(Units::MphYd);
    assert!(said.contains("one of 31 comparisons"), "{said}");
}

#[test]
fn judged_by_another_value_than_prepared_for_is_a_lead() {
    let sets = vec![
        set("A", &[230.0, 233.0, 231.0], |i| i),
        set("B", &[248.0, 251.0, 247.0], |i| 3 + i),
    ];
    let prepared = |quantity, margin| CompareQuestion {
        prepared: Some(Prepared { quantity, margin }),
        ..ask(sets.clone())
    };
    let said =
        |question: &CompareQuestion| compare(question).unwrap().verdict.detail.show(Units::MphYd);
    let own = prepared(Quantity::Carry, None);
    assert!(!said(&own).contains("prepared for"), "{}", said(&own));
    let other = said(&prepared(Quantity::Side, None));
    assert!(
        other.starts_with("The test was prepared for side within "),
        "{other}"
    );
    let narrower = said(&prepared(Quantity::Carry, Some(2.0 * YARD)));
    assert!(
        narrower.starts_with("The test was prepared for carry within 2 yd"),
        "{narrower}"
    );
}

#[test]
fn a_question_of_which_not_all_balls_were_read_says_from_how_many_they_were_chosen() {
    let yards: Vec<f64> = (0..40).map(|i| 230.0 + f64::from(i % 7)).collect();
    let mut question = ask(vec![set("A", &yards, |i| i), set("B", &yards, |i| i)]);
    let detail = |question: &CompareQuestion| {
        let report = compare(question).unwrap();
        report.verdict.detail.show(Units::MphYd)
    };
    assert!(!detail(&question).contains("chosen"));
    question.chosen_of = Some(120_000);
    assert!(detail(&question).contains("chosen evenly from 120000"));
}
