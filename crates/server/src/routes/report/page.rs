//! Pages that players take home: written, read, taken away.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::routes::report::page_draft::{About, draft_of, is_child};
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::report::page::{CalledBy, ChosenLine, Page, PageMade, ShownPage};
use tally_store::report::pages::KeptPage;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// What is to stand on a page.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PageWritten {
    /// What it is about, for whom.
    about: About,
    /// What stands above it.
    title: String,
    /// How it calls the player.
    called_by: CalledBy,
    /// Its lines.
    lines: Vec<ChosenLine>,
}

/// A page.
#[derive(Serialize, ToSchema)]
struct PageView {
    id: Uuid,
    player: Uuid,
    /// The session that it is about; none for a period.
    session: Option<Uuid>,
    written_at: DateTime<Utc>,
    /// As it is kept: what was computed beside what is said.
    page: Page,
    /// As it is read.
    shown: ShownPage,
}

/// A page in a list.
#[derive(Serialize, ToSchema)]
struct ListedPage {
    id: Uuid,
    session: Option<Uuid>,
    written_at: DateTime<Utc>,
    title: String,
    /// The first day and the last that it is about.
    #[schema(value_type = Vec<NaiveDate>)]
    days: [NaiveDate; 2],
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(pages))
        .routes(routes!(write_page))
        .routes(routes!(page, drop_page))
}

/// The pages of a player, latest first.
#[utoipa::path(get, path = "/players/{player}/pages", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<ListedPage>), Problem))]
async fn pages(coach: Coach, Path(player): Path<Uuid>) -> Result<Json<Vec<ListedPage>>, Problem> {
    let pages = coach.store().pages(coach.school(), player).await?;
    let listed = pages.into_iter().map(|kept| ListedPage {
        id: kept.id,
        session: kept.session,
        written_at: kept.written_at,
        title: kept.page.title,
        days: kept.page.days,
    });
    Ok(Json(listed.collect()))
}

/// Writes a page, in place of what stood on it. What is computed is computed anew.
#[utoipa::path(put, path = "/players/{player}/pages/{page}", params(("player" = Uuid, Path), ("page" = Uuid, Path)), request_body = PageWritten, responses((status = OK, body = PageView), Problem))]
async fn write_page(
    coach: Coach,
    Path((player, id)): Path<(Uuid, Uuid)>,
    Body(written): Body<PageWritten>,
) -> Result<Json<PageView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let player = store.player(school, player).await?;
    let draft = draft_of(&coach, &player, written.about).await?;
    let page = Page::taken(PageMade {
        title: &written.title,
        called: written.called_by.of(&player.name, is_child(&player)),
        reader: written.about.reader,
        units: written.about.units,
        days: draft.days,
        draft: draft.lines,
        chosen: &written.lines,
    })?;
    let of = (player.id, written.about.session);
    store
        .write_page(school, coach.id(), of, (id, &page))
        .await?;
    Ok(Json(view(store.page(school, id).await?)))
}

/// One page.
#[utoipa::path(get, path = "/pages/{page}", params(("page" = Uuid, Path)), responses((status = OK, body = PageView), Problem))]
async fn page(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<PageView>, Problem> {
    let kept = coach.store().page(coach.school(), id).await?;
    coach.has_seen(&[kept.player]).await?;
    Ok(Json(view(kept)))
}

/// Takes a page away; what opens it opens it no more.
#[utoipa::path(delete, path = "/pages/{page}", params(("page" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn drop_page(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().drop_page(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}

fn view(kept: KeptPage) -> PageView {
    PageView {
        id: kept.id,
        player: kept.player,
        session: kept.session,
        written_at: kept.written_at,
        shown: kept.page.shown(),
        page: kept.page,
    }
}
