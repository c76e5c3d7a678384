//! The player's own line: carry against club speed from the player's own shots.
//!
//! The slope is the median of the slopes between all pairs of shots and the line goes
//! through the medians (Theil 1950; Sen 1968), so that a few mishits do not tilt it.
//! The band is where one more shot is expected, from the robust spread of the
//! residuals (median absolute deviation) with Student's t. It is never drawn far
//! beyond the speeds that were hit.

use crate::statistics::quantile::median;
use crate::statistics::summary::student_t;
use serde::Serialize;
use utoipa::ToSchema;

/// Shots that a line needs: below it, the pairs' slopes say little.
pub const LEAST_SHOTS: usize = 8;
/// Spread of club speeds that a line needs, m/s: below it, noise is all there is.
const LEAST_SPREAD: f64 = 1.0;
/// How far beyond the speeds that were hit the line may be used, as a share of them.
const BEYOND: f64 = 0.25;
/// Shots whose pairs are all looked at.
const MOST_PAIRED: usize = 600;
/// Makes the median absolute deviation of a normal sample its standard deviation.
const MAD_TO_SPREAD: f64 = 1.4826;

/// Why there is no line.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum NoLine {
    /// Too few shots with club speed and carry.
    #[error("{0} shots have club speed and carry; a line needs {LEAST_SHOTS}")]
    TooFew(usize),
    /// All at about one speed.
    #[error("the club speeds are too alike for a line")]
    OneSpeed,
}

/// Carry against club speed, as one player hits it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OwnLine {
    /// Carry for each unit of club speed, m per m/s.
    pub slope: f64,
    /// Median club speed, m/s, through which the line goes.
    pub speed: f64,
    /// Carry there, m.
    pub carry: f64,
    /// Robust spread of a shot about the line, m.
    pub spread: f64,
    /// Least and most club speed that was hit, m/s.
    pub hit: [f64; 2],
    /// Shots behind it.
    pub n: usize,
    /// Student's t of the band's level.
    t: f64,
    /// Sum of squared distances from the median speed, m²/s².
    leverage: f64,
}

/// Where one more shot is expected.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Band {
    /// Expected carry, m.
    pub carry: f64,
    /// Lower end of the band, m.
    pub low: f64,
    /// Upper end, m.
    pub high: f64,
}

impl OwnLine {
    /// Fits the line to pairs of club speed (m/s) and carry (m); `level` (0…1) is
    /// that of the band.
    ///
    /// ```
    /// use tally_core::statistics::own_line::OwnLine;
    /// let shots: Vec<[f64; 2]> = (0..12).map(|i| [38.0 + 0.5 * f64::from(i), 130.0 + 2.0 * f64::from(i)]).collect();
    /// let line = OwnLine::fit(&shots, 0.9)?;
    /// let band = line.at(40.0).unwrap();
    /// assert!((band.carry - 138.0).abs() < 0.5);
    /// assert!(line.at(60.0).is_none()); // Never far beyond what was hit.
    /// # Ok::<(), tally_core::statistics::own_line::NoLine>(())
    /// ```
    ///
    /// # Errors
    /// [`NoLine`] for too few shots or too little difference in speed.
    pub fn fit(shots: &[[f64; 2]], level: f64) -> Result<OwnLine, NoLine> {
        let n = shots.len();
        if n < LEAST_SHOTS {
            return Err(NoLine::TooFew(n));
        }
        let speeds = shots.iter().map(|s| s[0]);
        let hit = [
            speeds.clone().fold(f64::INFINITY, f64::min),
            speeds.clone().fold(f64::NEG_INFINITY, f64::max),
        ];
        if hit[1] - hit[0] < LEAST_SPREAD {
            return Err(NoLine::OneSpeed);
        }
        // Every pair of a few hundred shots is plenty; of thousands, it is slow.
        let thinned: Vec<_> = shots.iter().step_by(n.div_ceil(MOST_PAIRED)).collect();
        let mut slopes = Vec::with_capacity(thinned.len() * (thinned.len() - 1) / 2);
        for (i, a) in thinned.iter().enumerate() {
            for b in &thinned[i + 1..] {
                if (b[0] - a[0]).abs() > 1e-6 {
                    slopes.push((b[1] - a[1]) / (b[0] - a[0]));
                }
            }
        }
        let slope = median(&slopes);
        let speed = median(&speeds.clone().collect::<Vec<_>>());
        let at_median: Vec<f64> = shots
            .iter()
            .map(|s| s[1] - slope * (s[0] - speed))
            .collect();
        let carry = median(&at_median);
        let spread = MAD_TO_SPREAD
            * median(
                &at_median
                    .iter()
                    .map(|c| (c - carry).abs())
                    .collect::<Vec<_>>(),
            );
        Ok(OwnLine {
            slope,
            speed,
            carry,
            spread,
            hit,
            n,
            t: student_t(level, n - 2),
            leverage: speeds.map(|s| (s - speed).powi(2)).sum(),
        })
    }

    /// Where a shot at `club_speed` (m/s) is expected; nothing too far beyond the
    /// speeds that were hit.
    pub fn at(&self, club_speed: f64) -> Option<Band> {
        let [least, most] = self.hit;
        let beyond = BEYOND * (most - least);
        if !(least - beyond..=most + beyond).contains(&club_speed) {
            return None;
        }
        let off = club_speed - self.speed;
        let carry = self.carry + self.slope * off;
        let half =
            self.t * self.spread * (1.0 + 1.0 / self.n as f64 + off * off / self.leverage).sqrt();
        Some(Band {
            carry,
            low: carry - half,
            high: carry + half,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn theil_and_sen_s_slope_is_the_median_of_all_pairs() {
        // Worked by hand: y = 1, 2, 3, 4, 5, 6, 7, 30 over x = 1…8 has 28 pairs, of
        // which 21 have slope 1.
        let mut shots: Vec<_> = (1..=8).map(|i| [f64::from(i), f64::from(i)]).collect();
        shots[7][1] = 30.0;
        let line = OwnLine::fit(&shots, 0.9).unwrap();
        assert_eq!((line.slope, line.speed, line.carry), (1.0, 4.5, 4.5));
        assert_eq!(line.spread, 0.0);
    }

    #[test]
    fn the_band_widens_away_from_the_middle_and_ends() {
        let shots: Vec<_> = (0..20)
            .map(|i| {
                [
                    40.0 + 0.2 * f64::from(i),
                    200.0 + f64::from(i) + f64::from(i % 3),
                ]
            })
            .collect();
        let line = OwnLine::fit(&shots, 0.9).unwrap();
        let width = |speed: f64| line.at(speed).map(|b| b.high - b.low);
        assert!(width(44.0) > width(42.0) && width(42.0) > Some(0.0));
        assert_eq!(line.at(46.0), None);
    }

    #[test]
    fn without_shots_or_differences_it_says_what_is_missing() {
        let few = OwnLine::fit(&[[40.0, 200.0]; 3], 0.9).unwrap_err();
        assert_eq!(
            few.to_string(),
            "3 shots have club speed and carry; a line needs 8"
        );
        assert_eq!(
            OwnLine::fit(&[[40.0, 200.0]; 9], 0.9),
            Err(NoLine::OneSpeed)
        );
    }
}
