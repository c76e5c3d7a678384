//! What a session is opened with: the sentence of its purpose.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::shots::balls::{StoredBall, looks_of, session_balls, sessions_balls, swings_in};
use crate::routes::trials::comparisons::latest_gap;
use crate::routes::trials::decide::{OfClub, chosen, fastest_before, ladder_balls};
use crate::state::App;
use axum::Json;
use tally_core::physics::club::Club;
use tally_core::shots::ball::Ball;
use tally_core::statistics::summary::{Summary, summarise};
use tally_core::trials::opening::{Opening, OpeningQuestion, opening};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::first_name;
use tally_store::session::sessions::Session;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Sessions looked through for the one before.
const LOOKED_THROUGH: i64 = 10;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(session_opening))
}

/// What a session says to its purpose, with bests of swings without a ball.
#[utoipa::path(get, path = "/sessions/{session}/opening", params(("session" = Uuid, Path), OfClub), responses((status = OK, body = Opening), Problem))]
async fn session_opening(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
) -> Result<Json<Opening>, Problem> {
    Ok(Json(opening_of(&coach, id, of).await?))
}

/// What a session says to its purpose.
///
/// # Errors
/// The store's, and for a club that was not hit.
pub async fn opening_of(coach: &Coach, id: Uuid, of: OfClub) -> Result<Opening, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let rules = store.house_rules(school).await?;
    let hit = store.hit_session(school, id).await?;
    let session = hit.session.clone();
    let player = store.player(school, session.player_id).await?;
    let full: Vec<(String, bool)> = hit
        .blocks
        .iter()
        .filter(|block| hit.shots.iter().any(|shot| shot.block_id == block.id))
        .map(|block| (block.plan().known_as(), block.plan().full_effort))
        .collect();
    let looks = looks_of(&hit);
    let progress = store.progress(school, id).await?;
    let shown = progress.shown(session.purpose);
    let swings = swings_in(&hit, &rules);
    let balls = session_balls(coach.school(), hit, &rules).await?;
    let club = chosen(of, &balls, &session)?;
    let reference = fastest_before(store, school, &session, club, &rules).await?;
    let club_gap = latest_gap(store, school, session.player_id, &rules).await?;
    let last = last_time(coach, &session, club, &rules).await?;
    let windows = store.target_windows(school, session.player_id).await?;
    let window = windows.into_iter().find(|(of, _)| *of == club);
    let window = window.map(|(_, window)| window);
    let told = compute(coach.school(), move || {
        let bag: Vec<Ball> = balls.iter().map(|stored| stored.ball.clone()).collect();
        let conditions = session.conditions();
        let balls = ladder_balls(balls, club);
        opening(&OpeningQuestion {
            player: first_name(&player.name),
            purpose: session.purpose,
            shown: &shown,
            club,
            conditions,
            balls: &balls,
            bag: &bag,
            full: &full,
            swings: &swings,
            last,
            window,
            reference,
            club_gap,
            looks,
            prepared: progress.prepared,
            rules,
        })
    })
    .await?;
    Ok(told)
}

/// The mean of the session before with the same purpose and club: club speed, or carry
/// where there is none.
async fn last_time(
    coach: &Coach,
    session: &Session,
    club: Club,
    rules: &HouseRules,
) -> Result<Option<Summary>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let purpose = Some(session.purpose);
    let before = store
        .sessions_with_club(school, session.player_id, club, purpose, LOOKED_THROUGH)
        .await?;
    let last = before
        .into_iter()
        .find(|s| s.started_at < session.started_at);
    let hit = sessions_balls(store, school, last.into_iter().collect(), rules).await?;
    let balls: Vec<StoredBall> = hit.into_iter().flat_map(|(_, balls)| balls).collect();
    let of = |quantity| {
        let kept = balls.iter().map(|stored| &stored.ball);
        let kept = kept.filter(|ball| ball.kept() && ball.club == club);
        let values: Vec<f64> = kept.filter_map(|b| b.counted(quantity, rules)).collect();
        summarise(&values, rules.interval_level)
    };
    Ok(of(Quantity::ClubSpeed).or_else(|| of(Quantity::Carry)))
}
