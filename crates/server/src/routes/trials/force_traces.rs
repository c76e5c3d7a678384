//! Traces of a force session: before and after, brought in from a table, and marked by hand.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::download::download;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use chrono::NaiveDate;
use serde::Serialize;
use std::collections::{BTreeMap, HashMap};
use tally_core::school::audited::Audited;
use tally_core::shots::mark::Decision;
use tally_core::shots::trace::{Marks, Trace, TraceChannel};
use tally_core::trials::force_traces::{EarlierTraces, ForceTraces, TraceSet, force_traces};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::zone::date_in;
use tally_formats::trace_csv::{read_traces, write_traces};
use tally_store::session::sessions::Session;
use tally_store::shots::hit_sessions::HitSession;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Earlier sessions that are looked through for traces.
const LOOKED_BACK: usize = 5;
/// Largest table of traces, bytes.
const LARGEST_TABLE: usize = 32 << 20;
/// Samples of a trace that is drawn to be marked, at most.
const DRAWN: usize = 800;

/// The traces of a session.
#[derive(Serialize, ToSchema)]
struct TracesView {
    /// The mean traces of the first and the last block; absent without a trace with an impact.
    told: Option<ForceTraces>,
    /// Every trace, in hitting order.
    traces: Vec<TraceRow>,
}

/// A trace that is kept.
#[derive(Serialize, ToSchema)]
struct TraceRow {
    shot: Uuid,
    /// The shot's number in the session, from 1.
    number: usize,
    /// Its block.
    block: String,
    /// Whether impact is marked in it.
    marked: bool,
}

/// A trace to look at and to mark.
#[derive(Serialize, ToSchema)]
struct TraceView {
    /// Time between two of the samples shown, s.
    every_s: f64,
    /// From the first sample to the last, s.
    length_s: f64,
    marks: Marks,
    /// Its channels.
    #[schema(value_type = BTreeMap<String, Vec<f64>>)]
    channels: BTreeMap<TraceChannel, Vec<f64>>,
}

/// What became of a table of traces.
#[derive(Serialize, ToSchema)]
struct TracesBrought {
    /// Traces that are kept now.
    kept: usize,
    /// What is not, and why, named by its shot and its first line.
    refused: Vec<Invalid>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(session_traces, bring_traces))
        .routes(routes!(export_traces))
        .routes(routes!(trace_of_shot))
        .routes(routes!(mark_trace))
}
/// The traces of a session, and the means of its first and last block with their peaks.
#[utoipa::path(get, path = "/sessions/{session}/traces", params(("session" = Uuid, Path)), responses((status = OK, body = TracesView), Problem))]
async fn session_traces(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<TracesView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let rules = store.house_rules(school).await?;
    let hit = store.hit_session(school, id).await?;
    let traces = store.traces_of(school, id).await?;
    let earlier = match traces.is_empty() {
        true => None,
        false => earlier_of(&coach, &hit.session).await?,
    };
    let told = compute(school, move || {
        let (sets, rows) = sets_of(&hit, traces);
        let earlier = earlier.map(|(then, traces)| EarlierTraces {
            on: [day_of(&then.session), day_of(&hit.session)],
            sets: sets_of(&then, traces).0,
        });
        TracesView {
            told: force_traces(&sets, earlier.as_ref(), &rules),
            traces: rows,
        }
    })
    .await?;
    Ok(Json(told))
}

fn day_of(session: &Session) -> NaiveDate {
    date_in(session.started_at, &session.zone)
}

/// The latest session of the same purpose before this one that has traces.
async fn earlier_of(
    coach: &Coach,
    session: &Session,
) -> Result<Option<(HitSession, Vec<(Uuid, Trace)>)>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let all = store.player_sessions(school, session.player_id).await?;
    let earlier = all.into_iter().map(|(earlier, _)| earlier);
    let earlier = earlier.filter(|earlier| {
        earlier.purpose == session.purpose && earlier.started_at < session.started_at
    });
    for then in earlier.take(LOOKED_BACK) {
        let traces = store.traces_of(school, then.id).await?;
        if !traces.is_empty() {
            return Ok(Some((store.hit_session(school, then.id).await?, traces)));
        }
    }
    Ok(None)
}

/// The traces of a session block by block, without those set aside, and all of them by shot.
fn sets_of(hit: &HitSession, traces: Vec<(Uuid, Trace)>) -> (Vec<TraceSet>, Vec<TraceRow>) {
    let mut of_shot: HashMap<Uuid, Trace> = traces.into_iter().collect();
    let (mut sets, mut rows): (Vec<TraceSet>, _) = (Vec::new(), Vec::new());
    for (i, shot) in hit.shots.iter().enumerate() {
        let (Some(trace), Some(block)) = (of_shot.remove(&shot.id), hit.block_of(shot)) else {
            continue;
        };
        let label = block.plan().known_as();
        rows.push(TraceRow {
            shot: shot.id,
            number: i + 1,
            block: label.clone(),
            marked: trace.marks.impact_s.is_some(),
        });
        if shot.marked().decision == Some(Decision::SetAside) {
            continue;
        }
        match sets.iter_mut().find(|set| set.label == label) {
            Some(set) => set.traces.push(trace),
            None => sets.push(TraceSet {
                label,
                traces: vec![trace],
            }),
        }
    }
    (sets, rows)
}

