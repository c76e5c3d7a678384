//! What every route can reach.

use crate::guard::answers::Answers;
use crate::guard::few::{Few, Place};
use crate::guard::looks::Looks;
use crate::guard::refused::Refused;
use std::net::{IpAddr, SocketAddr};
use std::sync::{Arc, OnceLock};
use tally_store::Store;
use tally_store::base::live::Changed;
use tokio::sync::broadcast;
use uuid::Uuid;

/// What every route can reach.
#[derive(Clone)]
pub struct App {
    /// The school's records.
    pub store: Store,
    /// Changes as they are committed, by any copy of the server.
    pub live: broadcast::Sender<Changed>,
    /// Where devices connect.
    pub intake: SocketAddr,
    /// Whether browsers reach us over TLS: then the cookie goes over nothing else.
    pub secure: bool,
    /// Whether a proxy of ours stands before us and tells whom it speaks for.
    pub behind_proxy: bool,
    /// Addresses of further proxies of ours.
    pub proxies: Arc<[IpAddr]>,
    /// Files that each person has under way, and each school: what is long has few connections.
    pub files: [Arc<Few>; 2],
    /// Answers that took long to work out.
    pub answers: Arc<Answers>,
    /// Whose players are being read in the background.
    pub reading: Arc<Few>,
    /// Whether a school was found to be set up: it stays so.
    pub set_up: Arc<OnceLock<()>>,
    /// Addresses from which sign-ins were told to wait a moment ago.
    pub(crate) refused: Arc<Refused>,
    /// Looks at open streams: whether their browsers may still hear them.
    pub looks: Looks,
}

impl App {
    /// Begins a file of a person of a school, unless they have as many under way as they may.
    pub(crate) fn begin_file(&self, person: Uuid, school: Uuid) -> Option<[Place; 2]> {
        let [of_person, of_school] = &self.files;
        Some([of_person.begin(person)?, of_school.begin(school)?])
    }
}
