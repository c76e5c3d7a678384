use super::*;
use crate::shots::mark::Decision;
use crate::shots::reading::Reading;
use crate::verdicts::verdict::VerdictKind;
use crate::vocabulary::units::{MPH, Units, YARD};

pub(super) fn shot(club_mph: f64, carry_yd: f64) -> Shot {
    let mut reading = Reading::default();
    reading.set(Quantity::ClubSpeed, club_mph * MPH, Provenance::Measured);
    reading.set(Quantity::Carry, carry_yd * YARD, Provenance::Measured);
    Shot {
        reading,
        decision: None,
    }
}

/// A 6-iron at two yards a mile an hour, in reference air.
pub(super) fn ask(shots: &[Shot]) -> Report {
    read(&Question {
        player: "Ilse",
        club: Club::Iron6,
        conditions: Conditions::REFERENCE,
        rules: HouseRules::default().with_factor(Club::Iron6, 2.0 * YARD / MPH),
        shots,
    })
}

fn said(report: &Report) -> (String, String) {
    (
        report.verdict.sentence.show(Units::MphYd),
        report.verdict.detail.show(Units::MphYd),
    )
}

#[test]
fn a_set_aside_shot_leaves_the_mean_and_stays_in_the_record() {
    let mut shots = vec![shot(85.0, 170.0), shot(85.0, 172.0), shot(85.0, 120.0)];
    shots[2].decision = Some(Decision::SetAside);
    let report = ask(&shots);
    let carry = report
        .summaries
        .iter()
        .find(|s| s.quantity == Quantity::Carry)
        .unwrap();
    assert!((carry.kept.unwrap().mean / YARD - 171.0).abs() < 1e-9);
    assert!((carry.with_set_aside.unwrap().mean / YARD - 154.0).abs() < 1e-9);
    assert_eq!(report.shots.len(), 3);
    assert_eq!(
        report.counts,
        Counts {
            kept: 2,
            set_aside: 1,
            doubtful: 0
        }
    );
}

#[test]
fn falling_short_beyond_the_margin_is_said_with_how_far() {
    let shots: Vec<_> = (0..12)
        .map(|i| shot(85.0, 154.0 + f64::from(i % 3)))
        .collect();
    let report = ask(&shots);
    assert_eq!(report.verdict.kind, VerdictKind::No);
    let (sentence, detail) = said(&report);
    assert_eq!(
        sentence,
        "Ilse carries 155 yd with the 6-iron, 15 short of what this club speed should give."
    );
    assert!(detail.starts_with("12 shots · 90 % interval"), "{detail}");
}

#[test]
fn within_the_margin_is_said_as_such() {
    let shots: Vec<_> = (0..12)
        .map(|i| shot(85.0, 168.0 + f64::from(i % 3)))
        .collect();
    let report = ask(&shots);
    assert_eq!(report.verdict.kind, VerdictKind::Same);
    assert!(
        said(&report).0.contains("within your 5 yd"),
        "{}",
        said(&report).0
    );
}

#[test]
fn going_beyond_the_speed_is_a_yes() {
    let shots: Vec<_> = (0..12)
        .map(|i| shot(85.0, 184.0 + f64::from(i % 3)))
        .collect();
    assert_eq!(ask(&shots).verdict.kind, VerdictKind::Yes);
}

#[test]
fn a_wide_scatter_cannot_tell_and_says_how_many_more_balls_would() {
    let shots: Vec<_> = (0..6)
        .map(|i| shot(85.0, 150.0 + 8.0 * f64::from(i)))
        .collect();
    let report = ask(&shots);
    assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
    assert!(report.verdict.more_balls.is_some_and(|n| n > 0));
    assert!(
        said(&report).0.contains("more balls"),
        "{}",
        said(&report).0
    );
}

#[test]
fn with_nothing_to_judge_the_sentence_says_what_is_missing() {
    assert!(said(&ask(&[])).0.contains("No shots yet"));
    assert!(said(&ask(&[shot(85.0, 170.0)])).0.contains("one more"));
    let mut blind = vec![shot(85.0, 170.0), shot(85.0, 171.0)];
    for shot in &mut blind {
        shot.reading.0.remove(&Quantity::ClubSpeed);
    }
    let report = ask(&blind);
    assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
    assert!(
        said(&report).0.contains("club speed"),
        "{}",
        said(&report).0
    );
    for shot in &mut blind {
        shot.decision = Some(Decision::SetAside);
    }
    assert!(
        said(&ask(&blind)).0.contains("set aside"),
        "{}",
        said(&ask(&blind)).0
    );
}

