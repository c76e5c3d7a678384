//! What each session gives, counted once and kept until the session changes.

use crate::base::error::StoreError;
use crate::base::schema::session_figures;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Binary, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use std::collections::HashMap;
use std::hash::{DefaultHasher, Hash, Hasher};
use tally_core::record::figures::{FOLLOWED, SessionFigures};
use tally_core::verdicts::house_rules::HouseRules;
use uuid::Uuid;

/// Raised whenever core counts, flags or words otherwise what is kept, so that nothing of
/// before is taken in.
const FORM: u32 = 6;

/// What is known of a session's figures.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct KeptFigures {
    /// How often the session had changed when this was read.
    pub changes: i64,
    /// What was counted since its last change, by the rules asked for.
    pub figures: Option<SessionFigures>,
    /// Which devices read most of it, those that read most first.
    pub devices: Vec<Uuid>,
    /// Readings that wait for the coach's decision, those of swings without a ball too.
    pub waiting: usize,
}

/// What is kept of a session: its figures, its devices, and how many readings wait.
type Counted = (SessionFigures, Vec<Uuid>, usize);

impl Store {
    /// Which rules and device offsets figures are counted by: figures are kept under this
    /// mark, and read under the one that holds now.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn figures_mark(&self, school: Uuid, rules: &HouseRules) -> Result<i64, StoreError> {
        let mut hasher = DefaultHasher::new();
        FORM.hash(&mut hasher);
        for quantity in FOLLOWED {
            <&str>::from(quantity).hash(&mut hasher);
        }
        format!("{rules:?}").hash(&mut hasher);
        for device in self.devices(school).await? {
            (device.id, device.name).hash(&mut hasher);
            let offsets = serde_json::to_string(&device.offsets);
            offsets.expect("offsets are plain data").hash(&mut hasher);
        }
        Ok(hasher.finish().cast_signed())
    }

    /// What is known of some sessions' figures; a session that is not named was never
    /// counted and never changed.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn kept_figures(
        &self,
        school: Uuid,
        sessions: &[Uuid],
        mark: i64,
    ) -> Result<HashMap<Uuid, KeptFigures>, StoreError> {
        type Row = (Uuid, i64, Option<i64>, Option<Vec<u8>>);
        let rows: Vec<Row> = session_figures::table
            .filter(session_figures::school_id.eq(school))
            .filter(session_figures::session_id.eq_any(sessions))
            .select((
                session_figures::session_id,
                session_figures::changes,
                session_figures::mark,
                session_figures::figures,
            ))
            .load(&mut self.connection().await?)
            .await?;
        let read = rows.into_iter().map(|(session, changes, by, figures)| {
            let current = figures.filter(|_| by == Some(mark));
            // What cannot be read is counted again.
            let counted = current.and_then(|bytes| postcard::from_bytes::<Counted>(&bytes).ok());
            let kept = match counted {
                None => KeptFigures {
                    changes,
                    ..KeptFigures::default()
                },
                Some((figures, devices, waiting)) => KeptFigures {
                    changes,
                    figures: Some(figures),
                    devices,
                    waiting,
                },
            };
            (session, kept)
        });
        Ok(read.collect())
    }

    /// Keeps what was counted, except of sessions that changed since.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn keep_figures(
        &self,
        school: Uuid,
        mark: i64,
        counted: &[(Uuid, KeptFigures)],
    ) -> Result<(), StoreError> {
        let told = counted.iter().filter_map(|(session, kept)| {
            let bytes =
                postcard::to_allocvec(&(kept.figures.as_ref()?, &kept.devices, kept.waiting));
            Some((*session, kept.changes, bytes.ok()?))
        });
        let (mut sessions, mut changes, mut figures) = (vec![], vec![], vec![]);
        for (session, times, bytes) in told {
            sessions.push(session);
            changes.push(times);
            figures.push(bytes);
        }
        // One order for all that write here: two that keep the same never wait for each other.
        let keep = "INSERT INTO session_figures AS kept (school_id, session_id, changes, mark, figures) \
                    SELECT $1, counted.id, counted.changes, $2, counted.figures \
                    FROM unnest($3, $4, $5) AS counted (id, changes, figures) \
                    JOIN session ON session.school_id = $1 AND session.id = counted.id \
                    ORDER BY counted.id \
                    ON CONFLICT (school_id, session_id) DO UPDATE \
                    SET mark = excluded.mark, figures = excluded.figures \
                    WHERE kept.changes = excluded.changes";
        diesel::sql_query(keep)
            .bind::<SqlUuid, _>(school)
            .bind::<BigInt, _>(mark)
            .bind::<Array<SqlUuid>, _>(sessions)
            .bind::<Array<BigInt>, _>(changes)
            .bind::<Array<Binary>, _>(figures)
            .execute(&mut self.first().connection().await?)
            .await?;
        Ok(())
    }
}
