//! What is proposed, in words, and how it was worked out.

use super::{NextQuestion, OpenTest, PART_OF_SPEED, PART_OF_SPREAD, SHOTS};
use crate::physics::club::Club;
use crate::reach::unclaimed::{Lever, Unclaimed};
use crate::record::peers::{PeersTold, Rank};
use crate::record::progress::{ChangeKind, LevelChange};
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::working::{Working, WorkingRow, figure_row, row};
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use chrono::NaiveDate;

fn named(club: Club) -> String {
    club.in_words()
}

pub(super) fn unclaimed(lever: Lever, carry: Estimate, club: Club) -> Sentence {
    let what = match lever {
        Lever::BallSpeed => "Strike the middle",
        Lever::Launch => "Launch it where this speed carries furthest",
        Lever::Spin => "Give it the spin this speed wants",
        Lever::Curve => "Straighten it",
        Lever::Conditions => "Play in kinder air",
    };
    Sentence::of(format!("{what}: worth "))
        .figure(carry.value, Dimension::Distance)
        .words(format!(" of carry with the {}.", named(club)))
}

pub(super) fn speed(gap: f64, carry: Estimate, club: Club) -> Sentence {
    Sentence::of(format!(
        "Use the speed that is there: fast swings with the {} are ",
        named(club)
    ))
    .figure(gap, Dimension::Speed)
    .words(" faster than usual ones; half of that carries ")
    .figure(carry.value, Dimension::Distance)
    .words(" further.")
}

pub(super) fn behind_peers(
    gap: f64,
    peers: &PeersTold,
    rank: Rank,
    carry: Estimate,
    club: Club,
) -> Sentence {
    Sentence::of(format!("Build speed with the {}: it is ", named(club)))
        .figure(gap, Dimension::Speed)
        .words(format!(
            " under the middle of {} {} here; half of that carries ",
            rank.n, peers.group
        ))
        .figure(carry.value, Dimension::Distance)
        .words(" further.")
}

/// What speed did of late, beside what it could do.
pub(super) fn trend(change: Option<&LevelChange>) -> Sentence {
    let Some(told) = change else {
        return Sentence::default();
    };
    let of = |way: &str| {
        Sentence::of(" It went ")
            .words(way)
            .figure(told.change.value.abs(), Dimension::Speed)
            .words(" since the start.")
    };
    match told.kind {
        ChangeKind::RealAndWorthIt if told.change.value > 0.0 => of("up "),
        ChangeKind::RealAndWorthIt => of("down "),
        ChangeKind::RealButSmall | ChangeKind::Same => {
            Sentence::of(" It has hardly moved since the start.")
        }
        ChangeKind::NotYet => Sentence::default(),
    }
}

pub(super) fn spread(sd: f64, strokes: Estimate, club: Club) -> Sentence {
    Sentence::of(format!("Narrow the {}: it strays ", named(club)))
        .figure(sd, Dimension::Distance)
        .words(format!(
            " to either side; a fifth less saves {:.1} strokes a round.",
            strokes.value
        ))
}

pub(super) fn bag_gap(long: (Club, Estimate), short: (Club, Estimate)) -> Sentence {
    Sentence::of(format!(
        "Fill the bag: between {} and {} lie ",
        named(long.0),
        named(short.0)
    ))
    .apart_in_full(long.1.value, short.1.value, Dimension::Distance)
    .words(".")
}

pub(super) fn measurement(last: Option<NaiveDate>, today: NaiveDate, club: Club) -> Sentence {
    let said = Sentence::of(format!(
        "Measure spin: none was measured with the {} ",
        named(club)
    ));
    match last {
        Some(day) => said.words("since ").day(day, today),
        None => said.words("yet"),
    }
    .words(", and launch is judged half blind without.")
}

pub(super) fn open_test(test: &OpenTest, today: NaiveDate) -> Sentence {
    Sentence::of("Finish the test of ")
        .day(test.day, today)
        .words(": ")
        .join(test.told.clone())
}

const STROKES: &str =
    "Broadie 2012: expected strokes by distance and lie, stretched to the player's level";

fn level(rules: &HouseRules) -> WorkingRow {
    row(
        "Player above the baseline",
        Sentence::of(format!("{:.0} strokes a round", rules.player_level)),
    )
}

fn strokes_formula(question: &NextQuestion) -> Sentence {
    if question.club == Club::Driver {
        Sentence::of(
            "strokes = 10 × [E(400 yd − carry − run) − E(400 yd − carry − run − more)] + 4 × the same at 520 yd",
        )
    } else {
        Sentence::of(format!(
            "strokes = {SHOTS} shots × [E(carry) − E(carry − more)]"
        ))
    }
}

