//! Computing beside the threads that answer.

use crate::guard::turns::{Full, Turn, Turns};
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use uuid::Uuid;

/// Computations of one school that may wait, at the mat and elsewhere.
const WAITING: [usize; 2] = [200, 24];

/// How many cores there are.
pub(crate) fn cores() -> usize {
    std::thread::available_parallelism().map_or(1, std::num::NonZero::get)
}

/// Runs a computation of a school on a thread where it may take its time, when its turn
/// has come: a school computes on half of the cores, so that one with much to compute
/// leaves room for the others. Who goes away while they wait leaves the queue.
///
/// # Errors
/// [`Full`] when too many of the school's wait already.
pub(crate) async fn compute<T: Send + 'static>(
    school: Uuid,
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Full> {
    let turn = queues_of(school)[1].take().await?;
    Ok(compute_here(turn, work).await)
}

/// The same for what is waited for at the mat, which what is computed elsewhere does not
/// hold up.
///
/// # Errors
/// [`Full`] when too many of the school's wait already.
pub(crate) async fn compute_at_the_mat<T: Send + 'static>(
    school: Uuid,
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Full> {
    let turn = queues_of(school)[0].take().await?;
    Ok(compute_here(turn, work).await)
}

/// Questions of a school that read many balls, at a time and waiting.
const LARGE: [usize; 2] = [2, 12];

/// A turn at a question that reads many balls, from before they are read until it is
/// answered, so that the memory that they take has a limit.
///
/// # Errors
/// [`Full`] when too many of the school's wait already.
pub(crate) async fn large(school: Uuid) -> Result<Turn, Full> {
    queues_of(school)[2].take().await
}

/// Runs a computation on a thread where it may take its time; its turn ends with it, also
/// when whoever asked has gone.
pub(crate) async fn compute_here<T: Send + 'static>(
    turn: Turn,
    work: impl FnOnce() -> T + Send + 'static,
) -> T {
    tokio::task::spawn_blocking(move || {
        let _turn = turn;
        work()
    })
    .await
    .expect("computations in core do not panic")
}

/// The queues of a school: at the mat, elsewhere, and for large questions.
fn queues_of(school: Uuid) -> Arc<[Turns; 3]> {
    static QUEUES: OnceLock<Mutex<HashMap<Uuid, Arc<[Turns; 3]>>>> = OnceLock::new();
    let queues = QUEUES.get_or_init(Mutex::default);
    let mut queues = queues.lock().unwrap_or_else(PoisonError::into_inner);
    let made = || {
        let [mat, elsewhere] = WAITING.map(|waiting| Turns::new(cores().div_ceil(2), waiting));
        Arc::new([mat, elsewhere, Turns::new(LARGE[0], LARGE[1])])
    };
    Arc::clone(queues.entry(school).or_insert_with(made))
}
