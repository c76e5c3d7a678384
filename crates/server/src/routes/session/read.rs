//! The Read station of a session.

use crate::guard::compute::compute;
use crate::http::by_size::by_size;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::routes::session::sessions::{SessionView, view_hit};
use crate::routes::shots::balls::session_balls;
use crate::routes::shots::marks::MarkView;
use crate::state::App;
use axum::Json;
use axum::response::Response;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::session::read::{self, Over, Question, Report, count_over};
use tally_core::shots::ball::opening_club;
use tally_core::shots::reading::Reading;
use tally_core::shots::standing;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment::moment;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::first_name;
use tally_store::shots::session_shots::Shot;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// How a session is read.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Asked {
    /// Key of the club to read, when several were hit; the session's own when absent.
    club: Option<String>,
    /// Reads with the house rules as they stood then; today's when absent.
    rules_at: Option<DateTime<Utc>>,
}

/// A session with its shots and what they say.
#[derive(Serialize, ToSchema)]
struct SessionRead {
    session: SessionView,
    /// The clubs that were hit, in the order of the bag, with how often.
    clubs: Vec<ClubHit>,
    /// The one that is read.
    club: Club,
    /// In hitting order; `report.shots` stands in the same order.
    shots: Vec<ShotView>,
    report: Report,
}

/// A club of a session.
#[derive(Serialize, ToSchema)]
struct ClubHit {
    club: Club,
    shots: usize,
}

/// What one device reported of a shot.
#[derive(Serialize, ToSchema)]
struct SourceView {
    /// Identifier of the reading.
    id: Uuid,
    device_name: String,
    /// Left out where the shot's own values say all of it: one device's, that nobody changed.
    #[serde(skip_serializing_if = "Option::is_none")]
    reading: Option<Reading>,
}

/// A value that a person typed for a shot.
#[derive(Serialize, ToSchema)]
struct EntryView {
    entered_at: DateTime<Utc>,
    quantity: Quantity,
    /// The value, internal units; absent: the one before was taken back.
    si: Option<f64>,
}

/// A shot as stored.
#[derive(Serialize, ToSchema)]
struct ShotView {
    id: Uuid,
    /// From 1, in hitting order.
    number: usize,
    block: Uuid,
    hit_at: DateTime<Utc>,
    /// What each device reported of it, as it came.
    sources: Vec<SourceView>,
    /// What was typed for it, in order; the old values stay.
    entries: Vec<EntryView>,
    /// Its values, from all of these.
    reading: Reading,
    /// Latest strike marked on the face, as on a number pad.
    strike: Option<i16>,
    /// What the coach did with it, in order.
    marks: Vec<MarkView>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(read_session))
        .routes(routes!(over))
}

/// A value that balls are counted over.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct OverAsked {
    /// Key of the club; the one most hit when absent.
    club: Option<String>,
    /// What is counted by.
    quantity: Quantity,
    /// The value to reach; absent when what was typed is not a number.
    value: Option<f64>,
    /// Its unit.
    unit: String,
}

/// How many kept balls of a session were at or over a value.
#[utoipa::path(get, path = "/sessions/{session}/over", params(("session" = Uuid, Path), OverAsked), responses((status = OK, body = Over), Problem))]
async fn over(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(asked): Query<OverAsked>,
) -> Result<Json<Over>, Problem> {
    let school = coach.school();
    let dimension = asked.quantity.dimension();
    let unit = dimension.unit_of_suffix("unit", &asked.unit)?;
    let given = Given {
        value: asked.value,
        unit: asked.unit,
    };
    let value = asked.quantity.accept(given.number("value")?, unit)?;
    let rules = coach.store().house_rules(school).await?;
    let hit = coach.store().hit_session(school, id).await?;
    let session = hit.session.clone();
    let balls = session_balls(coach.school(), hit, &rules).await?;
    let clubs: Vec<Club> = balls.iter().map(|stored| stored.ball.club).collect();
    let club = asked_club(asked.club, session.club, &clubs)?;
    let counted: Vec<Option<f64>> = balls
        .iter()
        .map(|stored| &stored.ball)
        .filter(|ball| ball.kept() && ball.club == club)
        .map(|ball| ball.counted(asked.quantity, &rules))
        .collect();
    Ok(Json(count_over(&counted, value, asked.quantity)))
}

