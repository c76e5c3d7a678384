//! Secrets that can be guessed: wrong tries slow further ones.

use crate::http::problem::Problem;
use crate::state::App;
use axum::http::StatusCode;
use std::time::Duration;
use tally_store::school::tries::Try;
use uuid::Uuid;

/// Counts a try for a name as wrong and waits until it is its turn, unless there were too many
/// of late; answers what to take back when it turns out right. Who has to wait is told what
/// else they could do.
///
/// # Errors
/// A [`Problem`] that tells how long to wait, and the store's.
pub async fn try_in_turn(
    app: &App,
    (name, from): (&str, &str),
    or_else: &str,
) -> Result<Uuid, Problem> {
    let too_many = |wait_s: f64| {
        let detail = format!(
            "there were too many wrong tries; wait {} s and try again, or {or_else}",
            wait_s.ceil()
        );
        Problem::new(StatusCode::TOO_MANY_REQUESTS, "Too many tries", detail).again_after_s(wait_s)
    };
    if let Some(wait_s) = app.refused.lately(from) {
        return Err(too_many(wait_s));
    }
    match app.store.begin_try(name, from).await? {
        Try::Counted { id, after_s } => {
            tokio::time::sleep(Duration::from_secs_f64(after_s)).await;
            Ok(id)
        }
        Try::TooSoon {
            wait_s,
            from_address,
        } => {
            if from_address {
                app.refused.note(from, wait_s);
            }
            Err(too_many(wait_s))
        }
    }
}
