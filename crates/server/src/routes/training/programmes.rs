//! A player's programme: laid, looked at, moved.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::routes::session::acts::{age_of, build_of};
use crate::routes::training::plan::{LevelOf, Plan, TrainingDayView};
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::session::warm_up::effort_cautions;
use tally_core::training::calendar::may_move;
use tally_core::training::house_protocols::intent_test_id;
use tally_core::training::programme::{Programme, ProgrammeAct};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::zone::date_in;
use tally_store::StoreError;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A player's programme as it stands.
#[derive(Serialize, ToSchema)]
struct ProgrammeView {
    id: Option<Uuid>,
    programme: Option<Programme>,
    /// What changed its plan, in order.
    acts: Vec<ProgrammeAct>,
    days: Vec<TrainingDayView>,
    /// The level of each protocol that the player trains by.
    levels: Vec<LevelOf>,
    /// Since when a calendar program can read it.
    feed_since: Option<DateTime<Utc>>,
    /// Sessions by protocols, latest first.
    held: Vec<HeldView>,
    /// The protocol of the test of intent.
    intent_test: Uuid,
    /// What stands where full effort is asked for.
    effort_cautions: Vec<&'static str>,
    /// Full-effort swings of seven days, and how many there may be.
    week: [u32; 2],
    /// Whether pain holds training today.
    held_for_pain: bool,
    /// The day it is where the player is.
    today: NaiveDate,
    /// The player's latest benchmark, which a check-in repeats.
    benchmark: Option<Uuid>,
    /// How many a week of the programme asks for: beyond what there may be, some are given up.
    week_asks: u32,
}

/// A session that was held by a protocol.
#[derive(Serialize, ToSchema)]
struct HeldView {
    session: Uuid,
    /// What the protocol is called.
    protocol_name: String,
    /// Place of its level.
    level: i32,
    on: NaiveDate,
    in_progress: bool,
    /// Swings asked for, and made.
    asked: i64,
    made: i64,
}

/// A programme to lay.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewProgramme {
    /// Made by the sender.
    id: Uuid,
    programme: Programme,
}

/// Something that changes the plan.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewProgrammeAct {
    /// Made by the sender.
    id: Uuid,
    act: ProgrammeAct,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(programme, lay_programme))
        .routes(routes!(change_programme))
}

/// A player's programme on its dates, and the level that comes.
#[utoipa::path(get, path = "/players/{player}/programme", params(("player" = Uuid, Path)), responses((status = OK, body = ProgrammeView), Problem))]
async fn programme(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<ProgrammeView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let player = store.player(school, id).await?;
    let plan = Plan::of(store, school, id, Utc::now()).await?;
    let mut trained: Vec<Uuid> = Vec::new();
    let mix = plan
        .programme
        .iter()
        .flat_map(|p| &p.programme.mix)
        .map(|part| part.protocol);
    for protocol in mix.chain(plan.runs.iter().map(|held| held.run.protocol_id)) {
        if !trained.contains(&protocol) {
            trained.push(protocol);
        }
    }
    let age = age_of(&player);
    let rules = store.house_rules(school).await?;
    let day = Utc::now() - crate::routes::session::prepare::DAY;
    let swings = store.swings_since(school, id, day).await?;
    let build = build_of(&player).after(plan.runs.len() as i64, rules.beginner_sessions);
    let held = plan.runs.iter().rev().map(|held| HeldView {
        session: held.run.session_id,
        protocol_name: plan.name_of(held.run.protocol_id),
        level: held.run.level,
        on: date_in(held.started_at, &held.zone),
        in_progress: held.in_progress,
        asked: held.asked,
        made: held.made,
    });
    Ok(Json(ProgrammeView {
        levels: trained
            .iter()
            .filter_map(|protocol| plan.level(*protocol))
            .collect(),
        held: held.collect(),
        feed_since: store.feed_since(school, id).await?,
        intent_test: intent_test_id(),
        effort_cautions: effort_cautions(age),
        week: [swings.week, rules.full_swings_of(build)[1] as u32],
        week_asks: plan.week_asks(),
        held_for_pain: plan.held_for_pain(),
        today: plan.today,
        benchmark: store
            .benchmarks(school, id)
            .await?
            .first()
            .map(|latest| latest.id),
        id: plan.programme.as_ref().map(|stored| stored.id),
        acts: plan
            .programme
            .as_ref()
            .map_or_else(Vec::new, |stored| stored.acts.clone()),
        programme: plan.programme.map(|stored| stored.programme),
        days: plan.days,
    }))
}

/// Lays a programme, in place of the one before.
#[utoipa::path(put, path = "/players/{player}/programme", params(("player" = Uuid, Path)), request_body = NewProgramme, responses((status = NO_CONTENT), Problem))]
async fn lay_programme(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(new): Body<NewProgramme>,
) -> Result<StatusCode, Problem> {
    new.programme.check()?;
    let (store, school) = (coach.store(), coach.school());
    let protocols = store.protocols(school).await?;
    for (at, part) in new.programme.mix.iter().enumerate() {
        if !protocols
            .iter()
            .any(|one| one.id == part.protocol && !one.dropped)
        {
            let problem = "is no protocol of your school";
            let field = format!("mix[{at}].protocol");
            return Err(Invalid::new(field, part.protocol, problem, "choose one that is").into());
        }
    }
    store
        .lay_programme(school, coach.id(), player, new.id, &new.programme)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Moves a session, notes an absence, or ends the programme.
#[utoipa::path(post, path = "/players/{player}/programme/acts", params(("player" = Uuid, Path)), request_body = NewProgrammeAct, responses((status = CREATED), Problem))]
async fn change_programme(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(new): Body<NewProgrammeAct>,
) -> Result<StatusCode, Problem> {
    new.act.check()?;
    let (store, school) = (coach.store(), coach.school());
    let stored = store.programme(school, player).await?;
    let stored = stored.ok_or(StoreError::NotFound("programme"))?;
    if let ProgrammeAct::Move { from, to } = &new.act {
        // A repeated request finds the session where it was to go.
        if stored.acts.contains(&new.act) {
            return Ok(StatusCode::CREATED);
        }
        may_move(&stored.programme, &stored.acts, *from, *to)?;
    }
    store
        .change_programme(school, coach.id(), &stored, new.id, &new.act)
        .await?;
    Ok(StatusCode::CREATED)
}
