//! The Prepare station: what is known of the player, and what the purpose proposes.

use super::bag::BagClubView;
use super::compute;
use super::devices::DeviceView;
use super::read::as_asked;
use crate::app::App;
use crate::coach::Coach;
use crate::extract::{Body, Path, Query};
use crate::problem::Problem;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::club::Club;
use tally_core::house_rules::HouseRules;
use tally_core::invalid::text_within;
use tally_core::last_time::{LastTime, PastShot, last_time};
use tally_core::plan::{self, Known, PlannedBlock};
use tally_core::purpose::{Analysis, Purpose};
use tally_core::quantity::Quantity;
use tally_core::read::{Standing, standing};
use tally_core::reading::Reading;
use tally_store::Store;
use tally_store::blocks::Block;
use tally_store::plan_templates::PlanTemplate;
use tally_store::sessions::Session;
use tally_store::shots::Shot;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Sessions looked at for a usual and a best speed.
const LOOKED_AT: i64 = 10;

/// What a session is to be for.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Wanted {
    /// Key of a purpose.
    purpose: String,
    /// Key of a club.
    club: String,
    /// The session that is under way already: last time was before it.
    session: Option<Uuid>,
}

/// What Prepare shows.
#[derive(Serialize, ToSchema)]
struct Preparation {
    player_name: String,
    /// The numbers that the purpose shows.
    shown: Vec<Quantity>,
    /// What its Decide station opens with.
    decides_by: Analysis,
    /// Usual club speed with the club, m/s.
    usual_speed: Option<f64>,
    /// The last session of this purpose with this club.
    last: Option<LastSession>,
    /// What the purpose proposes.
    proposed: Vec<PlannedBlock>,
    /// The coach's own plans for the purpose.
    templates: Vec<TemplateView>,
    /// Places used before, the latest first.
    places: Vec<PlaceView>,
    /// The clubs of the player's bag.
    bag: Vec<BagClubView>,
    /// The school's devices.
    devices: Vec<DeviceView>,
}

/// The last session of a kind.
#[derive(Serialize, ToSchema)]
struct LastSession {
    session: Uuid,
    started_at: DateTime<Utc>,
    zone: String,
    place: String,
    told: LastTime,
}

/// A place.
#[derive(Serialize, ToSchema)]
struct PlaceView {
    name: String,
    /// Height above the sea, m.
    altitude: f64,
}

/// A plan that a coach keeps.
#[derive(Serialize, ToSchema)]
struct TemplateView {
    id: Uuid,
    name: String,
    blocks: Vec<PlannedBlock>,
}

/// A plan to keep.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewTemplate {
    /// Made by the sender.
    id: Uuid,
    name: String,
    /// Key of the purpose it is for.
    purpose: String,
    blocks: Vec<PlannedBlock>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(prepare))
        .routes(routes!(save_plan_template))
        .routes(routes!(forget_plan_template))
}

/// What is known before a session begins, and what its purpose proposes.
#[utoipa::path(get, path = "/players/{player}/prepare", params(("player" = Uuid, Path), Wanted), responses((status = OK, body = Preparation), Problem))]
async fn prepare(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(wanted): Query<Wanted>,
) -> Result<Json<Preparation>, Problem> {
    let school = coach.school();
    let purpose = Purpose::from_key("purpose", &wanted.purpose)?;
    let club = Club::from_key("club", &wanted.club)?;
    let player = coach.store().player(school, player).await?;
    let rules = coach.store().house_rules(school).await?;
    let windows = coach.store().target_windows(school, player.id).await?;
    let window = windows.into_iter().find(|(key, _)| *key == wanted.club);
    let bag = coach.store().bag(school, player.id).await?;
    let past = coach
        .store()
        .sessions_with_club(school, player.id, &wanted.club, LOOKED_AT)
        .await?;
    let mut speeds = Vec::new();
    for session in &past {
        let shots = coach.store().session_shots(school, session.id).await?;
        speeds.push(kept_speeds(session, club, &shots, &rules));
    }
    let mean = |speeds: &Vec<f64>| speeds.iter().sum::<f64>() / speeds.len() as f64;
    let usual_speed = speeds.iter().find(|s| !s.is_empty()).map(mean);
    let best_speed = speeds.iter().flatten().copied().reduce(f64::max);
    let under_way = match wanted.session {
        Some(id) => Some(coach.store().session(school, id).await?.0),
        None => None,
    };
    let before = under_way.as_ref();
    let last = last_like(
        coach.store(),
        school,
        player.id,
        purpose,
        club,
        before,
        &rules,
    )
    .await?;
    let mut clubs: Vec<Club> = bag
        .iter()
        .filter_map(|c| Club::from_key("club", &c.club).ok())
        .collect();
    clubs.sort();
    clubs.dedup();
    let proposed = plan::propose(
        purpose,
        &Known {
            club,
            bag: &clubs,
            usual_speed,
            best_speed,
            window: window.map(|(_, window)| window),
            rules: &rules,
        },
    );
    let templates = coach.store().plan_templates(school, purpose.key()).await?;
    let places = coach.store().places(school).await?;
    Ok(Json(Preparation {
        player_name: player.name,
        shown: purpose.shown().to_vec(),
        decides_by: purpose.decides_by(),
        usual_speed,
        last,
        proposed,
        templates: templates
            .into_iter()
            .map(|t| TemplateView {
                id: t.id,
                name: t.name,
                blocks: t.blocks,
            })
            .collect(),
        places: places
            .into_iter()
            .map(|p| PlaceView {
                name: p.name,
                altitude: p.altitude_m,
            })
            .collect(),
        bag: bag.into_iter().map(BagClubView::from).collect(),
        devices: super::devices::listed(coach.store(), school).await?,
    }))
}

