//! The one sentence the station ends in, and its working.

use super::{CarryRead, Counts, Question, ShotRead, Table, at_several_speeds};
use crate::physics::furthest::furthest_carry;
use crate::shots::standing::Standing;
use crate::shots::useful_flight::CheckKind;
use crate::statistics::summary::{Estimate, Summary, needed_for};
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, WorkingRow, air_row, level_row, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

pub(super) fn judge(
    question: &Question<'_>,
    counts: Counts,
    carry: &CarryRead,
    with: &CarryRead,
    table: &Table<'_>,
) -> Verdict {
    let working = working(question, counts, carry, with, table);
    // A flight that is longer than its speed should give and of no use is no distance.
    let useless: Vec<&ShotRead> = table
        .standing(&[Standing::Kept])
        .map(|(_, read)| read)
        .filter(|read| is_useless(read, question))
        .collect();
    let useful = table.carry_of(&[Standing::Kept], |read| !is_useless(read, question));
    let apart = useless_said(&useless, question);
    let finish = |kind, sentence: Sentence, more_balls| Verdict {
        kind,
        sentence: match &apart {
            Some(apart) => sentence.words(" ").join(apart.clone()),
            None => sentence,
        },
        detail: detail(question, counts, carry, with),
        more_balls,
        working: working.clone(),
    };
    let judged = useful.gap.and_then(|gap| {
        Some((
            gap.interval?,
            gap.spread?,
            useful.actual?,
            useful.by_club_speed?,
        ))
    });
    let Some((gap, spread, actual, expected)) = judged else {
        let sentence = match (&apart, useful.gap) {
            (Some(_), None) => Sentence::of("No flight of these can be used."),
            _ => what_is_missing(question, counts, carry),
        };
        return finish(VerdictKind::CannotTellYet, sentence, None);
    };
    let speeds = table.judged_speeds(|read| !is_useless(read, question));
    if let Some(speeds) = speeds.filter(at_several_speeds) {
        let ends = [speeds.least, speeds.best];
        let (kind, sentence) = speed_by_speed(question, table, ends, &gap);
        return finish(kind, sentence, None);
    }
    let (kind, more_balls) = decide(&gap, spread, question);
    let sentence = sentence(kind, more_balls, question, &gap, &actual, &expected);
    finish(kind, sentence, more_balls)
}

/// Whether a ball went further than its speed should give by a flight that is of no use.
fn is_useless(read: &ShotRead, question: &Question<'_>) -> bool {
    !read.failed.is_empty()
        && read
            .gap
            .is_some_and(|gap| gap > question.rules.carry_margin)
}

/// What keeps flights that went further from being useful, and whose it is.
fn useless_said(useless: &[&ShotRead], question: &Question<'_>) -> Option<Sentence> {
    let first = useless.first()?;
    let failed = |checks: &[CheckKind]| {
        let with = |read: &&&ShotRead| read.failed.iter().any(|f| checks.contains(&f.check));
        2 * useless.iter().filter(with).count() >= useless.len()
    };
    let curve: &[CheckKind] = &[CheckKind::CurvesLeft, CheckKind::CurvesRight];
    let words: Vec<&str> = [CheckKind::Apex, CheckKind::LandingAngle, CheckKind::Spin]
        .into_iter()
        .filter(|check| failed(&[*check]))
        .map(|check| check.word().label)
        .chain(failed(curve).then_some("curving"))
        .collect();
    let many = useless.len();
    let said = match (many, first.gap) {
        (1, Some(gap)) => Sentence::of("One went ")
            .figure(gap, Dimension::Distance)
            .words(" further and is of no use"),
        _ => Sentence::of(format!("{many} went further and are of no use")),
    };
    let said = if words.is_empty() {
        said
    } else {
        said.words(format!(": {}", words.join(", ")))
    };
    let loft_told = question
        .shots
        .iter()
        .any(|shot| shot.reading.get(Quantity::DynamicLoft).is_some());
    let whose = if failed(&[CheckKind::DynamicLoft]) {
        "The loft was taken off by the swing, not by the club or the ball."
    } else if failed(curve) && words.len() == 1 {
        "It is face against path."
    } else if loft_told {
        "The loft was delivered: look at the club's own loft and at the ball."
    } else {
        "Dynamic loft would tell the swing from a strong club."
    };
    Some(said.words(". ").words(whose))
}

