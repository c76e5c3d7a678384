//! How a warm-up shows in club speed.
//!
//! Speed against the number of swings made is fitted as
//! `v(n) = plateau − gain·exp(−n/τ) − fatigue·n`, with a plateau for each kind of block,
//! so that a change of task does not look like warming up. Whether there is a warm-up at
//! all is decided by shuffling: how often would the same swings in another order look as
//! much like one (Fisher 1935)?

mod shuffles;

use crate::shots::ball::Ball;
use crate::statistics::summary::Estimate;
use crate::statistics::warming::Warming;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, WorkingRow, figure_row, level_row, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use shuffles::{looks_warm, retention};
use utoipa::ToSchema;

/// Swings below which three parameters cannot be told.
pub const LEAST_SWINGS: usize = 8;
/// Swings from which tiring is told.
const FATIGUE_FROM: usize = 20;

/// A swing of the picture.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct WarmUpSwing {
    /// Swings made before it.
    pub order: usize,
    /// Club speed, m/s.
    pub speed: f64,
    /// Place of its kind of block among the labels.
    pub label: usize,
    /// Fitted speed there, when there is a fit.
    pub fitted: Option<f64>,
}

/// A warm-up fitted to one session's swings.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct WarmUpFit {
    /// Speed the swings settle at, m/s: mean over the kinds of block.
    pub plateau: Estimate,
    /// What warming up added from the first swing on, m/s.
    pub gain: Estimate,
    /// Whether a warm-up shows.
    pub shows: WarmUpShows,
    /// Swings until 95 % of that is there, as fitted.
    pub warm_after: Estimate,
    /// Speed lost with each swing, m/s; absent for short sessions.
    pub fatigue: Option<Estimate>,
    /// Mean of the last stretch as a share of the best one.
    pub retention: Option<f64>,
    /// The same share that the same swings have on average in any other order.
    pub retention_by_luck: Option<f64>,
    /// Share of shuffles that look as much like a warm-up.
    pub p: f64,
}

/// How far a warm-up shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum WarmUpShows {
    /// Few shuffles look as much like one, its gain cannot be nothing, and it ends within
    /// the swings hit.
    Seen,
    /// The same, but the swings end before it does, so that its gain is not known and
    /// trying harder looks alike.
    StillRising,
    /// Nothing of the kind.
    NotSeen,
}

impl WarmUpShows {
    fn of(p: f64, level: f64, gain: &Estimate, warm_after: &Estimate) -> Self {
        if p > 0.5 - level / 2.0 || gain.low <= 0.0 {
            WarmUpShows::NotSeen
        } else if warm_after.value.round() < warm_after.n as f64 {
            WarmUpShows::Seen
        } else {
            WarmUpShows::StillRising
        }
    }
}

/// What a session says of warming up.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WarmUpReport {
    /// The verdict: `yes` when a warm-up shows, `same` when there is none to see.
    pub verdict: Verdict,
    /// Kinds of block, in order of first appearance.
    pub labels: Vec<String>,
    /// The swings looked at, in hitting order.
    pub swings: Vec<WarmUpSwing>,
    /// The fit, with enough swings.
    pub fit: Option<WarmUpFit>,
}

/// Looks for a warm-up in a session's balls, each with the label of its block.
pub fn warm_up_effect(balls: &[(Ball, String)], rules: &HouseRules) -> WarmUpReport {
    let mut labels: Vec<String> = Vec::new();
    let mut swings = Vec::new();
    for (ball, label) in balls {
        let Some(speed) = ball
            .reading
            .get(Quantity::ClubSpeed)
            .filter(|_| ball.kept())
        else {
            continue;
        };
        let label = place_of(label, &mut labels);
        swings.push(WarmUpSwing {
            order: ball.order,
            speed,
            label,
            fitted: None,
        });
    }
    // A label hit once has a plateau of its own and says nothing of the order.
    let telling = swings.len();
    let fitted = (telling >= LEAST_SWINGS)
        .then(|| fit(&mut swings, labels.len(), rules))
        .flatten();
    let verdict = verdict(fitted.as_ref(), telling, balls.len(), rules);
    WarmUpReport {
        verdict,
        labels,
        swings,
        fit: fitted,
    }
}

