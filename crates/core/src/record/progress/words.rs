//! The sentences of a progress.

use super::{ChangeKind, DayRead, LevelChange, NINETY, ProgressRead, Since};
use crate::vocabulary::sentence::{Sentence, capital};
use chrono::NaiveDate;

/// What a coach would say.
pub(super) fn sentence(told: &ProgressRead) -> Sentence {
    let dimension = told.quantity.dimension();
    let name = told.quantity.label().to_lowercase();
    let Some(last) = told.days.last() else {
        return Sentence::of(format!("No check-in has a {name} yet."));
    };
    let first = &told.days[0];
    if told.days.len() == 1 {
        return Sentence::of("One day so far: ")
            .figure(last.mean, dimension)
            .words(" on average. Another check-in shows whether it changes.");
    }
    let Some(start) = told.changes.iter().find(|c| c.since == Since::Start) else {
        return Sentence::default()
            .figure(first.mean, dimension)
            .words(", then ")
            .figure(last.mean, dimension)
            .words(": two days make no trend. A third begins to tell.");
    };
    let mut said = Sentence::default();
    if last.off {
        said = said
            .join(weekday(last.date, last.date))
            .words(" was an off day: ")
            .figure(last.mean, dimension)
            .words(", under this player's own band. Until then ");
    }
    said = said.join(opening(told, start, last.off));
    // A level beside a change that is none, or not to be told yet, would say two things.
    let moved = matches!(
        start.kind,
        ChangeKind::RealAndWorthIt | ChangeKind::RealButSmall
    );
    match told.level_since() {
        _ if !moved => {}
        Some(plateau) if plateau.from > 0 => {
            let from = told.days[plateau.from].date;
            said = said.words("; level since ").day(from, last.date);
        }
        _ => said = said.join(since_then(told, last)),
    }
    let lately = told.days.iter().rev().take(4);
    if let Some(off) = lately.filter(|_| !last.off).find(|d| d.off) {
        said = said
            .words("; ")
            .join(weekday(off.date, last.date))
            .words(" was an off day");
    }
    said.words(".")
}

/// The latest day that was not off.
fn latest(told: &ProgressRead) -> &DayRead {
    let days = &told.days;
    let usual = days.iter().rev().find(|day| !day.off);
    usual.unwrap_or(&days[days.len() - 1])
}

/// A plateau that is over, and what came after it; or a lay-off since.
fn since_then(told: &ProgressRead, last: &DayRead) -> Sentence {
    let rest = told.lay_offs.last();
    let after = rest.map_or(0, |rest| rest.before);
    let over = told.plateaus.iter().rev();
    if let Some(plateau) = over.into_iter().find(|p| p.from > 0 && p.to >= after) {
        let (from, to) = (told.days[plateau.from].date, told.days[plateau.to].date);
        let up = latest(told).mean > told.days[plateau.to].mean;
        return Sentence::of("; level from ")
            .day(from, last.date)
            .words(" to ")
            .day(to, last.date)
            .words(if up {
                ", up again since"
            } else {
                ", lower since"
            });
    }
    let Some(rest) = rest else {
        return Sentence::default();
    };
    Sentence::of(format!("; {} weeks off until ", rest.days / 7))
        .day(told.days[rest.before].date, last.date)
        .words(format!(" kept {:.0} %", 100.0 * rest.kept.value.min(1.0)))
}

