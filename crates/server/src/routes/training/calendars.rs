//! A programme in the player's own calendar: as a file, and at a private address.

use crate::http::coach::Coach;
use crate::http::download::download;
use crate::http::extract::Path;
use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::routes::training::plan::{Plan, TrainingDayView};
use crate::state::App;
use axum::Json;
use axum::body::Body;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use chrono::Utc;
use serde::Serialize;
use tally_core::school::audited::Audited;
use tally_core::training::calendar::DayState;
use tally_core::vocabulary::zone::zone;
use tally_formats::icalendar::{CalendarDay, calendar};
use tally_store::{Store, StoreError};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// What a calendar is sent as.
const KIND: &str = "text/calendar; charset=utf-8";

/// The secret of a calendar's address, told once.
#[derive(Serialize, ToSchema)]
struct CalendarSecret {
    /// Where it is read, below the address of this server.
    path: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(programme_file))
        .routes(routes!(share_calendar, revoke_calendar))
        .routes(routes!(read_calendar))
}

/// A player's programme as an iCalendar file.
#[utoipa::path(get, path = "/players/{player}/programme.ics", params(("player" = Uuid, Path)), responses((status = OK, body = String, content_type = "text/calendar"), Problem))]
async fn programme_file(coach: Coach, Path(player): Path<Uuid>) -> Result<Response, Problem> {
    let text = written(coach.store(), coach.school(), player).await?;
    Ok(download(Body::from(text), KIND, "programme.ics").into_response())
}

/// Makes a private address at which a calendar program reads the programme; one made before
/// opens no more.
#[utoipa::path(post, path = "/players/{player}/calendar", params(("player" = Uuid, Path)), responses((status = CREATED, body = CalendarSecret), Problem))]
async fn share_calendar(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<(StatusCode, Json<CalendarSecret>), Problem> {
    let (store, school) = (coach.store(), coach.school());
    let token = Token::random("calendar");
    store
        .add_feed(school, coach.id(), player, Uuid::now_v7(), &token.digest())
        .await?;
    let about = "the programme, to a calendar";
    store
        .note(school, coach.id(), Audited::Sharing, Some(player), about)
        .await?;
    let path = format!("/api/v1/calendars/{}.ics", token.into_text());
    Ok((StatusCode::CREATED, Json(CalendarSecret { path })))
}

/// Lets the programme be read at no address any more.
#[utoipa::path(delete, path = "/players/{player}/calendar", params(("player" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn revoke_calendar(coach: Coach, Path(player): Path<Uuid>) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    store.revoke_feeds(school, player).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The programme that an address opens, for a calendar program, which can sign in nowhere. The
/// secret stands in the address, and in no log.
#[utoipa::path(get, path = "/calendars/{token}", params(("token" = String, Path)), responses((status = OK, body = String, content_type = "text/calendar"), Problem))]
async fn read_calendar(
    State(app): State<App>,
    Path(token): Path<String>,
) -> Result<Response, Problem> {
    let token = Token::sent(token.strip_suffix(".ics").unwrap_or(&token));
    let opened = app.store.feed_of_token(&token.digest()).await;
    let (school, player) = opened.map_err(|error| match error {
        StoreError::NotFound(_) => Problem::new(
            StatusCode::NOT_FOUND,
            "Not found",
            "this calendar opens nothing, or no longer; ask your coach for another address",
        ),
        other => other.into(),
    })?;
    let text = written(&app.store.for_school(school), school, player).await?;
    Ok(download(Body::from(text), KIND, "programme.ics").into_response())
}

async fn written(store: &Store, school: Uuid, player: Uuid) -> Result<String, Problem> {
    let now = Utc::now();
    let plan = Plan::of(store, school, player, now).await?;
    let Some(stored) = &plan.programme else {
        // A calendar without a programme is empty, and its program goes on asking.
        return Ok(calendar("Training", &[], now));
    };
    let programme = &stored.programme;
    let at = programme.at.zip(zone("zone", &programme.zone).ok());
    let event = |view: &TrainingDayView| CalendarDay {
        uid: format!("{}-{}@amber-tally", stored.id, view.day.place),
        date: view.day.date,
        at,
        title: view.title.clone(),
        about: match view.state {
            DayState::Done => "Done.".to_owned(),
            DayState::Away => "No training on this day.".to_owned(),
            _ => String::from("Warm up first. Stop when anything hurts."),
        },
        cancelled: view.state == DayState::Away,
    };
    let days: Vec<CalendarDay> = plan.days.iter().map(event).collect();
    // The player's name is theirs to tell: the calendar goes by the programme's.
    Ok(calendar(&programme.name, &days, now))
}
