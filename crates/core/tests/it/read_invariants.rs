//! What must hold of a session's reading whatever the shots.

use proptest::prelude::*;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::read::{Question, Report, read};
use tally_core::shots::mark::Decision;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::standing::{Shot, Standing};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::verdicts::verdict::VerdictKind;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Units;

fn ask(shots: &[Shot]) -> Report {
    read(&Question {
        player: "Wren",
        club: Club::Iron6,
        conditions: Conditions::REFERENCE,
        rules: HouseRules::default(),
        shots,
    })
}

fn decision() -> impl Strategy<Value = Option<Decision>> {
    prop_oneof![
        3 => Just(None),
        1 => Just(Some(Decision::Keep)),
        1 => Just(Some(Decision::SetAside)),
    ]
}

/// A shot with any of its values missing, and values anywhere a device may report.
fn shot() -> impl Strategy<Value = Shot> {
    let value = |q: Quantity| prop::option::weighted(0.8, q.range());
    (
        value(Quantity::ClubSpeed),
        value(Quantity::BallSpeed),
        value(Quantity::LaunchAngle),
        value(Quantity::SpinRate),
        value(Quantity::Carry),
        decision(),
    )
        .prop_map(|(club, ball, launch, spin, carry, decision)| {
            let mut reading = Reading::default();
            for (quantity, value) in [
                (Quantity::ClubSpeed, club),
                (Quantity::BallSpeed, ball),
                (Quantity::LaunchAngle, launch),
                (Quantity::SpinRate, spin),
                (Quantity::Carry, carry),
            ] {
                if let Some(si) = value {
                    reading.set(quantity, si, Provenance::Measured);
                }
            }
            Shot { reading, decision }
        })
}

/// A shot of this speed (m/s) and carry (m).
fn swung(club: f64, carry: f64) -> Shot {
    let mut reading = Reading::default();
    reading.set(Quantity::ClubSpeed, club, Provenance::Measured);
    reading.set(Quantity::Carry, carry, Provenance::Measured);
    Shot {
        reading,
        decision: None,
    }
}

/// A shot that every school can judge.
fn sound_shot() -> impl Strategy<Value = Shot> {
    (40.5..42.5f64, 140.0..180.0f64).prop_map(|(club, carry)| swung(club, carry))
}

proptest! {
    #[test]
    fn every_shot_stands_somewhere_and_no_figure_is_nan(shots in prop::collection::vec(shot(), 0..30)) {
        let report = ask(&shots);
        let counts = report.counts;
        prop_assert_eq!(counts.kept + counts.set_aside + counts.doubtful, shots.len());
        // Every number of it, however deep; JSON would hide one as null.
        let all = format!("{report:?}");
        for wrong in ["NaN", ": inf", "-inf"] {
            prop_assert!(!all.contains(wrong), "{}", all);
        }
        prop_assert!(!report.verdict.sentence.show(Units::MphYd).contains("NaN"));
    }

    #[test]
    fn a_decision_of_the_coach_always_wins(shots in prop::collection::vec(shot(), 1..20)) {
        for (shot, says) in shots.iter().zip(ask(&shots).shots) {
            match shot.decision {
                Some(Decision::Keep) => prop_assert_eq!(says.standing, Standing::Kept),
                Some(Decision::SetAside) => prop_assert_eq!(says.standing, Standing::SetAside),
                None => prop_assert_eq!(says.standing == Standing::Doubtful, !says.doubts.is_empty()),
            }
        }
    }

    #[test]
    fn setting_a_shot_aside_is_as_if_it_had_not_been_hit(
        shots in prop::collection::vec(sound_shot(), 3..20), which in 0usize..20,
    ) {
        let which = which % shots.len();
        let mut aside = shots.clone();
        aside[which].decision = Some(Decision::SetAside);
        let mut without = shots.clone();
        without.remove(which);
        prop_assert_eq!(ask(&aside).carry, ask(&without).carry);
        // And with those set aside, nothing has changed at all.
        prop_assert_eq!(ask(&aside).carry_with_set_aside, ask(&shots).carry);
    }

    #[test]
    fn the_same_shots_give_the_same_report_to_the_last_digit(shots in prop::collection::vec(shot(), 0..20)) {
        prop_assert_eq!(ask(&shots), ask(&shots));
    }

    #[test]
    fn a_verdict_agrees_with_its_interval(shots in prop::collection::vec(sound_shot(), 2..40)) {
        let report = ask(&shots);
        let gap = report.carry.gap.unwrap().interval.unwrap();
        let margin = HouseRules::default().carry_margin;
        match report.verdict.kind {
            VerdictKind::Same => prop_assert!(gap.low >= -margin && gap.high <= margin),
            VerdictKind::No => prop_assert!(gap.high < -margin),
            VerdictKind::Yes => prop_assert!(gap.low > margin),
            VerdictKind::CannotTellYet => prop_assert!(
                (gap.low < -margin && gap.high > -margin) || (gap.low < margin && gap.high > margin)
            ),
        }
    }
}

