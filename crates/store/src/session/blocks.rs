//! Blocks: the stretches of a session, begun or to come.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::live::announce;
use crate::base::locks::lock_session;
use crate::base::schema::{block, run, shot};
use crate::base::store::Store;
use crate::session::acts;
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::session::acts::progress;
use tally_core::session::label::asks_full_effort;
use tally_core::session::plan::PlannedBlock;
use uuid::Uuid;

/// Most blocks of a session to which a device may add one.
pub(crate) const MOST_BLOCKS: usize = 200;

/// A stretch of a session with a label of its own.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = block)]
pub struct Block {
    /// Identifier.
    pub id: Uuid,
    /// Its session.
    pub session_id: Uuid,
    /// Place in the order, from 0.
    pub position: i32,
    /// What it is called.
    pub label: String,
    /// What is planned for it, as [`PlannedBlock`].
    pub plan: Option<serde_json::Value>,
    /// When it was begun; absent while it is only planned.
    pub begun_at: Option<DateTime<Utc>>,
}

impl Block {
    /// A planned block.
    pub fn planned(id: Uuid, session_id: Uuid, position: i32, plan: &PlannedBlock) -> Self {
        Self {
            id,
            session_id,
            position,
            label: plan.label.clone(),
            plan: Some(serde_json::to_value(plan).expect("a plan is plain data")),
            begun_at: None,
        }
    }

    /// What is planned for it; a block without plan asks for nothing.
    pub fn plan(&self) -> PlannedBlock {
        let planned = self.plan.clone();
        planned
            .and_then(|plan| serde_json::from_value(plan).ok())
            .unwrap_or_else(|| PlannedBlock::new(self.label.clone(), 0))
    }
}

/// Place of the block that shots go to: the latest begun.
pub fn current(blocks: &[Block]) -> usize {
    let begun = blocks
        .iter()
        .enumerate()
        .filter(|(_, b)| b.begun_at.is_some());
    begun
        .max_by_key(|(i, b)| (b.begun_at, *i))
        .map_or(0, |(i, _)| i)
}

/// Refuses a block that a hold stops.
async fn not_held(
    connection: &mut Connection,
    school: Uuid,
    session_id: Uuid,
    plan: &PlannedBlock,
) -> Result<(), StoreError> {
    let acts = acts::load(connection, school, session_id).await?;
    let acts: Vec<_> = acts.into_iter().map(|(_, act)| act).collect();
    match progress(&acts).stops(plan) {
        None => Ok(()),
        Some(why) => Err(StoreError::Held(format!(
            "“{}” asks for full effort, which is held: {why}; lift the hold with a reason first, or choose a gentler block",
            plan.label
        ))),
    }
}

/// Adds a block that was not planned, behind those begun and before those to come.
async fn add_begun(
    connection: &mut Connection,
    school: Uuid,
    (session_id, id): (Uuid, Uuid),
    blocks: Vec<Block>,
    plan: &PlannedBlock,
    begun_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let (begun, waiting): (Vec<_>, Vec<_>) = blocks.into_iter().partition(|b| b.begun_at.is_some());
    let next = begun.last().map_or(0, |block| block.position + 1);
    replace_waiting(connection, school, session_id, waiting, next + 1).await?;
    let block = Block {
        begun_at: Some(begun_at),
        ..Block::planned(id, session_id, next, plan)
    };
    insert_blocks(connection, school, &[block]).await
}

/// Adds a block for what a device tells of a shot. It does not become the one under way, so
/// that shots told without it are not taken for its own.
pub(crate) async fn add_told(
    connection: &mut Connection,
    school: Uuid,
    session_id: Uuid,
    blocks: Vec<Block>,
    plan: &PlannedBlock,
) -> Result<Uuid, StoreError> {
    if blocks.len() >= MOST_BLOCKS {
        return Err(StoreError::Conflict(format!(
            "the session has {MOST_BLOCKS} blocks and no room for “{}”",
            plan.label
        )));
    }
    let id = Uuid::now_v7();
    let under_way = blocks.iter().filter_map(|block| block.begun_at).max();
    let before = under_way.unwrap_or_else(Utc::now) - Duration::milliseconds(1);
    add_begun(connection, school, (session_id, id), blocks, plan, before).await?;
    Ok(id)
}

