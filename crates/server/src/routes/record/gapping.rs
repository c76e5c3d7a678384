//! The bag: what each club carries, gaps and overlaps, and what changed between two times.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::{asked, recorded};
use crate::routes::shots::balls::{StoredBall, sessions_balls_up_to};
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::response::Response;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::wind::Wind;
use tally_core::record::figures::is_usual;
use tally_core::record::gapping::telling::{BagDay, bag_days, part_effort, telling, two_times};
use tally_core::record::gapping::{
    BagBall, BagChanges, BagRead, EffortBall, GappingQuestion, bag_changes, bag_read,
};
use tally_core::session::purpose::Purpose;
use tally_core::shots::expected_carry::air_ratio;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::zone::date_in;
use tally_store::session::bag::BagClub;
use tally_store::session::sessions::Session;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Balls that are looked at, at most.
const MOST_BALLS: usize = 6_000;
/// The air that the bag is told in; reference air where nothing is given.
#[derive(Debug, Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct InAir {
    /// Height above the sea, m.
    altitude_m: Option<f64>,
    /// Temperature of the air, °C.
    temperature_c: Option<f64>,
    /// Wind at ten metres, m/s.
    wind_mps: Option<f64>,
    /// Where it comes from, deg: 0 against, 90 from the right, 180 from behind.
    wind_from_deg: Option<f64>,
}

/// A player's bag, told in one air.
#[derive(Serialize, ToSchema)]
struct GappingView {
    /// What the clubs do; nothing while no usual ball has a carry.
    read: Option<BagRead>,
    /// The air it is told in.
    air: Conditions,
    /// Clubs that are noted and were not hit.
    not_hit: Vec<Club>,
    /// Kinds of which two clubs are noted: shots know only the kind.
    doubled: Vec<Club>,
    /// Days on which a bag was hit, latest first, and with how many clubs.
    days: Vec<BagDay>,
}

/// Which two times are held against each other; without any, the last two bags.
#[derive(Debug, Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Times {
    /// First day of then.
    then_from: Option<NaiveDate>,
    /// Last day of then; the first when it is not given.
    then_to: Option<NaiveDate>,
    /// First day of now.
    now_from: Option<NaiveDate>,
    /// Last day of now; the first when it is not given.
    now_to: Option<NaiveDate>,
}

/// A bag then and now.
#[derive(Serialize, ToSchema)]
struct GappingChangesView {
    /// First and last day of then; nothing when no two bags were hit.
    then: Option<[NaiveDate; 2]>,
    /// The same of now.
    now: Option<[NaiveDate; 2]>,
    /// What changed; nothing when no club was hit in both.
    changes: Option<BagChanges>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(player_gapping))
        .routes(routes!(player_gapping_changes))
}

/// What each club of a player does, its gaps and overlaps.
#[utoipa::path(get, path = "/players/{player}/gapping", params(("player" = Uuid, Path), InAir), responses((status = OK, body = GappingView), Problem))]
async fn player_gapping(
    State(app): State<App>,
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(asked_air): Query<InAir>,
) -> Result<Response, Problem> {
    let air = asked_air.conditions()?;
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let rules = store.house_rules(school).await?;
    let bag = store.bag(school, player).await?;
    let question = format!("gapping {asked_air:?} {bag:?}");
    let asked = asked(&coach, player, &rules, question).await?;
    let view = gapping_view(&coach, player, air, rules, bag);
    app.answers.kept_or(asked, view).await
}

async fn gapping_view(
    coach: &Coach,
    player: Uuid,
    air: Conditions,
    rules: HouseRules,
    bag: Vec<BagClub>,
) -> Result<GappingView, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let read = recorded(store, school, player, &rules).await?;
    let told_by = telling(&read.occasions, |club| fitted(&bag, club));
    let wanted = |place: &usize| {
        let ladder = read.sessions[*place].purpose == Purpose::EffortLadder;
        ladder || told_by.of.values().any(|places| places.contains(place))
    };
    let places: Vec<usize> = (0..read.sessions.len()).filter(wanted).collect();
    let sessions: Vec<Session> = places.iter().map(|p| read.sessions[*p].clone()).collect();
    let (told, _) = sessions_balls_up_to(store, school, sessions, &rules, MOST_BALLS).await?;
    let lofts = bag
        .iter()
        .filter_map(|club| Some((club.club, club.loft_deg?)));
    let lofts = lofts.collect();
    let question = compute(school, move || {
        let mut question = GappingQuestion {
            balls: Vec::new(),
            efforts: Vec::new(),
            lofts,
            replaced: told_by.replaced,
            air,
            rules,
        };
        for (place, (session, balls)) in places.into_iter().zip(told) {
            for stored in balls {
                let of_club = told_by.of.get(&stored.ball.club);
                let tells = of_club.is_some_and(|places| places.contains(&place));
                if tells && is_usual(session.purpose, &stored.plan) {
                    question.balls.push(bag_ball(&session, stored));
                } else if let Some(share) = part_effort(session.purpose, &stored.plan) {
                    let ball = bag_ball(&session, stored);
                    question.efforts.push(EffortBall { share, ball });
                }
            }
        }
        bag_read(&question)
    })
    .await?;
    let hit: BTreeSet<Club> = question
        .iter()
        .flat_map(|read| read.clubs.iter().map(|club| club.club))
        .collect();
    let mut noted: BTreeMap<Club, usize> = BTreeMap::new();
    for club in &bag {
        *noted.entry(club.club).or_default() += 1;
    }
    Ok(GappingView {
        read: question,
        air,
        not_hit: noted
            .keys()
            .copied()
            .filter(|club| !hit.contains(club))
            .collect(),
        doubled: noted
            .iter()
            .filter(|(_, n)| **n > 1)
            .map(|(club, _)| *club)
            .collect(),
        days: bag_days(&read.occasions),
    })
}

