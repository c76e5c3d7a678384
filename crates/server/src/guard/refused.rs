//! Who was told to wait, for a moment: so that a flood of those is refused again without
//! asking the database each time.

use std::collections::HashMap;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// For how long a refusal is given again at most: what ended it meanwhile soon counts.
const AGAIN_WITHIN: Duration = Duration::from_millis(500);
/// Refusals that are remembered.
const MOST: usize = 10_000;

/// Refusals of late.
#[derive(Debug, Default)]
pub struct Refused(Mutex<HashMap<String, (Instant, f64)>>);

impl Refused {
    /// How many seconds somebody was told to wait a moment ago.
    pub fn lately(&self, whom: &str) -> Option<f64> {
        let all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let (at, wait_s) = all.get(whom)?;
        let since = at.elapsed();
        let left_s = wait_s - since.as_secs_f64();
        (since < AGAIN_WITHIN && left_s > 0.0).then_some(left_s)
    }

    /// Somebody was told to wait.
    pub fn note(&self, whom: &str, wait_s: f64) {
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if all.len() >= MOST {
            all.retain(|_, (at, _)| at.elapsed() < AGAIN_WITHIN);
        }
        if all.len() < MOST {
            all.insert(whom.to_owned(), (Instant::now(), wait_s));
        }
    }
}
