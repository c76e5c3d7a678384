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
pub const NICE: i32 = 10;

/// How many cores there are.
pub fn cores() -> usize {
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
pub fn begin<T: Send + 'static>(work: impl Future<Output = T> + Send + 'static) -> JoinHandle<T> {
    runtime().spawn(work)
}

/// Does work quietly, as long as somebody waits for it.
pub async fn quietly<T: Send + 'static>(work: impl Future<Output = T> + Send + 'static) -> T {
    match AbortOnDropHandle::new(begin(work)).await {
        Ok(done) => done,
        Err(failed) => std::panic::resume_unwind(failed.into_panic()),
    }
}

/// Computes with the threads that are of the kind of this one.
pub fn as_quiet_as_here<T: Send>(work: impl FnOnce() -> T + Send) -> T {
    if QUIET.get() {
        pool().install(work)
    } else {
        work()
    }
}
