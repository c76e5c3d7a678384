//! What became of a player's values over check-ins, with records, goals and benchmarks.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::benchmarks::{BenchmarkView, held_against};
use crate::routes::record::occasions::{Recorded, asked, recorded};
use crate::state::App;
use axum::extract::State;
use axum::response::Response;
use chrono::{DateTime, Utc};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use tally_core::physics::club::Club;
use tally_core::record::figures::Series;
use tally_core::record::goal::Goal;
use tally_core::record::off_days::{OffDay, off_days};
use tally_core::record::progress::{LevelChange, ProgressRead};
use tally_core::record::records::{RecordOf, StandingRecord, records};
use tally_core::record::series::{SeriesChoice, SeriesKey, choices, follow};
use tally_core::record::went::{Steps, WentTold, where_it_went};
use tally_core::session::warm_up::Readiness;
use tally_core::shots::swung::Swung;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::record::benchmarks::Benchmark;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Which series is looked at; what is left out is chosen.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Wanted {
    /// Key of a club.
    club: Option<String>,
    /// What was swung without a ball, as it stands in the choices, in JSON.
    swung: Option<String>,
    /// Key of a value.
    quantity: Option<String>,
    /// How it was swung.
    series: Option<Series>,
}

/// A player's record.
#[derive(Serialize, ToSchema)]
struct RecordView {
    /// What can be looked at, the first first.
    choices: Vec<SeriesChoice>,
    /// What is looked at; nothing while no session tells of anything.
    shown: Option<RecordShown>,
    /// The sessions that days and records name by their places.
    sessions: Vec<RecordedSession>,
    /// The best of each value by club, then by implement, side and position.
    records: Vec<StandingRecord>,
    /// The benchmarks in use, latest first.
    benchmarks: Vec<BenchmarkView>,
}

/// A series, looked at.
#[derive(Serialize, ToSchema)]
struct RecordShown {
    choice: SeriesChoice,
    progress: ProgressRead,
    /// The other values of the same balls: what changed since the start.
    beside: Vec<BesideChange>,
    /// Where the speed went.
    went: WentTold,
    /// The latest off days, looked into.
    off_days: Vec<OffDay>,
}

/// Another value of the same balls.
#[derive(Serialize, ToSchema)]
struct BesideChange {
    quantity: Quantity,
    /// Mean of the first day and of the last.
    means: [f64; 2],
    change: Option<LevelChange>,
}

/// A session of the record.
#[derive(Serialize, ToSchema)]
struct RecordedSession {
    id: Uuid,
    started_at: DateTime<Utc>,
    zone: String,
    purpose: &'static str,
    place: String,
    /// The records that were set in it.
    set: Vec<RecordOf>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(player_record))
}

/// What became of a player over time.
#[utoipa::path(get, path = "/players/{player}/record", params(("player" = Uuid, Path), Wanted), responses((status = OK, body = RecordView), Problem))]
async fn player_record(
    State(app): State<App>,
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(wanted): Query<Wanted>,
) -> Result<Response, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let rules = store.house_rules(school).await?;
    let goals = store.goals(school, player).await?;
    let benchmarks = store.benchmarks(school, player).await?;
    let question = format!("{wanted:?} {goals:?} {benchmarks:?}");
    let asked = asked(&coach, player, &rules, question).await?;
    let view = record_view(&coach, player, wanted, rules, goals, benchmarks);
    app.answers.kept_or(asked, view).await
}

