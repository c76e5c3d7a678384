//! Whether a child's records may be kept.

use crate::http::problem::Problem;
use axum::http::StatusCode;
use chrono::{Datelike, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::school::access::needs_consent;
use tally_store::Store;
use utoipa::ToSchema;
use uuid::Uuid;

/// A guardian's consent.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GivenConsent {
    /// Who gave it.
    pub guardian: String,
    /// When; none withdraws it.
    pub given_on: Option<NaiveDate>,
}

/// How it stands with a player's consent.
#[derive(Serialize, ToSchema)]
pub struct ConsentView {
    /// Whether a guardian's is needed before a session is kept.
    needed: bool,
    given: Option<GivenConsent>,
}

/// How it stands with a player's consent.
///
/// # Errors
/// The store's.
pub async fn consent_of(
    store: &Store,
    school: Uuid,
    player: Uuid,
    born: Option<i32>,
) -> Result<ConsentView, Problem> {
    let consent = store.consent(school, player).await?;
    Ok(ConsentView {
        needed: needs_consent(born, Utc::now().year()),
        given: consent.given_on.map(|day| GivenConsent {
            guardian: consent.guardian,
            given_on: Some(day),
        }),
    })
}

/// Refuses to keep a session of a child without a guardian's consent.
///
/// # Errors
/// A [`Problem`], or the store's.
pub async fn with_consent(store: &Store, school: Uuid, player: Uuid) -> Result<(), Problem> {
    let found = store.player(school, player).await?;
    let consent = consent_of(store, school, player, found.born).await?;
    if !consent.needed || consent.given.is_some() {
        return Ok(());
    }
    Err(Problem::new(
        StatusCode::CONFLICT,
        "Consent is missing",
        format!(
            "{} may be under 18 and no guardian's consent is noted; note it on the player's page first",
            found.name
        ),
    ))
}
