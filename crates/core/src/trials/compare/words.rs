//! A comparison in words: the sentence, what stands beside it, and the working.

use super::claim::{as_prepared, beside_others};
use super::{Among, BallSet, Basis, CompareQuestion, DifferenceRead, SetRead};
use crate::physics::club::Club;
use crate::shots::face::{FaceRead, Side};
use crate::shots::landing::expected_range;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, WorkingRow, figure_row, level_said, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::{Dimension, Units};

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
    [margin, level]: [f64; 2],
    face: &FaceRead,
    among: Option<Among>,
) -> Verdict {
    let working = working(question, sets, differences, margin, level);
    // Of several sets the one that differs most for sure, or else one that is open: "the
    // same" is not said while another set is undecided.
    let size = |d: &&DifferenceRead| d.difference.value.abs();
    let most = |kinds: &[VerdictKind]| {
        let of_kind = differences.iter().filter(|d| kinds.contains(&d.kind));
        of_kind.max_by(|a, b| size(a).total_cmp(&size(b)).then(b.set.cmp(&a.set)))
    };
    let told = most(&[VerdictKind::Yes, VerdictKind::No])
        .or_else(|| most(&[VerdictKind::CannotTellYet]))
        .or_else(|| differences.first());
    let missing = missing(question, sets);
    let (Some(told), None) = (told, missing.as_ref()) else {
        return Verdict {
            kind: VerdictKind::CannotTellYet,
            sentence: Sentence::of(
                missing.unwrap_or_else(|| "These sets cannot be compared.".to_owned()),
            ),
            detail: counts(question, sets),
            more_balls: None,
            working,
        };
    };
    Verdict {
        kind: told.kind,
        sentence: sentence(question, sets, told, margin),
        detail: as_prepared(question, margin)
            .join(detail(question, sets, told, level, face))
            .join(beside_others(told, among, question.quantity.dimension())),
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
    let words = Wording::of(question.quantity);
    let said = match told.kind {
        VerdictKind::Same => Sentence::of(format!(
            "{other} {} the same as {first} within your ",
            words.verb
        ))
        .figure(margin, dimension),
        VerdictKind::Yes | VerdictKind::No => {
            let said = Sentence::of(format!("{other} {} ", words.verb));
            apart(said, told, dimension, &words).words(format!(" than {first}"))
        }
        VerdictKind::CannotTellYet => return seen(question, sets, told, &words),
    };
    let said = with_width(said, question, sets, told);
    match told.kind {
        VerdictKind::Same => said,
        _ => with_order(said, told.basis),
    }
}

/// How far apart the two are, with the word for it: the number that decides, as it stands
/// large beside the sentence.
fn apart(said: Sentence, told: &DifferenceRead, dimension: Dimension, words: &Wording) -> Sentence {
    let more = told.difference.value >= 0.0;
    said.figure(told.difference.value.abs(), dimension)
        .words(format!(" {}", if more { words.more } else { words.less }))
}

/// What was seen where it cannot be told from chance, and what would tell.
fn seen(
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
    words: &Wording,
) -> Sentence {
    let (first, other) = (&sets[0].label, &sets[told.set].label);
    let dimension = question.quantity.dimension();
    let alike = told.raw.value.abs() < 0.5 * told.raw.half_width().max(dimension.grain());
    let said = if alike {
        Sentence::of(format!("{other} and {first} {} alike so far", words.both))
    } else {
        let said = Sentence::of(format!("So far {other} {} ", words.verb));
        let said = match (&sets[0].kept, &sets[told.set].kept) {
            (Some(first), Some(other)) => said.apart_in_full(first.mean, other.mean, dimension),
            _ => said.figure(told.raw.value.abs(), dimension),
        };
        let way = if told.raw.value < 0.0 {
            words.less
        } else {
            words.more
        };
        said.words(format!(" {way} than {first}"))
    };
    let said = match (&sets[0].kept, &sets[told.set].kept) {
        (Some(first), Some(other)) => said
            .words(" (")
            .bare(other.mean, dimension)
            .words(" and ")
            .figure(first.mean, dimension)
            .words(")"),
        _ => said,
    };
    let said = match told.basis {
        Basis::OneDayEach => said.words(
            ". One day each cannot tell a change from a good or a bad day: hit both on one day, in turns, or on more days",
        ),
        Basis::Days => said.words(", no more than days differ anyway: more days would tell"),
        _ => match told.more_balls {
            Some(1) => said.words("; one more ball of each, in turns, would tell"),
            Some(n) => said.words(format!("; about {n} more balls of each, in turns, would tell")),
            None => said.words(format!(
                "; it is too close to call, and {} more balls of each would not settle it",
                question.rules.most_more_balls()
            )),
        },
    };
    match sure_width(question, sets, told) {
        Some(widths) => of_ten(
            said.words(format!(". Ten balls of {other} land within ")),
            widths,
        ),
        None => said.words("."),
    }
}

/// How far ten balls reach from left to right, of the first set and of the other, where both
/// tests are sure that it differs (Miller 1968; Brown & Forsythe 1974).
fn sure_width(
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
) -> Option<[f64; 2]> {
    told.side_spread
        .filter(|_| question.quantity != Quantity::Side)
        .filter(super::SpreadRatio::is_sure)?;
    Some([across(&sets[0])?, across(&sets[told.set])?])
}

/// What ten balls of a set reach from left to right, m.
fn across(set: &SetRead) -> Option<f64> {
    let side = set.told_beside(Quantity::Side)?;
    Some(expected_range(10) * side.spread?)
}

fn of_ten(said: Sentence, [first, other]: [f64; 2]) -> Sentence {
    said.figure(other, Dimension::Distance)
        .words(" left to right instead of ")
        .bare(first, Dimension::Distance)
        .words(".")
}

/// Balls of each whose spread to the sides is worth a word.
const SPREAD_FROM: usize = 5;

fn with_width(
    said: Sentence,
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
) -> Sentence {
    if let Some(widths) = sure_width(question, sets, told) {
        return of_ten(said.words(", and ten balls land within "), widths);
    }
    let side = |set: &SetRead| {
        let enough = set.told_beside(Quantity::Side)?.n >= SPREAD_FROM;
        across(set).filter(|_| enough)
    };
    let far = matches!(question.quantity, Quantity::Carry | Quantity::Total);
    match side(&sets[0]).zip(side(&sets[told.set])).filter(|_| far) {
        Some((first, other)) if (0.85..1.05).contains(&(other / first)) => {
            said.words(", and they land no wider.")
        }
        Some((first, other)) => said
            .words("; ten balls land within ")
            .figure(other, Dimension::Distance)
            .words(" left to right against ")
            .bare(first, Dimension::Distance)
            .words("."),
        None => said.words("."),
    }
}

/// What the order leaves open, where it does.
fn with_order(said: Sentence, basis: Basis) -> Sentence {
    match basis {
        Basis::OneAfterOther => said.words(
            " They were hit one after the other, so how much of it is warming up or tiring cannot be told.",
        ),
        _ => said,
    }
}

/// How a value is said to be more or less.
struct Wording {
    verb: &'static str,
    both: &'static str,
    more: &'static str,
    less: &'static str,
}

impl Wording {
    fn of(quantity: Quantity) -> Wording {
        let (verb, both, more, less) = match quantity {
            Quantity::Carry => ("carries", "carry", "further", "shorter"),
            Quantity::Total => ("ends", "end", "further", "shorter"),
            Quantity::ClubSpeed => ("is", "are", "faster", "slower"),
            Quantity::BallSpeed => ("is", "are", "faster off the face", "slower off the face"),
            Quantity::Side => ("lands", "land", "further right", "further left"),
            Quantity::LaunchAngle => ("launches", "launch", "higher", "lower"),
            Quantity::SpinRate => ("spins", "spin", "more", "less"),
            Quantity::Apex => ("peaks", "peak", "higher", "lower"),
            Quantity::VerticalPeak
            | Quantity::LeadPeak
            | Quantity::TrailPeak
            | Quantity::TorquePeak => ("peaks", "peak", "earlier", "later"),
            Quantity::SmashFactor => (
                "has a smash factor",
                "have smash factors",
                "higher",
                "lower",
            ),
            _ => ("gives", "give", "more", "less"),
        };
        Wording {
            verb,
            both,
            more,
            less,
        }
    }
}

fn counts(question: &CompareQuestion, sets: &[SetRead]) -> Sentence {
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
    if let Some(all) = question.chosen_of {
        said.push_str(&format!(" · chosen evenly from {all}"));
    }
    Sentence::of(said)
}

fn detail(
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
    level: f64,
    face: &FaceRead,
) -> Sentence {
    let dimension = question.quantity.dimension();
    let mut said = counts(question, sets)
        .words(format!(" · {} interval ", level_said(level)))
        .bare(told.difference.low, dimension)
        .words(" to ")
        .figure(told.difference.high, dimension);
    // The plain difference and the one that decides, where they are not the same.
    let shown = |v: f64| dimension.as_shown(v, Units::MphYd);
    if shown(told.difference.value) != shown(told.raw.value) {
        said = said
            .words(" · as the balls fell ")
            .bare(told.raw.value, dimension)
            .words(", with the order out ")
            .bare(told.difference.value, dimension)
            .words(", which decides");
    }
    said = said.words(match told.basis {
        Basis::Turns => " · hit in turns",
        Basis::OneAfterOther => " · hit one after the other: next time in turns",
        Basis::SharedSessions => " · session by session",
        Basis::Days => " · the day is the unit",
        Basis::OneDayEach => " · one day each",
        Basis::FewBalls | Basis::AsTheyFell => "",
    });
    if let Some(left) = question
        .looks
        .to_come(sets.iter().map(|s| s.values).sum(), sets.len())
    {
        said = said.words(format!(" · {left} more of each are planned"));
    }
    said = beside(said, question, sets, told, face);
    if let Some(with) = told.with_set_aside {
        said = said
            .words(" · with those set aside ")
            .bare(with.value, dimension);
    }
    said
}

/// Where a set was struck, and what that cost.
fn struck(said: Sentence, label: &str, side: Side, face: &FaceRead) -> Sentence {
    let said = said.words(format!(" · {label} {}", side.in_words()));
    match face.cost_of(side) {
        Some(toll) => said.words(": ").join(toll),
        None => said,
    }
}

/// Spread to the sides and strikes of both, where they are known.
fn beside(
    said: Sentence,
    question: &CompareQuestion,
    sets: &[SetRead],
    told: &DifferenceRead,
    face: &FaceRead,
) -> Sentence {
    let said = match (across(&sets[0]), across(&sets[told.set])) {
        (Some(first), Some(other)) => said
            .words(" · ten balls left to right ")
            .bare(other, Dimension::Distance)
            .words(" against ")
            .figure(first, Dimension::Distance),
        _ => said,
    };
    let rules = &question.rules;
    let said = [told.set, 0]
        .into_iter()
        .filter_map(|set| Some((set, sets[set].strikes.mostly()?)))
        .filter(|(_, side)| matches!(side, Side::Low | Side::High))
        .fold(said, |said, (set, side)| {
            struck(said, &sets[set].label, side, face)
        });
    [told.set, 0]
        .into_iter()
        .filter_map(|set| Some((set, sets[set].told_beside(Quantity::ImpactToe)?.mean)))
        .fold(said, |said, (set, off)| {
            let side = if off < -rules.centre_toe {
                Side::Heel
            } else if off > rules.centre_toe {
                Side::Toe
            } else {
                return said;
            };
            struck(said, &sets[set].label, side, face)
        })
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
            Sentence::of("As the balls fell: mean of the set − mean of the first set, with Welch's interval, which lets each set have its own spread."),
            Sentence::of("Within a session: each ball is its level, the difference, a warm-up, a drift, and a stray that is like the one before. How much of each there is, is averaged over by how well it explains the balls. In turns it decides; one after the other it only widens the interval, because there the order cannot be taken out of the means."),
            Sentence::of("Over days: the day is the unit. Means of days stray as they do; with one day each, nothing is called more or less."),
            Sentence::of("Where balls are looked at while they are hit, the level is higher the earlier it is looked, so that it holds over all looks together."),
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
            "Plain difference: Welch 1947. Order: Lindley & Smith 1972, Box & Tiao 1973, Cochrane & Orcutt 1949. Days: Student 1908. Looks: Lan & DeMets 1983, O'Brien & Fleming 1979. Sameness: Schuirmann 1987. Several sets: Dunn 1961.".to_owned(),
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
        rows.push(row("Drift over ten balls, as seen", ten.said(dimension)));
    }
    if let Some(shuffled) = d.shuffled {
        let all = if shuffled.exact {
            ", every way gone through"
        } else {
            ""
        };
        rows.push(row(
            "Shuffled balls differ as much",
            Sentence::of(format!("{:.1} % of the time{all}", shuffled.p * 100.0)),
        ));
    }
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
        rows.push(row("Worth in clubs", Sentence::of(clubs.bare(1))));
    }
    rows
}
