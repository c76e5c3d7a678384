//! The Decide station of a session: what there is to look at, and what was decided.

use super::compute;
use super::decisions::DecisionView;
use super::read::first_name;
use super::sessions::{SessionView, view};
use crate::app::App;
use crate::balls::{labelled, session_balls};
use crate::coach::Coach;
use crate::extract::{Body, Path, Query};
use crate::problem::Problem;
use axum::Json;
use futures_util::future::try_join_all;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use tally_core::club::Club;
use tally_core::compare::{SetProposal, propose_sets};
use tally_core::effort::{EffortQuestion, EffortReport, effort};
use tally_core::hole::{Criterion, Hole};
use tally_core::house_rules::HouseRules;
use tally_core::purpose::{Analysis, Purpose};
use tally_core::quantity::Quantity;
use tally_core::read::{Counts, Standing};
use tally_core::speed_ladder::{LadderBall, SpeedLadderReport, speed_ladder};
use tally_core::warm_up_effect::{WarmUpReport, warm_up_effect};
use tally_store::Store;
use tally_store::sessions::Session;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::hole::HoleAsked;

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
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct OfClub {
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
async fn decide_session(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<DecideView>, Problem> {
    let school = coach.school();
    let (stored, session) = view(&coach, id).await?;
    let (_, blocks) = coach.store().session(school, id).await?;
    let rules = coach.store().house_rules(school).await?;
    let purpose = Purpose::from_key("purpose", &stored.purpose)?;
    let balls = session_balls(coach.store(), school, &stored, blocks, &rules, 0).await?;
    let standing = |wanted| balls.iter().filter(|b| b.ball.standing == wanted).count();
    let hit: Vec<(String, bool)> = session
        .blocks
        .iter()
        .filter(|block| balls.iter().any(|ball| ball.block == block.id))
        .map(|block| (block.label.clone(), block.plan.full_effort))
        .collect();
    let decisions = coach.store().decisions(school, stored.player_id).await?;
    let own = Club::from_key("club", &stored.club)?;
    let clubs: Vec<Club> = Club::all()
        .filter(|club| balls.iter().any(|b| b.ball.club == *club))
        .collect();
    Ok(Json(DecideView {
        counts: Counts {
            kept: standing(Standing::Kept),
            set_aside: standing(Standing::SetAside),
            doubtful: standing(Standing::Doubtful),
        },
        club: most_hit(&balls.iter().map(|b| b.ball.club).collect::<Vec<_>>(), own),
        clubs,
        opens_with: purpose.decides_by(),
        quantity: purpose.shown()[0],
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
    }))
}

/// What each felt effort gave and cost in a session.
#[utoipa::path(post, path = "/sessions/{session}/effort", params(("session" = Uuid, Path), OfClub), request_body = EffortAsked, responses((status = OK, body = EffortReport), Problem))]
async fn session_effort(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
    Body(asked): Body<EffortAsked>,
) -> Result<Json<EffortReport>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let hole = match asked.hole {
        Some(hole) => hole.check()?,
        None => Hole::usual(&rules),
    };
    let (session, blocks) = coach.store().session(school, id).await?;
    let player = coach.store().player(school, session.player_id).await?;
    let balls = session_balls(coach.store(), school, &session, blocks, &rules, 0).await?;
    let clubs: Vec<Club> = balls.iter().map(|b| b.ball.club).collect();
    let club = chosen(of, &clubs, &session)?;
    let reference = fastest(coach.store(), school, &session, club, &rules).await?;
    let balls = labelled(balls, club);
    let report = compute(move || {
        effort(&EffortQuestion {
            player: first_name(&player.name),
            balls: &balls,
            reference,
            criterion: asked.criterion.unwrap_or_default(),
            hole,
            rules,
        })
    })
    .await?;
    Ok(Json(report))
}

/// What each step of club speed was worth in a session.
#[utoipa::path(get, path = "/sessions/{session}/speed-ladder", params(("session" = Uuid, Path), OfClub), responses((status = OK, body = SpeedLadderReport), Problem))]
async fn session_speed_ladder(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
) -> Result<Json<SpeedLadderReport>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let (session, blocks) = coach.store().session(school, id).await?;
    let balls = session_balls(coach.store(), school, &session, blocks, &rules, 0).await?;
    let clubs: Vec<Club> = balls.iter().map(|b| b.ball.club).collect();
    let club = chosen(of, &clubs, &session)?;
    let balls: Vec<LadderBall> = balls
        .into_iter()
        .filter(|stored| stored.ball.club == club)
        .map(|stored| LadderBall {
            label: stored.plan.label.clone(),
            target: stored
                .plan
                .target
                .filter(|target| target.quantity == Quantity::ClubSpeed),
            conditions: stored.conditions,
            ball: stored.ball,
        })
        .collect();
    Ok(Json(compute(move || speed_ladder(&balls, &rules)).await))
}

/// What warming up did in a session.
#[utoipa::path(get, path = "/sessions/{session}/warm-up-effect", params(("session" = Uuid, Path), OfClub), responses((status = OK, body = WarmUpReport), Problem))]
async fn session_warm_up_effect(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(of): Query<OfClub>,
) -> Result<Json<WarmUpReport>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let (session, blocks) = coach.store().session(school, id).await?;
    let balls = session_balls(coach.store(), school, &session, blocks, &rules, 0).await?;
    let clubs: Vec<Club> = balls.iter().map(|b| b.ball.club).collect();
    let balls = labelled(balls, chosen(of, &clubs, &session)?);
    Ok(Json(compute(move || warm_up_effect(&balls, &rules)).await))
}

fn chosen(of: OfClub, clubs: &[Club], session: &Session) -> Result<Club, Problem> {
    Ok(match of.club {
        Some(key) => Club::from_key("club", &key)?,
        None => most_hit(clubs, Club::from_key("club", &session.club)?),
    })
}

/// The session's own club when it was hit, or else the one hit most.
fn most_hit(clubs: &[Club], own: Club) -> Club {
    let times = |club: Club| clubs.iter().filter(|c| **c == club).count();
    if clubs.is_empty() || times(own) > 0 {
        return own;
    }
    Club::all().max_by_key(|club| times(*club)).unwrap_or(own)
}

/// The player's fastest kept swing with a club on record, m/s.
async fn fastest(
    store: &Store,
    school: Uuid,
    session: &Session,
    club: Club,
    rules: &HouseRules,
) -> Result<Option<f64>, Problem> {
    let sessions = store
        .sessions_with_club(school, session.player_id, club.key(), LOOKED_AT)
        .await?;
    let speeds = sessions
        .into_iter()
        .filter(|other| other.id != session.id)
        .map(|other| async move {
            let (other, blocks) = store.session(school, other.id).await?;
            let balls = session_balls(store, school, &other, blocks, rules, 0).await?;
            let speeds = balls
                .iter()
                .filter(|b| b.ball.kept() && b.ball.club == club)
                .filter_map(|b| b.ball.reading.get(Quantity::ClubSpeed));
            Ok::<_, Problem>(speeds.reduce(f64::max))
        });
    let best = try_join_all(speeds).await?;
    Ok(best.into_iter().flatten().reduce(f64::max))
}
