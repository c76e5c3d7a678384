//! Stored shots as the balls that core looks at.

use crate::guard::compute::compute;
use crate::http::problem::Problem;
use rayon::prelude::*;
use std::sync::Arc;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::plan::PlannedBlock;
use tally_core::shots::ball::{Ball, Strike};
use tally_core::shots::mark::Decision;
use tally_core::shots::standing::{Judged, Standing, standing};
use tally_core::statistics::looks::Looks;
use tally_core::trials::opening::{Swing, leapt};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::Store;
use tally_store::session::sessions::Session;
use tally_store::shots::hit_sessions::HitSession;
use tally_store::shots::session_shots::Shot;
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
    /// The device that told of it first.
    pub device: Option<Uuid>,
    /// The air it was hit in.
    pub conditions: Conditions,
    /// The ball.
    pub ball: Ball,
}

/// The balls of one session in hitting order.
pub async fn session_balls(
    school: Uuid,
    hit: HitSession,
    rules: &HouseRules,
) -> Result<Vec<StoredBall>, Problem> {
    let rules = *rules;
    Ok(compute(school, move || balls_in(&hit, &rules, 0)).await?)
}

/// The balls of several sessions, in the order of these; the rows of all are read at once.
///
/// # Errors
/// The store's.
pub async fn sessions_balls(
    store: &Store,
    school: Uuid,
    sessions: Vec<Session>,
    rules: &HouseRules,
) -> Result<Vec<(Session, Vec<StoredBall>)>, Problem> {
    let all = sessions_balls_up_to(store, school, sessions, rules, usize::MAX);
    Ok(all.await?.0)
}

/// The same; of more than `most`, about as many, chosen evenly from every session. Answers
/// with how many there are.
///
/// # Errors
/// The store's.
pub async fn sessions_balls_up_to(
    store: &Store,
    school: Uuid,
    sessions: Vec<Session>,
    rules: &HouseRules,
    most: usize,
) -> Result<(Vec<(Session, Vec<StoredBall>)>, usize), Problem> {
    let (hit, all) = store.hit_sessions_up_to(school, sessions, most).await?;
    let rules = *rules;
    let balls = compute(school, move || {
        hit.into_par_iter()
            .enumerate()
            .map(|(place, hit)| (hit.session.clone(), balls_in(&hit, &rules, place)))
            .collect()
    })
    .await?;
    Ok((balls, all))
}

/// The balls of a session in hitting order; `place` is which of several it is.
pub fn balls_in(hit: &HitSession, rules: &HouseRules, place: usize) -> Vec<StoredBall> {
    let conditions = hit.session.conditions();
    let plans: Vec<(Uuid, Arc<PlannedBlock>)> = hit
        .blocks
        .iter()
        .map(|block| (block.id, Arc::new(block.plan())))
        .collect();
    hit.shots
        .par_iter()
        .enumerate()
        .filter_map(|(order, shot)| {
            let (_, plan) = plans.iter().find(|(id, _)| *id == shot.block_id)?;
            // A swing without ball is no club's.
            if plan.swung.is_some() {
                return None;
            }
            let club = plan.club.unwrap_or(hit.session.club);
            Some(StoredBall {
                shot: shot.id,
                block: shot.block_id,
                plan: Arc::clone(plan),
                device: shot.sources.first().map(|source| source.device_id),
                conditions,
                ball: Ball {
                    session: place,
                    ..ball(shot, club, &conditions, rules, order, hit.left_handed)
                },
            })
        })
        .collect()
}

/// A reading that waits for the coach's decision.
pub struct Waiting<'a> {
    /// What was hit or swung.
    pub shot: &'a Shot,
    /// From 1, in hitting order.
    pub number: usize,
    /// With what.
    pub club: Club,
    /// Why it waits.
    pub judged: Judged,
}

/// The readings of a session that wait, those of swings without a ball too.
pub fn waiting_in<'a>(
    hit: &'a HitSession,
    rules: &'a HouseRules,
) -> impl Iterator<Item = Waiting<'a>> {
    let conditions = hit.session.conditions();
    let shots = hit.shots.iter().zip(hit.clubs()).zip(1..);
    let judged = shots.map(move |((shot, club), number)| {
        let decision = shot.marked().decision;
        Waiting {
            shot,
            number,
            club,
            judged: Judged::of(&shot.reading, decision, club, &conditions, rules),
        }
    });
    judged.filter(|waiting| waiting.judged.standing == Standing::Doubtful)
}

/// The swings without a ball of a session: those that were not set aside, and that a body can
/// have made or the coach kept.
pub fn swings_in(hit: &HitSession, rules: &HouseRules) -> Vec<Swing> {
    let mut swings: Vec<(Swing, Option<Decision>)> = Vec::new();
    for shot in &hit.shots {
        let decision = shot.marked().decision;
        let plan = hit.block_of(shot).map(|block| block.plan());
        let speed = shot.reading.get(Quantity::ClubSpeed);
        if let (Some(plan), Some(speed)) = (plan, speed)
            && let Some(swung) = plan.swung.clone()
            && decision != Some(Decision::SetAside)
        {
            let gentle = plan.gentle();
            let swing = Swing {
                swung,
                speed,
                gentle,
            };
            swings.push((swing, decision));
        }
    }
    let told: Vec<Swing> = swings.iter().map(|(swing, _)| swing.clone()).collect();
    let leapt = leapt(&told, rules.swing_jump);
    let kept = swings.into_iter().zip(leapt);
    kept.filter(|((_, decision), leapt)| !leapt || *decision == Some(Decision::Keep))
        .map(|((swing, _), _)| swing)
        .collect()
}

fn ball(
    shot: &Shot,
    club: Club,
    conditions: &Conditions,
    rules: &HouseRules,
    order: usize,
    left_handed: bool,
) -> Ball {
    let (asked, marked) = (shot.in_play(), shot.marked());
    Ball {
        standing: standing(&asked, club, conditions, rules),
        mishit: marked.is_mishit(),
        strike: marked
            .cell
            .and_then(|cell| Strike::of_cell(cell, left_handed)),
        ..Ball::new(asked.reading, club, order)
    }
}

/// How a session's balls were looked at: throughout, where it was held with this system,
/// by as many balls as were planned.
pub fn looks_of(hit: &HitSession) -> Looks {
    let planned = hit.blocks.iter().map(|b| b.plan().balls as usize).sum();
    match hit.session.import_id {
        Some(_) => Looks::Once,
        None => Looks::throughout(planned, 2),
    }
}

/// Balls with the labels of their blocks, those of one club.
pub fn labelled(balls: Vec<StoredBall>, club: Club) -> Vec<(Ball, String)> {
    balls
        .into_iter()
        .filter(|stored| stored.ball.club == club)
        .map(|stored| (stored.ball, stored.plan.known_as()))
        .collect()
}

/// The clubs of balls, ball by ball.
pub fn clubs_of(balls: &[StoredBall]) -> Vec<Club> {
    balls.iter().map(|stored| stored.ball.club).collect()
}
