//! A session's record, put right: its player, purpose, club and day, its blocks, and the
//! session taken out. Each is written down with who did it.

use crate::http::coach::Coach;
use crate::http::consent::with_consent;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::http::StatusCode;
use chrono::{Days, NaiveDate, TimeDelta};
use serde::Deserialize;
use tally_core::physics::club::Club;
use tally_core::school::audited::Audited;
use tally_core::session::purpose::Purpose;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::zone::zone;
use tally_store::session::corrections::SessionFacts;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Days by which a session may be moved.
const MOST_DAYS: i64 = 20 * 366;

/// What is right; what is left out stays.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Corrected {
    /// Whose session it is.
    player: Option<Uuid>,
    /// Key of its purpose.
    purpose: Option<String>,
    /// Key of its club.
    club: Option<String>,
    /// The day it was held, at its place; times of the day stay.
    day: Option<NaiveDate>,
}

/// A block as it was.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CorrectedBlock {
    label: String,
    /// Key of its club; the session's when absent.
    club: Option<String>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(correct_session))
        .routes(routes!(remove_session))
        .routes(routes!(correct_block))
}

/// Puts a session's player, purpose, club or day right.
#[utoipa::path(put, path = "/sessions/{session}/facts", params(("session" = Uuid, Path)), request_body = Corrected, responses((status = NO_CONTENT), Problem))]
async fn correct_session(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(right): Body<Corrected>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let (session, _) = store.session(school, id).await?;
    let mut said = Vec::new();
    let mut errors = Vec::new();
    let purpose = match &right.purpose {
        Some(key) => Purpose::from_key("purpose", key).unwrap_or_else(|why| {
            errors.push(why);
            session.purpose
        }),
        None => session.purpose,
    };
    let club = match &right.club {
        Some(key) => Club::from_key("club", key).unwrap_or_else(|why| {
            errors.push(why);
            session.club
        }),
        None => session.club,
    };
    let zone = zone("zone", &session.zone)?;
    let was = session.started_at.with_timezone(&zone).date_naive();
    let moved = right.day.map_or(TimeDelta::zero(), |day| day - was);
    let tomorrow = chrono::Utc::now().date_naive() + Days::new(1);
    if let Some(day) = right.day
        && (moved.num_days().abs() > MOST_DAYS || day > tomorrow)
    {
        errors.push(Invalid::new(
            "day",
            day,
            "is no day that a session was held on",
            "give a day of the last twenty years",
        ));
    }
    if !errors.is_empty() {
        return Err(errors.into());
    }
    let player = right.player.unwrap_or(session.player_id);
    if player != session.player_id {
        with_consent(store, school, player).await?;
        let names = [
            store.player(school, session.player_id).await?.name,
            store.player(school, player).await?.name,
        ];
        said.push(format!("player: {} → {}", names[0], names[1]));
    }
    if purpose != session.purpose {
        said.push(format!(
            "purpose: {} → {}",
            session.purpose.label(),
            purpose.label()
        ));
    }
    if club != session.club {
        said.push(format!("club: {} → {}", session.club.label(), club.label()));
    }
    if let Some(day) = right.day.filter(|day| *day != was) {
        said.push(format!("day: {was} → {day}"));
    }
    if said.is_empty() {
        return Ok(StatusCode::NO_CONTENT);
    }
    let facts = SessionFacts {
        player,
        purpose,
        club,
        moved,
    };
    store.correct_session(school, id, &facts).await?;
    note(&coach, Audited::Correction, player, &said.join("; ")).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes a session out with its shots. What was decided in it stays with the player.
#[utoipa::path(delete, path = "/sessions/{session}", params(("session" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn remove_session(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let (session, _) = store.session(school, id).await?;
    let shots = store.remove_session(school, id).await?;
    let about = format!(
        "{} of {}, {shots} shots",
        session.purpose.label(),
        session.started_at.format("%Y-%m-%d")
    );
    note(&coach, Audited::Removal, session.player_id, &about).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Puts a block's label and club right.
#[utoipa::path(put, path = "/sessions/{session}/blocks/{block}", params(("session" = Uuid, Path), ("block" = Uuid, Path)), request_body = CorrectedBlock, responses((status = NO_CONTENT), Problem))]
async fn correct_block(
    coach: Coach,
    Path((id, block)): Path<(Uuid, Uuid)>,
    Body(right): Body<CorrectedBlock>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let label = text_within("label", &right.label, 100)?;
    let club = right
        .club
        .map(|key| Club::from_key("club", &key))
        .transpose()?;
    let (session, blocks) = store.session(school, id).await?;
    let was = blocks.iter().find(|b| b.id == block);
    let was = was.map(|b| b.label.clone()).unwrap_or_default();
    store.correct_block(school, id, block, &label, club).await?;
    let about = format!("block: {was} → {label}");
    note(&coach, Audited::Correction, session.player_id, &about).await?;
    Ok(StatusCode::NO_CONTENT)
}

async fn note(coach: &Coach, act: Audited, of: Uuid, about: &str) -> Result<(), Problem> {
    let (store, school) = (coach.store(), coach.school());
    Ok(store.note(school, coach.id(), act, Some(of), about).await?)
}