impl Store {
    /// The blocks of some sessions, each session's in order.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn blocks_of(
        &self,
        school: Uuid,
        sessions: &[Uuid],
    ) -> Result<HashMap<Uuid, Vec<Block>>, StoreError> {
        blocks_of(&mut *self.connection().await?, school, sessions).await
    }

    /// Begins a block that was not planned, after those begun; new shots go to it.
    /// Beginning the same block again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session;
    /// [`StoreError::Held`] when it asks for full effort and a hold stops that.
    pub async fn add_block(
        &self,
        school: Uuid,
        session_id: Uuid,
        id: Uuid,
        label: &str,
    ) -> Result<(), StoreError> {
        let plan = PlannedBlock {
            full_effort: asks_full_effort(label),
            ..PlannedBlock::new(label, 0)
        };
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session_id).await?;
                let blocks = load_blocks(connection, school, session_id).await?;
                if blocks.iter().any(|block| block.id == id) {
                    return Ok(());
                }
                not_held(connection, school, session_id, &plan).await?;
                add_begun(
                    connection,
                    school,
                    (session_id, id),
                    blocks,
                    &plan,
                    Utc::now(),
                )
                .await?;
                announce(connection, school, session_id).await
            })
            .await
    }

    /// Begins a planned block; new shots go to it. Beginning it again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the session has no such block;
    /// [`StoreError::Held`] when a hold stops it.
    pub async fn begin_block(
        &self,
        school: Uuid,
        session_id: Uuid,
        id: Uuid,
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session_id).await?;
                let blocks = load_blocks(connection, school, session_id).await?;
                let found = one_of(&blocks, id)?;
                if found.begun_at.is_some() {
                    return Ok(());
                }
                not_held(connection, school, session_id, &found.plan()).await?;
                set_begun(connection, school, id, Some(Utc::now())).await?;
                announce(connection, school, session_id).await
            })
            .await
    }

    /// Takes back that the latest block was begun: its shots go to the one before, and it is
    /// only planned again. Taking back what is not begun changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the session has no such block;
    /// [`StoreError::Conflict`] for the first block, or one that others were begun after.
    pub async fn take_back_block(
        &self,
        school: Uuid,
        session_id: Uuid,
        id: Uuid,
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session_id).await?;
                let blocks = load_blocks(connection, school, session_id).await?;
                let found = one_of(&blocks, id)?;
                if found.begun_at.is_none() {
                    return Ok(());
                }
                let mut begun: Vec<&Block> =
                    blocks.iter().filter(|b| b.begun_at.is_some()).collect();
                begun.sort_by_key(|block| (block.begun_at, block.position));
                let [.., before, latest] = begun[..] else {
                    return Err(StoreError::Conflict(
                        "this is the first block; end the session instead".into(),
                    ));
                };
                if latest.id != id {
                    return Err(StoreError::Conflict(format!(
                        "“{}” was begun after it; take that one back first",
                        latest.label
                    )));
                }
                diesel::update(
                    shot::table.filter(shot::school_id.eq(school).and(shot::block_id.eq(id))),
                )
                .set(shot::block_id.eq(before.id))
                .execute(connection)
                .await?;
                set_begun(connection, school, id, None).await?;
                announce(connection, school, session_id).await
            })
            .await
    }

    /// Replaces the blocks that are not begun yet.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session;
    /// [`StoreError::Conflict`] when an identifier is that of a block already begun.
    pub async fn save_plan(
        &self,
        school: Uuid,
        session_id: Uuid,
        plan: &[(Uuid, PlannedBlock)],
    ) -> Result<(), StoreError> {
        let plan = plan.to_vec();
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session_id).await?;
                let blocks = load_blocks(connection, school, session_id).await?;
                let begun: Vec<_> = blocks.iter().filter(|b| b.begun_at.is_some()).collect();
                if let Some(taken) = begun
                    .iter()
                    .find(|b| plan.iter().any(|(id, _)| *id == b.id))
                {
                    return Err(StoreError::Conflict(format!(
                        "“{}” is already begun; only blocks to come can be changed",
                        taken.label
                    )));
                }
                let next = begun
                    .iter()
                    .map(|block| block.position + 1)
                    .max()
                    .unwrap_or(0);
                let waiting = plan
                    .iter()
                    .map(|(id, planned)| Block::planned(*id, session_id, next, planned))
                    .collect();
                replace_waiting(connection, school, session_id, waiting, next).await?;
                announce(connection, school, session_id).await
            })
            .await
    }
}

