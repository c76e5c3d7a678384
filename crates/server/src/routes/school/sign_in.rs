//! Setting up a school, signing in and out.

use crate::guard::compute::compute_here;
use crate::guard::quiet::cores;
use crate::guard::sampled::Sampled;
use crate::guard::turns::Turns;
use crate::http::coach::{Coach, cookie, known_cookie, known_token_of};
use crate::http::extract::{Address, Body};
use crate::http::password::{self, SecondFactor};
use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::http::tries::try_in_turn;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderName, StatusCode, header};
use axum::response::{AppendHeaders, IntoResponse, Response};
use chrono::Utc;
use serde::{Deserialize, Serialize};
use std::sync::OnceLock;
use tally_core::school::access::{check_password, sign_in_name};
use tally_core::vocabulary::text::text_within;
use tally_sim::scenario;
use tally_store::school::accounts::{Credential, Entry};
use tally_store::school::people::Founder;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Whether there is a school to sign in to.
#[derive(Serialize, ToSchema)]
struct SetUpState {
    /// Whether nobody can sign in yet: the first to come founds the school.
    needed: bool,
    /// What the demo school is signed in to with.
    demo: Option<DemoSignIn>,
}

/// What the demo school is signed in to with.
#[derive(Serialize, ToSchema)]
struct DemoSignIn {
    sign_in_name: &'static str,
    password: &'static str,
}

/// A school to found.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewSchool {
    /// The school's name.
    school: String,
    /// Its owner's name.
    name: String,
    /// The name that the owner signs in with.
    sign_in_name: String,
    password: String,
}

/// What a person signs in with.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SignIn {
    sign_in_name: String,
    password: String,
    /// Code of the second factor, when it is asked for.
    #[serde(default)]
    code: String,
}

/// A password for a one-time code.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPassword {
    sign_in_name: String,
    /// The code that an owner of the school gave.
    code: String,
    password: String,
}

/// An answer that only sets the cookie.
type WithCookie = (StatusCode, [(HeaderName, String); 1]);

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(set_up_state, set_up))
        .routes(routes!(sign_in, sign_out))
        .routes(routes!(sign_out_everywhere))
        .routes(routes!(new_password))
}

/// Whether there is a school to sign in to.
#[utoipa::path(get, path = "/set-up", responses((status = OK, body = SetUpState), Problem))]
async fn set_up_state(State(app): State<App>) -> Result<Json<SetUpState>, Problem> {
    let demo = app.store.has_demo().await?.then_some(DemoSignIn {
        sign_in_name: scenario::SIGN_IN_NAME,
        password: scenario::PASSWORD,
    });
    Ok(Json(SetUpState {
        needed: needs_set_up(&app).await?,
        demo,
    }))
}

/// Whether nobody can sign in yet. Once somebody can, it stays so, and is not looked up.
async fn needs_set_up(app: &App) -> Result<bool, Problem> {
    if app.set_up.get().is_some() {
        return Ok(false);
    }
    let needed = app.store.needs_set_up().await?;
    if !needed {
        app.set_up.get_or_init(|| ());
    }
    Ok(needed)
}

/// Founds the school with its owner, who is signed in by the answer's cookie.
#[utoipa::path(post, path = "/set-up", request_body = NewSchool, responses((status = CREATED), Problem))]
async fn set_up(State(app): State<App>, Body(new): Body<NewSchool>) -> Result<WithCookie, Problem> {
    let checked = (
        text_within("school", &new.school, 200),
        text_within("name", &new.name, 200),
        sign_in_name("sign_in_name", &new.sign_in_name),
        check_password("password", &new.password, &new.sign_in_name),
    );
    let (Ok(school), Ok(name), Ok(signs_as), Ok(())) = &checked else {
        let errors = [
            checked.0.err(),
            checked.1.err(),
            checked.2.err(),
            checked.3.err(),
        ];
        return Err(errors.into_iter().flatten().collect::<Vec<_>>().into());
    };
    // Looked at first: hashing is dear, and anybody may ask.
    if !needs_set_up(&app).await? {
        let detail = "there is a school already; sign in, or ask its owner to add you";
        return Err(Problem::new(StatusCode::CONFLICT, "Conflict", detail));
    }
    let hash = in_turn(move || password::hash(&new.password)).await?;
    let founder = Founder {
        school,
        name,
        sign_in_name: signs_as,
        password_hash: Some(&hash),
    };
    let who = app.store.set_up(founder).await?;
    open(&app, who.school_id, who.coach_id, StatusCode::CREATED).await
}

