//! Sessions held by a protocol: begun, under way, and what they gave.

use crate::guard::compute::compute_at_the_mat;
use crate::http::coach::Coach;
use crate::http::consent::with_consent;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::routes::record::occasions::recorded;
use crate::routes::session::acts::{age_of, build_of};
use crate::routes::session::devices_in_use::refuse_if_used;
use crate::routes::session::prepare::DAY;
use crate::routes::session::sessions::{SessionView, view_hit};
use crate::routes::shots::devices::{DeviceView, serving};
use crate::routes::training::implements::driver_kg;
use crate::routes::training::plan::{Plan, TrainingDayView};
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::session::bounds::Swings;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use tally_core::session::stop::{Stop, StopQuestion, stop};
use tally_core::session::warm_up::effort_cautions;
use tally_core::shots::swung::Swung;
use tally_core::training::after::{AfterQuestion, AfterRun, after, to_beat_next};
use tally_core::training::calendar::{DayFor, DayState};
use tally_core::training::protocol::{Protocol, SetOf, kneeling_caution};
use tally_core::training::run::{
    Earlier, LastBest, RunOf, RunQuestion, RunReport, RunSwing, beside_usual, run,
};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::zone::{date_in, zone};
use tally_store::Store;
use tally_store::session::blocks::Block;
use tally_store::session::sessions::Session;
use tally_store::training::runs::Run;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A session to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewRun {
    /// Made by the sender: the session's.
    id: Uuid,
    protocol: Uuid,
    /// Place of its level; the one that the player is at when it is not given.
    level: Option<usize>,
    /// Place of the programme's session that it is.
    place: Option<usize>,
    /// Name of the time zone.
    zone: String,
}

/// A training session under way, or over.
#[derive(Serialize, ToSchema)]
struct RunView {
    session: SessionView,
    /// What it is held by.
    by: Option<HeldBy>,
    report: RunReport,
    /// What it gave so far.
    after: AfterRun,
    /// What stands where full effort is asked for.
    cautions: Vec<&'static str>,
    /// What to think of before the implements are swung.
    concerns: Vec<Sentence>,
    /// That all-out swings should stop.
    stop: Option<Stop>,
    /// Whether all-out swings come without a word of a warm-up.
    asks_for_warm_up: bool,
    /// Swings of the day and of seven days.
    swung: Swings,
    /// The player's next session.
    next: Option<NextSession>,
    /// The devices whose readings come to it.
    devices: Vec<DeviceView>,
    /// Least and most that a reading can be, m/s.
    range: [f64; 2],
}

/// By which protocol a session is held.
#[derive(Serialize, ToSchema)]
struct HeldBy {
    protocol: Uuid,
    protocol_name: String,
    level: i32,
    level_name: String,
    /// Whether half of each set was asked.
    lighter: bool,
}

/// The session that comes after this one.
#[derive(Serialize, ToSchema)]
struct NextSession {
    date: NaiveDate,
    title: String,
    /// What there is to beat in its first all-out set: what it is called, and by how much.
    to_beat: Option<ToBeatNext>,
}

/// A figure to beat next time.
#[derive(Serialize, ToSchema)]
struct ToBeatNext {
    label: String,
    #[serde(flatten)]
    last: LastBest,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(begin_run))
        .routes(routes!(run_under_way))
}

