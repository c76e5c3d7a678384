//! The Decide station of a session: what there is to look at, and what was decided.

use crate::guard::compute::compute;
use crate::http::by_size::by_size;
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::routes::session::read::asked_club;
use crate::routes::session::sessions::{SessionView, view_hit};
use crate::routes::shots::balls::{StoredBall, clubs_of, labelled, looks_of, session_balls};
use crate::routes::shots::figures::figures_of;
use crate::routes::trials::decisions::DecisionView;
use crate::state::App;
use axum::response::Response;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use tally_core::physics::club::Club;
use tally_core::session::purpose::Analysis;
use tally_core::session::read::Counts;
use tally_core::shots::ball::opening_club;
use tally_core::shots::standing::Standing;
use tally_core::trials::compare::{SetProposal, propose_sets};
use tally_core::trials::effort::{EffortQuestion, EffortReport, effort};
use tally_core::trials::hole::{Criterion, Hole};
use tally_core::trials::speed_ladder::{LadderBall, SpeedLadderReport, speed_ladder};
use tally_core::trials::warm_up_effect::{WarmUpReport, warm_up_effect};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::first_name;
use tally_store::Store;
use tally_store::session::sessions::Session;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::routes::trials::hole::HoleAsked;

/// Sessions looked at for a reference maximum.
const LOOKED_AT: i64 = 10;

/// What Decide opens with.
#[derive(Serialize, ToSchema)]
struct DecideView {
    session: SessionView,
    /// In hitting order.
    shots: Vec<DecideShot>,
    counts: Counts,
    /// The clubs that were hit, in the order of the bag.
    clubs: Vec<Club>,
    /// The club looked at unless another is asked for.
    club: Club,
    /// How the purpose is looked at first.
    opens_with: Analysis,
    /// The value that its comparison is decided by.
    quantity: Quantity,
    /// The sets that its blocks make.
    sets: Vec<SetProposal>,
    /// What was decided in this session.
    decisions: Vec<DecisionView>,
}

/// A stroke of the strip.
#[derive(Serialize, ToSchema)]
struct DecideShot {
    id: Uuid,
    block: Uuid,
    standing: Standing,
    #[schema(value_type = BTreeMap<String, f64>)]
    values: BTreeMap<Quantity, f64>,
}

/// Which club's balls are looked at.
#[derive(Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct OfClub {
    /// Key of a club; the one hit most when absent.
    club: Option<String>,
}

/// How an effort ladder is to be looked at.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct EffortAsked {
    /// What the coach looks for; expected strokes when absent.
    criterion: Option<Criterion>,
    /// The hole that strokes are reckoned on; a usual one when absent.
    hole: Option<HoleAsked>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(decide_session))
        .routes(routes!(session_effort))
        .routes(routes!(session_speed_ladder))
        .routes(routes!(session_warm_up_effect))
}

/// A session, as Decide opens.
#[utoipa::path(get, path = "/sessions/{session}/decide", params(("session" = Uuid, Path)), responses((status = OK, body = DecideView), Problem))]
async fn decide_session(coach: Coach, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    by_size(coach, id, move |coach| async move {
        decide_now(&coach, id).await
    })
    .await
}

async fn decide_now(coach: &Coach, id: Uuid) -> Result<DecideView, Problem> {
    let school = coach.school();
    let (viewed, hit) = view_hit(coach, id).await?;
    let rules = coach.store().house_rules(school).await?;
    let balls = session_balls(coach.school(), hit, &rules).await?;
    let (session, stored) = (viewed.view, viewed.session);
    let purpose = stored.purpose;
    let greatest = *session.shown.first().unwrap_or(&purpose.shown()[0]);
    let standing = |wanted| balls.iter().filter(|b| b.ball.standing == wanted).count();
    let hit: Vec<(String, bool)> = session
        .blocks
        .iter()
        .filter(|block| balls.iter().any(|ball| ball.block == block.id))
        .map(|block| (block.plan.known_as(), block.plan.full_effort))
        .collect();
    let decisions = coach.store().decisions(school, stored.player_id).await?;
    let clubs: Vec<Club> = Club::all()
        .filter(|club| balls.iter().any(|b| b.ball.club == *club))
        .collect();
    Ok(DecideView {
        counts: Counts {
            kept: standing(Standing::Kept),
            set_aside: standing(Standing::SetAside),
            doubtful: standing(Standing::Doubtful),
        },
        club: opening_club(stored.club, &clubs_of(&balls)),
        clubs,
        opens_with: purpose.decides_by(),
        quantity: greatest,
        sets: propose_sets(purpose, &hit),
        shots: balls
            .into_iter()
            .map(|stored| DecideShot {
                id: stored.shot,
                block: stored.block,
                standing: stored.ball.standing,
                values: stored
                    .ball
                    .reading
                    .0
                    .into_iter()
                    .map(|(quantity, value)| (quantity, value.si))
                    .collect(),
            })
            .collect(),
        decisions: decisions
            .into_iter()
            .filter(|decision| decision.session_id == Some(id))
            .map(DecisionView::from)
            .collect(),
        session,
    })
}