/// Place of a label in the list, which it joins when it is new.
pub(crate) fn place_of(label: &str, labels: &mut Vec<String>) -> usize {
    labels
        .iter()
        .position(|known| known == label)
        .unwrap_or_else(|| {
            labels.push(label.to_owned());
            labels.len() - 1
        })
}

fn fit(swings: &mut [WarmUpSwing], labels: usize, rules: &HouseRules) -> Option<WarmUpFit> {
    let level = rules.interval_level;
    let grain = Dimension::Speed.grain();
    let order: Vec<f64> = swings.iter().map(|s| s.order as f64).collect();
    let speeds: Vec<f64> = swings.iter().map(|s| s.speed).collect();
    let mut columns: Vec<Vec<f64>> = (0..labels)
        .map(|label| {
            let of = |s: &WarmUpSwing| f64::from(u8::from(s.label == label));
            swings.iter().map(of).collect()
        })
        .collect();
    let p = looks_warm(&columns, &order, &speeds);
    // Tiring is always reckoned with, held near none where the swings do not tell it, so
    // that one more swing never changes what a warm-up is.
    columns.push(order.clone());
    let warming = Warming::fit(&columns, &order, &speeds, grain, Some(labels))?;
    let last = columns.len();
    // Plateaus are those of a player who has just warmed up, before tiring.
    let warm_after = warming.warm_after(level);
    let plateau = warming.estimate(level, |_| {
        let mut weights = vec![1.0 / labels as f64; labels];
        weights.push(warm_after.value.min(order[order.len() - 1]));
        weights.push(0.0);
        weights
    });
    let unit = |at: usize, sign: f64| {
        let mut weights = vec![0.0; last + 1];
        weights[at] = sign;
        weights
    };
    let (tau, best) = warming.best();
    lay_on(swings, tau, best.coefficients.as_slice(), labels);
    let stretch = rules.stretch as usize;
    let level_out: Vec<f64> = swings
        .iter()
        .map(|s| s.speed - best.coefficients[s.label] + plateau.value)
        .collect();
    let (retention, by_luck) = retention(&level_out, stretch).unzip();
    let gain = warming.estimate(level, |_| unit(last, -1.0));
    Some(WarmUpFit {
        plateau,
        gain,
        shows: WarmUpShows::of(p, level, &gain, &warm_after),
        warm_after,
        fatigue: (swings.len() >= FATIGUE_FROM)
            .then(|| warming.estimate(level, |_| unit(labels, -1.0))),
        retention,
        retention_by_luck: by_luck,
        p,
    })
}

/// Lays the fitted curve under the swings: each task's plateau, the tiring whose coefficient
/// stands at `tiring`, and the warming whose coefficient stands last.
fn lay_on(swings: &mut [WarmUpSwing], tau: f64, coefficients: &[f64], tiring: usize) {
    let warming = coefficients[coefficients.len() - 1];
    for swing in swings {
        let n = swing.order as f64;
        let tired = coefficients[tiring] * n;
        swing.fitted = Some(coefficients[swing.label] + tired + warming * (-n / tau).exp());
    }
}