#[test]
fn unclaimed_carry_is_the_mean_of_the_kept_shots_and_adds_up() {
    let full = |smash: f64| {
        let mut full = shot(85.0, 150.0);
        let mut set = |q, si| full.reading.set(q, si, Provenance::Measured);
        set(Quantity::BallSpeed, smash * 85.0 * MPH);
        set(Quantity::LaunchAngle, 14.0);
        set(Quantity::SpinRate, 5600.0);
        full
    };
    let mut shots = vec![full(1.30), full(1.28), full(1.0)];
    shots[2].decision = Some(Decision::SetAside);
    let report = ask(&shots);
    let unclaimed = report.unclaimed.unwrap();
    assert_eq!(unclaimed.n, 2);
    let sum: f64 = unclaimed.shares.iter().map(|s| s.carry).sum();
    assert!((sum + unclaimed.unexplained - unclaimed.whole()).abs() < 0.1 * YARD);
    let said = report.unclaimed_said.show(Units::MphYd);
    assert!(said.contains("The most is in ball speed"), "{said}");
    assert!(ask(&[shot(85.0, 170.0)]).unclaimed.is_none());
}

#[test]
fn each_shot_s_own_line_band_needs_enough_shots() {
    let some: Vec<_> = (0..12)
        .map(|i| shot(82.0 + 0.5 * f64::from(i), 165.0 + f64::from(i)))
        .collect();
    let report = ask(&some);
    let band = report.shots[5].by_own_line.unwrap();
    assert!(band.low <= band.carry && band.carry <= band.high);
    assert!((report.own_line.unwrap().slope / (YARD / MPH) - 2.0).abs() < 1e-6);
    assert!(ask(&some[..3]).no_own_line.unwrap().contains("needs 8"));
}

#[test]
fn identical_shots_give_numbers_not_nan() {
    let report = ask(&vec![shot(85.0, 170.0); 5]);
    assert!(!format!("{report:?}").contains("NaN"));
    assert_eq!(report.verdict.kind, VerdictKind::Same);
}

#[test]
fn the_detail_tells_the_result_with_the_shots_set_aside() {
    let mut shots: Vec<_> = (0..12)
        .map(|i| shot(85.0, 168.0 + f64::from(i % 3)))
        .collect();
    shots[0].decision = Some(Decision::SetAside);
    let report = ask(&shots);
    assert!(
        said(&report).1.contains("with the one set aside 169"),
        "{}",
        said(&report).1
    );
    assert!(
        report
            .verdict
            .working
            .results
            .iter()
            .any(|r| r.label.contains("with those set aside"))
    );
}

#[test]
fn calculated_spin_stays_out_of_spin_figures_unless_the_house_allows_it() {
    let spun = |spin: f64, from| {
        let mut shot = shot(85.0, 170.0);
        shot.reading.set(Quantity::SpinRate, spin, from);
        shot
    };
    let shots = [
        spun(6000.0, Provenance::Measured),
        spun(6200.0, Provenance::Measured),
        spun(3000.0, Provenance::Calculated),
    ];
    let spin = |rules: HouseRules| {
        let report = read(&Question {
            player: "Ilse",
            club: Club::Iron6,
            conditions: Conditions::REFERENCE,
            rules,
            shots: &shots,
        });
        let found = report.summaries.into_iter();
        let mut found = found.filter(|s| s.quantity == Quantity::SpinRate);
        found.next().unwrap()
    };
    let strict = spin(HouseRules::default());
    assert_eq!(strict.kept.unwrap().mean, 6100.0);
    assert_eq!((strict.calculated, strict.calculated_left_out), (1, true));
    let mut allowed = HouseRules::default();
    allowed.set("calculated_spin", Some(1.0)).unwrap();
    assert_eq!(spin(allowed).kept.unwrap().n, 3);
}

#[test]
fn a_doubtful_shot_waits_outside_the_figures_until_it_is_kept() {
    let mut wild = shot(85.0, 170.0);
    wild.reading
        .set(Quantity::BallSpeed, 150.0 * MPH, Provenance::Measured);
    let mut shots = vec![shot(85.0, 170.0), wild];
    assert_eq!(ask(&shots).counts.doubtful, 1);
    shots[1].decision = Some(Decision::Keep);
    let report = ask(&shots);
    assert_eq!((report.counts.kept, report.counts.doubtful), (2, 0));
    assert_eq!(report.shots[1].doubts.len(), 1);
}
