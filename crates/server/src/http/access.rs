//! Who may ask what: one table of every route, and the door that keeps to it.

use crate::guard::doors::Pass;
use crate::http::coach::{Coach, script_token_of, token_of};
use crate::http::problem::Problem;
use crate::http::request_log::Answered;
use crate::state::App;
use axum::extract::{FromRequestParts, MatchedPath, RawPathParams, Request, State};
use axum::http::request::Parts;
use axum::http::{HeaderMap, HeaderValue, Method, StatusCode};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use std::time::Duration;
use tally_core::school::access::Right::{self, Keep, Open, Own, Run};
use tally_core::vocabulary::invalid::Invalid;
use tally_store::base::readers::Position;
use tally_store::base::signed_in::SignedIn;
use uuid::Uuid;

/// Every route below `/api/v1` with the right that it needs. A route that is not here is
/// open to nobody.
pub const ROUTES: &[(&str, &str, Right)] = &[
    ("GET", "/set-up", Open),
    ("POST", "/set-up", Open),
    ("POST", "/sign-in", Open),
    ("POST", "/new-password", Open),
    ("GET", "/shared", Open),
    ("GET", "/shared/shots.csv", Open),
    ("POST", "/boards", Open),
    ("POST", "/device-shots", Open),
    ("GET", "/device-line", Open),
    ("GET", "/boards/{board}", Open),
    ("GET", "/boards/{board}/live", Open),
    ("GET", "/vocabulary", Open),
    ("GET", "/find", Run),
    ("GET", "/me", Run),
    ("DELETE", "/sign-in", Run),
    ("DELETE", "/sign-in/everywhere", Run),
    ("PUT", "/me/password", Run),
    ("GET", "/me/script-tokens", Run),
    ("POST", "/me/script-tokens", Run),
    ("DELETE", "/me/script-tokens/{token}", Run),
    ("POST", "/me/second-factor", Run),
    ("PUT", "/me/second-factor", Run),
    ("DELETE", "/me/second-factor", Run),
    ("GET", "/people", Own),
    ("POST", "/people", Own),
    ("PUT", "/people/{person}", Own),
    ("POST", "/people/{person}/code", Own),
    ("DELETE", "/people/{person}/second-factor", Own),
    ("GET", "/players/{player}/sharing", Run),
    ("PUT", "/players/{player}", Keep),
    ("GET", "/groups", Run),
    ("GET", "/players/{player}/page-draft", Run),
    ("GET", "/players/{player}/pages", Run),
    ("PUT", "/players/{player}/pages/{page}", Run),
    ("GET", "/pages/{page}", Run),
    ("DELETE", "/pages/{page}", Keep),
    ("GET", "/sessions/{session}/traces", Run),
    ("POST", "/sessions/{session}/traces", Run),
    ("GET", "/sessions/{session}/traces.csv", Keep),
    ("GET", "/sessions/{session}/traces/{shot}", Run),
    ("PUT", "/sessions/{session}/traces/{shot}/marks", Run),
    ("PUT", "/groups/{group}", Run),
    ("DELETE", "/groups/{group}", Run),
    ("GET", "/club-length", Run),
    ("PUT", "/players/{player}/club-measures", Run),
    ("GET", "/players/{player}/delivery", Run),
    ("GET", "/players/{player}/gapping", Run),
    ("GET", "/players/{player}/gapping/changes", Run),
    ("GET", "/players/{player}/peers", Run),
    ("GET", "/players/{player}/records", Run),
    ("PUT", "/players/{player}/archived", Keep),
    ("PUT", "/players/{player}/sharing", Keep),
    ("GET", "/players/{player}/links", Keep),
    ("POST", "/players/{player}/links", Keep),
    ("DELETE", "/players/{player}/links/{link}", Keep),
    ("PUT", "/players/{player}/consent", Run),
    ("POST", "/players/{player}/erasure", Own),
    ("GET", "/players/{player}/archive", Keep),
    ("GET", "/audit", Own),
    ("GET", "/school", Run),
    ("POST", "/school/made-up-players", Own),
    ("DELETE", "/school/made-up-players", Own),
    ("GET", "/school/archive", Own),
    ("PUT", "/school/archive", Own),
    ("GET", "/today", Run),
    ("GET", "/players", Run),
    ("GET", "/roster", Run),
    ("POST", "/players", Run),
    ("GET", "/players/{player}", Run),
    ("GET", "/players/{player}/bag", Run),
    ("POST", "/players/{player}/bag", Run),
    ("DELETE", "/players/{player}/bag/{club}", Keep),
    ("GET", "/players/{player}/prepare", Run),
    ("POST", "/players/{player}/test-plan", Run),
    ("POST", "/players/{player}/compare", Run),
    ("GET", "/players/{player}/comparisons", Run),
    ("GET", "/players/{player}/ball-sources", Run),
    ("POST", "/players/{player}/hole", Run),
    ("GET", "/players/{player}/decisions", Run),
    ("POST", "/players/{player}/decisions", Run),
    ("PUT", "/decisions/{decision}/done", Run),
    ("GET", "/players/{player}/target-windows", Run),
    ("PUT", "/players/{player}/target-windows/{club}", Run),
    ("DELETE", "/players/{player}/target-windows/{club}", Keep),
    ("GET", "/players/{player}/record", Run),
    ("PUT", "/players/{player}/goals/{club}/{quantity}", Run),
    ("DELETE", "/players/{player}/goals/{club}/{quantity}", Keep),
    ("GET", "/players/{player}/next", Run),
    ("PUT", "/players/{player}/next", Run),
    ("DELETE", "/players/{player}/next", Run),
    ("POST", "/players/{player}/benchmarks", Run),
    ("DELETE", "/players/{player}/benchmarks/{benchmark}", Keep),
    ("POST", "/plan-templates", Run),
    ("DELETE", "/plan-templates/{template}", Keep),
    ("POST", "/sessions", Run),
    ("GET", "/sessions/{session}", Run),
    ("PUT", "/sessions/{session}", Run),
    ("PUT", "/sessions/{session}/notes", Run),
    ("PUT", "/sessions/{session}/facts", Keep),
    ("DELETE", "/sessions/{session}", Keep),
    ("PUT", "/sessions/{session}/blocks/{block}", Keep),
    ("PUT", "/sessions/{session}/plan", Run),
    ("POST", "/sessions/{session}/blocks", Run),
    ("POST", "/sessions/{session}/blocks/{block}/begin", Run),
    ("DELETE", "/sessions/{session}/blocks/{block}/begin", Run),
    ("PUT", "/sessions/{session}/progress", Run),
    ("POST", "/sessions/{session}/acts", Run),
    ("GET", "/sessions/{session}/board", Run),
    ("PUT", "/sessions/{session}/board", Run),
    ("DELETE", "/sessions/{session}/board", Run),
    ("GET", "/sessions/{session}/warm-up", Run),
    ("POST", "/sessions/{session}/practice", Run),
    ("GET", "/sessions/{session}/hit", Run),
    ("GET", "/live", Run),
    ("POST", "/sessions/{session}/shots/{shot}/marks", Run),
    ("PUT", "/sessions/{session}/shots/{shot}/block", Run),
    ("PUT", "/sessions/{session}/shots/{shot}/entries", Run),
    ("PUT", "/sessions/{session}/readings/{reading}/shot", Run),
    ("GET", "/sessions/{session}/read", Run),
    ("GET", "/sessions/{session}/launch-spin", Run),
    ("GET", "/sessions/{session}/over", Run),
    ("GET", "/sessions/{session}/opening", Run),
    ("GET", "/sessions/{session}/decide", Run),
    ("POST", "/sessions/{session}/effort", Run),
    ("GET", "/sessions/{session}/speed-ladder", Run),
    ("GET", "/sessions/{session}/warm-up-effect", Run),
    ("GET", "/devices", Run),
    ("POST", "/devices", Own),
    ("PUT", "/devices/{device}", Own),
    ("POST", "/devices/{device}/token", Own),
    ("POST", "/devices/{device}/adopted-offsets", Own),
    ("GET", "/agreement", Run),
    ("GET", "/device-pairs", Run),
    ("GET", "/doubtful", Run),
    ("GET", "/house-rules", Run),
    ("PUT", "/house-rules/{key}", Keep),
    ("PUT", "/warm-up-list", Keep),
    ("PUT", "/reference-levels", Keep),
    ("POST", "/import-previews", Keep),
    ("POST", "/imports", Keep),
    ("GET", "/imports", Keep),
    ("GET", "/imports/{import}", Keep),
    ("POST", "/imports/{import}/cancel", Keep),
    ("DELETE", "/imports/{import}", Keep),
    ("GET", "/imports/{import}/bad-rows.csv", Keep),
    ("GET", "/shots.csv", Keep),
    ("GET", "/shots.sqlite", Keep),
    ("GET", "/implements", Run),
    ("PUT", "/implements/{implement}", Run),
    ("DELETE", "/implements/{implement}", Keep),
    ("GET", "/protocols", Run),
    ("PUT", "/protocols/{protocol}", Keep),
    ("DELETE", "/protocols/{protocol}", Keep),
    ("GET", "/training-today", Run),
    ("GET", "/players/{player}/programme", Run),
    ("PUT", "/players/{player}/programme", Keep),
    ("POST", "/players/{player}/programme/acts", Run),
    ("GET", "/players/{player}/programme.ics", Run),
    ("POST", "/players/{player}/calendar", Keep),
    ("DELETE", "/players/{player}/calendar", Keep),
    ("GET", "/calendars/{token}", Open),
    ("POST", "/players/{player}/runs", Run),
    ("GET", "/sessions/{session}/run", Run),
    ("POST", "/bench/flight", Run),
    ("POST", "/bench/reach", Run),
    ("POST", "/bench/club", Run),
];

