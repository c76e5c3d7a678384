//! The players of a school.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::announce_all;
use crate::base::schema::{coach, player, player_share};
use crate::base::store::Store;
use crate::school::links::end_lost_links;
use chrono::{DateTime, NaiveDate, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Bool, Text, Timestamptz, Uuid as SqlUuid};
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::school::roster::RosterOrder;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::playing_level::PlayingLevel;
use uuid::Uuid;

/// A player.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = player)]
pub struct Player {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Year of birth, when given.
    pub born: Option<i32>,
    /// Whether they play left-handed.
    pub left_handed: bool,
    /// What they come for.
    pub aim: String,
    /// Standing height, m, when given.
    pub height_m: Option<f64>,
    /// Mass, kg, when given.
    pub mass_kg: Option<f64>,
    /// How they play, when given.
    pub level: Option<Key<PlayingLevel>>,
}

/// A player as listed.
#[derive(Debug, Clone, PartialEq)]
pub struct ListedPlayer {
    /// The player.
    pub player: Player,
    /// Since when they do not come any more.
    pub archived_at: Option<DateTime<Utc>>,
}

/// What a player is found and listed by.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = player)]
pub struct RosterRow {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// What they come for.
    pub aim: String,
    /// Since when they do not come any more.
    pub archived_at: Option<DateTime<Utc>>,
    /// When their last session began.
    pub last_session_at: Option<DateTime<Utc>>,
}

/// Who sees a player, beside the school's owners.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Sharing {
    /// Whose player it is; nobody's when the records came without.
    pub coach: Option<Uuid>,
    /// Who else.
    pub with: Vec<Uuid>,
}

/// What the sessions of a player hold.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Held {
    /// How many there are.
    pub sessions: i64,
    /// How many shots they have.
    pub shots: i64,
    /// When the last began, and the zone of its place.
    pub last: Option<(DateTime<Utc>, String)>,
}

