//! What a player could work on next, and what a coach does with it.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::{Recorded, recorded};
use crate::routes::record::peers::Others;
use crate::routes::session::acts::age_of;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{Duration, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::record::figures::Series;
use tally_core::record::next::{Landed, NextItem, NextQuestion, OpenTest, RankedBy, next};
use tally_core::record::peers::{PeersTold, usual};
use tally_core::record::series::{SeriesKey, choices};
use tally_core::session::read::{self, Question};
use tally_core::session::warm_up::GROWN;
use tally_core::shots::standing;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::text::text_within;
use tally_store::Store;
use tally_store::record::next_choices::NextChoice;
use tally_store::shots::hit_sessions::HitSession;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// By what the list is ranked.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Ranked {
    /// Strokes first, unless distance is asked for.
    #[param(inline)]
    by: Option<RankedBy>,
}

/// What to work on next.
#[derive(Serialize, ToSchema)]
struct NextView {
    /// The most worth first, what is pinned before that.
    items: Vec<NextItem>,
    /// What was dismissed, with the reason.
    dismissed: Vec<Dismissed>,
}

/// A proposal that was dismissed.
#[derive(Serialize, ToSchema)]
struct Dismissed {
    item: String,
    reason: String,
}

/// What a coach does with a proposal.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NextChosen {
    /// What it goes by.
    item: String,
    /// Pinned, or else dismissed.
    pinned: bool,
    /// Why it is dismissed.
    #[serde(default)]
    reason: String,
}

/// A proposal that is to be as it was.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Unchosen {
    /// What it goes by.
    item: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(what_next, choose_next, unchoose_next))
}

/// Tests are looked at again for so long.
const OPEN_FOR: Duration = Duration::days(60);
/// Latest sessions with the club whose balls are read: one may have been an off day.
const LATEST: usize = 3;
/// Balls of each that are read.
const MOST_BALLS: usize = 40;

/// What this player could work on, ranked by what it is worth.
#[utoipa::path(get, path = "/players/{player}/next", params(("player" = Uuid, Path), Ranked), responses((status = OK, body = NextView), Problem))]
async fn what_next(
    State(app): State<App>,
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(ranked): Query<Ranked>,
) -> Result<Json<NextView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let about = store.player(school, player).await?;
    let rules = store.house_rules(school).await?;
    let chosen = store.next_choices(school, player).await?;
    let now = Utc::now();
    let open = store
        .comparisons_since(school, player, now - OPEN_FOR)
        .await?;
    let open = open.into_iter().filter(|made| made.undecided);
    let open = open.map(|made| OpenTest {
        day: made.made_at.date_naive(),
        key: made.key,
        told: made.told,
    });
    let read = recorded(store, school, player, &rules).await?;
    let hit = choices(&read.occasions).into_iter();
    let Some(club) = hit.filter_map(|choice| choice.key.club).next() else {
        return Ok(Json(NextView {
            items: vec![],
            dismissed: vec![],
        }));
    };
    let latest = latest_launched(store, school, &read, club).await?;
    let compared = (club, Quantity::ClubSpeed);
    let others = Others::of(&app.store, school, &about, compared).await?;
    let mut question = NextQuestion {
        today: now.date_naive(),
        club,
        usual: None,
        fast: None,
        trend: None,
        peers: PeersTold::default(),
        growing: age_of(&about).is_some_and(|age| age < GROWN),
        claimed: vec![],
        landed: vec![],
        carries: vec![],
        spin_measured: None,
        open: open.collect(),
        chosen: chosen.iter().map(|c| (c.item.clone(), c.pinned)).collect(),
        by: ranked.by.unwrap_or_default(),
        rules,
    };
    let items = compute(school, move || {
        question.take_record(&read.occasions);
        let mut own = usual(&read.occasions).into_iter();
        question.peers = others.held_against(own.find(|of| (of.club, of.quantity) == compared));
        for hit in &latest {
            take_latest(&mut question, hit, &rules);
        }
        next(&question)
    })
    .await?;
    let dismissed = chosen.into_iter().filter(|choice| !choice.pinned);
    let dismissed = dismissed.map(|choice| Dismissed {
        item: choice.item,
        reason: choice.reason,
    });
    Ok(Json(NextView {
        items,
        dismissed: dismissed.collect(),
    }))
}

/// The latest sessions whose usual balls with the club tell how they were launched.
async fn latest_launched(
    store: &Store,
    school: Uuid,
    read: &Recorded,
    club: Club,
) -> Result<Vec<HitSession>, Problem> {
    let key = SeriesKey::hit(Series::Usual, club, Quantity::LaunchAngle);
    let told = |place: &usize| !key.of(&read.occasions[*place].figures).is_empty();
    let latest = (0..read.sessions.len()).rev().filter(told).take(LATEST);
    let latest = latest.map(|place| read.sessions[place].clone());
    Ok(store.hit_sessions(school, latest.collect()).await?)
}

/// Takes in how the balls of a session were launched, and where they landed.
fn take_latest(question: &mut NextQuestion, hit: &HitSession, rules: &HouseRules) {
    let clubs = hit.shots.iter().zip(hit.clubs());
    let of_club = clubs.filter(|(_, club)| *club == question.club);
    let of_club = of_club.take(MOST_BALLS);
    let shots: Vec<standing::Shot> = of_club.map(|(shot, _)| shot.in_play()).collect();
    let kept = read::claims_of_kept(&Question {
        player: "",
        club: question.club,
        conditions: hit.session.conditions(),
        rules: *rules,
        shots: &shots,
    });
    for (place, unclaimed) in kept {
        let shot = &shots[place];
        question.claimed.extend(unclaimed);
        let place = [Quantity::Carry, Quantity::Side].map(|q| shot.reading.get(q));
        if let [Some(carry), Some(side)] = place {
            question.landed.push(Landed { carry, side });
        }
    }
}

/// Pins or dismisses a proposal.
#[utoipa::path(put, path = "/players/{player}/next", params(("player" = Uuid, Path)), request_body = NextChosen, responses((status = NO_CONTENT), Problem))]
async fn choose_next(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(chosen): Body<NextChosen>,
) -> Result<StatusCode, Problem> {
    let choice = NextChoice {
        item: text_within("item", &chosen.item, 300)?,
        pinned: chosen.pinned,
        reason: match chosen.pinned {
            true => String::new(),
            false => text_within("reason", &chosen.reason, 300)?,
        },
    };
    let (store, school) = (coach.store(), coach.school());
    store
        .choose_next(school, coach.id(), player, choice)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes back what was done with a proposal.
#[utoipa::path(delete, path = "/players/{player}/next", params(("player" = Uuid, Path), Unchosen), responses((status = NO_CONTENT), Problem))]
async fn unchoose_next(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(unchosen): Query<Unchosen>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    store.unchoose_next(school, player, &unchosen.item).await?;
    Ok(StatusCode::NO_CONTENT)
}
