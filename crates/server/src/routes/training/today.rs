//! Who trains today.

use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::routes::training::plan::{DayState, Plan};
use crate::state::App;
use axum::Json;
use chrono::Utc;
use serde::Serialize;
use tally_core::training::calendar::{DayFor, lay_out};
use tally_core::vocabulary::zone::date_in;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A player who trains today.
#[derive(Serialize, ToSchema)]
struct TrainsToday {
    player: Uuid,
    player_name: String,
    /// What the session is called.
    title: String,
    /// Its level.
    level: Option<String>,
    day_for: DayFor,
    /// Place of it in the programme.
    place: usize,
    /// The session, where it goes on already.
    session: Option<Uuid>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(training_today))
}

/// Players whose programme has a session today that was not held yet.
#[utoipa::path(get, path = "/training-today", responses((status = OK, body = Vec<TrainsToday>), Problem))]
async fn training_today(coach: Coach) -> Result<Json<Vec<TrainsToday>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let now = Utc::now();
    let mut due = Vec::new();
    for stored in store.programmes(school, None).await? {
        let programme = &stored.programme;
        let today = date_in(now, &programme.zone);
        if !(programme.begins..=programme.ends()).contains(&today) {
            continue;
        }
        let days = lay_out(programme, &stored.acts);
        if days
            .iter()
            .any(|day| day.date == today && day.away.is_none())
        {
            due.push(stored.player_id);
        }
    }
    let names = store.names_of_players(school, &due).await?;
    let mut told = Vec::new();
    for player in due {
        let plan = Plan::of(store, school, player, now).await?;
        let here = [DayState::Today, DayState::UnderWay];
        let Some(view) = plan.days.iter().find(|day| here.contains(&day.state)) else {
            continue;
        };
        let level = match view.day.day_for {
            DayFor::Protocol { protocol } => plan.level(protocol).map(|level| level.name),
            DayFor::CheckIn => None,
        };
        told.push(TrainsToday {
            player,
            player_name: names.get(&player).cloned().unwrap_or_default(),
            title: view.title.clone(),
            level,
            day_for: view.day.day_for,
            place: view.day.place,
            session: view.session,
        });
    }
    coach
        .has_seen(&told.iter().map(|t| t.player).collect::<Vec<_>>())
        .await?;
    Ok(Json(told))
}
