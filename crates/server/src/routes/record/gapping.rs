//! The bag: what each club carries, gaps and overlaps, and what changed between two times.

use crate::guard::answers::Asked;
use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::{Recorded, recorded};
use crate::routes::shots::balls::{StoredBall, sessions_balls_up_to};
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::response::Response;
use chrono::{Days, NaiveDate};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::wind::Wind;
use tally_core::record::figures::{Series, series_of};
use tally_core::record::gapping::{
    BagBall, BagChanges, BagRead, EffortBall, GappingQuestion, bag_changes, bag_read,
};
use tally_core::session::label::{Felt, felt};
use tally_core::session::purpose::Purpose;
use tally_core::shots::expected_carry::air_ratio;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::zone::date_in;
use tally_store::session::bag::BagClub;
use tally_store::session::sessions::Session;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Sessions of a club that its carry is told by, at most.
const MOST_SESSIONS: usize = 5;
/// Balls of a club from which on no earlier session is asked.
const ENOUGH: usize = 40;
/// Days before a club's latest session that still tell of it.
const FIT_DAYS: u64 = 400;
/// Balls that are looked at, at most.
const MOST_BALLS: usize = 6_000;
/// Clubs of a day from which on it is one through the bag.
const BAG_DAY: usize = 3;
/// Days that lie between two bags that are held against each other.
const APART_DAYS: i64 = 10;

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

