//! How a session goes: what was done in it, in order, and what that makes of it.
//!
//! Acts are never overwritten; the state is what they add up to. So a coach can say
//! later who skipped the warm-up and why a hold was lifted.

use crate::session::plan::PlannedBlock;
use crate::session::purpose::Purpose;
use crate::session::stop::StopKind;
use crate::session::warm_up::Readiness;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::text::{lines_within, text_within};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Something done in a session.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum SessionAct {
    /// The player answered how ready they are.
    Readiness(Readiness),
    /// A movement of the warm-up was done.
    Tick {
        /// Its key.
        movement: String,
    },
    /// It was not done after all.
    Untick {
        /// Its key.
        movement: String,
    },
    /// The warm-up was skipped.
    SkipWarmUp,
    /// It was taken up after all.
    TakeUpWarmUp,
    /// Full-effort blocks are held.
    Hold {
        /// Why.
        reason: String,
    },
    /// The hold is lifted.
    Lift {
        /// Why that may be.
        reason: String,
    },
    /// All-out swings go on although it was said to stop.
    GoOn {
        /// Why that may be.
        reason: String,
        /// What was said; everything that was, in records of before it was kept.
        #[serde(default)]
        over: Option<StopKind>,
    },
    /// Shots that come in now do not count.
    Pause,
    /// They count again.
    Resume,
    /// A value is not shown in this session.
    Hide {
        /// Which.
        quantity: Quantity,
    },
    /// It is shown again.
    Show {
        /// Which.
        quantity: Quantity,
    },
    /// No all-out swing follows in this session.
    Stop {
        /// Why.
        reason: String,
    },
    /// A set is left out, or what is left of it.
    SkipSet {
        /// Its block.
        block: Uuid,
        /// Why.
        reason: String,
    },
    /// It is taken up after all.
    TakeUpSet {
        /// Its block.
        block: Uuid,
    },
    /// The numbers that are shown are these, the greatest first; none: the purpose's.
    Numbers {
        /// Which.
        quantities: Vec<Quantity>,
    },
    /// What a test is to be judged by, fixed before its balls are seen.
    Prepared(Prepared),
    /// A practice device plays in this session.
    PracticeBegins,
    /// It stops.
    PracticeEnds,
}

impl SessionAct {
    /// Checks what was typed.
    ///
    /// # Errors
    /// [`Invalid`] for an empty reason or answers out of range.
    pub fn check(&self) -> Result<(), Invalid> {
        match self {
            SessionAct::Readiness(readiness) => readiness.check(),
            SessionAct::Hold { reason }
            | SessionAct::Lift { reason }
            | SessionAct::GoOn { reason, .. }
            | SessionAct::Stop { reason }
            | SessionAct::SkipSet { reason, .. } => lines_within("reason", reason, 500).map(|_| ()),
            SessionAct::Tick { movement } | SessionAct::Untick { movement } => {
                text_within("movement", movement, 60).map(|_| ())
            }
            SessionAct::Prepared(Prepared {
                margin: Some(margin),
                ..
            }) if *margin <= 0.0 => Err(Invalid::new(
                "margin",
                margin,
                "is no margin",
                "give more than 0",
            )),
            SessionAct::Numbers { quantities } if quantities.len() > MOST_NUMBERS => {
                Err(Invalid::new(
                    "quantities",
                    quantities.len(),
                    "is more than a player can look at",
                    format!("choose up to {MOST_NUMBERS}"),
                ))
            }
            _ => Ok(()),
        }
    }
}

/// What a test is to be judged by.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Prepared {
    /// The value that decides.
    pub quantity: Quantity,
    /// The difference that makes none, internal units; the house's when absent.
    pub margin: Option<f64>,
}

/// Numbers beside a mat, at most.
pub const MOST_NUMBERS: usize = 6;

/// A set that is left out.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SkippedSet {
    /// Its block.
    pub block: Uuid,
    /// Why.
    pub reason: String,
}

/// What a session's acts add up to.
#[derive(Debug, Clone, Default, PartialEq, Serialize, ToSchema)]
pub struct Progress {
    /// The latest answers.
    pub readiness: Option<Readiness>,
    /// Movements done, by key.
    pub done: Vec<String>,
    /// Whether the warm-up was skipped.
    pub skipped: bool,
    /// Why full-effort blocks are held, while they are.
    pub held: Option<String>,
    /// Why the last hold was lifted.
    pub lifted: Option<String>,
    /// Why all-out swings go on although it was said to stop.
    pub went_on: Option<String>,
    /// What was said and gone over; other reasons to stop are said still.
    pub went_over: Vec<StopKind>,
    /// Why no all-out swing follows.
    pub stopped: Option<String>,
    /// Sets that are left out, each with why.
    pub skipped_sets: Vec<SkippedSet>,
    /// Whether it pauses.
    pub paused: bool,
    /// Values not shown.
    pub hidden: Vec<Quantity>,
    /// The coach's choice of numbers, the greatest first; empty: the purpose's.
    pub numbers: Vec<Quantity>,
    /// What its test was first prepared for.
    pub prepared: Option<Prepared>,
    /// Whether a practice device plays.
    pub practising: bool,
}

