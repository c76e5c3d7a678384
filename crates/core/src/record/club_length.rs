//! How club length by height goes with speed across children, and where it peaks, where that
//! can be told ([`curve`]).
//!
//! Children differ in age, mass and maturity, which no curve of a group sees. So it advises
//! nobody to take a longer club; what a child's own swings with several lengths show counts for
//! more.

mod curve;
pub mod swung;

use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, level_row, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use curve::{Curve, Row, curve};
use serde::Serialize;
use swung::SwungLength;
use utoipa::ToSchema;

/// A child of the group.
#[derive(Debug, Clone, PartialEq)]
pub struct LengthChild {
    /// The name.
    pub name: String,
    /// Standing height, m, where it is known.
    pub height: Option<f64>,
    /// What was swung, by length.
    pub swung: Vec<SwungLength>,
    /// Whether the child swung a club whose length is not noted.
    pub unmeasured: bool,
}

/// What is asked.
#[derive(Debug, Clone, PartialEq)]
pub struct ClubLengthQuestion {
    /// The children.
    pub children: Vec<LengthChild>,
    /// Heights at which the group is split, m, lowest first; chosen where not given.
    pub splits: Option<Vec<f64>>,
    /// The house's rules.
    pub rules: HouseRules,
}

/// A child's mean with one length.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LengthPoint {
    /// Place of the child.
    pub child: usize,
    /// Length as a share of height.
    pub share: f64,
    /// Length, m.
    pub length: f64,
    /// Mean speed, m/s.
    pub mean: f64,
    /// Swings.
    pub n: usize,
}

/// A curve of one value within a group.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LengthCurve {
    /// Club speed or hand speed.
    pub quantity: Quantity,
    /// The children.
    pub points: Vec<LengthPoint>,
    /// Length by height, then speed at the group's mean height: low, middle and high end, m/s.
    pub line: Vec<[f64; 4]>,
    /// Chance that there is a peak within the lengths that were swung.
    pub chance: Option<f64>,
    /// Where it peaks, as a share of height, where that can be told.
    pub peak: Option<Estimate>,
    /// What a tenth of height past the peak costs, as a share of speed, where there is one.
    pub cost: Option<Estimate>,
    /// That, in words.
    pub said: Sentence,
}

/// Children of like height.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LengthGroup {
    /// Least height, m; open for the first.
    pub from: Option<f64>,
    /// Height from which the next group begins, m; open for the last.
    pub to: Option<f64>,
    /// Children in it.
    pub children: usize,
    /// Club speed, and hand speed where it was measured.
    pub curves: Vec<LengthCurve>,
}

/// What the group shows.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ClubLengthRead {
    /// The one conclusion.
    pub verdict: Verdict,
    /// Where the group was split, m.
    pub splits: Vec<f64>,
    /// The groups, lowest first.
    pub groups: Vec<LengthGroup>,
    /// Who is not in it, and why.
    pub left_out: Vec<Sentence>,
    /// What no curve of a group sees.
    pub cautions: Vec<Sentence>,
    /// Length by height that schools ask for.
    pub schools: f64,
}

/// Chance of a peak from which on one is told.
const TOLD: f64 = 0.5;
/// The length by height that schools name.
pub const SCHOOLS: f64 = 2.0 / 3.0;
/// Children from which on a group is split by itself.
const SPLIT_FROM: usize = 12;

/// Reads a group.
pub fn club_length(question: &ClubLengthQuestion) -> ClubLengthRead {
    let level = question.rules.interval_level;
    let mut heights: Vec<f64> = question
        .children
        .iter()
        .filter(|child| !child.swung.is_empty())
        .filter_map(|child| child.height)
        .collect();
    heights.sort_by(f64::total_cmp);
    let splits = question.splits.clone().unwrap_or_else(|| chosen(&heights));
    let ends: Vec<Option<f64>> = std::iter::once(None)
        .chain(splits.iter().copied().map(Some))
        .chain([None])
        .collect();
    let groups: Vec<LengthGroup> = ends
        .windows(2)
        .map(|pair| group(question, [pair[0], pair[1]], level))
        .filter(|group| group.children > 0)
        .collect();
    ClubLengthRead {
        verdict: verdict(&groups, level),
        splits,
        left_out: left_out(question),
        cautions: cautions(),
        schools: SCHOOLS,
        groups,
    }
}

/// One split at about the middle height of a group that is large enough, to the nearest 5 cm.
fn chosen(heights: &[f64]) -> Vec<f64> {
    if heights.len() < SPLIT_FROM {
        return Vec::new();
    }
    let middle = 0.5 * (heights[(heights.len() - 1) / 2] + heights[heights.len() / 2]);
    let split = (middle * 20.0).round() / 20.0;
    let below = heights.iter().filter(|height| **height < split).count();
    let fair = below >= SPLIT_FROM / 3 && heights.len() - below >= SPLIT_FROM / 3;
    if fair { vec![split] } else { Vec::new() }
}

