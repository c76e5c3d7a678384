//! What a school's players swing.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::implement;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::training::implement::{Implement, ImplementKind};
use uuid::Uuid;

/// An implement of a school, or of one player.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredImplement {
    /// Identifier.
    pub id: Uuid,
    /// Whose; the school's when absent.
    pub player_id: Option<Uuid>,
    /// What it is.
    pub implement: Implement,
}

type Row = (
    Uuid,
    Option<Uuid>,
    String,
    Key<ImplementKind>,
    Option<f64>,
    Option<f64>,
);

impl Store {
    /// The implements that a player can swing: the school's, and the player's own; all where
    /// no player is named.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn implements(
        &self,
        school: Uuid,
        player: Option<Uuid>,
    ) -> Result<Vec<StoredImplement>, StoreError> {
        let mut of_school = implement::table
            .filter(implement::school_id.eq(school))
            .filter(implement::left_at.is_null())
            .into_boxed();
        if let Some(player) = player {
            let theirs = implement::player_id.eq(player);
            of_school =
                of_school.filter(implement::player_id.is_null().or(theirs.assume_not_null()));
        }
        let rows: Vec<Row> = of_school
            .order((implement::name, implement::id))
            .select((
                implement::id,
                implement::player_id,
                implement::name,
                implement::kind,
                implement::mass_kg,
                implement::length_m,
            ))
            .load(&mut self.connection().await?)
            .await?;
        let each = |(id, player_id, name, Key(kind), mass_kg, length_m)| StoredImplement {
            id,
            player_id,
            implement: Implement {
                name,
                kind,
                mass_kg,
                length_m,
            },
        };
        Ok(rows.into_iter().map(each).collect())
    }

    /// Adds an implement, or corrects the mass, length and kind of one that is there; its name
    /// stays, for swings carry it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player;
    /// [`StoreError::Conflict`] when another of the same name is there, or the name of one that
    /// is there would change.
    pub async fn save_implement(
        &self,
        school: Uuid,
        saved: &StoredImplement,
    ) -> Result<(), StoreError> {
        if let Some(player) = saved.player_id {
            self.player(school, player).await?;
        }
        let told = &saved.implement;
        let there = self.implements(school, None).await?;
        let other = |one: &StoredImplement| {
            one.id != saved.id
                && one.player_id == saved.player_id
                && one.implement.name.to_lowercase() == told.name.to_lowercase()
        };
        if there.iter().any(other) {
            return Err(StoreError::Conflict(format!(
                "there is one called “{}” already; give this another name",
                told.name
            )));
        }
        if let Some(before) = there.iter().find(|one| one.id == saved.id)
            && before.implement.name != told.name
        {
            return Err(StoreError::Conflict(format!(
                "its swings are kept as “{}”; add another implement for another name",
                before.implement.name
            )));
        }
        let changed = (
            implement::kind.eq(Key(told.kind)),
            implement::mass_kg.eq(told.mass_kg),
            implement::length_m.eq(told.length_m),
        );
        diesel::insert_into(implement::table)
            .values((
                implement::school_id.eq(school),
                implement::id.eq(saved.id),
                implement::player_id.eq(saved.player_id),
                implement::name.eq(&told.name),
                changed,
            ))
            .on_conflict((implement::school_id, implement::id))
            .do_update()
            .set(changed)
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Takes an implement out of use; what was swung with it stays.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn drop_implement(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        let here = implement::table.find((school, id));
        let done = diesel::update(here.filter(implement::left_at.is_null()))
            .set(implement::left_at.eq(diesel::dsl::now))
            .execute(&mut self.connection().await?)
            .await?;
        if done == 1 {
            Ok(())
        } else {
            Err(StoreError::NotFound("implement"))
        }
    }

    /// Takes an implement out altogether; what was swung with it keeps its name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn erase_implement(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        diesel::delete(implement::table.find((school, id)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
