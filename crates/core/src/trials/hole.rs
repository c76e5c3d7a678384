//! Which shot on this hole: each effort or club by fairway chance and expected strokes.
//!
//! Every choice's own pattern is laid on the hole. Where a ball ends gives the lie and
//! the distance left, and those the strokes still to play ([`crate::trials::strokes`]). What few
//! balls do not tell of a pattern goes into the interval.

use crate::shots::ball::Ball;
use crate::shots::landing::{Moments, Normal2, Posterior, interval};
use crate::statistics::summary::Estimate;
use crate::trials::strokes::{Lie, expected_strokes};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, figure_row, level_row, row};
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, Normal};
use utoipa::ToSchema;

/// Balls that a choice needs.
pub const LEAST_BALLS: usize = 3;
/// Points at which a pattern is laid on the hole.
const POINTS: usize = 48;
const SEED: u64 = 20_120_401;

/// What waits beside or across the fairway.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TroubleKind {
    /// The way to the green is blocked.
    Trees,
    /// A bunker.
    Sand,
    /// Water: a drop beside it for one stroke.
    Water,
    /// Out of bounds: again from the tee for one stroke.
    OutOfBounds,
}

/// Trouble along one side.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SideTrouble {
    /// What it is.
    pub kind: TroubleKind,
    /// Where it begins, m from the middle of the fairway.
    pub from: f64,
}

/// Trouble across the line of play.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CrossTrouble {
    /// What it is.
    pub kind: TroubleKind,
    /// Where it begins, m from the tee.
    pub from: f64,
    /// Where it ends.
    pub to: f64,
}

/// A hole as it is played from the tee.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Hole {
    /// Tee to the hole, m.
    pub length: f64,
    /// Width of the fairway, m.
    pub fairway_width: f64,
    /// What waits on the left.
    #[serde(default)]
    pub left: Option<SideTrouble>,
    /// What waits on the right.
    #[serde(default)]
    pub right: Option<SideTrouble>,
    /// What waits across.
    #[serde(default)]
    pub across: Option<CrossTrouble>,
}

/// Length of a hole that is not told, m: a usual par four of 400 yd.
const USUAL_LENGTH: f64 = 400.0 * crate::vocabulary::units::YARD;

impl Hole {
    /// An open hole of a usual length with the house's fairway.
    pub fn usual(rules: &HouseRules) -> Hole {
        Hole {
            length: USUAL_LENGTH,
            fairway_width: rules.fairway_width,
            left: None,
            right: None,
            across: None,
        }
    }

    /// Checks the hole.
    ///
    /// # Errors
    /// Every [`Invalid`] field, named as `hole.left.from`.
    pub fn check(&self) -> Result<(), Vec<Invalid>> {
        let mut troubles = Vec::new();
        let mut look = |field: &str, value: f64, range: std::ops::RangeInclusive<f64>| {
            if let Err(why) = within(field, value, range, "m") {
                troubles.push(why);
            }
        };
        look("hole.length", self.length, 50.0..=700.0);
        look("hole.fairway_width", self.fairway_width, 1.0..=200.0);
        let half = self.fairway_width / 2.0;
        for (field, side) in [
            ("hole.left.from", self.left),
            ("hole.right.from", self.right),
        ] {
            if let Some(side) = side {
                look(field, side.from, half.max(0.5)..=300.0);
            }
        }
        if let Some(across) = self.across {
            look("hole.across.from", across.from, 5.0..=self.length.max(6.0));
            look("hole.across.to", across.to, across.from + 1.0..=700.0);
        }
        if troubles.is_empty() {
            Ok(())
        } else {
            Err(troubles)
        }
    }

