//! A session under way, with all that its report at the mat is made of.

use crate::http::problem::Problem;
use crate::routes::session::prepare::last_before;
use chrono::{DateTime, Utc};
use tally_core::session::acts::Progress;
use tally_core::session::hit::{HitReport, HitShot, Question, as_told, hit};
use tally_core::session::last_time::LastTime;
use tally_core::session::plan::PlannedBlock;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::Store;
use tally_store::session::blocks::current;
use tally_store::session::sessions::Session;
use tally_store::shots::hit_sessions::HitSession;
use tally_store::shots::session_shots::Shot;
use uuid::Uuid;

/// A session under way.
pub struct UnderWay {
    /// The session itself.
    pub session: Session,
    /// Its shots, in hitting order.
    pub shots: Vec<Shot>,
    /// The numbers shown, the greatest first.
    pub shown: Vec<Quantity>,
    /// The house's thresholds.
    pub rules: HouseRules,
    /// What there is to beat, and when it was hit.
    pub last: Option<(DateTime<Utc>, LastTime)>,
    places: Vec<Uuid>,
    blocks: Vec<PlannedBlock>,
    current: usize,
    hidden: Vec<Quantity>,
}

impl UnderWay {
    /// Gathers a session.
    ///
    /// # Errors
    /// The store's.
    pub async fn of(
        store: &Store,
        school: Uuid,
        stored: HitSession,
        progress: &Progress,
    ) -> Result<UnderWay, Problem> {
        let HitSession {
            session,
            blocks,
            shots,
            ..
        } = stored;
        let rules = store.house_rules(school).await?;
        let readings = shots.iter().map(|shot| &shot.reading);
        let shown = as_told(&progress.shown(session.purpose), readings);
        let last = last_before(store, school, &session, &shown, &rules).await?;
        Ok(UnderWay {
            places: blocks.iter().map(|block| block.id).collect(),
            current: current(&blocks),
            blocks: blocks.iter().map(|block| block.plan()).collect(),
            hidden: progress.hidden.clone(),
            session,
            shots,
            shown,
            rules,
            last,
        })
    }

    /// What is told of its report, by the question it answers.
    pub fn told<T>(&self, tell: impl FnOnce(&Question<'_>, HitReport) -> T) -> T {
        let place = |shot: &Shot| self.places.iter().position(|id| *id == shot.block_id);
        let shots: Vec<HitShot<'_>> = self
            .shots
            .iter()
            .map(|shot| HitShot {
                block: place(shot).unwrap_or_default(),
                reading: &shot.reading,
                decision: shot.marked().decision,
            })
            .collect();
        let question = Question {
            shown: &self.shown,
            club: self.session.club,
            conditions: self.session.conditions(),
            rules: &self.rules,
            blocks: &self.blocks,
            current: self.current,
            shots: &shots,
            hidden: &self.hidden,
            last: self.last.as_ref().map(|(_, last)| last),
        };
        let report = hit(&question);
        tell(&question, report)
    }
}
