//! A player's programme as it stands: each day with what became of it, and which level comes.

use crate::http::problem::Problem;
use chrono::{DateTime, Duration, NaiveDate, Utc};
use serde::Serialize;
use std::collections::BTreeMap;
use tally_core::session::purpose::Purpose;
use tally_core::training::calendar::{DayFor, DayState, PlannedDay, away_on, lay_out};
use tally_core::training::levels::{LevelNow, RunDone, level_now};
use tally_core::training::programme::{Away, Progression};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::zone::date_in;
use tally_store::Store;
use tally_store::session::sessions::SessionFilter;
use tally_store::training::programmes::StoredProgramme;
use tally_store::training::protocols::StoredProtocol;
use tally_store::training::runs::HeldRun;
use utoipa::ToSchema;
use uuid::Uuid;

/// A day of a programme.
#[derive(Clone, Serialize, ToSchema)]
pub struct TrainingDayView {
    #[serde(flatten)]
    pub day: PlannedDay,
    /// What it is called.
    pub title: String,
    /// What became of it.
    pub state: DayState,
    /// The session that was held.
    pub session: Option<Uuid>,
}

/// The level that a player is at.
#[derive(Clone, Serialize, ToSchema)]
pub struct LevelOf {
    /// Of which protocol.
    pub protocol: Uuid,
    /// What the protocol is called.
    pub protocol_name: String,
    /// What the level is called.
    pub name: String,
    #[serde(flatten)]
    pub now: LevelNow,
}

/// What is known of a player's training.
pub struct Plan {
    /// The programme, where there is one.
    pub programme: Option<StoredProgramme>,
    /// Its days.
    pub days: Vec<TrainingDayView>,
    /// The player's sessions by protocols, earliest first.
    pub runs: Vec<HeldRun>,
    /// The school's protocols.
    pub protocols: Vec<StoredProtocol>,
    /// The day it is where the player is.
    pub today: NaiveDate,
    rules: HouseRules,
}

/// How levels are left where no programme says it.
const USUAL: Progression = Progression {
    up_after: 3,
    back_after_days: 21,
};

impl Plan {
    /// Reads it, as it stands `now`.
    ///
    /// # Errors
    /// The store's.
    pub async fn of(
        store: &Store,
        school: Uuid,
        player: Uuid,
        now: DateTime<Utc>,
    ) -> Result<Plan, Problem> {
        let programme = store.programme(school, player).await?;
        let runs = store.runs(school, player).await?;
        let zone = programme.as_ref().map(|p| p.programme.zone.clone());
        let zone = zone.or_else(|| runs.last().map(|run| run.zone.clone()));
        let today = date_in(now, &zone.unwrap_or_else(|| "UTC".to_owned()));
        let check_ins = match &programme {
            None => BTreeMap::new(),
            Some(_) => check_ins(store, school, player).await?,
        };
        let protocols = store.protocols(school).await?;
        let mut plan = Plan {
            days: vec![],
            programme: None,
            rules: store.house_rules(school).await?,
            runs,
            protocols,
            today,
        };
        if let Some(stored) = programme {
            let days = lay_out(&stored.programme, &stored.acts);
            let next = days.iter().skip(1).map(|day| Some(day.date));
            let next: Vec<Option<NaiveDate>> = next.chain([None]).collect();
            let each = days.into_iter().zip(next);
            let view = |(day, next)| plan.view(&stored, day, next, &check_ins);
            plan.days = each.map(view).collect();
            plan.programme = Some(stored);
        }
        Ok(plan)
    }

