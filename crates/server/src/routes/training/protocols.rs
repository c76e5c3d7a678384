//! Protocols: ours, as the school changed them, and its own.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use serde::Serialize;
use tally_core::training::protocol::{Protocol, kneeling_caution};
use tally_store::training::protocols::StoredProtocol;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A protocol.
#[derive(Serialize, ToSchema)]
struct ProtocolView {
    id: Uuid,
    protocol: Protocol,
    /// Whether it comes with the house.
    of_house: bool,
    /// Whether the school made or changed it.
    own: bool,
    /// Of each level: full-effort swings, and all.
    volumes: Vec<[u32; 2]>,
    /// Implements that it names and the school does not have.
    missing: Vec<String>,
    /// What stands beside it when it asks players to kneel.
    kneeling: Option<&'static str>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(protocols))
        .routes(routes!(save_protocol, drop_protocol))
}

/// The protocols that sessions can be held by.
#[utoipa::path(get, path = "/protocols", responses((status = OK, body = Vec<ProtocolView>), Problem))]
async fn protocols(coach: Coach) -> Result<Json<Vec<ProtocolView>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let there = store.implements(school, None).await?;
    let known = |name: &&str| !there.iter().any(|one| one.implement.name == *name);
    let all = store.protocols(school).await?;
    let each = |stored: StoredProtocol| {
        let levels = &stored.protocol.levels;
        let blocks: Vec<_> = levels
            .iter()
            .flat_map(|l| l.sets.iter().map(|s| s.block()))
            .collect();
        ProtocolView {
            id: stored.id,
            of_house: stored.of_house,
            own: stored.own,
            volumes: levels.iter().map(|level| level.volume()).collect(),
            missing: stored
                .protocol
                .implements()
                .into_iter()
                .filter(known)
                .map(str::to_owned)
                .collect(),
            kneeling: kneeling_caution(&blocks),
            protocol: stored.protocol,
        }
    };
    let offered = all.into_iter().filter(|stored| !stored.dropped);
    Ok(Json(offered.map(each).collect()))
}

/// Keeps a protocol; under the identifier of one of ours, the school's change of it.
#[utoipa::path(put, path = "/protocols/{protocol}", params(("protocol" = Uuid, Path)), request_body = Protocol, responses((status = NO_CONTENT), Problem))]
async fn save_protocol(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(protocol): Body<Protocol>,
) -> Result<StatusCode, Problem> {
    protocol.check()?;
    coach
        .store()
        .save_protocol(coach.school(), id, &protocol)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Drops a protocol of the school, or takes ours again as it comes with the house.
#[utoipa::path(delete, path = "/protocols/{protocol}", params(("protocol" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn drop_protocol(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().drop_protocol(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}
