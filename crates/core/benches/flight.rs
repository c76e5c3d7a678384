//! How fast flights are: `cargo bench -p tally-core`. The yardstick is a plain 1 ms
//! Runge–Kutta of the same equations.

use criterion::{Criterion, criterion_group, criterion_main};
use std::hint::black_box;
use tally_core::air::Conditions;
use tally_core::flight::{Aero, Launch, fly_by_fixed_steps, fly_many, fly_with};
use tally_core::wind::Wind;

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

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(20);
    targets = flights
}
criterion_main!(benches);