/// Reads a session.
#[utoipa::path(get, path = "/sessions/{session}/read", params(("session" = Uuid, Path), Asked), responses((status = OK, body = SessionRead), Problem))]
async fn read_session(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(how): Query<Asked>,
) -> Result<Response, Problem> {
    by_size(coach, id, move |coach| async move {
        read_now(&coach, id, how).await
    })
    .await
}

async fn read_now(coach: &Coach, id: Uuid, how: Asked) -> Result<SessionRead, Problem> {
    let school = coach.school();
    let (viewed, hit) = view_hit(coach, id).await?;
    let rules = match how.rules_at {
        Some(then) => {
            let then = moment("rules_at", then)?;
            coach.store().house_rules_at(school, then).await?
        }
        None => coach.store().house_rules(school).await?,
    };
    let mut hit = hit;
    hit.leave_out_swings();
    let clubs = hit.clubs();
    let club = asked_club(how.club, hit.session.club, &clubs)?;
    let conditions = hit.session.conditions();
    let numbered: Vec<(Shot, usize)> = hit
        .shots
        .into_iter()
        .zip(1..)
        .zip(&clubs)
        .filter(|(_, of)| **of == club)
        .map(|(numbered, _)| numbered)
        .collect();
    let asked: Vec<standing::Shot> = numbered.iter().map(|(shot, _)| shot.in_play()).collect();
    let player = viewed.player.name;
    let report = compute(coach.school(), move || {
        read::read(&Question {
            player: first_name(&player),
            club,
            conditions,
            rules,
            shots: &asked,
        })
    })
    .await?;
    Ok(SessionRead {
        session: viewed.view,
        clubs: clubs_hit(&clubs),
        club,
        shots: numbered.into_iter().map(ShotView::from).collect(),
        report,
    })
}

/// The club that is read: the one asked for, or the one the session opens with.
///
/// # Errors
/// A key that names no club.
pub fn asked_club(key: Option<String>, own: Club, hit: &[Club]) -> Result<Club, Problem> {
    Ok(match key {
        Some(key) => Club::from_key("club", &key)?,
        None => opening_club(own, hit),
    })
}

/// The clubs that shots were hit with, in the order of the bag.
fn clubs_hit(clubs: &[Club]) -> Vec<ClubHit> {
    Club::all()
        .map(|club| ClubHit {
            club,
            shots: clubs.iter().filter(|of| **of == club).count(),
        })
        .filter(|hit| hit.shots > 0)
        .collect()
}

impl From<(Shot, usize)> for ShotView {
    fn from((shot, number): (Shot, usize)) -> Self {
        let strike = shot.marked().cell;
        let one = shot.sources.len() == 1;
        let said = |reading: &Reading| one && shot.reading.holds(reading);
        Self {
            id: shot.id,
            number,
            block: shot.block_id,
            hit_at: shot.hit_at,
            sources: shot
                .sources
                .into_iter()
                .map(|source| SourceView {
                    id: source.id,
                    device_name: source.device.to_string(),
                    reading: (!said(&source.reading)).then_some(source.reading),
                })
                .collect(),
            entries: shot
                .entries
                .into_iter()
                .map(|entry| EntryView {
                    entered_at: entry.entered_at,
                    quantity: entry.quantity,
                    si: entry.si,
                })
                .collect(),
            reading: shot.reading,
            strike,
            marks: shot.marks.into_iter().map(MarkView::from).collect(),
        }
    }
}
