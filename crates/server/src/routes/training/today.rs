//! Who trains today.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::routes::training::plan::{Plan, title};
use crate::state::App;
use axum::Json;
use chrono::{DateTime, Duration, NaiveDate, Utc};
use serde::Serialize;
use std::collections::BTreeSet;
use tally_core::session::purpose::Purpose;
use tally_core::training::calendar::{DayFor, PlannedDay, lay_out};
use tally_core::vocabulary::zone::date_in;
use tally_store::Store;
use tally_store::training::programmes::StoredProgramme;
use tally_store::training::runs::Run;
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

/// Players whose levels are told; beyond, the list is looked through for names.
const WITH_LEVELS: usize = 20;

/// Players whose programme has a session today that was not held yet.
#[utoipa::path(get, path = "/training-today", responses((status = OK, body = Vec<TrainsToday>), Problem))]
async fn training_today(coach: Coach) -> Result<Json<Vec<TrainsToday>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let now = Utc::now();
    let laid = store.programmes_about(school, now).await?;
    let of_today = move || laid.iter().filter_map(|stored| due(stored, now)).collect();
    let due: Vec<Due> = compute(school, of_today).await?;
    let programmes: Vec<Uuid> = due.iter().map(|due| due.programme).collect();
    let players: Vec<Uuid> = due.iter().map(|due| due.player).collect();
    let held = store.runs_of_programmes(school, &programmes).await?;
    let checks_in = |due: &&Due| due.day.day_for == DayFor::CheckIn;
    let who: Vec<Uuid> = due.iter().filter(checks_in).map(|due| due.player).collect();
    let check_ins = check_ins_since(store, school, &who, now - LOOKED_BACK).await?;
    let names = store.names_of_players(school, &players).await?;
    let protocols = store.protocols(school).await?;
    let mut told = Vec::new();
    for due in due {
        let of_day = |(run, _): &&(Run, bool)| {
            run.programme_id == Some(due.programme) && run.place == Some(due.day.place as i32)
        };
        let run = held.iter().find(of_day);
        let over = match due.day.day_for {
            DayFor::CheckIn => check_ins.contains(&(due.player, due.day.date)),
            DayFor::Protocol { .. } => run.is_some_and(|(_, in_progress)| !in_progress),
        };
        if over {
            continue;
        }
        let level = match due.day.day_for {
            DayFor::Protocol { protocol } if told.len() < WITH_LEVELS => {
                let plan = Plan::of(store, school, due.player, now).await?;
                plan.level(protocol).map(|level| level.name)
            }
            _ => None,
        };
        told.push(TrainsToday {
            player: due.player,
            player_name: names.get(&due.player).cloned().unwrap_or_default(),
            title: title(&due.day, &protocols),
            level,
            day_for: due.day.day_for,
            place: due.day.place,
            session: run.map(|(run, _)| run.session_id),
        });
    }
    let seen: Vec<Uuid> = told.iter().map(|trains| trains.player).collect();
    coach.has_seen(&seen).await?;
    Ok(Json(told))
}

/// A session that is planned for today.
struct Due {
    player: Uuid,
    programme: Uuid,
    day: PlannedDay,
}

/// What a programme has for the day it is where the player is.
fn due(stored: &StoredProgramme, now: DateTime<Utc>) -> Option<Due> {
    let today = date_in(now, &stored.programme.zone);
    let days = lay_out(&stored.programme, &stored.acts);
    let day = days
        .into_iter()
        .find(|day| day.date == today && day.away.is_none())?;
    Some(Due {
        player: stored.player_id,
        programme: stored.id,
        day,
    })
}

/// A day of any zone, from its first to its last moment.
const LOOKED_BACK: Duration = Duration::hours(40);

/// Those of some players who checked in since a moment, with the day it was.
async fn check_ins_since(
    store: &Store,
    school: Uuid,
    players: &[Uuid],
    since: DateTime<Utc>,
) -> Result<BTreeSet<(Uuid, NaiveDate)>, Problem> {
    let held = store
        .begun_since(school, players, Purpose::Benchmark, since)
        .await?;
    let day = |(player, at, zone): (Uuid, DateTime<Utc>, String)| (player, date_in(at, &zone));
    Ok(held.into_iter().map(day).collect())
}
