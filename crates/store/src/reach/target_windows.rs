//! The launch and spin that players aim for.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::announce_all;
use crate::base::schema::target_window;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::physics::club::Club;
use tally_core::reach::launch_spin::TargetWindow;
use uuid::Uuid;

#[derive(Queryable, Selectable, Insertable, AsChangeset)]
#[diesel(table_name = target_window)]
struct Row {
    club: Key<Club>,
    launch_from_deg: f64,
    launch_to_deg: f64,
    spin_from_rpm: f64,
    spin_to_rpm: f64,
}

impl Store {
    /// A player's target windows by club.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn target_windows(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Vec<(Club, TargetWindow)>, StoreError> {
        let rows: Vec<Row> = target_window::table
            .filter(
                target_window::school_id
                    .eq(school)
                    .and(target_window::player_id.eq(player)),
            )
            .order(target_window::club)
            .select(Row::as_select())
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows
            .into_iter()
            .map(|row| {
                let window = TargetWindow {
                    launch_angle_deg: [row.launch_from_deg, row.launch_to_deg],
                    spin_rate_rpm: [row.spin_from_rpm, row.spin_to_rpm],
                };
                (row.club.0, window)
            })
            .collect())
    }

    /// Saves a player's target window with a club in place of any before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn save_target_window(
        &self,
        school: Uuid,
        player: Uuid,
        club: Club,
        window: TargetWindow,
    ) -> Result<(), StoreError> {
        self.player(school, player).await?;
        let row = Row {
            club: Key(club),
            launch_from_deg: window.launch_angle_deg[0],
            launch_to_deg: window.launch_angle_deg[1],
            spin_from_rpm: window.spin_rate_rpm[0],
            spin_to_rpm: window.spin_rate_rpm[1],
        };
        let connection = &mut self.connection().await?;
        diesel::insert_into(target_window::table)
            .values((
                target_window::school_id.eq(school),
                target_window::player_id.eq(player),
                &row,
            ))
            .on_conflict((
                target_window::school_id,
                target_window::player_id,
                target_window::club,
            ))
            .do_update()
            .set((&row, target_window::saved_at.eq(diesel::dsl::now)))
            .execute(connection)
            .await?;
        announce_all(connection, school).await
    }

    /// Forgets a player's target window with a club.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn forget_target_window(
        &self,
        school: Uuid,
        player: Uuid,
        club: Club,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        diesel::delete(
            target_window::table.filter(
                target_window::school_id
                    .eq(school)
                    .and(target_window::player_id.eq(player))
                    .and(target_window::club.eq(Key(club))),
            ),
        )
        .execute(connection)
        .await?;
        announce_all(connection, school).await
    }
}
