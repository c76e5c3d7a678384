//! How players stand by their sessions: told once, and again when something changed.

use crate::guard::compute::compute;
use crate::http::problem::Problem;
use crate::routes::record::occasions::recorded;
use chrono::NaiveDate;
use std::collections::{BTreeMap, HashMap};
use tally_core::physics::club::Club;
use tally_core::record::peers::{figure_key, usual};
use tally_core::record::standings::player_standing;
use tally_core::session::purpose::Purpose;
use tally_core::verdicts::house_rules::HouseRules;
use tally_store::record::standings::{NewStanding, Untold};
use tally_store::{Store, StoreError};
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
        // One who cannot be read keeps nobody else from being told of.
        if let Err(problem) = tell(store, school, mark, of, rules).await {
            let found = store.player(school, of.player).await;
            let erased = matches!(found, Err(StoreError::NotFound(_)));
            if !erased {
                tracing::warn!(player = %of.player, ?problem, "today: a player could not be read");
            }
        }
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
    let held = match read.sessions.last() {
        Some(latest) => store.progress(school, latest.id).await?.held,
        None => None,
    };
    let (fitted, by) = (fitted_on(store, school, of.player).await?, *rules);
    let (told, usual) = compute(school, move || {
        let usual = usual(&read.occasions).into_iter();
        let usual = usual.map(|of| (figure_key(of.club, of.quantity), of));
        let told = player_standing(&read.occasions, held, &fitted, &by);
        (told, usual.collect::<BTreeMap<_, _>>())
    })
    .await?;
    let kept = NewStanding {
        flagged: !told.flags.is_empty(),
        told: &told,
        check_ins: i32::try_from(n).unwrap_or(i32::MAX),
        last_check_in,
        usual: &usual,
    };
    store.keep_standing(school, mark, of, &kept).await?;
    Ok(())
}

/// When the clubs of a bag came into it, the latest of each kind.
async fn fitted_on(
    store: &Store,
    school: Uuid,
    player: Uuid,
) -> Result<HashMap<Club, NaiveDate>, Problem> {
    let bag = store.bag(school, player).await?.into_iter();
    // Latest last: it stays.
    let each = bag.map(|club| (club.club, club.added_at.date_naive()));
    Ok(each.collect())
}
