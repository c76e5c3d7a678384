//! The Prepare station: what is known of the player, and what the purpose proposes.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::routes::session::acts::{age_of, build_of};
use crate::routes::session::bag::BagClubView;
use crate::routes::shots::balls::{StoredBall, sessions_balls};
use crate::routes::shots::devices::DeviceView;
use crate::routes::shots::figures::figures_of;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::record::benchmark::BenchmarkSetting;
use tally_core::record::figures::usual_and_best;
use tally_core::session::bounds::{Swings, within_bounds};
use tally_core::session::last_time::{LastTime, PastShot, last_time, to_beat_of};
use tally_core::session::plan::{self, Known, PlannedBlock};
use tally_core::session::purpose::{Analysis, Purpose};
use tally_core::session::warm_up::effort_cautions;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::text::text_within;
use tally_store::session::places::Place;
use tally_store::session::plan_templates::PlanTemplate;
use tally_store::session::sessions::Session;
use tally_store::{Store, StoreError};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// What counts as the same day for a body.
pub const DAY: chrono::Duration = chrono::Duration::hours(16);
/// Sessions among which the one to beat is found: an off day may be the latest.
const LOOKED_BACK: usize = 4;
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
    /// The benchmark that is to be repeated.
    benchmark: Option<Uuid>,
}

/// A benchmark that is to be repeated, with the same set-up.
#[derive(Serialize, ToSchema)]
struct Repeats {
    name: String,
    held_on: NaiveDate,
    setting: BenchmarkSetting,
    /// The devices that read it, where the school still has them.
    devices: Vec<Uuid>,
    /// Those that it has no more.
    gone: Vec<String>,
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
    /// Whether that was held to what the bounds of the player's age leave of the day.
    held_to_bounds: bool,
    /// What the player swung today already.
    today: Swings,
    /// What stands where full effort is asked for.
    effort_cautions: Vec<&'static str>,
    /// The benchmark that is to be repeated.
    repeats: Option<Repeats>,
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
    /// Whether a later one was an off day, whose figures are not the ones to beat.
    after_off_day: bool,
}

/// A place.
#[derive(Serialize, ToSchema)]
struct PlaceView {
    name: String,
    /// Height above the sea, m.
    altitude: f64,
    /// Whether it is under a roof; not known when absent.
    indoors: Option<bool>,
}

/// A plan that a coach keeps.
#[derive(Serialize, ToSchema)]
struct TemplateView {
    id: Uuid,
    name: String,
    blocks: Vec<PlannedBlock>,
}

impl From<PlanTemplate> for TemplateView {
    fn from(template: PlanTemplate) -> Self {
        TemplateView {
            id: template.id,
            name: template.name,
            blocks: template.blocks,
        }
    }
}

impl From<Place> for PlaceView {
    fn from(place: Place) -> Self {
        PlaceView {
            name: place.name,
            altitude: place.altitude_m,
            indoors: place.indoors,
        }
    }
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
    let window = windows.into_iter().find(|(of, _)| *of == club);
    let bag = coach.store().bag(school, player.id).await?;
    let (usual_speed, best_speed) = speeds_so_far(&coach, player.id, club, &rules).await?;
    let under_way = match wanted.session {
        Some(id) => Some(coach.store().session(school, id).await?.0),
        None => None,
    };
    let shown = match wanted.session {
        Some(id) => coach.store().progress(school, id).await?.shown(purpose),
        None => purpose.shown().to_vec(),
    };
    let kind = Kind {
        player: player.id,
        purpose,
        club,
        shown: &shown,
        before: under_way.as_ref(),
    };
    let last = last_of(coach.store(), school, &kind, &rules).await?;
    let mut clubs: Vec<Club> = bag.iter().map(|c| c.club).collect();
    clubs.sort();
    clubs.dedup();
    let repeats = match wanted.benchmark {
        Some(id) => Some(benchmark_of(coach.store(), school, player.id, id).await?),
        None => None,
    };
    let mut proposed = plan::propose(
        purpose,
        &Known {
            club,
            bag: &clubs,
            usual_speed,
            best_speed,
            club_length_m: bag
                .iter()
                .rev()
                .find(|c| c.club == club)
                .and_then(|c| c.length_m),
            window: window.map(|(_, window)| window),
            rules: &rules,
        },
    );
    if let Some(repeats) = &repeats {
        // As many balls as stood in it and were set aside, under its own name.
        let balls = repeats.setting.balls + repeats.setting.set_aside;
        let balls = u32::try_from(balls).unwrap_or(u32::MAX);
        proposed = vec![PlannedBlock::new(repeats.name.clone(), balls)];
    }
    let age = age_of(&player);
    let since = Utc::now() - DAY;
    let today = coach.store().swings_since(school, player.id, since).await?;
    let (proposed, held_to_bounds) = within_bounds(proposed, build_of(&player), today, &rules);
    let templates = coach.store().plan_templates(school, purpose).await?;
    let places = coach.store().places(school).await?;
    Ok(Json(Preparation {
        player_name: player.name,
        shown,
        decides_by: purpose.decides_by(),
        usual_speed,
        last,
        proposed,
        held_to_bounds,
        today,
        effort_cautions: effort_cautions(age),
        repeats,
        templates: templates.into_iter().map(TemplateView::from).collect(),
        places: places.into_iter().map(PlaceView::from).collect(),
        bag: bag.into_iter().map(BagClubView::from).collect(),
        devices: crate::routes::shots::devices::listed(coach.store(), school).await?,
    }))
}

