//! Values typed by hand, and readings put to another shot.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::state::App;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::Deserialize;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment::moment;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::shots::shot_edits::NewEntry;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Values for a shot.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewEntries {
    /// When it was hit, for a shot that is not there yet; now when it is not given.
    hit_at: Option<DateTime<Utc>>,
    values: Vec<Typed>,
}

/// One value.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Typed {
    /// Made by the sender.
    id: Uuid,
    quantity: Quantity,
    /// The value; absent takes back the one typed before.
    given: Option<Given>,
}

/// Where a reading belongs.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Pairing {
    /// The shot; absent: a new one of its own.
    shot: Option<Uuid>,
    /// Identifier of that new one, made by the sender.
    new_shot: Uuid,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(enter_values))
        .routes(routes!(pair_reading))
}

/// Types values for a shot, which is made when it is not there; the old values stay in
/// its record.
#[utoipa::path(put, path = "/sessions/{session}/shots/{shot}/entries", params(("session" = Uuid, Path), ("shot" = Uuid, Path)), request_body = NewEntries, responses((status = NO_CONTENT), Problem))]
async fn enter_values(
    coach: Coach,
    Path((session, shot)): Path<(Uuid, Uuid)>,
    Body(new): Body<NewEntries>,
) -> Result<StatusCode, Problem> {
    let hit_at = moment("hit_at", new.hit_at.unwrap_or_else(Utc::now))?;
    let entries = new.check()?;
    coach
        .store()
        .enter_values(coach.school(), session, coach.id(), shot, hit_at, &entries)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Puts a device's reading to another shot of the session.
#[utoipa::path(put, path = "/sessions/{session}/readings/{reading}/shot", params(("session" = Uuid, Path), ("reading" = Uuid, Path)), request_body = Pairing, responses((status = NO_CONTENT), Problem))]
async fn pair_reading(
    coach: Coach,
    Path((session, reading)): Path<(Uuid, Uuid)>,
    Body(to): Body<Pairing>,
) -> Result<StatusCode, Problem> {
    coach
        .store()
        .pair_reading(coach.school(), session, reading, to.shot, to.new_shot)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

impl NewEntries {
    fn check(self) -> Result<Vec<NewEntry>, Vec<Invalid>> {
        if self.values.is_empty() {
            return Err(vec![Invalid::missing("values", "give at least one value")]);
        }
        let mut errors = Vec::new();
        let mut entries = Vec::new();
        for typed in self.values {
            match typed.check() {
                Ok(entry) => entries.push(entry),
                Err(error) => errors.push(error),
            }
        }
        if errors.is_empty() {
            Ok(entries)
        } else {
            Err(errors)
        }
    }
}

impl Typed {
    fn check(&self) -> Result<NewEntry, Invalid> {
        let si = match &self.given {
            None => None,
            Some(given) => {
                let key = self.quantity.key();
                let unit = self.quantity.dimension().unit_of_suffix(key, &given.unit)?;
                Some(self.quantity.accept(given.number(key)?, unit)?)
            }
        };
        Ok(NewEntry {
            id: self.id,
            quantity: self.quantity,
            si,
        })
    }
}
