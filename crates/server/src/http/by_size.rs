//! Answers about a session, written with a measurement's digits, which take turns where it has many
//! balls.

use crate::guard::compute::{are_many, large};
use crate::guard::quiet::quietly;
use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::http::short::short;
use axum::response::Response;
use serde::Serialize;
use uuid::Uuid;

/// Answers about a session: of many balls when its turn has come, on threads that let others go
/// before them.
///
/// # Errors
/// The answer's; that too many of the school's wait already.
pub(crate) async fn by_size<T, F>(
    coach: Coach,
    session: Uuid,
    answer: impl FnOnce(Coach) -> F + Send + 'static,
) -> Result<Response, Problem>
where
    T: Serialize,
    F: Future<Output = Result<T, Problem>> + Send + 'static,
{
    let (store, school) = (coach.store(), coach.school());
    let balls = store.shots_in(school, &[session]).await?;
    if !balls.get(&session).is_some_and(|balls| are_many(*balls)) {
        return short(&answer(coach).await?);
    }
    // Who waits holds no connection.
    store.let_go();
    let _turn = large(school).await?;
    // Megabytes are not written out on a thread that others wait for.
    quietly(async move { short(&answer(coach).await?) }).await
}
