//! Sessions: begun, shown, given blocks, ended.

use crate::app::App;
use crate::coach::Coach;
use crate::extract::{Body, Path};
use crate::problem::Problem;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::air::Conditions;
use tally_core::club::Club;
use tally_core::invalid::{Invalid, text_within};
use tally_core::purpose::Purpose;
use tally_core::units::Dimension;
use tally_store::sessions::{Block, Session};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A session in a list.
#[derive(Serialize, ToSchema)]
pub struct ListedSession {
    id: Uuid,
    purpose: String,
    club: String,
    place: String,
    started_at: DateTime<Utc>,
    zone: String,
    in_progress: bool,
    shots: i64,
}

impl ListedSession {
    pub fn new(session: Session, shots: i64) -> Self {
        Self {
            purpose: label_of_purpose(&session.purpose),
            club: label_of_club(&session.club),
            place: session.place,
            started_at: session.started_at,
            zone: session.zone,
            in_progress: session.ended_at.is_none(),
            id: session.id,
            shots,
        }
    }
}

/// A session.
#[derive(Serialize, ToSchema)]
pub struct SessionView {
    pub id: Uuid,
    pub player: Uuid,
    pub player_name: String,
    pub left_handed: bool,
    pub purpose: String,
    pub club: String,
    pub place: String,
    pub conditions: Conditions,
    pub started_at: DateTime<Utc>,
    pub zone: String,
    pub in_progress: bool,
    pub blocks: Vec<BlockView>,
}

/// A block of a session.
#[derive(Serialize, ToSchema)]
pub struct BlockView {
    pub id: Uuid,
    pub label: String,
}

fn label_of_purpose(key: &str) -> String {
    Purpose::from_key("purpose", key).map_or_else(|_| key.to_owned(), |p| p.label().to_owned())
}

fn label_of_club(key: &str) -> String {
    Club::from_key("club", key).map_or_else(|_| key.to_owned(), |c| c.label().to_owned())
}

/// Loads a session as it is shown.
pub async fn view(app: &App, coach: &Coach, id: Uuid) -> Result<(Session, SessionView), Problem> {
    let (session, blocks) = app.store.session(coach.school(), id).await?;
    let player = app.store.player(coach.school(), session.player_id).await?;
    let view = SessionView {
        id: session.id,
        player: player.id,
        player_name: player.name,
        left_handed: player.left_handed,
        purpose: label_of_purpose(&session.purpose),
        club: label_of_club(&session.club),
        place: session.place.clone(),
        conditions: session.conditions(),
        started_at: session.started_at,
        zone: session.zone.clone(),
        in_progress: session.ended_at.is_none(),
        blocks: blocks
            .into_iter()
            .map(|b| BlockView {
                id: b.id,
                label: b.label,
            })
            .collect(),
    };
    Ok((session, view))
}

/// A number in a unit of the sender's choice.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Given {
    /// Absent when what was typed is not a number.
    value: Option<f64>,
    unit: String,
}

/// A session to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewSession {
    /// Made by the sender.
    id: Uuid,
    player: Uuid,
    /// Key of a purpose.
    purpose: String,
    /// Key of a club.
    club: String,
    place: String,
    /// Height above the sea, in `m`, `ft` or `yd`.
    altitude: Given,
    /// Temperature, in `c` or `f`.
    temperature: Given,
    /// Relative humidity, %; 50 when it is not given.
    humidity_pct: Option<f64>,
    /// Name of the time zone.
    zone: String,
    /// Identifier of its first block, made by the sender.
    first_block: Uuid,
    /// What the first block is called.
    first_block_label: String,
}

/// A block to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewBlock {
    /// Made by the sender.
    id: Uuid,
    label: String,
}

/// Whether a session goes on.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Progress {
    in_progress: bool,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(begin_session))
        .routes(routes!(session))
        .routes(routes!(begin_block))
        .routes(routes!(set_progress))
}

/// Begins a session.
#[utoipa::path(post, path = "/sessions", request_body = NewSession, responses((status = CREATED), Problem))]
async fn begin_session(
    coach: Coach,
    State(app): State<App>,
    Body(new): Body<NewSession>,
) -> Result<StatusCode, Problem> {
    let (session, block) = new.check(Utc::now())?;
    app.store
        .add_session(coach.school(), &session, &block)
        .await?;
    Ok(StatusCode::CREATED)
}

