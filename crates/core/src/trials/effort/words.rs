//! An effort ladder in words.

use super::choose::Chosen;
use super::{EffortLevel, EffortQuestion, EffortReport};
use crate::shots::face::Side;
use crate::trials::hole::Criterion;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, figure_row, level_row, row};
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// Stands until the report is complete.
pub(super) fn nothing_yet() -> Verdict {
    Verdict {
        kind: VerdictKind::CannotTellYet,
        sentence: Sentence::default(),
        detail: Sentence::default(),
        more_balls: None,
        working: Working {
            inputs: vec![],
            formula: vec![],
            rules: vec![],
            results: vec![],
            sources: vec![],
        },
    }
}

pub(super) fn verdict(
    question: &EffortQuestion<'_>,
    report: &EffortReport,
    chosen: &Chosen,
) -> Verdict {
    let working = working(question, report, chosen);
    let detail = detail(report);
    let told = chosen.play.map(|play| &report.levels[play]);
    let Some(best) = told.filter(|_| report.levels.len() > 1) else {
        return Verdict {
            kind: VerdictKind::CannotTellYet,
            sentence: missing(question, report),
            detail,
            more_balls: None,
            working,
        };
    };
    let (kind, chosen_said) = told_best(question, report, chosen, best);
    // What is sure is said; what is open stands under it.
    let (sentence, detail) = match what_it_came_to(report, &question.rules) {
        Some(felt) if kind == VerdictKind::CannotTellYet => {
            (felt, chosen_said.words(" ").join(detail))
        }
        _ => (chosen_said, detail),
    };
    Verdict {
        kind,
        sentence,
        detail,
        more_balls: if kind == VerdictKind::CannotTellYet {
            chosen.more_balls
        } else {
            None
        },
        working,
    }
}

/// What is said of the effort that looks best.
fn told_best(
    question: &EffortQuestion<'_>,
    report: &EffortReport,
    chosen: &Chosen,
    best: &EffortLevel,
) -> (VerdictKind, Sentence) {
    let level = question.rules.interval_level;
    let what = merit(question.criterion, best).unwrap_or_default();
    let stock = report.levels.iter().find(|l| l.felt.is_none());
    let aim = match question.criterion {
        Criterion::Strokes => "strokes",
        Criterion::Fairway => "the fairway",
        Criterion::Distance => "distance",
    };
    let against = |said: Sentence| match stock {
        Some(stock) if best.felt.is_some() => match merit(question.criterion, stock) {
            Some(its) => said.words("; stock ").join(its).words("."),
            None => said.words("."),
        },
        _ => said.words("."),
    };
    let chance = chosen.beats_stock.or(best.best).unwrap_or(0.0);
    if stock.is_some() && best.felt.is_none() {
        let (kind, said) = if chance >= level {
            let said = format!("is the one to play for {aim}");
            (VerdictKind::Same, said)
        } else {
            let said = format!("looks best for {aim}, but it is not sure");
            (VerdictKind::CannotTellYet, said)
        };
        let sentence = Sentence::of(format!("{}’s stock swing {said}: ", question.player));
        return (kind, sentence.join(what).words("."));
    }
    if chance >= level {
        let sentence = Sentence::of(format!("Play {} for {aim}: ", best.label)).join(what);
        return (VerdictKind::Yes, against(sentence));
    }
    let both = stock.and_then(|stock| {
        let [one, other] = [best, stock].map(|l| merit(question.criterion, l));
        Some((bare_merit(question.criterion, best).or(one)?, other?))
    });
    let sentence = match both {
        Some((one, other)) => {
            let does = match question.criterion {
                Criterion::Strokes => "takes",
                Criterion::Fairway => "hits",
                Criterion::Distance => "carries",
            };
            let label = &best.label;
            Sentence::of(format!(
                "Which effort to play for {aim} is open: {label} {does} "
            ))
            .join(one)
            .words(", stock ")
            .join(other)
        }
        None => Sentence::of(format!(
            "{} looks best for {aim}, but it is not sure: ",
            best.label
        ))
        .join(what),
    };
    let sentence = match chosen.more_balls {
        Some(1) => sentence.words("; one more ball of each would tell."),
        Some(n) => sentence.words(format!("; about {n} more balls of each would tell.")),
        None => sentence.words("."),
    };
    (VerdictKind::CannotTellYet, sentence)
}