pub(super) fn unclaimed_working(
    lever: Lever,
    carry: Estimate,
    mean: &Unclaimed,
    question: &NextQuestion,
) -> Working {
    Working {
        inputs: vec![
            figure_row("Carry as hit", mean.actual, Dimension::Distance),
            figure_row("Carry within reach", mean.attainable, Dimension::Distance),
            row("Balls", Sentence::of(mean.n.to_string())),
        ],
        formula: vec![
            Sentence::of(format!(
                "{}: its share of the carry within reach, over every order of putting things right",
                lever.label()
            )),
            strokes_formula(question),
        ],
        rules: vec![level(&question.rules)],
        results: vec![row("Carry", carry.said(Dimension::Distance))],
        sources: vec!["Shapley 1953".to_owned(), STROKES.to_owned()],
    }
}

pub(super) fn speed_working(
    usual: Estimate,
    fast: Estimate,
    carry: Estimate,
    question: &NextQuestion,
) -> Working {
    let rules = &question.rules;
    let mut inputs = vec![
        row("Usual club speed", usual.said(Dimension::Speed)),
        row("Fast swings", fast.said(Dimension::Speed)),
    ];
    inputs.extend(context(question));
    Working {
        inputs,
        formula: vec![Sentence::of(format!(
            "carry = {PART_OF_SPEED} × (fast − usual) × carry for each bit of speed; the half is ours"
        ))],
        rules: vec![level(rules)],
        results: vec![row("Carry", carry.said(Dimension::Distance))],
        sources: vec![STROKES.to_owned()],
    }
}

/// Where the speed stands and where it goes, for who wants to see more than the worth.
fn context(question: &NextQuestion) -> Vec<WorkingRow> {
    let trend = question.trend.as_ref();
    let trend = trend.map(|told| row("Since the start", told.change.said(Dimension::Speed)));
    let rank = question.peers.rank.map(|rank| {
        let place = format!(
            "percentile {:.0} of {} {}",
            rank.percentile, rank.n, question.peers.group
        );
        row("Among the school's", Sentence::of(place))
    });
    trend.into_iter().chain(rank).collect()
}

pub(super) fn peers_working(
    usual: Estimate,
    rank: Rank,
    carry: Estimate,
    question: &NextQuestion,
) -> Working {
    let mut inputs = vec![
        row("Usual club speed", usual.said(Dimension::Speed)),
        figure_row("Middle of the group", rank.middle, Dimension::Speed),
    ];
    inputs.extend(context(question));
    Working {
        inputs,
        formula: vec![Sentence::of(format!(
            "carry = {PART_OF_SPEED} × (middle − usual) × carry for each bit of speed; the half is ours, and none of it is sure"
        ))],
        rules: vec![level(&question.rules)],
        results: vec![row("Carry", carry.said(Dimension::Distance))],
        sources: vec![STROKES.to_owned()],
    }
}

pub(super) fn spread_working(sd: f64, strokes: Estimate, question: &NextQuestion) -> Working {
    Working {
        inputs: vec![
            figure_row("Strays to either side (SD)", sd, Dimension::Distance),
            row("Balls", Sentence::of(question.landed.len().to_string())),
        ],
        formula: vec![Sentence::of(format!(
            "each ball again, {:.0} % nearer to the middle of all: fairway or rough, and what is left; the fifth is ours",
            100.0 * PART_OF_SPREAD
        ))],
        rules: vec![
            figure_row("Fairway", question.rules.fairway_width, Dimension::Distance),
            level(&question.rules),
        ],
        results: vec![strokes_row(strokes)],
        sources: vec![STROKES.to_owned()],
    }
}

pub(super) fn bag_gap_working(
    long: (Club, Estimate),
    short: (Club, Estimate),
    strokes: Estimate,
    rules: &HouseRules,
) -> Working {
    let carry =
        |(club, carry): (Club, Estimate)| row(&named(club), carry.said(Dimension::Distance));
    Working {
        inputs: vec![carry(long), carry(short)],
        formula: vec![Sentence::of(format!(
            "strokes = {SHOTS} shots × [E(green, 5 yd + gap ÷ 4) − E(green, 5 yd + usual gap ÷ 4)]; \
             shots and quarter are ours"
        ))],
        rules: vec![
            figure_row("Usual gap", rules.club_gap, Dimension::Distance),
            level(rules),
        ],
        results: vec![strokes_row(strokes)],
        sources: vec![STROKES.to_owned()],
    }
}

fn strokes_row(strokes: Estimate) -> WorkingRow {
    row("Strokes a round", Sentence::of(strokes.bare(2)))
}
