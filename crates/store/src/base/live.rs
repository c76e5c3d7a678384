//! Telling every server copy that a session changed.
//!
//! A change is announced inside its own transaction with NOTIFY, so it is heard only
//! once it is committed, by every server that listens.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::readers::Position;
use crate::base::store::Store;
use diesel::pg::Pg;
use diesel::query_builder::{AstPass, QueryFragment, QueryId};
use diesel::sql_types::{SqlType, Text, Uuid as SqlUuid};
use diesel::{QueryResult, select};
use diesel_async::RunQueryDsl;
use serde::{Deserialize, Serialize};
use std::future::poll_fn;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};
use tokio_postgres::{AsyncMessage, Client, NoTls};
use uuid::Uuid;

const CHANNEL: &str = "amber_tally_session";
/// Changes a slow listener may fall behind before it is told that it lagged.
const BACKLOG: usize = 1024;

/// A session of a school has changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Changed {
    /// The school; nil when the line was down and anything may have changed.
    pub school: Uuid,
    /// The session; nil when it concerns every session of the school.
    pub session: Uuid,
    /// Where in the log it is to be seen, where copies of the database are read.
    #[serde(skip)]
    pub seen_from: Option<Position>,
}

impl Changed {
    /// Something may have been missed: whoever listens had better look again.
    pub const ANYTHING: Changed = Changed {
        school: Uuid::nil(),
        session: Uuid::nil(),
        seen_from: None,
    };

    /// Whether this concerns a session of a school.
    pub fn concerns(&self, school: Uuid, session: Uuid) -> bool {
        self.school.is_nil()
            || (self.school == school && [session, Uuid::nil()].contains(&self.session))
    }
}

/// Announces a change when the transaction commits.
pub(crate) async fn announce(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
) -> Result<(), StoreError> {
    CountChange { school, session }.execute(connection).await?;
    tell(connection, school, session).await
}

/// The same of what changes no figure of the session's: who sees it had better look again.
pub(crate) async fn tell(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
) -> Result<(), StoreError> {
    let changed = Changed {
        school,
        session,
        seen_from: None,
    };
    let payload = serde_json::to_string(&changed).expect("two identifiers are plain data");
    select(pg_notify(CHANNEL, payload))
        .execute(connection)
        .await?;
    Ok(())
}

#[diesel::declare_sql_function]
extern "SQL" {
    /// Tells all who listen on a channel, once the transaction commits.
    fn pg_notify(channel: Text, payload: Text) -> Void;
}

/// What such a function answers: nothing.
#[derive(SqlType, QueryId)]
#[diesel(postgres_type(name = "void"))]
pub struct Void;

/// Drops what was counted of a session and told of its player, and lets nothing be kept that was counted before this
/// change. What concerns every session of a school needs none: figures are kept by rules and
/// offsets.
///
/// Of every shot: a connection prepares it once, where it would prepare `diesel::sql_query` each time,
/// which takes PostgreSQL three times as long as to run it.
#[derive(QueryId)]
struct CountChange {
    school: Uuid,
    session: Uuid,
}

impl QueryFragment<Pg> for CountChange {
    fn walk_ast<'b>(&'b self, mut out: AstPass<'_, 'b, Pg>) -> QueryResult<()> {
        out.push_sql(
            "WITH changed AS (SELECT school_id, id, player_id FROM session WHERE school_id = ",
        );
        out.push_bind_param::<SqlUuid, _>(&self.school)?;
        out.push_sql(" AND id = ");
        out.push_bind_param::<SqlUuid, _>(&self.session)?;
        out.push_sql(
            "), counted AS (INSERT INTO session_figures AS kept (school_id, session_id, changes) \
             SELECT school_id, id, 1 FROM changed \
             ON CONFLICT (school_id, session_id) DO UPDATE \
             SET changes = kept.changes + 1, mark = NULL, figures = NULL) \
             INSERT INTO player_standing AS kept (school_id, player_id, changes) \
             SELECT school_id, player_id, 1 FROM changed \
             ON CONFLICT (school_id, player_id) DO UPDATE \
             SET changes = kept.changes + 1, mark = NULL, flagged = false, told = NULL",
        );
        Ok(())
    }
}

/// Announces what every session of a school is read by: a rule, an offset, an aim.
pub(crate) async fn announce_all(
    connection: &mut Connection,
    school: Uuid,
) -> Result<(), StoreError> {
    tell(connection, school, Uuid::nil()).await
}

impl Store {
    /// Listens for changes in the background for as long as anyone holds a receiver's
    /// sender; a broken connection is taken up again.
    pub fn listen(&self) -> broadcast::Sender<Changed> {
        let (sender, _) = broadcast::channel(BACKLOG);
        let (url, out) = (self.url.clone(), sender.clone());
        let readers = self.has_readers();
        tokio::spawn(async move {
            loop {
                if let Err(error) = listen_once(&url, &out, readers).await {
                    tracing::warn!(%error, "live changes: the database connection broke; trying again");
                }
                tokio::time::sleep(Duration::from_millis(500)).await;
            }
        });
        sender
    }
}

async fn listen_once(
    url: &str,
    out: &broadcast::Sender<Changed>,
    readers: bool,
) -> Result<(), tokio_postgres::Error> {
    let (client, mut connection) = tokio_postgres::connect(url, NoTls).await?;
    // Whatever was announced while nobody listened is unknown.
    let (heard, mut told) = mpsc::unbounded_channel();
    let _ = heard.send(Changed::ANYTHING);
    let listening = async move {
        client.batch_execute(&format!("LISTEN {CHANNEL}")).await?;
        let mut all = Vec::new();
        while told.recv_many(&mut all, BACKLOG).await > 0 {
            // All of them were committed before this.
            let seen_from = match readers {
                true => position(&client).await?,
                false => None,
            };
            for changed in all.drain(..) {
                // Nobody listening to the broadcast is no error.
                let _ = out.send(Changed {
                    seen_from,
                    ..changed
                });
            }
        }
        Ok(())
    };
    let reading = async {
        while let Some(message) = poll_fn(|cx| connection.poll_message(cx)).await {
            if let AsyncMessage::Notification(note) = message?
                && let Ok(changed) = serde_json::from_str::<Changed>(note.payload())
            {
                let _ = heard.send(changed);
            }
        }
        Ok(())
    };
    tokio::select! {
        done = listening => done,
        done = reading => done,
    }
}

async fn position(client: &Client) -> Result<Option<Position>, tokio_postgres::Error> {
    let at = client
        .query_one("SELECT pg_current_wal_insert_lsn()::text", &[])
        .await?;
    Ok(at.get::<_, &str>(0).parse().ok())
}
