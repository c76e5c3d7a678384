//! Traces of a force session, before and after.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::Path;
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use std::collections::HashMap;
use tally_core::shots::mark::Decision;
use tally_core::trials::force_traces::{ForceTraces, TraceSet, force_traces};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(session_traces))
}

/// The mean traces of a session's first and last block, with their peaks; nothing where no
/// device told any.
#[utoipa::path(get, path = "/sessions/{session}/traces", params(("session" = Uuid, Path)), responses((status = OK, body = Option<ForceTraces>), Problem))]
async fn session_traces(
    coach: Coach,
    Path(id): Path<Uuid>,
) -> Result<Json<Option<ForceTraces>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let rules = store.house_rules(school).await?;
    let hit = store.hit_session(school, id).await?;
    let traces = store.traces_of(school, id).await?;
    let told = compute(school, move || {
        let mut of_shot: HashMap<Uuid, _> = traces.into_iter().collect();
        let mut sets: Vec<TraceSet> = Vec::new();
        for shot in &hit.shots {
            let aside = shot.marked().decision == Some(Decision::SetAside);
            let (Some(trace), Some(block)) = (of_shot.remove(&shot.id), hit.block_of(shot)) else {
                continue;
            };
            if aside {
                continue;
            }
            let label = block.plan().known_as();
            match sets.iter_mut().find(|set| set.label == label) {
                Some(set) => set.traces.push(trace),
                None => sets.push(TraceSet {
                    label,
                    traces: vec![trace],
                }),
            }
        }
        force_traces(&sets, &rules)
    })
    .await?;
    Ok(Json(told))
}