/// Keeps a plan, in place of one of the same name for the same purpose.
#[utoipa::path(post, path = "/plan-templates", request_body = NewTemplate, responses((status = CREATED), Problem))]
async fn save_plan_template(
    coach: Coach,
    Body(new): Body<NewTemplate>,
) -> Result<StatusCode, Problem> {
    let kept = PlanTemplate {
        id: new.id,
        name: text_within("name", &new.name, 100)?,
        purpose: Purpose::from_key("purpose", &new.purpose)?.key().to_owned(),
        blocks: new.blocks,
    };
    plan::check(&kept.blocks)?;
    coach
        .store()
        .save_plan_template(coach.school(), &kept)
        .await?;
    Ok(StatusCode::CREATED)
}

/// Forgets a plan.
#[utoipa::path(delete, path = "/plan-templates/{template}", params(("template" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn forget_plan_template(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach
        .store()
        .forget_plan_template(coach.school(), id)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Club speeds of the kept shots of a session, m/s.
fn kept_speeds(session: &Session, club: Club, shots: &[Shot], rules: &HouseRules) -> Vec<f64> {
    as_asked(shots)
        .iter()
        .filter(|shot| standing(shot, club, &session.conditions(), rules) == Standing::Kept)
        .filter_map(|shot| shot.reading.get(Quantity::ClubSpeed))
        .collect()
}

/// The player's last session of a purpose with a club, before another one.
async fn last_like(
    store: &Store,
    school: Uuid,
    player: Uuid,
    purpose: Purpose,
    club: Club,
    before: Option<&Session>,
    rules: &HouseRules,
) -> Result<Option<LastSession>, Problem> {
    let sessions = store
        .sessions_with_club(school, player, club.key(), LOOKED_AT)
        .await?;
    let found = sessions.into_iter().find(|s| {
        s.purpose == purpose.key()
            && before.is_none_or(|b| s.id != b.id && s.started_at <= b.started_at)
    });
    let Some(session) = found else {
        return Ok(None);
    };
    let (session, blocks) = store.session(school, session.id).await?;
    let shots = store.session_shots(school, session.id).await?;
    let rules = *rules;
    let conditions = session.conditions();
    let told = compute(move || {
        let asked = as_asked(&shots);
        let past: Vec<PastShot<'_>> = shots
            .iter()
            .zip(&asked)
            .map(|(shot, asked)| PastShot {
                block: label_of(&blocks, shot.block_id),
                reading: &asked.reading as &Reading,
                standing: standing(asked, club, &conditions, &rules),
            })
            .collect();
        last_time(purpose, &past, rules.interval_level)
    })
    .await;
    Ok(Some(LastSession {
        session: session.id,
        started_at: session.started_at,
        zone: session.zone,
        place: session.place,
        told,
    }))
}

/// When the last session before this one, of its purpose and club, was, and what it
/// told.
pub async fn last_before(
    store: &Store,
    school: Uuid,
    session: &Session,
    rules: &HouseRules,
) -> Result<Option<(DateTime<Utc>, LastTime)>, Problem> {
    let purpose = Purpose::from_key("purpose", &session.purpose)?;
    let club = Club::from_key("club", &session.club)?;
    let player = session.player_id;
    let last = last_like(store, school, player, purpose, club, Some(session), rules).await?;
    Ok(last.map(|last| (last.started_at, last.told)))
}

fn label_of(blocks: &[Block], id: Uuid) -> &str {
    blocks
        .iter()
        .find(|block| block.id == id)
        .map_or("", |block| &block.label)
}
