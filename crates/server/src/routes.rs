//! The API, one file a capability.

mod bench;
mod launch_spin;
mod live;
mod players;
mod read;
mod school;
mod sessions;
mod shots;
mod target_windows;
mod vocabulary;

use crate::app::App;
use crate::problem::Problem;
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
pub fn api() -> OpenApiRouter<App> {
    let v1 = OpenApiRouter::new()
        .merge(school::routes())
        .merge(vocabulary::routes())
        .merge(players::routes())
        .merge(sessions::routes())
        .merge(shots::routes())
        .merge(read::routes())
        .merge(launch_spin::routes())
        .merge(target_windows::routes())
        .merge(bench::routes())
        .merge(live::routes());
    OpenApiRouter::with_openapi(Description::openapi()).nest("/api/v1", v1)
}

/// Runs a computation on a thread where it may take its time.
async fn compute<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> T {
    tokio::task::spawn_blocking(work)
        .await
        .expect("computations in core do not panic")
}
