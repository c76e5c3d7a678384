//! How fast flights are: `cargo bench -p tally-core`. The yardstick is a plain 1 ms
//! Runge–Kutta of the same equations.

#![allow(missing_docs)] // criterion makes the functions

use criterion::{Criterion, criterion_group, criterion_main};
use std::hint::black_box;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::{fly, fly_by_fixed_steps, fly_many, fly_with};
use tally_core::physics::launch::{Aero, Launch};
use tally_core::physics::wind::Wind;
use tally_core::reach::reach::{From, ReachQuestion, reach};
use tally_core::reach::window::{Aim, Freedom, Question, Range, Speed, Useful, map, window};
use tally_core::session::read::{self, read};
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::standing::Shot;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;

/// Launches spread over the useful domain.
fn launches(n: usize) -> Vec<Launch> {
    (0..n)
        .map(|i| {
            let share = |step: usize| (i * step % n) as f64 / n as f64;
            Launch {
                ball_speed: 30.0 + 50.0 * share(1),
                launch_angle_deg: 5.0 + 30.0 * share(7),
                launch_direction_deg: 0.0,
                spin_rate_rpm: 1500.0 + 7000.0 * share(13),
                spin_axis_deg: 10.0 * share(3) - 5.0,
            }
        })
        .collect()
}

fn flights(bench: &mut Criterion) {
    let calm = Conditions::REFERENCE;
    let windy = Conditions {
        wind: Some(Wind {
            speed_mps: 6.0,
            from_deg: 30.0,
        }),
        ..calm
    };
    let few = launches(100);
    for (name, conditions) in [("calm", &calm), ("windy", &windy)] {
        let air = conditions.air().expect("fair weather");
        bench.bench_function(&format!("100 flights, 1 ms yardstick, {name}"), |b| {
            b.iter(|| {
                for launch in &few {
                    black_box(fly_by_fixed_steps(launch, &air, 1e-3));
                }
            });
        });
        bench.bench_function(&format!("100 flights, one by one, {name}"), |b| {
            b.iter(|| {
                for launch in &few {
                    black_box(fly_with(launch, &air, &Aero::CALIBRATED));
                }
            });
        });
        let many = launches(10_000);
        bench.bench_function(&format!("10000 flights in one call, {name}"), |b| {
            b.iter(|| black_box(fly_many(&many, conditions).expect("within the domain")));
        });
    }
}

fn maps_and_windows(bench: &mut Criterion) {
    let sides = [
        Range {
            from: 5.0,
            to: 22.0,
        },
        Range {
            from: 1200.0,
            to: 5000.0,
        },
    ];
    for (name, aim) in [("carry", Aim::Carry), ("total", Aim::Total)] {
        bench.bench_function(&format!("60 x 60 map of {name} with contours"), |b| {
            b.iter(|| map(67.0, &Conditions::REFERENCE, aim, sides, 4.572, 200.0));
        });
    }
    let question = Question {
        speed: Speed::Club(42.0),
        club: Club::Driver,
        aim: Aim::Carry,
        conditions: Conditions::REFERENCE,
        freedom: Freedom::of(Club::Driver),
        useful: Useful::USUAL,
        tolerance: 3.0,
    };
    bench.bench_function("window of a club speed", |b| b.iter(|| window(&question)));
    let reached = ReachQuestion {
        from: From::Target(200.0),
        club: Club::Driver,
        aim: Aim::Carry,
        conditions: Conditions::REFERENCE,
        freedom: Freedom::of(Club::Driver),
        tolerance: 3.0,
        efficiency: None,
        sessions: vec![],
        rules: HouseRules::default(),
    };
    bench.bench_function("reach of a target", |b| b.iter(|| reach(&reached)));
}

fn sessions(bench: &mut Criterion) {
    for n in [100, 5000] {
        let shots: Vec<Shot> = launches(n).iter().map(shot).collect();
        bench.bench_function(&format!("read of {n} driver shots"), |b| {
            b.iter(|| {
                read(&read::Question {
                    player: "Ilse",
                    club: Club::Driver,
                    conditions: Conditions::REFERENCE,
                    rules: HouseRules::default(),
                    shots: &shots,
                })
            });
        });
    }
}

/// A full reading of a launch.
fn shot(launch: &Launch) -> Shot {
    let carry = fly(launch, &Conditions::REFERENCE)
        .expect("within the domain")
        .carry;
    let mut reading = Reading::default();
    for (quantity, value) in [
        (Quantity::ClubSpeed, launch.ball_speed / 1.45),
        (Quantity::BallSpeed, launch.ball_speed),
        (Quantity::LaunchAngle, launch.launch_angle_deg),
        (Quantity::SpinRate, launch.spin_rate_rpm),
        (Quantity::SpinAxis, launch.spin_axis_deg),
        (Quantity::Carry, carry),
    ] {
        reading.set(quantity, value, Provenance::Measured);
    }
    Shot {
        reading,
        decision: None,
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(20);
    targets = flights, maps_and_windows, sessions
}
criterion_main!(benches);
