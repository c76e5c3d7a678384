//! Every shape of sentence that a player's months can end with.

use crate::said::Said;
use chrono::{Days, NaiveDate};
use rand::RngExt;
use rand_distr::StandardNormal;
use rand_pcg::Pcg64Mcg;
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::record::figures::{Best, Series, SessionFigures};
use tally_core::record::flags::flags;
use tally_core::record::gapping::{BagBall, EffortBall, GappingQuestion, bag_read};
use tally_core::record::goal::Goal;
use tally_core::record::next::{Landed, NextQuestion, OpenTest, RankedBy, next};
use tally_core::record::peers::{COMPARED, Peer, PeersQuestion, PeersTold, Usual, peers};
use tally_core::record::progress::ProgressRead;
use tally_core::record::records::records;
use tally_core::record::reference_levels::ours;
use tally_core::record::series::{Occasion, SeriesKey, follow};
use tally_core::record::went::{Steps, where_it_went};
use tally_core::shots::ball::Ball;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::statistics::summary::Estimate;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::units::{MPH, YARD};

/// A player's months.
#[derive(Clone, Copy)]
struct Months {
    days: usize,
    /// Days from one to the next.
    apart: u64,
    /// Speed that is won by the last day, mph, and from which day on nothing more.
    won: f64,
    level_from: usize,
    /// Smash factor that goes with it.
    smash: f64,
    /// Spread of one swing, mph, and of one day.
    spread: [f64; 2],
    /// Whether half-way another device reads it.
    other_device: bool,
}

fn day(number: u64) -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 1, 5).unwrap() + Days::new(number)
}

fn all_months() -> Vec<Months> {
    let mut all = vec![];
    for (days, apart) in [(1, 7), (2, 21), (4, 7), (9, 7), (16, 10), (8, 60)] {
        for (won, smash) in [
            (0.0, 0.0),
            (1.0, 0.0),
            (7.0, 0.0),
            (7.0, -0.07),
            (-5.0, 0.02),
        ] {
            for level_from in [days, days / 2] {
                for (spread, other_device) in [([0.5, 0.2], false), ([1.5, 1.2], true)] {
                    all.push(Months {
                        days,
                        apart,
                        won,
                        level_from,
                        smash,
                        spread,
                        other_device,
                    });
                }
            }
        }
    }
    all
}

fn occasions(months: Months, rng: &mut Pcg64Mcg) -> Vec<Occasion> {
    let mut all = vec![];
    for number in 0..months.days {
        let done = number.min(months.level_from) as f64 / months.level_from.max(1) as f64;
        let normal: f64 = rng.sample(StandardNormal);
        let of_the_day = 95.0 + months.won * done + months.spread[1] * normal;
        let smash = 1.46 + months.smash * done;
        let mut figures = SessionFigures::default();
        for (series, more) in [(Series::Usual, 0.0), (Series::AllOut, 4.0)] {
            let mut values: [Vec<f64>; 4] = Default::default();
            for _ in 0..8 {
                let normal: f64 = rng.sample(StandardNormal);
                let speed = of_the_day + more + months.spread[0] * normal;
                let each = [
                    speed * MPH,
                    speed * smash * MPH,
                    smash,
                    1.6 * speed * smash * YARD,
                ];
                values
                    .iter_mut()
                    .zip(each)
                    .for_each(|(all, one)| all.push(one));
            }
            let quantities = [
                Quantity::ClubSpeed,
                Quantity::BallSpeed,
                Quantity::SmashFactor,
                Quantity::Carry,
            ];
            for (quantity, values) in quantities.into_iter().zip(values) {
                if let Some(best) = Best::of(&values) {
                    figures.bests.insert((Club::Driver, quantity), best);
                }
                figures
                    .series
                    .insert((series, Club::Driver, quantity), values);
            }
        }
        all.push(Occasion {
            date: day(number as u64 * months.apart),
            device: usize::from(months.other_device && number >= months.days / 2),
            indoors: (number.is_multiple_of(3)).then_some(number.is_multiple_of(2)),
            head: None,
            figures,
        });
    }
    all
}

