//! Kinds of ball.

use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What kind of ball is hit.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Hash,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum BallKind {
    /// As the best play it.
    Premium,
    /// As clubs play competitions with it.
    Competition,
    /// As a range lends it.
    Range,
}

impl Keyed for BallKind {
    const KIND: &'static str = "a kind of ball";
}
