//! Where the shots of a table belong: a session for each day, a block for each run of
//! shots with the same label, club, implement and effort.

use super::{ImportedShot, When};
use chrono::{DateTime, Duration, NaiveDate, NaiveDateTime, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;
use std::collections::HashMap;
use tally_core::physics::club::Club;
use tally_core::shots::swung::Swung;
use tally_core::vocabulary::invalid::Invalid;
use uuid::Uuid;

/// Label of a block whose shots have none.
const UNLABELLED: &str = "Imported";

/// A session that a table opens.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewSession {
    /// Identifier.
    pub id: Uuid,
    /// Its club: that of its first shot.
    pub club: Club,
    /// When its first shot was hit.
    pub started_at: DateTime<Utc>,
}

/// A block that a table opens.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewBlock {
    /// Identifier.
    pub id: Uuid,
    /// Its session.
    pub session: Uuid,
    /// Place in its session, from 0.
    pub position: i32,
    /// What it is called.
    pub label: String,
    /// The club, when it is not the session's.
    pub club: Option<Club>,
    /// What was swung in it without a ball.
    pub swung: Option<Swung>,
    /// Effort felt that it asked for, %, where the table tells it.
    pub effort_pct: Option<u32>,
    /// When its first shot was hit.
    pub begun_at: DateTime<Utc>,
}

/// Where a shot belongs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Placed {
    /// The shot's own identifier: of those of the same moment, in the order they were hit.
    pub shot: Uuid,
    /// Its session.
    pub session: Uuid,
    /// Its block.
    pub block: Uuid,
    /// When it was hit.
    pub hit_at: DateTime<Utc>,
}

struct OpenSession {
    id: Uuid,
    club: Club,
    shots: i64,
    blocks: i32,
    /// When the shot before was hit.
    latest: DateTime<Utc>,
    /// The block under way.
    block: Option<OpenBlock>,
}

struct OpenBlock {
    id: Uuid,
    label: String,
    club: Club,
    swung: Option<Swung>,
    effort_pct: Option<u32>,
}

/// Sorts the shots of a table into sessions and blocks, in the order they stand.
pub struct Places {
    zone: Tz,
    day: NaiveDate,
    club: Club,
    sessions: HashMap<NaiveDate, OpenSession>,
    /// Whether the last row was hit first.
    newest_first: bool,
    /// The millisecond of the next identifier, where they go back.
    backwards: u64,
    /// Whether a shot stood behind one of its session that was hit later.
    pub unordered: bool,
    /// Sessions opened since they were last taken.
    pub new_sessions: Vec<NewSession>,
    /// Blocks opened since they were last taken.
    pub new_blocks: Vec<NewBlock>,
}

impl Places {
    /// Shots without a day belong to `day`, those without a club to `club`; times
    /// without a zone are those of `zone`. Of those without a time the first row was hit first,
    /// or with `newest_first` the last.
    ///
    /// # Errors
    /// [`Invalid`] when there is no such zone.
    pub fn new(
        zone: &str,
        day: NaiveDate,
        club: Club,
        newest_first: bool,
    ) -> Result<Self, Invalid> {
        let zone = tally_core::vocabulary::zone::zone("zone", zone)?;
        Ok(Self {
            zone,
            day,
            club,
            sessions: HashMap::new(),
            newest_first,
            backwards: Utc::now().timestamp_millis().unsigned_abs(),
            unordered: false,
            new_sessions: Vec::new(),
            new_blocks: Vec::new(),
        })
    }

    /// The day and the moment of a shot, as far as the table tells them.
    pub fn told(&self, shot: &ImportedShot) -> (Option<NaiveDate>, Option<DateTime<Utc>>) {
        match shot.when {
            When::At(moment) => (Some(self.day_of(moment)), Some(moment)),
            When::Local(local) => (Some(local.date()), Some(self.moment(local))),
            When::Day(day) => (Some(day), None),
            When::Clock(time) => (Some(self.day), Some(self.moment(self.day.and_time(time)))),
            When::Unknown => (None, None),
        }
    }

    /// The day of a moment at the place.
    pub fn day_of(&self, moment: DateTime<Utc>) -> NaiveDate {
        moment.with_timezone(&self.zone).date_naive()
    }

    /// The club of a shot, or else the one of those that name none.
    pub fn club_of(&self, shot: &ImportedShot) -> Club {
        shot.club.unwrap_or(self.club)
    }

