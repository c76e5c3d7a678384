//! The API, one file a capability.
//!
//! A file imports only from folders to its left: [`shots`] ← [`reach`] ← [`session`] ←
//! [`trials`] ← [`record`] ← [`training`] ← [`school`].

mod description;
pub(crate) mod reach;
pub(crate) mod record;
pub(crate) mod report;
pub(crate) mod school;
pub(crate) mod session;
pub(crate) mod shots;
pub(crate) mod training;
pub(crate) mod trials;

use crate::http::problem::Problem;
use crate::state::App;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;

#[derive(OpenApi)]
#[openapi(
    components(schemas(Problem)),
    info(
        title = "Amber Tally",
        description = "All values are in internal units: m/s, m, deg, rpm, s. Times are UTC. \
                   Identifiers are UUIDs made by whoever creates a thing (version 7 wanted), \
                   so that repeating a request is harmless."
    )
)]
struct Description;

/// Every route, with its description.
fn api() -> OpenApiRouter<App> {
    let v1 = OpenApiRouter::new()
        .merge(school::sign_in::routes())
        .merge(school::account::routes())
        .merge(school::script_tokens::routes())
        .merge(school::people::routes())
        .merge(school::privacy::routes())
        .merge(school::links::routes())
        .merge(school::schools::routes())
        .merge(school::vocabulary::routes())
        .merge(school::players::routes())
        .merge(session::bag::routes())
        .merge(session::prepare::routes())
        .merge(session::sessions::routes())
        .merge(session::setting::routes())
        .merge(session::acts::routes())
        .merge(session::practice::routes())
        .merge(session::hit::routes())
        .merge(shots::marks::routes())
        .merge(shots::entries::routes())
        .merge(shots::devices::routes())
        .merge(shots::device_socket::routes())
        .merge(shots::agreement::routes())
        .merge(shots::doubtful::routes())
        .merge(school::house_rules::routes())
        .merge(shots::imports::routes())
        .merge(shots::exports::routes())
        .merge(school::archive::routes())
        .merge(session::read::routes())
        .merge(session::boards::routes())
        .merge(session::corrections::routes())
        .merge(trials::decide::routes())
        .merge(trials::comparisons::routes())
        .merge(trials::hole::routes())
        .merge(trials::opening::routes())
        .merge(trials::force_traces::routes())
        .merge(record::progress::routes())
        .merge(record::today::routes())
        .merge(record::next::routes())
        .merge(record::peers::routes())
        .merge(record::records::routes())
        .merge(school::find::routes())
        .merge(school::groups::routes())
        .merge(record::club_length::routes())
        .merge(record::gapping::routes())
        .merge(record::goals::routes())
        .merge(record::benchmarks::routes())
        .merge(session::test_plan::routes())
        .merge(trials::decisions::routes())
        .merge(reach::launch_spin::routes())
        .merge(reach::target_windows::routes())
        .merge(reach::bench::routes())
        .merge(reach::other_club::routes())
        .merge(training::implements::routes())
        .merge(training::protocols::routes())
        .merge(training::programmes::routes())
        .merge(training::runs::routes())
        .merge(training::calendars::routes())
        .merge(training::today::routes())
        .merge(report::page_draft::routes())
        .merge(report::page::routes())
        .merge(session::live::routes());
    OpenApiRouter::with_openapi(Description::openapi()).nest("/api/v1", v1)
}

/// The routes apart from their description, which is whole.
pub fn described() -> (axum::Router<App>, utoipa::openapi::OpenApi) {
    let (routes, description) = api().split_for_parts();
    (routes, description::complete(description))
}
