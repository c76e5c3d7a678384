//! What a bag tells, in words.

use super::chance::one_in;
use super::{
    ClubOfBag, EffortOfBag, GapKind, GapOfBag, GappingQuestion, HOLE, ONE_JOB, SPEED_PER_CM,
};
use crate::physics::ball_kind::BallKind;
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, air_row, figure_row, level_row, row};
use crate::vocabulary::sentence::{Sentence, capital};
use crate::vocabulary::units::Dimension::{Distance, Speed};

/// Days between the first and the last club hit, from which on that is said.
const SEASONS_APART: i64 = 120;
/// Furthest that a club is choked down, cm.
const CHOKED_MOST: f64 = 7.0;

pub(super) fn verdict(
    clubs: &[ClubOfBag],
    gaps: &[GapOfBag],
    question: &GappingQuestion,
) -> Verdict {
    let (first, last) = (&clubs[0], &clubs[clubs.len() - 1]);
    let worst = |kind: GapKind| {
        let of = gaps.iter().filter(move |gap| gap.kind == kind);
        of.max_by(|a, b| match kind {
            GapKind::Overlap => a.flies_past.total_cmp(&b.flies_past),
            _ => a.apart.total_cmp(&b.apart),
        })
    };
    let (hole, overlap) = (worst(GapKind::Hole), worst(GapKind::Overlap));
    let flagged = gaps.iter().filter(|gap| gap.kind != GapKind::Even).count();
    let named = usize::from(hole.is_some()) + usize::from(overlap.is_some());
    let (kind, sentence) = match (clubs.len(), hole, overlap) {
        (1, ..) => (
            VerdictKind::CannotTellYet,
            Sentence::of(format!(
                "One club is known, the {}: ",
                first.club.in_words()
            ))
            .figure(first.carry.value, Distance)
            .words(". Hit its neighbours, and gaps can be told."),
        ),
        (n, None, None) => (
            VerdictKind::Same,
            Sentence::of(format!("{n} clubs from "))
                .bare(last.carry.value, Distance)
                .words(" to ")
                .figure(first.carry.value, Distance)
                .words(": no hole between them, and no two that do one job."),
        ),
        (_, hole, overlap) => {
            let said = match (hole, overlap) {
                (Some(hole), Some(overlap)) => {
                    hole_said(hole).words(". ").join(overlap_said(overlap))
                }
                (Some(hole), None) => hole_said(hole),
                (None, Some(overlap)) => overlap_said(overlap),
                (None, None) => Sentence::default(),
            };
            let more = match flagged - named {
                0 => ".".to_owned(),
                1 => ". One more pair is marked below.".to_owned(),
                more => format!(
                    ". {} more pairs are marked below.",
                    capital(&few(more as u32))
                ),
            };
            (VerdictKind::No, said.words(more))
        }
    };
    let balls: usize = clubs.iter().map(|club| club.n).sum();
    let last = clubs.iter().map(|club| club.last_hit).max();
    let clubs_said = if clubs.len() == 1 { "club" } else { "clubs" };
    let balls_said = if balls == 1 { "ball" } else { "balls" };
    let detail = Sentence::of(format!(
        "{} {clubs_said} · {balls} {balls_said}",
        clubs.len()
    ));
    let detail = match last {
        Some(last) => detail.words(" · last hit ").day(last, last),
        None => detail,
    };
    Verdict {
        kind,
        sentence,
        detail,
        more_balls: None,
        working: working(clubs, gaps, question),
    }
}

fn hole_said(gap: &GapOfBag) -> Sentence {
    let [from, to] = gap.bare.unwrap_or_default();
    Sentence::of("No club is for ")
        .bare(from, Distance)
        .words(" to ")
        .figure(to, Distance)
        .words(format!(
            ", between the {} and the {}",
            gap.short.in_words(),
            gap.long.in_words()
        ))
}

fn overlap_said(gap: &GapOfBag) -> Sentence {
    let (short, long) = (gap.short.in_words(), gap.long.in_words());
    Sentence::of(match one_in(gap.flies_past) {
        Some(n) => format!(
            "One {short} in {} flies past the {long}: they do one job",
            few(n)
        ),
        None => format!("Every second {short} flies past the {long}: they do one job"),
    })
}

/// A small number in words.
fn few(n: u32) -> String {
    let words = [
        "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten",
    ];
    let word = words.get(n.wrapping_sub(2) as usize);
    word.map_or_else(|| n.to_string(), |word| (*word).to_owned())
}

