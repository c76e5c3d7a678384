//! Answers about a session, which take turns where it has many balls.

use crate::guard::compute::{are_many, large};
use crate::guard::quiet::quietly;
use crate::http::coach::Coach;
use crate::http::problem::Problem;
use axum::response::Response;
use uuid::Uuid;

/// Answers about a session: of many balls when its turn has come, on threads that let others go
/// before them.
///
/// # Errors
/// The answer's; that too many of the school's wait already.
pub(crate) async fn by_size<F>(
    coach: Coach,
    session: Uuid,
    answer: impl FnOnce(Coach) -> F + Send + 'static,
) -> Result<Response, Problem>
where
    F: Future<Output = Result<Response, Problem>> + Send + 'static,
{
    let (store, school) = (coach.store(), coach.school());
    let balls = store.shots_in(school, &[session]).await?;
    if !balls.get(&session).is_some_and(|balls| are_many(*balls)) {
        return answer(coach).await;
    }
    // Who waits holds no connection.
    store.let_go();
    let _turn = large(school).await?;
    // Megabytes are not written out on a thread that others wait for.
    quietly(answer(coach)).await
}
