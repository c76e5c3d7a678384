//! The flight model against published averages.

use crate::fit::left_out;
use crate::impact::club_of;
use crate::table::{averages, errors, residuals, rms, rms_of};
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::{FLIGHT_ERROR, SWING_ERROR, fly};
use tally_core::physics::furthest::furthest_carry;
use tally_core::physics::launch::Aero;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::units::YARD;

#[test]
fn carry_apex_and_landing_angle_agree_with_published_averages() {
    let rows = residuals(&averages(), &Aero::CALIBRATED);
    let (carry, apex, landing) = (rms(&rows, 0), rms(&rows, 1), rms(&rows, 2));
    assert!(carry <= 3.0, "carry {carry} yd rms");
    assert!(apex <= 2.0, "apex {apex} yd rms");
    assert!(landing <= 3.0, "landing angle {landing} deg rms");
}

#[test]
fn no_club_is_off_by_more_than_eight_yards() {
    let averages = averages();
    for (average, row) in averages.iter().zip(residuals(&averages, &Aero::CALIBRATED)) {
        assert!(row[0].abs() <= 8.0, "{}: {:+.1} yd", average.club, row[0]);
    }
}

/// Changing any coefficient by 2 % must not fit better: the constants in the code
/// are the ones that the calibration finds.
#[test]
fn the_coefficients_are_the_best_fit() {
    let averages = averages();
    let cost = |aero: &Aero| -> f64 { errors(&averages, aero).iter().map(|e| e * e).sum() };
    let fields: [fn(&mut Aero) -> &mut f64; 5] = [
        |a| &mut a.lift_most,
        |a| &mut a.lift_half,
        |a| &mut a.drag_spin,
        |a| &mut a.drag_half,
        |a| &mut a.drag_slow,
    ];
    let best = cost(&Aero::CALIBRATED);
    for (i, field) in fields.iter().enumerate() {
        for factor in [0.98, 1.02] {
            let mut moved = Aero::CALIBRATED;
            *field(&mut moved) *= factor;
            assert!(
                cost(&moved) > best,
                "coefficient {i} times {factor} fits better"
            );
        }
    }
}

/// What the model says of its own error is what it misses when it has not seen a club.
#[test]
fn the_model_s_own_errors_are_what_it_misses() {
    let all = averages();
    let missed = left_out(&all);
    let shares = missed
        .iter()
        .zip(&all)
        .map(|(miss, row)| miss[0] / row.carry_yd);
    let flight = rms_of(shares);
    assert!((flight - FLIGHT_ERROR).abs() < 0.002, "flight {flight}");
    let swung = all.iter().enumerate().map(|(place, row)| {
        let club = club_of(place);
        let launch = club.reference_launch(club.reference_club_speed());
        let carry = fly(&launch, &Conditions::REFERENCE).unwrap().carry / YARD;
        carry / row.carry_yd - 1.0
    });
    let swing = rms_of(swung.collect::<Vec<_>>().into_iter());
    assert!((swing - SWING_ERROR).abs() < 0.004, "swing {swing}");
}

/// What the house calls solid is what the reference averages make of the furthest, or a
/// little less.
#[test]
fn solid_is_what_published_averages_make_of_the_furthest() {
    let rules = HouseRules::default();
    let all = averages();
    for (name, clubs) in [("woods", 0..3), ("irons", 3..12)] {
        let n = clubs.len() as f64;
        let (mut published, mut asked) = (0.0, 0.0);
        for (club, row) in clubs.map(|place| (club_of(place), &all[place])) {
            let furthest = furthest_carry(club, club.reference_club_speed()) / YARD;
            published += row.carry_yd / furthest / n;
            asked += rules.solid(club) / n;
        }
        assert!(
            (-0.005..0.02).contains(&(published - asked)),
            "{name} {published} {asked}"
        );
    }
}