/// Beginnings of what only a person does who signed in, and no script of theirs: how people
/// sign in, and who they are.
const BY_THE_PERSON: [&str; 3] = ["/me", "/people", "/sign-in"];

/// What is asked by a post, and changes nothing: a question too long for an address.
const ASKED_BY_POST: [&str; 8] = [
    "/import-previews",
    "/players/{player}/test-plan",
    "/players/{player}/compare",
    "/players/{player}/hole",
    "/sessions/{session}/effort",
    "/bench/flight",
    "/bench/reach",
    "/bench/club",
];

/// Header of answers to whoever changes something, where pages are read from a copy of the database:
/// with it in what they ask next, they see what they did.
pub const POSITION: &str = "tally-position";

/// Where the table's paths begin.
pub const BASE: &str = "/api/v1";

/// The right that a route needs; none for one that is not in the table.
pub fn right(method: &Method, matched: &str) -> Option<Right> {
    let path = matched.strip_prefix(BASE)?;
    // What answers GET answers HEAD.
    let asked = match method.as_str() {
        "HEAD" => "GET",
        other => other,
    };
    ROUTES
        .iter()
        .find(|(method, route, _)| *method == asked && *route == path)
        .map(|(_, _, right)| *right)
}

/// Lets a request through to its route when it may go there, and tells the route who
/// asks.
///
/// # Errors
/// A [`Problem`]: not signed in, not allowed, or a session that is not there for the one
/// who asks.
pub async fn admit(
    State(app): State<App>,
    request: Request,
    next: Next,
) -> Result<Response, Problem> {
    let (mut parts, body) = request.into_parts();
    // While something is done for them, silence is no fault of theirs.
    let pass = parts.extensions.get::<Pass>().cloned();
    let _busy = pass.as_ref().map(Pass::busy);
    let matched = MatchedPath::from_request_parts(&mut parts, &app).await.ok();
    let Some(matched) = matched.filter(|m| m.as_str().starts_with(BASE)) else {
        // The application's files, and addresses that lead nowhere.
        return Ok(next.run(Request::from_parts(parts, body)).await);
    };
    own_site(&parts)?;
    no_nul(&parts)?;
    let Some(right) = right(&parts.method, matched.as_str()) else {
        return Err(not_done_here(&parts));
    };
    let mut by = None;
    let mut writes = false;
    if right != Open {
        let reads = reads(&parts.method, matched.as_str().trim_start_matches(BASE));
        // Streams and files that a browser opens by itself say nothing of a place.
        let from = position_of(&parts.headers).filter(|_| reads);
        let store = from.map(|from| app.store.reading(from));
        let who = who(&app, &parts.headers).await?;
        let coach = Coach::new(store.as_ref().unwrap_or(&app.store), who);
        if let Some(pass) = &pass {
            pass.known();
        }
        by = Some(Answered(coach.id()));
        let route = matched.as_str().trim_start_matches(BASE);
        if let Err(refused) = let_through(&app, &coach, (route, right), &mut parts).await {
            return Ok(answered(refused.into_response(), by));
        }
        // A body may come slowly; who only reads goes on with the connection.
        if !matches!(parts.method, Method::GET | Method::HEAD) {
            coach.store().let_go();
        }
        writes = !reads && app.store.has_readers();
        parts.extensions.insert(coach);
    }
    let answer = next.run(Request::from_parts(parts, body));
    let takes_its_time = TAKE_THEIR_TIME
        .iter()
        .any(|path| matched.as_str().ends_with(path));
    let within = if takes_its_time {
        FILE_WITHIN
    } else {
        ANSWERED_WITHIN
    };
    let answer = tokio::time::timeout(within, answer).await;
    let mut answer = answer.unwrap_or_else(|_| Problem::too_slow().into_response());
    if writes && answer.status().is_success() {
        // Where to see what they did, whichever database they read it from. It is done, also where
        // that cannot be told.
        match app.store.position().await {
            Ok(at) => {
                let at = HeaderValue::from_str(&at.to_string()).expect("figures are a header");
                answer.headers_mut().insert(POSITION, at);
            }
            Err(error) => {
                tracing::warn!(%error, "access: where a change is to be seen was not told")
            }
        }
    }
    Ok(answered(answer, by))
}

