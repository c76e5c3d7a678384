//! What became of a player's values over check-ins, with records, goals and benchmarks.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::benchmarks::{BenchmarkView, held_against};
use crate::routes::record::occasions::{Recorded, recorded};
use crate::state::App;
use axum::Json;
use chrono::{DateTime, Utc};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::record::goal::Goal;
use tally_core::record::progress::{LevelChange, ProgressRead};
use tally_core::record::records::{Record, record};
use tally_core::record::series::{Series, SeriesChoice, choices, follow};
use tally_core::record::went::where_it_went;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Which series is looked at; what is left out is chosen.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Wanted {
    /// Key of a club.
    club: Option<String>,
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
    /// Where the speed went, when it did not reach the ball.
    went: Option<Sentence>,
    /// The best of each value with this club, whatever it was hit for.
    records: Vec<RecordOf>,
}

/// Another value of the same balls.
#[derive(Serialize, ToSchema)]
struct BesideChange {
    quantity: Quantity,
    /// Mean of the first day and of the last.
    means: [f64; 2],
    change: Option<LevelChange>,
}

/// A record of one value.
#[derive(Serialize, ToSchema)]
struct RecordOf {
    quantity: Quantity,
    record: Record,
}

/// A session of the record.
#[derive(Serialize, ToSchema)]
struct RecordedSession {
    id: Uuid,
    started_at: DateTime<Utc>,
    zone: String,
    purpose: &'static str,
    place: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(player_record))
}

/// What became of a player over time.
#[utoipa::path(get, path = "/players/{player}/record", params(("player" = Uuid, Path), Wanted), responses((status = OK, body = RecordView), Problem))]
async fn player_record(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(wanted): Query<Wanted>,
) -> Result<Json<RecordView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let club = wanted.club.map(|key| Club::from_key("club", &key));
    let club = club.transpose()?;
    let quantity = wanted
        .quantity
        .map(|key| Quantity::from_key("quantity", &key));
    let quantity = quantity.transpose()?;
    let rules = store.house_rules(school).await?;
    let goals = store.goals(school, player).await?;
    let benchmarks = store.benchmarks(school, player).await?;
    let read = recorded(store, school, player, &rules).await?;
    let choices = choices(&read.occasions);
    let fits = |choice: &&SeriesChoice| {
        club.is_none_or(|club| choice.club == club)
            && quantity.is_none_or(|quantity| choice.quantity == quantity)
            && wanted.series.is_none_or(|series| choice.series == series)
    };
    let chosen = choices.iter().find(fits).copied();
    let goal_of = |choice: SeriesChoice| {
        let of = |g: &&tally_store::record::goals::Goal| {
            (g.club, g.quantity) == (choice.club, choice.quantity)
        };
        goals.iter().find(of).map(|goal| Goal {
            value: goal.value,
            by: goal.by_day,
        })
    };
    let goal = chosen.and_then(goal_of);
    let benchmark = chosen.and_then(|choice| {
        let of = benchmarks.iter().find(|b| b.club == choice.club);
        let session = of?.session?;
        read.sessions.iter().position(|s| s.id == session)
    });
    let views = benchmarks.into_iter().map(|b| held_against(b, &read));
    let views = views.collect();
    let (shown, read) = compute(school, move || {
        let shown = chosen.map(|choice| look(&read, choice, goal, benchmark, &rules));
        (shown, read)
    })
    .await?;
    let sessions = read.sessions.into_iter().map(|session| RecordedSession {
        id: session.id,
        started_at: session.started_at,
        zone: session.zone,
        purpose: session.purpose.label(),
        place: session.place,
    });
    Ok(Json(RecordView {
        choices,
        shown,
        sessions: sessions.collect(),
        benchmarks: views,
    }))
}

/// Values whose change is told beside the one looked at.
const BESIDE: [Quantity; 5] = [
    Quantity::ClubSpeed,
    Quantity::BallSpeed,
    Quantity::SmashFactor,
    Quantity::SpinRate,
    Quantity::Carry,
];

fn look(
    read: &Recorded,
    choice: SeriesChoice,
    goal: Option<Goal>,
    benchmark: Option<usize>,
    rules: &tally_core::verdicts::house_rules::HouseRules,
) -> RecordShown {
    let of = |quantity: Quantity, goal: Option<Goal>| {
        let key = (choice.series, choice.club, quantity);
        follow(&read.occasions, key, goal, benchmark, rules)
    };
    let others: Vec<ProgressRead> = BESIDE
        .into_par_iter()
        .filter(|quantity| *quantity != choice.quantity)
        .map(|quantity| of(quantity, None))
        .collect();
    let progress = of(choice.quantity, goal);
    let told = |quantity: Quantity| {
        std::iter::once(&progress)
            .chain(&others)
            .find(|progress| progress.quantity == quantity)
    };
    let went = [Quantity::ClubSpeed, Quantity::SmashFactor, Quantity::Carry].map(told);
    let went = match went {
        [Some(speed), Some(smash), Some(carry)] => where_it_went(speed, smash, carry),
        _ => None,
    };
    let beside = others.iter().filter_map(|other| {
        Some(BesideChange {
            quantity: other.quantity,
            means: [other.days.first()?.mean, other.days.last()?.mean],
            change: other.changes.first().cloned(),
        })
    });
    let records = read.kept.iter().filter_map(|((club, quantity), sessions)| {
        let wanted = *club == choice.club && quantity.has_best();
        let record = wanted.then(|| record(sessions, quantity.dimension().grain()));
        Some(RecordOf {
            quantity: *quantity,
            record: record.flatten()?,
        })
    });
    RecordShown {
        choice,
        beside: beside.collect(),
        went,
        records: records.collect(),
        progress,
    }
}
