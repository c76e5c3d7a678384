//! Every shape of sentence that a test can end with.

use crate::said::Said;
use rand::RngExt;
use rand_distr::StandardNormal;
use rand_pcg::Pcg64Mcg;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::plan::Target;
use tally_core::session::purpose::Purpose;
use tally_core::session::read::{Question, read};
use tally_core::shots::ball::Ball;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::standing::Shot;
use tally_core::statistics::looks::Looks;
use tally_core::trials::effort::{EffortQuestion, effort};
use tally_core::trials::hole::{Criterion, Hole};
use tally_core::trials::opening::{OpeningQuestion, opening};
use tally_core::trials::speed_ladder::{LadderBall, speed_ladder};
use tally_core::trials::warm_up_effect::warm_up_effect;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{MPH, YARD};

/// A player as they are: what one swing differs by.
#[derive(Clone, Copy)]
struct Truth {
    /// Club speed of the first block, mph, and what each further one adds.
    speed: [f64; 2],
    /// Carry for each mph, yd.
    per_mph: f64,
    /// Yards of carry that each further block adds at the same speed.
    gain: f64,
    /// Spread of speed, mph, and of side, yd; the latter's share in further blocks.
    spread: [f64; 3],
    /// Speed that comes while warming up, and goes while tiring, mph.
    drift: [f64; 2],
}

fn balls(truth: Truth, blocks: &[&str], each: usize, rng: &mut Pcg64Mcg) -> Vec<LadderBall> {
    let mut all = vec![];
    for (place, label) in blocks.iter().enumerate() {
        for _ in 0..each {
            let order = all.len();
            let [mut normal, mut other]: [f64; 2] =
                [rng.sample(StandardNormal), rng.sample(StandardNormal)];
            // Now and then a mishit.
            if rng.random_bool(0.04) {
                normal *= 3.0;
                other *= 3.0_f64;
            }
            let drift =
                truth.drift[1] * order as f64 - truth.drift[0] * (-(order as f64) / 4.0).exp();
            let speed =
                truth.speed[0] + truth.speed[1] * place as f64 + drift + truth.spread[0] * normal;
            let wide = if place == 0 { 1.0 } else { truth.spread[2] };
            let carry = truth.per_mph * speed + truth.gain * place as f64 + 3.0 * other;
            let side = truth.spread[1] * wide * rng.sample::<f64, _>(StandardNormal);
            let values = [
                (Quantity::ClubSpeed, speed * MPH),
                (Quantity::BallSpeed, speed * 1.45 * MPH),
                (Quantity::SmashFactor, 1.45),
                (Quantity::LaunchAngle, 12.0 + other),
                (Quantity::SpinRate, 2800.0 + 200.0 * normal),
                (Quantity::Carry, carry * YARD),
                (Quantity::Side, side * YARD),
                (Quantity::Apex, 28.0 + other),
                (Quantity::LandingAngle, 38.0 + other),
                (
                    Quantity::VerticalForceLead,
                    150.0 + 10.0 * place as f64 * truth.speed[1].signum() + 5.0 * other,
                ),
                (
                    Quantity::VerticalPeak,
                    0.08 + 0.01 * place as f64 + 0.004 * normal,
                ),
            ];
            let mut reading = Reading::default();
            for (quantity, value) in values {
                reading.set(quantity, value, Provenance::Measured);
            }
            let step = (truth.speed[0] + truth.speed[1] * place as f64) * MPH;
            all.push(LadderBall {
                ball: Ball::new(reading, Club::Driver, order),
                label: (*label).to_owned(),
                target: Some(Target {
                    quantity: Quantity::ClubSpeed,
                    low: Some(step - MPH),
                    high: Some(step + MPH),
                }),
                conditions: Conditions::REFERENCE,
            });
        }
    }
    all
}

/// Truths of all kinds: more, less and the same; narrower and wider; steady and drifting.
fn truths() -> Vec<Truth> {
    let mut all = vec![];
    for speed in [0.0, 2.5, -2.5, 8.0] {
        for gain in [0.0, 9.0, -9.0] {
            for spread in [[0.8, 5.0, 1.0], [2.0, 14.0, 0.35], [2.0, 6.0, 2.5]] {
                for drift in [[0.0, 0.0], [5.0, 0.0], [4.0, -0.12]] {
                    all.push(Truth {
                        speed: [95.0, speed],
                        per_mph: 2.3,
                        gain,
                        spread,
                        drift,
                    });
                }
            }
        }
    }
    all
}

fn blocks_of(purpose: Purpose) -> &'static [&'static str] {
    match purpose {
        Purpose::SpeedDay => &["Usual", "All-out"],
        Purpose::EffortLadder => &["60 %", "80 %", "100 %", "Stock"],
        Purpose::SpeedLadder => &["Step 1", "Step 2", "Step 3", "Step 4"],
        Purpose::Comparison | Purpose::Force => &["Before", "After"],
        _ => &["Stock"],
    }
}

#[test]
fn every_shape_of_sentence_that_a_test_ends_with_was_read() {
    let mut said = Said::default();
    let rules = HouseRules::default();
    let mut rng = Pcg64Mcg::new(7);
    for purpose in Purpose::all() {
        // One block is read alike for most purposes.
        let every = if blocks_of(purpose).len() > 1 { 1 } else { 4 };
        for (number, truth) in truths().into_iter().enumerate().step_by(every) {
            let each = [2, 5, 12][number % 3];
            let hit = balls(truth, blocks_of(purpose), each, &mut rng);
            let plain: Vec<Ball> = hit.iter().map(|one| one.ball.clone()).collect();
            let full: Vec<(String, bool)> = blocks_of(purpose)
                .iter()
                .map(|label| ((*label).to_owned(), *label == "All-out"))
                .collect();
            let opened = opening(&OpeningQuestion {
                player: "Wren",
                purpose,
                shown: purpose.shown(),
                club: Club::Driver,
                conditions: Conditions::REFERENCE,
                balls: &hit,
                bag: &plain,
                full: &full,
                swings: &[],
                last: None,
                window: None,
                reference: None,
                club_gap: (number % 2 == 0).then_some(12.0 * YARD),
                looks: Looks::Once,
                prepared: None,
                rules,
            });
            said.take(purpose.label(), &opened);
            let labelled: Vec<(Ball, String)> = hit
                .iter()
                .map(|one| (one.ball.clone(), one.label.clone()))
                .collect();
            match purpose {
                Purpose::SpeedLadder => said.take("Speed ladder", &speed_ladder(&hit, &rules)),
                Purpose::Benchmark => {
                    said.take("Warm-up effect", &warm_up_effect(&labelled, &rules));
                    let shots: Vec<Shot> = plain.iter().map(shot_of).collect();
                    let question = Question {
                        player: "Wren",
                        club: Club::Driver,
                        conditions: Conditions::REFERENCE,
                        rules,
                        shots: &shots,
                    };
                    said.take("Read", &read(&question));
                }
                Purpose::EffortLadder => {
                    let criteria = [Criterion::Strokes, Criterion::Fairway, Criterion::Distance];
                    let answer = effort(&EffortQuestion {
                        player: "Wren",
                        balls: &labelled,
                        reference: (number % 2 == 0).then_some(105.0 * MPH),
                        criterion: criteria[number / 3 % 3],
                        hole: Hole::usual(&rules),
                        rules,
                    });
                    said.take("Effort ladder", &answer.unwrap());
                }
                _ => {}
            }
        }
    }
    insta::assert_snapshot!(said.list());
}

fn shot_of(ball: &Ball) -> Shot {
    Shot {
        reading: ball.reading.clone(),
        decision: None,
    }
}