fn verdict(fit: Option<&WarmUpFit>, swings: usize, balls: usize, rules: &HouseRules) -> Verdict {
    let level = rules.interval_level;
    let margin = rules.speed_margin;
    let working = working(fit, swings, balls, rules);
    let Some(fit) = fit else {
        return Verdict {
            kind: VerdictKind::CannotTellYet,
            sentence: Sentence::of(nothing_to_see(swings, balls)),
            detail: Sentence::of(format!("{swings} of {balls} swings looked at")),
            more_balls: (swings < LEAST_SWINGS).then(|| LEAST_SWINGS - swings),
            working,
        };
    };
    let gain = fit.gain;
    let (kind, sentence) = if fit.shows == WarmUpShows::Seen {
        let sentence = Sentence::of("Warming up added ").figure(gain.value, Dimension::Speed);
        (VerdictKind::Yes, sentence.words(warm_when(fit)))
    } else if fit.shows == WarmUpShows::StillRising {
        let sentence = Sentence::of(format!(
            "Some of the rise may be warming up; these {swings} swings are too few to tell."
        ));
        (VerdictKind::CannotTellYet, sentence)
    } else if gain.high <= margin && gain.low >= -margin {
        let sentence = Sentence::of("This session has no warm-up to see: the first swings are as fast as the rest within your ")
            .figure(margin, Dimension::Speed)
            .words(".");
        (VerdictKind::Same, sentence)
    } else {
        let sentence = Sentence::of("No warm-up shows, but one of up to ")
            .figure(gain.high.max(0.0), Dimension::Speed)
            .words(" could hide in these swings.");
        (VerdictKind::CannotTellYet, sentence)
    };
    let detail = Sentence::of(format!(
        "{swings} swings · gain, {:.0} % interval ",
        level * 100.0
    ))
    .bare(gain.low, Dimension::Speed)
    .words(" to ")
    .figure(gain.high, Dimension::Speed);
    Verdict {
        kind,
        sentence,
        detail,
        more_balls: None,
        working,
    }
}

fn warm_when(fit: &WarmUpFit) -> String {
    let after = fit.warm_after.value.round();
    if after <= 1.0 {
        ", nearly all of it after the first swing.".to_owned()
    } else {
        format!(", nearly all of it after {after} swings.")
    }
}

/// Why no warm-up could be looked for.
fn nothing_to_see(swings: usize, balls: usize) -> String {
    if balls == 0 {
        "No shots yet, so there is no warm-up to see.".to_owned()
    } else if swings == 0 {
        "No kept shot has a club speed, so there is no warm-up to see.".to_owned()
    } else if swings < LEAST_SWINGS {
        format!("{swings} kept swings have a club speed; a warm-up shows from {LEAST_SWINGS} on.")
    } else {
        "Every kind of block was hit too briefly to tell warming up from the change of task."
            .to_owned()
    }
}

fn results(fit: &WarmUpFit) -> Vec<WorkingRow> {
    let estimate =
        |label: &str, e: Estimate, dimension| -> WorkingRow { row(label, e.said(dimension)) };
    let mut results = Vec::new();
    results.push(estimate("Plateau", fit.plateau, Dimension::Speed));
    results.push(estimate(
        "Gain from the first swing on",
        fit.gain,
        Dimension::Speed,
    ));
    let until = match fit.shows {
        WarmUpShows::Seen => format!(
            "{:.0} ({:.0} to {:.0})",
            fit.warm_after.value, fit.warm_after.low, fit.warm_after.high
        ),
        WarmUpShows::StillRising => "more than were hit".to_owned(),
        WarmUpShows::NotSeen => "no warm-up shows".to_owned(),
    };
    results.push(row("Swings until 95 % of it", Sentence::of(until)));
    if let Some(fatigue) = fit.fatigue {
        // For ten swings: for one it is less than is shown.
        let ten = fatigue.times(10.0);
        results.push(estimate(
            "Speed lost over ten swings",
            ten,
            Dimension::Speed,
        ));
    }
    if let Some((retention, luck)) = fit.retention.zip(fit.retention_by_luck) {
        results.push(row(
            "Retention",
            Sentence::of(format!(
                "last stretch {:.1} % of the best; {:.1} % by luck alone",
                retention * 100.0,
                luck * 100.0
            )),
        ));
    }
    results.push(row(
        "Shuffles that look as much like a warm-up",
        Sentence::of(format!("{:.1} %", fit.p * 100.0)),
    ));
    results
}

