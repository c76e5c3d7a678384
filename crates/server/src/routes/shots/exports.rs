//! Shots as CSV: of a session, a player, or whatever a filter lets through.

use crate::http::coach::Coach;
use crate::http::download::download;
use crate::http::extract::Query;
use crate::http::problem::Problem;
use crate::state::App;
use axum::body::Body;
use axum::response::{IntoResponse, Response};
use chrono::{DateTime, Utc};
use futures_util::{StreamExt, TryStreamExt, stream};
use serde::Deserialize;
use std::collections::HashMap;
use std::sync::Arc;
use tally_core::physics::club::Club;
use tally_core::school::audited::Audited;
use tally_core::session::purpose::Purpose;
use tally_core::shots::standing::{Standing, standing};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment::moment;
use tally_core::vocabulary::units::Units;
use tally_formats::shot_table::{OutShot, ShotDatabase, write_shots};
use tally_store::session::blocks::Block;
use tally_store::session::sessions::{Session, SessionFilter};
use tally_store::{Store, StoreError};
use tempfile::NamedTempFile;
use tokio::fs::File;
use tokio::sync::mpsc;
use tokio_util::io::ReaderStream;
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Sessions that may wait to be written.
const WAITING: usize = 4;

/// Which shots, in which units.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Wanted {
    /// Of this session.
    session: Option<Uuid>,
    /// Of this player.
    player: Option<Uuid>,
    /// Hit with this club, by its key.
    club: Option<String>,
    /// Of sessions for this purpose, by its key.
    purpose: Option<String>,
    /// Of sessions begun at this time or later.
    from: Option<DateTime<Utc>>,
    /// Of sessions begun before this time.
    to: Option<DateTime<Utc>>,
    units: Units,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(export_shots))
        .routes(routes!(export_database))
}

/// Shots as an SQLite database of one table, `shot`, for tools of statistics: the columns of
/// the CSV, and the session that each was hit in.
#[utoipa::path(get, path = "/shots.sqlite", params(Wanted), responses((status = OK, body = Vec<u8>, content_type = "application/octet-stream"), Problem))]
async fn export_database(coach: Coach, Query(wanted): Query<Wanted>) -> Result<Response, Problem> {
    let (export, sessions) = export(&coach, &wanted).await?;
    // It may take minutes; nothing is held meanwhile.
    coach.store().let_go();
    let file = export.database(sessions).await?;
    let body = Body::from_stream(ReaderStream::new(file));
    Ok(download(body, "application/octet-stream", "shots.sqlite").into_response())
}

/// Shots as CSV, oldest session first; without any filter, all of the school's.
#[utoipa::path(get, path = "/shots.csv", params(Wanted), responses((status = OK, body = String, content_type = "text/csv"), Problem))]
async fn export_shots(coach: Coach, Query(wanted): Query<Wanted>) -> Result<Response, Problem> {
    let (export, sessions) = export(&coach, &wanted).await?;
    export.table(sessions)
}

/// What is wanted, noted as taken out.
async fn export(coach: &Coach, wanted: &Wanted) -> Result<(Export, Vec<Session>), Problem> {
    let school = coach.school();
    let club = wanted
        .club
        .as_deref()
        .map(|key| Club::from_key("club", key))
        .transpose()?;
    let purpose = wanted
        .purpose
        .as_deref()
        .map(|key| Purpose::from_key("purpose", key))
        .transpose()?;
    for (field, at) in [("from", wanted.from), ("to", wanted.to)] {
        at.map(|at| moment(field, at)).transpose()?;
    }
    if let (Some(from), Some(to)) = (wanted.from, wanted.to)
        && from >= to
    {
        return Err(
            Invalid::new("to", to, "is not after the beginning", "give a later time").into(),
        );
    }
    let filter = SessionFilter {
        session: wanted.session,
        player: wanted.player,
        purpose,
        from: wanted.from,
        to: wanted.to,
    };
    let sessions = coach.store().sessions_filtered(school, &filter).await?;
    let about = format!("shots of {} sessions", sessions.len());
    coach
        .store()
        .note(school, coach.id(), Audited::Export, filter.player, &about)
        .await?;
    let store = coach.store();
    let export = Export {
        store: store.for_long(),
        school,
        rules: store.house_rules(school).await?,
        names: store.player_names(school).await?,
        club,
        units: wanted.units,
    };
    Ok((export, sessions))
}

