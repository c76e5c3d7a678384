//! A comparison in words: the sentence, what stands beside it, and the working.

use super::{BallSet, CompareQuestion, DifferenceRead, SetRead};
use crate::physics::club::Club;
use crate::statistics::summary::Estimate;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, WorkingRow, figure_row, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// The set that mixes clubs, if any, with two of them.
pub(super) fn mixed(sets: &[BallSet]) -> Option<(&str, Club, Club)> {
    sets.iter().find_map(|set| {
        let first = set.balls.first()?.club;
        let other = set.balls.iter().find(|ball| ball.club != first)?.club;
        Some((set.label.as_str(), first, other))
    })
}

pub(super) fn verdict(
    question: &CompareQuestion,
    sets: &[SetRead],
    differences: &[DifferenceRead],
    margin: f64,
    level: f64,
) -> Verdict {
    let working = working(question, sets, differences, margin, level);
    // Of several sets the one that differs most for sure, or else the first.
    let told = differences
        .iter()
        .filter(|d| matches!(d.kind, VerdictKind::Yes | VerdictKind::No))
        .max_by(|a, b| {
            let size = |d: &DifferenceRead| d.difference.value.abs();
            size(a).total_cmp(&size(b)).then(b.set.cmp(&a.set))
        })
        .or_else(|| differences.first());
    let missing = missing(question, sets);
    let (Some(told), None) = (told, missing.as_ref()) else {
        return Verdict {
            kind: VerdictKind::CannotTellYet,
            sentence: Sentence::of(
                missing.unwrap_or_else(|| "These sets cannot be compared.".to_owned()),
            ),
            detail: counts(sets),
            more_balls: None,
            working,
        };
    };
    Verdict {
        kind: told.kind,
        sentence: sentence(question, sets, told, margin),
        detail: detail(question, sets, told, level),
        more_balls: told.more_balls,
        working,
    }
}

fn missing(question: &CompareQuestion, sets: &[SetRead]) -> Option<String> {
    if let Some((label, one, other)) = mixed(&question.sets) {
        return Some(format!(
            "“{label}” holds balls of the {} and of the {}. Choose one club for it.",
            one.in_words(),
            other.in_words()
        ));
    }
    let short = sets.iter().enumerate().find(|(_, set)| set.values < 2)?;
    let (i, set) = short;
    let label = &set.label;
    let what = question.quantity.label().to_lowercase();
    let balls = &question.sets[i].balls;
    let kept = set.counts.kept;
    let calculated = balls
        .iter()
        .filter(|b| b.kept() && b.reading.get(question.quantity).is_some())
        .count();
    Some(if balls.is_empty() {
        format!("“{label}” has no balls yet.")
    } else if kept == 0 {
        format!("No ball of “{label}” stands: all are set aside or doubtful.")
    } else if set.values == 0 && calculated > 0 {
        format!(
            "The {what} of “{label}” is calculated by the device, not measured; the house rules leave it out."
        )
    } else if set.values == 0 {
        format!("No kept ball of “{label}” has a {what}.")
    } else {
        format!("Only one kept ball of “{label}” has a {what}; at least two are needed.")
    })
}

fn sentence(
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
    margin: f64,
) -> Sentence {
    let (first, other) = (&sets[0].label, &sets[told.set].label);
    let dimension = question.quantity.dimension();
    let size = told.difference.value.abs();
    let words = Wording::of(question.quantity);
    let said = match told.kind {
        VerdictKind::Same => Sentence::of(format!(
            "{other} {} the same as {first} within your ",
            words.verb
        ))
        .figure(margin, dimension),
        VerdictKind::Yes | VerdictKind::No => {
            let more = told.kind == VerdictKind::Yes;
            Sentence::of(format!("{other} {} ", words.verb))
                .figure(size, dimension)
                .words(format!(
                    " {} than {first}",
                    if more { words.more } else { words.less }
                ))
        }
        VerdictKind::CannotTellYet => Sentence::of(format!(
            "Cannot tell yet whether {other} {} {} than {first}: {}",
            words.verb,
            if told.difference.value < 0.0 {
                words.less
            } else {
                words.more
            },
            match told.more_balls {
                Some(1) => "about 1 more ball of each would tell".to_owned(),
                Some(n) => format!("about {n} more balls of each would tell"),
                None => format!(
                    "even {} more balls of each would hardly tell",
                    question.rules.most_more_balls()
                ),
            }
        )),
    };
    let width = told
        .side_spread
        .filter(|_| question.quantity != Quantity::Side)
        .map(|spread| spread.ratio)
        .filter(|ratio| ratio.high < 1.0 || ratio.low > 1.0);
    match width {
        Some(ratio) if told.kind == VerdictKind::CannotTellYet => {
            said.words(format!(". It lands in {}.", share_of_width(&ratio)))
        }
        Some(ratio) => said.words(format!(" and lands in {}.", share_of_width(&ratio))),
        None => said.words("."),
    }
}

