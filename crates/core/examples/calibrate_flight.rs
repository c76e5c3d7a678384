//! Fits the flight coefficients to the reference averages and prints them with
//! their residuals: `cargo run --release -p tally-core --example calibrate_flight`.
//!
//! Levenberg & Marquardt on 36 weighted residuals and five coefficients.

#[path = "../reference/table.rs"]
mod table;

use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::{Dyn, Matrix, OVector, Owned, U5, VecStorage};
use table::{Average, WEIGHTS, averages, residuals, rms};
use tally_core::flight::Aero;

struct Fit {
    averages: Vec<Average>,
    at: OVector<f64, U5>,
}

fn aero(p: &OVector<f64, U5>) -> Aero {
    Aero {
        lift_most: p[0],
        lift_half: p[1],
        drag_spin: p[2],
        drag_half: p[3],
        drag_slow: p[4],
        ..Aero::CALIBRATED
    }
}

impl Fit {
    fn errors(&self, p: &OVector<f64, U5>) -> OVector<f64, Dyn> {
        let rows = residuals(&self.averages, &aero(p));
        OVector::<f64, Dyn>::from_iterator(
            rows.len() * 3,
            rows.iter().flat_map(|r| (0..3).map(|i| r[i] / WEIGHTS[i])),
        )
    }
}

impl LeastSquaresProblem<f64, Dyn, U5> for Fit {
    type ResidualStorage = VecStorage<f64, Dyn, nalgebra::U1>;
    type JacobianStorage = Owned<f64, Dyn, U5>;
    type ParameterStorage = Owned<f64, U5>;

    fn set_params(&mut self, p: &OVector<f64, U5>) {
        self.at = *p;
    }

    fn params(&self) -> OVector<f64, U5> {
        self.at
    }

    fn residuals(&self) -> Option<OVector<f64, Dyn>> {
        Some(self.errors(&self.at))
    }

    fn jacobian(&self) -> Option<Matrix<f64, Dyn, U5, Self::JacobianStorage>> {
        let columns: Vec<_> = (0..5)
            .map(|i| {
                let h = 1e-3 * self.at[i];
                let (mut up, mut down) = (self.at, self.at);
                up[i] += h;
                down[i] -= h;
                (self.errors(&up) - self.errors(&down)) / (2.0 * h)
            })
            .collect();
        Some(Matrix::<f64, Dyn, U5, _>::from_columns(&columns))
    }
}

fn main() {
    let start = OVector::<f64, U5>::from_column_slice(&[0.4, 0.2, 0.2, 0.2, 0.4]);
    let fit = Fit {
        averages: averages(),
        at: start,
    };
    let (fit, report) = LevenbergMarquardt::new().minimize(fit);
    println!(
        "{:?} after {} evaluations",
        report.termination, report.number_of_evaluations
    );
    println!("{:#?}\n", aero(&fit.at));
    let rows = residuals(&fit.averages, &aero(&fit.at));
    println!("| club | carry, yd | apex, yd | landing angle, deg |");
    println!("|---|---|---|---|");
    for (average, row) in fit.averages.iter().zip(&rows) {
        println!(
            "| {} | {:+.1} | {:+.1} | {:+.1} |",
            average.club, row[0], row[1], row[2]
        );
    }
    println!(
        "| **rms** | {:.2} | {:.2} | {:.2} |",
        rms(&rows, 0),
        rms(&rows, 1),
        rms(&rows, 2)
    );
}
