//! Sessions: begun, shown, changed, given blocks, ended.

use crate::http::coach::Coach;
use crate::http::consent::with_consent;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::routes::session::bag::in_words;
use crate::routes::session::devices_in_use::refuse_if_used;
use crate::routes::session::setting::Setting;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::acts::{Prepared, Progress, SessionAct};
use tally_core::session::notes;
use tally_core::session::plan::{self, PlannedBlock};
use tally_core::session::purpose::Purpose;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::zone::zone;
use tally_store::school::players::Player;
use tally_store::session::blocks::{Block, current};
use tally_store::session::sessions::Session;
use tally_store::shots::hit_sessions::HitSession;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A session in a list.
#[derive(Serialize, ToSchema)]
pub struct ListedSession {
    id: Uuid,
    purpose: String,
    purpose_key: Purpose,
    club: String,
    club_key: Club,
    /// The value that two sessions of this purpose are compared by.
    compared_by: Quantity,
    place: String,
    started_at: DateTime<Utc>,
    zone: String,
    in_progress: bool,
    shots: i64,
}

impl ListedSession {
    pub fn new(session: Session, shots: i64) -> Self {
        Self {
            purpose: session.purpose.label().to_owned(),
            purpose_key: session.purpose,
            club: session.club.label().to_owned(),
            club_key: session.club,
            compared_by: session.purpose.shown()[0],
            place: session.place,
            started_at: session.started_at,
            zone: session.zone,
            in_progress: session.ended_at.is_none(),
            id: session.id,
            shots,
        }
    }
}

/// A session.
#[derive(Serialize, ToSchema)]
pub struct SessionView {
    pub id: Uuid,
    pub player: Uuid,
    pub player_name: String,
    pub left_handed: bool,
    pub purpose: String,
    pub purpose_key: Purpose,
    pub club: String,
    pub club_key: Club,
    /// The club of the player's bag, in words.
    pub bag_club: Option<Sentence>,
    pub ball: BallKind,
    pub place: String,
    /// Whether it is under a roof; not known when absent.
    pub indoors: Option<bool>,
    pub conditions: Conditions,
    /// What the coach noted.
    pub note: String,
    /// What it can be found by.
    pub tags: Vec<String>,
    pub started_at: DateTime<Utc>,
    pub zone: String,
    pub in_progress: bool,
    /// In the order of the plan.
    pub blocks: Vec<BlockView>,
    /// Place of the block that shots go to.
    pub current: usize,
    /// What was done in it beside hitting.
    pub progress: Progress,
    /// The numbers shown while balls are hit, the greatest first.
    pub shown: Vec<Quantity>,
}

/// A block of a session.
#[derive(Serialize, ToSchema)]
pub struct BlockView {
    pub id: Uuid,
    pub label: String,
    /// The label with what it is hit with, where that differs from the session's.
    pub known_as: String,
    /// What is planned for it.
    pub plan: PlannedBlock,
    /// Whether it was begun.
    pub begun: bool,
}

/// A session as it is shown, with the rows it was made of.
pub struct Viewed {
    pub session: Session,
    pub player: Player,
    pub view: SessionView,
}

/// Loads a session as it is shown.
///
/// # Errors
/// The store's.
pub async fn view(coach: &Coach, id: Uuid) -> Result<Viewed, Problem> {
    let (session, blocks) = coach.store().session(coach.school(), id).await?;
    viewed(coach, session, &blocks).await
}

/// Loads a session with what was hit in it, as it is shown.
///
/// # Errors
/// The store's.
pub async fn view_hit(coach: &Coach, id: Uuid) -> Result<(Viewed, HitSession), Problem> {
    let hit = coach.store().hit_session(coach.school(), id).await?;
    let viewed = viewed(coach, hit.session.clone(), &hit.blocks).await?;
    Ok((viewed, hit))
}

async fn viewed(coach: &Coach, session: Session, blocks: &[Block]) -> Result<Viewed, Problem> {
    let id = session.id;
    let player = coach
        .store()
        .player(coach.school(), session.player_id)
        .await?;
    let progress = coach.store().progress(coach.school(), id).await?;
    let bag_club = match session.bag_club_id {
        Some(club) => coach
            .store()
            .bag_club(coach.school(), club)
            .await?
            .map(|c| in_words(&c)),
        None => None,
    };
    let view = SessionView {
        id: session.id,
        player: player.id,
        player_name: player.name.clone(),
        left_handed: player.left_handed,
        purpose: session.purpose.label().to_owned(),
        purpose_key: session.purpose,
        club: session.club.label().to_owned(),
        club_key: session.club,
        bag_club,
        ball: session.ball,
        place: session.place.clone(),
        indoors: session.indoors,
        note: session.note.clone(),
        tags: session.tags(),
        conditions: session.conditions(),
        started_at: session.started_at,
        zone: session.zone.clone(),
        in_progress: session.ended_at.is_none(),
        current: current(blocks),
        blocks: blocks
            .iter()
            .map(|b| BlockView {
                id: b.id,
                label: b.label.clone(),
                known_as: b.plan().known_as(),
                plan: b.plan(),
                begun: b.begun_at.is_some(),
            })
            .collect(),
        shown: progress.shown(session.purpose),
        progress,
    };
    Ok(Viewed {
        session,
        player,
        view,
    })
}