/// The shots of sessions as a table, with players by these names.
///
/// # Errors
/// The store's.
pub async fn shots_table(
    store: &Store,
    school: Uuid,
    sessions: Vec<Session>,
    names: HashMap<Uuid, String>,
    units: Units,
) -> Result<Response, Problem> {
    let export = Export {
        store: store.for_long(),
        school,
        rules: store.house_rules(school).await?,
        names,
        club: None,
        units,
    };
    export.table(sessions)
}

struct Export {
    store: Store,
    school: Uuid,
    rules: HouseRules,
    names: HashMap<Uuid, String>,
    club: Option<Club>,
    units: Units,
}

impl Export {
    /// All of them, the header first, then session by session.
    fn table(self, sessions: Vec<Session>) -> Result<Response, Problem> {
        let mut head = Vec::new();
        write_shots(&mut head, [], self.units, true).map_err(|error| {
            tracing::error!(%error, "export");
            StoreError::NotFound("shots")
        })?;
        let writer = Arc::new(self);
        let parts = stream::iter(sessions).then(move |session| {
            let writer = Arc::clone(&writer);
            async move { writer.part(session).await }
        });
        let body = stream::once(async { Ok(head) }).chain(parts);
        let body = Body::from_stream(body.map_err(|error| {
            tracing::error!(%error, "export");
            std::io::Error::other(error)
        }));
        Ok(download(body, "text/csv; charset=utf-8", "shots.csv").into_response())
    }

    /// All of them as a database, in a file that is gone once it is closed.
    async fn database(self, sessions: Vec<Session>) -> Result<File, Problem> {
        let failed = |error: &dyn std::fmt::Display| {
            tracing::error!(%error, "export as a database");
            Problem::ours()
        };
        let (out, mut heard) = mpsc::channel::<Vec<OutShot>>(WAITING);
        let units = self.units;
        let writing = tokio::task::spawn_blocking(move || {
            let file = NamedTempFile::new().map_err(|error| error.to_string())?;
            let written = ShotDatabase::begin(file.path(), units).and_then(|mut database| {
                while let Some(shots) = heard.blocking_recv() {
                    database.add(shots)?;
                }
                database.finish()
            });
            written.map_err(|error| error.to_string())?;
            file.reopen().map_err(|error| error.to_string())
        });
        for session in sessions {
            // Nobody hears it when the file cannot be written, which is told below.
            if out.send(self.shots_of(session).await?).await.is_err() {
                break;
            }
        }
        drop(out);
        let written = writing.await.map_err(|error| failed(&error))?;
        Ok(File::from_std(written.map_err(|error| failed(&error))?))
    }

    /// The rows of one session.
    async fn part(&self, session: Session) -> Result<Vec<u8>, StoreError> {
        let out = self.shots_of(session).await?;
        let mut text = Vec::new();
        write_shots(&mut text, out, self.units, false)
            .map_err(|error| StoreError::Conflict(error.to_string()))?;
        Ok(text)
    }

    /// The shots of one session.
    async fn shots_of(&self, session: Session) -> Result<Vec<OutShot>, StoreError> {
        let hit = self.store.hit_session(self.school, session.id).await?;
        let conditions = session.conditions();
        let player = self.names.get(&session.player_id);
        let out = hit
            .shots
            .iter()
            .zip(hit.clubs())
            .filter_map(|(shot, club)| {
                let block = hit.block_of(shot);
                let plan = block.map(Block::plan);
                let swung = plan.as_ref().and_then(|plan| plan.swung.clone());
                if self
                    .club
                    .is_some_and(|wanted| wanted != club || swung.is_some())
                {
                    return None;
                }
                let devices: Vec<&str> =
                    shot.sources.iter().map(|source| &*source.device).collect();
                let stands = standing(&shot.in_play(), club, &conditions, &self.rules);
                Some(OutShot {
                    player: player.cloned().unwrap_or_default(),
                    hit_at: shot.hit_at,
                    club: swung.as_ref().map_or(club.key(), |_| "").to_owned(),
                    swung,
                    effort_pct: plan
                        .as_ref()
                        .and_then(|plan| plan.effort_pct.or(plan.full_effort.then_some(100))),
                    block: plan.map(|plan| plan.known_as()).unwrap_or_default(),
                    standing: match stands {
                        Standing::Kept => "kept",
                        Standing::SetAside => "set_aside",
                        Standing::Doubtful => "doubtful",
                    },
                    reason: shot.marked().reason.map(|reason| reason.key()),
                    shot: shot.id,
                    session: session.id,
                    device: devices.join(" + "),
                    reading: shot.reading.clone(),
                })
            });
        Ok(out.collect())
    }
}