/// The traces of a session as a table: a row for each sample.
#[utoipa::path(get, path = "/sessions/{session}/traces.csv", params(("session" = Uuid, Path)), responses((status = OK, body = String, content_type = "text/csv"), Problem))]
async fn export_traces(coach: Coach, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let hit = store.hit_session(school, id).await?;
    let traces = store.traces_of(school, id).await?;
    let about = format!("{} traces of a session", traces.len());
    let player = Some(hit.session.player_id);
    store
        .note(school, coach.id(), Audited::Export, player, &about)
        .await?;
    let table = compute(school, move || {
        let of_shot: HashMap<Uuid, Trace> = traces.into_iter().collect();
        let numbered = hit.shots.iter().enumerate();
        write_traces(numbered.filter_map(|(i, shot)| Some((i + 1, of_shot.get(&shot.id)?))))
    })
    .await?;
    Ok(download(table.into(), "text/csv; charset=utf-8", "traces.csv").into_response())
}

/// Brings in a table of traces: a row for each sample.
#[utoipa::path(post, path = "/sessions/{session}/traces", params(("session" = Uuid, Path)), request_body(content = String, content_type = "text/csv"), responses((status = OK, body = TracesBrought), Problem))]
async fn bring_traces(
    coach: Coach,
    Path(id): Path<Uuid>,
    table: axum::body::Body,
) -> Result<Json<TracesBrought>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let table = text_of(table).await?;
    let hit = store.hit_session(school, id).await?;
    let shots: Vec<Uuid> = hit.shots.iter().map(|shot| shot.id).collect();
    let player = store.player(school, hit.session.player_id).await?;
    let read = compute(school, move || {
        let read = read_traces(&table)?;
        let mass = match (read.newtons, player.mass_kg) {
            (true, None) => {
                let remedy = "note it on the player's page, or give forces in % of body weight";
                return Err(Invalid::new(
                    "mass",
                    "",
                    "of the player is not known",
                    remedy,
                ));
            }
            (true, mass) => mass,
            (false, _) => None,
        };
        let traces = read.traces.into_iter();
        let taken = traces.map(|of| {
            let shot = shots.get(of.shot - 1).copied().ok_or_else(|| {
                let problem = format!("is not among the {} shots of the session", shots.len());
                let remedy = "number the shots as they were hit, from 1";
                Invalid::new(format!("shot, line {}", of.line), of.shot, problem, remedy)
            })?;
            Ok((shot, of.taken(mass)?))
        });
        Ok::<_, Invalid>(taken.collect::<Vec<Result<(Uuid, Trace), Invalid>>>())
    })
    .await??;
    let mut refused = Vec::new();
    let mut good = Vec::new();
    for of in read {
        match of {
            Ok(of) => good.push(of),
            Err(why) => refused.push(why),
        }
    }
    let numbers: Vec<Uuid> = good.iter().map(|(shot, _)| *shot).collect();
    let stored = store.store_traces(school, id, good).await?;
    let mut kept = 0;
    for (shot, stored) in numbers.into_iter().zip(stored) {
        match stored {
            Ok(()) => kept += 1,
            Err(why) => {
                let place = hit.shots.iter().position(|of| of.id == shot);
                let number = place.map_or(0, |place| place + 1);
                let remedy = "nothing is to be done: the trace that was there stays";
                refused.push(Invalid::new("shot", number, why.to_string(), remedy));
            }
        }
    }
    Ok(Json(TracesBrought { kept, refused }))
}

/// The text of a table, where it is none too large.
async fn text_of(table: axum::body::Body) -> Result<String, Invalid> {
    let bytes = axum::body::to_bytes(table, LARGEST_TABLE)
        .await
        .map_err(|_| {
            let problem = format!("is larger than {} MB", LARGEST_TABLE >> 20);
            Invalid::new(
                "table",
                "",
                problem,
                "bring it in in parts, or leave out what is not the swing",
            )
        })?;
    String::from_utf8(bytes.into()).map_err(|_| {
        Invalid::new(
            "table",
            "",
            "is no text in UTF-8",
            "save it as CSV in UTF-8",
        )
    })
}

/// The trace of one shot, to look at and to mark.
#[utoipa::path(get, path = "/sessions/{session}/traces/{shot}", params(("session" = Uuid, Path), ("shot" = Uuid, Path)), responses((status = OK, body = TraceView), Problem))]
async fn trace_of_shot(
    coach: Coach,
    Path((session, shot)): Path<(Uuid, Uuid)>,
) -> Result<Json<TraceView>, Problem> {
    let trace = coach
        .store()
        .trace_of(coach.school(), (session, shot))
        .await?;
    let every = |values: &Vec<f64>| values.len().div_ceil(DRAWN).max(1);
    let step = trace.channels.values().map(every).max().unwrap_or(1);
    Ok(Json(TraceView {
        every_s: step as f64 / trace.rate_hz,
        length_s: trace.length_s(),
        channels: trace
            .channels
            .iter()
            .map(|(channel, values)| (*channel, values.iter().step_by(step).copied().collect()))
            .collect(),
        marks: trace.marks,
    }))
}

/// Marks impact and checkpoints in the trace of a shot, in place of what was marked.
#[utoipa::path(put, path = "/sessions/{session}/traces/{shot}/marks", params(("session" = Uuid, Path), ("shot" = Uuid, Path)), request_body = Marks, responses((status = NO_CONTENT), Problem))]
async fn mark_trace(
    coach: Coach,
    Path(of): Path<(Uuid, Uuid)>,
    Body(marks): Body<Marks>,
) -> Result<StatusCode, Problem> {
    coach.store().mark_trace(coach.school(), of, marks).await?;
    Ok(StatusCode::NO_CONTENT)
}