/// Signs a browser in by the answer's cookie. Status 401 titled “Second factor” asks for
/// the code of an authenticator.
#[utoipa::path(post, path = "/sign-in", request_body = SignIn, responses((status = NO_CONTENT), Problem))]
async fn sign_in(
    State(app): State<App>,
    Address(from): Address,
    headers: HeaderMap,
    Body(asked): Body<SignIn>,
) -> Result<Response, Problem> {
    let name = sign_in_name("sign_in_name", &asked.sign_in_name)?;
    let browser = known_token_of(&headers, app.secure);
    let by_browser = match &browser {
        Some(browser) => by_known_browser(&app, &name, browser).await?,
        None => None,
    };
    let this_try = match by_browser {
        // Their tries are counted by themselves, whoever guesses elsewhere.
        Some(by) => begin_try(&app, &by, &by).await?,
        None => begin_try(&app, &name, &from).await?,
    };
    let known = app.store.credential(&name).await?;
    let person = known.as_ref().map(|known| known.coach_id);
    let hash = known.as_ref().and_then(|k| k.password_hash.clone());
    let right = in_turn(move || password::is(&asked.password, hash.as_deref())).await?;
    let Some(known) = known.filter(|_| right) else {
        note_wrong(person, &from, "password");
        return Err(wrong("the name or the password is not right"));
    };
    let mut step = None;
    if let Some(secret) = &known.totp_secret {
        if asked.code.trim().is_empty() {
            app.store.take_back_try(this_try).await?;
            let detail = "give the code that your authenticator shows now";
            return Err(Problem::new(
                StatusCode::UNAUTHORIZED,
                "Second factor",
                detail,
            ));
        }
        step = step_of(&known, secret, &asked.code);
    }
    let token = Token::random("web");
    let entry = app.store.sign_in(&known, step, &token.digest()).await?;
    match entry {
        Entry::Open => {
            app.store.take_back_try(this_try).await?;
            let browser = browser.unwrap_or_else(|| Token::random("browser"));
            let (school, person) = (known.school_id, known.coach_id);
            app.store
                .note_browser(school, person, &browser.digest())
                .await?;
            let cookies = [
                cookie(Some(token), app.secure),
                known_cookie(browser, app.secure),
            ];
            let cookies = AppendHeaders(cookies.map(|cookie| (header::SET_COOKIE, cookie)));
            Ok((StatusCode::NO_CONTENT, cookies).into_response())
        }
        Entry::CodeSpent => {
            note_wrong(person, &from, "second factor");
            Err(wrong(
                "this code does not hold, or was used; wait for the next one",
            ))
        }
        Entry::Changed => Err(wrong(
            "the password or the second factor was changed just now; sign in with the new one",
        )),
    }
}

/// Sets a password with a one-time code, and signs in.
#[utoipa::path(post, path = "/new-password", request_body = NewPassword, responses((status = NO_CONTENT), Problem))]
async fn new_password(
    State(app): State<App>,
    Address(from): Address,
    Body(asked): Body<NewPassword>,
) -> Result<WithCookie, Problem> {
    let name = sign_in_name("sign_in_name", &asked.sign_in_name)?;
    check_password("password", &asked.password, &name)?;
    let this_try = begin_try(&app, &name, &from).await?;
    let digest = Token::sent(&asked.code.to_lowercase()).digest();
    let refused = |person| {
        note_wrong(person, &from, "one-time code");
        let detail = "the name or the code is not right, or the code is too old; ask an owner of the school for another";
        Err(wrong(detail))
    };
    let known = app.store.credential(&name).await?;
    let person = known.as_ref().map(|known| known.coach_id);
    let Some(known) = known.filter(|known| known.code_sha256.as_ref() == Some(&digest)) else {
        return refused(person);
    };
    let hash = in_turn(move || password::hash(&asked.password)).await?;
    if !app.store.spend_code(&known, &digest, &hash).await? {
        return refused(person);
    }
    app.store.take_back_try(this_try).await?;
    app.store.forget_wrong_tries(&name).await?;
    if known.totp_secret.is_some() {
        // The code stands for the password, not for the second factor.
        return Ok((
            StatusCode::NO_CONTENT,
            [(header::SET_COOKIE, cookie(None, app.secure))],
        ));
    }
    open(
        &app,
        known.school_id,
        known.coach_id,
        StatusCode::NO_CONTENT,
    )
    .await
}

