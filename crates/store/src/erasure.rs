//! A player's rows: which they are, and how they are erased.

use crate::{Store, StoreError};
use uuid::Uuid;

/// Tables with a player's rows, in the order in which they can go, each with what finds
/// them.
pub(crate) const OF_A_PLAYER: [(&str, &str); 15] = {
    const SHOTS: &str = "shot_id IN (SELECT shot.id FROM shot JOIN session s \
        ON (s.school_id, s.id) = (shot.school_id, shot.session_id) \
        WHERE s.school_id = $1 AND s.player_id = $2)";
    const SESSIONS: &str =
        "session_id IN (SELECT id FROM session WHERE school_id = $1 AND player_id = $2)";
    const OWN: &str = "player_id = $2";
    [
        ("reading", SHOTS),
        ("shot_mark", SHOTS),
        ("shot_entry", SHOTS),
        ("decision", OWN),
        ("shot", SESSIONS),
        ("session_act", SESSIONS),
        ("block", SESSIONS),
        ("session", OWN),
        (
            "import_bad_row",
            "import_id IN (SELECT id FROM import WHERE school_id = $1 AND player_id = $2)",
        ),
        ("import", OWN),
        ("target_window", OWN),
        ("bag_club", OWN),
        ("player_link", OWN),
        ("player_share", OWN),
        ("player", "id = $2"),
    ]
};

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
        let mut erased = Vec::new();
        for (table, of) in OF_A_PLAYER {
            let sql = format!("DELETE FROM {table} WHERE school_id = $1 AND {of}");
            let rows = work.execute(&sql, &[&school, &id]).await?;
            erased.push((table, rows as i64));
        }
        work.commit().await?;
        Ok(erased)
    }
}
