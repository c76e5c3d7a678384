//! Club length for juniors: how length by height goes with speed across a group.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::recorded;
use crate::routes::shots::balls::sessions_balls;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{Datelike, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;
use tally_core::physics::club::Club;
use tally_core::record::club_length::swung::{LATEST, Swung, driver_of_a_player};
use tally_core::record::club_length::{
    ClubLengthQuestion, ClubLengthRead, LengthChild, club_length,
};
use tally_core::school::access::children_born_after;
use tally_core::school::player_facts::{HEIGHT_M, initials};
use tally_core::session::purpose::Purpose;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::lengths::written_length;
use tally_store::Store;
use tally_store::school::players::Player;
use tally_store::session::bag::BagClub;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Children that are looked at at once, at most.
const MOST_CHILDREN: usize = 200;
/// Lengths of a driver, m.
const LENGTH_M: std::ops::RangeInclusive<f64> = 0.4..=1.4;

/// Who is looked at.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Looked {
    /// Identifiers of groups, with commas between; every child of the school without any.
    groups: Option<String>,
    /// Heights at which the group is split, m, with commas between; `none` for no split;
    /// chosen where not given.
    splits: Option<String>,
}

/// A child beside the curve.
#[derive(Serialize, ToSchema)]
struct ChildView {
    id: Uuid,
    name: String,
    /// What stands on a page that others see.
    initials: String,
    /// Standing height, m.
    height_m: Option<f64>,
    /// The day it is of.
    height_on: Option<NaiveDate>,
    /// Length of the driver in the bag, m.
    driver_m: Option<f64>,
}

/// A group beside its curve.
#[derive(Serialize, ToSchema)]
struct ClubLengthView {
    children: Vec<ChildView>,
    read: ClubLengthRead,
}

/// What was measured of a child, as it is written.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ClubMeasures {
    /// Standing height with its unit, such as `126 cm` or `4 ft 2 in`; left as it is when absent.
    height: Option<String>,
    /// Length of the driver, likewise.
    driver: Option<String>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(club_length_of))
        .routes(routes!(save_measures))
}

/// How club length by height goes with club and hand speed.
#[utoipa::path(get, path = "/club-length", params(Looked), responses((status = OK, body = ClubLengthView), Problem))]
async fn club_length_of(
    coach: Coach,
    Query(looked): Query<Looked>,
) -> Result<Json<ClubLengthView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let splits = looked.splits.as_deref().map(splits_of).transpose()?;
    let rules = store.house_rules(school).await?;
    let players = looked_at(store, school, looked.groups.as_deref()).await?;
    let ids: Vec<Uuid> = players.iter().map(|player| player.id).collect();
    let dated = store.heights_on(school, &ids).await?;
    let (mut children, mut told) = (Vec::new(), Vec::new());
    for player in players {
        let bag = store.bag(school, player.id).await?;
        let driver_m = driver_of(&bag).and_then(|club| club.length_m);
        let swung = swung_by(store, school, player.id, driver_m, &rules).await?;
        told.push(LengthChild {
            name: player.name.clone(),
            height: player.height_m,
            unmeasured: swung.unmeasured,
            swung: swung.with_speed(),
        });
        children.push(ChildView {
            initials: initials(&player.name),
            height_on: dated.get(&player.id).copied(),
            id: player.id,
            name: player.name,
            height_m: player.height_m,
            driver_m,
        });
    }
    let question = ClubLengthQuestion {
        children: told,
        splits,
        rules,
    };
    let read = compute(school, move || club_length(&question)).await?;
    Ok(Json(ClubLengthView { children, read }))
}