#[test]
fn every_shape_of_sentence_that_months_end_with_was_read() {
    let mut said = Said::default();
    let rules = HouseRules::default();
    let mut rng = Pcg64Mcg::new(11);
    for (number, months) in all_months().into_iter().enumerate() {
        let told = occasions(months, &mut rng);
        let goal = [None, Some(None), Some(Some(day(300)))][number % 3];
        let goal = goal.map(|by| Goal {
            value: [98.0, 104.0, 130.0][number / 3 % 3] * MPH,
            by,
        });
        let read = |series, quantity| {
            let key = SeriesKey::hit(series, Club::Driver, quantity);
            let goal = goal.filter(|_| quantity == Quantity::ClubSpeed);
            follow(
                &told,
                &key,
                goal,
                (number.is_multiple_of(2)).then_some(0),
                &rules,
            )
        };
        let [all_out, usual] =
            [Series::AllOut, Series::Usual].map(|s| read(s, Quantity::ClubSpeed));
        let [ball, smash, carry] = [Quantity::BallSpeed, Quantity::SmashFactor, Quantity::Carry]
            .map(|quantity| read(Series::Usual, quantity));
        let of_all: [&ProgressRead; 5] = [&all_out, &usual, &ball, &smash, &carry];
        of_all.iter().for_each(|read| said.take("Record", read));
        let fitted = (number % 2 == 1).then(|| day(3));
        said.take(
            "To look at",
            &flags(&usual, Some(Club::Driver), fitted, &rules),
        );
        said.take("Records", &records(&told));
        let steps = Steps {
            implement: None,
            all_out: Some(&all_out),
            usual: Some(&usual),
            ball_speed: Some(&ball),
            smash: Some(&smash),
            carry: Some(&carry),
        };
        said.take(
            "Where it went",
            &where_it_went(&steps, Club::Driver, &rules),
        );
        let change = usual.changes.first().cloned();
        for by in [RankedBy::Score, RankedBy::Distance] {
            said.take(
                "What next",
                &next(&asked_next(number, by, change.clone(), &mut rng)),
            );
        }
    }
    for number in 0..240 {
        let quantity = COMPARED[number % COMPARED.len()];
        said.take("Among others", &among(number, quantity, &mut rng));
    }
    for number in 0..60 {
        said.take("Bag", &bag_read(&bag(number, &mut rng)));
    }
    insta::assert_snapshot!(said.list());
}

fn asked_next(
    number: usize,
    by: RankedBy,
    trend: Option<tally_core::record::progress::LevelChange>,
    rng: &mut Pcg64Mcg,
) -> NextQuestion {
    let around = |value: f64, error: f64| Estimate {
        value,
        low: value - error,
        high: value + error,
        n: 12,
    };
    let wide = [6.0, 14.0, 30.0][number % 3];
    let mut landed = vec![];
    for _ in 0..[0, 4, 12][number / 3 % 3] {
        let [along, across]: [f64; 2] = [rng.sample(StandardNormal), rng.sample(StandardNormal)];
        let aim = if number.is_multiple_of(2) { 0.0 } else { 14.0 };
        landed.push(Landed {
            carry: (200.0 + 6.0 * along) * YARD,
            side: (aim + wide * across) * YARD,
        });
    }
    NextQuestion {
        today: day(120),
        club: Club::Driver,
        usual: (!number.is_multiple_of(5)).then(|| around(96.0 * MPH, 0.5 * MPH)),
        fast: [None, Some(97.0), Some(103.0)][number % 3].map(|mph| around(mph * MPH, 0.7 * MPH)),
        trend,
        peers: if number.is_multiple_of(4) {
            PeersTold::default()
        } else {
            among(number, Quantity::ClubSpeed, rng)
        },
        growing: number.is_multiple_of(7),
        claimed: vec![],
        landed,
        carries: [
            (Club::Driver, 205.0),
            (Club::Iron6, 160.0),
            (Club::Iron9, 116.0),
        ]
        .map(|(club, yards)| (club, around(yards * YARD, 2.0 * YARD)))
        .to_vec(),
        spin_measured: [None, Some(day(2)), Some(day(110))][number % 3],
        open: (number % 6 == 1)
            .then(|| OpenTest {
                key: "swing".to_owned(),
                told: Sentence::of("It cannot be told yet."),
                day: day(90),
            })
            .into_iter()
            .collect(),
        chosen: vec![],
        by,
        rules: HouseRules::default(),
    }
}