    /// Strokes after the tee shot that carries to `carry` and ends at `total`, `side`
    /// right of the line.
    fn after(&self, side: f64, carry: f64, total: f64, rules: &HouseRules) -> f64 {
        let level = rules.player_level;
        let from = |side: f64, along: f64, lie: Lie| {
            let left = (self.length - along).hypot(side);
            let lie = if left <= rules.green_radius {
                Lie::Green
            } else {
                lie
            };
            expected_strokes(left, lie, level)
        };
        let met = |kind: TroubleKind, side: f64, along: f64, drop: [f64; 2]| match kind {
            TroubleKind::Trees => from(side, along, Lie::Recovery),
            TroubleKind::Sand => from(side, along, Lie::Sand),
            TroubleKind::Water => 1.0 + from(drop[0], drop[1], Lie::Rough),
            TroubleKind::OutOfBounds => 1.0 + expected_strokes(self.length, Lie::Tee, level),
        };
        if let Some(across) = self.across {
            // Landing in it, or running into it from the near side.
            let into = carry <= across.to && total >= across.from;
            let stays = carry < across.from && total < across.from;
            if into && !stays {
                let at = carry.clamp(across.from, across.to);
                return met(across.kind, side, at, [side, across.from - 2.0]);
            }
        }
        let trouble = if side < 0.0 { self.left } else { self.right };
        if let Some(trouble) = trouble.filter(|t| side.abs() > t.from) {
            let beside = trouble.from.copysign(side);
            return met(trouble.kind, side, total, [beside, total]);
        }
        let lie = if side.abs() <= self.fairway_width / 2.0 {
            Lie::Fairway
        } else {
            Lie::Rough
        };
        from(side, total, lie)
    }
}

/// A choice to be weighed: an effort or a club with its balls.
#[derive(Debug, Clone, PartialEq)]
pub struct Choice {
    /// What it is called.
    pub label: String,
    /// Its balls.
    pub balls: Vec<Ball>,
}

/// What the coach looks for.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Criterion {
    /// Fewest expected strokes.
    #[default]
    Strokes,
    /// Most fairways.
    Fairway,
    /// Furthest.
    Distance,
}

/// A choice, weighed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChoiceRead {
    /// What it is called.
    pub label: String,
    /// Balls behind it: kept ones, and mishits that were set aside.
    pub n: usize,
    /// Mean carry, m.
    pub carry: Option<f64>,
    /// Left–right spread, m.
    pub side_spread: Option<f64>,
    /// Chance of the fairway.
    pub fairway: Option<Estimate>,
    /// Expected strokes to hole out, the tee shot included.
    pub strokes: Option<Estimate>,
    /// Chance that it is the best of the choices by the criterion.
    pub best: Option<f64>,
}

/// What the hole asks for.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct HoleReport {
    /// Level of the intervals.
    pub interval_level: f64,
    /// The criterion used.
    pub criterion: Criterion,
    /// The verdict: `yes` when one choice is the best for sure.
    pub verdict: Verdict,
    /// The choices as asked.
    pub choices: Vec<ChoiceRead>,
    /// Place of the one that looks best.
    pub best: Option<usize>,
}

/// A pattern with what a pattern cannot tell: how far carry and total lie apart.
struct Weighed {
    posterior: Posterior,
    run: f64,
    carry: f64,
    side_spread: f64,
    n: usize,
}

/// Weighs the choices on a hole by a criterion.
///
/// # Errors
/// [`Invalid`] for a hole that cannot be played, or no choice at all.
pub fn hole(
    hole: &Hole,
    choices: &[Choice],
    criterion: Criterion,
    rules: &HouseRules,
) -> Result<HoleReport, Vec<Invalid>> {
    hole.check()?;
    if choices.is_empty() {
        let why = Invalid::missing("choices", "choose at least one effort or club");
        return Err(vec![why]);
    }
    let weighed: Vec<Option<Weighed>> = choices.iter().map(weigh).collect();
    Ok(report(hole, choices, &weighed, criterion, rules))
}

fn weigh(choice: &Choice) -> Option<Weighed> {
    let balls = choice.balls.iter().filter(|ball| ball.plays());
    let rows: Vec<([f64; 2], Option<f64>)> = balls
        .filter_map(|ball| {
            let point = crate::shots::landing::landed(ball)?;
            Some((
                point,
                ball.reading.get(Quantity::Total).map(|t| t - point[1]),
            ))
        })
        .collect();
    if rows.len() < LEAST_BALLS {
        return None;
    }
    let points: Vec<[f64; 2]> = rows.iter().map(|(point, _)| *point).collect();
    let moments = Moments::of(&points)?;
    let runs: Vec<f64> = rows.iter().filter_map(|(_, run)| *run).collect();
    Some(Weighed {
        posterior: Posterior::of(&moments, SEED),
        run: if runs.is_empty() {
            0.0
        } else {
            runs.iter().sum::<f64>() / runs.len() as f64
        },
        carry: moments.mean[1],
        side_spread: moments.covariance(0, 0).sqrt(),
        n: rows.len(),
    })
}