/// Notes a child's height and the length of the driver.
#[utoipa::path(put, path = "/players/{player}/club-measures", params(("player" = Uuid, Path)), request_body = ClubMeasures, responses((status = NO_CONTENT), Problem))]
async fn save_measures(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(new): Body<ClubMeasures>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let player = store.player(school, id).await?;
    let written = |field: &str, text: Option<String>, range| {
        text.map(|text| written_length(field, &text, range))
            .transpose()
    };
    let (height, driver) = match (
        written("height", new.height, HEIGHT_M),
        written("driver", new.driver, LENGTH_M),
    ) {
        (Ok(height), Ok(driver)) => (height, driver),
        (height, driver) => {
            let errors = [height.err(), driver.err()];
            return Err(errors.into_iter().flatten().collect::<Vec<_>>().into());
        }
    };
    let bag = store.bag(school, id).await?;
    let there = driver_of(&bag);
    let length = driver.or(there.and_then(|club| club.length_m));
    if let (Some(length), Some(height)) = (length, height.or(player.height_m)) {
        driver_of_a_player(length, height)?;
    }
    if let Some(height) = height {
        store.save_height(school, id, height).await?;
    }
    if let Some(length) = driver {
        match there {
            Some(club) => store.set_club_length(school, club.id, length).await?,
            None => {
                let club = BagClub {
                    id: Uuid::now_v7(),
                    player_id: id,
                    club: Club::Driver,
                    head: String::new(),
                    loft_deg: None,
                    length_m: Some(length),
                    mass_kg: None,
                    flex: String::new(),
                    added_at: Utc::now(),
                };
                store.add_to_bag(school, &club).await?;
            }
        }
    }
    Ok(StatusCode::NO_CONTENT)
}

/// The players of these groups, or every child, with a guardian's consent where one is needed.
async fn looked_at(
    store: &Store,
    school: Uuid,
    groups: Option<&str>,
) -> Result<Vec<Player>, Problem> {
    let mut players: Vec<Player> = store
        .players(school)
        .await?
        .into_iter()
        .filter(|listed| listed.archived_at.is_none())
        .map(|listed| listed.player)
        .collect();
    let born_after = children_born_after(Utc::now().year());
    match groups.filter(|groups| !groups.trim().is_empty()) {
        None => players.retain(|player| player.born.is_some_and(|born| born > born_after)),
        Some(text) => {
            let known = store.groups(school).await?;
            let mut wanted: HashSet<Uuid> = HashSet::new();
            for id in text.split(',') {
                let group = known.iter().find(|group| group.id.to_string() == id.trim());
                let group = group.ok_or_else(|| {
                    let remedy = "take one of the school's groups";
                    Invalid::new("groups", id, "is not a group of this school", remedy)
                })?;
                wanted.extend(&group.players);
            }
            players.retain(|player| wanted.contains(&player.id));
        }
    }
    let without = store.without_consent(school, born_after).await?;
    players.retain(|player| !without.iter().any(|(id, ..)| *id == player.id));
    if players.len() > MOST_CHILDREN {
        let remedy = format!("choose groups of {MOST_CHILDREN} players at most");
        let problem = "are too many to look at at once";
        return Err(Invalid::new("groups", players.len(), problem, remedy).into());
    }
    Ok(players)
}

fn splits_of(text: &str) -> Result<Vec<f64>, Invalid> {
    if text.trim().eq_ignore_ascii_case("none") {
        return Ok(Vec::new());
    }
    let mut splits = Vec::new();
    for part in text.split(',') {
        let split: f64 = part.trim().parse().map_err(|_| {
            let remedy = "give heights in metres with commas between, or none";
            Invalid::new("splits", part, "is not a height", remedy)
        })?;
        splits.push(within("splits", split, HEIGHT_M, "m")?);
    }
    splits.sort_by(f64::total_cmp);
    splits.dedup();
    Ok(splits)
}

fn driver_of(bag: &[BagClub]) -> Option<&BagClub> {
    bag.iter().rev().find(|club| club.club == Club::Driver)
}

/// What a child swung by length: the lengths of a test of them, or else the latest usual swings
/// with the driver.
async fn swung_by(
    store: &Store,
    school: Uuid,
    player: Uuid,
    driver_m: Option<f64>,
    rules: &HouseRules,
) -> Result<Swung, Problem> {
    let read = recorded(store, school, player, rules).await?;
    let tests = read.sessions.iter().rev();
    let tests = tests.filter(|session| session.purpose == Purpose::ClubLength);
    let tests: Vec<_> = tests.take(LATEST).cloned().collect();
    let mut swung = Swung::default();
    for (_, balls) in sessions_balls(store, school, tests, rules).await? {
        for stored in balls {
            swung.test(&stored.ball, &stored.plan, driver_m, rules);
        }
    }
    swung.usual(&read.occasions, driver_m);
    Ok(swung)
}