/// Whether a session is held by a protocol, whose sets follow each other by themselves.
pub(crate) async fn by_protocol(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
) -> Result<bool, StoreError> {
    let found = diesel::select(diesel::dsl::exists(run::table.find((school, session))));
    Ok(found.get_result(connection).await?)
}

pub(crate) async fn load_blocks(
    connection: &mut Connection,
    school: Uuid,
    session_id: Uuid,
) -> Result<Vec<Block>, StoreError> {
    let mut blocks = blocks_of(connection, school, &[session_id]).await?;
    Ok(blocks.remove(&session_id).unwrap_or_default())
}

pub(crate) async fn blocks_of(
    connection: &mut Connection,
    school: Uuid,
    sessions: &[Uuid],
) -> Result<HashMap<Uuid, Vec<Block>>, StoreError> {
    let of_sessions = block::school_id
        .eq(school)
        .and(block::session_id.eq_any(sessions));
    let rows: Vec<Block> = block::table
        .filter(of_sessions)
        .order(block::position)
        .select(Block::as_select())
        .load(connection)
        .await?;
    let mut found: HashMap<Uuid, Vec<Block>> = HashMap::new();
    for block in rows {
        found.entry(block.session_id).or_default().push(block);
    }
    Ok(found)
}

pub(crate) async fn insert_blocks(
    connection: &mut Connection,
    school: Uuid,
    blocks: &[Block],
) -> Result<(), StoreError> {
    let rows: Vec<_> = blocks
        .iter()
        .map(|b| (block::school_id.eq(school), b))
        .collect();
    diesel::insert_into(block::table)
        .values(rows)
        .execute(connection)
        .await?;
    Ok(())
}

/// Puts these blocks, numbered from `first`, in place of those not begun.
async fn replace_waiting(
    connection: &mut Connection,
    school: Uuid,
    session_id: Uuid,
    waiting: Vec<Block>,
    first: i32,
) -> Result<(), StoreError> {
    diesel::delete(
        block::table.filter(
            block::school_id
                .eq(school)
                .and(block::session_id.eq(session_id))
                .and(block::begun_at.is_null()),
        ),
    )
    .execute(connection)
    .await?;
    let numbered: Vec<Block> = waiting
        .into_iter()
        .zip(first..)
        .map(|(block, position)| Block { position, ..block })
        .collect();
    insert_blocks(connection, school, &numbered).await
}

pub(crate) fn one_of(blocks: &[Block], id: Uuid) -> Result<&Block, StoreError> {
    let found = blocks.iter().find(|block| block.id == id);
    found.ok_or(StoreError::NotFound("block"))
}

pub(crate) async fn set_begun(
    connection: &mut Connection,
    school: Uuid,
    id: Uuid,
    at: Option<DateTime<Utc>>,
) -> Result<(), StoreError> {
    diesel::update(block::table.filter(block::school_id.eq(school).and(block::id.eq(id))))
        .set(block::begun_at.eq(at))
        .execute(connection)
        .await?;
    Ok(())
}