/// Begins a session of a protocol where and as the last one was held.
#[utoipa::path(post, path = "/players/{player}/runs", params(("player" = Uuid, Path)), request_body = NewRun, responses((status = CREATED), Problem))]
async fn begin_run(
    coach: Coach,
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewRun>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let now = Utc::now();
    zone("zone", &new.zone)?;
    let player = store.player(school, id).await?;
    if store.run_of(school, new.id).await?.is_some() {
        return Ok(StatusCode::CREATED);
    }
    with_consent(store, school, id).await?;
    if store.archived_at(school, id).await?.is_some() {
        let problem = "is among those who do not come any more";
        let remedy = "bring them back first, on their page";
        return Err(Invalid::new("player", id, problem, remedy).into());
    }
    let plan = Plan::of(store, school, id, now).await?;
    let protocol = store.protocol(school, new.protocol).await?.protocol;
    let level = match new.level {
        Some(level) if level < protocol.levels.len() => level,
        Some(level) => {
            let remedy = format!("give 0 to {}", protocol.levels.len() - 1);
            return Err(Invalid::new("level", level, "is no level of it", remedy).into());
        }
        None => plan.level(new.protocol).map_or(0, |level| level.now.level),
    };
    let of_today = |day: &&TrainingDayView| {
        let here = DayFor::Protocol {
            protocol: new.protocol,
        };
        day.state == DayState::Today && day.day.day_for == here
    };
    // What is planned for today is held, also when it was begun from elsewhere.
    let day = match new.place {
        Some(place) => plan.days.iter().find(|day| day.day.place == place),
        None => plan.days.iter().find(of_today),
    };
    if plan.held_for_pain() {
        let detail = "training is held for pain; say on the player’s Programme that they are back, once those who may judge it agree";
        return Err(Problem::new(StatusCode::CONFLICT, "Held for pain", detail));
    }
    with_implements(store, school, id, &protocol, level).await?;
    let rules = store.house_rules(school).await?;
    let swung = store.swings_since(school, id, now - DAY).await?;
    let build = build_of(&player).after(plan.runs.len() as i64, rules.beginner_sessions);
    let lighter = day.is_some_and(|day| day.day.lighter);
    let (blocks, _) = protocol.blocks(level, lighter, build, swung, &rules);
    let mut session = like_the_last(store, school, id).await?;
    let before = session.id;
    session.id = new.id;
    session.purpose = protocol.purpose(level);
    session.started_at = now;
    session.zone.clone_from(&new.zone);
    let blocks: Vec<Block> = blocks
        .iter()
        .zip(0..)
        .map(|(plan, position)| Block::planned(Uuid::now_v7(), new.id, position, plan))
        .collect();
    store.add_session(school, &session, &blocks).await?;
    store
        .save_run(
            school,
            &Run {
                session_id: new.id,
                protocol_id: new.protocol,
                level: level as i32,
                lighter,
                programme_id: day.and(plan.programme.as_ref()).map(|stored| stored.id),
                place: day.map(|day| day.day.place as i32),
            },
        )
        .await?;
    take_devices(&coach, &app, before, new.id).await?;
    Ok(StatusCode::CREATED)
}

/// Refuses a level that swings what nobody has.
async fn with_implements(
    store: &Store,
    school: Uuid,
    player: Uuid,
    protocol: &Protocol,
    level: usize,
) -> Result<(), Problem> {
    let there = store.implements(school, Some(player)).await?;
    let mut errors: Vec<Invalid> = Vec::new();
    for set in &protocol.levels[level].sets {
        let SetOf::Swings { implement, .. } = &set.of else {
            continue;
        };
        let known = there.iter().any(|one| one.implement.name == *implement);
        if !known && !errors.iter().any(|error| error.value == *implement) {
            let problem = "is not among the implements of this player or the school";
            let remedy = "add it under Programmes, with its mass, or choose another protocol";
            errors.push(Invalid::new("implement", implement, problem, remedy));
        }
    }
    if errors.is_empty() {
        Ok(())
    } else {
        Err(errors.into())
    }
}

/// A session like the player's last one: its place and weather, or the school's last place.
/// Without any, the air of the reference and a place that is not known.
async fn like_the_last(store: &Store, school: Uuid, player: Uuid) -> Result<Session, Problem> {
    let last = store
        .player_sessions(school, player)
        .await?
        .into_iter()
        .next();
    let last = match last {
        Some((session, _)) => Some(session),
        None => store.latest_sessions(school, 1).await?.pop(),
    };
    let zone = "UTC";
    let fresh = || Session {
        place: "Not noted".to_owned(),
        ..Session::begun(Uuid::nil(), player, Purpose::Training, zone, Utc::now())
    };
    let last = last.unwrap_or_else(fresh);
    Ok(Session {
        player_id: player,
        club: Club::Driver,
        bag_club_id: None,
        import_id: None,
        ended_at: None,
        note: String::new(),
        tags: serde_json::json!([]),
        ..last
    })
}

