//! Sessions that are opened with their numbers: where the player stands.

use super::{OpeningQuestion, kept, told};
use crate::physics::club::Club;
use crate::session::last_time::is_off_day;
use crate::session::read::{at_equal_speed, at_several_speeds, distance_of};
use crate::shots::ball::Ball;
use crate::shots::useful_flight::failed;
use crate::statistics::summary::Summary;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

const FORMULA: &str = "Means and bests of the kept balls. Best struck: the distance, recorded total before carry, of each ball over its own club speed, times the mean club speed.";

/// Average and best of what the purpose shows, a recorded total before a carry.
pub(super) fn verdict(question: &OpeningQuestion<'_>) -> Verdict {
    let rules = &question.rules;
    let of = |quantity| kept(question.balls.iter().map(|l| &l.ball), quantity, rules);
    let speed = of(Quantity::ClubSpeed);
    let distance = distance_of(
        question
            .balls
            .iter()
            .map(|l| &l.ball)
            .filter(|b| b.kept())
            .map(|b| &b.reading),
    );
    let far = distance.and_then(|quantity| Some((quantity, of(quantity)?)));
    let opening = question.purpose == crate::session::purpose::Purpose::SpeedDay;
    let far = far.filter(|_| !opening || speed.is_none());
    let standing = question.balls.iter().filter(|l| l.ball.kept()).count();
    // Balls hit at several speeds have no one mean.
    if speed.as_ref().is_some_and(at_several_speeds) && of(Quantity::Carry).is_some() {
        return super::expected(question);
    }
    let sentence = match (speed, far) {
        (Some(speed), Some((quantity, far))) => {
            let said = averaged(question, &speed, Dimension::Speed, " of club speed");
            let what = if quantity == Quantity::Total {
                " in total"
            } else {
                " of carry"
            };
            best_of(
                said.words(" and ").figure(far.mean, Dimension::Distance),
                &far,
                Dimension::Distance,
                what,
            )
            .words(".")
        }
        (Some(speed), None) => {
            averaged(question, &speed, Dimension::Speed, " of club speed").words(".")
        }
        (None, Some((_, far))) => averaged(question, &far, Dimension::Distance, "").words("."),
        (None, None) if question.balls.is_empty() => {
            Sentence::of("No shots yet. They appear here as they are hit.")
        }
        (None, None) if standing == 0 => Sentence::of(
            "No shot stands: all are set aside or doubtful. Keep some to read the session.",
        ),
        (None, None) => return super::expected(question),
    };
    let sentence = match best_struck(question, distance) {
        Some(struck) => sentence.words(" ").join(struck),
        None => sentence,
    };
    let sentence = match against_last(question, speed.or(far.map(|(_, far)| far))) {
        Some(last) => sentence.words(" ").join(last),
        None => sentence,
    };
    let detail = Sentence::of(format!("{standing} balls"));
    let detail = match of(Quantity::BallSpeed) {
        Some(ball) => detail
            .words(" · ball speed ")
            .figure(ball.mean, Dimension::Speed),
        None => detail,
    };
    let detail = match of(Quantity::SmashFactor) {
        Some(smash) => detail
            .words(" · smash ")
            .figure(smash.mean, Dimension::Ratio),
        None => detail,
    };
    let kind = if standing == 0 {
        VerdictKind::CannotTellYet
    } else {
        VerdictKind::Same
    };
    told(kind, sentence, detail, FORMULA)
}

/// A technique session: what was delivered, without speed unless that is shown.
pub(super) fn technique(question: &OpeningQuestion<'_>) -> Verdict {
    let balls = || question.balls.iter().map(|l| &l.ball);
    let told: Vec<(Quantity, Summary)> = question
        .shown
        .iter()
        .filter_map(|q| Some((*q, kept(balls(), *q, &question.rules)?)))
        .collect();
    if told.is_empty() {
        return verdict(question);
    }
    let figures = told.iter().enumerate().fold(
        Sentence::of(format!("{}: ", question.player)),
        |said, (i, (quantity, summary))| {
            let name = quantity.label().to_lowercase();
            let said = if i > 0 { said.words(", ") } else { said };
            let said = said
                .words(format!("{name} "))
                .figure(summary.mean, quantity.dimension());
            match summary.spread {
                Some(spread) => said.words(" ± ").bare(spread, quantity.dimension()),
                None => said,
            }
        },
    );
    let n = balls().filter(|ball| ball.kept()).count();
    let detail = Sentence::of(format!("{n} balls · mean ± spread of the numbers shown"));
    super::told(
        VerdictKind::Same,
        figures.words("."),
        detail,
        "Mean and sample standard deviation of the kept balls.",
    )
}

