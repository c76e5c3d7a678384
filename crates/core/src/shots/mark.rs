//! What a coach does with a shot, and which of it counts.
//!
//! Marks are never overwritten: setting aside, keeping and taking back are added one
//! after the other, and the latest that was not taken back decides. Where on the face the
//! ball was struck is a mark too, and decides nothing.

use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a mark does.
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
pub enum MarkKind {
    /// Leaves the shot out of the figures.
    SetAside,
    /// Lets it stand, whatever doubts there are.
    Keep,
    /// Takes back the last decision.
    Withdraw,
    /// Tells where on the face it was struck.
    Strike,
    /// Notes that the shot was given to another block.
    Moved,
}

impl Keyed for MarkKind {
    const KIND: &'static str = "a kind of mark";
}

/// Why a shot is set aside.
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
pub enum Reason {
    /// Struck badly.
    Mishit,
    /// Not swung with the effort that was asked.
    MissedFeel,
    /// The player was disturbed.
    Interrupted,
    /// The device misread it.
    Device,
    /// A ball to try something.
    Trial,
    /// Hit during a pause.
    Paused,
    /// Something else, in the coach's words.
    Other,
}

impl Keyed for Reason {
    const KIND: &'static str = "a reason";
}

/// What the coach decided about a shot.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Decision {
    /// It stands, whatever doubts there are.
    Keep,
    /// It stays in the record and leaves the figures.
    SetAside,
}

/// A mark, as far as figures depend on it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Mark {
    /// What it does.
    pub kind: MarkKind,
    /// Why the shot is set aside, when it is.
    pub reason: Option<Reason>,
    /// Where on the face it was struck, as on a number pad: 7 8 9 is high, 1 2 3 low.
    pub cell: Option<i16>,
}

/// What all marks of a shot come to.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Marked {
    /// The decision that counts: the latest one that was not taken back.
    pub decision: Option<Decision>,
    /// Why it was set aside, when that counts.
    pub reason: Option<Reason>,
    /// Where it was struck, as it was told last.
    pub cell: Option<i16>,
}

impl Marked {
    /// Adds up the marks of one shot, in the order they were made.
    ///
    /// ```
    /// use tally_core::shots::mark::{Decision, Mark, MarkKind, Marked, Reason};
    /// let mark = |kind, reason| Mark { kind, reason, cell: None };
    /// let marks = [
    ///     mark(MarkKind::SetAside, Some(Reason::Mishit)),
    ///     mark(MarkKind::Withdraw, None),
    ///     mark(MarkKind::Keep, None),
    /// ];
    /// assert!(Marked::by(marks[..1].iter().copied()).is_mishit());
    /// assert_eq!(Marked::by(marks[..2].iter().copied()).decision, None);
    /// assert_eq!(Marked::by(marks).decision, Some(Decision::Keep));
    /// ```
    pub fn by(marks: impl IntoIterator<Item = Mark>) -> Marked {
        let mut sum = Marked::default();
        for mark in marks {
            if mark.cell.is_some() {
                sum.cell = mark.cell;
            }
            let decision = match mark.kind {
                MarkKind::Strike | MarkKind::Moved => continue,
                MarkKind::SetAside => Some(Decision::SetAside),
                MarkKind::Keep => Some(Decision::Keep),
                MarkKind::Withdraw => None,
            };
            sum.decision = decision;
            sum.reason = mark.reason;
        }
        sum
    }

    /// Whether it was set aside as a mishit.
    pub fn is_mishit(&self) -> bool {
        self.decision == Some(Decision::SetAside) && self.reason == Some(Reason::Mishit)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn mark(kind: MarkKind) -> Mark {
        Mark {
            kind,
            reason: (kind == MarkKind::SetAside).then_some(Reason::Mishit),
            cell: (kind == MarkKind::Strike).then_some(4),
        }
    }

    #[test]
    fn the_latest_decision_counts_and_taking_back_leaves_none() {
        let after = |kinds: &[MarkKind]| Marked::by(kinds.iter().copied().map(mark)).decision;
        use MarkKind::{Keep, SetAside, Strike, Withdraw};
        assert_eq!(after(&[]), None);
        assert_eq!(after(&[SetAside]), Some(Decision::SetAside));
        assert_eq!(after(&[SetAside, Keep]), Some(Decision::Keep));
        assert_eq!(after(&[Keep, SetAside, Withdraw]), None);
        assert_eq!(after(&[SetAside, Strike]), Some(Decision::SetAside));
    }

    #[test]
    fn a_shot_given_to_another_block_stands_as_it_stood() {
        for before in [MarkKind::SetAside, MarkKind::Keep] {
            let told = Marked::by([before, MarkKind::Moved].map(mark));
            assert_eq!(told, Marked::by([mark(before)]));
        }
    }

    #[test]
    fn a_strike_is_told_and_decides_nothing() {
        let told = Marked::by([MarkKind::SetAside, MarkKind::Strike].map(mark));
        assert_eq!((told.cell, told.is_mishit()), (Some(4), true));
        let back = Marked::by([MarkKind::SetAside, MarkKind::Strike, MarkKind::Withdraw].map(mark));
        assert_eq!((back.cell, back.is_mishit()), (Some(4), false));
    }
}