    fn view(
        &self,
        stored: &StoredProgramme,
        day: PlannedDay,
        next: Option<NaiveDate>,
        check_ins: &BTreeMap<NaiveDate, Uuid>,
    ) -> TrainingDayView {
        let of_day = |held: &&HeldRun| {
            held.run.programme_id == Some(stored.id) && held.run.place == Some(day.place as i32)
        };
        let held = self.runs.iter().rev().find(of_day);
        let session = match day.day_for {
            // One that comes a day late is that one still.
            DayFor::CheckIn => {
                let until = next.unwrap_or(day.date + Duration::days(7));
                let held = check_ins.range(day.date..until).next();
                held.map(|(_, session)| *session)
            }
            DayFor::Protocol { .. } => held.map(|held| held.run.session_id),
        };
        let goes_on = held.is_some_and(|held| held.in_progress);
        let state = day.state(session.map(|_| goes_on), self.today);
        TrainingDayView {
            title: title(&day, &self.protocols),
            day,
            state,
            session,
        }
    }

    /// Full-effort swings that a week of the programme asks for, at the levels that come.
    pub fn week_asks(&self) -> u32 {
        let full = |protocol| {
            let stored = self.protocols.iter().find(|one| one.id == protocol);
            let level = self.level(protocol).map(|level| level.now.level);
            let level = level.and_then(|level| stored?.protocol.levels.get(level));
            level.map_or(0, |level| level.volume()[0])
        };
        let programme = self.programme.as_ref();
        programme.map_or(0, |stored| stored.programme.week_asks(full))
    }

    /// Whether pain holds the player's training today.
    pub fn held_for_pain(&self) -> bool {
        let stored = self.programme.as_ref();
        stored.is_some_and(|stored| away_on(&stored.acts, self.today) == Some(Away::Pain))
    }

    /// What a protocol is called.
    pub fn name_of(&self, protocol: Uuid) -> String {
        named(protocol, &self.protocols)
    }

    /// The level of the next session of a protocol.
    pub fn level(&self, protocol: Uuid) -> Option<LevelOf> {
        let stored = self.protocols.iter().find(|one| one.id == protocol)?;
        let rule = self
            .programme
            .as_ref()
            .map_or(USUAL, |p| p.programme.progression);
        let over = self.runs.iter().filter(|held| !held.in_progress);
        let done: Vec<RunDone> = over
            .filter(|held| held.run.protocol_id == protocol)
            .map(|held| RunDone {
                on: date_in(held.started_at, &held.zone),
                level: held.run.level.max(0) as usize,
                whole: held.made as f64 >= self.rules.whole_run * held.asked as f64,
                stopped: held.stopped,
            })
            .collect();
        let levels = &stored.protocol.levels;
        let now = level_now(&done, levels.len(), rule, self.today);
        Some(LevelOf {
            protocol,
            protocol_name: stored.protocol.name.clone(),
            name: levels
                .get(now.level)
                .map_or_else(String::new, |level| level.name.clone()),
            now,
        })
    }
}

fn named(protocol: Uuid, protocols: &[StoredProtocol]) -> String {
    let found = protocols.iter().find(|one| one.id == protocol);
    found.map_or_else(|| "A protocol".to_owned(), |one| one.protocol.name.clone())
}

/// What a day is called.
pub fn title(day: &PlannedDay, protocols: &[StoredProtocol]) -> String {
    match day.day_for {
        DayFor::CheckIn => "Check-in".to_owned(),
        DayFor::Protocol { protocol } if day.lighter => {
            format!("{}, lighter", named(protocol, protocols))
        }
        DayFor::Protocol { protocol } => named(protocol, protocols),
    }
}

/// The sessions that are check-ins, by their days.
async fn check_ins(
    store: &Store,
    school: Uuid,
    player: Uuid,
) -> Result<BTreeMap<NaiveDate, Uuid>, Problem> {
    let filter = SessionFilter {
        player: Some(player),
        purpose: Some(Purpose::Benchmark),
        ..SessionFilter::default()
    };
    let held = store.sessions_filtered(school, &filter).await?;
    let day = |session: &tally_store::session::sessions::Session| {
        (date_in(session.started_at, &session.zone), session.id)
    };
    Ok(held.iter().map(day).collect())
}