/// The verdict over balls that were hit at several speeds: each against its own.
fn speed_by_speed(
    question: &Question<'_>,
    table: &Table<'_>,
    [slow, fast]: [f64; 2],
    gap: &Estimate,
) -> (VerdictKind, Sentence) {
    let margin = question.rules.carry_margin;
    let gaps: Vec<(f64, f64)> = table
        .standing(&[Standing::Kept])
        .filter(|(_, read)| !is_useless(read, question))
        .filter_map(|(shot, read)| Some((shot.reading.get(Quantity::ClubSpeed)?, read.gap?)))
        .collect();
    let off: Vec<&(f64, f64)> = gaps.iter().filter(|(_, gap)| gap.abs() > margin).collect();
    let from = || {
        Sentence::of("From ")
            .bare(slow, Dimension::Speed)
            .words(" to ")
            .figure(fast, Dimension::Speed)
    };
    let club = question.club.in_words();
    let player = question.player;
    if off.is_empty() {
        let said = from()
            .words(format!(
                " {player} carries with the {club} what each club speed should give, within your "
            ))
            .figure(margin, Dimension::Distance)
            .words(", ball by ball.");
        return (VerdictKind::Same, said);
    }
    let (kind, _) = decide(gap, 0.0, question);
    if matches!(kind, VerdictKind::Yes | VerdictKind::No) {
        let way = if kind == VerdictKind::Yes {
            " further than each club speed should give."
        } else {
            " short of what each club speed should give."
        };
        let said = from()
            .words(format!(" {player} carries with the {club} on average "))
            .figure(gap.value.abs(), Dimension::Distance)
            .words(way);
        return (kind, said);
    }
    let most = off.iter().max_by(|a, b| a.1.abs().total_cmp(&b.1.abs()));
    let said = from().words(format!(
        " {} of {} balls {}",
        gaps.len() - off.len(),
        gaps.len(),
        match gaps.len() - off.len() {
            1 => "carries what its club speed should give",
            _ => "carry what their club speed should give",
        }
    ));
    let said = match most {
        Some((speed, gap)) => said
            .words("; the one furthest off, at ")
            .figure(*speed, Dimension::Speed)
            .words(", is ")
            .figure(gap.abs(), Dimension::Distance)
            .words(if *gap < 0.0 { " short." } else { " long." }),
        None => said.words("."),
    };
    (VerdictKind::CannotTellYet, said)
}

/// The interval of the gap against the margin (two one-sided tests for sameness,
/// Schuirmann 1987), and about how many more balls would bring it to one side.
fn decide(gap: &Estimate, spread: f64, question: &Question<'_>) -> (VerdictKind, Option<usize>) {
    let rules = &question.rules;
    let margin = rules.carry_margin;
    if gap.low >= -margin && gap.high <= margin {
        return (VerdictKind::Same, None);
    }
    if gap.high < -margin {
        return (VerdictKind::No, None);
    }
    if gap.low > margin {
        return (VerdictKind::Yes, None);
    }
    let to_the_edge = (gap.value.abs() - margin).abs();
    let more = needed_for(
        to_the_edge,
        spread,
        rules.interval_level,
        rules.most_more_balls(),
    )
    .map(|n| n.saturating_sub(gap.n).max(1));
    (VerdictKind::CannotTellYet, more)
}