fn group(question: &ClubLengthQuestion, [from, to]: [Option<f64>; 2], level: f64) -> LengthGroup {
    let within =
        |height: f64| from.is_none_or(|from| height >= from) && to.is_none_or(|to| height < to);
    let mut members = 0;
    let mut rows: [Vec<(Row, LengthPoint)>; 2] = [Vec::new(), Vec::new()];
    for (child, told) in question.children.iter().enumerate() {
        let Some(height) = told.height.filter(|height| within(*height)) else {
            continue;
        };
        members += usize::from(!told.swung.is_empty());
        for swung in &told.swung {
            for (rows, speeds) in rows
                .iter_mut()
                .zip([&swung.club_speeds, &swung.hand_speeds])
            {
                if speeds.is_empty() {
                    continue;
                }
                let mean = speeds.iter().sum::<f64>() / speeds.len() as f64;
                let share = swung.length / height;
                let row = Row {
                    child,
                    x: share,
                    height,
                    y: mean,
                };
                let point = LengthPoint {
                    child,
                    share,
                    length: swung.length,
                    mean,
                    n: speeds.len(),
                };
                rows.push((row, point));
            }
        }
    }
    let quantities = [Quantity::ClubSpeed, Quantity::HandSpeed];
    let curves = quantities
        .into_iter()
        .zip(rows)
        .filter(|(_, rows)| !rows.is_empty());
    LengthGroup {
        from,
        to,
        children: members,
        curves: curves
            .map(|(quantity, rows)| read(quantity, rows, members, level))
            .collect(),
    }
}

fn read(
    quantity: Quantity,
    rows: Vec<(Row, LengthPoint)>,
    children: usize,
    level: f64,
) -> LengthCurve {
    let (rows, points): (Vec<Row>, Vec<LengthPoint>) = rows.into_iter().unzip();
    let told = curve(&rows, level);
    let peaked = told.as_ref().filter(|told| told.peaked >= TOLD);
    let estimate = |of: fn(&Curve) -> [f64; 3]| {
        peaked.map(|told| {
            let [low, value, high] = of(told);
            Estimate {
                value,
                low,
                high,
                n: children,
            }
        })
    };
    let (peak, cost) = (estimate(|told| told.peak), estimate(|told| told.cost));
    LengthCurve {
        quantity,
        said: said(quantity, peak, cost, told.is_some(), children),
        points,
        line: told
            .as_ref()
            .map(|told| told.line.clone())
            .unwrap_or_default(),
        chance: told.as_ref().map(|told| told.peaked),
        peak,
        cost,
    }
}

fn name_of(quantity: Quantity) -> &'static str {
    match quantity {
        Quantity::HandSpeed => "Hand speed",
        _ => "Club speed",
    }
}

fn said(
    quantity: Quantity,
    peak: Option<Estimate>,
    cost: Option<Estimate>,
    drawn: bool,
    children: usize,
) -> Sentence {
    let name = name_of(quantity);
    let of = match children {
        1 => "of one child".to_owned(),
        n => format!("of {n} children"),
    };
    match (peak, cost) {
        (Some(peak), Some(cost)) => Sentence::of(format!("{name} {of} peaks at "))
            .figure(peak.value, Dimension::Ratio)
            .words(" of the height (")
            .bare(peak.low, Dimension::Ratio)
            .words(" to ")
            .bare(peak.high, Dimension::Ratio)
            .words(format!(
                "); a tenth of height more costs about {:.0} % ({:.0} to {:.0}).",
                100.0 * cost.value,
                100.0 * cost.low,
                100.0 * cost.high
            )),
        _ if drawn => Sentence::of(format!("{name} {of}: no peak can be told.")),
        _ => Sentence::of(format!(
            "{name} {of}: too few, or lengths too much alike, for a curve."
        )),
    }
}

