//! A few at a time for each.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use uuid::Uuid;

/// Counts what each has under way.
#[derive(Debug)]
pub struct Few {
    most: usize,
    under_way: Mutex<HashMap<Uuid, usize>>,
}

/// One that is under way; it ends when this is dropped.
pub struct Place {
    few: Arc<Few>,
    whose: Uuid,
}

impl Few {
    /// Up to `most` at a time for each.
    pub fn new(most: usize) -> Few {
        Few {
            most,
            under_way: Mutex::default(),
        }
    }

    /// Begins one, unless as many are under way already.
    pub fn begin(self: &Arc<Self>, whose: Uuid) -> Option<Place> {
        self.counted(whose, |count| {
            (*count < self.most).then(|| {
                *count += 1;
                Place {
                    few: Arc::clone(self),
                    whose,
                }
            })
        })
    }

    fn counted<T>(&self, whose: Uuid, with: impl FnOnce(&mut usize) -> T) -> T {
        let mut all = self
            .under_way
            .lock()
            .unwrap_or_else(PoisonError::into_inner);
        let done = with(all.entry(whose).or_default());
        all.retain(|_, count| *count > 0);
        done
    }
}

impl Drop for Place {
    fn drop(&mut self) {
        self.few.counted(self.whose, |count| *count -= 1);
    }
}
