//! Looks at what stays open, now and then, a few at a time: thousands of open screens that are looked
//! at again all at once would take every connection to the database, and pages wait behind them.

use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{Semaphore, SemaphorePermit};

/// Looks under way at a time, of all that are due.
const AT_ONCE: usize = 2;

/// When, and how many at a time, look at what they hold open.
#[derive(Debug, Clone)]
pub struct Looks {
    every: Duration,
    under_way: Arc<Semaphore>,
}

impl Looks {
    /// Each looks again this long after it looked last.
    pub fn every(every: Duration) -> Looks {
        Looks {
            every,
            under_way: Arc::new(Semaphore::new(AT_ONCE)),
        }
    }

    /// Waits until the next look is due and may begin; it is over when what comes back is dropped.
    pub async fn due(&self) -> SemaphorePermit<'_> {
        tokio::time::sleep(self.every).await;
        let look = self.under_way.acquire().await;
        look.expect("looks never end")
    }
}