/// The answer, with whom it is for, for the log.
fn answered(mut answer: Response, by: Option<Answered>) -> Response {
    if let Some(by) = by {
        answer.extensions_mut().insert(by);
    }
    answer
}

/// Refuses what somebody may not do or see, and notes what they saw.
async fn let_through(
    app: &App,
    coach: &Coach,
    (route, right): (&str, Right),
    parts: &mut Parts,
) -> Result<(), Problem> {
    if !coach.role().may(right) {
        return Err(not_allowed(coach));
    }
    if let Some(script) = coach.script() {
        let reads = reads(&parts.method, route);
        if !script.changes && !reads {
            return Err(not_by_this_script(
                "the token of this script only reads; make one that may change what is kept",
            ));
        }
        let path = parts.uri.path().trim_start_matches(BASE);
        if !reads && BY_THE_PERSON.iter().any(|own| path.starts_with(own)) {
            return Err(not_by_this_script(
                "no script may do this; sign in with a browser",
            ));
        }
    }
    let (player, session) = named(parts, app).await;
    let of_session = match session {
        Some(session) => Some(
            coach
                .store()
                .player_of_session(coach.school(), session)
                .await?,
        ),
        None => None,
    };
    // Whatever is done with them, their records are seen.
    let seen: Vec<Uuid> = player.or(of_session).into_iter().collect();
    coach.has_seen(&seen).await?;
    Ok(())
}