/// What changed since the first day: as it was seen, and how much of that is likely to last,
/// as the best day of a few is partly luck.
fn opening(told: &ProgressRead, start: &LevelChange, inside: bool) -> Sentence {
    let dimension = told.quantity.dimension();
    let now = told.days[told.days.len() - 1].date;
    let first = &told.days[0];
    let seen = latest(told).mean - first.mean;
    let up = if seen > 0.0 { "up " } else { "down " };
    let begin = |word: &str| match inside {
        true => word.to_owned(),
        false => capital(word),
    };
    let lasting = start.change.value;
    let alike = seen * lasting > 0.0;
    let luck = !alike || seen.abs() - lasting.abs() > 0.5 * told.margin;
    let change = |said: Sentence| {
        let said = said
            .figure(seen.abs(), dimension)
            .words(" since ")
            .day(start.date, now);
        match (luck, alike) {
            (true, true) => said
                .words(", of which about ")
                .figure(lasting.abs(), dimension)
                .words(" is likely to last"),
            (true, false) => said.words(", which is likely to be luck"),
            _ => said,
        }
    };
    let more = |said: Sentence| match start.more_check_ins {
        Some(more) => said.words(format!(
            "; about {more} more check-in{} would tell",
            if more == 1 { "" } else { "s" }
        )),
        None => said.words(", too little to be sure of yet"),
    };
    match start.kind {
        ChangeKind::RealAndWorthIt => change(Sentence::of(begin(up))),
        ChangeKind::RealButSmall => {
            change(Sentence::of(begin(up))).words(": real, but less than what matters")
        }
        ChangeKind::Same => Sentence::of(begin("as on "))
            .day(start.date, now)
            .words(", within ")
            .figure(told.margin, dimension),
        // Whatever it seems, one side is hardly likelier than the other.
        // An off day at the end weighs on the level, and says nothing of what was before it.
        ChangeKind::NotYet
            if (lasting.abs() < sd(start) || !alike)
                && !(inside && alike && told.typical_error.is_some_and(|e| seen.abs() >= e)) =>
        {
            let said =
                Sentence::of(begin("no change that can be told since ")).day(start.date, now);
            if seen.abs() < told.margin.max(lasting.abs() + 0.5 * told.margin) {
                return said;
            }
            said.words(": the averages are ")
                .figure(seen.abs(), dimension)
                .words(" apart, most of which is likely to be luck")
        }
        ChangeKind::NotYet if luck => more(
            Sentence::of(begin("seemingly "))
                .words(up)
                .figure(seen.abs(), dimension)
                .words(" since ")
                .day(start.date, now)
                .words(", of which about ")
                .figure(lasting.abs(), dimension)
                .words(" may last"),
        ),
        ChangeKind::NotYet => more(
            Sentence::of(begin("probably "))
                .words(up)
                .figure(seen.abs(), dimension)
                .words(" since ")
                .day(start.date, now),
        ),
    }
}

/// SD of a change.
fn sd(told: &LevelChange) -> f64 {
    (told.change.high - told.change.low) / (2.0 * NINETY)
}

/// What stands behind it.
pub(super) fn detail(told: &ProgressRead) -> Sentence {
    let dimension = told.quantity.dimension();
    let balls: usize = told.days.iter().map(|d| d.values.len()).sum();
    let days = told.days.len();
    let mut said = Sentence::of(format!(
        "{days} day{}, {balls} balls",
        if days == 1 { "" } else { "s" }
    ));
    let (Some(first), Some(last)) = (told.days.first(), told.days.last()) else {
        return Sentence::of("Nothing is kept yet.");
    };
    if days > 1 {
        said = said
            .words(" · average ")
            .bare(first.mean, dimension)
            .words(" then ")
            .figure(last.mean, dimension);
        if let (Some(then), Some(now)) = (first.best_of_equal, last.best_of_equal) {
            said = said
                .words(format!(" · best of {} ", told.equal_tries))
                .bare(then, dimension)
                .words(" then ")
                .figure(now, dimension);
        }
    }
    if let Some(start) = told.changes.first() {
        said = said
            .words(" · change ")
            .bare(start.change.low, dimension)
            .words(" to ")
            .figure(start.change.high, dimension)
            .words(" in nine of ten cases");
    }
    if let Some(least) = told.smallest_real {
        said = said
            .words(" · two check-ins must differ by ")
            .figure(least, dimension)
            .words(" to be told apart");
    }
    if let Some(falls) = told.tiring.filter(|_| told.quantity.has_best())
        && falls.high < 0.0
        && -falls.value >= told.margin
    {
        said = said
            .words(" · within a session it falls by about ")
            .figure(-falls.value, dimension)
            .words(" over ten balls");
    }
    if let Some(other) = told.days.iter().find(|d| d.other_device) {
        said = said
            .words(" · read by another device on ")
            .day(other.date, last.date)
            .words(", which leaves the change less sure");
    }
    if let Some(other) = told.days.iter().find(|d| d.other_roof) {
        said = said
            .words(" · under another roof on ")
            .day(other.date, last.date)
            .words(", taken out as far as the days tell");
    }
    if let Some(other) = told.days.iter().find(|d| d.other_head) {
        said = said
            .words(" · with another club from ")
            .day(other.date, last.date)
            .words(" on: what the club changed is in the figures");
    }
    said
}

/// A day of the last week by its name, others by their date.
fn weekday(date: NaiveDate, now: NaiveDate) -> Sentence {
    if (now - date).num_days() < 7 {
        Sentence::of(date.format("%A").to_string())
    } else {
        Sentence::default().day(date, now)
    }
}