/// A shot at any speed, its carry about what that should give.
fn shot_at_any_speed() -> impl Strategy<Value = Shot> {
    (28.0..46.0f64, -14.0..14.0f64).prop_map(|(club, off)| {
        swung(
            club,
            HouseRules::default().carry_of(Club::Iron6, club) + off,
        )
    })
}

proptest! {
    #[test]
    fn at_several_speeds_the_same_is_said_only_where_every_ball_is_within_the_margin(
        mut shots in prop::collection::vec(shot_at_any_speed(), 3..12),
    ) {
        // Far apart, so that each is judged against its own speed.
        shots[0].reading.set(Quantity::ClubSpeed, 28.0, Provenance::Measured);
        shots[1].reading.set(Quantity::ClubSpeed, 46.0, Provenance::Measured);
        let report = ask(&shots);
        if report.verdict.kind == VerdictKind::Same {
            let margin = HouseRules::default().carry_margin;
            let off = report.shots.iter().filter_map(|shot| shot.gap);
            // A long flight of no use stands apart and is no distance.
            prop_assert!(off.filter(|gap| *gap <= margin).all(|gap| gap >= -margin));
        }
    }

    #[test]
    fn the_best_struck_made_most_of_its_speed_among_the_kept(
        shots in prop::collection::vec(shot_at_any_speed(), 1..20),
    ) {
        let report = ask(&shots);
        let made = |i: usize| {
            let value = |q| shots[i].reading.get(q).unwrap();
            value(Quantity::Carry) / value(Quantity::ClubSpeed)
        };
        let ranked: Vec<usize> = (0..shots.len())
            .filter(|i| report.shots[*i].at_equal_speed.is_some())
            .collect();
        prop_assert_eq!(report.best_struck.is_some(), !ranked.is_empty());
        if let Some(best) = report.best_struck {
            prop_assert!(ranked.iter().all(|i| made(*i) <= made(best.index)));
            prop_assert_eq!(report.shots[best.index].at_equal_speed.unwrap().rank, 1);
        }
    }
}

/// With a known truth well inside the margin, "short" or "further" must be rare.
#[test]
fn a_player_who_carries_what_is_expected_is_seldom_told_otherwise() {
    // A plain congruential generator: reproducible, and good enough for a count.
    let mut state = 1u64;
    let mut uniform = || {
        state = state
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (state >> 11) as f64 / (1u64 << 53) as f64
    };
    let expected = HouseRules::default().carry_of(Club::Iron6, 40.0);
    let mut wrong = 0;
    for _ in 0..400 {
        let shots: Vec<Shot> = (0..10)
            .map(|_| {
                let stray: f64 = (0..12).map(|_| uniform()).sum::<f64>() - 6.0;
                let mut reading = Reading::default();
                reading.set(Quantity::ClubSpeed, 40.0, Provenance::Measured);
                reading.set(
                    Quantity::Carry,
                    expected + 6.0 * stray,
                    Provenance::Measured,
                );
                Shot {
                    reading,
                    decision: None,
                }
            })
            .collect();
        wrong += usize::from(matches!(
            ask(&shots).verdict.kind,
            VerdictKind::Yes | VerdictKind::No
        ));
    }
    assert!(wrong <= 4, "{wrong} of 400");
}
