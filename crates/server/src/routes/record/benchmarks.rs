//! Named tests of a player: taken from a session, held against later ones.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::routes::record::occasions::{Recorded, names_of, setting};
use crate::routes::shots::balls::{StoredBall, sessions_balls};
use crate::routes::shots::figures::{devices_of, given_by};
use crate::state::App;
use axum::http::StatusCode;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::record::benchmark::{BenchmarkFigure, BenchmarkSetting};
use tally_core::record::figures::FOLLOWED;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::zone::date_in;
use tally_store::record::benchmarks::Benchmark;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A session to make a benchmark of.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewBenchmark {
    /// Made by the sender.
    id: Uuid,
    session: Uuid,
    name: String,
    /// Key of the club, where the session has several.
    club: Option<String>,
    /// The block that it is made of; all of them when it is not given.
    block: Option<Uuid>,
}

/// A benchmark, as it was frozen.
#[derive(Serialize, ToSchema)]
pub struct BenchmarkView {
    id: Uuid,
    /// The session it was taken from; none once that was taken out.
    session: Option<Uuid>,
    name: String,
    club: Club,
    held_on: NaiveDate,
    setting: BenchmarkSetting,
    figures: Vec<BenchmarkFigure>,
    /// What the latest session with the club did otherwise, which is then no repetition.
    otherwise: Option<Sentence>,
}

impl BenchmarkView {
    /// A benchmark, held against nothing yet.
    fn of(benchmark: Benchmark) -> Self {
        BenchmarkView {
            id: benchmark.id,
            session: benchmark.session,
            name: benchmark.name,
            club: benchmark.club,
            held_on: benchmark.held_on,
            setting: benchmark.setting,
            figures: benchmark.figures,
            otherwise: None,
        }
    }
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(make_benchmark))
        .routes(routes!(drop_benchmark))
}

/// Freezes what a session gave.
#[utoipa::path(post, path = "/players/{player}/benchmarks", params(("player" = Uuid, Path)), request_body = NewBenchmark, responses((status = CREATED), Problem))]
async fn make_benchmark(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(new): Body<NewBenchmark>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let name = text_within("name", &new.name, 200)?;
    let club = new.club.map(|key| Club::from_key("club", &key));
    let club = club.transpose()?;
    let session = store.session(school, new.session).await?.0;
    if session.player_id != player {
        let remedy = "choose one of this player's sessions";
        return Err(Invalid::new("session", new.session, "is another player's", remedy).into());
    }
    let rules = store.house_rules(school).await?;
    let club = club.unwrap_or(session.club);
    let held_on = date_in(session.started_at, &session.zone);
    let read = sessions_balls(store, school, vec![session], &rules).await?;
    let Some((session, balls)) = read.into_iter().next() else {
        return Err(Invalid::missing("session", "choose a session with balls").into());
    };
    let of = |stored: &StoredBall| {
        stored.ball.club == club && new.block.is_none_or(|block| stored.block == block)
    };
    let balls: Vec<StoredBall> = balls.into_iter().filter(of).collect();
    let kept = || balls.iter().filter(|stored| stored.ball.kept());
    let figures = FOLLOWED.into_iter().filter_map(|quantity| {
        let values: Vec<f64> = kept()
            .filter_map(|stored| stored.ball.counted(quantity, &rules))
            .collect();
        BenchmarkFigure::of(quantity, &values, rules.interval_level)
    });
    let figures: Vec<BenchmarkFigure> = figures.collect();
    if figures.is_empty() {
        let problem = "has no kept ball with this club to freeze";
        let remedy = "hit or keep some balls first";
        return Err(Invalid::new("session", new.session, problem, remedy).into());
    }
    let names = names_of(store, school).await?;
    let given = given_by(&balls, session.purpose, [], &rules);
    let made = Benchmark {
        id: new.id,
        session: Some(session.id),
        name,
        club,
        held_on,
        setting: setting(&session, &names, &devices_of(&balls), &given, &rules),
        figures,
    };
    store
        .make_benchmark(school, coach.id(), player, made)
        .await?;
    Ok(StatusCode::CREATED)
}

/// Drops a benchmark: nothing is held against it any more.
#[utoipa::path(delete, path = "/players/{player}/benchmarks/{benchmark}", params(("player" = Uuid, Path), ("benchmark" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn drop_benchmark(
    coach: Coach,
    Path((player, benchmark)): Path<(Uuid, Uuid)>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    store.drop_benchmark(school, player, benchmark).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Says of a benchmark what the latest session with its club did otherwise.
pub fn held_against(benchmark: Benchmark, read: &Recorded) -> BenchmarkView {
    let with = |place: &usize| {
        let series = &read.occasions[*place].figures.series;
        series.keys().any(|(_, club, _)| *club == benchmark.club)
    };
    let latest = (0..read.sessions.len()).rev().find(with);
    let later = latest.filter(|place| Some(read.sessions[*place].id) != benchmark.session);
    let otherwise = later.and_then(|place| {
        let corrected = |name: &str| read.corrected.contains(name);
        benchmark
            .setting
            .otherwise(&read.settings[place], corrected)
    });
    BenchmarkView {
        otherwise,
        ..BenchmarkView::of(benchmark)
    }
}
