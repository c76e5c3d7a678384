//! How far two devices agree on the shots that both reported.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use tally_core::shots::agreement::{Agreement, agree, pairs_of};
use tally_core::shots::reading::Reading;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::Store;
use tally_store::shots::devices::Device;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Latest pairs looked at: by these, limits of agreement are known to a tenth of the spread, and
/// from day to day they differ by more.
const MOST_PAIRS: usize = 300;

/// Two devices.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Two {
    /// The one to compare with.
    first: Uuid,
    /// The one that is judged.
    second: Uuid,
}

/// Where two devices agree and where they do not.
#[derive(Serialize, ToSchema)]
struct AgreementView {
    first_name: String,
    second_name: String,
    /// Shots that both reported.
    pairs: usize,
    /// Each value that at least three of them have from both.
    agreements: Vec<Agreement>,
}

/// Two devices that reported the same shots.
#[derive(Serialize, ToSchema)]
struct DevicePair {
    first: Uuid,
    second: Uuid,
    /// Shots that both reported.
    shots: i64,
}

/// An offset to adopt.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Adoption {
    /// The device to agree with.
    against: Uuid,
    quantity: Quantity,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(agreement))
        .routes(routes!(device_pairs))
        .routes(routes!(adopt_offset))
}

/// The agreement of two devices, offsets included.
#[utoipa::path(get, path = "/agreement", params(Two), responses((status = OK, body = AgreementView), Problem))]
async fn agreement(coach: Coach, Query(two): Query<Two>) -> Result<Json<AgreementView>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let (devices, pairs) = paired(coach.store(), school, [two.first, two.second]).await?;
    let [first_name, second_name] = devices.map(|device| device.name);
    let names = [first_name.clone(), second_name.clone()];
    let (pairs, agreements) = compute(coach.school(), move || {
        let all: Vec<Quantity> = Quantity::all().collect();
        let found = all.into_par_iter();
        let found = found.filter_map(|quantity| agree_on(quantity, &pairs, &names, &rules));
        (pairs.len(), found.collect())
    })
    .await?;
    Ok(Json(AgreementView {
        first_name,
        second_name,
        pairs,
        agreements,
    }))
}

/// Pairs of devices that reported the same shots, the most first.
#[utoipa::path(get, path = "/device-pairs", responses((status = OK, body = Vec<DevicePair>), Problem))]
async fn device_pairs(coach: Coach) -> Result<Json<Vec<DevicePair>>, Problem> {
    let pairs = coach.store().device_pairs(coach.school()).await?;
    let view = pairs.into_iter().map(|pair| DevicePair {
        first: pair.first,
        second: pair.second,
        shots: pair.shots,
    });
    Ok(Json(view.collect()))
}

/// Gives a device the offset that takes its bias against another away.
#[utoipa::path(post, path = "/devices/{device}/adopted-offsets", params(("device" = Uuid, Path)), request_body = Adoption, responses((status = NO_CONTENT), Problem))]
async fn adopt_offset(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(adoption): Body<Adoption>,
) -> Result<StatusCode, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let ([against, mut device], pairs) =
        paired(coach.store(), school, [adoption.against, id]).await?;
    let names = [against.name, device.name.clone()];
    let Some(found) = agree_on(adoption.quantity, &pairs, &names, &rules) else {
        let detail = format!(
            "fewer than three shots have {} from both devices; hit some with both, then compare again",
            adoption.quantity.label().to_lowercase()
        );
        return Err(Problem::new(StatusCode::CONFLICT, "Too few pairs", detail));
    };
    if !found.known_well {
        let what = adoption.quantity.label().to_lowercase();
        let detail = if found.sessions < 2 {
            format!(
                "how far {what} lies off was seen in one session only; hit some shots with both devices on another day, then compare again"
            )
        } else {
            format!(
                "how far {what} lies off is not known well enough to take it out: its interval is wider than what makes no difference in the house, or it grows with the value; hit more shots with both devices on other days, then compare again"
            )
        };
        return Err(Problem::new(
            StatusCode::CONFLICT,
            "Not known well enough",
            detail,
        ));
    }
    let offset = device.offsets.entry(adoption.quantity).or_default();
    *offset = found.offset_without_bias(*offset);
    coach
        .store()
        .save_device(school, id, &device.name, &device.offsets, device.session_id)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Two devices, and what both told of the same shots, with the number of the session each was in.
async fn paired(
    store: &Store,
    school: Uuid,
    [first, second]: [Uuid; 2],
) -> Result<([Device; 2], Vec<(usize, [Reading; 2])>), Problem> {
    let devices = [
        store.device(school, first).await?,
        store.device(school, second).await?,
    ];
    let told = store
        .paired_readings(school, [first, second], MOST_PAIRS)
        .await?;
    let mut sessions: Vec<Uuid> = told.iter().map(|(session, _)| *session).collect();
    sessions.sort_unstable();
    sessions.dedup();
    let place = |session: Uuid| sessions.binary_search(&session).unwrap_or_default();
    let pairs = told.into_iter();
    let pairs = pairs.map(|(session, pair)| (place(session), pair));
    Ok((devices, pairs.collect()))
}

fn agree_on(
    quantity: Quantity,
    pairs: &[(usize, [Reading; 2])],
    [first, second]: &[String; 2],
    rules: &HouseRules,
) -> Option<Agreement> {
    let shots = pairs
        .iter()
        .map(|(session, [one, two])| (*session, [one, two]));
    let (both, left_out) = pairs_of(quantity, shots, rules);
    agree(quantity, (&both, left_out), [first, second], rules)
}
