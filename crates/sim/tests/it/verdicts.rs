//! Verdicts held against virtual golfers, whose truth is known.

use rand::SeedableRng;
use rand_pcg::Pcg64;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::test_plan::balanced_order;
use tally_core::shots::ball::Ball;
use tally_core::statistics::looks::Looks;
use tally_core::statistics::summary::Estimate;
use tally_core::trials::compare::{BallSet, CompareQuestion, compare};
use tally_core::trials::effort::{EffortQuestion, EffortReport, effort};
use tally_core::trials::hole::{Criterion, Hole};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_sim::golfer::{Form, GOLFERS, Golfer};
use tally_sim::monitor::Monitor;
use tally_sim::practice::effort_of;

const WAYS: [&str; 7] = ["50 %", "60 %", "70 %", "80 %", "90 %", "100 %", "Stock"];

fn ball(golfer: &Golfer, form: Form, order: usize, rng: &mut Pcg64) -> Ball {
    let truth = golfer.swing_in(form, Club::Driver, &Conditions::REFERENCE, rng);
    Ball::new(Monitor::Radar.watch(&truth, rng), Club::Driver, order)
}

/// A whole effort ladder from the first cold swing on.
fn ladder(golfer: &Golfer, seed: u64) -> EffortReport {
    let mut rng = Pcg64::seed_from_u64(seed);
    let mut balls = Vec::new();
    for way in balanced_order(WAYS.len(), 2) {
        for _ in 0..3 {
            let form = Form {
                swings: balls.len() as u32,
                effort: effort_of(WAYS[way]),
            };
            let hit = ball(golfer, form, balls.len(), &mut rng);
            balls.push((hit, WAYS[way].to_owned()));
        }
    }
    let rules = HouseRules::default();
    effort(&EffortQuestion {
        player: "Dov",
        balls: &balls,
        reference: None,
        criterion: Criterion::Fairway,
        hole: Hole::usual(&rules),
        rules,
    })
    .unwrap()
}

/// A golfer who never mishits, so that the model's truth is the whole truth.
fn clean(place: usize) -> Golfer {
    Golfer {
        mishits: 0.0,
        ..GOLFERS[place]
    }
}

fn holds(estimate: &Estimate, truth: f64) -> bool {
    (estimate.low..=estimate.high).contains(&truth)
}

#[test]
fn stock_s_place_and_the_slope_of_effort_are_found_as_often_as_they_say() {
    let golfer = clean(1);
    // Speed share 0.5 + 0.5·effort, where full is 1.06 and stock 1.
    let usual = golfer.speed_share * Club::Driver.reference_club_speed();
    let slope = 0.05 * 1.06 * usual;
    let (mut placed, mut sloped) = (0, 0);
    for seed in 0..100 {
        let report = ladder(&golfer, seed);
        placed += usize::from(holds(&report.stock_at.unwrap(), 1.0 / 1.06));
        sloped += usize::from(holds(&report.slope.unwrap(), slope));
    }
    // 90 of 100, within three standard errors; stock's place is told with the doubt of
    // both stock and curve, which is more than enough.
    assert!((81..=99).contains(&sloped), "{sloped}");
    assert!(placed >= 81, "{placed}");
}

#[test]
fn a_tighter_pattern_is_seen_and_an_equal_one_is_not_called_tighter() {
    let narrower = |share: f64, seed: u64| {
        let mut rng = Pcg64::seed_from_u64(seed);
        let golfer = clean(2);
        let tight = Golfer {
            scatter: golfer.scatter * share,
            ..golfer
        };
        let mut sets = [Vec::new(), Vec::new()];
        for (order, which) in balanced_order(2, 2).into_iter().enumerate() {
            for i in 0..10 {
                let golfer = if which == 0 { &golfer } else { &tight };
                let hit = ball(golfer, Form::USUAL, 10 * order + i, &mut rng);
                sets[which].push(hit);
            }
        }
        let [usual, quiet] = sets;
        let set = |label: &str, balls| BallSet {
            ball: None,
            label: label.to_owned(),
            balls,
        };
        let report = compare(&CompareQuestion {
            quantity: Quantity::Carry,
            sets: vec![set("Usual", usual), set("Quiet", quiet)],
            margin: None,
            fairway_width: None,
            club_gap: None,
            order_in: true,
            looks: Looks::Once,
            prepared: None,
            others: vec![],
            chosen_of: None,
            rules: HouseRules::default(),
        })
        .unwrap();
        report.differences[0].side_spread.unwrap().ratio.high < 1.0
    };
    let often = |share| (0..100).filter(|seed| narrower(share, *seed)).count();
    let (half, equal) = (often(0.45), often(1.0));
    assert!(half >= 75, "{half}");
    // Five of a hundred, and three standard errors.
    assert!(equal <= 12, "{equal}");
}