fn share_of_width(ratio: &Estimate) -> String {
    if (0.45..0.55).contains(&ratio.value) {
        "half the width".to_owned()
    } else if ratio.value < 1.0 {
        format!("{:.0} % of the width", ratio.value * 100.0)
    } else {
        format!("{:.1} times the width", ratio.value)
    }
}

/// How a value is said to be more or less.
struct Wording {
    verb: &'static str,
    more: &'static str,
    less: &'static str,
}

impl Wording {
    fn of(quantity: Quantity) -> Wording {
        let (verb, more, less) = match quantity {
            Quantity::Carry => ("carries", "further", "shorter"),
            Quantity::Total => ("ends", "further", "shorter"),
            Quantity::ClubSpeed => ("is", "faster", "slower"),
            Quantity::BallSpeed => ("is", "faster off the face", "slower off the face"),
            Quantity::Side => ("lands", "further right", "further left"),
            Quantity::LaunchAngle => ("launches", "higher", "lower"),
            Quantity::SpinRate => ("spins", "more", "less"),
            Quantity::Apex => ("peaks", "higher", "lower"),
            Quantity::SmashFactor => ("has a smash factor", "higher", "lower"),
            _ => ("gives", "more", "less"),
        };
        Wording { verb, more, less }
    }
}

fn counts(sets: &[SetRead]) -> Sentence {
    let numbers: Vec<String> = sets.iter().map(|s| s.values.to_string()).collect();
    let aside: usize = sets.iter().map(|s| s.counts.set_aside).sum();
    let doubtful: usize = sets.iter().map(|s| s.counts.doubtful).sum();
    let mut said = if sets.len() <= 3 {
        format!("{} balls", numbers.join(" against "))
    } else {
        let balls: usize = sets.iter().map(|s| s.values).sum();
        format!("{balls} balls in {} sets", sets.len())
    };
    if aside > 0 {
        said.push_str(&format!(" · {aside} set aside"));
    }
    if doubtful > 0 {
        said.push_str(&format!(" · {doubtful} doubtful left out"));
    }
    Sentence::of(said)
}

fn detail(
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
    level: f64,
) -> Sentence {
    let dimension = question.quantity.dimension();
    let mut said = counts(sets)
        .words(format!(" · {:.0} % interval ", level * 100.0))
        .bare(told.difference.low, dimension)
        .words(" to ")
        .figure(told.difference.high, dimension);
    if told.drift.is_some() {
        said = said.words(if told.balanced {
            " · drift over the session taken out"
        } else {
            " · hit one after the other, so drift weighs on it: next time in turns"
        });
    } else if !told.balanced {
        said = said.words(" · not hit in turns: a warm-up, a day or a device may be in it");
    }
    if let Some(with) = told.with_set_aside {
        said = said
            .words(" · with those set aside ")
            .bare(with.value, dimension);
    }
    said
}

