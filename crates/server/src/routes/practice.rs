//! Practice devices of a session.

use crate::app::App;
use crate::cli::simulate::Device;
use crate::coach::Coach;
use crate::extract::{Body, Path};
use crate::practice::{Wanted, begin};
use crate::problem::Problem;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Deserialize;
use std::time::Duration;
use tally_core::invalid::{Invalid, within};
use tally_core::progress::{SessionAct, progress};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Seconds from swing to swing when it is not said.
const PACE_S: f64 = 5.0;

/// A device to play.
#[derive(Clone, Copy, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum Played {
    Radar,
    Camera,
    HandRadar,
    ForcePlate,
}

/// A practice to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPractice {
    /// Made by the sender.
    id: Uuid,
    /// One device, or several on the same swings.
    devices: Vec<Played>,
    /// Seconds from swing to swing.
    pace_s: Option<f64>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(begin_practice))
}

/// Begins a practice: simulated devices send shots of a virtual golfer to this session
/// until the act `practice_ends` is recorded. Beginning while one plays changes nothing.
#[utoipa::path(post, path = "/sessions/{session}/practice", params(("session" = Uuid, Path)), request_body = NewPractice, responses((status = CREATED), Problem))]
async fn begin_practice(
    coach: Coach,
    Path(session): Path<Uuid>,
    State(app): State<App>,
    Body(new): Body<NewPractice>,
) -> Result<StatusCode, Problem> {
    let pace_s = within("pace_s", new.pace_s.unwrap_or(PACE_S), 0.05..=120.0, "s")?;
    let mut devices: Vec<Device> = Vec::new();
    for device in new.devices.iter().map(|d| d.device()) {
        if !devices.contains(&device) {
            devices.push(device);
        }
    }
    if devices.is_empty() {
        return Err(Invalid::missing("devices", "name at least one").into());
    }
    let school = coach.school();
    let (stored, _) = coach.store().session(school, session).await?;
    if stored.ended_at.is_some() {
        let detail = "the session has ended; take it up again first";
        return Err(Problem::new(StatusCode::CONFLICT, "Ended", detail));
    }
    let acts = coach.store().session_acts(school, session).await?;
    let acts: Vec<_> = acts.into_iter().map(|(_, act)| act).collect();
    if progress(&acts).practising {
        return Ok(StatusCode::CREATED);
    }
    coach
        .store()
        .record_act(
            school,
            session,
            coach.id(),
            new.id,
            &SessionAct::PracticeBegins,
        )
        .await?;
    begin(Wanted {
        store: app.store.for_school(school),
        intake: app.intake,
        school,
        session,
        coach: coach.id(),
        devices,
        pace: Duration::from_secs_f64(pace_s),
    });
    Ok(StatusCode::CREATED)
}

impl Played {
    fn device(self) -> Device {
        match self {
            Played::Radar => Device::Radar,
            Played::Camera => Device::Camera,
            Played::HandRadar => Device::HandRadar,
            Played::ForcePlate => Device::ForcePlate,
        }
    }
}
