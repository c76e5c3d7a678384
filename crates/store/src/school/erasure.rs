//! How a player's rows are erased.

use crate::base::error::StoreError;
use crate::base::store::Store;
use crate::base::tables::erased;
use uuid::Uuid;

impl Store {
    /// Erases a player with all that is kept of them, and says how much it was:
    /// table and rows.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn erase_player(
        &self,
        school: Uuid,
        id: Uuid,
    ) -> Result<Vec<(&'static str, i64)>, StoreError> {
        // Out of reach for whom they are out of reach.
        self.player(school, id).await?;
        let mut client = self.raw_connection().await?;
        let work = client.transaction().await?;
        // A device that sends to one of the sessions is let go.
        work.execute(
            "UPDATE device SET session_id = NULL WHERE school_id = $1 AND session_id IN \
             (SELECT id FROM session WHERE school_id = $1 AND player_id = $2)",
            &[&school, &id],
        )
        .await?;
        let mut gone = Vec::new();
        for (table, of) in erased() {
            let sql = format!("DELETE FROM {table} WHERE school_id = $1 AND {of}");
            let rows = work.execute(&sql, &[&school, &id]).await?;
            gone.push((table, rows as i64));
        }
        work.commit().await?;
        Ok(gone)
    }
}