/// Expected strokes of one pattern on a hole, the tee shot included.
pub(crate) fn strokes_of(
    pattern: &Normal2,
    run: f64,
    hole: &Hole,
    rules: &HouseRules,
    points: &[[f64; 2]],
) -> f64 {
    let sum: f64 = points
        .iter()
        .map(|z| {
            let [side, carry] = pattern.at(*z);
            hole.after(side, carry, carry + run, rules)
        })
        .sum();
    1.0 + sum / points.len() as f64
}

/// Points that fill a bivariate normal evenly (Halton 1960, bases 2 and 3).
pub(crate) fn spread_points() -> Vec<[f64; 2]> {
    let normal = Normal::standard();
    let radical = |mut i: usize, base: usize| {
        let (mut share, mut sum) = (1.0 / base as f64, 0.0);
        while i > 0 {
            sum += share * (i % base) as f64;
            i /= base;
            share /= base as f64;
        }
        sum
    };
    // Each with its mirror image, so that left and right weigh the same.
    (1..=POINTS / 2)
        .map(|i| [2, 3].map(|base| normal.inverse_cdf(radical(i, base))))
        .flat_map(|[side, along]| [[side, along], [-side, along]])
        .collect()
}

fn report(
    hole: &Hole,
    choices: &[Choice],
    weighed: &[Option<Weighed>],
    criterion: Criterion,
    rules: &HouseRules,
) -> HoleReport {
    let level = rules.interval_level;
    let points = spread_points();
    // For each choice and draw: strokes, fairway chance and carry.
    let draws: Vec<Option<[Vec<f64>; 3]>> = weighed
        .iter()
        .map(|choice| {
            let choice = choice.as_ref()?;
            let of = |value: &(dyn Fn(&Normal2) -> f64 + Sync)| -> Vec<f64> {
                choice.posterior.0.par_iter().map(value).collect()
            };
            Some([
                of(&|p| strokes_of(p, choice.run, hole, rules, &points)),
                of(&|p| p.within(hole.fairway_width / 2.0)),
                of(&|p| p.at([0.0, 0.0])[1]),
            ])
        })
        .collect();
    // The larger the better, whatever the criterion.
    let merits: Vec<Option<Vec<f64>>> = draws
        .iter()
        .map(|choice| {
            let [strokes, fairway, carry] = choice.as_ref()?;
            Some(match criterion {
                Criterion::Strokes => strokes.iter().map(|s| -s).collect(),
                Criterion::Fairway => fairway.clone(),
                Criterion::Distance => carry.clone(),
            })
        })
        .collect();
    let chances = best_chances(&merits);
    let mean = |merit: &Vec<f64>| merit.iter().sum::<f64>() / merit.len() as f64;
    let best = merits
        .iter()
        .enumerate()
        .filter_map(|(i, merit)| Some((i, mean(merit.as_ref()?))))
        .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)))
        .map(|(i, _)| i);
    let read: Vec<ChoiceRead> = choices
        .iter()
        .zip(weighed)
        .zip(&draws)
        .zip(&chances)
        .map(|(((choice, weighed), draws), chance)| {
            let n = weighed.as_ref().map_or_else(
                || choice.balls.iter().filter(|b| b.plays()).count(),
                |w| w.n,
            );
            let told = |i: usize| {
                let mut values = draws.as_ref()?[i].clone();
                Some(Estimate {
                    n,
                    ..interval(&mut values, level)
                })
            };
            ChoiceRead {
                label: choice.label.clone(),
                n,
                carry: weighed.as_ref().map(|w| w.carry),
                side_spread: weighed.as_ref().map(|w| w.side_spread),
                fairway: told(1),
                strokes: told(0),
                best: *chance,
            }
        })
        .collect();
    let verdict = verdict(hole, &read, best, criterion, rules);
    HoleReport {
        interval_level: level,
        criterion,
        verdict,
        choices: read,
        best,
    }
}