fn averaged(
    question: &OpeningQuestion<'_>,
    summary: &Summary,
    dimension: Dimension,
    what: &str,
) -> Sentence {
    let said =
        Sentence::of(format!("{} averaged ", question.player)).figure(summary.mean, dimension);
    best_of(said, summary, dimension, what)
}

fn best_of(said: Sentence, summary: &Summary, dimension: Dimension, what: &str) -> Sentence {
    let said = said.words(what);
    if summary.n < 2 {
        return said;
    }
    said.words(" (best ")
        .bare(summary.best, dimension)
        .words(")")
}

/// The ball that made most of its speed, among few.
fn best_struck(question: &OpeningQuestion<'_>, distance: Option<Quantity>) -> Option<Sentence> {
    let distance = distance?;
    let rows: Vec<(usize, f64, f64)> = question
        .balls
        .iter()
        .filter(|l| l.ball.kept())
        .filter(|l| failed(&l.ball.reading, None, question.club, &question.rules).is_empty())
        .filter_map(|l| {
            let value = |q| l.ball.reading.get(q);
            Some((
                l.ball.order + 1,
                value(Quantity::ClubSpeed)?,
                value(distance)?,
            ))
        })
        .collect();
    if !(3..=MOST_RANKED).contains(&rows.len()) {
        return None;
    }
    let ranked = at_equal_speed(&rows.iter().map(|r| [r.1, r.2]).collect::<Vec<_>>());
    let best = ranked.iter().position(|equal| equal.rank == 1)?;
    let (number, speed, far) = rows[best];
    Some(
        Sentence::of(format!("Ball {number} is the best struck: "))
            .figure(far, Dimension::Distance)
            .words(" from ")
            .figure(speed, Dimension::Speed)
            .words(", at the mean speed ")
            .bare(ranked[best].distance, Dimension::Distance)
            .words("."),
    )
}

/// Balls among which one is named; of more, a table tells.
const MOST_RANKED: usize = 12;

/// The mean against last time's, when there was one.
fn against_last(question: &OpeningQuestion<'_>, now: Option<Summary>) -> Option<Sentence> {
    let (last, now) = (question.last?, now?);
    let share = now.mean / last.mean - 1.0;
    let word = if share < 0.0 { "under" } else { "over" };
    let said = Sentence::of(format!(
        "That is {:.1} % {word} last time’s average",
        share.abs() * 100.0
    ));
    Some(if is_off_day(now.mean, Some(last.mean), &question.rules) {
        said.words(": an off day. Recover and come back; these are not the figures to beat.")
    } else {
        said.words(".")
    })
}

/// A bag: every club's carry and the widest and narrowest gap.
pub(super) fn bag(question: &OpeningQuestion<'_>) -> Verdict {
    let clubs: Vec<(Club, Summary)> = Club::all()
        .filter_map(|club| {
            let of = |ball: &&Ball| ball.club == club;
            let carry = kept(
                question.bag.iter().filter(of),
                Quantity::Carry,
                &question.rules,
            )?;
            Some((club, carry))
        })
        .collect();
    let gaps: Vec<(Club, Club, f64)> = clubs
        .windows(2)
        .map(|pair| (pair[0].0, pair[1].0, pair[0].1.mean - pair[1].1.mean))
        .collect();
    let by = |a: &&(Club, Club, f64), b: &&(Club, Club, f64)| a.2.total_cmp(&b.2);
    let (Some(widest), Some(narrowest)) = (gaps.iter().max_by(by), gaps.iter().min_by(by)) else {
        return verdict(question);
    };
    let gap = |said: Sentence, (long, short, apart): &(Club, Club, f64)| {
        said.figure(*apart, Dimension::Distance).words(format!(
            " between {} and {}",
            long.in_words(),
            short.in_words()
        ))
    };
    let said = Sentence::of(format!("{} clubs, ", clubs.len()))
        .figure(clubs[clubs.len() - 1].1.mean, Dimension::Distance)
        .words(" to ")
        .figure(clubs[0].1.mean, Dimension::Distance)
        .words(" of carry: the widest gap is ");
    let said = gap(said, widest);
    let said = if gaps.len() > 1 {
        gap(said.words(", the narrowest "), narrowest)
    } else {
        said
    };
    let detail = clubs
        .iter()
        .fold(Sentence::default(), |said, (club, carry)| {
            let said = if said.0.is_empty() {
                said
            } else {
                said.words(" · ")
            };
            said.words(format!("{} ", club.in_words()))
                .bare(carry.mean, Dimension::Distance)
        });
    told(
        VerdictKind::Same,
        said.words("."),
        detail,
        "Mean carry of the kept balls of each club; gaps between neighbours in the bag.",
    )
}