/// What each felt effort gave and cost in a session.
#[utoipa::path(post, path = "/sessions/{session}/effort", params(("session" = Uuid, Path), OfClub), request_body = EffortAsked, responses((status = OK, body = EffortReport), Problem))]
async fn session_effort(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
    Body(asked): Body<EffortAsked>,
) -> Result<Response, Problem> {
    by_size(coach, id, move |coach| async move {
        effort_now(&coach, id, of, asked).await
    })
    .await
}

async fn effort_now(
    coach: &Coach,
    id: Uuid,
    of: OfClub,
    asked: EffortAsked,
) -> Result<EffortReport, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let hole = match asked.hole {
        Some(hole) => hole.check()?,
        None => Hole::usual(&rules),
    };
    let hit = coach.store().hit_session(school, id).await?;
    let session = hit.session.clone();
    let player = coach.store().player(school, session.player_id).await?;
    let looks = looks_of(&hit);
    let balls = session_balls(coach.school(), hit, &rules).await?;
    let club = chosen(of, &balls, &session)?;
    let reference = fastest_before(coach.store(), school, &session, club, &rules).await?;
    let balls = labelled(balls, club);
    let rules = rules.looked_at(looks, balls.len());
    let report = compute(coach.school(), move || {
        effort(&EffortQuestion {
            player: first_name(&player.name),
            balls: &balls,
            reference,
            criterion: asked.criterion.unwrap_or_default(),
            hole,
            rules,
        })
    })
    .await??;
    Ok(report)
}

/// What each step of club speed was worth in a session.
#[utoipa::path(get, path = "/sessions/{session}/speed-ladder", params(("session" = Uuid, Path), OfClub), responses((status = OK, body = SpeedLadderReport), Problem))]
async fn session_speed_ladder(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
) -> Result<Response, Problem> {
    by_size(coach, id, move |coach| async move {
        speed_ladder_now(&coach, id, of).await
    })
    .await
}

async fn speed_ladder_now(
    coach: &Coach,
    id: Uuid,
    of: OfClub,
) -> Result<SpeedLadderReport, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let hit = coach.store().hit_session(school, id).await?;
    let session = hit.session.clone();
    let looks = looks_of(&hit);
    let balls = session_balls(coach.school(), hit, &rules).await?;
    let club = chosen(of, &balls, &session)?;
    let balls = ladder_balls(balls, club);
    let rules = rules.looked_at(looks, balls.len());
    Ok(compute(coach.school(), move || speed_ladder(&balls, &rules)).await?)
}

/// What warming up did in a session.
#[utoipa::path(get, path = "/sessions/{session}/warm-up-effect", params(("session" = Uuid, Path), OfClub), responses((status = OK, body = WarmUpReport), Problem))]
async fn session_warm_up_effect(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
) -> Result<Response, Problem> {
    by_size(coach, id, move |coach| async move {
        warm_up_effect_now(&coach, id, of).await
    })
    .await
}

async fn warm_up_effect_now(coach: &Coach, id: Uuid, of: OfClub) -> Result<WarmUpReport, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let hit = coach.store().hit_session(school, id).await?;
    let session = hit.session.clone();
    let balls = session_balls(coach.school(), hit, &rules).await?;
    let club = chosen(of, &balls, &session)?;
    let balls = labelled(balls, club);
    Ok(compute(coach.school(), move || warm_up_effect(&balls, &rules)).await?)
}

/// The balls of a club as a speed ladder takes them.
pub fn ladder_balls(balls: Vec<StoredBall>, club: Club) -> Vec<LadderBall> {
    balls
        .into_iter()
        .filter(|stored| stored.ball.club == club)
        .map(|stored| LadderBall {
            label: stored.plan.known_as(),
            target: stored
                .plan
                .target
                .filter(|target| target.quantity == Quantity::ClubSpeed),
            conditions: stored.conditions,
            ball: stored.ball,
        })
        .collect()
}

/// The club that is looked at: the one asked for, or the one the session opens with.
///
/// # Errors
/// A key that names no club.
pub fn chosen(of: OfClub, balls: &[StoredBall], session: &Session) -> Result<Club, Problem> {
    asked_club(of.club, session.club, &clubs_of(balls))
}

/// The player's fastest kept swing with a club in other sessions on record, m/s.
///
/// # Errors
/// The store's.
pub async fn fastest_before(
    store: &Store,
    school: Uuid,
    session: &Session,
    club: Club,
    rules: &HouseRules,
) -> Result<Option<f64>, Problem> {
    let mut others = store
        .sessions_with_club(school, session.player_id, club, None, LOOKED_AT)
        .await?;
    others.retain(|other| other.id != session.id);
    let known = figures_of(store, school, &others, rules).await?;
    let figures = known.into_values().filter_map(|kept| kept.figures);
    let bests = figures.filter_map(|told| Some(told.bests.get(&(club, Quantity::ClubSpeed))?.best));
    Ok(bests.reduce(f64::max))
}