fn among(number: usize, quantity: Quantity, rng: &mut Pcg64Mcg) -> PeersTold {
    let levels: Vec<PlayingLevel> = PlayingLevel::all().collect();
    let some_level = |i: usize| (!i.is_multiple_of(3)).then(|| levels[i % levels.len()]);
    let some_year =
        |i: usize| (!i.is_multiple_of(4)).then(|| [2013, 2008, 1996, 1971, 1955][i % 5]);
    let scale = match quantity {
        Quantity::Carry => YARD,
        Quantity::SmashFactor => 0.015,
        _ => MPH,
    };
    let others: Vec<Peer> = (0..[0, 5, 12, 40, 90][number % 5])
        .map(|i| Peer {
            value: (94.0 + 8.0 * rng.sample::<f64, _>(StandardNormal)) * scale,
            born: if number.is_multiple_of(2) {
                some_year(number)
            } else {
                some_year(i)
            },
            level: if number.is_multiple_of(3) {
                some_level(number)
            } else {
                some_level(i)
            },
        })
        .collect();
    let reference = ours();
    peers(&PeersQuestion {
        own: (!number.is_multiple_of(9)).then(|| Usual {
            club: Club::Driver,
            quantity,
            value: [70.0, 94.0, 125.0][number / 5 % 3] * scale,
            day: day(100),
        }),
        club: Club::Driver,
        quantity,
        born: some_year(number),
        level: some_level(number),
        year: 2026,
        others: &others,
        reference: if number.is_multiple_of(2) {
            &reference
        } else {
            &[]
        },
    })
}

fn bag(number: usize, rng: &mut Pcg64Mcg) -> GappingQuestion {
    let sets: [&[(Club, f64)]; 4] = [
        &[(Club::Driver, 240.0)],
        &[(Club::Driver, 240.0), (Club::Iron6, 168.0)],
        &[
            (Club::Driver, 240.0),
            (Club::Wood5, 208.0),
            (Club::Hybrid, 205.0),
            (Club::Iron6, 168.0),
            (Club::Iron7, 171.0),
            (Club::Iron9, 130.0),
        ],
        &[
            (Club::Driver, 214.0),
            (Club::Iron6, 168.0),
            (Club::Iron7, 156.0),
            (Club::Iron8, 144.0),
            (Club::Iron9, 132.0),
        ],
    ];
    let clubs = sets[number % 4];
    let n = [1, 4, 9, 30][number / 4 % 4];
    let mut balls = vec![];
    for (club, yards) in clubs {
        for order in 0..n {
            let normal: f64 = rng.sample(StandardNormal);
            let carry = yards * (1.0 + [0.02, 0.07][number % 2] * normal);
            let mut reading = Reading::default();
            for (quantity, si) in [
                (Quantity::ClubSpeed, yards * 0.42 * MPH),
                (Quantity::BallSpeed, yards * 0.6 * MPH),
                (Quantity::Carry, carry * YARD),
                (Quantity::Side, 8.0 * normal * YARD),
            ] {
                reading.set(quantity, si, Provenance::Measured);
            }
            balls.push(BagBall {
                ball: Ball {
                    session: order % 2,
                    ..Ball::new(reading, *club, order)
                },
                conditions: Conditions::REFERENCE,
                on: day(20 * (order % 2) as u64),
                kind: if number % 5 == 4 {
                    BallKind::Range
                } else {
                    BallKind::Premium
                },
            });
        }
    }
    let efforts = balls.iter().filter(|ball| ball.ball.club == Club::Iron6);
    let efforts = efforts
        .take(if number.is_multiple_of(3) { 4 } else { 0 })
        .map(|ball| {
            let mut ball = ball.clone();
            ball.ball
                .reading
                .set(Quantity::Carry, 149.0 * YARD, Provenance::Measured);
            EffortBall { share: 0.8, ball }
        });
    GappingQuestion {
        efforts: efforts.collect(),
        lofts: if number.is_multiple_of(2) {
            vec![
                (Club::Iron6, 29.0),
                (Club::Iron9, 41.0),
                (Club::Driver, 10.5),
            ]
        } else {
            vec![]
        },
        replaced: if number.is_multiple_of(7) {
            vec![Club::Iron6]
        } else {
            vec![]
        },
        balls,
        air: Conditions::REFERENCE,
        rules: HouseRules::default(),
    }
}
