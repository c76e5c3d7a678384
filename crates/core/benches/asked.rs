#![allow(missing_docs)] // shared by the benchmarks
// What the benchmarks ask.

use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::fly;
use tally_core::physics::launch::Launch;
use tally_core::physics::wind::Wind;
use tally_core::reach::reach::{From, ReachQuestion};
use tally_core::reach::window::{Aim, Freedom, Question, Range, Speed, Useful};
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::standing::Shot;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;

/// Launches spread over the useful domain.
pub fn launches(n: usize) -> Vec<Launch> {
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

/// A breeze against, from the right.
pub fn windy() -> Conditions {
    Conditions {
        wind: Some(Wind {
            speed_mps: 6.0,
            from_deg: 30.0,
        }),
        ..Conditions::REFERENCE
    }
}

/// Launch angles and spins of a map.
pub fn sides() -> [Range; 2] {
    [
        Range {
            from: 5.0,
            to: 22.0,
        },
        Range {
            from: 1200.0,
            to: 5000.0,
        },
    ]
}

pub fn window_question() -> Question {
    Question {
        speed: Speed::Club(42.0),
        club: Club::Driver,
        aim: Aim::Carry,
        conditions: Conditions::REFERENCE,
        freedom: Freedom::of(Club::Driver),
        useful: Useful::USUAL,
        tolerance: 3.0,
    }
}

pub fn reach_question() -> ReachQuestion {
    ReachQuestion {
        from: From::Target(200.0),
        club: Club::Driver,
        aim: Aim::Carry,
        conditions: Conditions::REFERENCE,
        freedom: Freedom::of(Club::Driver),
        tolerance: 3.0,
        efficiency: None,
        sessions: vec![],
        rules: HouseRules::default(),
    }
}

/// So many full driver shots.
pub fn shots(n: usize) -> Vec<Shot> {
    launches(n).iter().map(shot).collect()
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
