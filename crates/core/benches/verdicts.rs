//! What judging tests costs, for a usual and for a very long one.

#![allow(missing_docs, reason = "criterion makes a public function")]

use chrono::{Duration, NaiveDate};
use criterion::{Criterion, criterion_group, criterion_main};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::shots::ball::Ball;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::statistics::looks::Looks;
use tally_core::training::calendar::lay_out;
use tally_core::training::programme::{
    Away, MixPart, Programme, ProgrammeAct, Progression, TrainingDay,
};
use tally_core::trials::compare::{BallSet, CompareQuestion, compare};
use tally_core::trials::effort::{EffortQuestion, effort};
use tally_core::trials::hole::{Choice, Criterion as LooksFor, Hole, hole};
use tally_core::trials::speed_ladder::{LadderBall, speed_ladder};
use tally_core::trials::warm_up_effect::warm_up_effect;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use uuid::Uuid;

fn balls(n: usize) -> Vec<Ball> {
    (0..n)
        .map(|i| {
            // A walk that fills the range without a pattern to the eye.
            let part = |k: usize| (i * k % 97) as f64 / 97.0 - 0.5;
            let speed = 44.0 + 6.0 * part(31);
            let mut reading = Reading::default();
            for (quantity, value) in [
                (Quantity::ClubSpeed, speed),
                (Quantity::BallSpeed, 1.46 * speed),
                (Quantity::LaunchAngle, 12.0 + 2.0 * part(13)),
                (Quantity::SpinRate, 2700.0 + 400.0 * part(17)),
                (Quantity::SpinAxis, 8.0 * part(41)),
                (Quantity::Carry, 4.6 * speed + 15.0 * part(53)),
                (Quantity::Side, 40.0 * part(61)),
            ] {
                reading.set(quantity, value, Provenance::Measured);
            }
            Ball::new(reading, Club::Driver, i)
        })
        .collect()
}

fn verdicts(bench: &mut Criterion) {
    let rules = HouseRules::default();
    for n in [100, 5000] {
        let all = balls(n);
        let labelled = |ways: &[&str]| -> Vec<(Ball, String)> {
            let label = |i: usize| ways[i * 10 / n % ways.len()].to_owned();
            let named = all.iter().cloned().enumerate();
            named.map(|(i, ball)| (ball, label(i))).collect()
        };
        let set = |label: &str, even: usize| BallSet {
            ball: None,
            label: label.to_owned(),
            balls: all
                .iter()
                .filter(|b| b.order % 2 == even)
                .cloned()
                .collect(),
        };
        let question = CompareQuestion {
            quantity: Quantity::Carry,
            sets: vec![set("A", 0), set("B", 1)],
            margin: None,
            fairway_width: None,
            club_gap: None,
            order_in: true,
            looks: Looks::Once,
            prepared: None,
            others: vec![],
            chosen_of: None,
            rules,
        };
        bench.bench_function(&format!("comparison of {n} balls"), |b| {
            b.iter(|| compare(&question))
        });
        let feels = labelled(&["50 %", "60 %", "70 %", "80 %", "90 %", "100 %", "Stock"]);
        bench.bench_function(&format!("effort ladder of {n} balls"), |b| {
            b.iter(|| {
                effort(&EffortQuestion {
                    player: "Dov",
                    balls: &feels,
                    reference: None,
                    criterion: LooksFor::Strokes,
                    hole: Hole::usual(&rules),
                    rules,
                })
            })
        });
        let stock = labelled(&["Stock"]);
        bench.bench_function(&format!("warm-up of {n} swings"), |b| {
            b.iter(|| warm_up_effect(&stock, &rules))
        });
        let ladder: Vec<LadderBall> = all
            .iter()
            .map(|ball| LadderBall {
                ball: ball.clone(),
                label: "Step".to_owned(),
                target: None,
                conditions: Conditions::REFERENCE,
            })
            .collect();
        bench.bench_function(&format!("speed ladder of {n} balls"), |b| {
            b.iter(|| speed_ladder(&ladder, &rules))
        });
        let choices: Vec<Choice> = [0, 1]
            .map(|even| Choice {
                label: even.to_string(),
                balls: set("", even).balls,
            })
            .into();
        bench.bench_function(&format!("a hole, two choices, {n} balls"), |b| {
            b.iter(|| hole(&Hole::usual(&rules), &choices, LooksFor::Strokes, &rules))
        });
    }
}

/// A year of three sessions a week on four days, with sessions moved and an illness.
fn programme(bench: &mut Criterion) {
    let begins = NaiveDate::from_ymd_opt(2026, 1, 5).expect("a day");
    let year = Programme {
        name: "A year".to_owned(),
        begins,
        weeks: 52,
        days: vec![
            TrainingDay::Monday,
            TrainingDay::Wednesday,
            TrainingDay::Friday,
            TrainingDay::Saturday,
        ],
        rest_days: 1,
        mix: vec![
            MixPart {
                protocol: Uuid::from_u128(1),
                a_week: 2,
            },
            MixPart {
                protocol: Uuid::from_u128(2),
                a_week: 1,
            },
        ],
        check_in_weeks: 4,
        lighter_weeks: 4,
        progression: Progression {
            up_after: 3,
            back_after_days: 14,
        },
        at: None,
        zone: "UTC".to_owned(),
    };
    let on = |days| begins + Duration::days(days);
    let mut acts: Vec<ProgrammeAct> = (0..40)
        .map(|week| ProgrammeAct::Move {
            from: on(7 * week + 4),
            to: on(7 * week + 5),
        })
        .collect();
    acts.push(ProgrammeAct::Away {
        from: on(100),
        to: Some(on(110)),
        why: Away::Ill,
        note: String::new(),
    });
    assert!(!lay_out(&year, &acts).is_empty(), "it fits its days");
    bench.bench_function("a year laid out, 41 changes", |b| {
        b.iter(|| lay_out(&year, &acts))
    });
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = verdicts, programme
}
criterion_main!(benches);