/// A block of a plan with its identifier, made by the sender.
#[derive(Deserialize, ToSchema)]
struct NewPlannedBlock {
    id: Uuid,
    #[serde(flatten)]
    plan: PlannedBlock,
}

/// The blocks to come.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPlan {
    blocks: Vec<NewPlannedBlock>,
}

/// A session to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewSession {
    /// Made by the sender.
    id: Uuid,
    player: Uuid,
    /// Key of a purpose.
    purpose: String,
    /// Key of a club.
    club: String,
    /// The club of the player's bag.
    bag_club: Option<Uuid>,
    setting: Setting,
    /// Name of the time zone.
    zone: String,
    /// Its blocks in order; the first is begun at once.
    blocks: Vec<NewPlannedBlock>,
    /// Devices whose shots go to this session.
    #[serde(default)]
    devices: Vec<Uuid>,
    /// Those of them that may be taken over from a session in which they are used.
    #[serde(default)]
    take_over: Vec<Uuid>,
    /// Values that are not shown in it.
    #[serde(default)]
    hidden: Vec<Quantity>,
    /// The numbers to show, the greatest first; the purpose's when empty.
    #[serde(default)]
    numbers: Vec<Quantity>,
    /// What its test is to be judged by, fixed before a ball is seen.
    #[serde(default)]
    test: Option<JudgedBy>,
}

/// What a test is to be judged by.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct JudgedBy {
    /// The value that decides.
    quantity: Quantity,
    /// The difference that makes none; the house's when absent.
    margin: Option<Given>,
}

impl JudgedBy {
    fn check(&self) -> Result<Prepared, Invalid> {
        let dimension = self.quantity.dimension();
        let margin = self.margin.as_ref().map(|m| m.of(dimension, "test.margin"));
        Ok(Prepared {
            quantity: self.quantity,
            margin: margin.transpose()?,
        })
    }
}

/// A block to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewBlock {
    /// Made by the sender.
    id: Uuid,
    label: String,
}

/// What a coach notes of a session.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SessionNotes {
    #[serde(default)]
    note: String,
    /// What it can be found by.
    #[serde(default)]
    tags: Vec<String>,
}

/// Whether a session goes on.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct GoesOn {
    in_progress: bool,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(begin_session))
        .routes(routes!(session))
        .routes(routes!(save_plan))
        .routes(routes!(add_block))
        .routes(routes!(begin_block, take_back_block))
        .routes(routes!(set_progress))
        .routes(routes!(note_session))
}

/// Begins a session.
#[utoipa::path(post, path = "/sessions", request_body = NewSession, responses((status = CREATED), Problem))]
async fn begin_session(
    coach: Coach,
    State(app): State<App>,
    Body(new): Body<NewSession>,
) -> Result<StatusCode, Problem> {
    let devices = new.devices.clone();
    let all = app.store.for_school(coach.school());
    refuse_if_used(&all, coach.school(), new.id, &new.devices, &new.take_over).await?;
    let acts = new.acts()?;
    for act in &acts {
        act.check()?;
    }
    let (session, blocks) = new.check(Utc::now())?;
    let school = coach.school();
    with_consent(coach.store(), school, session.player_id).await?;
    let archived = coach.store().archived_at(school, session.player_id).await?;
    if archived.is_some() {
        let problem = "is among those who do not come any more";
        let remedy = "bring them back first, on their page";
        return Err(Invalid::new("player", session.player_id, problem, remedy).into());
    }
    if let Some(club) = session.bag_club_id {
        let theirs = coach.store().bag_club(school, club).await?;
        if theirs.is_none_or(|theirs| theirs.player_id != session.player_id) {
            let problem = "is not in this player's bag";
            let remedy = "choose one of the player's clubs, or a kind of club";
            return Err(Invalid::new("bag_club", club, problem, remedy).into());
        }
    }
    coach.store().add_session(school, &session, &blocks).await?;
    for (i, act) in acts.into_iter().enumerate() {
        // The same identifier each time, so that a repeated request is harmless.
        let id = Uuid::from_u128(session.id.as_u128() ^ (i as u128 + 1));
        coach
            .store()
            .record_act(school, session.id, coach.id(), id, &act)
            .await?;
    }
    for id in devices {
        coach.store().send_to(school, id, session.id).await?;
    }
    Ok(StatusCode::CREATED)
}

