//! What the one who is signed in signs in with: their password and their second factor.

use crate::http::coach::Coach;
use crate::http::extract::{Address, Body};
use crate::http::password::{self, SecondFactor};
use crate::http::problem::Problem;
use crate::routes::school::sign_in::{begin_try, in_turn, note_wrong, step_of};
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use serde::{Deserialize, Serialize};
use tally_core::school::access::{Right, Role, check_password};
use tally_core::vocabulary::invalid::Invalid;
use tally_store::school::accounts::Credential;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// The one who is signed in.
#[derive(Serialize, ToSchema)]
struct Me {
    id: Uuid,
    name: String,
    role: Role,
    /// The name they sign in with.
    sign_in_name: String,
    /// Whether a second factor is asked for.
    second_factor: bool,
    /// Whether they may change or take out what the school keeps.
    may_keep: bool,
    /// Whether they answer for the school.
    may_own: bool,
}

/// A password in place of another.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PasswordChange {
    /// The password until now.
    old: String,
    new: String,
}

/// The password, once more.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PasswordAgain {
    password: String,
}

/// A second factor to put into an authenticator.
#[derive(Serialize, ToSchema)]
struct NewSecondFactor {
    /// To be typed.
    secret: String,
    /// To be shown as a picture.
    address: String,
}

/// A code that the authenticator shows.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ShownCode {
    code: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(me))
        .routes(routes!(change_password))
        .routes(routes!(
            begin_second_factor,
            confirm_second_factor,
            end_second_factor
        ))
}

/// The one who is signed in.
#[utoipa::path(get, path = "/me", responses((status = OK, body = Me), Problem))]
async fn me(coach: Coach, State(app): State<App>) -> Result<Json<Me>, Problem> {
    let known = app.store.credential_of(coach.school(), coach.id()).await?;
    Ok(Json(Me {
        id: coach.id(),
        name: coach.name().to_owned(),
        role: coach.role(),
        sign_in_name: known.sign_in_name,
        second_factor: known.totp_secret.is_some(),
        may_keep: coach.role().may(Right::Keep),
        may_own: coach.role().may(Right::Own),
    }))
}

/// Changes the password, and signs out the other browsers.
#[utoipa::path(put, path = "/me/password", request_body = PasswordChange, responses((status = NO_CONTENT), Problem))]
async fn change_password(
    coach: Coach,
    State(app): State<App>,
    Address(from): Address,
    Body(change): Body<PasswordChange>,
) -> Result<StatusCode, Problem> {
    let known = again(&app, &coach, &from, "old", change.old).await?;
    check_password("new", &change.new, &known.sign_in_name)?;
    let hash = in_turn(move || password::hash(&change.new)).await?;
    let stays = coach.web_session();
    if app.store.change_password(&known, &hash, stays).await? {
        return Ok(StatusCode::NO_CONTENT);
    }
    let detail = "your password was changed by somebody else meanwhile; sign in again";
    Err(Problem::new(StatusCode::CONFLICT, "Conflict", detail))
}

/// Begins a second factor: it is asked for once a code of it was given. One that is asked
/// for already is asked for until then.
#[utoipa::path(post, path = "/me/second-factor", request_body = PasswordAgain, responses((status = OK, body = NewSecondFactor), Problem))]
async fn begin_second_factor(
    coach: Coach,
    State(app): State<App>,
    Address(from): Address,
    Body(asked): Body<PasswordAgain>,
) -> Result<Json<NewSecondFactor>, Problem> {
    let known = again(&app, &coach, &from, "password", asked.password).await?;
    let factor = SecondFactor::new(&known.sign_in_name);
    app.store
        .begin_second_factor(coach.school(), coach.id(), factor.secret())
        .await?;
    Ok(Json(NewSecondFactor {
        secret: factor.typed(),
        address: factor.address(),
    }))
}

/// Confirms the second factor with the code that the authenticator shows.
#[utoipa::path(put, path = "/me/second-factor", request_body = ShownCode, responses((status = NO_CONTENT), Problem))]
async fn confirm_second_factor(
    coach: Coach,
    State(app): State<App>,
    Body(shown): Body<ShownCode>,
) -> Result<StatusCode, Problem> {
    let known = app.store.credential_of(coach.school(), coach.id()).await?;
    let none = || {
        let detail = "there is no second factor to confirm; begin one first";
        Problem::new(StatusCode::CONFLICT, "Conflict", detail)
    };
    let secret = known.totp_begun.as_deref().ok_or_else(none)?;
    if let Some(step) = step_of(&known, secret, &shown.code) {
        let confirmed = app
            .store
            .confirm_second_factor(coach.school(), coach.id(), secret, step);
        return if confirmed.await? {
            Ok(StatusCode::NO_CONTENT)
        } else {
            Err(none())
        };
    }
    let remedy = "give the six digits that the authenticator shows now, and see that this device's clock is right";
    Err(Invalid::new("code", shown.code, "does not hold", remedy).into())
}

/// Takes the second factor away.
#[utoipa::path(delete, path = "/me/second-factor", request_body = PasswordAgain, responses((status = NO_CONTENT), Problem))]
async fn end_second_factor(
    coach: Coach,
    State(app): State<App>,
    Address(from): Address,
    Body(asked): Body<PasswordAgain>,
) -> Result<StatusCode, Problem> {
    again(&app, &coach, &from, "password", asked.password).await?;
    app.store
        .end_second_factor(coach.school(), coach.id())
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Asks for the password of one who is signed in, before something that matters.
pub(crate) async fn again(
    app: &App,
    coach: &Coach,
    from: &str,
    field: &str,
    password: String,
) -> Result<Credential, Problem> {
    let known = app.store.credential_of(coach.school(), coach.id()).await?;
    let this_try = begin_try(app, &known.sign_in_name, from).await?;
    let hash = known.password_hash.clone();
    if in_turn(move || password::is(&password, hash.as_deref())).await? {
        app.store.take_back_try(this_try).await?;
        return Ok(known);
    }
    note_wrong(Some(coach.id()), from, "password again");
    let remedy = "type the password that you sign in with";
    Err(Invalid::new(field, "", "is not your password", remedy).into())
}