/// Lets the devices of the session before, where nobody uses them now, send to this one.
async fn take_devices(
    coach: &Coach,
    app: &App,
    before: Uuid,
    session: Uuid,
) -> Result<(), Problem> {
    let (store, school) = (coach.store(), coach.school());
    let all = app.store.for_school(school);
    for device in store.devices(school).await? {
        let free = refuse_if_used(&all, school, session, &[device.id], &[])
            .await
            .is_ok();
        if device.session_id == Some(before) && !device.practice && free {
            store.send_to(school, device.id, session).await?;
        }
    }
    Ok(())
}

/// What is computed of a session under way, with what it was held against.
type Told = (RunReport, AfterRun, Option<Stop>, Vec<Earlier>);

/// A training session as the run shows it: the set that is on, what to beat, what it gave.
#[utoipa::path(get, path = "/sessions/{session}/run", params(("session" = Uuid, Path)), responses((status = OK, body = RunView), Problem))]
async fn run_under_way(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<RunView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let (viewed, hit) = view_hit(&coach, id).await?;
    let rules = store.house_rules(school).await?;
    let (session, player) = (viewed.view, viewed.player);
    let plan = Plan::of(store, school, player.id, Utc::now()).await?;
    let recorded = recorded(store, school, player.id, &rules).await?;
    let held_by = store.run_of(school, id).await?;
    let age = age_of(&player);
    let build = build_of(&player).after(plan.runs.len() as i64 - 1, rules.beginner_sessions);
    let swung = store
        .swings_since(school, player.id, Utc::now() - DAY)
        .await?;
    let devices = serving(store, school, id).await?;
    let plans: Vec<PlannedBlock> = session.blocks.iter().map(|b| b.plan.clone()).collect();
    let progress = session.progress.clone();
    let skipped: Vec<usize> = (0..plans.len())
        .filter(|at| progress.skips(session.blocks[*at].id))
        .collect();
    let place = |block: Uuid| session.blocks.iter().position(|b| b.id == block);
    let swings: Vec<RunSwing> = hit
        .shots
        .iter()
        .filter_map(|shot| {
            Some(RunSwing {
                shot: shot.id,
                set: place(shot.block_id)?,
                speed: shot.reading.get(Quantity::ClubSpeed),
                ball: shot.reading.get(Quantity::BallSpeed),
                decision: shot.marked().decision,
                at: shot.hit_at,
            })
        })
        .collect();
    let before = recorded.sessions.iter().zip(&recorded.occasions);
    let before = before.filter(|(s, _)| s.id != id && s.started_at < hit.session.started_at);
    let earlier: Vec<Earlier> = before.map(|(_, occasion)| Earlier::of(occasion)).collect();
    let (club, current) = (session.club_key, session.current);
    let held = progress.held.is_some() || progress.stopped.is_some();
    let name = player.name.split(' ').next().unwrap_or_default().to_owned();
    let may_stop = session.in_progress && !held;
    let over = progress.went_over.clone();
    let sets = plans.clone();
    let told: Told = compute_at_the_mat(school, move || {
        let question = RunQuestion {
            sets: &sets,
            current,
            club,
            skipped: &skipped,
            held,
            swings: &swings,
            earlier: &earlier,
            rules: &rules,
        };
        let report = run(&question);
        let comes_full = report.now.is_some_and(|now| report.sets[now].full);
        let stop = (may_stop && comes_full).then(|| {
            stop(&StopQuestion {
                speeds: &beside_usual(&question, &report),
                swung,
                build,
                over: &over,
                rules: &rules,
            })
        });
        let after = after(&AfterQuestion {
            player: &name,
            run: &report,
            week: swung.week,
            week_most: rules.full_swings_of(build)[1],
            rules: &rules,
        });
        (report, after, stop.flatten(), earlier)
    })
    .await?;
    let (report, after, stop, earlier) = told;
    let mut cautions = effort_cautions(age);
    cautions.extend(kneeling_caution(&plans));
    let full_comes = report.now.is_some_and(|now| {
        report.sets[now..]
            .iter()
            .any(|set| set.full && set.done < set.asked)
    });
    let by = held_by.as_ref().map(|held| HeldBy {
        protocol: held.protocol_id,
        protocol_name: plan.name_of(held.protocol_id),
        level: held.level,
        level_name: level_name(&plan, held),
        lighter: held.lighter,
    });
    Ok(Json(RunView {
        asks_for_warm_up: session.in_progress && full_comes && progress.no_word_of_warm_up(),
        concerns: concerns(store, school, player.id, &plans).await?,
        next: next(&plan, &session, held_by.as_ref(), &earlier, &after),
        devices,
        range: {
            let range = Quantity::ClubSpeed.range();
            [*range.start(), *range.end()]
        },
        by,
        session,
        report,
        after,
        cautions,
        stop,
        swung,
    }))
}