fn working(fit: Option<&WarmUpFit>, swings: usize, balls: usize, rules: &HouseRules) -> Working {
    Working {
        inputs: vec![row(
            "Swings",
            Sentence::of(format!(
                "{swings} kept with a club speed, of {balls}; those set aside count as made"
            )),
        )],
        formula: vec![
            Sentence::of(
                "v(n) = plateau − gain · exp(−n/τ) − fatigue · n, where n counts the swings made before. Each kind of block has a plateau of its own; tiring is held near none where the swings do not tell it.",
            ),
            Sentence::of(
                "τ is not known, so every interval averages over it. A warm-up is believed when few shuffles of the same swings look as much like one.",
            ),
            Sentence::of(
                "Retention: mean of the last stretch over the best one. The best of many stretches is high by luck, so the same is told for shuffled swings.",
            ),
        ],
        rules: vec![
            figure_row(
                "Speed that makes no difference",
                rules.speed_margin,
                Dimension::Speed,
            ),
            row(
                "Swings of a stretch",
                Sentence::of(format!("{:.0}", rules.stretch)),
            ),
            level_row(rules.interval_level),
        ],
        results: fit.map(results).unwrap_or_default(),
        sources: vec![
            "Intervals over an unknown τ: Box & Tiao 1973. Shuffling: Fisher 1935.".to_owned(),
        ],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::ball::tests::ball;
    use crate::vocabulary::units::{MPH, Units};
    use rand::{RngExt, SeedableRng};
    use rand_pcg::Pcg64;

    /// Swings of a player who gains `gain` mph with τ = 5, with a spread of 1 mph.
    fn swings(n: usize, gain: f64, seed: u64) -> Vec<(Ball, String)> {
        let mut rng = Pcg64::seed_from_u64(seed);
        (0..n)
            .map(|i| {
                // Twelve uniform draws: as good as normal here.
                let noise = (0..12).map(|_| rng.random::<f64>()).sum::<f64>() - 6.0;
                let speed = 100.0 - gain * (-(i as f64) / 5.0).exp() + noise;
                let ball = ball(i, &[(Quantity::ClubSpeed, speed * MPH)]);
                (ball, "Stock".to_owned())
            })
            .collect()
    }

    fn look(balls: &[(Ball, String)]) -> WarmUpReport {
        warm_up_effect(balls, &HouseRules::default())
    }

    #[test]
    fn a_real_warm_up_is_seen_with_its_gain_and_length() {
        let report = look(&swings(40, 6.0, 3));
        assert_eq!(report.verdict.kind, VerdictKind::Yes);
        let fit = report.fit.unwrap();
        assert!(fit.gain.low <= 6.0 * MPH && 6.0 * MPH <= fit.gain.high);
        assert!(fit.warm_after.low <= 15.0 && 15.0 <= fit.warm_after.high);
        assert!(fit.fatigue.unwrap().low < 0.0 && fit.fatigue.unwrap().high > 0.0);
        let said = report.verdict.sentence.show(Units::MphYd);
        assert!(said.starts_with("Warming up added "), "{said}");
    }

    #[test]
    fn nine_swings_of_three_efforts_cannot_tell_warming_up_from_trying_harder() {
        let speeds = [
            105.0, 106.0, 109.0, 112.0, 113.0, 112.0, 114.0, 115.0, 115.0,
        ];
        let efforts = ["Usual", "All-out 1", "All-out 2"];
        let balls: Vec<_> = (0..9)
            .map(|i| {
                let ball = ball(i, &[(Quantity::ClubSpeed, speeds[i] * MPH)]);
                (ball, efforts[i / 3].to_owned())
            })
            .collect();
        let report = look(&balls);
        assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
        let said = report.verdict.sentence.show(Units::MphYd);
        assert_eq!(
            said,
            "Some of the rise may be warming up; these 9 swings are too few to tell."
        );
    }

    #[test]
    fn a_gain_is_told_only_when_it_cannot_be_nothing_and_within_the_swings_hit() {
        let mut still_rising = 0;
        for seed in 0..150 {
            let (n, gain) = (10 + seed as usize % 12, (seed % 5) as f64);
            let report = look(&swings(n, gain, 7000 + seed));
            let said = report.verdict.sentence.show(Units::MphYd);
            let told = said.starts_with("Warming up added");
            assert_eq!(told, report.verdict.kind == VerdictKind::Yes, "{said}");
            still_rising += usize::from(said.starts_with("Some of the rise"));
            if told {
                let fit = report.fit.unwrap();
                assert!(fit.gain.low > 0.0, "{said} {:?}", fit.gain);
                assert!(fit.warm_after.value < n as f64, "{said} Of {n}.");
            }
        }
        // A warm-up of fifteen swings is not over in ten.
        assert!(still_rising > 0);
    }

    #[test]
    fn a_warm_up_that_is_not_there_is_seen_in_one_session_of_twenty() {
        let seen = (1000..1400)
            .filter(|seed| look(&swings(20, 0.0, *seed)).verdict.kind == VerdictKind::Yes)
            .count();
        // 5 % of 400 is 20; three standard errors either side.
        assert!((7..=33).contains(&seen), "{seen}");
    }

    /// The same with neighbours alike by 0.3.
    fn alike(n: usize, gain: f64, seed: u64) -> Vec<(Ball, String)> {
        let mut balls = swings(n, 0.0, seed);
        let mut stray = 0.0;
        for (i, (ball, _)) in balls.iter_mut().enumerate() {
            let speed = ball.reading.get(Quantity::ClubSpeed).unwrap() / MPH;
            stray = 0.3 * stray + (1.0f64 - 0.09).sqrt() * (speed - 100.0);
            let warm = gain * (-(i as f64) / 5.0).exp();
            let from = crate::shots::reading::Provenance::Measured;
            let speed = (100.0 + stray - warm) * MPH;
            ball.reading.set(Quantity::ClubSpeed, speed, from);
        }
        balls
    }

    #[test]
    fn swings_that_are_alike_by_themselves_are_no_warm_up() {
        let seen = (2000..2400)
            .filter(|seed| look(&alike(25, 0.0, *seed)).verdict.kind == VerdictKind::Yes)
            .count();
        println!("warm-ups seen in swings that are alike: {seen} of 400");
        assert!(seen <= 40, "{seen}");
    }

    #[test]
    fn one_more_swing_changes_nothing_of_what_is_seen() {
        let seen = |n: usize| {
            let seeds = 3000..3100;
            let warm =
                seeds.filter(|seed| look(&swings(n, 4.0, *seed)).verdict.kind == VerdictKind::Yes);
            warm.count()
        };
        let counts = [18, 19, 20, 21, 22].map(seen);
        println!("warm-ups of 4 mph seen at 18 to 22 swings: {counts:?} of 100");
        assert!(
            counts.windows(2).all(|w| w[0].abs_diff(w[1]) <= 8),
            "{counts:?}"
        );
        assert!(counts.iter().all(|n| *n >= 75), "{counts:?}");
    }

    #[test]
    fn a_change_of_task_is_not_a_warm_up() {
        let mut balls = swings(24, 0.0, 5);
        for (i, (ball, label)) in balls.iter_mut().enumerate() {
            if i < 8 {
                let slow = ball.reading.get(Quantity::ClubSpeed).unwrap() - 8.0 * MPH;
                ball.reading.set(
                    Quantity::ClubSpeed,
                    slow,
                    crate::shots::reading::Provenance::Measured,
                );
                *label = "Gentle".to_owned();
            }
        }
        assert_ne!(look(&balls).verdict.kind, VerdictKind::Yes);
    }

    #[test]
    fn too_few_swings_are_refused_by_number_and_none_gives_no_nan() {
        let report = look(&swings(7, 5.0, 1));
        assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
        assert_eq!(report.verdict.more_balls, Some(1));
        let said = report.verdict.sentence.show(Units::MphYd);
        assert!(said.starts_with("7 kept swings"), "{said}");
        assert!(look(&[]).fit.is_none());
    }

    #[test]
    fn identical_speeds_have_no_warm_up_to_see() {
        let same: Vec<_> = (0..30)
            .map(|i| (ball(i, &[(Quantity::ClubSpeed, 40.0)]), "Stock".to_owned()))
            .collect();
        let report = look(&same);
        assert_eq!(report.verdict.kind, VerdictKind::Same);
        assert!(
            !serde_json::to_string(&report)
                .unwrap()
                .contains("null,\"high\"")
        );
        assert_eq!(report.fit.unwrap().retention, Some(1.0));
    }

    #[test]
    fn the_same_swings_give_the_same_answer() {
        assert_eq!(look(&swings(25, 4.0, 9)), look(&swings(25, 4.0, 9)));
    }
}