async fn record_view(
    coach: &Coach,
    player: Uuid,
    wanted: Wanted,
    rules: HouseRules,
    goals: Vec<tally_store::record::goals::Goal>,
    benchmarks: Vec<Benchmark>,
) -> Result<RecordView, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let club = wanted.club.map(|key| Club::from_key("club", &key));
    let club = club.transpose()?;
    let quantity = wanted
        .quantity
        .map(|key| Quantity::from_key("quantity", &key));
    let quantity = quantity.transpose()?;
    let swung = wanted.swung.as_deref().map(serde_json::from_str::<Swung>);
    let swung = swung.transpose().map_err(|_| {
        let remedy = "take it as it stands among the choices";
        Invalid::new(
            "swung",
            wanted.swung.unwrap_or_default(),
            "is no swing",
            remedy,
        )
    })?;
    let read = recorded(store, school, player, &rules).await?;
    let choices = choices(&read.occasions);
    let fits = |choice: &&SeriesChoice| {
        let key = &choice.key;
        swung.as_ref().is_none_or(|_| key.swung == swung)
            && club.is_none_or(|club| key.club == Some(club))
            && quantity.is_none_or(|quantity| key.quantity == quantity)
            && wanted.series.is_none_or(|series| key.series == series)
    };
    let chosen = choices.iter().find(fits).cloned();
    let goal_of = |key: &SeriesKey| {
        let of = |g: &&tally_store::record::goals::Goal| {
            (Some(g.club), g.quantity) == (key.club, key.quantity)
        };
        goals.iter().find(of).map(|goal| Goal {
            value: goal.value,
            by: goal.by_day,
        })
    };
    let goal = chosen.as_ref().and_then(|choice| goal_of(&choice.key));
    let benchmark = chosen.as_ref().and_then(|choice| {
        let of = benchmarks.iter().find(|b| Some(b.club) == choice.key.club);
        let session = of?.session?;
        read.sessions.iter().position(|s| s.id == session)
    });
    let views = benchmarks.into_iter().map(|b| held_against(b, &read));
    let views = views.collect();
    // The implement that most sessions tell of: choices stand in that order.
    let mut swings = choices.iter().filter(|choice| choice.key.swung.is_some());
    let implement = swings.next().map(|choice| choice.key.clone());
    let mut answered = store.readiness_of(school, player).await?;
    let sessions = read.sessions.iter();
    let readiness: Vec<Option<Readiness>> = sessions
        .map(|session| answered.remove(&session.id))
        .collect();
    let (shown, records, read) = compute(school, move || {
        let wanted = |choice| Look {
            choice,
            implement,
            goal,
            benchmark,
        };
        let shown = chosen.map(|choice| look(&read, wanted(choice), &readiness, &rules));
        (shown, records(&read.occasions), read)
    })
    .await?;
    let set_in = |place: usize| {
        let set = records.iter().filter(|r| r.record.set_in.contains(&place));
        set.map(|r| r.of.clone()).collect()
    };
    let sessions = read.sessions.into_iter().enumerate();
    let sessions = sessions.map(|(place, session)| RecordedSession {
        id: session.id,
        started_at: session.started_at,
        zone: session.zone,
        purpose: session.purpose.label(),
        place: session.place,
        set: set_in(place),
    });
    Ok(RecordView {
        choices,
        shown,
        sessions: sessions.collect(),
        records,
        benchmarks: views,
    })
}

/// Values whose change is told beside the one looked at.
const BESIDE: [Quantity; 5] = [
    Quantity::ClubSpeed,
    Quantity::BallSpeed,
    Quantity::SmashFactor,
    Quantity::SpinRate,
    Quantity::Carry,
];

/// What is looked at, and what it is held against.
struct Look {
    choice: SeriesChoice,
    implement: Option<SeriesKey>,
    goal: Option<Goal>,
    benchmark: Option<usize>,
}

fn look(
    read: &Recorded,
    wanted: Look,
    readiness: &[Option<Readiness>],
    rules: &HouseRules,
) -> RecordShown {
    let Look {
        choice,
        implement,
        goal,
        benchmark,
    } = wanted;
    let shown = choice.key.clone();
    let club = shown.club;
    let hit = |series, quantity| club.map(|club| SeriesKey::hit(series, club, quantity));
    let beside = BESIDE.map(|quantity| hit(shown.series, quantity));
    let went = [
        implement,
        hit(Series::AllOut, Quantity::ClubSpeed),
        hit(Series::Usual, Quantity::ClubSpeed),
        hit(Series::Usual, Quantity::BallSpeed),
        hit(Series::Usual, Quantity::SmashFactor),
        hit(Series::Usual, Quantity::Carry),
    ];
    let mut wanted: Vec<SeriesKey> = beside.iter().chain(&went).flatten().cloned().collect();
    wanted.retain(|key| *key != shown);
    wanted.sort();
    wanted.dedup();
    let others = wanted.into_par_iter().map(|key| {
        let told = follow(&read.occasions, &key, None, None, rules);
        (key, told)
    });
    let (progress, others) = rayon::join(
        || follow(&read.occasions, &shown, goal, benchmark, rules),
        || others.collect::<BTreeMap<SeriesKey, ProgressRead>>(),
    );
    let of = |key: &Option<SeriesKey>| {
        let key = key.as_ref()?;
        let told = match *key == shown {
            true => Some(&progress),
            false => others.get(key),
        };
        told.filter(|told| !told.days.is_empty())
    };
    let [implement, all_out, usual, ball_speed, smash, carry] = went.each_ref().map(of);
    let steps = Steps {
        implement,
        all_out,
        usual,
        ball_speed,
        smash,
        carry,
    };
    let went = club.map(|club| where_it_went(&steps, club, rules));
    let beside = beside.iter().filter(|key| key.as_ref() != Some(&shown));
    let beside = beside.filter_map(|key| {
        let other = of(key)?;
        Some(BesideChange {
            quantity: other.quantity,
            means: [other.days.first()?.mean, other.days.last()?.mean],
            change: other.changes.first().cloned(),
        })
    });
    RecordShown {
        choice,
        beside: beside.collect(),
        went: went.unwrap_or_default(),
        off_days: off_days(&progress, readiness),
        progress,
    }
}
