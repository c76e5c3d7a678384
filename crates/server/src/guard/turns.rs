//! Taking turns at what is dear: so many at once, so many in the queue, and who comes
//! after these is told to come again.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

/// A queue.
#[derive(Debug)]
pub struct Turns {
    going: Arc<Semaphore>,
    waiting: AtomicUsize,
    most_waiting: usize,
}

/// The queue is full.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Full;

/// A turn; it ends when it is dropped.
pub type Turn = OwnedSemaphorePermit;

impl Turns {
    /// `at_once` have their turns at a time, and `most_waiting` wait for theirs.
    pub fn new(at_once: usize, most_waiting: usize) -> Turns {
        Turns {
            going: Arc::new(Semaphore::new(at_once.max(1))),
            waiting: AtomicUsize::new(0),
            most_waiting,
        }
    }

    /// Waits for a turn; who waits no longer leaves the queue.
    pub async fn take(&self) -> Result<Turn, Full> {
        if let Ok(turn) = Arc::clone(&self.going).try_acquire_owned() {
            return Ok(turn);
        }
        let _place = Place::take(self).ok_or(Full)?;
        let turn = Arc::clone(&self.going).acquire_owned().await;
        Ok(turn.expect("the queue is never closed"))
    }
}

/// A place in the queue.
struct Place<'a>(&'a AtomicUsize);

impl<'a> Place<'a> {
    fn take(turns: &'a Turns) -> Option<Place<'a>> {
        let place = Place(&turns.waiting);
        let before = turns.waiting.fetch_add(1, Ordering::Relaxed);
        (before < turns.most_waiting).then_some(place)
    }
}

impl Drop for Place<'_> {
    fn drop(&mut self) {
        self.0.fetch_sub(1, Ordering::Relaxed);
    }
}
