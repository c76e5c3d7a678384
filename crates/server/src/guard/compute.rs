//! Computing beside the threads that answer.

use crate::guard::quiet::{as_quiet_as_here, cores};
use crate::guard::turns::{Full, Turn, Turns};
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::time::Duration;
use uuid::Uuid;

/// Computations of one school that may wait, at the mat and elsewhere.
const WAITING: [usize; 2] = [200, 24];

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
/// From so many balls on they are many: a file of a season, not a lesson that many watch.
const MANY: i64 = 2_000;
/// How long a file's rows wait for those of another before they are written all the same.
const WRITE_WITHIN: Duration = Duration::from_secs(5);

/// A turn at a question that reads many balls, from before they are read until it is
/// answered, so that the memory that they take has a limit, and the cores that they take.
///
/// # Errors
/// [`Full`] when too many of the school's wait already.
pub(crate) async fn large(school: Uuid) -> Result<Turn, Full> {
    queues_of(school)[2].take().await
}

/// Whether so many balls are many.
pub(crate) fn are_many(balls: i64) -> bool {
    balls >= MANY
}

/// A turn at writing some rows of a file, so that the files of one school keep the database no
/// busier than one does; none where it takes too long, as rows that wait hold what they wrote.
pub(crate) async fn write_rows(school: Uuid) -> Option<Turn> {
    let queues = queues_of(school);
    let turn = tokio::time::timeout(WRITE_WITHIN, queues[3].take()).await;
    turn.ok()?.ok()
}

/// Runs a computation on a thread where it may take its time; its turn ends with it, also
/// when whoever asked has gone.
pub(crate) async fn compute_here<T: Send + 'static>(
    turn: Turn,
    work: impl FnOnce() -> T + Send + 'static,
) -> T {
    tokio::task::spawn_blocking(move || {
        let _turn = turn;
        as_quiet_as_here(work)
    })
    .await
    .expect("computations in core do not panic")
}

/// The queues of a school: at the mat, elsewhere, for large questions, and for the rows of files.
fn queues_of(school: Uuid) -> Arc<[Turns; 4]> {
    static QUEUES: OnceLock<Mutex<HashMap<Uuid, Arc<[Turns; 4]>>>> = OnceLock::new();
    let queues = QUEUES.get_or_init(Mutex::default);
    let mut queues = queues.lock().unwrap_or_else(PoisonError::into_inner);
    let made = || {
        let half = cores().div_ceil(2);
        let [mat, elsewhere] = WAITING.map(|waiting| Turns::new(half, waiting));
        let large = Turns::new(LARGE[0].min(half), LARGE[1]);
        Arc::new([mat, elsewhere, large, Turns::new(half, LARGE[1])])
    };
    Arc::clone(queues.entry(school).or_insert_with(made))
}