/// One session.
#[utoipa::path(get, path = "/sessions/{session}", params(("session" = Uuid, Path)), responses((status = OK, body = SessionView), Problem))]
async fn session(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<SessionView>, Problem> {
    Ok(Json(view(&coach, id).await?.view))
}

/// Notes something of a session, and what it can be found by.
#[utoipa::path(put, path = "/sessions/{session}/notes", params(("session" = Uuid, Path)), request_body = SessionNotes, responses((status = NO_CONTENT), Problem))]
async fn note_session(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(given): Body<SessionNotes>,
) -> Result<StatusCode, Problem> {
    let (note, tags) = match (notes::note(&given.note), notes::tags(&given.tags)) {
        (Ok(note), Ok(tags)) => (note, tags),
        (note, tags) => {
            let errors: Vec<Invalid> = note.err().into_iter().chain(tags.err()).collect();
            return Err(errors.into());
        }
    };
    coach
        .store()
        .note_session(coach.school(), id, &note, &tags)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Replaces the blocks that are not begun yet.
#[utoipa::path(put, path = "/sessions/{session}/plan", params(("session" = Uuid, Path)), request_body = NewPlan, responses((status = NO_CONTENT), Problem))]
async fn save_plan(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(plan): Body<NewPlan>,
) -> Result<StatusCode, Problem> {
    let blocks: Vec<_> = plan.blocks.into_iter().map(|b| (b.id, b.plan)).collect();
    let planned: Vec<_> = blocks.iter().map(|(_, plan)| plan.clone()).collect();
    // Nothing to come is a plan too, once a session is under way.
    if !planned.is_empty() {
        plan::check(&planned)?;
    }
    coach.store().save_plan(coach.school(), id, &blocks).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Begins a block that was not planned; new shots go to it.
#[utoipa::path(post, path = "/sessions/{session}/blocks", params(("session" = Uuid, Path)), request_body = NewBlock, responses((status = CREATED), Problem))]
async fn add_block(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(new): Body<NewBlock>,
) -> Result<StatusCode, Problem> {
    let label = text_within("label", &new.label, 100)?;
    coach
        .store()
        .add_block(coach.school(), id, new.id, &label)
        .await?;
    Ok(StatusCode::CREATED)
}

/// Begins a planned block; new shots go to it. A full-effort block is refused while it
/// is held.
#[utoipa::path(post, path = "/sessions/{session}/blocks/{block}/begin", params(("session" = Uuid, Path), ("block" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn begin_block(
    coach: Coach,
    Path((id, block)): Path<(Uuid, Uuid)>,
) -> Result<StatusCode, Problem> {
    coach.store().begin_block(coach.school(), id, block).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes back that the latest block was begun: its shots go to the one before.
#[utoipa::path(delete, path = "/sessions/{session}/blocks/{block}/begin", params(("session" = Uuid, Path), ("block" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn take_back_block(
    coach: Coach,
    Path((id, block)): Path<(Uuid, Uuid)>,
) -> Result<StatusCode, Problem> {
    coach
        .store()
        .take_back_block(coach.school(), id, block)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Ends a session, or takes it up again.
#[utoipa::path(put, path = "/sessions/{session}/progress", params(("session" = Uuid, Path)), request_body = GoesOn, responses((status = NO_CONTENT), Problem))]
async fn set_progress(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(goes_on): Body<GoesOn>,
) -> Result<StatusCode, Problem> {
    let ended_at = (!goes_on.in_progress).then(Utc::now);
    coach
        .store()
        .end_session(coach.school(), id, ended_at)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

impl NewSession {
    /// What is to be done in it beside hitting, as it begins.
    fn acts(&self) -> Result<Vec<SessionAct>, Invalid> {
        let test = self.test.as_ref().map(JudgedBy::check).transpose()?;
        let numbers = (!self.numbers.is_empty()).then(|| SessionAct::Numbers {
            quantities: self.numbers.clone(),
        });
        let hide = |quantity: &Quantity| SessionAct::Hide {
            quantity: *quantity,
        };
        Ok(numbers
            .into_iter()
            .chain(self.hidden.iter().map(hide))
            .chain(test.map(SessionAct::Prepared))
            .collect())
    }

    fn check(self, now: DateTime<Utc>) -> Result<(Session, Vec<Block>), Vec<Invalid>> {
        let mut errors = Vec::new();
        let purpose = Purpose::from_key("purpose", &self.purpose).map_err(|e| errors.push(e));
        let club = Club::from_key("club", &self.club).map_err(|e| errors.push(e));
        let zone = zone("zone", &self.zone).map_err(|e| errors.push(e));
        let plans: Vec<_> = self.blocks.iter().map(|b| b.plan.clone()).collect();
        if let Err(wrong) = plan::check(&plans) {
            errors.extend(wrong);
        }
        // What was refused stands in for nothing: the errors go back instead.
        let purpose = purpose.unwrap_or(Purpose::Benchmark);
        let zone = zone.map_or("UTC", |zone| zone.name());
        let mut session = Session {
            club: club.unwrap_or(Club::Driver),
            bag_club_id: self.bag_club,
            ..Session::begun(self.id, self.player, purpose, zone, now)
        };
        self.setting.check(&mut session, &mut errors);
        if !errors.is_empty() {
            return Err(errors);
        }
        let blocks = self.blocks.iter().zip(0..);
        let blocks = blocks
            .map(|(block, position)| Block::planned(block.id, self.id, position, &block.plan))
            .collect();
        Ok((session, blocks))
    }
}
