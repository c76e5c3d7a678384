//! The people of the school, and who sees which player.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};
use tally_core::school::access::{CODE_HOLDS_S, Role, sign_in_name};
use tally_core::school::audited::Audited;
use tally_core::vocabulary::text::text_within;
use tally_store::school::accounts::Credential;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// One of the school.
#[derive(Serialize, ToSchema)]
struct PersonView {
    id: Uuid,
    name: String,
    role: Role,
    sign_in_name: Option<String>,
    /// Whether they have a password; who has none waits for a code.
    has_password: bool,
    second_factor: bool,
    used_at: Option<DateTime<Utc>>,
    left_at: Option<DateTime<Utc>>,
}

/// A person to add.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPerson {
    /// Made by the sender.
    id: Uuid,
    name: String,
    role: Role,
    sign_in_name: String,
}

/// What a person is to be called, and to be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PersonChange {
    name: String,
    role: Role,
    /// Whether they are no longer of the school.
    away: bool,
}

/// A code with which a person sets a password, shown once.
#[derive(Serialize, ToSchema)]
struct Code {
    code: String,
    until: DateTime<Utc>,
}

/// Who sees a player.
#[derive(Serialize, ToSchema)]
struct Sharing {
    /// Whose player it is.
    coach: Option<Uuid>,
    /// Everybody it can be shared with.
    people: Vec<Sharer>,
    /// Whether the one who asks may change it.
    may_change: bool,
}

/// One who may be shown a player.
#[derive(Serialize, ToSchema)]
struct Sharer {
    id: Uuid,
    name: String,
    role: Role,
    /// Whether they see the player.
    sees: bool,
}

/// Who is to see a player.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SharingChange {
    /// Whose player it is.
    coach: Uuid,
    /// Who else sees it.
    shared_with: Vec<Uuid>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(people, add_person))
        .routes(routes!(save_person))
        .routes(routes!(new_code))
        .routes(routes!(end_their_second_factor))
        .routes(routes!(sharing, save_sharing))
}

/// The people of the school by name.
#[utoipa::path(get, path = "/people", responses((status = OK, body = Vec<PersonView>), Problem))]
async fn people(coach: Coach, State(app): State<App>) -> Result<Json<Vec<PersonView>>, Problem> {
    let people = app.store.people(coach.school()).await?;
    let shown = people.into_iter().map(|person| PersonView {
        id: person.id,
        name: person.name,
        role: person.role,
        sign_in_name: person.sign_in_name,
        has_password: person.has_password,
        second_factor: person.second_factor,
        used_at: person.used_at,
        left_at: person.left_at,
    });
    Ok(Json(shown.collect()))
}

/// Adds a person, and gives the code with which they set their password.
#[utoipa::path(post, path = "/people", request_body = NewPerson, responses((status = CREATED, body = Code), Problem))]
async fn add_person(
    coach: Coach,
    State(app): State<App>,
    Body(new): Body<NewPerson>,
) -> Result<(StatusCode, Json<Code>), Problem> {
    let checked = (
        text_within("name", &new.name, 200),
        sign_in_name("sign_in_name", &new.sign_in_name),
    );
    let (Ok(name), Ok(signs_as)) = &checked else {
        let errors = [checked.0.err(), checked.1.err()];
        return Err(errors.into_iter().flatten().collect::<Vec<_>>().into());
    };
    app.store
        .add_person(coach.school(), new.id, new.role, name, signs_as)
        .await?;
    let code = code_for(&app, coach.school(), new.id).await?;
    let about = format!("{name} was added as {}", new.role.in_words());
    note(&coach, Audited::Role, None, &about).await?;
    Ok((StatusCode::CREATED, Json(code)))
}

