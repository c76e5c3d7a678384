//! How a hole's choices are told.

use super::{ChoiceRead, Criterion, Hole, LEAST_BALLS, TroubleKind};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, WorkingRow, figure_row, level_row, row};
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

pub(super) fn verdict(
    hole: &Hole,
    choices: &[ChoiceRead],
    best: Option<usize>,
    criterion: Criterion,
    more_balls: Option<usize>,
    rules: &HouseRules,
) -> Verdict {
    let working = working(hole, choices, rules);
    let detail = looked_at(choices, rules);
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
    let label = &choice.label;
    let sentence = match (alone, sure) {
        (true, _) => Sentence::of(format!("{label}: ")),
        (_, true) => Sentence::of(format!("Play {label} here: ")),
        _ => Sentence::of(format!("{label} looks best here, but it is not sure: ")),
    };
    let sentence = merit(sentence, criterion, choice, [strokes.value, fairway.value]);
    let sentence = if alone {
        sentence.words(". Choose another to weigh it against.")
    } else {
        let percent = chance * 100.0;
        let said = format!("; the best of these with a chance of {percent:.0} %.");
        match more_balls.filter(|_| !sure) {
            Some(1) => sentence.words(said + " One more ball of each would tell."),
            Some(n) => sentence.words(format!("{said} About {n} more balls of each would tell.")),
            None => sentence.words(said),
        }
    };
    let kind = if sure {
        VerdictKind::Yes
    } else {
        VerdictKind::CannotTellYet
    };
    Verdict {
        kind,
        sentence,
        detail,
        more_balls: more_balls.filter(|_| !alone && !sure),
        working,
    }
}

/// What the choice does, by the criterion, behind what was said of it.
fn merit(
    sentence: Sentence,
    criterion: Criterion,
    choice: &ChoiceRead,
    [strokes, fairway]: [f64; 2],
) -> Sentence {
    match criterion {
        Criterion::Strokes => sentence.words(format!("{:.2} strokes expected", strokes)),
        Criterion::Fairway => {
            let percent = fairway * 100.0;
            sentence.words(format!("the fairway {percent:.0} % of the time"))
        }
        Criterion::Distance => sentence
            .figure(choice.carry.unwrap_or_default(), Dimension::Distance)
            .words(" of carry"),
    }
}

fn looked_at(choices: &[ChoiceRead], rules: &HouseRules) -> Sentence {
    let balls = choices.iter().map(|choice| choice.n);
    let (fewest, most) = (balls.clone().min().unwrap_or(0), balls.max().unwrap_or(0));
    Sentence::of(format!(
        "{} · {:.0} % intervals · mishits that were set aside count here",
        if fewest == most {
            format!("{most} balls of each")
        } else {
            format!("{fewest} to {most} balls of each")
        },
        rules.interval_level * 100.0
    ))
}

/// The hole as it was laid out.
fn inputs(hole: &Hole) -> Vec<WorkingRow> {
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
    inputs
}

pub(super) fn working(hole: &Hole, choices: &[ChoiceRead], rules: &HouseRules) -> Working {
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
        inputs: inputs(hole),
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
            figure_row(
                "Distance from the hole that is still green",
                rules.green_radius,
                Dimension::Distance,
            ),
            level_row(rules.interval_level),
        ],
        results: results.collect(),
        sources: vec![
            "Baseline: Broadie 2012; losing along the whole hole: Broadie 2008. Patterns: Box & Tiao 1973. Points: Zaremba 1966; Cranley & Patterson 1976.".to_owned(),
        ],
    }
}