pub(super) fn gap(
    [long, short]: [&ClubOfBag; 2],
    apart: f64,
    flies_past: f64,
    kind: GapKind,
    bare: Option<[f64; 2]>,
) -> Sentence {
    let apart = Sentence::default().figure(apart, Distance).words(" apart");
    let often = match one_in(flies_past) {
        _ if flies_past < 0.05 => format!("{} hardly ever flies past", one_of(short.club)),
        Some(n) => format!("one {} in {} flies past", short.club.in_words(), few(n)),
        None => format!("every second {} flies past", short.club.in_words()),
    };
    match (kind, bare) {
        (GapKind::Hole, Some([from, to])) => apart
            .words(": neither is for ")
            .bare(from, Distance)
            .words(" to ")
            .bare(to, Distance),
        (GapKind::Overlap, _) => apart.words(format!(": {often} the {}", long.club.in_words())),
        _ => apart.words(format!("; {often}")),
    }
}

pub(super) fn remedies(
    [long, short]: [&ClubOfBag; 2],
    kind: GapKind,
    bare: Option<[f64; 2]>,
    efforts: &[EffortOfBag],
    rules: &HouseRules,
) -> Vec<Sentence> {
    match (kind, bare) {
        (GapKind::Hole, Some(bare)) => into_hole([long, short], bare, efforts, rules),
        (GapKind::Overlap, _) => one_job([long, short]),
        _ => Vec::new(),
    }
}

fn into_hole(
    [long, short]: [&ClubOfBag; 2],
    [from, to]: [f64; 2],
    efforts: &[EffortOfBag],
    rules: &HouseRules,
) -> Vec<Sentence> {
    let mut said = Vec::new();
    let fits = |effort: &&EffortOfBag| {
        let below = effort.club == long.club && effort.share < 0.95;
        below && (from - 3.0..=to + 3.0).contains(&effort.carry)
    };
    if let Some(effort) = efforts.iter().find(fits) {
        said.push(
            Sentence::of(format!(
                "The {} at {:.0} % effort carries ",
                long.club.in_words(),
                effort.share * 100.0
            ))
            .figure(effort.carry, Distance)
            .words(format!(" (n {}): it falls in between.", effort.n)),
        );
    }
    let middle = 0.5 * (from + to);
    let drop = long.carry.value - middle;
    if let Some(speed) = long.club_speed {
        let lost = drop / rules.carry_per_speed(long.club, speed);
        let [least, most] = SPEED_PER_CM;
        let cm = lost / (0.5 * (least + most) * speed);
        if cm <= CHOKED_MOST {
            said.push(
                Sentence::of(format!("Choked down about {cm:.0} cm the "))
                    .words(format!("{} loses some ", long.club.in_words()))
                    .figure(lost, Speed)
                    .words(" and falls in between, by a rule of thumb: try it."),
            );
        }
    }
    said.push(match (long.loft_deg, short.loft_deg) {
        (Some(a), Some(b)) if b > a => {
            let share = drop / (long.carry.value - short.carry.value);
            Sentence::of(format!(
                "A club of about {:.0}° of loft would fall in between.",
                a + share * (b - a)
            ))
        }
        _ => Sentence::of(format!(
            "Note the lofts of {} and {}, and the loft between them can be told.",
            long.club.in_words(),
            short.club.in_words()
        )),
    });
    said
}

fn one_job([long, short]: [&ClubOfBag; 2]) -> Vec<Sentence> {
    let mut said = Vec::new();
    if let (Some(a), Some(b)) = (long.left_right, short.left_right) {
        let (narrow, wide) = if a < b { (long, short) } else { (short, long) };
        let [narrow_by, wide_by] = [a.min(b), a.max(b)];
        if wide_by > 1.15 * narrow_by {
            said.push(
                Sentence::of(format!("The {} lands narrower: ", narrow.club.in_words()))
                    .bare(narrow_by, Distance)
                    .words(" against ")
                    .figure(wide_by, Distance)
                    .words(format!(" with the {}.", wide.club.in_words())),
            );
        }
    }
    if let (Some(a), Some(b)) = (long.loft_deg, short.loft_deg)
        && (b - a).abs() < 3.0
    {
        said.push(Sentence::of(format!(
            "Their lofts lie only {:.1}° apart.",
            (b - a).abs()
        )));
    }
    said.push(match long.club {
        Club::Driver => Sentence::of(format!("Off the tee the {} costs ", short.club.in_words()))
            .apart_in_full(long.carry.value, short.carry.value, Distance)
            .words("."),
        _ => Sentence::of("One of the two could stay at home for a club that fills a hole."),
    });
    said
}