/// Gives a person another name or role, or notes that they left or came back.
#[utoipa::path(put, path = "/people/{person}", params(("person" = Uuid, Path)), request_body = PersonChange, responses((status = NO_CONTENT), Problem))]
async fn save_person(
    coach: Coach,
    Path(person): Path<Uuid>,
    State(app): State<App>,
    Body(change): Body<PersonChange>,
) -> Result<StatusCode, Problem> {
    let name = text_within("name", &change.name, 200)?;
    app.store
        .save_person(coach.school(), person, &name, change.role, change.away)
        .await?;
    let role = change.role.in_words();
    let about = match change.away {
        true => format!("{name} left"),
        false => format!("{name} is {role}"),
    };
    note(&coach, Audited::Role, None, &about).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A new code with which a person sets a password; their old one holds until then.
#[utoipa::path(post, path = "/people/{person}/code", params(("person" = Uuid, Path)), responses((status = OK, body = Code), Problem))]
async fn new_code(
    coach: Coach,
    Path(person): Path<Uuid>,
    State(app): State<App>,
) -> Result<Json<Code>, Problem> {
    let known = another(&app, &coach, person).await?;
    let code = code_for(&app, coach.school(), person).await?;
    let about = format!("a code for {}", known.sign_in_name);
    note(&coach, Audited::SignIn, None, &about).await?;
    Ok(Json(code))
}

/// Takes a person's second factor away: their authenticator is lost.
#[utoipa::path(delete, path = "/people/{person}/second-factor", params(("person" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn end_their_second_factor(
    coach: Coach,
    Path(person): Path<Uuid>,
    State(app): State<App>,
) -> Result<StatusCode, Problem> {
    let known = another(&app, &coach, person).await?;
    // Noted first: it is not done where it cannot be told.
    let about = format!("no second factor for {} any longer", known.sign_in_name);
    note(&coach, Audited::SignIn, None, &about).await?;
    app.store.end_second_factor(coach.school(), person).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What a person of the school signs in with, unless they ask themselves: of them their
/// password is asked.
async fn another(app: &App, coach: &Coach, person: Uuid) -> Result<Credential, Problem> {
    if person == coach.id() {
        let detail = "what you sign in with yourself is changed under your initials, where your password is asked";
        return Err(Problem::new(StatusCode::CONFLICT, "Conflict", detail));
    }
    Ok(app.store.credential_of(coach.school(), person).await?)
}

async fn code_for(app: &App, school: Uuid, person: Uuid) -> Result<Code, Problem> {
    let code = Token::to_type();
    let until = Utc::now() + Duration::seconds(CODE_HOLDS_S);
    app.store
        .save_code(school, person, &code.digest(), until)
        .await?;
    Ok(Code {
        code: code.into_text(),
        until,
    })
}

/// Who sees a player.
#[utoipa::path(get, path = "/players/{player}/sharing", params(("player" = Uuid, Path)), responses((status = OK, body = Sharing), Problem))]
async fn sharing(
    coach: Coach,
    Path(player): Path<Uuid>,
    State(app): State<App>,
) -> Result<Json<Sharing>, Problem> {
    let shared = coach.store().sharing(coach.school(), player).await?;
    let people = app.store.people(coach.school()).await?;
    let may_change = may_share(&coach, shared.coach);
    Ok(Json(Sharing {
        coach: shared.coach,
        people: people
            .into_iter()
            .filter(|person| person.left_at.is_none())
            .map(|person| Sharer {
                sees: person.role.sees_all()
                    || shared.coach == Some(person.id)
                    || shared.with.contains(&person.id),
                id: person.id,
                name: person.name,
                role: person.role,
            })
            .collect(),
        may_change,
    }))
}

/// Says who sees a player. Only their coach and the school's owners can.
#[utoipa::path(put, path = "/players/{player}/sharing", params(("player" = Uuid, Path)), request_body = SharingChange, responses((status = NO_CONTENT), Problem))]
async fn save_sharing(
    coach: Coach,
    Path(player): Path<Uuid>,
    State(app): State<App>,
    Body(change): Body<SharingChange>,
) -> Result<StatusCode, Problem> {
    let shared = coach.store().sharing(coach.school(), player).await?;
    if !may_share(&coach, shared.coach) {
        let detail = "only the player's own coach and an owner of the school say who sees them";
        return Err(Problem::new(StatusCode::FORBIDDEN, "Not allowed", detail));
    }
    app.store
        .for_school(coach.school())
        .save_sharing(coach.school(), player, change.coach, &change.shared_with)
        .await?;
    note(&coach, Audited::Sharing, Some(player), "").await?;
    Ok(StatusCode::NO_CONTENT)
}

async fn note(coach: &Coach, act: Audited, of: Option<Uuid>, about: &str) -> Result<(), Problem> {
    let (store, school) = (coach.store(), coach.school());
    Ok(store.note(school, coach.id(), act, of, about).await?)
}

/// Whether somebody answers for a player of this coach.
pub(crate) fn may_share(coach: &Coach, of: Option<Uuid>) -> bool {
    coach.role().sees_all() || of == Some(coach.id())
}