/// What changed in a player's bag between two times.
#[utoipa::path(get, path = "/players/{player}/gapping/changes", params(("player" = Uuid, Path), Times), responses((status = OK, body = GappingChangesView), Problem))]
async fn player_gapping_changes(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(times): Query<Times>,
) -> Result<Json<GappingChangesView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let rules = store.house_rules(school).await?;
    let read = recorded(store, school, player, &rules).await?;
    let days = bag_days(&read.occasions);
    let (then, now) = (
        [times.then_from, times.then_to],
        [times.now_from, times.now_to],
    );
    let Some([then, now]) = two_times(&days, then, now)? else {
        return Ok(Json(GappingChangesView {
            then: None,
            now: None,
            changes: None,
        }));
    };
    let within = |place: usize, [from, to]: [NaiveDate; 2]| {
        (from..=to).contains(&read.occasions[place].date)
    };
    let places: Vec<usize> = (0..read.sessions.len())
        .filter(|place| within(*place, then) || within(*place, now))
        .collect();
    let sessions = places.iter().map(|p| read.sessions[*p].clone()).collect();
    let (told, _) = sessions_balls_up_to(store, school, sessions, &rules, MOST_BALLS).await?;
    let changes = compute(school, move || {
        let (mut before, mut after) = (Vec::new(), Vec::new());
        for (session, balls) in told {
            let on = date_in(session.started_at, &session.zone);
            let set = if (then[0]..=then[1]).contains(&on) {
                &mut before
            } else {
                &mut after
            };
            let usual = balls
                .into_iter()
                .filter(|stored| is_usual(session.purpose, &stored.plan));
            set.extend(usual.map(|stored| bag_ball(&session, stored)));
        }
        bag_changes(&before, &after, &Conditions::REFERENCE, &rules)
    })
    .await?;
    Ok(Json(GappingChangesView {
        then: Some(then),
        now: Some(now),
        changes,
    }))
}

impl InAir {
    fn conditions(self) -> Result<Conditions, Vec<Invalid>> {
        let reference = Conditions::REFERENCE;
        let wind = match (self.wind_mps, self.wind_from_deg) {
            (None | Some(0.0), _) => None,
            (Some(speed_mps), from) => Some(Wind {
                speed_mps,
                from_deg: from.ok_or_else(|| {
                    let remedy = "say where it comes from: 0 against, 180 from behind";
                    vec![Invalid::missing("wind_from_deg", remedy)]
                })?,
            }),
        };
        let air = Conditions {
            altitude_m: self.altitude_m.unwrap_or(reference.altitude_m),
            temperature_c: self.temperature_c.unwrap_or(reference.temperature_c),
            wind,
            ..reference
        };
        // Whatever a flight refuses is refused here, by its name.
        air_ratio(Club::Iron7, Club::Iron7.reference_club_speed(), &air)
            .map_err(|why| vec![why])?;
        Ok(air)
    }
}

/// The day since when a kind of club is fitted as it is: the latest, where two are noted.
fn fitted(bag: &[BagClub], club: Club) -> Option<NaiveDate> {
    let of = bag.iter().filter(|noted| noted.club == club);
    of.map(|noted| noted.added_at.date_naive()).max()
}

fn bag_ball(session: &Session, stored: StoredBall) -> BagBall {
    BagBall {
        conditions: stored.conditions,
        on: date_in(session.started_at, &session.zone),
        kind: stored.plan.gear.ball.unwrap_or(session.ball),
        ball: stored.ball,
    }
}