/// Refuses an address that holds a NUL, which no record can keep.
fn no_nul(parts: &Parts) -> Result<(), Problem> {
    let asked = parts
        .uri
        .path_and_query()
        .map_or("", |asked| asked.as_str());
    if asked.contains("%00") {
        let why = Invalid::new(
            "address",
            asked,
            "has a character that is not kept, %00",
            "take it out",
        );
        return Err(why.into());
    }
    Ok(())
}

fn not_done_here(parts: &Parts) -> Problem {
    Problem::new(
        StatusCode::METHOD_NOT_ALLOWED,
        "Not done here",
        format!(
            "{} is not something that {} does; /api/openapi.json lists what is",
            parts.method,
            parts.uri.path()
        ),
    )
}

fn not_by_this_script(why: &str) -> Problem {
    Problem::new(StatusCode::FORBIDDEN, "Not allowed", why)
}

fn not_allowed(coach: &Coach) -> Problem {
    Problem::new(
        StatusCode::FORBIDDEN,
        "Not allowed",
        format!(
            "as {} of {} you cannot do this; ask an owner of the school",
            coach.role().in_words(),
            coach.school_name()
        ),
    )
}

/// How long a route may take until it answers, its body's coming included.
const ANSWERED_WITHIN: Duration = Duration::from_secs(60);
/// How long a file may take until it is in, or made.
const FILE_WITHIN: Duration = Duration::from_secs(3600);
/// Routes that take in a file, or make one before they answer.
const TAKE_THEIR_TIME: [&str; 4] = [
    "/imports",
    "/import-previews",
    "/school/archive",
    "/shots.sqlite",
];

