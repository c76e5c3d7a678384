//! A log that nobody can flood.

use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// Lets so many lines through in a second, and counts the others.
pub struct Sampled {
    a_second: u32,
    now: Mutex<Option<Second>>,
}

struct Second {
    began: Instant,
    let_through: u32,
    left_out: u64,
}

impl Sampled {
    /// Lets `a_second` lines through in a second.
    pub const fn new(a_second: u32) -> Sampled {
        Sampled {
            a_second,
            now: Mutex::new(None),
        }
    }

    /// Whether a line may be written now; then, how many were left out since the last.
    pub fn may(&self) -> Option<u64> {
        self.may_at(Instant::now())
    }

    /// The same at a moment.
    pub fn may_at(&self, at: Instant) -> Option<u64> {
        let mut now = self.now.lock().unwrap_or_else(PoisonError::into_inner);
        let second = now.get_or_insert(Second {
            began: at,
            let_through: 0,
            left_out: 0,
        });
        if at.duration_since(second.began) >= Duration::from_secs(1) {
            second.began = at;
            second.let_through = 0;
        }
        if second.let_through == self.a_second {
            second.left_out += 1;
            return None;
        }
        second.let_through += 1;
        Some(std::mem::take(&mut second.left_out))
    }
}