/// One session.
#[utoipa::path(get, path = "/sessions/{session}", params(("session" = Uuid, Path)), responses((status = OK, body = SessionView), Problem))]
async fn session(
    coach: Coach,
    Path(id): Path<Uuid>,
    State(app): State<App>,
) -> Result<Json<SessionView>, Problem> {
    let (_, view) = view(&app, &coach, id).await?;
    Ok(Json(view))
}

/// Begins the next block of a session; new shots go to it.
#[utoipa::path(post, path = "/sessions/{session}/blocks", params(("session" = Uuid, Path)), request_body = NewBlock, responses((status = CREATED), Problem))]
async fn begin_block(
    coach: Coach,
    Path(id): Path<Uuid>,
    State(app): State<App>,
    Body(new): Body<NewBlock>,
) -> Result<StatusCode, Problem> {
    let label = text_within("label", &new.label, 100)?;
    app.store
        .add_block(coach.school(), id, new.id, &label)
        .await?;
    Ok(StatusCode::CREATED)
}

/// Ends a session, or takes it up again.
#[utoipa::path(put, path = "/sessions/{session}/progress", params(("session" = Uuid, Path)), request_body = Progress, responses((status = NO_CONTENT), Problem))]
async fn set_progress(
    coach: Coach,
    Path(id): Path<Uuid>,
    State(app): State<App>,
    Body(progress): Body<Progress>,
) -> Result<StatusCode, Problem> {
    let ended_at = (!progress.in_progress).then(Utc::now);
    app.store.end_session(coach.school(), id, ended_at).await?;
    Ok(StatusCode::NO_CONTENT)
}

impl NewSession {
    fn check(self, now: DateTime<Utc>) -> Result<(Session, Block), Vec<Invalid>> {
        let mut errors = Vec::new();
        let altitude_m = self
            .altitude
            .metres()
            .map_err(|e| errors.push(e))
            .unwrap_or_default();
        let temperature_c = self
            .temperature
            .celsius()
            .map_err(|e| errors.push(e))
            .unwrap_or_default();
        let purpose = Purpose::from_key("purpose", &self.purpose).map_err(|e| errors.push(e));
        let club = Club::from_key("club", &self.club).map_err(|e| errors.push(e));
        let place = text_within("place", &self.place, 200).map_err(|e| errors.push(e));
        let zone = text_within("zone", &self.zone, 100).map_err(|e| errors.push(e));
        let label = text_within("first_block_label", &self.first_block_label, 100)
            .map_err(|e| errors.push(e));
        let conditions = Conditions {
            altitude_m,
            temperature_c,
            humidity_pct: self.humidity_pct.unwrap_or(50.0),
            ..Conditions::REFERENCE
        };
        if let Err(error) = conditions.air() {
            errors.push(error);
        }
        let (Ok(purpose), Ok(club), Ok(place), Ok(zone), Ok(label), true) =
            (purpose, club, place, zone, label, errors.is_empty())
        else {
            return Err(errors);
        };
        let session = Session {
            id: self.id,
            player_id: self.player,
            purpose: purpose.key().to_owned(),
            club: club.key().to_owned(),
            place,
            altitude_m,
            temperature_c,
            humidity_pct: conditions.humidity_pct,
            pressure_hpa: None,
            started_at: now,
            zone,
            ended_at: None,
        };
        let block = Block {
            id: self.first_block,
            session_id: self.id,
            position: 0,
            label,
        };
        Ok((session, block))
    }
}

impl Given {
    fn number(&self, field: &str) -> Result<f64, Invalid> {
        self.value
            .ok_or_else(|| Invalid::new(field, "", "is not a number", "give a number such as 12.5"))
    }

    fn metres(&self) -> Result<f64, Invalid> {
        let unit = Dimension::Height.unit_of_suffix("altitude.unit", &self.unit)?;
        Ok(unit.to_internal(self.number("altitude")?))
    }

    fn celsius(&self) -> Result<f64, Invalid> {
        let value = self.number("temperature")?;
        match self.unit.as_str() {
            "c" => Ok(value),
            "f" => Ok((value - 32.0) / 1.8),
            other => Err(Invalid::new(
                "temperature.unit",
                other,
                "is not a unit for this value",
                "use c, f",
            )),
        }
    }
}
