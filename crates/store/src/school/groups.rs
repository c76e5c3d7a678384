//! Groups of players: a list with a name.

use crate::base::error::StoreError;
use crate::base::schema::{player, player_group, player_group_member};
use crate::base::store::Store;
use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use uuid::Uuid;

/// A group, with those of its players that the coach sees.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Group {
    /// Identifier.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// Its players.
    pub players: Vec<Uuid>,
}

impl Store {
    /// The school's groups by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn groups(&self, school: Uuid) -> Result<Vec<Group>, StoreError> {
        let connection = &mut self.connection().await?;
        let named: Vec<(Uuid, String)> = player_group::table
            .filter(player_group::school_id.eq(school))
            .order((player_group::name, player_group::id))
            .select((player_group::id, player_group::name))
            .load(connection)
            .await?;
        let rows: Vec<(Uuid, Uuid)> = player_group_member::table
            .filter(player_group_member::school_id.eq(school))
            .order((
                player_group_member::group_id,
                player_group_member::player_id,
            ))
            .select((
                player_group_member::group_id,
                player_group_member::player_id,
            ))
            .load(connection)
            .await?;
        let mut members: HashMap<Uuid, Vec<Uuid>> = HashMap::new();
        for (group, player) in rows {
            members.entry(group).or_default().push(player);
        }
        let each = named.into_iter().map(|(id, name)| Group {
            players: members.remove(&id).unwrap_or_default(),
            id,
            name,
        });
        Ok(each.collect())
    }

    /// Makes a group, or changes its name and players; those whom the coach does not see stay
    /// in it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] for a player whom the coach does not see.
    pub async fn save_group(&self, school: Uuid, group: &Group) -> Result<(), StoreError> {
        let group = group.clone();
        self.connection()
            .await?
            .transaction(async |connection| {
                let seen: i64 = player::table
                    .filter(
                        player::school_id
                            .eq(school)
                            .and(player::id.eq_any(&group.players)),
                    )
                    .count()
                    .get_result(connection)
                    .await?;
                if seen as usize != group.players.len() {
                    return Err(StoreError::NotFound("player"));
                }
                diesel::insert_into(player_group::table)
                    .values((
                        player_group::school_id.eq(school),
                        player_group::id.eq(group.id),
                        player_group::name.eq(&group.name),
                    ))
                    .on_conflict((player_group::school_id, player_group::id))
                    .do_update()
                    .set(player_group::name.eq(&group.name))
                    .execute(connection)
                    .await?;
                // Row-level security leaves those alone whom the coach does not see.
                diesel::delete(
                    player_group_member::table.filter(
                        player_group_member::school_id
                            .eq(school)
                            .and(player_group_member::group_id.eq(group.id)),
                    ),
                )
                .execute(connection)
                .await?;
                let rows: Vec<_> = group
                    .players
                    .iter()
                    .map(|player| {
                        (
                            player_group_member::school_id.eq(school),
                            player_group_member::group_id.eq(group.id),
                            player_group_member::player_id.eq(*player),
                        )
                    })
                    .collect();
                diesel::insert_into(player_group_member::table)
                    .values(rows)
                    .execute(connection)
                    .await?;
                Ok(())
            })
            .await
    }

    /// Drops a group; its players stay. Dropping what is not there changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when players are in it whom the coach does not see.
    pub async fn drop_group(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        let of = player_group::school_id
            .eq(school)
            .and(player_group::id.eq(id));
        diesel::delete(player_group::table.filter(of))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
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
}
