// Levenberg & Marquardt with central differences, shared by the calibrations.

use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::{DMatrix, DVector, Dyn, Owned, VecStorage};

struct Problem<F> {
    at: DVector<f64>,
    errors: F,
}

impl<F: Fn(&[f64]) -> Vec<f64>> Problem<F> {
    fn errors_at(&self, at: &DVector<f64>) -> DVector<f64> {
        DVector::from_vec((self.errors)(at.as_slice()))
    }
}

impl<F: Fn(&[f64]) -> Vec<f64>> LeastSquaresProblem<f64, Dyn, Dyn> for Problem<F> {
    type ResidualStorage = VecStorage<f64, Dyn, nalgebra::U1>;
    type JacobianStorage = Owned<f64, Dyn, Dyn>;
    type ParameterStorage = VecStorage<f64, Dyn, nalgebra::U1>;

    fn set_params(&mut self, at: &DVector<f64>) {
        self.at.copy_from(at);
    }

    fn params(&self) -> DVector<f64> {
        self.at.clone()
    }

    fn residuals(&self) -> Option<DVector<f64>> {
        Some(self.errors_at(&self.at))
    }

    fn jacobian(&self) -> Option<DMatrix<f64>> {
        let columns: Vec<_> = (0..self.at.len())
            .map(|i| {
                let h = 1e-3 * self.at[i];
                let (mut up, mut down) = (self.at.clone(), self.at.clone());
                up[i] += h;
                down[i] -= h;
                (self.errors_at(&up) - self.errors_at(&down)) / (2.0 * h)
            })
            .collect();
        Some(DMatrix::from_columns(&columns))
    }
}

/// The parameters near `start` with the least sum of squared `errors`.
pub fn fit(start: &[f64], errors: impl Fn(&[f64]) -> Vec<f64>) -> Vec<f64> {
    let problem = Problem {
        at: DVector::from_column_slice(start),
        errors,
    };
    let (done, report) = LevenbergMarquardt::new().minimize(problem);
    assert!(
        report.termination.was_successful(),
        "{:?}",
        report.termination
    );
    done.at.as_slice().to_vec()
}