/// A benchmark of a player, with the devices it was read by.
async fn benchmark_of(
    store: &Store,
    school: Uuid,
    player: Uuid,
    id: Uuid,
) -> Result<Repeats, Problem> {
    let benchmarks = store.benchmarks(school, player).await?;
    let found = benchmarks.into_iter().find(|benchmark| benchmark.id == id);
    let found = found.ok_or(StoreError::NotFound("benchmark"))?;
    let known = store.devices(school).await?;
    let named = |name: &String| known.iter().find(|device| device.name == *name);
    let (there, gone): (Vec<&String>, Vec<&String>) = found
        .setting
        .devices
        .iter()
        .partition(|name| named(name).is_some());
    Ok(Repeats {
        name: found.name,
        held_on: found.held_on,
        devices: there
            .into_iter()
            .filter_map(|name| Some(named(name)?.id))
            .collect(),
        gone: gone.into_iter().cloned().collect(),
        setting: found.setting,
    })
}

/// The player's usual and best speed with the club, over the sessions last hit with it.
async fn speeds_so_far(
    coach: &Coach,
    player: Uuid,
    club: Club,
    rules: &HouseRules,
) -> Result<(Option<f64>, Option<f64>), Problem> {
    let school = coach.school();
    let past = coach
        .store()
        .sessions_with_club(school, player, club, None, LOOKED_AT)
        .await?;
    let mut known = figures_of(coach.store(), school, &past, rules).await?;
    let figures = past.iter().map(|session| {
        let kept = known.remove(&session.id).unwrap_or_default();
        kept.figures.unwrap_or_default()
    });
    Ok(usual_and_best(&figures.collect::<Vec<_>>(), club))
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
        purpose: Purpose::from_key("purpose", &new.purpose)?,
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

/// Which sessions are of a kind: what was done then can be beaten now.
struct Kind<'a> {
    /// The numbers shown, the greatest first.
    shown: &'a [Quantity],
    player: Uuid,
    purpose: Purpose,
    club: Club,
    /// Only those before this one.
    before: Option<&'a Session>,
}

/// The last session of a kind, by the balls hit with its club.
async fn last_of(
    store: &Store,
    school: Uuid,
    kind: &Kind<'_>,
    rules: &HouseRules,
) -> Result<Option<LastSession>, Problem> {
    let (club, purpose) = (kind.club, kind.purpose);
    let sessions = store
        .sessions_with_club(school, kind.player, club, Some(purpose), LOOKED_AT)
        .await?;
    let earlier: Vec<Session> = sessions
        .into_iter()
        .filter(|s| {
            let earlier = |b: &Session| s.id != b.id && s.started_at <= b.started_at;
            kind.before.is_none_or(earlier)
        })
        .take(LOOKED_BACK)
        .collect();
    let known = figures_of(store, school, &earlier, rules).await?;
    let greatest = kind.shown.iter().find(|q| q.has_best());
    let mean = |session: &Session| {
        let figures = known.get(&session.id)?.figures.as_ref()?;
        Some(figures.bests.get(&(club, *greatest?))?.mean)
    };
    let means: Vec<Option<f64>> = earlier.iter().map(mean).collect();
    let to_beat = to_beat_of(&means, rules);
    let wanted = match to_beat {
        Some(place) => vec![earlier[place].clone()],
        None => earlier,
    };
    // Without the value to beat, the latest that has a ball of the club at all.
    let any = |(_, balls): &(Session, Vec<StoredBall>)| balls.iter().any(|b| b.ball.club == club);
    let read = sessions_balls(store, school, wanted, rules).await?;
    let Some((session, balls)) = read.into_iter().find(any) else {
        return Ok(None);
    };
    let past: Vec<PastShot<'_>> = balls
        .iter()
        .filter(|stored| stored.ball.club == club)
        .map(|stored| PastShot {
            block: &stored.plan.label,
            reading: &stored.ball.reading,
            standing: stored.ball.standing,
        })
        .collect();
    Ok(Some(LastSession {
        told: last_time(kind.shown, &past, rules.interval_level),
        after_off_day: to_beat.is_some_and(|place| means[..place].iter().any(Option::is_some)),
        session: session.id,
        started_at: session.started_at,
        zone: session.zone,
        place: session.place,
    }))
}

/// When the last session before this one, of its purpose and club, was, and what it
/// told in these numbers, the greatest first.
///
/// # Errors
/// The store's.
pub async fn last_before(
    store: &Store,
    school: Uuid,
    session: &Session,
    shown: &[Quantity],
    rules: &HouseRules,
) -> Result<Option<(DateTime<Utc>, LastTime)>, Problem> {
    let kind = Kind {
        player: session.player_id,
        purpose: session.purpose,
        club: session.club,
        shown,
        before: Some(session),
    };
    let last = last_of(store, school, &kind, rules).await?;
    Ok(last.map(|last| (last.started_at, last.told)))
}
