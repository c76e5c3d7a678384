//! The Read station of a session.

use super::compute;
use super::sessions::{SessionView, view};
use super::shots::MarkView;
use crate::app::App;
use crate::coach::Coach;
use crate::extract::{Path, Query};
use crate::problem::Problem;
use axum::Json;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::club::Club;
use tally_core::quantity::Quantity;
use tally_core::read::{self, Decision, Question, Report};
use tally_core::reading::Reading;
use tally_store::blocks::Block;
use tally_store::shots::{Mark, Shot};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// How a session is read.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Asked {
    /// Key of the club to read, when several were hit; the session's own when absent.
    club: Option<String>,
    /// Reads with the house rules as they stood then; today's when absent.
    rules_at: Option<DateTime<Utc>>,
}

/// A session with its shots and what they say.
#[derive(Serialize, ToSchema)]
struct SessionRead {
    session: SessionView,
    /// The clubs that were hit, in the order of the bag, with how often.
    clubs: Vec<ClubHit>,
    /// The one that is read.
    club: Club,
    /// In hitting order; `report.shots` stands in the same order.
    shots: Vec<ShotView>,
    report: Report,
}

/// A club of a session.
#[derive(Serialize, ToSchema)]
struct ClubHit {
    club: Club,
    shots: usize,
}

/// What one device reported of a shot.
#[derive(Serialize, ToSchema)]
struct SourceView {
    /// Identifier of the reading.
    id: Uuid,
    device_name: String,
    reading: Reading,
}

/// A value that a person typed for a shot.
#[derive(Serialize, ToSchema)]
struct EntryView {
    entered_at: DateTime<Utc>,
    quantity: Quantity,
    /// The value, internal units; absent: the one before was taken back.
    si: Option<f64>,
}

/// A shot as stored.
#[derive(Serialize, ToSchema)]
struct ShotView {
    id: Uuid,
    /// From 1, in hitting order.
    number: usize,
    block: Uuid,
    hit_at: DateTime<Utc>,
    /// What each device reported of it, as it came.
    sources: Vec<SourceView>,
    /// What was typed for it, in order; the old values stay.
    entries: Vec<EntryView>,
    /// Its values, from all of these.
    reading: Reading,
    /// Latest strike marked on the face, as on a number pad.
    strike: Option<i16>,
    /// What the coach did with it, in order.
    marks: Vec<MarkView>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(read_session))
}

/// Reads a session.
#[utoipa::path(get, path = "/sessions/{session}/read", params(("session" = Uuid, Path), Asked), responses((status = OK, body = SessionRead), Problem))]
async fn read_session(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(how): Query<Asked>,
) -> Result<Json<SessionRead>, Problem> {
    let school = coach.school();
    let (stored, session) = view(&coach, id).await?;
    let (_, blocks) = coach.store().session(school, id).await?;
    let rules = match how.rules_at {
        Some(then) => coach.store().house_rules_at(school, then).await?,
        None => coach.store().house_rules(school).await?,
    };
    let own = Club::from_key("club", &stored.club)?;
    let shots = coach.store().session_shots(school, id).await?;
    let clubs = clubs_hit(&shots, &blocks, own);
    let club = match how.club {
        Some(key) => Club::from_key("club", &key)?,
        // A session of several clubs opens with one that was hit.
        None => clubs
            .iter()
            .find(|c| c.club == own)
            .or_else(|| clubs.first())
            .map_or(own, |c| c.club),
    };
    let numbered: Vec<(Shot, usize)> = shots
        .into_iter()
        .zip(1..)
        .filter(|(shot, _)| club_of(shot, &blocks, own) == club)
        .collect();
    let asked: Vec<read::Shot> = numbered.iter().map(|(shot, _)| as_read(shot)).collect();
    let player = first_name(&session.player_name).to_owned();
    let report = compute(move || {
        read::read(&Question {
            player: &player,
            club,
            conditions: stored.conditions(),
            rules,
            shots: &asked,
        })
    })
    .await;
    Ok(Json(SessionRead {
        session,
        clubs,
        club,
        shots: numbered.into_iter().map(ShotView::from).collect(),
        report,
    }))
}

/// The clubs that shots were hit with, in the order of the bag.
fn clubs_hit(shots: &[Shot], blocks: &[Block], own: Club) -> Vec<ClubHit> {
    let count = |club| {
        let with_it = shots.iter().filter(|s| club_of(s, blocks, own) == club);
        with_it.count()
    };
    Club::all()
        .map(|club| ClubHit {
            club,
            shots: count(club),
        })
        .filter(|hit| hit.shots > 0)
        .collect()
}

/// The club of a shot: its block's, or else the session's.
pub(super) fn club_of(shot: &Shot, blocks: &[Block], own: Club) -> Club {
    let block = blocks.iter().find(|block| block.id == shot.block_id);
    block.and_then(|block| block.plan().club).unwrap_or(own)
}

/// Stored shots as core reads them.
pub(super) fn as_asked(shots: &[Shot]) -> Vec<read::Shot> {
    shots.iter().map(as_read).collect()
}

/// A stored shot as core reads it.
pub(crate) fn as_read(shot: &Shot) -> read::Shot {
    read::Shot {
        reading: shot.reading.clone(),
        decision: decision(&shot.marks),
    }
}

/// The decision that counts: the latest one that was not taken back.
pub(super) fn decision(marks: &[Mark]) -> Option<Decision> {
    marks
        .iter()
        .rev()
        .find(|mark| mark.kind != "strike")
        .and_then(|mark| match mark.kind.as_str() {
            "set_aside" => Some(Decision::SetAside),
            "keep" => Some(Decision::Keep),
            _ => None,
        })
}

pub(super) fn first_name(name: &str) -> &str {
    name.split_whitespace().next().unwrap_or(name)
}

impl From<(Shot, usize)> for ShotView {
    fn from((shot, number): (Shot, usize)) -> Self {
        Self {
            id: shot.id,
            number,
            block: shot.block_id,
            hit_at: shot.hit_at,
            sources: shot
                .sources
                .into_iter()
                .map(|source| SourceView {
                    id: source.id,
                    device_name: source.device,
                    reading: source.reading,
                })
                .collect(),
            entries: shot
                .entries
                .into_iter()
                .map(|entry| EntryView {
                    entered_at: entry.entered_at,
                    quantity: entry.quantity,
                    si: entry.si,
                })
                .collect(),
            reading: shot.reading,
            strike: shot.marks.iter().rev().find_map(|mark| mark.strike),
            marks: shot.marks.into_iter().map(MarkView::from).collect(),
        }
    }
}