fn verdict(groups: &[LengthGroup], level: f64) -> Verdict {
    let peaks: Vec<(&LengthGroup, Estimate)> = groups
        .iter()
        .filter_map(|group| {
            let club = group
                .curves
                .iter()
                .find(|c| c.quantity == Quantity::ClubSpeed)?;
            Some((group, club.peak?))
        })
        .collect();
    let children: usize = groups.iter().map(|group| group.children).sum();
    const SAFE: &str = "Shorter is the safe side.";
    let (kind, sentence) = match &peaks[..] {
        [] if children == 0 => (
            VerdictKind::CannotTellYet,
            Sentence::of(
                "Nobody here has a height, a club of known length and swings with it yet.",
            ),
        ),
        [] => (
            VerdictKind::CannotTellYet,
            Sentence::of(format!(
                "No length stands out among {children} {}: no peak of club speed can be told. {SAFE}",
                if children == 1 { "child" } else { "children" }
            )),
        ),
        peaks => {
            let said = peaks.iter().enumerate().fold(
                Sentence::of("Club speed peaks "),
                |said, (at, (group, peak))| {
                    let said = if at == 0 { said } else { said.words(", ") };
                    in_group(said, group, groups.len())
                        .words("where the club is ")
                        .figure(peak.value, Dimension::Ratio)
                        .words(" of the height (")
                        .bare(peak.low, Dimension::Ratio)
                        .words(" to ")
                        .bare(peak.high, Dimension::Ratio)
                        .words(")")
                },
            );
            let all_shorter = peaks.iter().all(|(_, peak)| peak.high < SCHOOLS);
            let said = said.words(if all_shorter {
                ", under the two thirds that schools name; longer costs speed. "
            } else {
                "; past that, longer costs speed. "
            });
            (VerdictKind::Yes, said.words(SAFE))
        }
    };
    Verdict {
        kind,
        sentence,
        detail: Sentence::of(format!(
            "{children} {} with height, length and swings",
            if children == 1 { "child" } else { "children" }
        )),
        more_balls: None,
        working: working(groups, level),
    }
}

fn in_group(said: Sentence, group: &LengthGroup, of: usize) -> Sentence {
    if of < 2 {
        return said;
    }
    let children = group.children;
    match (group.from, group.to) {
        (None, Some(to)) => said.words(format!("under {to:.2} m (n {children}) ")),
        (Some(from), _) => said.words(format!("from {from:.2} m on (n {children}) ")),
        (None, None) => said,
    }
}

fn left_out(question: &ClubLengthQuestion) -> Vec<Sentence> {
    let why = |child: &LengthChild| {
        let name = &child.name;
        if child.swung.is_empty() && child.unmeasured {
            Some(format!(
                "{name}: the driver’s length is not noted in the bag."
            ))
        } else if child.swung.is_empty() {
            Some(format!("{name}: no usual swings with the driver yet."))
        } else if child.height.is_none() {
            Some(format!("{name}: no height is noted."))
        } else {
            None
        }
    };
    question
        .children
        .iter()
        .filter_map(why)
        .map(Sentence::of)
        .collect()
}

fn cautions() -> Vec<Sentence> {
    [
        "A group is few children; age, mass, maturity and the mass of the club are not seen here.",
        "Shorter is the safe side: a club a little short costs little, one too long costs speed and teaches poor movement. Outgrow a club; do not grow into one.",
        "No child needs a longer club for this curve. Before anything is bought, let the child swing three lengths, choking down: its own swings tell more.",
    ]
    .map(Sentence::of)
    .into()
}