pub(super) fn notes(club: &ClubOfBag, question: &GappingQuestion) -> Vec<Sentence> {
    let rules = &question.rules;
    let mut said = Vec::new();
    if question.replaced.contains(&club.club) {
        said.push(Sentence::of(
            "Noted as fitted after these balls were hit: they are of the club before it, or the day is wrong.",
        ));
    }
    if let Some(loft) = club.loft_deg
        && let Some(other) = club.club.with_loft_of(loft)
    {
        let own = club.club.in_words();
        said.push(Sentence::of(format!(
            "At {loft}° this {own} has the loft of {}: further than another {own} is not better struck.",
            one_of(other)
        )));
    }
    if let Some([useful, of]) = club.useful
        && of > 2
        && 2 * useful < of
        && club.club >= Club::Hybrid
    {
        let how_many = match useful {
            0 => "None".to_owned(),
            useful => format!("Only {useful}"),
        };
        said.push(Sentence::of(format!(
            "{how_many} of {of} flights would hold a green."
        )));
    }
    if let Some(more) = club.more_balls {
        let balls = if more == 1 { "ball" } else { "balls" };
        said.push(
            Sentence::of(format!("{more} more {balls} would tell its carry to "))
                .figure(rules.bag_known, Distance)
                .words("."),
        );
    }
    said
}

fn one_of(club: Club) -> String {
    let name = club.in_words();
    let article = if name.starts_with('8') { "an" } else { "a" };
    format!("{article} {name}")
}

pub(super) fn cautions(clubs: &[ClubOfBag], question: &GappingQuestion) -> Vec<Sentence> {
    let mut said = Vec::new();
    let hit = clubs.iter().map(|club| club.last_hit);
    if let (Some(first), Some(last)) = (hit.clone().min(), hit.max())
        && (last - first).num_days() > SEASONS_APART
    {
        let months = (last - first).num_days() / 30;
        said.push(Sentence::of(format!(
            "Some clubs were last hit {months} months before others: a gap between them may be of the season."
        )));
    }
    let range = question.balls.iter().filter(|b| b.kind == BallKind::Range);
    let (range, all) = (range.count(), question.balls.len());
    if range > 0 {
        said.push(Sentence::of(if range == all {
            "All were range balls: good balls carry further, and the gaps stay about the same."
                .to_owned()
        } else {
            format!(
                "{range} of {all} were range balls, told as they flew: clubs hit with them look short beside the others."
            )
        }));
    }
    if question.air != Conditions::REFERENCE
        || question.balls.iter().any(|b| b.conditions != question.air)
    {
        said.push(Sentence::of(
            "Carries are brought to this air by the flight model; totals are as they were told on the day.",
        ));
    }
    said
}

fn working(clubs: &[ClubOfBag], gaps: &[GapOfBag], question: &GappingQuestion) -> Working {
    let rules = &question.rules;
    let balls: usize = clubs.iter().map(|club| club.n).sum();
    Working {
        inputs: vec![
            row("Clubs", Sentence::of(clubs.len().to_string())),
            row("Balls with a carry", Sentence::of(balls.to_string())),
            air_row(&question.air),
        ],
        formula: vec![
            Sentence::of("A club's carry is the mean of the kept usual balls of its latest sessions since it was fitted, each brought to this air by its own launch, or by a sound strike's where the launch is not known. Most balls: eight in ten."),
            Sentence::of("How often one flies past another: Student's chance for one new ball of each, from solid middles and spreads (balls beyond two spreads count as at two), spreads of few balls leaning on the bag's scatter and gaps on the bag's other gaps; what the pairs of balls themselves show counts beside it, the more the more there are."),
            Sentence::of(format!("Two clubs do one job from one ball in {:.0} on; a hole is a gap over {HOLE} times the usual one, with carries that three balls in four of the shorter fall short of and three in four of the longer fly past. The driver may lie apart.", 1.0 / ONE_JOB)),
        ],
        rules: vec![
            figure_row("Usual gap", rules.club_gap, Distance),
            figure_row("Carry known to", rules.bag_known, Distance),
            level_row(rules.interval_level),
        ],
        results: gaps
            .iter()
            .map(|gap| {
                let label = format!("{} – {}", gap.long.label(), gap.short.label());
                row(&label, gap.said.clone())
            })
            .collect(),
        sources: vec![
            "Student (1908), Biometrika 6: the mean of few values.".to_owned(),
            "Huber (1981), Robust Statistics: middles that a mishit does not move.".to_owned(),
            "DerSimonian & Laird (1986), Controlled Clinical Trials 7: how far like things differ in truth.".to_owned(),
        ],
    }
}