/// How often each choice is the best over the draws. Draws of different choices are
/// independent, so each is set beside a shifted row of the others.
pub(crate) fn best_chances(merits: &[Option<Vec<f64>>]) -> Vec<Option<f64>> {
    let Some(n) = merits.iter().flatten().map(Vec::len).min() else {
        return vec![None; merits.len()];
    };
    // A step that shares no factor with the number of draws visits each of them.
    let place =
        |choice: usize, draw: usize| (draw * (2 * choice + 1) * 3 + 7 * choice * choice) % n;
    let mut wins = vec![0usize; merits.len()];
    for draw in 0..n {
        let winner = merits
            .iter()
            .enumerate()
            .filter_map(|(i, m)| Some((i, m.as_ref()?[place(i, draw)])))
            .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)));
        if let Some((i, _)) = winner {
            wins[i] += 1;
        }
    }
    merits
        .iter()
        .zip(wins)
        .map(|(merit, wins)| merit.as_ref().map(|_| wins as f64 / n as f64))
        .collect()
}

fn verdict(
    hole: &Hole,
    choices: &[ChoiceRead],
    best: Option<usize>,
    criterion: Criterion,
    rules: &HouseRules,
) -> Verdict {
    let working = working(hole, choices, rules);
    let balls = choices.iter().map(|choice| choice.n);
    let (fewest, most) = (balls.clone().min().unwrap_or(0), balls.max().unwrap_or(0));
    let detail = Sentence::of(format!(
        "{} · {:.0} % intervals · mishits that were set aside count here",
        if fewest == most {
            format!("{most} balls of each")
        } else {
            format!("{fewest} to {most} balls of each")
        },
        rules.interval_level * 100.0
    ));
    let told = best.and_then(|i| {
        let choice = &choices[i];
        Some((choice, choice.best?, choice.strokes?, choice.fairway?))
    });
    let Some((choice, chance, strokes, fairway)) = told else {
        return Verdict {
            kind: VerdictKind::CannotTellYet,
            sentence: Sentence::of(format!(
                "No choice has {LEAST_BALLS} balls with carry and side; its pattern cannot be laid on the hole yet."
            )),
            detail,
            more_balls: None,
            working,
        };
    };
    let alone = choices.iter().filter(|c| c.best.is_some()).count() == 1;
    let sure = !alone && chance >= rules.interval_level;
    let what = match criterion {
        Criterion::Strokes => format!("{:.2} strokes expected", strokes.value),
        Criterion::Fairway => format!("the fairway {:.0} % of the time", fairway.value * 100.0),
        Criterion::Distance => String::new(),
    };
    let label = &choice.label;
    let sentence = match (alone, sure) {
        (true, _) => Sentence::of(format!("{label}: ")),
        (_, true) => Sentence::of(format!("Play {label} here: ")),
        _ => Sentence::of(format!("{label} looks best here, but it is not sure: ")),
    };
    let sentence = match criterion {
        Criterion::Distance => sentence
            .figure(choice.carry.unwrap_or_default(), Dimension::Distance)
            .words(" of carry"),
        _ => sentence.words(what),
    };
    let sentence = if alone {
        sentence.words(". Choose another to weigh it against.")
    } else {
        sentence.words(format!(
            "; the best of these with a chance of {:.0} %.",
            chance * 100.0
        ))
    };
    Verdict {
        kind: if sure {
            VerdictKind::Yes
        } else {
            VerdictKind::CannotTellYet
        },
        sentence,
        detail,
        more_balls: None,
        working,
    }
}