impl Store {
    /// The school's players by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn players(&self, school: Uuid) -> Result<Vec<ListedPlayer>, StoreError> {
        let players: Vec<(Player, Option<DateTime<Utc>>)> = player::table
            .filter(player::school_id.eq(school))
            .order((player::name, player::id))
            .select((Player::as_select(), player::archived_at))
            .load(&mut self.connection().await?)
            .await?;
        let listed = players
            .into_iter()
            .map(|(player, archived_at)| ListedPlayer {
                player,
                archived_at,
            });
        Ok(listed.collect())
    }

    /// The school's players as they are found and listed, by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn roster(&self, school: Uuid) -> Result<Vec<RosterRow>, StoreError> {
        Ok(player::table
            .filter(player::school_id.eq(school))
            .order((player::name, player::id))
            .select(RosterRow::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// The first of the school's players in an order; those who are away only where they are
    /// asked for.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn roster_page(
        &self,
        school: Uuid,
        order: RosterOrder,
        away: bool,
        most: i64,
    ) -> Result<Vec<RosterRow>, StoreError> {
        // Names in the order that core has them in, whatever the database's language.
        let name = diesel::dsl::sql::<Text>("player.name COLLATE \"C\"");
        let mut found = player::table
            .filter(player::school_id.eq(school))
            .select(RosterRow::as_select())
            .limit(most)
            .into_boxed();
        if !away {
            found = found.filter(player::archived_at.is_null());
        }
        if order == RosterOrder::Last {
            found = found.order(player::last_session_at.desc().nulls_last());
        }
        let found = found.then_order_by(name).then_order_by(player::id);
        Ok(found.load(&mut self.connection().await?).await?)
    }

    /// How many of the school's players come, and how many do not any more.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn players_counted(&self, school: Uuid) -> Result<[usize; 2], StoreError> {
        let (all, away): (i64, i64) = player::table
            .filter(player::school_id.eq(school))
            .select((
                diesel::dsl::count(player::id),
                diesel::dsl::count(player::archived_at),
            ))
            .first(&mut self.connection().await?)
            .await?;
        Ok([all - away, away].map(|n| usize::try_from(n).unwrap_or_default()))
    }

    /// Those of the school's players in whose name or aim some words, folded, may be: any of them,
    /// or all. Who has other letters than English ones is never left out, as only core knows how
    /// these are folded.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn roster_with(
        &self,
        school: Uuid,
        words: &[String],
        all: bool,
    ) -> Result<Vec<RosterRow>, StoreError> {
        // Words have no signs that stand for others.
        let like: Vec<String> = words.iter().map(|word| format!("%{word}%")).collect();
        let text = "(player.name || ' ' || player.aim)";
        let which = if all { "ALL" } else { "ANY" };
        let within = diesel::dsl::sql::<Bool>(&format!(
            "(octet_length{text} <> char_length{text} OR lower({text} COLLATE \"C\") LIKE {which}("
        ))
        .bind::<Array<Text>, _>(like)
        .sql("))");
        Ok(player::table
            .filter(player::school_id.eq(school))
            .filter(within)
            .order((player::name, player::id))
            .select(RosterRow::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// What the sessions of some players hold; those without any are left out.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn held_by(
        &self,
        school: Uuid,
        players: &[Uuid],
    ) -> Result<HashMap<Uuid, Held>, StoreError> {
        #[derive(QueryableByName)]
        struct Row {
            #[diesel(sql_type = SqlUuid)]
            id: Uuid,
            #[diesel(sql_type = BigInt)]
            sessions: i64,
            #[diesel(sql_type = BigInt)]
            shots: i64,
            #[diesel(sql_type = Timestamptz)]
            started_at: DateTime<Utc>,
            #[diesel(sql_type = Text)]
            zone: String,
        }
        // One look into the index for each of them, whatever the planner knows.
        let rows: Vec<Row> = diesel::sql_query(
            "SELECT player.id, held.sessions, held.shots, last.started_at, last.zone \
             FROM player, LATERAL ( \
                 SELECT count(*) AS sessions, sum(shots)::bigint AS shots FROM session \
                 WHERE session.school_id = player.school_id AND session.player_id = player.id \
             ) AS held, LATERAL ( \
                 SELECT started_at, zone FROM session \
                 WHERE session.school_id = player.school_id AND session.player_id = player.id \
                     AND session.started_at = player.last_session_at LIMIT 1 \
             ) AS last WHERE player.school_id = $1 AND player.id = ANY($2)",
        )
        .bind::<SqlUuid, _>(school)
        .bind::<Array<SqlUuid>, _>(players)
        .load(&mut self.connection().await?)
        .await?;
        let held = rows.into_iter().map(|row| {
            let held = Held {
                sessions: row.sessions,
                shots: row.shots,
                last: Some((row.started_at, row.zone)),
            };
            (row.id, held)
        });
        Ok(held.collect())
    }

    /// The names of the school's players.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn player_names(&self, school: Uuid) -> Result<HashMap<Uuid, String>, StoreError> {
        let names: Vec<(Uuid, String)> = player::table
            .filter(player::school_id.eq(school))
            .select((player::id, player::name))
            .load(&mut self.connection().await?)
            .await?;
        Ok(names.into_iter().collect())
    }

    /// The names of some players.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn names_of_players(
        &self,
        school: Uuid,
        players: &[Uuid],
    ) -> Result<HashMap<Uuid, String>, StoreError> {
        let names: Vec<(Uuid, String)> = player::table
            .filter(player::school_id.eq(school))
            .filter(player::id.eq_any(players))
            .select((player::id, player::name))
            .load(&mut self.connection().await?)
            .await?;
        Ok(names.into_iter().collect())
    }

    /// Whether the school has any player.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn has_players(&self, school: Uuid) -> Result<bool, StoreError> {
        let any = player::table.filter(player::school_id.eq(school));
        Ok(diesel::select(diesel::dsl::exists(any))
            .get_result(&mut self.connection().await?)
            .await?)
    }

    /// Whether the school has any of these players.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn has_any_of(&self, school: Uuid, ids: &[Uuid]) -> Result<bool, StoreError> {
        let any = player::table.filter(player::school_id.eq(school).and(player::id.eq_any(ids)));
        Ok(diesel::select(diesel::dsl::exists(any))
            .get_result(&mut self.connection().await?)
            .await?)
    }

    /// One player.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn player(&self, school: Uuid, id: Uuid) -> Result<Player, StoreError> {
        player::table
            .filter(player::school_id.eq(school).and(player::id.eq(id)))
            .select(Player::as_select())
            .first(&mut self.connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("player"))
    }

    /// Adds a player of the person whom this store serves; adding the same again changes
    /// nothing.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when the identifier belongs to someone else.
    pub async fn add_player(&self, school: Uuid, new: &Player) -> Result<(), StoreError> {
        diesel::insert_into(player::table)
            .values((
                player::school_id.eq(school),
                player::coach_id.eq(self.scope.person),
                new,
            ))
            .on_conflict_do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        if self.player(school, new.id).await? == *new {
            Ok(())
        } else {
            Err(StoreError::Conflict(
                "another player already has this identifier".into(),
            ))
        }
    }

    /// Puts a player's facts right.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn correct_player(&self, school: Uuid, right: &Player) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        let done = diesel::update(player::table.find((school, right.id)))
            .set((
                player::name.eq(&right.name),
                player::born.eq(right.born),
                player::left_handed.eq(right.left_handed),
                player::aim.eq(&right.aim),
                player::height_m.eq(right.height_m),
                player::mass_kg.eq(right.mass_kg),
                player::level.eq(right.level),
            ))
            .execute(connection)
            .await?;
        if done == 0 {
            return Err(StoreError::NotFound("player"));
        }
        // Which side of the face is the toe changes what every session says.
        announce_all(connection, school).await
    }

    /// The day each of these players' height is of, where it is known.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn heights_on(
        &self,
        school: Uuid,
        players: &[Uuid],
    ) -> Result<HashMap<Uuid, NaiveDate>, StoreError> {
        let rows: Vec<(Uuid, Option<NaiveDate>)> = player::table
            .filter(player::school_id.eq(school).and(player::id.eq_any(players)))
            .select((player::id, player::height_on))
            .load(&mut self.connection().await?)
            .await?;
        let dated = rows.into_iter().filter_map(|(id, day)| Some((id, day?)));
        Ok(dated.collect())
    }

    /// Notes a player's height.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn save_height(
        &self,
        school: Uuid,
        id: Uuid,
        height_m: f64,
    ) -> Result<(), StoreError> {
        let of = player::school_id.eq(school).and(player::id.eq(id));
        let saved = diesel::update(player::table.filter(of))
            .set(player::height_m.eq(height_m))
            .execute(&mut self.connection().await?)
            .await?;
        match saved {
            0 => Err(StoreError::NotFound("player")),
            _ => Ok(()),
        }
    }

    /// Since when a player does not come any more; nothing while they do.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn archived_at(
        &self,
        school: Uuid,
        id: Uuid,
    ) -> Result<Option<DateTime<Utc>>, StoreError> {
        player::table
            .find((school, id))
            .select(player::archived_at)
            .first(&mut self.connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("player"))
    }

    /// Puts a player among those who do not come any more, or brings them back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn archive_player(
        &self,
        school: Uuid,
        id: Uuid,
        at: Option<DateTime<Utc>>,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        let done = diesel::update(player::table.find((school, id)))
            .set(player::archived_at.eq(at))
            .execute(connection)
            .await?;
        if done == 0 {
            return Err(StoreError::NotFound("player"));
        }
        announce_all(connection, school).await
    }

    /// Who sees a player.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn sharing(&self, school: Uuid, player: Uuid) -> Result<Sharing, StoreError> {
        let connection = &mut self.connection().await?;
        let coach: Option<Option<Uuid>> = player::table
            .find((school, player))
            .select(player::coach_id)
            .first(connection)
            .await
            .optional()?;
        let with = player_share::table
            .filter(player_share::school_id.eq(school))
            .filter(player_share::player_id.eq(player))
            .select(player_share::coach_id)
            .order(player_share::coach_id)
            .load(connection)
            .await?;
        let coach = coach.ok_or(StoreError::NotFound("player"))?;
        Ok(Sharing { coach, with })
    }

    /// Says who sees a player.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player or person.
    pub async fn save_sharing(
        &self,
        school: Uuid,
        player: Uuid,
        coach_id: Uuid,
        with: &[Uuid],
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                let left: Vec<Uuid> = coach::table
                    .filter(coach::school_id.eq(school))
                    .filter(coach::left_at.is_not_null())
                    .select(coach::id)
                    .load(connection)
                    .await?;
                let gone = |person: &Uuid| left.contains(person);
                let remedy = "choose somebody who is in the school";
                for (field, left) in [
                    ("coach", Some(coach_id).filter(gone)),
                    ("shared_with", with.iter().copied().find(gone)),
                ] {
                    if let Some(person) = left {
                        let why = Invalid::new(field, person, "has left the school", remedy);
                        return Err(why.into());
                    }
                }
                let done = diesel::update(player::table.find((school, player)))
                    .set(player::coach_id.eq(coach_id))
                    .execute(connection)
                    .await
                    .map_err(no_person)?;
                if done == 0 {
                    return Err(StoreError::NotFound("player"));
                }
                diesel::delete(
                    player_share::table
                        .filter(player_share::school_id.eq(school))
                        .filter(player_share::player_id.eq(player)),
                )
                .execute(connection)
                .await?;
                let rows: Vec<_> = with
                    .iter()
                    .filter(|person| **person != coach_id)
                    .map(|person| {
                        (
                            player_share::school_id.eq(school),
                            player_share::player_id.eq(player),
                            player_share::coach_id.eq(*person),
                        )
                    })
                    .collect();
                diesel::insert_into(player_share::table)
                    .values(rows)
                    .on_conflict_do_nothing()
                    .execute(connection)
                    .await
                    .map_err(no_person)?;
                end_lost_links(connection, school).await
            })
            .await
    }
}

/// A key that leads to nobody.
fn no_person(error: diesel::result::Error) -> StoreError {
    match error {
        diesel::result::Error::DatabaseError(
            diesel::result::DatabaseErrorKind::ForeignKeyViolation,
            _,
        ) => StoreError::NotFound("person"),
        other => other.into(),
    }
}
