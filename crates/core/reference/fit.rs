// Shared by the calibration of flight and by the test that holds the model's own error to it.

use super::least_squares;
use super::table::{Average, averages, errors, residuals};
use tally_core::physics::launch::Aero;

fn aero(p: &[f64]) -> Aero {
    Aero {
        lift_most: p[0],
        lift_half: p[1],
        drag_spin: p[2],
        drag_half: p[3],
        drag_slow: p[4],
        ..Aero::CALIBRATED
    }
}

/// The coefficients that fit some averages best.
pub fn fitted(averages: &[Average]) -> Aero {
    let found = least_squares::fit(&[0.4, 0.2, 0.2, 0.2, 0.4], |p| errors(averages, &aero(p)));
    aero(&found)
}

/// Residuals of every club by the fit to the others: carry (yd), apex (yd), landing (deg).
pub fn left_out(all: &[Average]) -> Vec<[f64; 3]> {
    (0..all.len())
        .map(|out| {
            let mut others = averages();
            let one = others.remove(out);
            residuals(&[one], &fitted(&others))[0]
        })
        .collect()
}