/// Adds up acts in the order they were done.
pub fn progress(acts: &[SessionAct]) -> Progress {
    let mut sum = Progress::default();
    for act in acts {
        sum.add(act);
    }
    sum
}

impl Progress {
    /// The numbers shown while balls are hit, the greatest first: the coach's choice, or
    /// else the purpose's, without those that are hidden.
    pub fn shown(&self, purpose: Purpose) -> Vec<Quantity> {
        let chosen = if self.numbers.is_empty() {
            purpose.shown()
        } else {
            &self.numbers
        };
        let shown = chosen.iter().filter(|q| !self.hidden.contains(q));
        shown.copied().collect()
    }

    /// Whether nobody said anything of a warm-up: none was done, none skipped, nothing
    /// answered. Asked once, before the first all-out swing.
    pub fn no_word_of_warm_up(&self) -> bool {
        !self.skipped && self.done.is_empty() && self.readiness.is_none()
    }

    /// Whether a block is left out.
    pub fn skips(&self, block: Uuid) -> bool {
        self.skipped_sets
            .iter()
            .any(|skipped| skipped.block == block)
    }

    /// Why a block cannot be begun now, when a hold, or that it was said to stop, stops it: gentle work goes on.
    pub fn stops(&self, block: &PlannedBlock) -> Option<&str> {
        let why = self.held.as_deref().or(self.stopped.as_deref());
        why.filter(|_| block.full_effort)
    }

