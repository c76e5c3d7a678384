//! Who may stay connected. A port has room for so many; who has shown who they are stays,
//! and of the others the one that was silent longest goes when there is no more room, so
//! that any number of silent connections keeps nobody out.

use crate::guard::address::counted;
use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::atomic::{AtomicBool, AtomicU64, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};
use tokio_util::sync::CancellationToken;

/// How many may be connected to a port, and for how long in silence.
#[derive(Debug, Clone, Copy)]
pub struct Limits {
    /// In all.
    pub all: usize,
    /// Of those that have not shown who they are.
    pub strangers: usize,
    /// Of these from one address; none where all come from a proxy.
    pub strangers_from: Option<usize>,
    /// How long until the first byte comes.
    pub first_within: Duration,
    /// How long until a stranger has shown who they are, where all must.
    pub known_within: Option<Duration>,
    /// How long nothing may pass either way while nothing is being done for them.
    pub idle: Duration,
}

/// Most strangers, in all and from one address: who comes in soon shows who they are.
const STRANGERS: usize = 2_000;
const STRANGERS_FROM: usize = 500;

impl Limits {
    /// Those of the web port with room for so many.
    pub fn web(all: usize) -> Limits {
        Limits {
            all,
            strangers: (all / 2).min(STRANGERS),
            strangers_from: Some((all / 4).min(STRANGERS_FROM)),
            first_within: Duration::from_secs(10),
            known_within: None,
            idle: Duration::from_secs(75),
        }
    }

    /// Those of the device port with room for so many. A device says hello at once, and
    /// may then wait for the next ball for as long as a day at the mat lasts.
    pub fn devices(all: usize) -> Limits {
        Limits {
            known_within: Some(Duration::from_secs(10)),
            idle: Duration::from_secs(12 * 3600),
            ..Limits::web(all)
        }
    }
}

/// The door of a port.
#[derive(Clone)]
pub struct Doors(Arc<Room>);

struct Room {
    limits: Limits,
    opened: Instant,
    guests: Mutex<Guests>,
}

#[derive(Default)]
struct Guests {
    next: u64,
    known: usize,
    strangers: HashMap<u64, Arc<Guest>>,
}

struct Guest {
    from: IpAddr,
    /// When something passed last, ms since the door opened.
    heard_ms: AtomicU64,
    /// Whether anything passed.
    said: AtomicBool,
    /// What is being done for them just now.
    busy: AtomicUsize,
    shown_out: CancellationToken,
}

/// The right to be connected; it ends when it is dropped.
#[derive(Clone)]
pub struct Pass(Arc<Held>);

struct Held {
    room: Arc<Room>,
    id: u64,
    guest: Arc<Guest>,
    came: Instant,
}

impl Doors {
    /// A door with these limits.
    pub fn new(limits: Limits) -> Doors {
        Doors(Arc::new(Room {
            limits,
            opened: Instant::now(),
            guests: Mutex::default(),
        }))
    }

    /// Lets somebody in; where there is no more room, the stranger who was silent longest
    /// is shown out for them.
    pub fn let_in(&self, from: IpAddr) -> Pass {
        let Limits {
            strangers,
            strangers_from,
            ..
        } = self.0.limits;
        let guest = Arc::new(Guest {
            from: counted(from),
            heard_ms: AtomicU64::new(self.0.now_ms()),
            said: AtomicBool::new(false),
            busy: AtomicUsize::new(0),
            shown_out: CancellationToken::new(),
        });
        let mut guests = self.0.guests();
        let of_same = |other: &Guest| other.from == guest.from;
        let too_many = |most: usize, which: &dyn Fn(&Guest) -> bool| {
            guests.strangers.values().filter(|g| which(g)).count() >= most
        };
        let goes = if strangers_from.is_some_and(|most| too_many(most, &of_same)) {
            guests.most_silent(of_same)
        } else if guests.strangers.len() >= strangers {
            guests.most_silent(|_| true)
        } else {
            None
        };
        if let Some(id) = goes
            && let Some(gone) = guests.strangers.remove(&id)
        {
            gone.shown_out.cancel();
        }
        guests.next += 1;
        let id = guests.next;
        guests.strangers.insert(id, Arc::clone(&guest));
        drop(guests);
        Pass(Arc::new(Held {
            room: Arc::clone(&self.0),
            id,
            guest,
            came: Instant::now(),
        }))
    }

