//! Sessions.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::announce;
use crate::base::schema::{session, shot};
use crate::base::store::Store;
use crate::session::blocks::{Block, insert_blocks, load_blocks};
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::turf::{Ground, Surface};
use tally_core::physics::wind::Wind;
use tally_core::session::purpose::Purpose;
use uuid::Uuid;

/// A session as stored.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = session)]
pub struct Session {
    /// Identifier.
    pub id: Uuid,
    /// Whose.
    pub player_id: Uuid,
    /// Why it is held.
    #[diesel(deserialize_as = Key<Purpose>, serialize_as = Key<Purpose>)]
    pub purpose: Purpose,
    /// Its club, where a block names none.
    #[diesel(deserialize_as = Key<Club>, serialize_as = Key<Club>)]
    pub club: Club,
    /// Where.
    pub place: String,
    /// Height above the sea, m.
    pub altitude_m: f64,
    /// Temperature, °C.
    pub temperature_c: f64,
    /// Relative humidity, %.
    pub humidity_pct: f64,
    /// Pressure, hPa, when read.
    pub pressure_hpa: Option<f64>,
    /// When it began.
    pub started_at: DateTime<Utc>,
    /// Its time zone's name.
    pub zone: String,
    /// When it ended; absent while in progress.
    pub ended_at: Option<DateTime<Utc>>,
    /// Wind ten metres up, m/s; absent indoors and in a calm.
    pub wind_mps: Option<f64>,
    /// Where it comes from, deg; there when the wind is.
    pub wind_from_deg: Option<f64>,
    /// The surface that balls land on.
    pub surface: Option<Key<Surface>>,
    /// Its firmness, 0…1; there when the surface is.
    pub firmness: Option<f64>,
    /// What is hit.
    #[diesel(deserialize_as = Key<BallKind>, serialize_as = Key<BallKind>)]
    pub ball: BallKind,
    /// The club of the player's bag.
    pub bag_club_id: Option<Uuid>,
    /// The import that brought it; absent when it was held with this system.
    pub import_id: Option<Uuid>,
    /// Whether it was under a roof; not known when absent.
    pub indoors: Option<bool>,
    /// What the coach noted.
    pub note: String,
    /// What it can be found by, an array of words.
    pub tags: serde_json::Value,
}

impl Session {
    /// A session that begins, of which nothing else is said: the reference's air, a premium
    /// ball, a driver.
    pub fn begun(
        id: Uuid,
        player_id: Uuid,
        purpose: Purpose,
        zone: &str,
        started_at: DateTime<Utc>,
    ) -> Session {
        let mut session = Session {
            id,
            player_id,
            purpose,
            club: Club::Driver,
            place: String::new(),
            altitude_m: 0.0,
            temperature_c: 0.0,
            humidity_pct: 0.0,
            pressure_hpa: None,
            started_at,
            zone: zone.to_owned(),
            ended_at: None,
            wind_mps: None,
            wind_from_deg: None,
            surface: None,
            firmness: None,
            ball: BallKind::Premium,
            bag_club_id: None,
            import_id: None,
            indoors: None,
            note: String::new(),
            tags: serde_json::json!([]),
        };
        session.set_conditions(&Conditions::REFERENCE);
        session
    }

    /// What it can be found by.
    pub fn tags(&self) -> Vec<String> {
        serde_json::from_value(self.tags.clone()).unwrap_or_default()
    }

    /// The air and the ground.
    pub fn conditions(&self) -> Conditions {
        let wind = self.wind_mps.zip(self.wind_from_deg);
        Conditions {
            altitude_m: self.altitude_m,
            ball_temperature_c: None,
            ball_flight: None,
            temperature_c: self.temperature_c,
            humidity_pct: self.humidity_pct,
            pressure_hpa: self.pressure_hpa,
            wind: wind.map(|(speed_mps, from_deg)| Wind {
                speed_mps,
                from_deg,
            }),
            ground: self
                .surface
                .zip(self.firmness)
                .map(|(Key(surface), firmness)| Ground { surface, firmness }),
        }
    }

    /// Takes these conditions.
    pub fn set_conditions(&mut self, conditions: &Conditions) {
        self.altitude_m = conditions.altitude_m;
        self.temperature_c = conditions.temperature_c;
        self.humidity_pct = conditions.humidity_pct;
        self.pressure_hpa = conditions.pressure_hpa;
        self.wind_mps = conditions.wind.map(|wind| wind.speed_mps);
        self.wind_from_deg = conditions.wind.map(|wind| wind.from_deg);
        self.surface = conditions.ground.map(|ground| Key(ground.surface));
        self.firmness = conditions.ground.map(|ground| ground.firmness);
    }
}

