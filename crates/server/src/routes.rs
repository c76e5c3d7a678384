//! The API, one file a capability.

mod acts;
mod agreement;
mod archive;
mod bag;
mod bench;
mod comparisons;
mod decide;
mod decisions;
mod devices;
mod doubtful;
mod entries;
mod exports;
mod hit;
mod hole;
mod house_rules;
mod imports;
mod launch_spin;
mod links;
mod live;
mod people;
mod players;
mod practice;
mod prepare;
mod privacy;
pub(crate) mod read;
mod school;
mod sessions;
mod shots;
mod sign_in;
mod target_windows;
mod test_plan;
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
        .merge(sign_in::routes())
        .merge(people::routes())
        .merge(privacy::routes())
        .merge(links::routes())
        .merge(school::routes())
        .merge(vocabulary::routes())
        .merge(players::routes())
        .merge(bag::routes())
        .merge(prepare::routes())
        .merge(sessions::routes())
        .merge(acts::routes())
        .merge(practice::routes())
        .merge(hit::routes())
        .merge(shots::routes())
        .merge(entries::routes())
        .merge(devices::routes())
        .merge(agreement::routes())
        .merge(doubtful::routes())
        .merge(house_rules::routes())
        .merge(imports::routes())
        .merge(exports::routes())
        .merge(archive::routes())
        .merge(read::routes())
        .merge(decide::routes())
        .merge(comparisons::routes())
        .merge(hole::routes())
        .merge(test_plan::routes())
        .merge(decisions::routes())
        .merge(launch_spin::routes())
        .merge(target_windows::routes())
        .merge(bench::routes())
        .merge(live::routes());
    OpenApiRouter::with_openapi(Description::openapi()).nest("/api/v1", v1)
}

/// Runs a computation on a thread where it may take its time.
pub(crate) async fn compute<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> T {
    tokio::task::spawn_blocking(work)
        .await
        .expect("computations in core do not panic")
}