fn working(hole: &Hole, choices: &[ChoiceRead], rules: &HouseRules) -> Working {
    let distance = |label: &str, si: f64| figure_row(label, si, Dimension::Distance);
    let kind = |kind: TroubleKind| match kind {
        TroubleKind::Trees => "trees",
        TroubleKind::Sand => "sand",
        TroubleKind::Water => "water",
        TroubleKind::OutOfBounds => "out of bounds",
    };
    let mut inputs = vec![
        distance("Length", hole.length),
        distance("Fairway", hole.fairway_width),
    ];
    for (name, side) in [("left", hole.left), ("right", hole.right)] {
        if let Some(side) = side {
            let label = format!("{} {name}, from the middle", kind(side.kind));
            inputs.push(distance(&label, side.from));
        }
    }
    if let Some(across) = hole.across {
        inputs.push(row(
            &format!("{} across", kind(across.kind)),
            Sentence::default()
                .bare(across.from, Dimension::Distance)
                .words(" to ")
                .figure(across.to, Dimension::Distance)
                .words(" from the tee"),
        ));
    }
    let results = choices.iter().filter_map(|choice| {
        let (strokes, fairway, best) = (choice.strokes?, choice.fairway?, choice.best?);
        Some(row(
            &choice.label,
            Sentence::of(format!(
                "{:.2} strokes ({:.2} to {:.2}); fairway {:.0} % ({:.0} to {:.0}); best with a chance of {:.0} %; n {}",
                strokes.value,
                strokes.low,
                strokes.high,
                fairway.value * 100.0,
                fairway.low * 100.0,
                fairway.high * 100.0,
                best * 100.0,
                choice.n
            )),
        ))
    });
    Working {
        inputs,
        formula: vec![
            Sentence::of("A bivariate normal pattern is drawn from what the balls say it may be, laid along the middle of the fairway, and each point of it played out: 1 + strokes still to play from the lie and the distance left."),
            Sentence::of("Trees leave a recovery; water costs a stroke and a drop beside it; out of bounds costs a stroke and the distance. Run is the mean run of the balls that have a total; without one, a ball stays where it lands."),
            Sentence::of("Strokes from a lie: 1 + (baseline − 1) × (1 + level / 54), where 54 are the strokes after the first of each hole in a round of the baseline."),
        ],
        rules: vec![
            row(
                "Strokes a round above the baseline",
                Sentence::of(format!("{:.0}", rules.player_level)),
            ),
            distance("Distance from the hole that is still green", rules.green_radius),
            level_row(rules.interval_level),
        ],
        results: results.collect(),
        sources: vec![
            "Baseline: Broadie 2012; losing along the whole hole: Broadie 2008. Patterns: Box & Tiao 1973. Points: Halton 1960.".to_owned(),
        ],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::ball::tests::ball;
    use crate::vocabulary::units::{Units, YARD};

    const PLAIN: Hole = Hole {
        length: 400.0 * YARD,
        fairway_width: 32.0 * YARD,
        left: None,
        right: None,
        across: None,
    };

    /// Balls to `carry` yd that stray by about `spread` yd.
    fn choice(label: &str, carry: f64, spread: f64) -> Choice {
        let balls = (0..24).map(|i| {
            let side = spread * ((i * 7 % 24) as f64 - 11.5) / 7.0;
            let far = carry + (i * 5 % 24) as f64 / 2.0 - 5.75;
            ball(
                i,
                &[(Quantity::Carry, far * YARD), (Quantity::Side, side * YARD)],
            )
        });
        Choice {
            label: label.to_owned(),
            balls: balls.collect(),
        }
    }

    fn weigh_on(on: &Hole, choices: &[Choice], criterion: Criterion) -> HoleReport {
        hole(on, choices, criterion, &HouseRules::default()).unwrap()
    }

    #[test]
    fn far_is_best_on_an_open_hole_and_straight_is_best_between_the_lakes() {
        let choices = [choice("All out", 275.0, 16.0), choice("80 %", 235.0, 8.0)];
        let open = weigh_on(&PLAIN, &choices, Criterion::Strokes);
        assert_eq!(open.best, Some(0));
        let lake = Some(SideTrouble {
            kind: TroubleKind::Water,
            from: 20.0 * YARD,
        });
        let narrow = Hole {
            left: lake,
            right: lake,
            ..PLAIN
        };
        let wild = [choice("All out", 275.0, 30.0), choice("80 %", 235.0, 8.0)];
        let report = weigh_on(&narrow, &wild, Criterion::Strokes);
        assert_eq!(report.best, Some(1));
        assert_eq!(report.verdict.kind, VerdictKind::Yes);
        let said = report.verdict.sentence.show(Units::MphYd);
        assert!(said.starts_with("Play 80 % here: "), "{said}");
    }

    #[test]
    fn the_criterion_decides() {
        let choices = [choice("All out", 260.0, 24.0), choice("80 %", 235.0, 8.0)];
        let best = |criterion| weigh_on(&PLAIN, &choices, criterion).best;
        assert_eq!(best(Criterion::Distance), Some(0));
        assert_eq!(best(Criterion::Fairway), Some(1));
    }

    #[test]
    fn one_certain_ball_plays_out_by_the_table() {
        // Always 250 yd down the middle of 400: a fairway 150 yd out takes 2.945 more.
        let pattern = Normal2::certain([0.0, 250.0 * YARD]);
        let rules = HouseRules {
            player_level: 0.0,
            ..HouseRules::default()
        };
        let strokes = strokes_of(&pattern, 0.0, &PLAIN, &rules, &spread_points());
        assert!((strokes - 3.945).abs() < 1e-9, "{strokes}");
    }

    #[test]
    fn a_tarn_across_costs_whoever_cannot_carry_it() {
        let tarn = Hole {
            across: Some(CrossTrouble {
                kind: TroubleKind::Water,
                from: 150.0 * YARD,
                to: 190.0 * YARD,
            }),
            ..PLAIN
        };
        let choices = [choice("5-wood", 175.0, 8.0), choice("Driver", 220.0, 12.0)];
        let report = weigh_on(&tarn, &choices, Criterion::Strokes);
        assert_eq!(report.best, Some(1));
        let gap = |report: &HoleReport| {
            let strokes = |i: usize| report.choices[i].strokes.unwrap().value;
            strokes(0) - strokes(1)
        };
        let without = weigh_on(&PLAIN, &choices, Criterion::Strokes);
        assert!(gap(&report) > gap(&without) + 0.8);
    }

    #[test]
    fn mirrored_trouble_costs_a_mirrored_pattern_the_same() {
        let lake = Some(SideTrouble {
            kind: TroubleKind::OutOfBounds,
            from: 25.0 * YARD,
        });
        let mirror = |c: &Choice| {
            let mut c = c.clone();
            for ball in &mut c.balls {
                let side = ball.reading.get(Quantity::Side).unwrap();
                let from = crate::shots::reading::Provenance::Measured;
                ball.reading.set(Quantity::Side, -side, from);
            }
            c
        };
        let one = [choice("A", 240.0, 15.0)];
        let left = Hole {
            left: lake,
            ..PLAIN
        };
        let right = Hole {
            right: lake,
            ..PLAIN
        };
        let a = weigh_on(&left, &one, Criterion::Strokes);
        let b = weigh_on(&right, &[mirror(&one[0])], Criterion::Strokes);
        let strokes = |r: &HoleReport| r.choices[0].strokes.unwrap().value;
        assert!(
            (strokes(&a) - strokes(&b)).abs() < 0.05,
            "{} {}",
            strokes(&a),
            strokes(&b)
        );
    }

    #[test]
    fn what_cannot_be_weighed_is_said_and_a_bad_hole_is_refused_by_field() {
        let few = Choice {
            label: "90 %".to_owned(),
            balls: vec![ball(0, &[(Quantity::Carry, 200.0)])],
        };
        let report = weigh_on(&PLAIN, &[few], Criterion::Strokes);
        assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
        assert!(report.choices[0].strokes.is_none());
        let bad = Hole {
            fairway_width: -4.0,
            across: Some(CrossTrouble {
                kind: TroubleKind::Water,
                from: 150.0,
                to: 120.0,
            }),
            ..PLAIN
        };
        let fields: Vec<String> = hole(&bad, &[], Criterion::Fairway, &HouseRules::default())
            .unwrap_err()
            .into_iter()
            .map(|why| why.field)
            .collect();
        assert_eq!(fields, ["hole.fairway_width", "hole.across.to"]);
    }
}
