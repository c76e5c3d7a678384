//! How players stand by their sessions: told once, and again when something changed.

use crate::guard::compute::compute;
use crate::http::problem::Problem;
use crate::routes::record::occasions::{Recorded, recorded};
use chrono::NaiveDate;
use std::collections::HashMap;
use tally_core::physics::club::Club;
use tally_core::record::figures::SessionFigures;
use tally_core::record::flags::{BestToBeat, Flag, FlagKind, PlayerStanding, flags};
use tally_core::record::records::{StandingRecord, records};
use tally_core::record::series::{Occasion, choices, follow};
use tally_core::session::purpose::Purpose;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::sentence::Sentence;
use tally_store::Store;
use tally_store::record::standings::{NewStanding, Untold};
use uuid::Uuid;

/// Tells how these players stand, one after another, as long as they are read by the rules
/// and offsets that `mark` stands for.
pub async fn tell_all(
    store: &Store,
    school: Uuid,
    mark: i64,
    untold: Vec<Untold>,
    rules: &HouseRules,
) -> Result<(), Problem> {
    for of in untold {
        if store.figures_mark(school, rules).await? != mark {
            break;
        }
        tell(store, school, mark, of, rules).await?;
    }
    Ok(())
}

async fn tell(
    store: &Store,
    school: Uuid,
    mark: i64,
    of: Untold,
    rules: &HouseRules,
) -> Result<(), Problem> {
    let read = recorded(store, school, of.player, rules).await?;
    let check_ins = read.sessions.iter();
    let mut check_ins = check_ins.filter(|session| session.purpose == Purpose::Benchmark);
    let (n, last_check_in) = (
        check_ins.clone().count(),
        check_ins.next_back().map(|session| session.started_at),
    );
    let told = standing(store, school, of.player, read, rules).await?;
    let kept = NewStanding {
        flagged: !told.flags.is_empty(),
        told: &told,
        check_ins: i32::try_from(n).unwrap_or(i32::MAX),
        last_check_in,
    };
    store.keep_standing(school, mark, of, &kept).await?;
    Ok(())
}

/// How one player stands.
async fn standing(
    store: &Store,
    school: Uuid,
    player: Uuid,
    read: Recorded,
    rules: &HouseRules,
) -> Result<PlayerStanding, Problem> {
    let fitted = fitted_on(store, school, player).await?;
    let mut told = Vec::new();
    if let Some(latest) = read.sessions.last() {
        let progress = store.progress(school, latest.id).await?;
        if let Some(reason) = progress.held {
            told.push(Flag {
                kind: FlagKind::Held,
                said: Sentence::of(format!("Full effort was held: {reason}.")),
                since: latest.started_at.date_naive(),
                seen: latest.started_at.date_naive(),
            });
        }
    }
    told.extend(doubted(&read.occasions, rules));
    let by = *rules;
    Ok(compute(school, move || {
        let figures: Vec<&SessionFigures> = read.occasions.iter().map(|o| &o.figures).collect();
        let Some(first) = choices(&read.occasions).into_iter().next() else {
            let sentence = Sentence::default();
            return PlayerStanding {
                sentence,
                flags: told,
                best: None,
            };
        };
        let key = first.key;
        let progress = follow(&read.occasions, &key, None, None, &by);
        let fitted = key.club.and_then(|club| fitted.get(&club).copied());
        told.extend(flags(&progress, key.club, fitted, &by));
        let same = |r: &&StandingRecord| {
            (r.of.club, &r.of.swung, r.of.quantity) == (key.club, &key.swung, key.quantity)
        };
        let best = records(&figures).iter().find(same).map(|r| BestToBeat {
            of: r.of.clone(),
            best: r.record.best,
        });
        PlayerStanding {
            sentence: progress.sentence,
            flags: told,
            best,
        }
    })
    .await?)
}

/// Readings of the latest sessions that nobody has decided on.
fn doubted(occasions: &[Occasion], rules: &HouseRules) -> Option<Flag> {
    let looked_at = usize::try_from(rules.doubtful_sessions()).unwrap_or(usize::MAX);
    let latest = occasions.iter().rev().take(looked_at);
    let with: Vec<_> = latest.filter(|o| o.figures.doubted > 0).collect();
    let n: usize = with.iter().map(|o| o.figures.doubted).sum();
    let since = with.last()?.date;
    let (readings, wait) = if n == 1 {
        ("reading", "waits")
    } else {
        ("readings", "wait")
    };
    Some(Flag {
        kind: FlagKind::Doubted,
        said: Sentence::of(format!("{n} doubtful {readings} {wait} for a decision.")),
        since,
        seen: with[0].date,
    })
}

/// When the clubs of a bag came into it, the latest of each kind.
async fn fitted_on(
    store: &Store,
    school: Uuid,
    player: Uuid,
) -> Result<HashMap<Club, NaiveDate>, Problem> {
    let bag = store.bag_since(school, player).await?;
    // Latest last: it stays.
    let each = bag
        .into_iter()
        .map(|(club, since)| (club, since.date_naive()));
    Ok(each.collect())
}