/// Signs this browser out.
#[utoipa::path(delete, path = "/sign-in", responses((status = NO_CONTENT), Problem))]
async fn sign_out(coach: Coach, State(app): State<App>) -> Result<WithCookie, Problem> {
    if let Some(session) = coach.web_session() {
        app.store.close_web_session(coach.school(), session).await?;
    }
    Ok((
        StatusCode::NO_CONTENT,
        [(header::SET_COOKIE, cookie(None, app.secure))],
    ))
}

/// Signs out every browser of the one who asks, this one too.
#[utoipa::path(delete, path = "/sign-in/everywhere", responses((status = NO_CONTENT), Problem))]
async fn sign_out_everywhere(coach: Coach, State(app): State<App>) -> Result<WithCookie, Problem> {
    app.store
        .close_web_sessions(coach.school(), coach.id())
        .await?;
    Ok((
        StatusCode::NO_CONTENT,
        [(header::SET_COOKIE, cookie(None, app.secure))],
    ))
}

/// Counts a try for this name as wrong and waits until it is its turn, unless there were
/// too many of late; answers what to take back when it turns out right.
pub(super) async fn begin_try(app: &App, name: &str, from: &str) -> Result<Uuid, Problem> {
    let or_else = "ask an owner of the school for a code";
    try_in_turn(app, (name, from), or_else).await
}

fn wrong(detail: &str) -> Problem {
    Problem::new(StatusCode::UNAUTHORIZED, "Not signed in so", detail)
}

/// How many passwords may wait to be hashed.
const HASHES_WAITING: usize = 64;

/// Hashes a password when its turn has come: each takes 19 MB and a core for a while, so
/// that half of the cores at most do so, however many ask.
pub(super) async fn in_turn<T: Send + 'static>(
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Problem> {
    static TURNS: OnceLock<Turns> = OnceLock::new();
    let turns = TURNS.get_or_init(|| Turns::new(cores() / 2, HASHES_WAITING));
    let turn = turns.take().await.map_err(Problem::busy)?;
    Ok(compute_here(turn, work).await)
}

/// Notes that somebody did not come in: who it would have been, if anybody, and from
/// where. Never what they typed.
pub(super) fn note_wrong(person: Option<Uuid>, from: &str, what: &str) {
    static LOG: Sampled = Sampled::new(10);
    if let Some(left_out) = LOG.may() {
        let person = person.map_or_else(|| "nobody".to_owned(), |id| id.to_string());
        tracing::warn!(person, from, what, left_out, "sign-in: refused");
    }
}

/// What the tries of a person from a browser are counted by that they have signed in with.
async fn by_known_browser(
    app: &App,
    name: &str,
    browser: &Token,
) -> Result<Option<String>, Problem> {
    let Some(known) = app.store.credential(name).await? else {
        return Ok(None);
    };
    let digest = browser.digest();
    let (school, person) = (known.school_id, known.coach_id);
    if !app.store.knows_browser(school, person, &digest).await? {
        return Ok(None);
    }
    let hex: String = digest.iter().map(|byte| format!("{byte:02x}")).collect();
    // No sign-in name has a space.
    Ok(Some(format!("browser {hex}")))
}

/// The time step of a code of the second factor, when it holds now.
pub(super) fn step_of(known: &Credential, secret: &[u8], code: &str) -> Option<i64> {
    let factor = SecondFactor::of(secret.to_vec(), &known.sign_in_name);
    factor.step(code, Utc::now().timestamp().unsigned_abs())
}

/// Signs the browser in that hears the answer.
async fn open(
    app: &App,
    school: Uuid,
    person: Uuid,
    status: StatusCode,
) -> Result<WithCookie, Problem> {
    let token = Token::random("web");
    app.store
        .open_web_session(school, person, &token.digest())
        .await?;
    Ok(with_cookie(app, token, status))
}

fn with_cookie(app: &App, token: Token, status: StatusCode) -> WithCookie {
    (
        status,
        [(header::SET_COOKIE, cookie(Some(token), app.secure))],
    )
}
