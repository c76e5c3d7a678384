//! Threads for what may take its time: the operating system lets those that answer, and the
//! database, go before them, so that one school's large question is no other's wait.

use rayon::{ThreadPool, ThreadPoolBuilder};
use std::cell::Cell;
use std::future::Future;
use std::sync::OnceLock;
use tokio::runtime::{Builder, Runtime};
use tokio::task::JoinHandle;
use tokio_util::task::AbortOnDropHandle;

/// How nice these threads are: they get about a tenth of a core that another wants.
const NICE: i32 = 10;

/// How many cores there are.
pub(crate) fn cores() -> usize {
    std::thread::available_parallelism().map_or(1, std::num::NonZero::get)
}

thread_local! {
    static QUIET: Cell<bool> = const { Cell::new(false) };
}

/// Makes the thread that this runs on a quiet one.
fn become_quiet() {
    QUIET.set(true);
    // Threads inherit it, so that it is set rather than added; where it is more already, it stays.
    let _ = rustix::process::setpriority_process(None, NICE);
}

fn runtime() -> &'static Runtime {
    static RUNTIME: OnceLock<Runtime> = OnceLock::new();
    RUNTIME.get_or_init(|| {
        Builder::new_multi_thread()
            .worker_threads(cores())
            .thread_name("quiet")
            .enable_all()
            .on_thread_start(become_quiet)
            .build()
            .expect("threads can be started")
    })
}

fn pool() -> &'static ThreadPool {
    static POOL: OnceLock<ThreadPool> = OnceLock::new();
    POOL.get_or_init(|| {
        ThreadPoolBuilder::new()
            .num_threads(cores())
            .thread_name(|at| format!("quiet-{at}"))
            .start_handler(|_| become_quiet())
            .build()
            .expect("threads can be started")
    })
}

/// Begins work that goes on by itself, quietly.
pub(crate) fn begin<T: Send + 'static>(
    work: impl Future<Output = T> + Send + 'static,
) -> JoinHandle<T> {
    runtime().spawn(work)
}

/// Does work quietly, as long as somebody waits for it.
pub(crate) async fn quietly<T: Send + 'static>(
    work: impl Future<Output = T> + Send + 'static,
) -> T {
    match AbortOnDropHandle::new(begin(work)).await {
        Ok(done) => done,
        Err(failed) => std::panic::resume_unwind(failed.into_panic()),
    }
}

/// Computes with the threads that are of the kind of this one.
pub(crate) fn as_quiet_as_here<T: Send>(work: impl FnOnce() -> T + Send) -> T {
    if QUIET.get() {
        pool().install(work)
    } else {
        work()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rayon::prelude::*;

    fn niceness() -> i32 {
        rustix::process::nice(0).unwrap()
    }

    #[tokio::test]
    async fn what_is_done_quietly_gives_way_and_what_is_not_does_not() {
        let usual = niceness();
        let all_of = |numbers: std::ops::Range<i32>| -> Vec<i32> {
            numbers.into_par_iter().map(|_| niceness()).collect()
        };
        let [here, within] = quietly(async move {
            let computed = tokio::task::spawn_blocking(move || {
                let all = as_quiet_as_here(|| all_of(0..64));
                all.into_iter().min().unwrap()
            });
            [niceness(), computed.await.unwrap()]
        })
        .await;
        assert_eq!([here, within], [usual.max(NICE); 2]);
        assert_eq!(as_quiet_as_here(|| all_of(0..64)), vec![usual; 64]);
        assert_eq!(niceness(), usual);
    }

    #[tokio::test]
    async fn a_question_that_fails_quietly_fails_where_it_was_asked() {
        let asked = tokio::spawn(quietly(async { assert_eq!(1, 2, "as a fault would") }));
        assert!(asked.await.unwrap_err().is_panic());
        assert_eq!(quietly(async { 3 }).await, 3);
    }
}
