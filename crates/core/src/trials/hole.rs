//! Which shot on this hole: each effort or club by fairway chance and expected strokes.
//!
//! Every choice's own pattern is laid on the hole. Where a ball ends gives the lie and
//! the distance left, and those the strokes still to play ([`crate::trials::strokes`]). What few
//! balls do not tell of a pattern goes into the interval.

mod advice;
mod ground;
mod shared;
mod weigh;
mod words;

pub(crate) use advice::{apart, more_balls};
pub(crate) use weigh::{best_chances, merits_of, played_out, weigh_together};

use crate::shots::ball::Ball;
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::Verdict;
use crate::vocabulary::invalid::{Invalid, within};
use serde::{Deserialize, Serialize};
use std::ops::RangeInclusive;
use utoipa::ToSchema;

/// Balls that a choice needs.
pub const LEAST_BALLS: usize = 3;
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
    /// Lengths that a hole may have, m.
    pub const LENGTH: RangeInclusive<f64> = 50.0..=700.0;
    /// Widths that its fairway may have, m.
    pub const FAIRWAY_WIDTH: RangeInclusive<f64> = 1.0..=200.0;

    /// Where trouble along a side may begin, m from the middle: beside the fairway.
    pub fn side_from(&self) -> RangeInclusive<f64> {
        (self.fairway_width / 2.0).max(0.5)..=300.0
    }

    /// Where trouble across may begin, m from the tee.
    pub fn across_from(&self) -> RangeInclusive<f64> {
        5.0..=self.length.max(6.0)
    }

    /// Where trouble across that begins at `from` may end, m from the tee.
    pub fn across_to(from: f64) -> RangeInclusive<f64> {
        from + 1.0..=*Self::LENGTH.end()
    }

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
        let mut look = |field: &str, value: f64, range: RangeInclusive<f64>| {
            if let Err(why) = within(field, value, range, "m") {
                troubles.push(why);
            }
        };
        look("hole.length", self.length, Self::LENGTH);
        look(
            "hole.fairway_width",
            self.fairway_width,
            Self::FAIRWAY_WIDTH,
        );
        for (field, side) in [
            ("hole.left.from", self.left),
            ("hole.right.from", self.right),
        ] {
            if let Some(side) = side {
                look(field, side.from, self.side_from());
            }
        }
        if let Some(across) = self.across {
            look("hole.across.from", across.from, self.across_from());
            look("hole.across.to", across.to, Self::across_to(across.from));
        }
        if troubles.is_empty() {
            Ok(())
        } else {
            Err(troubles)
        }
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
    let balls: Vec<Vec<&Ball>> = choices.iter().map(|c| c.balls.iter().collect()).collect();
    let weighed = weigh_together(&balls, rules);
    Ok(weigh::report(hole, choices, &weighed, criterion, rules))
}

#[cfg(test)]
mod tests {
    use super::ground::Ground;
    use super::weigh::{SPREAD, strokes};
    use super::*;
    use crate::shots::ball::tests::ball;
    use crate::shots::landing::{Moments, Normal2, Posterior};
    use crate::verdicts::verdict::VerdictKind;
    use crate::vocabulary::quantity::Quantity;
    use crate::vocabulary::units::{Units, YARD};
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardNormal};
    use rand_pcg::Pcg64;

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
        let strokes = strokes(&pattern, &SPREAD[0], 0.0, &Ground::of(&PLAIN, &rules));
        assert!((strokes - 3.945).abs() < 1e-4, "{strokes}");
    }

    #[test]
    fn a_pattern_is_worth_what_very_many_balls_of_it_take() {
        let trouble = |kind, from| Some(SideTrouble { kind, from });
        let hole = Hole {
            left: trouble(TroubleKind::OutOfBounds, 24.0),
            right: trouble(TroubleKind::Trees, 19.0),
            across: Some(CrossTrouble {
                kind: TroubleKind::Water,
                from: 196.0,
                to: 219.0,
            }),
            ..PLAIN
        };
        let (rules, run) = (HouseRules::default(), 12.0);
        let ground = Ground::of(&hole, &rules);
        let mut rng = Pcg64::seed_from_u64(7);
        // Two that differ in every way, and one that draws of few balls can become.
        for (middle, [side, along]) in [
            ([-6.0, 221.0], [14.0, 7.0]),
            ([9.0, 187.0], [6.0, 16.0]),
            ([30.0, 150.0], [70.0, 90.0]),
        ] {
            let balls = [
                [side, 0.3 * along],
                [-side, -0.3 * along],
                [0.0, along],
                [0.0, -along],
            ];
            let points = balls.map(|[x, y]| [middle[0] + x, middle[1] + y]);
            let patterns = Posterior::of(&Moments::of(&points).unwrap(), 3).0;
            for pattern in &patterns[..3] {
                let very_many = 60_000;
                let taken: f64 = (0..very_many)
                    .map(|_| {
                        let z = [
                            StandardNormal.sample(&mut rng),
                            StandardNormal.sample(&mut rng),
                        ];
                        1.0 + ground.after::<1>([pattern.at(z)], run)
                    })
                    .sum::<f64>()
                    / f64::from(very_many);
                let told: Vec<f64> = SPREAD
                    .iter()
                    .map(|set| strokes(pattern, set, run, &ground))
                    .collect();
                let mean = told.iter().sum::<f64>() / told.len() as f64;
                assert!((mean - taken).abs() < 0.015, "{mean} {taken}");
                let off = told.iter().map(|t| (t - taken).abs()).fold(0.0, f64::max);
                assert!(off < 0.06, "{off} of {taken}");
            }
        }
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
    fn a_player_with_two_ways_to_miss_is_counted_and_not_smoothed_over() {
        // Half miss left, half right, hardly any in the middle of 32 yd.
        let balls = (0..24).map(|i| {
            let off = (i * 7 % 12) as f64 / 3.0 - 1.8;
            let side = if i % 2 == 0 { 21.0 + off } else { -21.0 + off };
            ball(
                i,
                &[
                    (Quantity::Carry, 250.0 * YARD),
                    (Quantity::Side, side * YARD),
                ],
            )
        });
        let two_ways = Choice {
            label: "Two ways".to_owned(),
            balls: balls.collect(),
        };
        let report = weigh_on(&PLAIN, &[two_ways], Criterion::Fairway);
        let fairway = report.choices[0].fairway.unwrap();
        assert!(fairway.low <= 0.0 && fairway.high < 0.2, "{fairway:?}");
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