fn working(groups: &[LengthGroup], level: f64) -> Working {
    let curves = groups.iter().flat_map(|group| &group.curves);
    Working {
        inputs: groups
            .iter()
            .map(|group| {
                let label = in_group(Sentence::default(), group, groups.len());
                let label = match &label.0[..] {
                    [] => "Children".to_owned(),
                    _ => label.show(crate::vocabulary::units::Units::KmhM),
                };
                row(label.trim(), Sentence::of(group.children.to_string()))
            })
            .collect(),
        formula: vec![
            Sentence::of("Each child is a mean. The curve is level, or falls off on both sides of a peak like a parabola; each peak and each fall is weighed by how well it fits, half of the belief being on no peak at all beforehand. How much taller children are faster is averaged over."),
            Sentence::of("A peak is told when it is likelier than not that there is one within the lengths that were swung; its interval is that of the peaks that fit. Whoever swung several lengths counts within themselves."),
        ],
        rules: vec![level_row(level)],
        results: curves.map(|curve| row(name_of(curve.quantity), curve.said.clone())).collect(),
        sources: vec![
            "Gelman et al. (2013), Bayesian Data Analysis: what fits is weighed, so that choosing to tell a peak does not make it too sure.".to_owned(),
            "Laird & Ware (1982), Biometrics 38: several values of one child.".to_owned(),
            "Harville (1977), Journal of the American Statistical Association 72: how children differ beside how swings do.".to_owned(),
        ],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::{MPH, Units};

    fn child(i: usize, height: f64, share: f64, mph: f64) -> LengthChild {
        LengthChild {
            name: format!("Child {i}"),
            height: Some(height),
            swung: vec![SwungLength {
                length: share * height,
                club_speeds: [-0.6, 0.0, 0.6].map(|off| (mph + off) * MPH).to_vec(),
                hand_speeds: Vec::new(),
            }],
            unmeasured: false,
        }
    }

    fn ask(children: Vec<LengthChild>, splits: Option<Vec<f64>>) -> ClubLengthRead {
        club_length(&ClubLengthQuestion {
            children,
            splits,
            rules: HouseRules::default(),
        })
    }

    /// Children whose speed peaks at 0.62 of their height.
    fn group_of(n: usize) -> Vec<LengthChild> {
        (0..n)
            .map(|i| {
                let height = 1.25 + 0.03 * ((i * 7) % 10) as f64;
                let share = 0.55 + 0.2 * i as f64 / n as f64;
                let odd = [0.7, -0.5, 0.2, -0.9, 0.4][i % 5];
                let mph = 66.0 - 900.0 * (share - 0.62_f64).powi(2) + odd;
                child(i, height, share, mph)
            })
            .collect()
    }

    #[test]
    fn a_peak_is_told_with_its_interval_and_shorter_as_the_safe_side() {
        let told = ask(group_of(16), Some(Vec::new()));
        let peak = told.groups[0].curves[0].peak.unwrap();
        assert!((peak.low..peak.high).contains(&0.62), "{peak:?}");
        let said = told.verdict.sentence.show(Units::KmhM);
        assert!(
            said.starts_with("Club speed peaks where the club is 0.6"),
            "{said}"
        );
        assert!(said.ends_with("Shorter is the safe side."), "{said}");
        // Nobody is told to take a longer club.
        let all: Vec<String> = told.cautions.iter().map(|c| c.show(Units::KmhM)).collect();
        assert!(all[2].starts_with("No child needs a longer club"));
    }

    #[test]
    fn a_large_group_is_split_by_height_and_as_the_coach_says() {
        let told = ask(group_of(16), None);
        assert_eq!((told.groups.len(), told.splits.len()), (2, 1));
        let sum: usize = told.groups.iter().map(|group| group.children).sum();
        assert_eq!(sum, 16);
        assert_eq!(ask(group_of(16), Some(vec![1.3, 1.4])).groups.len(), 3);
        assert_eq!(ask(group_of(8), None).groups.len(), 1);
    }

    #[test]
    fn few_children_level_speeds_and_missing_measures_are_told_as_such() {
        let level = |n: usize| {
            (0..n)
                .map(|i| child(i, 1.4, 0.55 + 0.02 * i as f64, 60.0 + (i % 3) as f64))
                .collect()
        };
        let told = ask(level(9), None);
        assert_eq!(told.groups[0].curves[0].peak, None);
        let said = told.verdict.sentence.show(Units::KmhM);
        assert!(said.contains("no peak of club speed can be told"), "{said}");
        let few = ask(level(3), None);
        assert!(few.groups[0].curves[0].line.is_empty());
        let mut odd: Vec<LengthChild> = level(3);
        odd[0].height = None;
        odd[1].swung.clear();
        odd[1].unmeasured = true;
        odd[2].swung.clear();
        let told = ask(odd, None);
        let out: Vec<String> = told.left_out.iter().map(|s| s.show(Units::KmhM)).collect();
        assert_eq!(
            out,
            [
                "Child 0: no height is noted.",
                "Child 1: the driver’s length is not noted in the bag.",
                "Child 2: no usual swings with the driver yet."
            ]
        );
        assert!(
            told.verdict
                .sentence
                .show(Units::KmhM)
                .starts_with("Nobody here")
        );
    }

    #[test]
    fn one_child_s_own_lengths_tell_without_the_others() {
        // Each swings four lengths: what one child is faster than another does not matter.
        let children: Vec<LengthChild> = (0..4)
            .map(|i| {
                let swung = [0.56, 0.62, 0.68, 0.74].map(|share: f64| {
                    let odd = [0.2, -0.3, 0.1][(i + (share * 100.0) as usize) % 3];
                    let mph = 50.0 + 9.0 * i as f64 - 700.0 * (share - 0.62).powi(2) + odd;
                    SwungLength {
                        length: 1.4 * share,
                        club_speeds: vec![mph * MPH; 4],
                        hand_speeds: Vec::new(),
                    }
                });
                LengthChild {
                    swung: swung.to_vec(),
                    ..child(i, 1.4, 0.6, 60.0)
                }
            })
            .collect();
        let told = ask(children, Some(Vec::new()));
        let peak = told.groups[0].curves[0].peak.unwrap();
        assert!(
            peak.low < 0.62 && peak.high > 0.62 && peak.high - peak.low < 0.05,
            "{peak:?}"
        );
    }
}