/// Which sessions are wanted; what is absent does not matter.
#[derive(Debug, Clone, Default)]
pub struct SessionFilter {
    /// This one.
    pub session: Option<Uuid>,
    /// A player's.
    pub player: Option<Uuid>,
    /// Those of a purpose.
    pub purpose: Option<Purpose>,
    /// Begun at this time or later.
    pub from: Option<DateTime<Utc>>,
    /// Begun before this time.
    pub to: Option<DateTime<Utc>>,
}

impl Store {
    /// Whether a session is in progress and had a ball, or began, since a moment.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn is_used(
        &self,
        school: Uuid,
        id: Uuid,
        since: DateTime<Utc>,
    ) -> Result<bool, StoreError> {
        let hit = shot::table
            .filter(shot::school_id.eq(school))
            .filter(shot::session_id.eq(id))
            .filter(shot::hit_at.gt(since));
        let used = session::table
            .find((school, id))
            .filter(session::ended_at.is_null())
            .filter(session::started_at.gt(since).or(diesel::dsl::exists(hit)));
        Ok(diesel::select(diesel::dsl::exists(used))
            .get_result(&mut self.connection().await?)
            .await?)
    }

    /// The sessions that a filter lets through, oldest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn sessions_filtered(
        &self,
        school: Uuid,
        filter: &SessionFilter,
    ) -> Result<Vec<Session>, StoreError> {
        let mut wanted = session::table
            .filter(session::school_id.eq(school))
            .order((session::started_at, session::id))
            .select(Session::as_select())
            .into_boxed();
        if let Some(id) = filter.session {
            wanted = wanted.filter(session::id.eq(id));
        }
        if let Some(player) = filter.player {
            wanted = wanted.filter(session::player_id.eq(player));
        }
        if let Some(purpose) = filter.purpose {
            wanted = wanted.filter(session::purpose.eq(Key(purpose)));
        }
        if let Some(from) = filter.from {
            wanted = wanted.filter(session::started_at.ge(from));
        }
        if let Some(to) = filter.to {
            wanted = wanted.filter(session::started_at.lt(to));
        }
        Ok(wanted.load(&mut self.connection().await?).await?)
    }

    /// Sessions of a purpose that some players began since a moment: whose, when, and in which
    /// zone.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn begun_since(
        &self,
        school: Uuid,
        players: &[Uuid],
        purpose: Purpose,
        since: DateTime<Utc>,
    ) -> Result<Vec<(Uuid, DateTime<Utc>, String)>, StoreError> {
        if players.is_empty() {
            return Ok(Vec::new());
        }
        Ok(session::table
            .filter(session::school_id.eq(school))
            .filter(session::player_id.eq_any(players))
            .filter(session::purpose.eq(Key(purpose)))
            .filter(session::started_at.ge(since))
            .select((session::player_id, session::started_at, session::zone))
            .load(&mut self.connection().await?)
            .await?)
    }

    /// A player's sessions, latest first, with how many shots each has.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn player_sessions(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Vec<(Session, i64)>, StoreError> {
        let connection = &mut self.connection().await?;
        let sessions: Vec<(Session, i32)> = session::table
            .filter(
                session::school_id
                    .eq(school)
                    .and(session::player_id.eq(player)),
            )
            .order((session::started_at.desc(), session::id))
            .select((Session::as_select(), session::shots))
            .load(connection)
            .await?;
        let counted = sessions.into_iter().map(|(s, n)| (s, i64::from(n)));
        Ok(counted.collect())
    }

    /// How many shots each of some sessions has.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn shots_in(
        &self,
        school: Uuid,
        sessions: &[Uuid],
    ) -> Result<HashMap<Uuid, i64>, StoreError> {
        let counts: Vec<(Uuid, i32)> = session::table
            .filter(session::school_id.eq(school))
            .filter(session::id.eq_any(sessions))
            .select((session::id, session::shots))
            .load(&mut self.connection().await?)
            .await?;
        let counted = counts.into_iter().map(|(id, n)| (id, i64::from(n)));
        Ok(counted.collect())
    }

    /// One session with its blocks in order.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn session(
        &self,
        school: Uuid,
        id: Uuid,
    ) -> Result<(Session, Vec<Block>), StoreError> {
        let connection = &mut self.connection().await?;
        let found: Option<Session> = session::table
            .filter(session::school_id.eq(school).and(session::id.eq(id)))
            .select(Session::as_select())
            .first(connection)
            .await
            .optional()?;
        let found = found.ok_or(StoreError::NotFound("session"))?;
        let blocks = load_blocks(connection, school, id).await?;
        Ok((found, blocks))
    }

    /// Sessions in progress, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn sessions_in_progress(&self, school: Uuid) -> Result<Vec<Session>, StoreError> {
        Ok(session::table
            .filter(
                session::school_id
                    .eq(school)
                    .and(session::ended_at.is_null()),
            )
            .order(session::started_at.desc())
            .select(Session::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Begins a session with its blocks, the first of them begun; beginning the same
    /// again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn add_session(
        &self,
        school: Uuid,
        new: &Session,
        blocks: &[Block],
    ) -> Result<(), StoreError> {
        self.player(school, new.player_id).await?;
        let (new, mut blocks) = (new.clone(), blocks.to_vec());
        if let Some(first) = blocks.first_mut() {
            first.begun_at = Some(new.started_at);
        }
        self.connection()
            .await?
            .transaction(async |connection| {
                let added = diesel::insert_into(session::table)
                    .values((session::school_id.eq(school), new))
                    .on_conflict((session::school_id, session::id))
                    .do_nothing()
                    .execute(connection)
                    .await?;
                if added > 0 {
                    insert_blocks(connection, school, &blocks).await?;
                }
                Ok::<_, StoreError>(())
            })
            .await
    }

    /// Changes where a session is held, its conditions and its ball.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn save_session(&self, school: Uuid, changed: &Session) -> Result<(), StoreError> {
        let set = (
            session::place.eq(changed.place.clone()),
            session::altitude_m.eq(changed.altitude_m),
            session::temperature_c.eq(changed.temperature_c),
            session::humidity_pct.eq(changed.humidity_pct),
            session::pressure_hpa.eq(changed.pressure_hpa),
            session::wind_mps.eq(changed.wind_mps),
            session::wind_from_deg.eq(changed.wind_from_deg),
            session::surface.eq(changed.surface),
            session::firmness.eq(changed.firmness),
            session::ball.eq(Key(changed.ball)),
            session::indoors.eq(changed.indoors),
        );
        let id = changed.id;
        // One transaction: a change that nobody hears of would leave kept figures as they were.
        self.connection()
            .await?
            .transaction(async |connection| {
                let found = session::table.find((school, id));
                let done = diesel::update(found).set(set).execute(connection).await?;
                if done == 0 {
                    return Err(StoreError::NotFound("session"));
                }
                announce(connection, school, id).await
            })
            .await
    }

    /// A player's latest sessions with a club that have shots, of one purpose or of all,
    /// latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn sessions_with_club(
        &self,
        school: Uuid,
        player: Uuid,
        club: Club,
        purpose: Option<Purpose>,
        most: i64,
    ) -> Result<Vec<Session>, StoreError> {
        let has_shots = diesel::dsl::exists(
            shot::table.filter(
                shot::school_id
                    .eq(session::school_id)
                    .and(shot::session_id.eq(session::id)),
            ),
        );
        let mut wanted = session::table
            .filter(
                session::school_id
                    .eq(school)
                    .and(session::player_id.eq(player))
                    .and(session::club.eq(Key(club)))
                    .and(has_shots),
            )
            .order((session::started_at.desc(), session::id))
            .limit(most)
            .select(Session::as_select())
            .into_boxed();
        if let Some(purpose) = purpose {
            wanted = wanted.filter(session::purpose.eq(Key(purpose)));
        }
        Ok(wanted.load(&mut self.connection().await?).await?)
    }

    /// The school's latest sessions, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn latest_sessions(
        &self,
        school: Uuid,
        most: i64,
    ) -> Result<Vec<Session>, StoreError> {
        Ok(session::table
            .filter(session::school_id.eq(school))
            .order((session::started_at.desc(), session::id))
            .limit(most)
            .select(Session::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Notes something of a session.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn note_session(
        &self,
        school: Uuid,
        id: Uuid,
        note: &str,
        tags: &[String],
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        let tags = serde_json::to_value(tags).expect("tags are plain data");
        let changed = diesel::update(session::table.find((school, id)))
            .set((session::note.eq(note), session::tags.eq(tags)))
            .execute(connection)
            .await?;
        if changed == 0 {
            return Err(StoreError::NotFound("session"));
        }
        announce(connection, school, id).await
    }

    /// Ends a session, or takes it up again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn end_session(
        &self,
        school: Uuid,
        id: Uuid,
        ended_at: Option<DateTime<Utc>>,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        let changed = diesel::update(
            session::table.filter(session::school_id.eq(school).and(session::id.eq(id))),
        )
        .set(session::ended_at.eq(ended_at))
        .execute(connection)
        .await?;
        if changed == 0 {
            return Err(StoreError::NotFound("session"));
        }
        announce(connection, school, id).await
    }
}
