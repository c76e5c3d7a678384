//! Ordinary least squares with a handful of columns (Gauss 1809).

use nalgebra::{DMatrix, DVector};

/// A fitted linear model.
#[derive(Debug, Clone)]
pub(crate) struct LeastSquares {
    /// A coefficient for each column.
    pub coefficients: DVector<f64>,
    inverse: DMatrix<f64>,
    /// Sum of squared residuals.
    pub rss: f64,
    /// Degrees of freedom that are left.
    pub freedom: usize,
}

/// Fits `y` by `columns`; nothing when the columns cannot be told apart or no freedom
/// is left.
pub(crate) fn least_squares(columns: &[Vec<f64>], y: &[f64]) -> Option<LeastSquares> {
    let freedom = y.len().checked_sub(columns.len()).filter(|df| *df > 0)?;
    let x = DMatrix::from_fn(y.len(), columns.len(), |row, column| columns[column][row]);
    let y = DVector::from_column_slice(y);
    let cross = x.transpose() * &x;
    // Columns that are nearly the same would pass a Cholesky by rounding alone.
    let scales: Vec<f64> = cross.diagonal().iter().map(|d| d.sqrt()).collect();
    if scales.contains(&0.0) {
        return None;
    }
    let scaled = DMatrix::from_fn(cross.nrows(), cross.ncols(), |i, j| {
        cross[(i, j)] / (scales[i] * scales[j])
    });
    if scaled.determinant() < 1e-9 {
        return None;
    }
    let inverse = cross.cholesky()?.inverse();
    let coefficients = &inverse * x.transpose() * &y;
    let rss = (y - x * &coefficients).norm_squared();
    Some(LeastSquares {
        coefficients,
        inverse,
        rss,
        freedom,
    })
}

impl LeastSquares {
    /// Value and standard error of a sum of coefficients with these weights.
    pub fn contrast(&self, weights: &[f64]) -> (f64, f64) {
        let weights = DVector::from_column_slice(weights);
        let value = weights.dot(&self.coefficients);
        let variance =
            self.rss / self.freedom as f64 * (weights.transpose() * &self.inverse * weights)[0];
        (value, variance.max(0.0).sqrt())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn anscombe_s_first_line_comes_out_as_published() {
        // Anscombe (1973): y = 3.00 + 0.500 x, standard error of the slope 0.118.
        let x: Vec<f64> = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5].map(f64::from).into();
        let y = [
            8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68,
        ];
        let fit = least_squares(&[vec![1.0; 11], x], &y).unwrap();
        let (slope, error) = fit.contrast(&[0.0, 1.0]);
        assert!((slope - 0.5001).abs() < 1e-4 && (error - 0.1179).abs() < 1e-4);
        assert!((fit.contrast(&[1.0, 0.0]).0 - 3.0001).abs() < 1e-4);
    }

    #[test]
    fn columns_that_say_the_same_are_refused() {
        let ones = vec![1.0; 5];
        assert!(least_squares(&[ones.clone(), ones], &[1.0, 2.0, 3.0, 4.0, 5.0]).is_none());
        assert!(least_squares(&[vec![1.0]], &[2.0]).is_none());
    }
}