/// Whether a request only asks.
fn reads(method: &Method, route: &str) -> bool {
    matches!(*method, Method::GET | Method::HEAD) || ASKED_BY_POST.contains(&route)
}

/// From where on in the database's log one wants to see what was done; nothing where they do not
/// say, who are answered from the first database.
fn position_of(headers: &HeaderMap) -> Option<Position> {
    headers.get(POSITION)?.to_str().ok()?.parse().ok()
}

/// Who asks, by the script's token or else by the cookie.
async fn who(app: &App, headers: &HeaderMap) -> Result<SignedIn, Problem> {
    if let Some(token) = script_token_of(headers) {
        let speaks = app.store.script_speaks_for(&token.digest()).await?;
        return speaks.ok_or_else(Problem::no_such_script);
    }
    let signed_in = match token_of(headers, app.secure) {
        Some(token) => app.store.signed_in(&token.digest()).await?,
        None => None,
    };
    signed_in.ok_or_else(Problem::not_signed_in)
}

/// The player and the session that the path names. What belongs to a session is looked
/// for within it, so a session that cannot be seen hides all that is in it.
async fn named(parts: &mut Parts, app: &App) -> (Option<Uuid>, Option<Uuid>) {
    let Ok(named) = RawPathParams::from_request_parts(parts, app).await else {
        return (None, None);
    };
    // One that is not an identifier is refused by the route, in its own words.
    let id = |wanted: &str| {
        let found = named.iter().find(|(name, _)| *name == wanted);
        found.and_then(|(_, value)| value.parse().ok())
    };
    (id("player"), id("session"))
}

/// Refuses what another site's page sends with our cookie. Browsers say where a request
/// comes from; programs send no such header and no cookie of a browser.
fn own_site(asked: &Parts) -> Result<(), Problem> {
    if matches!(asked.method, Method::GET | Method::HEAD | Method::OPTIONS) {
        return Ok(());
    }
    let text = |name: &str| {
        asked
            .headers
            .get(name)
            .and_then(|value| value.to_str().ok())
    };
    let own = match (text("sec-fetch-site"), text("origin")) {
        (Some(site), _) => matches!(site, "same-origin" | "none"),
        (None, Some(origin)) => {
            // HTTP/2 tells the host with the address.
            let asked_of = text("host").or(asked.uri.authority().map(|host| host.as_str()));
            let from = origin.split_once("://").map(|(_, host)| host);
            from.is_some() && from == asked_of
        }
        (None, None) => true,
    };
    if own {
        Ok(())
    } else {
        Err(Problem::new(
            StatusCode::FORBIDDEN,
            "Another site asked",
            "this was sent by the page of another site, so it was not done",
        ))
    }
}
