//! A run set by set, and when a body that tires is told to stop.

use super::*;
use crate::shots::swung::SwingSide;
use crate::vocabulary::units::MPH;

/// A set of three swings of an implement from a side.
pub(crate) fn three(implement: &str, side: SwingSide) -> PlannedBlock {
    PlannedBlock {
        full_effort: true,
        rest_after_s: 60,
        swung: Some(Swung {
            implement: implement.to_owned(),
            side: Some(side),
            position: Some("normal".to_owned()),
        }),
        ..PlannedBlock::new(implement, 3)
    }
}

pub(crate) fn swing(n: u32, set: usize, mph: f64) -> RunSwing {
    RunSwing {
        shot: Uuid::from_u128(u128::from(n)),
        set,
        speed: Some(mph * MPH),
        ball: None,
        decision: None,
        at: DateTime::UNIX_EPOCH + chrono::Duration::seconds(i64::from(n) * 20),
    }
}

fn told(sets: &[PlannedBlock], swings: &[RunSwing], earlier: &[Earlier]) -> RunReport {
    run(&RunQuestion {
        sets,
        current: swings.iter().map(|s| s.set).max().unwrap_or(0),
        club: Club::Driver,
        skipped: &[],
        held: false,
        swings,
        earlier,
        rules: &HouseRules::default(),
    })
}

fn sets() -> [PlannedBlock; 2] {
    [
        three("light", SwingSide::Dominant),
        three("light", SwingSide::Other),
    ]
}

fn last_time(mph: &[f64]) -> Earlier {
    let of = RunOf::set(&sets()[0], Club::Driver);
    let speeds = mph.iter().map(|mph| mph * MPH).collect();
    Earlier {
        on: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
        speeds: [(of, speeds)].into(),
    }
}

#[test]
fn a_full_set_gives_way_to_the_next_with_its_rest() {
    let two = [swing(1, 0, 114.0), swing(2, 0, 115.0)];
    let so_far = told(&sets(), &two, &[]);
    assert_eq!(
        (so_far.now, so_far.next, so_far.rest),
        (Some(0), Some(1), None)
    );
    let full = [&two[..], &[swing(3, 0, 116.0)]].concat();
    let report = told(&sets(), &full, &[]);
    assert_eq!((report.now, report.next, report.to_go), (Some(1), None, 3));
    let rest = report.rest.unwrap();
    assert_eq!((rest.since, rest.seconds), (full[2].at, 60));
    // What is set aside is swung again.
    let aside = RunSwing {
        decision: Some(Decision::SetAside),
        ..full[2]
    };
    assert_eq!(told(&sets(), &[full[0], full[1], aside], &[]).now, Some(0));
}

#[test]
fn last_time_s_best_is_of_the_same_implement_side_and_position() {
    let report = told(
        &sets(),
        &[swing(1, 0, 116.5)],
        &[last_time(&[114.0, 116.0])],
    );
    let last = report.sets[0].last.unwrap();
    assert!((last.best - 116.0 * MPH).abs() < 1e-9);
    assert!(report.strokes[0].beat);
    assert_eq!(
        report.sets[1].last, None,
        "the other side was not swung then"
    );
}

#[test]
fn a_passing_club_is_doubted_and_no_best_until_somebody_keeps_it() {
    let swings = [swing(1, 0, 114.0), swing(2, 0, 161.0), swing(3, 0, 115.0)];
    let report = told(&sets(), &swings, &[]);
    let doubted: Vec<bool> = report.strokes.iter().map(|s| s.doubt.is_some()).collect();
    assert_eq!(doubted, [false, true, false]);
    assert!(report.sets[0].best.unwrap() < 116.0 * MPH);
    let kept = RunSwing {
        decision: Some(Decision::Keep),
        ..swings[1]
    };
    let report = told(&sets(), &[swings[0], kept, swings[2]], &[]);
    assert!(report.sets[0].best.unwrap() > 160.0 * MPH);
    // The very first swing has last time beside it.
    let first = told(
        &sets(),
        &[swing(1, 0, 161.0)],
        &[last_time(&[114.0, 116.0])],
    );
    assert!(first.strokes[0].doubt.is_some());
}