fn sentence(
    kind: VerdictKind,
    more_balls: Option<usize>,
    question: &Question<'_>,
    gap: &Estimate,
    actual: &Summary,
    expected: &Summary,
) -> Sentence {
    let margin = question.rules.carry_margin;
    let carries = Sentence::of(format!("{} carries ", question.player))
        .figure(actual.mean, Dimension::Distance)
        .words(format!(" with the {}", question.club.in_words()));
    match kind {
        VerdictKind::Same => carries
            .words(". That is what this club speed should give, within your ")
            .figure(margin, Dimension::Distance)
            .words("."),
        VerdictKind::No | VerdictKind::Yes => carries
            .words(", ")
            .apart(actual.mean, actual.mean - gap.value, Dimension::Distance)
            .words(if kind == VerdictKind::No {
                " short of what this club speed should give."
            } else {
                " further than this club speed should give."
            }),
        VerdictKind::CannotTellYet => carries
            .words("; this club speed should give ")
            .bare(expected.mean, Dimension::Distance)
            .words(". Cannot tell yet whether that matters: ")
            .words(match more_balls {
                Some(1) => "one more ball would tell.".to_owned(),
                Some(n) => format!("about {n} more balls would tell."),
                None => format!(
                    "it is too close to call, and {} more balls would not settle it.",
                    question.rules.most_more_balls()
                ),
            }),
    }
}

fn what_is_missing(question: &Question<'_>, counts: Counts, carry: &CarryRead) -> Sentence {
    let shots = question.shots.len();
    Sentence::of(if shots == 0 {
        "No shots yet. They appear here as they are hit."
    } else if counts.kept == 0 && counts.set_aside > 0 {
        "No shot stands: all are set aside or doubtful. Keep some to read the session."
    } else if counts.kept == 0 {
        "Every shot is doubtful. Decide which to keep to read the session."
    } else if carry.actual.is_none() {
        "No kept shot has a carry, so it cannot be held against what to expect."
    } else if carry.by_club_speed.is_none() {
        "No kept shot has a club speed that the house factor covers, so there is no carry to expect."
    } else {
        "Only one kept shot can be compared. At least one more is needed to say how sure it is."
    })
}

fn detail(
    question: &Question<'_>,
    counts: Counts,
    carry: &CarryRead,
    with: &CarryRead,
) -> Sentence {
    let shots = carry.actual.map_or(counts.kept, |a| a.n);
    let mut detail = Sentence::of(format!(
        "{shots} {}",
        if shots == 1 { "shot" } else { "shots" }
    ));
    if let Some(interval) = carry.actual.and_then(|a| a.interval) {
        detail = detail
            .words(format!(
                " · {:.0} % interval ",
                question.rules.interval_level * 100.0
            ))
            .bare(interval.low, Dimension::Distance)
            .words(" to ")
            .bare(interval.high, Dimension::Distance);
    }
    if counts.set_aside > 0
        && let Some(all) = with.actual
    {
        detail = detail
            .words(format!(
                " · with the {} set aside ",
                in_words(counts.set_aside)
            ))
            .bare(all.mean, Dimension::Distance);
    }
    if counts.doubtful > 0 {
        detail = detail.words(format!(
            " · {} doubtful left out",
            in_words(counts.doubtful)
        ));
    }
    detail
}

/// What the house expects of a club speed: its own factor, or a share of the furthest.
fn expected_row(question: &Question<'_>, speed: Option<f64>) -> WorkingRow {
    let (rules, club) = (&question.rules, question.club);
    let own = rules.factors[club as usize];
    let factor = Sentence::default()
        .figure(rules.house_factor(club), Dimension::CarryPerSpeed)
        .words(format!(" for the {}", club.in_words()));
    match (own, speed) {
        (None, Some(speed)) => row(
            "Solid",
            Sentence::of(format!(
                "{:.0} % of the furthest, ",
                100.0 * rules.solid(club)
            ))
            .figure(furthest_carry(club, speed), Dimension::Distance)
            .words(" at ")
            .figure(speed, Dimension::Speed),
        ),
        _ => row("House factor", factor),
    }
}

