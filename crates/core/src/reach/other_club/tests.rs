use super::*;
use crate::verdicts::verdict::VerdictKind;
use crate::vocabulary::units::{MPH, Units, YARD};
use proptest::prelude::*;

fn asked(club: Club) -> OtherClubQuestion {
    OtherClubQuestion {
        club,
        conditions: Conditions::REFERENCE,
        delivery: club.sound_delivery(),
        scatter: [0.010, 0.007],
        now: ClubBuild::usual(club),
        other: ClubBuild::usual(club),
        softer_steps: 0.0,
        tee_higher: 0.0,
        tolerance: 2.7,
    }
}

#[test]
fn the_same_other_clubs_nothing() {
    let told = other_club(&asked(Club::Driver)).unwrap();
    assert_eq!(told.verdict.kind, VerdictKind::Same);
    assert_eq!(told.now, told.other);
    assert_eq!((told.levers.len(), told.carry.value), (0, 0.0));
}

#[test]
fn an_inch_is_some_yards_with_a_band_and_a_strike_that_must_not_suffer_too_much() {
    let mut question = asked(Club::Driver);
    question.other.club_length_m += INCH;
    let told = other_club(&question).unwrap();
    let speed = told.levers[0].club_speed;
    // 0.3 of 2.2 % of 96 mph, 0.1 to 0.5 of it.
    assert!((speed.value / MPH - 0.63).abs() < 0.05, "{speed:?}");
    assert!((0.15..0.3).contains(&(speed.low / MPH)) && (0.95..1.15).contains(&(speed.high / MPH)));
    assert!(
        (0.3..3.0).contains(&(told.carry.value / YARD)),
        "{:?}",
        told.carry
    );
    let said = told.verdict.sentence.show(Units::MphYd);
    println!("{said}\n{}", told.verdict.detail.show(Units::MphYd));
    assert!(said.starts_with("1.0 in longer: "), "{said}");
    let gone = told.gone_at.unwrap();
    assert!((1.05..2.5).contains(&gone), "{gone}");
    assert!(said.ends_with("% wider."), "{said}");
}

#[test]
fn the_curve_of_lofts_goes_through_the_two_clubs_that_are_compared() {
    let mut question = asked(Club::Driver);
    question.other.static_loft_deg += 2.0;
    let told = other_club(&question).unwrap();
    let at = |loft: f64| {
        let of = |point: &&LoftPoint| (point.loft_deg - loft).abs() < 1e-9;
        told.lofts.iter().find(of).unwrap().carry
    };
    assert!((at(question.now.static_loft_deg) - told.now.carry).abs() < 1e-6);
    assert!((at(question.other.static_loft_deg) - told.other.carry).abs() < 1e-6);
}

#[test]
fn what_is_not_gained_for_sure_is_not_said_to_be_gone() {
    let mut question = asked(Club::Driver);
    question.other.club_length_m += INCH;
    question.softer_steps = 2.0;
    let told = other_club(&question).unwrap();
    let said = told.verdict.sentence.show(Units::MphYd);
    assert_eq!(
        said.contains("is gone"),
        told.verdict.kind == VerdictKind::Yes,
        "{said}"
    );
    assert_ne!(told.verdict.kind, VerdictKind::Yes, "{said}");
}

#[test]
fn the_loft_for_a_swing_is_told_for_woods_and_more_of_it_for_a_slower_one() {
    let best = |mph: f64, attack: f64| {
        let mut question = asked(Club::Driver);
        question.delivery.club_speed = mph * MPH;
        question.delivery.angle_of_attack_deg = attack;
        let told = other_club(&question).unwrap();
        println!("{}", told.loft_said.unwrap().show(Units::MphYd));
        let of = |a: &&LoftPoint, b: &&LoftPoint| a.carry.total_cmp(&b.carry);
        told.lofts.iter().max_by(of).unwrap().loft_deg
    };
    assert!(best(85.0, 0.0) > best(112.0, 0.0));
    let iron = other_club(&asked(Club::Iron7)).unwrap();
    assert_eq!(iron.loft_said, None);
}

#[test]
fn what_is_out_of_range_is_named_with_the_club_it_is_of() {
    let mut question = asked(Club::Driver);
    question.other.club_length_m = 2.0;
    let refused = other_club(&question).unwrap_err();
    assert_eq!(refused.field, "other.club_length_m");
    let mut question = asked(Club::Driver);
    question.now.static_loft_deg = 90.0;
    let refused = other_club(&question).unwrap_err();
    assert_eq!(refused.field, "now.static_loft_deg");
}

#[test]
fn a_club_longer_than_allowed_is_told_and_both_are_to_be_hit() {
    let mut question = asked(Club::Driver);
    question.other.club_length_m = 1.25;
    let told = other_club(&question).unwrap();
    assert!(told.cautions[0].show(Units::MphYd).contains("48 in"));
    assert!(told.cautions[1].show(Units::MphYd).contains("hit both"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn bands_hold_their_middle_and_no_club_gives_what_physics_does_not(
        club in 0..Club::COUNT,
        share in 0.6..1.1f64,
        inches in -4.0..3.0f64,
        loft in -3.0..3.0f64,
        grams in -30.0..30.0f64,
        softer in -2.0..2.0f64,
        tee in -0.012..0.012f64,
        forgiving in 60.0..150.0f64,
    ) {
        use crate::vocabulary::keyed::Keyed;
        let club = Club::all().nth(club).unwrap();
        let usual = ClubBuild::usual(club);
        let question = OtherClubQuestion {
            delivery: club.reference_delivery(share * club.reference_club_speed()),
            other: ClubBuild {
                club_length_m: usual.club_length_m + inches * INCH,
                static_loft_deg: usual.static_loft_deg + loft,
                head_mass_g: usual.head_mass_g + grams,
                forgiveness_pct: forgiving,
            },
            softer_steps: softer,
            tee_higher: tee,
            ..asked(club)
        };
        let told = other_club(&question).unwrap();
        for of in told.levers.iter().flat_map(|worth| [worth.carry, worth.club_speed]).chain([told.carry]) {
            prop_assert!(of.low <= of.value && of.value <= of.high, "{:?}", of);
        }
        // A longer club is no slower, a heavier head no faster, a ball off a more forgiving one
        // no slower.
        let worth = |lever: Lever| told.levers.iter().find(|w| w.lever == lever);
        if let Some(length) = worth(Lever::Length) {
            prop_assert!(length.club_speed.value * inches >= 0.0);
        }
        if let Some(mass) = worth(Lever::HeadMass) {
            prop_assert!(mass.club_speed.value * grams <= 0.0);
        }
        if let Some(forgiveness) = worth(Lever::Forgiveness) {
            prop_assert_eq!(forgiveness.carry.low, forgiveness.carry.high);
            // It may well be shorter: a ball struck high spins more where the head turns less.
            let faster = forgiveness.outcome.ball_speed - told.now.ball_speed;
            prop_assert!(faster * (forgiving - 100.0) >= -1e-9, "{faster}");
        }
        prop_assert!(told.other.ball_speed / told.other.club_speed < 1.55);
        // What a difference is worth alone is what it is worth where nothing else differs.
        let alone = OtherClubQuestion {
            other: ClubBuild { club_length_m: question.other.club_length_m, ..usual },
            softer_steps: 0.0,
            tee_higher: 0.0,
            ..question
        };
        let alone = other_club(&alone).unwrap().carry;
        prop_assert_eq!(worth(Lever::Length).map_or(alone, |length| length.carry), alone);
    }
}