#[test]
fn what_is_left_out_or_held_gives_way_and_gentle_sets_go_on() {
    let gentle = PlannedBlock {
        full_effort: false,
        effort_pct: Some(80),
        ..three("heavy", SwingSide::Dominant)
    };
    let [first, second] = sets();
    let sets = [first, second, gentle];
    let rules = HouseRules::default();
    let now = |skipped: &[usize], held| {
        let report = run(&RunQuestion {
            sets: &sets,
            current: 0,
            club: Club::Driver,
            skipped,
            held,
            swings: &[swing(1, 0, 114.0)],
            earlier: &[],
            rules: &rules,
        });
        (report.now, report.next, report.to_go)
    };
    assert_eq!(now(&[], false), (Some(0), Some(1), 8));
    assert_eq!(now(&[0], false), (Some(1), Some(2), 6));
    assert_eq!(now(&[], true), (Some(2), None, 3));
}

#[test]
fn sides_are_compared_over_what_both_swung() {
    let swings = [
        swing(1, 0, 100.0),
        swing(2, 0, 100.0),
        swing(3, 0, 100.0),
        swing(4, 1, 88.0),
    ];
    let slower = told(&sets(), &swings, &[]).other_side.unwrap();
    assert!((slower - 0.12).abs() < 1e-9);
}

/// A session of three implements from both sides, three swings each, twice: what a body
/// does that tires by `costs` of the share done, on a day of its own form.
fn session(seed: u64, costs: impl Fn(f64) -> f64) -> Vec<RunSwing> {
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardNormal, StudentT};
    let mut rng = rand_pcg::Pcg64::seed_from_u64(seed);
    let day: f64 = StandardNormal.sample(&mut rng);
    let heavy = StudentT::new(4.0).unwrap();
    let each = sets_of_both().len() * 3;
    (0..each)
        .map(|n| {
            let set = n / 3;
            let base = 110.0 - 4.0 * (set % 6 / 2) as f64 - 13.0 * (set % 2) as f64;
            let strays: f64 = heavy.sample(&mut rng);
            let done = n as f64 / each as f64;
            let share = 1.0 + 0.012 * day + 0.011 * strays - costs(done);
            swing(n as u32 + 1, set, base * share)
        })
        .collect()
}

fn sets_of_both() -> Vec<PlannedBlock> {
    let one = |implement| [SwingSide::Dominant, SwingSide::Other].map(|s| three(implement, s));
    let all: Vec<PlannedBlock> = ["light", "medium", "heavy"]
        .into_iter()
        .flat_map(one)
        .collect();
    [all.clone(), all].concat()
}

/// How many of a hundred sessions, after so many others, are said to stop at some swing.
fn stopped(before: u64, costs: impl Fn(f64) -> f64) -> usize {
    use crate::session::bounds::Swings;
    use crate::session::stop::{StopQuestion, stop};
    use crate::verdicts::build::Build;
    let (sets, rules) = (sets_of_both(), HouseRules::default());
    let earlier: Vec<Earlier> = (0..before)
        .map(|before| {
            let mut speeds: BTreeMap<RunOf, Vec<f64>> = BTreeMap::new();
            for swing in session(90_000 + before, |_| 0.0) {
                let of = RunOf::set(&sets[swing.set], Club::Driver);
                speeds.entry(of).or_default().extend(swing.speed);
            }
            Earlier {
                on: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
                speeds,
            }
        })
        .collect();
    let told = |seed: &u64| {
        let swings = session(*seed, &costs);
        (16..=swings.len()).any(|seen| {
            let question = RunQuestion {
                sets: &sets,
                current: swings[seen - 1].set,
                club: Club::Driver,
                skipped: &[],
                held: false,
                swings: &swings[..seen],
                earlier: &earlier,
                rules: &rules,
            };
            let speeds = beside_usual(&question, &run(&question));
            stop(&StopQuestion {
                speeds: &speeds,
                swung: Swings::default(),
                build: Build::Trained,
                over: &[],
                rules: &rules,
            })
            .is_some()
        })
    };
    (0..100).filter(told).count()
}

#[test]
fn a_body_that_tires_is_stopped_across_implements_and_an_ordinary_one_goes_on() {
    let cases: [(u64, usize); 2] = [(3, 90), (0, 90)];
    for (before, tired) in cases {
        let counts = [
            stopped(before, |_| 0.0),
            stopped(before, |done| 0.01 * done),
            // Five in a hundred are lost, at once or by and by.
            stopped(before, |done| if done > 0.5 { 0.05 } else { 0.0 }),
            stopped(before, |done| 0.07 * (done - 0.3).max(0.0)),
        ];
        println!("after {before}: {counts:?}");
        assert!(counts[..2].iter().all(|n| *n < 5), "{before}: {counts:?}");
        assert!(
            counts[2..].iter().all(|n| *n >= tired),
            "{before}: {counts:?}"
        );
    }
}