fn working(
    question: &Question<'_>,
    counts: Counts,
    carry: &CarryRead,
    with: &CarryRead,
    table: &Table<'_>,
) -> Working {
    let rules = &question.rules;
    let conditions = &question.conditions;
    let speed = table.summary(Quantity::ClubSpeed).and_then(|s| s.kept);
    let air = speed.and_then(|s| {
        crate::shots::expected_carry::air_ratio(question.club, s.mean, conditions).ok()
    });

    let inputs = inputs(question, counts, speed.map(|s| s.mean), table);
    let results = results(counts, carry, with);

    Working {
        inputs,
        formula: vec![
            Sentence::of("By club speed: expected carry = a solid share of the furthest at that club speed × air, shot by shot; or the coach's own factor × club speed × air, where one is set, and never more than the furthest. Air is how much further our flight model carries a sound strike with this club today, with a ball as warm as it is, than in mild air at sea level."),
            Sentence::of("By launch: our flight model from each ball's own speed, launch and spin in today's air. A gap here is not the strike; it is the air, the ball or the device."),
            Sentence::of("The verdict holds the mean of (carry − expected) with its Student interval against your margin: wholly inside is the same, wholly outside is short or further, else it cannot tell yet."),
        ],
        rules: [
            Some(expected_row(question, speed.map(|s| s.mean))),
            air.map(|air| row("Air", Sentence::of("× ").figure(air, Dimension::Ratio))),
            Some(row("Margin", Sentence::default().figure(rules.carry_margin, Dimension::Distance))),
            Some(level_row(rules.interval_level)),
            Some(row("Highest smash believed", Sentence::default().figure(rules.smash_limit, Dimension::Ratio))),
        ]
        .into_iter()
        .flatten()
        .collect(),
        results,
        sources: vec![
            "Flight: drag and lift by spin ratio and Reynolds number (Bearman & Harvey 1976; Smits & Smith 1994), calibrated on published averages.".to_owned(),
            "Interval: Student 1908. Sameness: two one-sided tests, Schuirmann 1987.".to_owned(),
        ],
    }
}

fn with_interval(summary: &Summary) -> Sentence {
    match summary.interval {
        Some(interval) => interval.said(Dimension::Distance),
        None => Sentence::default()
            .figure(summary.mean, Dimension::Distance)
            .words(", n 1"),
    }
}

fn in_words(n: usize) -> String {
    const WORDS: [&str; 10] = [
        "no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine",
    ];
    WORDS
        .get(n)
        .map_or_else(|| n.to_string(), |w| (*w).to_owned())
}

fn inputs(
    question: &Question<'_>,
    counts: Counts,
    speed: Option<f64>,
    table: &Table<'_>,
) -> Vec<WorkingRow> {
    let mut inputs = vec![row(
        "Shots",
        Sentence::of(format!(
            "{} kept, {} set aside, {} doubtful",
            counts.kept, counts.set_aside, counts.doubtful
        )),
    )];
    inputs.extend(speed.map(|mean| {
        row(
            "Mean club speed",
            Sentence::default().figure(mean, Dimension::Speed),
        )
    }));
    inputs.push(air_row(&question.conditions));
    let calculated = table.calculated(Quantity::Carry);
    if calculated > 0 {
        inputs.push(row(
            "Carry as calculated by the device",
            Sentence::of(format!(
                "{calculated} of {} shots; it was not watched to the ground",
                counts.kept
            )),
        ));
    }
    inputs
}

fn results(counts: Counts, carry: &CarryRead, with: &CarryRead) -> Vec<WorkingRow> {
    let mut results = Vec::new();
    for (name, carry) in [("kept shots", carry), ("with those set aside", with)] {
        if name != "kept shots" && counts.set_aside == 0 {
            continue;
        }
        for (what, summary) in [
            ("Carry", carry.actual),
            ("Expected by club speed", carry.by_club_speed),
            ("Expected by launch", carry.by_launch),
            ("Carry minus expected by club speed", carry.gap),
            ("Carry minus expected by launch", carry.launch_gap),
        ] {
            results.extend(summary.map(|s| row(&format!("{what}, {name}"), with_interval(&s))));
        }
    }
    results
}
