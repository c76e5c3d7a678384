//! The school's devices: named, trusted by a secret of their own, with their offsets.

use crate::guard::doors::Pass;
use crate::http::coach::Coach;
use crate::http::extract::{Address, Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::intake::device_talk::Talk;
use crate::state::App;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use chrono::{DateTime, TimeDelta, Utc};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::reading::Offsets;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::text::text_within;
use tally_store::Store;
use tally_store::shots::devices::Device;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A device not heard for so long is gone, whatever was noted: it beats three times as
/// often.
const SILENCE: TimeDelta = TimeDelta::seconds(60);

/// A device.
#[derive(Serialize, ToSchema)]
pub struct DeviceView {
    id: Uuid,
    /// What the school calls it.
    pub name: String,
    /// `radar`, `camera`, `hand_radar` or `force_plate`.
    kind: DeviceKind,
    /// Added to its values, internal units.
    #[schema(value_type = BTreeMap<String, f64>)]
    offsets: Offsets,
    /// Values it measures, as it last said.
    measures: BTreeSet<Quantity>,
    /// Values it calculates, as it last said.
    calculates: BTreeSet<Quantity>,
    /// The session its shots go to, when one was chosen.
    pub session: Option<Uuid>,
    /// Whether it is there.
    pub connected: bool,
    /// When it last said something.
    pub heard_at: Option<DateTime<Utc>>,
    /// How far its clock is ahead of ours, s, when it told its time; shots are put
    /// right by it.
    clock_ahead_s: Option<f64>,
    /// Whether it is simulated.
    practice: bool,
}

impl DeviceView {
    /// Whether its shots go to this session, as far as one can tell.
    fn serves(&self, session: Uuid) -> bool {
        match self.session {
            Some(chosen) => chosen == session,
            None => self.connected,
        }
    }
}

impl From<Device> for DeviceView {
    fn from(device: Device) -> Self {
        Self {
            connected: device.connected_at.is_some()
                && device.heard_at.is_some_and(|at| Utc::now() - at < SILENCE),
            id: device.id,
            name: device.name,
            kind: device.kind,
            offsets: device.offsets,
            measures: device.measures,
            calculates: device.calculates,
            session: device.session_id,
            heard_at: device.heard_at,
            clock_ahead_s: device.clock_ahead_s,
            practice: device.practice,
        }
    }
}

/// A device to add.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewDevice {
    /// Made by the sender.
    id: Uuid,
    name: String,
    /// `radar`, `camera`, `hand_radar` or `force_plate`.
    kind: String,
}

/// A change of a device.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct DeviceChange {
    name: String,
    /// What is added to its values.
    #[serde(default)]
    offsets: Vec<NewOffset>,
    /// The session its shots go to.
    session: Option<Uuid>,
}

/// An offset.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewOffset {
    quantity: Quantity,
    given: Given,
}

/// A device's secret, shown once.
#[derive(Serialize, ToSchema)]
struct Secret {
    token: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(devices, add_device))
        .routes(routes!(change_device))
        .routes(routes!(renew_token))
        .routes(routes!(device_shots))
}

/// The devices as they are shown.
pub async fn listed(store: &Store, school: Uuid) -> Result<Vec<DeviceView>, Problem> {
    let devices = store.devices(school).await?;
    Ok(devices.into_iter().map(DeviceView::from).collect())
}

/// Those whose shots go to a session, as far as one can tell.
pub async fn serving(
    store: &Store,
    school: Uuid,
    session: Uuid,
) -> Result<Vec<DeviceView>, Problem> {
    let devices = store.devices_for(school, session).await?.into_iter();
    let shown = devices.map(DeviceView::from).filter(|d| d.serves(session));
    Ok(shown.collect())
}

/// The school's devices by name.
#[utoipa::path(get, path = "/devices", responses((status = OK, body = Vec<DeviceView>), Problem))]
async fn devices(coach: Coach) -> Result<Json<Vec<DeviceView>>, Problem> {
    Ok(Json(listed(coach.store(), coach.school()).await?))
}

/// Adds a device. Its secret is told in the answer and never again.
#[utoipa::path(post, path = "/devices", request_body = NewDevice, responses((status = CREATED, body = Secret), Problem))]
async fn add_device(
    coach: Coach,
    Body(new): Body<NewDevice>,
) -> Result<(StatusCode, Json<Secret>), Problem> {
    let name = text_within("name", &new.name, 100)?;
    let kind = DeviceKind::speaking("kind", &new.kind)?;
    let school = coach.school();
    coach
        .store()
        .add_device(school, new.id, &name, kind, None, false)
        .await?;
    // Made after, so that a repeated request gets a secret that holds.
    let token = Token::random("dev");
    coach
        .store()
        .renew_token(school, new.id, &token.digest())
        .await?;
    let secret = Secret {
        token: token.into_text(),
    };
    Ok((StatusCode::CREATED, Json(secret)))
}

/// Changes a device's name, offsets, or the session its shots go to.
#[utoipa::path(put, path = "/devices/{device}", params(("device" = Uuid, Path)), request_body = DeviceChange, responses((status = NO_CONTENT), Problem))]
async fn change_device(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(change): Body<DeviceChange>,
) -> Result<StatusCode, Problem> {
    let (name, offsets) = change.check()?;
    coach
        .store()
        .save_device(coach.school(), id, &name, &offsets, change.session)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Gives a device another secret; the old one is of no use any more.
#[utoipa::path(post, path = "/devices/{device}/token", params(("device" = Uuid, Path)), responses((status = OK, body = Secret), Problem))]
async fn renew_token(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<Secret>, Problem> {
    let token = Token::random("dev");
    coach
        .store()
        .renew_token(coach.school(), id, &token.digest())
        .await?;
    Ok(Json(Secret {
        token: token.into_text(),
    }))
}

impl DeviceChange {
    fn check(&self) -> Result<(String, Offsets), Vec<Invalid>> {
        let mut errors = Vec::new();
        let name = text_within("name", &self.name, 100).map_err(|e| errors.push(e));
        let mut offsets = Offsets::new();
        for NewOffset { quantity, given } in &self.offsets {
            match given.of(quantity.dimension(), quantity.key()) {
                Ok(0.0) => {}
                Ok(si) => {
                    offsets.insert(*quantity, si);
                }
                Err(error) => errors.push(error),
            }
        }
        match name {
            Ok(name) if errors.is_empty() => Ok((name, offsets)),
            _ => Err(errors),
        }
    }
}

/// The device line for devices that can only do HTTP: lines of JSON, a hello first, answered
/// line by line in the same order. Whatever is not acknowledged is sent again.
#[utoipa::path(post, path = "/device-shots", request_body(content = String, content_type = "application/x-ndjson"), responses((status = OK, body = String, content_type = "application/x-ndjson"), Problem))]
async fn device_shots(
    State(app): State<App>,
    pass: Option<Extension<Pass>>,
    Address(from): Address,
    lines: String,
) -> Result<Response, Problem> {
    let Some(Extension(pass)) = pass else {
        return Err(Problem::ours());
    };
    let mut talk = Talk::new(&app.store, &pass, from);
    let mut text = String::new();
    for line in lines.lines() {
        text.extend(
            talk.hear(line.as_bytes())
                .await
                .map(|answer| answer.to_line()),
        );
        if talk.is_over() {
            break;
        }
    }
    let kind = [(header::CONTENT_TYPE, "application/x-ndjson")];
    Ok((kind, text).into_response())
}