fn level_name(plan: &Plan, held: &Run) -> String {
    let protocol = plan.protocols.iter().find(|one| one.id == held.protocol_id);
    let level = protocol.and_then(|one| one.protocol.levels.get(held.level.max(0) as usize));
    level.map_or_else(String::new, |level| level.name.clone())
}

/// What to think of before these implements are swung.
async fn concerns(
    store: &Store,
    school: Uuid,
    player: Uuid,
    plans: &[PlannedBlock],
) -> Result<Vec<Sentence>, Problem> {
    let swung: Vec<&Swung> = plans
        .iter()
        .filter_map(|plan| plan.swung.as_ref())
        .collect();
    if swung.is_empty() {
        return Ok(vec![]);
    }
    let rules = store.house_rules(school).await?;
    let driver = driver_kg(store, school, player).await?;
    let there = store.implements(school, Some(player)).await?;
    let used = there
        .iter()
        .filter(|one| swung.iter().any(|s| s.implement == one.implement.name));
    Ok(used
        .filter_map(|one| one.implement.concern(driver, &rules))
        .collect())
}

/// The player's next session, with what there is to beat in its first all-out set.
fn next(
    plan: &Plan,
    session: &SessionView,
    held: Option<&Run>,
    earlier: &[Earlier],
    after: &AfterRun,
) -> Option<NextSession> {
    let place = held.and_then(|held| held.place);
    let comes = |day: &&TrainingDayView| {
        let later = place.is_none_or(|place| day.day.place as i32 > place);
        later && day.session != Some(session.id) && day.state == DayState::ToCome
    };
    let day = plan.days.iter().find(comes)?;
    let block = match day.day.day_for {
        DayFor::CheckIn => None,
        DayFor::Protocol { protocol } => first_all_out(plan, protocol),
    };
    let today = date_in(session.started_at, &session.zone);
    let to_beat = block.and_then(|block| {
        let of = RunOf::set(&block, Club::Driver);
        Some(ToBeatNext {
            last: to_beat_next(after, earlier, &of, today)?,
            label: block.label,
        })
    });
    Some(NextSession {
        date: day.day.date,
        title: day.title.clone(),
        to_beat,
    })
}

/// The first all-out set of a protocol's next session.
fn first_all_out(plan: &Plan, protocol: Uuid) -> Option<PlannedBlock> {
    let level = plan.level(protocol)?.now.level;
    let stored = plan.protocols.iter().find(|one| one.id == protocol)?;
    let mut sets = stored.protocol.levels.get(level)?.sets.iter();
    sets.find(|set| set.full()).map(|set| set.block())
}
