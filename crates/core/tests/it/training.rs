//! Every shape of sentence that training, and a group of children, ends with.

use crate::said::Said;
use chrono::{DateTime, Days, NaiveDate, Utc};
use rand::RngExt;
use rand_distr::StandardNormal;
use rand_pcg::Pcg64Mcg;
use tally_core::physics::club::Club;
use tally_core::record::club_length::swung::SwungLength;
use tally_core::record::club_length::{ClubLengthQuestion, LengthChild, club_length};
use tally_core::session::plan::PlannedBlock;
use tally_core::shots::swung::{SwingSide, Swung};
use tally_core::training::after::{AfterQuestion, after};
use tally_core::training::implement::{Implement, ImplementKind};
use tally_core::training::levels::{RunDone, level_now};
use tally_core::training::programme::Progression;
use tally_core::training::run::{Earlier, RunOf, RunQuestion, RunSwing, run};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::MPH;
use uuid::Uuid;

fn day(number: u64) -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 2, 2).unwrap() + Days::new(number)
}

fn implement_set(implement: &str, side: SwingSide, full: bool) -> PlannedBlock {
    PlannedBlock {
        full_effort: full,
        effort_pct: (!full).then_some(80),
        rest_after_s: 90,
        swung: Some(Swung {
            implement: implement.to_owned(),
            side: Some(side),
            position: Some("normal".to_owned()),
        }),
        ..PlannedBlock::new(implement, 3)
    }
}

/// Runs of several makes: which sets, how many swings of them, which earlier days, how fast.
fn runs(said: &mut Said, rng: &mut Pcg64Mcg) {
    let rules = HouseRules::default();
    let balls = PlannedBlock {
        full_effort: true,
        ..PlannedBlock::new("own driver", 3)
    };
    let makes = [
        vec![implement_set("light", SwingSide::Dominant, true)],
        vec![
            implement_set("light", SwingSide::Dominant, true),
            implement_set("light", SwingSide::Other, true),
        ],
        vec![implement_set("heavy", SwingSide::Dominant, false)],
        vec![implement_set("heavy", SwingSide::Dominant, true), balls],
    ];
    for number in 0..96 {
        let sets = &makes[number % makes.len()];
        let faster = [1.0, 1.004, 1.06, 0.9][number / 4 % 4];
        let mph = |set: usize, rng: &mut Pcg64Mcg| {
            let of_the_set = if set == 1 { 97.0 } else { 112.0 };
            of_the_set + 0.6 * rng.sample::<f64, _>(StandardNormal)
        };
        let mut swings = vec![];
        for set in 0..sets.len() {
            for n in 0..[0, 1, 3][number / 16 % 3] {
                let lost = number % 11 == 0 && n == 2;
                let doubled = if number % 7 == 0 && n == 1 { 1.5 } else { 1.0 };
                swings.push(RunSwing {
                    shot: Uuid::from_u128((number * 100 + set * 10 + n) as u128),
                    set,
                    speed: (!lost).then(|| mph(set, rng) * faster * doubled * MPH),
                    ball: None,
                    decision: None,
                    at: DateTime::<Utc>::UNIX_EPOCH
                        + chrono::Duration::seconds((set * 100 + n * 20) as i64),
                });
            }
        }
        let earlier: Vec<Earlier> = (0..[0, 1, 3][number % 3])
            .map(|before| Earlier {
                on: day(before * 4),
                speeds: sets
                    .iter()
                    .enumerate()
                    // Not every set was swung on every day.
                    .filter(|(set, _)| *set != before as usize)
                    .map(|(set, plan)| {
                        let speeds = (0..3).map(|_| mph(set, rng) * MPH).collect();
                        (RunOf::set(plan, Club::Driver), speeds)
                    })
                    .collect(),
            })
            .collect();
        let report = run(&RunQuestion {
            sets,
            current: 0,
            club: Club::Driver,
            skipped: &[],
            held: number.is_multiple_of(5),
            swings: &swings,
            earlier: &earlier,
            rules: &rules,
        });
        said.take("A run under way", &report);
        said.take(
            "After a run",
            &after(&AfterQuestion {
                player: "Bram",
                run: &report,
                week: [1, 60, 190][number % 3],
                week_most: 180.0,
                rules: &rules,
            }),
        );
    }
}

fn levels(said: &mut Said) {
    for number in 0..64_u64 {
        let done: Vec<RunDone> = (0..number % 5)
            .map(|at| RunDone {
                on: day(at * [2, 20][(number / 5 % 2) as usize]),
                level: usize::from(number / 10 % 2 == 1),
                whole: (number + at) % 3 != 0,
                stopped: (number / 20 + at) % 3 == 2,
            })
            .collect();
        let rule = Progression {
            up_after: [1, 3][(number % 2) as usize],
            back_after_days: 14,
        };
        said.take("Level", &level_now(&done, 3, rule, day(30)));
    }
}

fn implements(said: &mut Said) {
    for kind in ImplementKind::all() {
        for mass_kg in [
            None,
            Some(0.2),
            Some(0.25),
            Some(0.31),
            Some(0.36),
            Some(0.9),
        ] {
            let implement = Implement {
                name: "stick".to_owned(),
                kind,
                mass_kg,
                length_m: None,
            };
            for driver in [None, Some(0.315)] {
                let concern = implement.concern(driver, &HouseRules::default());
                said.take("Implement", &concern);
            }
        }
    }
}

/// Groups of children, some of whom are faster with a club of a certain share of their height.
fn groups(said: &mut Said, rng: &mut Pcg64Mcg) {
    for number in 0..48 {
        let children = [0, 1, 3, 9, 26][number % 5];
        let peak = [None, Some(0.6), Some(0.72)][number / 5 % 3];
        let children: Vec<LengthChild> = (0..children)
            .map(|at| {
                let height = 1.2 + 0.4 * rng.random::<f64>();
                let lengths: &[f64] = match at % 3 {
                    _ if at % 8 == 7 => &[],
                    0 => &[0.55, 0.62, 0.7, 0.78],
                    _ => &[0.66],
                };
                let mut swung: Vec<SwungLength> = vec![];
                for share in lengths {
                    let share = share + 0.06 * rng.random::<f64>();
                    let lost = peak.map_or(0.0, |peak: f64| 5.0 * (share - peak).powi(2));
                    let mut speed = || {
                        let normal: f64 = rng.sample(StandardNormal);
                        (26.0 * height / 1.4) * (1.0 - lost) + 0.2 * normal
                    };
                    swung.push(SwungLength {
                        length: share * height,
                        club_speeds: (0..5).map(|_| speed()).collect(),
                        hand_speeds: (0..5 * (number % 2)).map(|_| 0.2 * speed()).collect(),
                    });
                }
                LengthChild {
                    name: "Isa".to_owned(),
                    height: (at % 9 != 4).then_some(height),
                    unmeasured: swung.is_empty() && at % 2 == 1,
                    swung,
                }
            })
            .collect();
        said.take(
            "Club length",
            &club_length(&ClubLengthQuestion {
                children,
                splits: (number % 4 == 3).then(|| vec![1.4]),
                rules: HouseRules::default(),
            }),
        );
    }
}

#[test]
fn every_shape_of_sentence_that_training_ends_with_was_read() {
    let mut said = Said::default();
    let mut rng = Pcg64Mcg::new(29);
    runs(&mut said, &mut rng);
    levels(&mut said);
    implements(&mut said);
    groups(&mut said, &mut rng);
    insta::assert_snapshot!(said.list());
}
