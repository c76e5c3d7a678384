//! A log that nobody can flood.

use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// Lets so many lines through in a second, and counts the others.
pub(crate) struct Sampled {
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
    pub(crate) const fn new(a_second: u32) -> Sampled {
        Sampled {
            a_second,
            now: Mutex::new(None),
        }
    }

    /// Whether a line may be written now; then, how many were left out since the last.
    pub(crate) fn may(&self) -> Option<u64> {
        self.may_at(Instant::now())
    }

    fn may_at(&self, at: Instant) -> Option<u64> {
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_flood_leaves_a_few_lines_a_second_and_the_number_of_the_others() {
        let log = Sampled::new(3);
        let began = Instant::now();
        let written = |from_ms: u64, lines: u64| {
            let at = |i| began + Duration::from_millis(from_ms) + Duration::from_micros(i);
            (0..lines)
                .filter_map(|i| log.may_at(at(i)))
                .collect::<Vec<_>>()
        };
        assert_eq!(written(0, 1000), [0, 0, 0]);
        assert!(written(500, 1000).is_empty());
        assert_eq!(written(1500, 2), [1997, 0]);
    }
}
