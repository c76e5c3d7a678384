//! The Hit station: live, the newest shot against its aim.

use crate::guard::compute::compute_at_the_mat;
use crate::http::by_size::by_size;
use crate::http::coach::Coach;
use crate::http::extract::Path;
use crate::http::problem::Problem;
use crate::routes::session::acts::{age_of, build_of};
use crate::routes::session::prepare::DAY;
use crate::routes::session::sessions::{BlockView, SessionView, view_hit};
use crate::routes::session::under_way::UnderWay;
use crate::routes::shots::devices::{DeviceView, serving};
use crate::state::App;
use axum::response::Response;
use chrono::{DateTime, Utc};
use serde::Serialize;
use std::collections::BTreeMap;
use tally_core::session::bag::gapping_advice;
use tally_core::session::hit::{HitReport, Question};
use tally_core::session::last_time::ToBeat;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use tally_core::session::stop::{Stop, StopQuestion, stop};
use tally_core::session::warm_up::effort_cautions;
use tally_core::shots::reading::Reported;
use tally_core::shots::standing::Standing;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use tally_store::shots::session_shots::Shot;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A session under way.
#[derive(Serialize, ToSchema)]
struct HitView {
    session: SessionView,
    /// In hitting order; `report.shots` stands in the same order.
    shots: Vec<LiveShot>,
    report: HitReport,
    /// What last time's session gives to beat: best and average of each shown number.
    to_beat: Vec<ToBeat>,
    /// What stands where full effort is asked for.
    effort_cautions: Vec<&'static str>,
    /// That all-out swings should stop, while the block asks for some and the coach has not
    /// said why they go on.
    stop: Option<Stop>,
    /// What to hit next on the way through the bag.
    advice: Option<Sentence>,
    /// Whether the first all-out block comes without a word of a warm-up.
    asks_for_warm_up: bool,
    /// When that session was.
    last_at: Option<DateTime<Utc>>,
    /// The devices whose shots go to this session.
    devices: Vec<DeviceView>,
}

/// A shot with the values that the station shows.
#[derive(Serialize, ToSchema)]
struct LiveShot {
    id: Uuid,
    block: Uuid,
    hit_at: DateTime<Utc>,
    /// The shown values that it has.
    #[schema(value_type = BTreeMap<String, Reported>)]
    values: BTreeMap<Quantity, Reported>,
    /// Devices that reported it.
    devices: usize,
    /// Latest strike marked on the face, as on a number pad.
    strike: Option<i16>,
    /// Whether a decision of the coach stands, which can be taken back.
    decided: bool,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(hit_session))
}

/// A session under way, as Hit shows it.
#[utoipa::path(get, path = "/sessions/{session}/hit", params(("session" = Uuid, Path)), responses((status = OK, body = HitView), Problem))]
async fn hit_session(coach: Coach, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    by_size(
        coach,
        id,
        move |coach| async move { hit_now(&coach, id).await },
    )
    .await
}

async fn hit_now(coach: &Coach, id: Uuid) -> Result<HitView, Problem> {
    let school = coach.school();
    let (mut viewed, stored) = view_hit(coach, id).await?;
    let session = UnderWay::of(coach.store(), school, stored, &viewed.view.progress).await?;
    viewed.view.shown.clone_from(&session.shown);
    let to_beat = session.last.as_ref();
    let to_beat = to_beat.map_or_else(Vec::new, |(_, last)| last.to_beat.clone());
    let last_at = session.last.as_ref().map(|(at, _)| *at);
    let devices = serving(coach.store(), school, id).await?;
    let age = age_of(&viewed.player);
    let effort_cautions = effort_cautions(age);
    let view = viewed.view;
    let now_all_out = view.in_progress && all_out(view.blocks.get(view.current));
    let to_come = view.blocks.iter().skip(view.current);
    let asks_for_warm_up = view.in_progress
        && view.progress.no_word_of_warm_up()
        && to_come.clone().any(|block| all_out(Some(block)));
    let progress = view.progress.clone();
    let quiet = progress.stopped.is_some() || progress.held.is_some();
    let swung = if now_all_out && !quiet {
        let day = Utc::now() - DAY;
        Some(coach.store().swings_since(school, view.player, day).await?)
    } else {
        None
    };
    let build = build_of(&viewed.player);
    let (shots, report, stop, advice) = compute_at_the_mat(school, move || {
        let (report, stop, advice) = session.told(|question, report| {
            let speeds = all_out_speeds(question, &report);
            let stop = swung.and_then(|swung| {
                stop(&StopQuestion {
                    speeds: &speeds,
                    swung,
                    build,
                    over: &progress.went_over,
                    rules: question.rules,
                })
            });
            let advice = (session.session.purpose == Purpose::BagGapping)
                .then(|| gapping_advice(question, &report))
                .flatten();
            (report, stop, advice)
        });
        (session.shots, report, stop, advice)
    })
    .await?;
    let shots = shots.iter().map(|shot| live(shot, &report.shown));
    Ok(HitView {
        shots: shots.collect(),
        devices,
        session: view,
        report,
        to_beat,
        effort_cautions,
        stop,
        advice,
        asks_for_warm_up,
        last_at,
    })
}

fn all_out(block: Option<&BlockView>) -> bool {
    block.is_some_and(|block| block.plan.full_effort)
}

/// Speeds of the kept all-out swings with the club or implement that is swung now, in hitting order.
fn all_out_speeds(question: &Question<'_>, report: &HitReport) -> Vec<f64> {
    let plans = question.blocks;
    let with = |plan: &PlannedBlock| {
        let swung = plan.swung.as_ref();
        (plan.club, swung.map(|s| (s.implement.clone(), s.side)))
    };
    let now = plans.get(question.current).map(with);
    let kept = question.shots.iter().zip(&report.shots);
    let kept = kept.filter(|(shot, judged)| {
        let plan = plans.get(shot.block);
        let alike = plan.is_some_and(|plan| plan.full_effort && Some(with(plan)) == now);
        alike && judged.standing == Standing::Kept
    });
    kept.filter_map(|(shot, _)| shot.reading.get(Quantity::ClubSpeed))
        .collect()
}

/// A shot with the numbers that its purpose shows.
fn live(shot: &Shot, shown: &[Quantity]) -> LiveShot {
    let marked = shot.marked();
    let value = |&q: &Quantity| Some((q, shot.reading.value(q)?));
    LiveShot {
        id: shot.id,
        block: shot.block_id,
        hit_at: shot.hit_at,
        values: shown.iter().filter_map(value).collect(),
        devices: shot.sources.len(),
        strike: marked.cell,
        decided: marked.decision.is_some(),
    }
}