    /// Finds the place of a shot, and opens it when it is new.
    pub fn place(&mut self, shot: &ImportedShot) -> Placed {
        let (day, told) = self.told(shot);
        let day = day.unwrap_or(self.day);
        let nth = self.sessions.get(&day).map_or(0, |open| open.shots);
        // Without a time, from noon on, in the order of the table; or back from six.
        let hit_at = told.unwrap_or_else(|| {
            let (hour, on) = if self.newest_first {
                (18, -nth)
            } else {
                (12, nth)
            };
            let begins = NaiveTime::from_hms_opt(hour, 0, 0).unwrap_or_default();
            self.moment(day.and_time(begins)) + Duration::seconds(on)
        });
        let id = self.next_id();
        let club = self.club_of(shot);
        let open = self.sessions.entry(day).or_insert_with(|| {
            let session = NewSession {
                id: Uuid::now_v7(),
                club,
                started_at: hit_at,
            };
            let open = OpenSession {
                id: session.id,
                club,
                shots: 0,
                blocks: 0,
                latest: hit_at,
                block: None,
            };
            self.new_sessions.push(session);
            open
        });
        open.shots += 1;
        self.unordered |= hit_at < open.latest;
        open.latest = hit_at;
        let effort = shot.effort_pct.map(|pct| format!("{pct} %"));
        let told = shot.block.as_deref().or(effort.as_deref());
        let label = told.unwrap_or(UNLABELLED);
        let same = |block: &&OpenBlock| {
            block.label == label
                && block.club == club
                && block.swung == shot.swung
                && block.effort_pct == shot.effort_pct
        };
        let block = match open.block.as_ref().filter(same) {
            Some(block) => block.id,
            None => {
                let block = NewBlock {
                    id: Uuid::now_v7(),
                    session: open.id,
                    position: open.blocks,
                    label: label.to_owned(),
                    club: (club != open.club).then_some(club),
                    swung: shot.swung.clone(),
                    effort_pct: shot.effort_pct,
                    begun_at: hit_at,
                };
                let id = block.id;
                open.blocks += 1;
                open.block = Some(OpenBlock {
                    id,
                    label: label.to_owned(),
                    club,
                    swung: shot.swung.clone(),
                    effort_pct: shot.effort_pct,
                });
                self.new_blocks.push(block);
                id
            }
        };
        Placed {
            shot: id,
            session: open.id,
            block,
            hit_at,
        }
    }

    /// Identifiers are ordered by when they were made: of shots of the same minute that says
    /// which was hit first.
    fn next_id(&mut self) -> Uuid {
        if !self.newest_first {
            return Uuid::now_v7();
        }
        self.backwards = self.backwards.saturating_sub(1);
        let mut random = [0; 10];
        random.copy_from_slice(&Uuid::new_v4().as_bytes()[6..]);
        uuid::Builder::from_unix_timestamp_millis(self.backwards, &random).into_uuid()
    }

    /// A local time as a moment. In the hour that a clock goes through twice, the first
    /// time; in the one it leaves out, an hour later.
    fn moment(&self, local: NaiveDateTime) -> DateTime<Utc> {
        let there = self
            .zone
            .from_local_datetime(&local)
            .earliest()
            .or_else(|| {
                let later = local + Duration::hours(1);
                self.zone.from_local_datetime(&later).earliest()
            });
        there.map_or_else(|| local.and_utc(), |moment| moment.with_timezone(&Utc))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn shot(when: When, block: &str) -> ImportedShot {
        ImportedShot {
            when,
            block: Some(block.to_owned()),
            ..ImportedShot::empty()
        }
    }

    fn day(text: &str) -> NaiveDate {
        text.parse().unwrap()
    }

    fn places() -> Places {
        Places::new("Europe/Vienna", day("2026-04-20"), Club::Driver, false).unwrap()
    }

    #[test]
    fn a_day_is_a_session_and_a_run_of_a_label_is_a_block() {
        let mut places = places();
        let first = |label| shot(When::Day(day("2026-04-18")), label);
        let a = places.place(&first("A"));
        let b = places.place(&first("B"));
        let a_again = places.place(&first("A"));
        let other_day = places.place(&shot(When::Unknown, "A"));
        assert_eq!((a.session, b.session), (b.session, a_again.session));
        assert!(a.block != a_again.block && a.session != other_day.session);
        let positions: Vec<_> = places.new_blocks.iter().map(|b| b.position).collect();
        assert_eq!(positions, [0, 1, 2, 0]);
        assert!(a.hit_at < b.hit_at && b.hit_at < a_again.hit_at);
    }

    #[test]
    fn times_without_a_zone_are_those_of_the_place() {
        let mut places = places();
        let noon: NaiveDateTime = "2026-07-01T12:00:00".parse().unwrap();
        let placed = places.place(&shot(When::Local(noon), "A"));
        assert_eq!(
            placed.hit_at,
            "2026-07-01T10:00:00Z".parse::<DateTime<Utc>>().unwrap()
        );
        // The hour that the clock leaves out in spring.
        let left_out: NaiveDateTime = "2026-03-29T02:30:00".parse().unwrap();
        let placed = places.place(&shot(When::Local(left_out), "A"));
        assert_eq!(
            placed.hit_at,
            "2026-03-29T01:30:00Z".parse::<DateTime<Utc>>().unwrap()
        );
        assert!(Places::new("Nowhere/Town", day("2026-04-20"), Club::Driver, false).is_err());
    }

    #[test]
    fn another_club_is_another_block_and_is_named_in_it() {
        let mut places = places();
        let with = |club| ImportedShot {
            club: Some(club),
            ..shot(When::Unknown, "Gaps")
        };
        places.place(&with(Club::Iron7));
        places.place(&with(Club::Iron9));
        let clubs: Vec<_> = places.new_blocks.iter().map(|b| b.club).collect();
        assert_eq!(clubs, [None, Some(Club::Iron9)]);
    }
}
