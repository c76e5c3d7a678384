//! Computing beside the threads that answer.

/// Runs a computation on a thread where it may take its time.
pub(crate) async fn compute<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> T {
    tokio::task::spawn_blocking(work)
        .await
        .expect("computations in core do not panic")
}