/// What the feels came to: the gentlest, stock, the fullest, and what is out of place.
fn what_it_came_to(report: &EffortReport, rules: &HouseRules) -> Option<Sentence> {
    let feels: Vec<&EffortLevel> = report.levels.iter().filter(|l| l.felt.is_some()).collect();
    let (gentlest, fullest) = (feels.first()?, feels.last()?);
    let mut said = Sentence::of(format!(
        "{} by feel is {:.0} % of full speed",
        gentlest.label,
        gentlest.real.value * 100.0
    ));
    if let Some(stock_at) = report.stock_at {
        said = said.words(format!(
            ", stock feels like {:.0} %",
            stock_at.value * 100.0
        ));
    }
    let stock = report.levels.iter().find(|l| l.felt.is_none());
    if let Some(stock) = stock.filter(|s| fullest.speed.value > s.speed.value) {
        said = said
            .words(format!("; {} adds ", fullest.label))
            .figure(fullest.speed.value - stock.speed.value, Dimension::Speed);
        if let Some((full, usual)) = fullest.carry.zip(stock.carry) {
            let more = full.value - usual.value;
            said = said
                .words(" for ")
                .figure(more.abs(), Dimension::Distance)
                .words(if more < 0.0 {
                    " less carry"
                } else {
                    " more carry"
                });
        }
        if let Some(side) = off_centre(fullest, report, rules) {
            said = said.words(format!(" and comes {}", side.in_words()));
            if let Some(toll) = report.face.cost_of(side) {
                said = said.words(": ").join(toll);
            }
        }
    }
    said = said.words(".");
    let balls: Vec<String> = report.misfelt.iter().map(|i| (i + 1).to_string()).collect();
    Some(match balls.as_slice() {
        [] => said,
        [one] => said.words(format!(
            " Ball {one} belongs to another feel: give it there, or set it aside."
        )),
        several => said.words(format!(
            " Balls {} belong to other feels: give them there, or set them aside.",
            several.join(", ")
        )),
    })
}

/// Where most strikes of an effort are, or where they lie to those of the other efforts,
/// when it is not the middle.
fn off_centre(level: &EffortLevel, report: &EffortReport, rules: &HouseRules) -> Option<Side> {
    let counted = level.strikes.mostly();
    counted.or_else(|| moved(level, report, rules))
}

/// The side on which strikes lie half of the house's middle or more from where the other
/// efforts are struck, and from the middle itself.
fn moved(level: &EffortLevel, report: &EffortReport, rules: &HouseRules) -> Option<Side> {
    let here = level.struck?;
    let others = report.levels.iter().filter(|l| l.label != level.label);
    let others: Vec<(f64, [f64; 2])> = others
        .filter_map(|l| Some((l.n as f64, l.struck?)))
        .collect();
    let balls: f64 = others.iter().map(|(n, _)| n).sum();
    let axis = |i: usize, limit: f64, [less, more]: [Side; 2]| {
        let usual = others.iter().map(|(n, at)| n * at[i]).sum::<f64>() / balls;
        let beyond = |by: f64| by.abs() >= 0.5 * limit;
        let away = here[i] - usual;
        (beyond(away) && beyond(here[i]) && away * here[i] > 0.0).then_some(if away < 0.0 {
            less
        } else {
            more
        })
    };
    if others.is_empty() {
        return None;
    }
    axis(1, rules.centre_high, [Side::Low, Side::High])
        .or_else(|| axis(0, rules.centre_toe, [Side::Heel, Side::Toe]))
}

/// The merit without its unit, which the one that follows carries.
fn bare_merit(criterion: Criterion, level: &EffortLevel) -> Option<Sentence> {
    match criterion {
        Criterion::Strokes => level
            .strokes
            .map(|s| Sentence::of(format!("{:.2}", s.value))),
        Criterion::Fairway => level
            .fairway
            .map(|f| Sentence::of(format!("{:.0} %", f.value * 100.0))),
        Criterion::Distance => level
            .carry
            .map(|carry| Sentence::default().bare(carry.value, Dimension::Distance)),
    }
}

/// What an effort is worth by the criterion; nothing without balls that tell.
fn merit(criterion: Criterion, level: &EffortLevel) -> Option<Sentence> {
    match criterion {
        Criterion::Strokes => level
            .strokes
            .map(|s| Sentence::of(format!("{:.2} strokes", s.value))),
        Criterion::Fairway => level
            .fairway
            .map(|f| Sentence::of(format!("{:.0} % of fairways", f.value * 100.0))),
        Criterion::Distance => level.carry.map(|carry| {
            Sentence::default()
                .figure(carry.value, Dimension::Distance)
                .words(" of carry")
        }),
    }
}

fn missing(question: &EffortQuestion<'_>, report: &EffortReport) -> Sentence {
    let kept = question.balls.iter().filter(|(b, _)| b.kept()).count();
    Sentence::of(if question.balls.is_empty() {
        "No shots yet. The ladder appears as they are hit.".to_owned()
    } else if report.levels.is_empty() && !report.left_out.is_empty() && kept > 0 {
        format!(
            "No block names an effort. Call blocks “70 %” or “Stock”; “{}” is not read.",
            report.left_out[0]
        )
    } else if kept == 0 {
        "No shot stands: all are set aside or doubtful.".to_owned()
    } else if report.levels.is_empty() {
        "No kept shot has a club speed, or each effort was hit only once.".to_owned()
    } else if report.levels.len() == 1 {
        format!(
            "Only {} was hit. At least two efforts are needed.",
            report.levels[0].label
        )
    } else {
        "The real effort shows; no effort has two balls with carry and side, so where they land does not.".to_owned()
    })
}