fn working(
    question: &CompareQuestion,
    sets: &[SetRead],
    differences: &[DifferenceRead],
    margin: f64,
    level: f64,
) -> Working {
    let rules = &question.rules;
    let dimension = question.quantity.dimension();
    let inputs = sets
        .iter()
        .map(|set| {
            let said = format!(
                "{} kept, {} set aside, {} doubtful",
                set.counts.kept, set.counts.set_aside, set.counts.doubtful
            );
            let said = Sentence::of(said);
            let said = match &set.kept {
                Some(kept) => said.words("; mean ").figure(kept.mean, dimension),
                None => said,
            };
            row(&set.label, said)
        })
        .collect();
    let results = differences
        .iter()
        .flat_map(|d| results(d, sets, dimension))
        .collect();
    Working {
        inputs,
        formula: vec![
            Sentence::of("Difference = mean of the set − mean of the first set, with Welch's interval, which lets each set have its own spread."),
            Sentence::of("Where both sets share a session, one straight drift over hitting order is fitted to both and taken out. What is not known of it widens the interval as far as the sets were hit apart."),
            Sentence::of("Wholly inside the margin: the same. Wholly above or below nothing: more or less. Else it cannot tell yet; the advised balls give a verdict with the chance of the house rule, counting what is not yet known of the difference."),
            Sentence::of("Shuffled: how often the same balls, dealt by chance, differ as much. Spread: ratio of standard deviations with a jackknife interval. Bests: mean best over every choice of as many balls as the smaller set has."),
        ],
        rules: vec![
            figure_row("Margin", margin, dimension),
            row(
                "Interval level",
                Sentence::of(if differences.len() > 1 {
                    format!("{:.1} %: {:.0} % for all sets together", level * 100.0, rules.interval_level * 100.0)
                } else {
                    format!("{:.0} %", level * 100.0)
                }),
            ),
            row("Chance of a verdict", Sentence::of(format!("{:.0} %", rules.verdict_power * 100.0))),
            figure_row(
                if question.club_gap.is_some() { "Gap between the player's clubs" } else { "Gap between clubs" },
                question.club_gap.unwrap_or(rules.club_gap),
                Dimension::Distance,
            ),
        ],
        results,
        sources: vec![
            "Difference: Welch 1947; drift: analysis of covariance, Fisher 1932. Sameness: Schuirmann 1987. Several sets: Dunn 1961.".to_owned(),
            "Shuffling: Fisher 1935, Pitman 1937. Spread: Brown & Forsythe 1974, Miller 1968. Patterns: Chew 1966, Tippett 1925, Rousseeuw & Van Driessen 1999.".to_owned(),
        ],
    }
}

fn spreads(d: &DifferenceRead, sets: &[SetRead]) -> impl Iterator<Item = WorkingRow> {
    [("Spread", d.spread), ("Left–right spread", d.side_spread)]
        .into_iter()
        .filter_map(|(what, spread)| {
            let spread = spread?;
            Some(row(
                &format!("{what}, {} over {}", sets[d.set].label, sets[0].label),
                Sentence::of(format!(
                    "{:.2} ({:.2} to {:.2}); equal spreads differ as much {:.1} % of the time",
                    spread.ratio.value,
                    spread.ratio.low,
                    spread.ratio.high,
                    spread.p * 100.0
                )),
            ))
        })
}

fn results(d: &DifferenceRead, sets: &[SetRead], dimension: Dimension) -> Vec<WorkingRow> {
    let name = |what: &str| format!("{what}, {} − {}", sets[d.set].label, sets[0].label);
    let mut rows = vec![
        row(&name("Difference"), d.difference.said(dimension)),
        row(&name("As the balls fell"), d.raw.said(dimension)),
    ];
    if let Some(with) = d.with_set_aside {
        rows.push(row(&name("With those set aside"), with.said(dimension)));
    }
    if let Some(drift) = d.drift {
        let ten = drift.times(10.0);
        rows.push(row("Drift over ten balls", ten.said(dimension)));
    }
    rows.push(row(
        "Shuffled balls differ as much",
        Sentence::of(format!(
            "{:.1} % of the time{}",
            d.shuffled.p * 100.0,
            if d.shuffled.exact {
                ", every way gone through"
            } else {
                ""
            }
        )),
    ));
    rows.extend(spreads(d, sets));
    if let Some(bests) = d.bests {
        rows.push(row(
            &format!("Best of {} tries", bests.tries),
            Sentence::default()
                .bare(bests.first, dimension)
                .words(" and ")
                .figure(bests.other, dimension)
                .words(format!(
                    "; shuffled as far apart {:.0} % of the time{}",
                    bests.p * 100.0,
                    if bests.beyond_device {
                        ""
                    } else {
                        "; the device cannot tell them apart"
                    }
                )),
        ));
    }
    if let Some(worth) = d.worth {
        rows.push(row("Worth in carry", worth.said(Dimension::Distance)));
    }
    if let Some(clubs) = d.clubs {
        rows.push(row(
            "Worth in clubs",
            Sentence::of(format!(
                "{:.1} ({:.1} to {:.1})",
                clubs.value, clubs.low, clubs.high
            )),
        ));
    }
    rows
}
