//! What is owed to those whose records are kept: consent, erasure, and who saw what.

use crate::http::coach::Coach;
use crate::http::consent::GivenConsent;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::routes::school::people::may_share;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, Months, Utc};
use serde::{Deserialize, Serialize};
use tally_core::school::audited::Audited;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment;
use tally_core::vocabulary::text::text_within;
use tally_store::school::privacy::{AuditFilter, Consent};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Rows of the audit that are shown at once.
const SHOWN: i64 = 200;

/// Who is to be erased, in words, so that it is not done by mistake.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Erasure {
    /// The player's name, as it stands.
    name: String,
}

/// What an erasure took.
#[derive(Serialize, ToSchema)]
struct ErasureReport {
    /// The player, who is no longer here.
    name: String,
    /// What went, and how much of it.
    gone: Vec<Gone>,
}

/// Records of a kind that went.
#[derive(Serialize, ToSchema)]
struct Gone {
    what: String,
    rows: i64,
}

/// Which entries of the audit are wanted; absent parts leave it open.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct AuditWanted {
    /// Who did it.
    person: Option<Uuid>,
    /// Whose records.
    player: Option<Uuid>,
    /// Key of what was done.
    act: Option<String>,
    /// Entries before this one.
    before: Option<Uuid>,
}

/// Something that the audit notes.
#[derive(Serialize, ToSchema)]
struct AuditAct {
    key: &'static str,
    /// In words.
    label: &'static str,
}

/// What was done or seen.
#[derive(Serialize, ToSchema)]
struct AuditEntry {
    id: Uuid,
    at: DateTime<Utc>,
    person: String,
    /// In words.
    what: &'static str,
    player: Option<String>,
    about: String,
}

/// The audit, and whose records have been kept longer than the house rule says.
#[derive(Serialize, ToSchema)]
struct AuditView {
    /// The latest of those wanted, latest first.
    entries: Vec<AuditEntry>,
    /// Whether there are earlier ones.
    earlier: bool,
    /// What is noted at all.
    acts: Vec<AuditAct>,
    /// Years after a player's last session for which records are kept.
    keep_years: f64,
    /// Whose records are past that.
    past: Vec<PastPlayer>,
}

/// A player whose records are past the time for which they are kept.
#[derive(Serialize, ToSchema)]
struct PastPlayer {
    id: Uuid,
    name: String,
    last_session: DateTime<Utc>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(save_consent))
        .routes(routes!(erase))
        .routes(routes!(audit))
}

/// Notes a guardian's consent, or that it is withdrawn.
#[utoipa::path(put, path = "/players/{player}/consent", params(("player" = Uuid, Path)), request_body = GivenConsent, responses((status = NO_CONTENT), Problem))]
async fn save_consent(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(given): Body<GivenConsent>,
) -> Result<StatusCode, Problem> {
    let consent = match given.given_on {
        None => Consent {
            guardian: String::new(),
            given_on: None,
        },
        Some(day) if day > Utc::now().date_naive() => {
            let remedy = "give the day on which the guardian consented";
            return Err(Invalid::new("given_on", day, "is still to come", remedy).into());
        }
        Some(day) => Consent {
            guardian: text_within("guardian", &given.guardian, 200)?,
            given_on: Some(moment::day("given_on", day)?),
        },
    };
    let (store, school) = (coach.store(), coach.school());
    if consent.given_on.is_none() {
        let shared = store.sharing(school, player).await?;
        if !may_share(&coach, shared.coach) {
            let detail = "only the player's own coach and an owner of the school note that a consent is withdrawn";
            return Err(Problem::new(StatusCode::FORBIDDEN, "Not allowed", detail));
        }
    }
    store.save_consent(school, player, &consent).await?;
    let about = match consent.given_on {
        Some(day) => format!("given by {} on {day}", consent.guardian),
        None => "withdrawn".to_owned(),
    };
    store
        .note(school, coach.id(), Audited::Consent, Some(player), &about)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Erases a player with all that is kept of them, and says what went. Backups made before
/// still hold it until they are thrown away.
#[utoipa::path(post, path = "/players/{player}/erasure", params(("player" = Uuid, Path)), request_body = Erasure, responses((status = OK, body = ErasureReport), Problem))]
async fn erase(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(asked): Body<Erasure>,
) -> Result<Json<ErasureReport>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let name = store.player(school, player).await?.name;
    if asked.name.trim() != name {
        let remedy = "type the player's name as it stands";
        return Err(Invalid::new("name", asked.name, "is not this player's name", remedy).into());
    }
    let erased = store.erase_player(school, player).await?;
    let gone: Vec<Gone> = erased
        .into_iter()
        .filter(|(_, rows)| *rows > 0)
        .map(|(table, rows)| Gone {
            what: table.replace('_', " "),
            rows,
        })
        .collect();
    let told: Vec<String> = gone
        .iter()
        .map(|g| format!("{} {}", g.rows, g.what))
        .collect();
    store
        .note(
            school,
            coach.id(),
            Audited::Erasure,
            Some(player),
            &told.join(", "),
        )
        .await?;
    Ok(Json(ErasureReport { name, gone }))
}

/// Who saw children's records, took records out, erased them, and changed roles; and
/// whose records are past the time for which the house keeps them.
#[utoipa::path(get, path = "/audit", params(AuditWanted), responses((status = OK, body = AuditView), Problem))]
async fn audit(
    coach: Coach,
    Query(wanted): Query<AuditWanted>,
) -> Result<Json<AuditView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let wanted = AuditFilter {
        person: wanted.person,
        player: wanted.player,
        act: wanted
            .act
            .as_deref()
            .map(|key| Audited::from_key("act", key))
            .transpose()?,
        before: wanted.before,
    };
    let mut rows = store.audit(school, wanted, SHOWN + 1).await?;
    let earlier = rows.len() as i64 > SHOWN;
    rows.truncate(SHOWN as usize);
    let rules = store.house_rules(school).await?;
    let before = Utc::now() - Months::new((rules.keep_years * 12.0) as u32);
    let past = store.players_unseen_since(school, before).await?;
    let entries = rows.into_iter().map(|row| AuditEntry {
        id: row.id,
        at: row.at,
        person: row.person,
        what: in_words(row.act),
        player: row.player,
        about: row.about,
    });
    Ok(Json(AuditView {
        entries: entries.collect(),
        earlier,
        acts: Audited::all()
            .map(|act| AuditAct {
                key: act.key(),
                label: in_words(act),
            })
            .collect(),
        keep_years: rules.keep_years,
        past: past
            .into_iter()
            .map(|(id, name, last_session)| PastPlayer {
                id,
                name,
                last_session,
            })
            .collect(),
    }))
}

fn in_words(act: Audited) -> &'static str {
    match act {
        Audited::ChildRead => "read a child's records",
        Audited::Export => "took records out",
        Audited::Archive => "took the whole school out, or put one in",
        Audited::Erasure => "erased a player",
        Audited::Role => "changed who may do what",
        Audited::Consent => "noted a consent",
        Audited::Sharing => "shared a player otherwise",
        Audited::SignIn => "renewed how somebody signs in",
        Audited::Correction => "put a record right",
        Audited::Removal => "took a session out",
    }
}
