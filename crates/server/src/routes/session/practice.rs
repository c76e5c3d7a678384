//! Practice devices of a session.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::intake::practice::{Wanted, begin};
use crate::state::App;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Deserialize;
use std::time::Duration;
use tally_core::session::acts::{SessionAct, progress};
use tally_core::shots::device::DeviceKind;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::keyed::Keyed;
use tally_sim::monitor::Monitor;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Seconds from swing to swing when it is not said.
const PACE_S: f64 = 5.0;

/// A practice to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPractice {
    /// Made by the sender.
    id: Uuid,
    /// One device, or several on the same swings.
    devices: Vec<DeviceKind>,
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
    let mut devices: Vec<Monitor> = Vec::new();
    for kind in new.devices {
        let refused = || Invalid::new("devices", kind.key(), "cannot be played", "name a device");
        let device = Monitor::of_kind(kind).ok_or_else(refused)?;
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
