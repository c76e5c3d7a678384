//! How a question is answered: one sentence, and what stands behind it.

use crate::verdicts::working::Working;
use crate::vocabulary::sentence::Sentence;
use serde::Serialize;
use utoipa::ToSchema;

/// How the question is answered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum VerdictKind {
    /// There is more: further than to be expected, faster than before.
    Yes,
    /// There is less.
    No,
    /// The same within the margin.
    Same,
    /// The shots do not decide it, or there is nothing to judge by.
    CannotTellYet,
}

/// A sentence a coach could say to the player, with what stands behind it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Verdict {
    /// The answer's kind.
    pub kind: VerdictKind,
    /// The sentence.
    pub sentence: Sentence,
    /// Count, interval, and the result with the shots set aside.
    pub detail: Sentence,
    /// About how many more balls would tell, when more would.
    pub more_balls: Option<usize>,
    /// How it was worked out.
    pub working: Working,
}
