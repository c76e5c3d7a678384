//! Who asks: every route takes the coach, and through them what they may see.

use crate::http::problem::Problem;
use crate::http::token::Token;
use crate::state::App;
use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use axum::http::{HeaderMap, header};
use chrono::{Datelike, Utc};
use cookie::{Cookie, SameSite, time};
use tally_core::school::access::{KNOWN_S, Role, SIGNED_IN_S, Script, children_born_after};
use tally_store::base::signed_in::SignedIn;
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// The one who asks, let in by [`crate::http::access::admit`].
#[derive(Clone)]
pub struct Coach {
    who: SignedIn,
    store: Store,
}

impl Coach {
    /// Someone who signed in; what `all` holds and they may see is theirs.
    pub fn new(all: &Store, who: SignedIn) -> Coach {
        Coach {
            store: all.for_person(&who).for_now(),
            who,
        }
    }

    /// The school's records, as far as they may see them.
    pub fn store(&self) -> &Store {
        &self.store
    }

    /// The school whose data they may see.
    pub fn school(&self) -> Uuid {
        self.who.school_id
    }

    /// The school's name.
    pub fn school_name(&self) -> &str {
        &self.who.school
    }

    /// Who they are.
    pub fn who(&self) -> &SignedIn {
        &self.who
    }

    /// Their identifier.
    pub fn id(&self) -> Uuid {
        self.who.coach_id
    }

    /// Their name.
    pub fn name(&self) -> &str {
        &self.who.coach
    }

    /// What they are in the school.
    pub fn role(&self) -> Role {
        self.who.role
    }

    /// Notes that they were shown the records of these players: a child's stand in the
    /// audit then.
    ///
    /// # Errors
    /// The store's.
    pub async fn has_seen(&self, players: &[Uuid]) -> Result<(), StoreError> {
        let children = children_born_after(Utc::now().year());
        self.store
            .note_children_read(self.school(), self.id(), players, children)
            .await
    }

    /// The script that speaks in their name, if it is one.
    pub fn script(&self) -> Option<Script> {
        self.who.script
    }

    /// The browser that they are signed in with.
    pub fn web_session(&self) -> Option<Uuid> {
        self.who.web_session
    }
}

impl FromRequestParts<App> for Coach {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _app: &App) -> Result<Self, Problem> {
        let coach = parts.extensions.get::<Coach>();
        coach.cloned().ok_or_else(Problem::not_signed_in)
    }
}

/// The token that a script sends: `Authorization: Bearer …`.
pub fn script_token_of(headers: &HeaderMap) -> Option<Token> {
    let sent = headers.get(header::AUTHORIZATION)?.to_str().ok()?;
    let (scheme, token) = sent.trim().split_once(' ')?;
    scheme
        .eq_ignore_ascii_case("bearer")
        .then(|| Token::sent(token))
}

/// Names of the cookie: over TLS, and without it.
const NAMES: [&str; 2] = ["__Host-amber-tally", "amber-tally"];

/// Names of the cookie that a browser is known by after somebody has signed in with it:
/// over TLS, and without it.
const KNOWN_NAMES: [&str; 2] = ["__Host-amber-tally-browser", "amber-tally-browser"];

/// The cookie that signs a browser in, or out when there is no token.
pub fn cookie(token: Option<Token>, secure: bool) -> String {
    let age = token.as_ref().map_or(0, |_| SIGNED_IN_S);
    set(NAMES, token, age, secure)
}

/// The cookie that a browser is known by: it opens nothing.
pub fn known_cookie(token: Token, secure: bool) -> String {
    set(KNOWN_NAMES, Some(token), KNOWN_S, secure)
}

fn set(names: [&'static str; 2], token: Option<Token>, age: i64, secure: bool) -> String {
    let value = token.map(Token::into_text).unwrap_or_default();
    Cookie::build((names[usize::from(!secure)], value))
        .path("/")
        .http_only(true)
        .secure(secure)
        .same_site(SameSite::Strict)
        .max_age(time::Duration::seconds(age))
        .build()
        .to_string()
}

/// The token of a request's cookie. Where browsers reach us over TLS, only the one counts
/// that a browser sets over TLS alone and for this host alone: any other may have been
/// planted by a neighbour.
pub fn token_of(headers: &HeaderMap, secure: bool) -> Option<Token> {
    sent(headers, NAMES[usize::from(!secure)])
}

/// What a browser is known by, if it is.
pub fn known_token_of(headers: &HeaderMap, secure: bool) -> Option<Token> {
    sent(headers, KNOWN_NAMES[usize::from(!secure)])
}

fn sent(headers: &HeaderMap, name: &str) -> Option<Token> {
    headers
        .get_all(header::COOKIE)
        .iter()
        .filter_map(|value| value.to_str().ok())
        .flat_map(Cookie::split_parse)
        .flatten()
        .find(|cookie| cookie.name() == name)
        .map(|cookie| Token::sent(cookie.value()))
}