fn detail(report: &EffortReport) -> Sentence {
    let shots: usize = report.levels.iter().map(|l| l.n).sum();
    let aside: usize = report.levels.iter().map(|l| l.set_aside).sum();
    let mut said = Sentence::of(format!("{shots} balls"));
    if aside > 0 {
        said = said.words(format!(" · {aside} set aside"));
    }
    let gentlest = report.levels.first().and_then(|l| Some((l.felt?, l.real)));
    if let Some((felt, real)) = gentlest {
        said = said.words(format!(
            " · {:.0} % by feel is {:.0} % of the speed",
            felt * 100.0,
            real.value * 100.0
        ));
    }
    if let Some(stock) = report.stock_at {
        said = said.words(format!(
            " · stock feels like {:.0} % ({:.0} to {:.0})",
            stock.value * 100.0,
            stock.low * 100.0,
            stock.high * 100.0
        ));
    }
    if let Some(warm_up) = report.warm_up {
        said = said
            .words(" · warm-up of ")
            .figure(warm_up.value, Dimension::Speed)
            .words(" taken out");
    }
    said
}

/// What one effort came to, in one row.
fn level_said(level: &EffortLevel) -> Sentence {
    let mut said = Sentence::default()
        .join(level.speed.said(Dimension::Speed))
        .words(format!(
            "; {:.0} % of the reference",
            level.real.value * 100.0
        ));
    if let Some(carry) = level.carry {
        said = said
            .words("; carry ")
            .figure(carry.value, Dimension::Distance);
    }
    if let Some(fairway) = level.fairway {
        said = said.words(format!(
            "; fairway {:.0} % ({:.0} to {:.0})",
            fairway.value * 100.0,
            fairway.low * 100.0,
            fairway.high * 100.0
        ));
    }
    if let Some(strokes) = level.strokes {
        said = said.words(format!(
            "; {:.2} strokes ({:.2} to {:.2})",
            strokes.value, strokes.low, strokes.high
        ));
    }
    said
}

fn working(question: &EffortQuestion<'_>, report: &EffortReport, chosen: &Chosen) -> Working {
    let rules = &question.rules;
    let mut inputs = Vec::new();
    if let Some(reference) = report.reference {
        inputs.push(figure_row(
            "Reference maximum of club speed",
            reference,
            Dimension::Speed,
        ));
    }
    inputs.push(figure_row("Hole", report.hole.length, Dimension::Distance));
    inputs.push(figure_row(
        "Fairway",
        report.hole.fairway_width,
        Dimension::Distance,
    ));
    for label in &report.left_out {
        inputs.push(row(label, Sentence::of("names no effort and is left out")));
    }
    let mut results = Vec::new();
    for level in &report.levels {
        results.push(row(&level.label, level_said(level)));
    }
    for (name, slope) in [
        (
            "Speed for each tenth of effort, warm-up taken out",
            report.slope,
        ),
        ("The same, not taken out", report.slope_raw),
        ("Warm-up from the first swing on", report.warm_up),
    ] {
        if let Some(slope) = slope {
            results.push(row(name, slope.said(Dimension::Speed)));
        }
    }
    if let Some(chance) = chosen.beats_stock {
        results.push(row(
            "Chance that the best beats stock",
            Sentence::of(format!("{:.0} %", chance * 100.0)),
        ));
    }
    Working {
        inputs,
        formula: vec![
            Sentence::of("Club speed = level of the effort − gain · exp(−n/τ), fitted together; n counts the swings made before. The levels of the feels are made to rise. Real effort is the level over the reference maximum."),
            Sentence::of("Stock’s place is the feel at which that rising curve, straight between feels, gives stock’s speed."),
            Sentence::of("Each effort’s pattern is bivariate normal; to its own scatter comes a few balls’ worth of the common scatter, along its trend over real effort. Mishits that were set aside count; swings that missed their feel do not."),
            Sentence::of("Best by the criterion: over draws of what the patterns may be. Strokes are reckoned as in the hole chooser."),
        ],
        rules: vec![
            row("Balls’ worth of shared spread", Sentence::of(format!("{:.0}", rules.shared_spread))),
            row("Strokes a round above the baseline", Sentence::of(format!("{:.0}", rules.player_level))),
            level_row(rules.interval_level),
        ],
        results,
        sources: vec![
            "Rising curve: Ayer et al. 1955. Unknown τ and patterns: Box & Tiao 1973. Shared spread: Smyth 2004, James & Stein 1961. Strokes: Broadie 2012.".to_owned(),
        ],
    }
}
