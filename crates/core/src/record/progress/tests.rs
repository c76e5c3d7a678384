use super::*;
use crate::vocabulary::units::{MPH, Units};

fn check_ins(days: &[(u64, &[f64])]) -> Vec<CheckIn> {
    let start = NaiveDate::from_ymd_opt(2026, 1, 1).unwrap();
    let told = days
        .iter()
        .enumerate()
        .map(|(session, (day, mph))| CheckIn {
            session,
            date: start + chrono::Days::new(*day),
            values: mph.iter().map(|v| v * MPH).collect(),
            device: 0,
            indoors: None,
            head: None,
        });
    told.collect()
}

fn ask(check_ins: Vec<CheckIn>) -> ProgressQuestion {
    ProgressQuestion {
        quantity: Quantity::ClubSpeed,
        check_ins,
        goal: None,
        benchmark: None,
        rules: HouseRules::default(),
    }
}

fn said(days: &[(u64, &[f64])]) -> String {
    progress(&ask(check_ins(days))).sentence.show(Units::MphYd)
}

#[test]
fn what_is_missing_is_said_and_two_points_make_no_trend() {
    assert_eq!(said(&[]), "No check-in has a club speed yet.");
    assert_eq!(
        said(&[(0, &[100.0, 101.0])]),
        "One day so far: 100.5 mph on average. Another check-in shows whether it changes."
    );
    assert_eq!(
        said(&[(0, &[100.0]), (7, &[104.0])]),
        "100.0 mph, then 104.0 mph: two days make no trend. A third begins to tell."
    );
    // Two sessions of an hour are one day.
    assert!(said(&[(0, &[100.0]), (0, &[104.0])]).starts_with("One day so far: 102.0 mph"));
}

#[test]
fn a_rise_a_plateau_and_an_off_day_are_said_in_that_order() {
    let around = |mid: f64| {
        [
            mid - 1.4,
            mid + 0.9,
            mid + 0.2,
            mid - 0.6,
            mid + 1.1,
            mid - 0.2,
        ]
    };
    let means = [
        100.0, 101.4, 102.6, 104.1, 105.4, 105.3, 105.5, 105.2, 105.5, 101.8,
    ];
    let all: Vec<[f64; 6]> = means.iter().map(|m| around(*m)).collect();
    let days: Vec<(u64, &[f64])> = (0..).step_by(7).zip(all.iter().map(|v| &v[..])).collect();
    let before = said(&days[..9]);
    assert!(
        before.starts_with("Up 5.") && before.contains("; level since "),
        "{before}"
    );
    let after = said(&days);
    assert!(after.contains("Thursday was an off day"), "{after}");
}

#[test]
fn nothing_is_off_or_best_where_more_is_not_better() {
    let days: [(u64, &[f64]); 5] = [
        (0, &[10.0, 11.0]),
        (7, &[10.5, 11.0]),
        (14, &[10.2, 10.9]),
        (21, &[10.4, 10.8]),
        (28, &[2.0, 3.0]),
    ];
    let mut question = ask(check_ins(&days));
    question.quantity = Quantity::LaunchAngle;
    let told = progress(&question);
    assert!(told.days.iter().all(|d| !d.off && d.best.is_none()));
}

#[test]
fn a_day_of_another_year_is_said_with_its_year() {
    let days: Vec<(u64, &[f64])> = vec![
        (0, &[100.0, 101.0]),
        (200, &[100.2, 100.9]),
        (400, &[100.1, 101.2]),
        (407, &[100.0, 101.0]),
    ];
    assert!(said(&days).contains("1 January 2026"), "{}", said(&days));
    assert!(!said(&days[..2]).contains("2026"));
}

#[test]
fn a_value_that_falls_in_every_session_is_told_and_one_that_only_scatters_is_not() {
    let told = |per_ball: f64| {
        let weeks = (0..8u64).map(|week| {
            let balls = (0..10).map(|ball| {
                let scatter = [0.9, -1.1, 0.4, -0.5, 1.2, -0.8, 0.1, 0.6, -1.0, 0.2];
                100.0
                    + per_ball * f64::from(ball)
                    + scatter[(ball as usize * 3 + week as usize) % 10]
            });
            (week * 7, balls.collect::<Vec<f64>>())
        });
        let weeks: Vec<(u64, Vec<f64>)> = weeks.collect();
        let check_ins = weeks
            .iter()
            .enumerate()
            .map(|(session, (day, mph))| CheckIn {
                session,
                date: NaiveDate::from_ymd_opt(2026, 1, 1).unwrap() + chrono::Days::new(*day),
                values: mph.iter().map(|v| v * MPH).collect(),
                device: 0,
                indoors: None,
                head: None,
            });
        progress(&ask(check_ins.collect()))
            .detail
            .show(Units::MphYd)
    };
    let tired = told(-0.3);
    assert!(
        tired.contains("within a session it falls by about 3"),
        "{tired}"
    );
    assert!(!told(0.0).contains("within a session"), "{}", told(0.0));
}
