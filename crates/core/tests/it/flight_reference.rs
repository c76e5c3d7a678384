//! The flight model against published averages.

use crate::table::{averages, errors, residuals, rms};
use tally_core::physics::launch::Aero;

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
