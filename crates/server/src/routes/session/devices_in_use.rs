//! Devices that a session would take out of another.

use crate::http::problem::Problem;
use axum::http::StatusCode;
use chrono::{Duration, Utc};
use tally_core::vocabulary::invalid::Invalid;
use tally_store::Store;
use uuid::Uuid;

/// Within how many minutes of its last ball a device is taken to be used.
const USED_WITHIN_MIN: i64 = 30;

/// Refuses to take a device out of a session in which it is used, unless that is wanted:
/// a colleague's balls would end up in this one. `all` sees the whole school.
pub(crate) async fn refuse_if_used(
    all: &Store,
    school: Uuid,
    session: Uuid,
    devices: &[Uuid],
    take_over: &[Uuid],
) -> Result<(), Problem> {
    let since = Utc::now() - Duration::minutes(USED_WITHIN_MIN);
    let mut used = Vec::new();
    for id in devices {
        if take_over.contains(id) {
            continue;
        }
        let device = all.device(school, *id).await?;
        let elsewhere = device.session_id.filter(|other| *other != session);
        if let Some(other) = elsewhere
            && all.is_used(school, other, since).await?
        {
            used.push(Invalid::new(
                "device",
                device.name,
                "is used in another session just now",
                "take it over, or choose another device",
            ));
        }
    }
    if used.is_empty() {
        return Ok(());
    }
    Err(Problem {
        title: "Device in use".to_owned(),
        status: StatusCode::CONFLICT.as_u16(),
        ..used.into()
    })
}
