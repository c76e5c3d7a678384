//! Stored shots as the balls that tests look at.

use crate::problem::Problem;
use crate::routes::compute;
use crate::routes::read::as_read;
use rayon::prelude::*;
use std::sync::Arc;
use tally_core::air::Conditions;
use tally_core::ball::{Ball, Strike};
use tally_core::club::Club;
use tally_core::house_rules::HouseRules;
use tally_core::plan::PlannedBlock;
use tally_core::read::standing;
use tally_store::Store;
use tally_store::blocks::Block;
use tally_store::sessions::Session;
use tally_store::shots::{Mark, Shot};
use uuid::Uuid;

/// A ball with where it comes from.
#[derive(Clone)]
pub struct StoredBall {
    /// Identifier of the shot.
    pub shot: Uuid,
    /// Its block.
    pub block: Uuid,
    /// What was planned for that block.
    pub plan: Arc<PlannedBlock>,
    /// The air it was hit in.
    pub conditions: Conditions,
    /// The ball.
    pub ball: Ball,
}

/// The balls of a session in hitting order; `place` is which of several it is.
pub async fn session_balls(
    store: &Store,
    school: Uuid,
    session: &Session,
    blocks: Vec<Block>,
    rules: &HouseRules,
    place: usize,
) -> Result<Vec<StoredBall>, Problem> {
    let own = Club::from_key("club", &session.club)?;
    let conditions = session.conditions();
    let left_handed = store.player(school, session.player_id).await?.left_handed;
    let shots = store.session_shots(school, session.id).await?;
    let rules = *rules;
    Ok(compute(move || {
        let plans: Vec<(Uuid, Arc<PlannedBlock>)> = blocks
            .iter()
            .map(|block| (block.id, Arc::new(block.plan())))
            .collect();
        shots
            .par_iter()
            .enumerate()
            .filter_map(|(order, shot)| {
                let (_, plan) = plans.iter().find(|(id, _)| *id == shot.block_id)?;
                let club = plan.club.unwrap_or(own);
                Some(StoredBall {
                    shot: shot.id,
                    block: shot.block_id,
                    plan: Arc::clone(plan),
                    conditions,
                    ball: Ball {
                        session: place,
                        ..ball(shot, club, &conditions, &rules, order, left_handed)
                    },
                })
            })
            .collect()
    })
    .await)
}

fn ball(
    shot: &Shot,
    club: Club,
    conditions: &Conditions,
    rules: &HouseRules,
    order: usize,
    left_handed: bool,
) -> Ball {
    let asked = as_read(shot);
    let decided = shot.marks.iter().rev().find(|mark| mark.kind != "strike");
    let mishit = |mark: &Mark| mark.kind == "set_aside" && mark.reason.as_deref() == Some("mishit");
    let cell = shot.marks.iter().rev().find_map(|mark| mark.strike);
    Ball {
        standing: standing(&asked, club, conditions, rules),
        mishit: decided.is_some_and(mishit),
        strike: cell.and_then(|cell| Strike::of_cell(cell, left_handed)),
        ..Ball::new(asked.reading, club, order)
    }
}

/// Balls with the labels of their blocks, those of one club.
pub fn labelled(balls: Vec<StoredBall>, club: Club) -> Vec<(Ball, String)> {
    balls
        .into_iter()
        .filter(|stored| stored.ball.club == club)
        .map(|stored| (stored.ball, stored.plan.label.clone()))
        .collect()
}
