//! What scripts speak with, in the name of the one who made it.

use crate::http::coach::Coach;
use crate::http::extract::{Address, Body};
use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::routes::school::account::again;
use crate::state::App;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::school::access::{LONGEST_SCRIPT_DAYS, Role};
use tally_core::vocabulary::invalid::within;
use tally_core::vocabulary::text::text_within;
use tally_store::school::script_tokens::NewScriptToken;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A token of a script, without its secret.
#[derive(Serialize, ToSchema)]
struct ScriptToken {
    id: Uuid,
    /// What its maker calls it.
    name: String,
    /// The most that it may be; never more than its maker is.
    role: Role,
    /// Whether it may change what is kept.
    changes: bool,
    made_at: DateTime<Utc>,
    /// When it was last used, to the minute.
    used_at: Option<DateTime<Utc>>,
    /// When it ends.
    until: DateTime<Utc>,
}

/// A token to make.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewToken {
    id: Uuid,
    name: String,
    /// The most that it may be.
    role: Role,
    /// Whether it may change what is kept.
    changes: bool,
    /// Days until it ends, 1 to 366.
    days: f64,
    /// The password that one signs in with, once more.
    password: String,
}

/// A token that was made.
#[derive(Serialize, ToSchema)]
struct MadeToken {
    id: Uuid,
    /// Its secret, told once: sent as `Authorization: Bearer …`.
    token: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(script_tokens, make_script_token))
        .routes(routes!(take_back_script_token))
}

/// The tokens of one's scripts that have not ended, latest first.
#[utoipa::path(get, path = "/me/script-tokens", responses((status = OK, body = [ScriptToken]), Problem))]
async fn script_tokens(
    coach: Coach,
    State(app): State<App>,
) -> Result<Json<Vec<ScriptToken>>, Problem> {
    let tokens = app.store.script_tokens(coach.school(), coach.id()).await?;
    let told = tokens.into_iter().map(|token| ScriptToken {
        id: token.id,
        name: token.name,
        role: token.role,
        changes: token.changes,
        made_at: token.made_at,
        used_at: token.used_at,
        until: token.until,
    });
    Ok(Json(told.collect()))
}

/// Makes a token for a script, which speaks in one's name until it ends or is taken back.
#[utoipa::path(post, path = "/me/script-tokens", request_body = NewToken, responses((status = CREATED, body = MadeToken), Problem))]
async fn make_script_token(
    coach: Coach,
    State(app): State<App>,
    Address(from): Address,
    Body(new): Body<NewToken>,
) -> Result<(StatusCode, Json<MadeToken>), Problem> {
    let name = text_within("name", &new.name, 100)?;
    let days = within("days", new.days, 1.0..=LONGEST_SCRIPT_DAYS, "days")?;
    again(&app, &coach, &from, "password", new.password).await?;
    let token = Token::random("script");
    let made = NewScriptToken {
        id: new.id,
        name,
        role: coach.role().at_most(new.role),
        changes: new.changes,
        days,
        sha256: token.digest(),
    };
    app.store
        .make_script_token(coach.school(), coach.id(), &made)
        .await?;
    let told = MadeToken {
        id: new.id,
        token: token.into_text(),
    };
    Ok((StatusCode::CREATED, Json(told)))
}

/// Takes a token back: its script is let in no longer.
#[utoipa::path(delete, path = "/me/script-tokens/{token}", responses((status = NO_CONTENT), Problem))]
async fn take_back_script_token(
    coach: Coach,
    State(app): State<App>,
    Path(token): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    app.store
        .take_back_script_token(coach.school(), coach.id(), token)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
