//! Groups of players: a list with a name, shared like the players in it.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use serde::{Deserialize, Serialize};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::text::text_within;
use tally_store::school::groups::Group;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Players of a group, at most.
const MOST: usize = 200;

/// A group.
#[derive(Serialize, ToSchema)]
struct GroupView {
    id: Uuid,
    name: String,
    /// Its players, those whom the coach sees.
    players: Vec<Uuid>,
}

/// A group to make or to change.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewGroup {
    name: String,
    players: Vec<Uuid>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(groups))
        .routes(routes!(save_group, drop_group))
}

/// The school's groups by name.
#[utoipa::path(get, path = "/groups", responses((status = OK, body = Vec<GroupView>), Problem))]
async fn groups(coach: Coach) -> Result<Json<Vec<GroupView>>, Problem> {
    let groups = coach.store().groups(coach.school()).await?;
    let each = groups.into_iter().map(|group| GroupView {
        id: group.id,
        name: group.name,
        players: group.players,
    });
    Ok(Json(each.collect()))
}

/// Makes a group, or changes its name and players.
#[utoipa::path(put, path = "/groups/{group}", params(("group" = Uuid, Path)), request_body = NewGroup, responses((status = NO_CONTENT), Problem))]
async fn save_group(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(new): Body<NewGroup>,
) -> Result<StatusCode, Problem> {
    let name = text_within("name", &new.name, 100)?;
    let mut players = new.players;
    players.sort();
    players.dedup();
    if players.is_empty() || players.len() > MOST {
        let remedy = format!("choose 1 to {MOST} players");
        return Err(Invalid::new("players", players.len(), "is no group", remedy).into());
    }
    let group = Group { id, name, players };
    coach.store().save_group(coach.school(), &group).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes out of a group those whom the coach sees, and drops it when that is everybody; the
/// players stay.
#[utoipa::path(delete, path = "/groups/{group}", params(("group" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn drop_group(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().drop_group(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}
