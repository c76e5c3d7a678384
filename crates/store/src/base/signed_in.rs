//! Who speaks, and for which school.

use tally_core::school::access::{Role, Script};
use uuid::Uuid;

/// A coach, and the school whose data they may see.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SignedIn {
    /// The school.
    pub school_id: Uuid,
    /// Its name.
    pub school: String,
    /// The coach.
    pub coach_id: Uuid,
    /// Their name.
    pub coach: String,
    /// What they are in the school.
    pub role: Role,
    /// The browser they are signed in with, if any.
    pub web_session: Option<Uuid>,
    /// The script that speaks in their name, if it is one.
    pub script: Option<Script>,
}
