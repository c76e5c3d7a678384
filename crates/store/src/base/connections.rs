//! How many connections to the database there may be.

/// How many there may be at once, by what they are for.
///
/// ```
/// use tally_store::base::connections::Connections;
/// let few = Connections::of(20);
/// assert_eq!((few.pages, few.owners, few.devices, few.long), (10, 3, 3, 3));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Connections {
    /// For pages and changes.
    pub pages: usize,
    /// As the database's own user, for what belongs to no school yet: signing in, a device's hello.
    pub owners: usize,
    /// For devices' shots.
    pub devices: usize,
    /// For what is long: files, archives, erasures.
    pub long: usize,
}

impl Connections {
    /// The fewest that a server can do with.
    pub const FEWEST: usize = 10;
    /// How many it has unless told.
    pub const USUAL: usize = 41;

    /// So many in all, of which one hears what is notified.
    pub fn of(all: usize) -> Connections {
        let shared = all.max(Connections::FEWEST) - 1;
        let each = shared / 5;
        Connections {
            pages: shared - 3 * each,
            owners: each,
            devices: each,
            long: each,
        }
    }
}

impl Default for Connections {
    fn default() -> Connections {
        Connections::of(Connections::USUAL)
    }
}
