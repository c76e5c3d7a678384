//! What of the work with records is written down: who did or saw what.

use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What was done or seen.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Audited {
    /// A child's records were read.
    ChildRead,
    /// Records were taken out.
    Export,
    /// All records were taken out, or put in.
    Archive,
    /// A player was erased.
    Erasure,
    /// A person came, left, or got another role.
    Role,
    /// A guardian's consent was noted or withdrawn.
    Consent,
    /// A player was shared otherwise.
    Sharing,
    /// An owner renewed how somebody signs in.
    SignIn,
    /// What was recorded was put right.
    Correction,
    /// A session was taken out.
    Removal,
}

impl Keyed for Audited {
    const KIND: &'static str = "something that is recorded";
}