    fn add(&mut self, act: &SessionAct) {
        match act {
            SessionAct::Readiness(readiness) => {
                // Pain that is gone does not lift a hold; the coach does.
                if readiness.pain {
                    self.held = Some("the player told of pain".to_owned());
                    self.lifted = None;
                }
                self.readiness = Some(readiness.clone());
            }
            SessionAct::Tick { movement } => {
                if !self.done.contains(movement) {
                    self.done.push(movement.clone());
                }
            }
            SessionAct::Untick { movement } => self.done.retain(|done| done != movement),
            SessionAct::SkipWarmUp => self.skipped = true,
            SessionAct::TakeUpWarmUp => self.skipped = false,
            SessionAct::Hold { reason } => {
                self.held = Some(reason.clone());
                self.lifted = None;
            }
            SessionAct::Lift { reason } => {
                if self.held.take().is_some() {
                    self.lifted = Some(reason.clone());
                }
            }
            SessionAct::GoOn { reason, over } => {
                self.went_on = Some(reason.clone());
                match over {
                    Some(kind) => self.went_over.push(*kind),
                    None => self.went_over = StopKind::ALL.to_vec(),
                }
                self.stopped = None;
            }
            SessionAct::Stop { reason } => self.stopped = Some(reason.clone()),
            SessionAct::SkipSet { block, reason } => {
                self.skipped_sets.retain(|skipped| skipped.block != *block);
                self.skipped_sets.push(SkippedSet {
                    block: *block,
                    reason: reason.clone(),
                });
            }
            SessionAct::TakeUpSet { block } => {
                self.skipped_sets.retain(|skipped| skipped.block != *block);
            }
            SessionAct::Pause => self.paused = true,
            SessionAct::Resume => self.paused = false,
            SessionAct::Hide { quantity } => {
                if !self.hidden.contains(quantity) {
                    self.hidden.push(*quantity);
                }
            }
            SessionAct::Show { quantity } => self.hidden.retain(|hidden| hidden != quantity),
            SessionAct::Numbers { quantities } => {
                // What is chosen is meant to be seen.
                self.hidden.retain(|hidden| !quantities.contains(hidden));
                self.numbers.clear();
                for quantity in quantities {
                    if !self.numbers.contains(quantity) {
                        self.numbers.push(*quantity);
                    }
                }
            }
            // The first stands: what was meant before a ball was seen.
            SessionAct::Prepared(prepared) => {
                self.prepared.get_or_insert(*prepared);
            }
            SessionAct::PracticeBegins => self.practising = true,
            SessionAct::PracticeEnds => self.practising = false,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn answered(pain: bool) -> SessionAct {
        SessionAct::Readiness(Readiness {
            sleep: 4,
            soreness: 0,
            hard_exercise: false,
            pain,
            note: String::new(),
        })
    }

    #[test]
    fn pain_holds_until_the_coach_lifts_it_with_a_reason() {
        let mut acts = vec![answered(true)];
        assert!(progress(&acts).held.is_some());
        acts.push(answered(false));
        assert!(
            progress(&acts).held.is_some(),
            "an answer does not lift a hold"
        );
        acts.push(SessionAct::Lift {
            reason: "a blister, taped".into(),
        });
        let sum = progress(&acts);
        assert_eq!(
            (sum.held, sum.lifted.as_deref()),
            (None, Some("a blister, taped"))
        );
        acts.push(answered(true));
        assert!(progress(&acts).held.is_some(), "new pain holds again");
    }

    #[test]
    fn who_stopped_swings_all_out_again_only_with_a_reason() {
        let all_out = PlannedBlock {
            full_effort: true,
            ..PlannedBlock::new("All-out", 3)
        };
        let gentle = PlannedBlock::new("Easy", 3);
        let mut acts = vec![SessionAct::Stop {
            reason: "slower".into(),
        }];
        let sum = progress(&acts);
        assert_eq!(sum.stops(&all_out), Some("slower"));
        assert_eq!(sum.stops(&gentle), None);
        acts.push(SessionAct::GoOn {
            reason: "a slip of the radar".into(),
            over: Some(StopKind::Slower),
        });
        let went_on = progress(&acts);
        assert_eq!(went_on.stops(&all_out), None);
        assert_eq!(went_on.went_over, [StopKind::Slower]);
    }

    #[test]
    fn a_set_that_is_left_out_can_be_taken_up() {
        let block = Uuid::from_u128(7);
        let mut acts = vec![SessionAct::SkipSet {
            block,
            reason: "sore knees".into(),
        }];
        assert!(progress(&acts).skips(block));
        acts.push(SessionAct::TakeUpSet { block });
        assert_eq!(progress(&acts), Progress::default());
    }

    #[test]
    fn a_hold_is_not_lifted_without_a_reason() {
        let lift = SessionAct::Lift {
            reason: "  ".into(),
        };
        assert_eq!(lift.check().unwrap_err().field, "reason");
    }

    #[test]
    fn ticks_count_once_and_can_be_taken_back() {
        let tick = |movement: &str| SessionAct::Tick {
            movement: movement.into(),
        };
        let untick = SessionAct::Untick {
            movement: "hips".into(),
        };
        let acts = [tick("ankles"), tick("hips"), tick("ankles"), untick];
        assert_eq!(progress(&acts).done, ["ankles"]);
    }

    #[test]
    fn the_coach_s_numbers_stand_before_the_purpose_s_and_hiding_before_both() {
        let choose = |quantities: &[Quantity]| SessionAct::Numbers {
            quantities: quantities.to_vec(),
        };
        let hide = SessionAct::Hide {
            quantity: Quantity::Carry,
        };
        let shown = |acts: &[SessionAct]| progress(acts).shown(Purpose::Comparison);
        assert_eq!(shown(&[]), Purpose::Comparison.shown());
        let own = [
            Quantity::LandingAngle,
            Quantity::Carry,
            Quantity::LandingAngle,
        ];
        assert_eq!(shown(&[choose(&own)]), own[..2]);
        assert_eq!(shown(&[choose(&own), hide.clone()]), own[..1]);
        assert_eq!(
            shown(&[hide, choose(&own)]),
            own[..2],
            "chosen is meant to be seen"
        );
        assert_eq!(
            shown(&[choose(&own), choose(&[])]),
            Purpose::Comparison.shown()
        );
        assert_eq!(
            choose(&[Quantity::Side; 7]).check().unwrap_err().field,
            "quantities"
        );
    }

    #[test]
    fn what_a_test_was_prepared_for_first_stands() {
        let prepared = |quantity| {
            SessionAct::Prepared(Prepared {
                quantity,
                margin: None,
            })
        };
        let acts = [prepared(Quantity::Carry), prepared(Quantity::Side)];
        assert_eq!(progress(&acts).prepared.unwrap().quantity, Quantity::Carry);
    }

    #[test]
    fn what_was_hidden_paused_or_skipped_can_be_undone() {
        let speed = Quantity::ClubSpeed;
        let acts = [
            SessionAct::Hide { quantity: speed },
            SessionAct::Pause,
            SessionAct::SkipWarmUp,
        ];
        let sum = progress(&acts);
        assert!(sum.paused && sum.skipped && sum.hidden == [speed]);
        let undone = [
            SessionAct::Show { quantity: speed },
            SessionAct::Resume,
            SessionAct::TakeUpWarmUp,
        ];
        assert_eq!(
            progress(&[&acts[..], &undone[..]].concat()),
            Progress::default()
        );
    }
}
