//! `amber-tally demo`: the invented school, into a database of its own.

use crate::http::password;
use crate::made_up::{self, DEMO_DAY, Moved, identifier};
use crate::routes::record::standings::tell_all;
use chrono::{NaiveDate, Utc};
use clap::Args;
use indicatif::ProgressBar;
use std::time::Duration;
use tally_core::school::access::Role;
use tally_sim::scenario::{self, COACH, JUNIORS, PLAYERS, SCHOOL};
use tally_store::base::signed_in::SignedIn;
use tally_store::school::people::Founder;
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// Where to load the demo.
#[derive(Debug, Args)]
pub struct Demo {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// Day of the session that is still in progress; without it, the last day that has
    /// come to its hour
    #[arg(long)]
    on: Option<NaiveDate>,
}

/// Loads the demo school, unless it is there.
///
/// # Errors
/// [`StoreError`]; a school of the coach's own is left alone.
pub async fn run(demo: Demo) -> Result<(), StoreError> {
    let store = Store::open(&demo.database_url).await?;
    let moved = match demo.on {
        Some(day) => Moved::to(day),
        None => Moved::to_now(Utc::now()),
    };
    // Seen on a terminal alone.
    let waiting = ProgressBar::new_spinner().with_message("Loading the demo school");
    waiting.enable_steady_tick(Duration::from_millis(200));
    load_moved(&store, moved).await?;
    waiting.set_message("Reading its sessions");
    read(&store).await?;
    waiting.finish_and_clear();
    println!(
        "{SCHOOL} is in, with {} players: sign in as {} with “{}”",
        PLAYERS.len() + JUNIORS.len(),
        scenario::SIGN_IN_NAME,
        scenario::PASSWORD
    );
    Ok(())
}

/// Reads every session once, so that the first morning already tells how each player stands.
async fn read(store: &Store) -> Result<(), StoreError> {
    let school = store.founder().await?.school_id;
    let store = store.for_school(school);
    let rules = store.house_rules(school).await?;
    let mark = store.figures_mark(school, &rules).await?;
    let untold = store.standings(school, mark).await?.untold;
    if let Err(problem) = tell_all(&store, school, mark, untold, &rules).await {
        tracing::warn!(
            ?problem,
            "the demo's sessions are read when they are looked at"
        );
    }
    Ok(())
}

/// Loads the demo school into an open store, unless it is there.
///
/// # Errors
/// [`StoreError`].
pub async fn load(store: &Store) -> Result<(), StoreError> {
    load_moved(store, Moved::NOT).await
}

/// The same with every day of the scenario moved.
async fn load_moved(store: &Store, moved: Moved) -> Result<(), StoreError> {
    // Its owner can sign in last, so a load that was cut short is taken up again; every
    // identifier comes from the scenario, so nothing is stored twice.
    if !store.needs_set_up().await? {
        if store.has_demo().await? {
            return Ok(());
        }
        return Err(StoreError::Conflict(
            "this database holds a school already; load the demo into one of its own".into(),
        ));
    }
    let all = store;
    let coach = all.found_school(SCHOOL, COACH).await?;
    let store = &all.for_person(&coach);
    made_up::load(store, &coach, moved, true).await?;
    let hash = password::hash(scenario::PASSWORD);
    load_people(all, &coach, &hash).await?;
    all.mark_demo(coach.school_id).await?;
    let founder = Founder {
        school: SCHOOL,
        name: COACH,
        sign_in_name: scenario::SIGN_IN_NAME,
        password_hash: Some(&hash),
    };
    all.set_up(founder).await.map(|_| ())
}

/// Who else works at the demo school: name, sign-in name, role, and the players that are
/// shared with them, by place.
const PEOPLE: [(&str, &str, Role, &[usize]); 2] = [
    ("Maren Tolle", "maren", Role::Coach, &[0, 4]),
    ("Jori Fenn", "jori", Role::Assistant, &[4, 5]),
];

async fn load_people(store: &Store, owner: &SignedIn, hash: &str) -> Result<(), StoreError> {
    let school = owner.school_id;
    let mut people = Vec::new();
    for ((name, signs_as, role, _), number) in PEOPLE.iter().zip(3000..) {
        let id = identifier(DEMO_DAY, number, 0);
        store.add_person(school, id, *role, name, signs_as).await?;
        store.save_password(school, id, hash).await?;
        people.push(id);
    }
    for player in 0..PLAYERS.len() {
        let sees = PEOPLE.iter().zip(&people);
        let with: Vec<Uuid> = sees
            .filter(|((.., shared), _)| shared.contains(&player))
            .map(|(_, id)| *id)
            .collect();
        let id = identifier(DEMO_DAY, player as u64, 0);
        store
            .for_school(school)
            .save_sharing(school, id, owner.coach_id, &with)
            .await?;
    }
    Ok(())
}
