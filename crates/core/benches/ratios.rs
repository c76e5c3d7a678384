//! The machine's own ratios: flights against a plain 1 ms Runge–Kutta of the same equations,
//! and the questions that are made of flights, in one run of a few seconds:
//! `cargo bench -p tally-core --bench ratios`. Each figure is the median of nine, with the
//! spread between the quickest and the slowest as the day's noise.

#![allow(missing_docs)] // a program, not a library

#[path = "asked.rs"]
mod asked;

use asked::{launches, reach_question, shots, sides, window_question, windy};
use std::hint::black_box;
use std::time::Instant;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::{fly_by_fixed_steps, fly_many, fly_with};
use tally_core::reach::reach::reach;
use tally_core::reach::window::{Aim, map, window};
use tally_core::session::read::{self, read};
use tally_core::verdicts::house_rules::HouseRules;

/// Median seconds of nine runs, and how much longer the slowest took than the quickest.
fn timed(mut work: impl FnMut()) -> (f64, f64) {
    work();
    let mut seconds: Vec<f64> = (0..9)
        .map(|_| {
            let began = Instant::now();
            work();
            began.elapsed().as_secs_f64()
        })
        .collect();
    seconds.sort_by(f64::total_cmp);
    (seconds[4], seconds[8] / seconds[0] - 1.0)
}

fn main() {
    let (few, many) = (launches(60), launches(40_000));
    for (name, conditions) in [("calm", Conditions::REFERENCE), ("windy", windy())] {
        let air = conditions.air().expect("fair weather");
        let (yardstick, noise) = timed(|| {
            for launch in &few {
                black_box(fly_by_fixed_steps(launch, &air, 1e-3));
            }
        });
        let (one, noise_one) = timed(|| {
            for launch in few.iter().cycle().take(3000) {
                black_box(fly_with(launch, &air));
            }
        });
        let (all, noise_all) = timed(|| {
            black_box(fly_many(&many, &conditions).expect("within the domain"));
        });
        let (yardstick, one) = (yardstick / few.len() as f64, one / 3000.0);
        let all = all / many.len() as f64;
        println!(
            "{name}: yardstick {:.0} µs a flight (± {:.0} %)",
            1e6 * yardstick,
            50.0 * noise
        );
        println!(
            "  one flight {:.2} µs, {:.0} times faster (± {:.0} %)",
            1e6 * one,
            yardstick / one,
            50.0 * noise_one
        );
        println!(
            "  one of {} in one call {:.3} µs, {:.0} times faster (± {:.0} %)",
            many.len(),
            1e6 * all,
            yardstick / all,
            50.0 * noise_all
        );
    }
    questions();
}

fn questions() {
    let told = |name: &str, (seconds, noise): (f64, f64)| {
        println!("{name}: {:.2} ms (± {:.0} %)", 1e3 * seconds, 50.0 * noise);
    };
    for (name, aim) in [("carry", Aim::Carry), ("total", Aim::Total)] {
        let draw = || map(67.0, &Conditions::REFERENCE, aim, sides(), 4.572, 200.0);
        told(
            &format!("60 x 60 map of {name}"),
            timed(|| drop(black_box(draw()))),
        );
    }
    let question = window_question();
    told(
        "window of a club speed",
        timed(|| drop(black_box(window(&question)))),
    );
    let question = reach_question();
    told(
        "reach of a target",
        timed(|| drop(black_box(reach(&question)))),
    );
    for n in [100, 5000] {
        let shots = shots(n);
        let question = read::Question {
            player: "Ilse",
            club: Club::Driver,
            conditions: Conditions::REFERENCE,
            rules: HouseRules::default(),
            shots: &shots,
        };
        told(
            &format!("read of {n} full driver shots"),
            timed(|| drop(black_box(read(&question)))),
        );
    }
}
