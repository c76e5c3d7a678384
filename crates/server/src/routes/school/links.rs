//! Pages that a player reads without signing in: what their coach shares, for a while.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::routes::report::page_draft::is_child;
use crate::routes::session::sessions::ListedSession;
use crate::routes::shots::exports::shots_table;
use crate::routes::trials::decisions::DecisionView;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::Response;
use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};
use tally_core::report::page::{CalledBy, ShownPage};
use tally_core::school::audited::Audited;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::zone::date_in;
use tally_store::StoreError;
use tally_store::school::links::PlayerLink;
use tally_store::session::sessions::SessionFilter;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A link to make.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewLink {
    /// Made by the sender.
    id: Uuid,
    /// Whether it shows what was decided.
    decisions: bool,
    /// Whether it shows which sessions there were.
    sessions: bool,
    /// The page that it opens, with the shots that the page is about.
    page: Option<Uuid>,
    /// For how many days it opens.
    days: f64,
}

/// The secret of a new link, told once.
#[derive(Serialize, ToSchema)]
struct LinkSecret {
    /// What stands behind the `#` of the page's address.
    token: String,
}

/// A link that opens still.
#[derive(Serialize, ToSchema)]
struct LinkView {
    id: Uuid,
    decisions: bool,
    sessions: bool,
    page: Option<Uuid>,
    until: DateTime<Utc>,
}

/// What a player is shown.
#[derive(Serialize, ToSchema)]
struct SharedPage {
    school: String,
    /// How the player is called.
    player: String,
    /// The page that is shared.
    page: Option<ShownPage>,
    /// Until when the page opens.
    until: DateTime<Utc>,
    /// What was decided, when it is shared.
    decisions: Option<Vec<DecisionView>>,
    /// Sessions, latest first, when they are shared.
    sessions: Option<Vec<ListedSession>>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(links, add_link))
        .routes(routes!(revoke_link))
        .routes(routes!(shared))
        .routes(routes!(shared_shots))
}

/// The links to a player's page that open still.
#[utoipa::path(get, path = "/players/{player}/links", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<LinkView>), Problem))]
async fn links(coach: Coach, Path(player): Path<Uuid>) -> Result<Json<Vec<LinkView>>, Problem> {
    let links = coach.store().links(coach.school(), player).await?;
    let shown = links.into_iter().map(|link| LinkView {
        id: link.id,
        decisions: link.decisions,
        sessions: link.sessions,
        page: link.page_id,
        until: link.until,
    });
    Ok(Json(shown.collect()))
}

/// Makes a link that the player opens without signing in.
#[utoipa::path(post, path = "/players/{player}/links", params(("player" = Uuid, Path)), request_body = NewLink, responses((status = CREATED, body = LinkSecret), Problem))]
async fn add_link(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(new): Body<NewLink>,
) -> Result<(StatusCode, Json<LinkSecret>), Problem> {
    let days = within("days", new.days, 1.0..=366.0, "days")?;
    if !new.decisions && !new.sessions && new.page.is_none() {
        return Err(Invalid::missing("decisions", "share decisions, sessions or a page").into());
    }
    let (store, school) = (coach.store(), coach.school());
    if let Some(page) = new.page {
        let of = store.page(school, page).await?.player;
        if of != player {
            let remedy = "make the link on the page of its own player";
            return Err(Invalid::new("page", page, "is of another player", remedy).into());
        }
    }
    let token = Token::random("page");
    let link = PlayerLink {
        id: new.id,
        player_id: player,
        coach_id: coach.id(),
        decisions: new.decisions,
        sessions: new.sessions,
        page_id: new.page,
        until: Utc::now() + Duration::seconds((days * 86_400.0) as i64),
    };
    store.add_link(school, &link, &token.digest()).await?;
    store
        .note(
            school,
            coach.id(),
            Audited::Sharing,
            Some(player),
            "by a link",
        )
        .await?;
    let token = token.into_text();
    Ok((StatusCode::CREATED, Json(LinkSecret { token })))
}

/// Lets a link open no more.
#[utoipa::path(delete, path = "/players/{player}/links/{link}", params(("player" = Uuid, Path), ("link" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn revoke_link(
    coach: Coach,
    Path((player, link)): Path<(Uuid, Uuid)>,
) -> Result<StatusCode, Problem> {
    coach
        .store()
        .revoke_link(coach.school(), player, link)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What a player's coach shares. The link's secret comes as `Authorization: Bearer …`, so
/// that it stands in no log.
#[utoipa::path(get, path = "/shared", responses((status = OK, body = SharedPage), Problem))]
async fn shared(State(app): State<App>, headers: HeaderMap) -> Result<Json<SharedPage>, Problem> {
    let (school, link) = opened(&app, &headers).await?;
    let store = app.store.for_school(school);
    let player = store.player(school, link.player_id).await?;
    let page = match link.page_id {
        Some(page) => Some(store.page(school, page).await?.page),
        None => None,
    };
    let decisions = match link.decisions {
        true => Some(store.decisions(school, player.id).await?),
        false => None,
    };
    let sessions = match link.sessions {
        true => Some(store.player_sessions(school, player.id).await?),
        false => None,
    };
    // What a page calls the player stands on it alone.
    let called = match &page {
        Some(page) => page.called.clone(),
        None => CalledBy::Name.of(&player.name, is_child(&player)),
    };
    Ok(Json(SharedPage {
        school: store.school_name(school).await?,
        player: called,
        page: page.map(|page| page.shown()),
        until: link.until,
        decisions: decisions.map(|all| all.into_iter().map(DecisionView::from).collect()),
        sessions: sessions.map(|all| {
            all.into_iter()
                .map(|(session, shots)| ListedSession::new(session, shots))
                .collect()
        }),
    }))
}

/// The shots that a shared page is about, as CSV. The secret comes as for the page.
#[utoipa::path(get, path = "/shared/shots.csv", responses((status = OK, body = String, content_type = "text/csv"), Problem))]
async fn shared_shots(State(app): State<App>, headers: HeaderMap) -> Result<Response, Problem> {
    let (school, link) = opened(&app, &headers).await?;
    let store = app.store.for_school(school);
    let id = link.page_id.ok_or(StoreError::NotFound("page"))?;
    let kept = store.page(school, id).await?;
    let [first, last] = kept.page.days;
    let filter = SessionFilter {
        session: kept.session,
        player: Some(kept.player),
        ..SessionFilter::default()
    };
    let mut sessions = store.sessions_filtered(school, &filter).await?;
    sessions.retain(|session| (first..=last).contains(&date_in(session.started_at, &session.zone)));
    let names = [(kept.player, kept.page.called.clone())].into();
    shots_table(&store, school, sessions, names, kept.page.units).await
}

/// The link that a secret opens.
async fn opened(app: &App, headers: &HeaderMap) -> Result<(Uuid, PlayerLink), Problem> {
    let told = headers.get(header::AUTHORIZATION);
    let token = told
        .and_then(|value| value.to_str().ok()?.strip_prefix("Bearer "))
        .unwrap_or_default();
    let opened = app.store.link_of_token(&Token::sent(token).digest()).await;
    opened.map_err(|error| match error {
        StoreError::NotFound(_) => Problem::new(
            StatusCode::NOT_FOUND,
            "Not found",
            "this link opens nothing, or no longer; ask your coach for another",
        ),
        other => other.into(),
    })
}
