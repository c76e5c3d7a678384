//! What the player did last time with the same purpose and club, and what to beat.

use crate::shots::reading::Reading;
use crate::shots::standing::Standing;
use crate::statistics::summary::{Summary, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use serde::Serialize;
use utoipa::ToSchema;

/// A shot of last time.
#[derive(Debug, Clone, Copy)]
pub struct PastShot<'a> {
    /// Label of its block.
    pub block: &'a str,
    /// Its values.
    pub reading: &'a Reading,
    /// How it stands.
    pub standing: Standing,
}

/// One value over last time's kept shots.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct PastFigure {
    /// Which.
    pub quantity: Quantity,
    /// Its summary.
    pub summary: Summary,
}

/// The range that a block of this label gave last time: its mean and one spread
/// either side.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PastBand {
    /// The block's label.
    pub label: String,
    /// Lower end, internal units.
    pub low: f64,
    /// Upper end.
    pub high: f64,
    /// Shots behind it.
    pub n: usize,
}

/// What there is to beat.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ToBeat {
    /// Which value.
    pub quantity: Quantity,
    /// Best of last time.
    pub best: f64,
    /// Average of last time.
    pub mean: f64,
    /// Shots behind them.
    pub n: usize,
}

/// Last time's figures.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LastTime {
    /// The numbers that the purpose shows, over kept shots.
    pub figures: Vec<PastFigure>,
    /// The greatest of those numbers.
    pub greatest: Option<Quantity>,
    /// That one by block.
    pub bands: Vec<PastBand>,
    /// Each of those numbers of which more is better: best and average.
    pub to_beat: Vec<ToBeat>,
}

/// Whether a session was an off day: its mean lies further under that of the session
/// before it than the house allows. Its figures are not the ones to beat.
///
/// ```
/// use tally_core::session::last_time::is_off_day;
/// use tally_core::verdicts::house_rules::HouseRules;
/// let rules = HouseRules::default();
/// assert!(is_off_day(130.7, Some(136.1), &rules)); // Four per cent down.
/// assert!(!is_off_day(134.8, Some(136.1), &rules) && !is_off_day(130.7, None, &rules));
/// ```
pub fn is_off_day(mean: f64, before: Option<f64>, rules: &HouseRules) -> bool {
    before.is_some_and(|before| mean < before * (1.0 - rules.off_day))
}

/// The session that gives the figures to beat, of the means of a kind's sessions with the
/// latest first: the latest that was no off day. Sessions without the value tell nothing.
pub fn to_beat_of(latest_first: &[Option<f64>], rules: &HouseRules) -> Option<usize> {
    let told: Vec<(usize, f64)> = latest_first
        .iter()
        .enumerate()
        .filter_map(|(i, mean)| Some((i, (*mean)?)))
        .collect();
    let fit = told.iter().enumerate().find(|(at, (_, mean))| {
        let before = told.get(at + 1).map(|(_, before)| *before);
        !is_off_day(*mean, before, rules)
    });
    fit.map(|(_, (i, _))| *i)
}

/// Sums up last time's shots in the values shown, the greatest first.
pub fn last_time(shown: &[Quantity], shots: &[PastShot<'_>], level: f64) -> LastTime {
    let kept = || shots.iter().filter(|s| s.standing == Standing::Kept);
    let figures: Vec<PastFigure> = shown
        .iter()
        .filter_map(|&quantity| {
            let values: Vec<f64> = kept().filter_map(|s| s.reading.get(quantity)).collect();
            summarise(&values, level).map(|summary| PastFigure { quantity, summary })
        })
        .collect();
    let to_beat = figures
        .iter()
        .filter(|figure| figure.quantity.has_best())
        .map(|PastFigure { quantity, summary }| ToBeat {
            quantity: *quantity,
            best: summary.best,
            mean: summary.mean,
            n: summary.n,
        })
        .collect();
    let mut labels: Vec<&str> = Vec::new();
    for shot in kept() {
        if !labels.contains(&shot.block) {
            labels.push(shot.block);
        }
    }
    let bands = labels
        .into_iter()
        .filter_map(|label| {
            let values: Vec<f64> = kept()
                .filter(|s| s.block == label)
                .filter_map(|s| s.reading.get(*shown.first()?))
                .collect();
            let summary = summarise(&values, level)?;
            let spread = summary.spread?;
            Some(PastBand {
                label: label.to_owned(),
                low: summary.mean - spread,
                high: summary.mean + spread,
                n: summary.n,
            })
        })
        .collect();
    LastTime {
        greatest: shown.first().copied(),
        figures,
        bands,
        to_beat,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::session::purpose::Purpose;
    use crate::shots::reading::Provenance;

    #[test]
    fn only_kept_shots_count_and_the_best_of_them_is_to_beat() {
        let speeds = [44.0, 45.0, 46.0, 99.0];
        let readings = speeds.map(|speed| {
            let mut reading = Reading::default();
            reading.set(Quantity::ClubSpeed, speed, Provenance::Measured);
            reading
        });
        let shots: Vec<PastShot<'_>> = readings
            .iter()
            .enumerate()
            .map(|(i, reading)| PastShot {
                block: if i < 2 { "Stock" } else { "Full" },
                reading,
                standing: if i == 3 {
                    Standing::SetAside
                } else {
                    Standing::Kept
                },
            })
            .collect();
        let told = last_time(Purpose::SpeedDay.shown(), &shots, 0.9);
        let beat = told.to_beat[0];
        assert_eq!((beat.best, beat.mean, beat.n), (46.0, 45.0, 3));
        // One shot of "Full" was kept: it has no spread, so no band.
        assert_eq!(told.bands.len(), 1);
        assert_eq!(told.bands[0].label, "Stock");
    }

    #[test]
    fn an_off_day_s_figures_are_not_the_ones_to_beat() {
        let rules = HouseRules::default();
        let of = |means: &[Option<f64>]| to_beat_of(means, &rules);
        assert_eq!(of(&[Some(130.7), Some(136.1), Some(134.8)]), Some(1));
        assert_eq!(of(&[Some(135.9), Some(136.1)]), Some(0));
        assert_eq!(of(&[None, Some(130.0)]), Some(1));
        assert_eq!(of(&[]), None);
    }

    #[test]
    fn nothing_kept_leaves_nothing_to_beat() {
        assert!(
            last_time(Purpose::Benchmark.shown(), &[], 0.9)
                .to_beat
                .is_empty()
        );
    }
}