    /// How many are connected: who has shown who they are, and strangers.
    pub fn connected(&self) -> (usize, usize) {
        let guests = self.0.guests();
        (guests.known, guests.strangers.len())
    }
}

impl Room {
    fn guests(&self) -> MutexGuard<'_, Guests> {
        // What is in it is whole whoever panicked.
        self.guests.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn now_ms(&self) -> u64 {
        self.opened.elapsed().as_millis() as u64
    }
}

impl Guests {
    /// Of some strangers, the one that was silent longest; one that is being served only
    /// when all are.
    fn most_silent(&self, which: impl Fn(&Guest) -> bool) -> Option<u64> {
        let silent = |guest: &Guest| {
            let busy = guest.busy.load(Ordering::Relaxed) > 0;
            (busy, guest.heard_ms.load(Ordering::Relaxed))
        };
        self.strangers
            .iter()
            .filter(|(_, guest)| which(guest))
            .min_by_key(|(id, guest)| (silent(guest), **id))
            .map(|(id, _)| *id)
    }
}

impl Pass {
    /// Something has passed.
    pub fn heard(&self) {
        let now = self.0.room.now_ms();
        self.0.guest.heard_ms.store(now, Ordering::Relaxed);
        self.0.guest.said.store(true, Ordering::Relaxed);
    }

    /// They have shown who they are, and stay; while the room is full of others who have,
    /// they are as strangers still.
    pub fn known(&self) {
        let limits = &self.0.room.limits;
        let mut guests = self.0.room.guests();
        if guests.known + limits.strangers < limits.all
            && guests.strangers.remove(&self.0.id).is_some()
        {
            guests.known += 1;
        }
    }

    /// Whether they have not shown who they are.
    pub fn is_stranger(&self) -> bool {
        self.0.room.guests().strangers.contains_key(&self.0.id)
    }

    /// Something is done for them until the answer is dropped: silence is no fault.
    pub fn busy(&self) -> Busy {
        self.0.guest.busy.fetch_add(1, Ordering::Relaxed);
        Busy(self.clone())
    }

    /// What tells that they must go.
    pub fn shown_out(&self) -> CancellationToken {
        self.0.guest.shown_out.clone()
    }

    /// How long they may still be silent; nothing left when they must go.
    pub fn patience(&self) -> Duration {
        let (room, guest) = (&self.0.room, &self.0.guest);
        let limits = &room.limits;
        let heard = guest.heard_ms.load(Ordering::Relaxed);
        let silent = Duration::from_millis(room.now_ms().saturating_sub(heard));
        let here = self.0.came.elapsed();
        let by_silence = if guest.busy.load(Ordering::Relaxed) > 0 {
            limits.idle
        } else if !guest.said.load(Ordering::Relaxed) && self.is_stranger() {
            limits.first_within.saturating_sub(here)
        } else {
            limits.idle.saturating_sub(silent)
        };
        match limits.known_within {
            Some(within) if self.is_stranger() => by_silence.min(within.saturating_sub(here)),
            _ => by_silence,
        }
    }
}

impl Drop for Held {
    fn drop(&mut self) {
        let mut guests = self.room.guests();
        let shown_out = self.guest.shown_out.is_cancelled();
        if guests.strangers.remove(&self.id).is_none() && !shown_out {
            guests.known -= 1;
        }
    }
}

/// Something is being done for a guest.
pub struct Busy(Pass);

impl Drop for Busy {
    fn drop(&mut self) {
        self.0.heard();
        self.0.0.guest.busy.fetch_sub(1, Ordering::Relaxed);
    }
}
