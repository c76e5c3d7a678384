//! Groups of players: a list with a name.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::schema::{player, player_group, player_group_member};
use crate::base::store::Store;
use diesel::dsl::{exists, select};
use diesel::prelude::*;
use diesel::result::DatabaseErrorKind;
use diesel::result::Error::DatabaseError;
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
    /// The school's groups by name, those of which the coach sees a player.
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
        let each = named.into_iter().filter_map(|(id, name)| {
            let players = members.remove(&id)?;
            Some(Group { id, name, players })
        });
        Ok(each.collect())
    }

    /// Makes a group, or changes its name and players; those whom the coach does not see stay
    /// in it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] for a player whom the coach does not see, and for a group of which
    /// they see nobody.
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
                if is_group(connection, school, group.id).await?
                    && !has_member(connection, school, group.id).await?
                {
                    return Err(StoreError::NotFound("group"));
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

    /// Takes the players whom the coach sees out of a group, and drops it when nobody else is in
    /// it. Dropping what is not there changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn drop_group(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        if !has_member(connection, school, id).await? {
            return Ok(());
        }
        let members = player_group_member::table
            .filter(player_group_member::school_id.eq(school))
            .filter(player_group_member::group_id.eq(id));
        diesel::delete(members).execute(connection).await?;
        let of = player_group::school_id
            .eq(school)
            .and(player_group::id.eq(id));
        match diesel::delete(player_group::table.filter(of))
            .execute(connection)
            .await
        {
            // It stays for those who see the others in it.
            Ok(_) | Err(DatabaseError(DatabaseErrorKind::ForeignKeyViolation, _)) => Ok(()),
            Err(other) => Err(other.into()),
        }
    }
}

async fn is_group(connection: &mut Connection, school: Uuid, id: Uuid) -> Result<bool, StoreError> {
    let found = select(exists(player_group::table.find((school, id))));
    Ok(found.get_result(connection).await?)
}

/// Whether the coach sees somebody in it.
async fn has_member(
    connection: &mut Connection,
    school: Uuid,
    id: Uuid,
) -> Result<bool, StoreError> {
    let members = player_group_member::table
        .filter(player_group_member::school_id.eq(school))
        .filter(player_group_member::group_id.eq(id));
    Ok(select(exists(members)).get_result(connection).await?)
}