/// A day through the bag.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
struct BagDay {
    on: NaiveDate,
    clubs: usize,
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
    let asked = Asked {
        school,
        coach: coach.id(),
        player,
        changes: store.player_changes(school, player).await?,
        mark: store.figures_mark(school, &rules).await?,
        question: format!("gapping {asked_air:?} {bag:?}"),
    };
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
    let chosen = latest_fit(&read, &bag);
    let wanted = |place: &usize| {
        let ladder = read.sessions[*place].purpose == Purpose::EffortLadder;
        ladder || chosen.values().any(|places| places.contains(place))
    };
    let places: Vec<usize> = (0..read.sessions.len()).filter(wanted).collect();
    let sessions: Vec<Session> = places.iter().map(|p| read.sessions[*p].clone()).collect();
    let (told, _) = sessions_balls_up_to(store, school, sessions, &rules, MOST_BALLS).await?;
    let replaced = replaced(&read, &chosen, &bag);
    let lofts = bag
        .iter()
        .filter_map(|club| Some((club.club, club.loft_deg?)));
    let lofts = lofts.collect();
    let question = compute(school, move || {
        let mut question = GappingQuestion {
            balls: Vec::new(),
            efforts: Vec::new(),
            lofts,
            replaced,
            air,
            rules,
        };
        for (place, (session, balls)) in places.into_iter().zip(told) {
            for stored in balls {
                let of_club = chosen.get(&stored.ball.club);
                if is_usual(&session, &stored) && of_club.is_some_and(|p| p.contains(&place)) {
                    question.balls.push(bag_ball(&session, stored));
                } else if let Some(share) = effort_of(&session, &stored) {
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
        days: bag_days(&read),
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
    let Some([then, now]) = times.chosen(&bag_days(&read))? else {
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
                .filter(|stored| is_usual(&session, stored));
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

impl Times {
    /// The two times: those asked for, or the latest bag and the last one well before it.
    fn chosen(self, days: &[BagDay]) -> Result<Option<[[NaiveDate; 2]; 2]>, Invalid> {
        let one = |from: Option<NaiveDate>, to: Option<NaiveDate>, field: &str| {
            let Some(from) = from.or(to) else {
                return Ok(None);
            };
            let to = to.unwrap_or(from);
            if from > to {
                let remedy = "give the earlier day first";
                return Err(Invalid::new(field, from, "is after its last day", remedy));
            }
            Ok(Some([from, to]))
        };
        let then = one(self.then_from, self.then_to, "then_from")?;
        let now = one(self.now_from, self.now_to, "now_from")?;
        let whole = days.iter().filter(|day| day.clubs >= BAG_DAY);
        let now = now.or_else(|| whole.clone().next().map(|day| [day.on; 2]));
        let Some(now) = now else {
            return Ok(None);
        };
        let earlier = |day: &&BagDay| (now[0] - day.on).num_days() >= APART_DAYS;
        let then = then.or_else(|| whole.clone().find(earlier).map(|day| [day.on; 2]));
        let Some(then) = then else {
            return Ok(None);
        };
        if then[1] >= now[0] && now[1] >= then[0] {
            let problem = "overlaps the other time";
            return Err(Invalid::new(
                "then_to",
                then[1],
                problem,
                "give days that lie before it",
            ));
        }
        Ok(Some([then, now]))
    }
}

/// The days on which clubs were hit as usual, latest first.
fn bag_days(read: &Recorded) -> Vec<BagDay> {
    let mut days: BTreeMap<NaiveDate, BTreeSet<Club>> = BTreeMap::new();
    for occasion in &read.occasions {
        let clubs = usual_clubs(&occasion.figures.series);
        if clubs.len() > 1 {
            days.entry(occasion.date).or_default().extend(clubs);
        }
    }
    let days = days.into_iter().rev();
    days.map(|(on, clubs)| BagDay {
        on,
        clubs: clubs.len(),
    })
    .collect()
}

fn usual_clubs(series: &BTreeMap<(Series, Club, Quantity), Vec<f64>>) -> BTreeSet<Club> {
    let usual = series
        .keys()
        .filter(|(series, _, quantity)| *series == Series::Usual && *quantity == Quantity::Carry);
    usual.map(|(_, club, _)| *club).collect()
}

/// The places of the sessions that each club is told by: the latest since it was fitted, or,
/// where it was not hit since, the latest there are.
fn latest_fit(read: &Recorded, bag: &[BagClub]) -> BTreeMap<Club, Vec<usize>> {
    let mut with: BTreeMap<Club, Vec<(usize, usize)>> = BTreeMap::new();
    for (place, occasion) in read.occasions.iter().enumerate().rev() {
        for ((series, club, quantity), values) in &occasion.figures.series {
            if (*series, *quantity) == (Series::Usual, Quantity::Carry) {
                with.entry(*club).or_default().push((place, values.len()));
            }
        }
    }
    let told = with.into_iter().map(|(club, places)| {
        let fitted = fitted(bag, club);
        let day = |place: usize| read.occasions[place].date;
        let since: Vec<(usize, usize)> = places
            .iter()
            .copied()
            .filter(|(place, _)| fitted.is_none_or(|fitted| day(*place) >= fitted))
            .collect();
        let places = if since.is_empty() { places } else { since };
        let oldest = places
            .first()
            .and_then(|(latest, _)| day(*latest).checked_sub_days(Days::new(FIT_DAYS)));
        let mut balls = 0;
        let chosen = places
            .into_iter()
            .take(MOST_SESSIONS)
            .take_while(|(place, n)| {
                let wanted = balls < ENOUGH && oldest.is_none_or(|oldest| day(*place) >= oldest);
                balls += n;
                wanted
            });
        (club, chosen.map(|(place, _)| place).collect())
    });
    told.collect()
}

/// The day since when a kind of club is fitted as it is: the latest, where two are noted.
fn fitted(bag: &[BagClub], club: Club) -> Option<NaiveDate> {
    let of = bag.iter().filter(|noted| noted.club == club);
    of.map(|noted| noted.added_at.date_naive()).max()
}

/// Clubs that were fitted after all balls that they are told by.
fn replaced(read: &Recorded, chosen: &BTreeMap<Club, Vec<usize>>, bag: &[BagClub]) -> Vec<Club> {
    let before = chosen.iter().filter(|(club, places)| {
        let latest = places.iter().map(|place| read.occasions[*place].date).max();
        latest.is_some_and(|latest| fitted(bag, **club).is_some_and(|fitted| latest < fitted))
    });
    before.map(|(club, _)| *club).collect()
}

fn is_usual(session: &Session, stored: &StoredBall) -> bool {
    let plan = &stored.plan;
    let series = series_of(session.purpose, &plan.label, plan.full_effort);
    series == Some(Series::Usual) && !plan.gentle()
}

/// The part of full effort that a ball of a ladder was asked for.
fn effort_of(session: &Session, stored: &StoredBall) -> Option<f64> {
    if session.purpose != Purpose::EffortLadder {
        return None;
    }
    match felt(&stored.plan.label)? {
        Felt::Share(share) => Some(share),
        Felt::Stock => None,
    }
}

fn bag_ball(session: &Session, stored: StoredBall) -> BagBall {
    BagBall {
        conditions: stored.conditions,
        on: date_in(session.started_at, &session.zone),
        kind: stored.plan.gear.ball.unwrap_or(session.ball),
        ball: stored.ball,
    }
}
