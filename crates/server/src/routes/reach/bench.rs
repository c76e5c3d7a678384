//! The bench: questions of flight and reach that need no session.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::Body;
use crate::http::problem::Problem;
use crate::routes::shots::balls::{StoredBall, sessions_balls};
use crate::state::App;
use axum::Json;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::impact::{Delivery, Explanation, Head, Lie, explain, strike};
use tally_core::physics::launch::Launch;
use tally_core::physics::run::{Journey, journey};
use tally_core::reach::reach::{From, Reach, ReachQuestion, Today, day_of, reach};
use tally_core::reach::side_by_side::{SideBySide, side_by_side};
use tally_core::reach::window::{Aim, Freedom, Map, Question, Range, Speed, deliverable, map};
use tally_core::session::purpose::Purpose;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Units;
use tally_store::session::sessions::Session;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Shots that are put side by side at most.
const MOST_SHOTS: usize = 4;
/// Time between two points of a path, s.
const PATH_EVERY: f64 = 0.05;
/// A player's sessions that are put on the curve at most.
const MOST_SESSIONS: usize = 12;

/// One to four shots in the same conditions.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct FlightAsked {
    conditions: Conditions,
    shots: Vec<DescribedShot>,
}

/// A shot, by how the ball leaves or by how the club meets it.
#[derive(Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "snake_case", deny_unknown_fields)]
enum DescribedShot {
    /// By its launch.
    Launch {
        /// How the ball leaves.
        launch: Launch,
        /// Key of the club whose deliveries are to explain it.
        club: String,
    },
    /// By its delivery.
    Delivery {
        /// How the club meets the ball.
        delivery: DeliveryAsked,
        /// Key of the club.
        club: String,
        /// Loft and lean to take the dynamic loft from, in place of the delivery's.
        held: Option<Held>,
    },
}

/// How the club meets the ball, as it is asked.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DeliveryAsked {
    /// Club speed, m/s.
    club_speed: f64,
    /// Angle of attack, deg, + is upward.
    angle_of_attack_deg: f64,
    /// Loft delivered at the centre of the face, deg.
    dynamic_loft_deg: f64,
    /// Club path, deg, + is right.
    #[serde(default)]
    club_path_deg: f64,
    /// Face angle at the centre of the face, deg, + is right.
    #[serde(default)]
    face_angle_deg: f64,
    /// Impact toward the toe (+), m.
    #[serde(default)]
    impact_toe: f64,
    /// Impact high (+) on the face, m; where good players usually meet the ball with the
    /// club when it is not given.
    impact_high: Option<f64>,
    /// What is between ball and face.
    #[serde(default)]
    lie: Lie,
}

impl DeliveryAsked {
    /// The delivery with a club.
    pub fn with(&self, club: Club) -> Delivery {
        let usual = club.reference_delivery(self.club_speed).impact_high;
        Delivery {
            club_speed: self.club_speed,
            angle_of_attack_deg: self.angle_of_attack_deg,
            dynamic_loft_deg: self.dynamic_loft_deg,
            club_path_deg: self.club_path_deg,
            face_angle_deg: self.face_angle_deg,
            impact_toe: self.impact_toe,
            impact_high: self.impact_high.unwrap_or(usual),
            lie: self.lie,
        }
    }
}

/// A club as it is held at impact.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Held {
    /// Loft of the club itself, deg.
    static_loft_deg: f64,
    /// Lean of the shaft towards the target, deg.
    shaft_lean_deg: f64,
}

/// What became of the shots, in the order asked.
#[derive(Serialize, ToSchema)]
struct FlightAnswered {
    shots: Vec<ShotAnswered>,
    /// Their figures side by side.
    side_by_side: SideBySide,
}

/// A shot's answer, or why there is none; the others are answered all the same.
#[derive(Serialize, ToSchema)]
struct ShotAnswered {
    flown: Option<Flown>,
    refused: Option<Invalid>,
}

/// A shot with all that is known of it.
#[derive(Serialize, ToSchema)]
struct Flown {
    launch: Launch,
    /// Given, or absent when described by launch.
    delivery: Option<Delivery>,
    /// Ball speed over club speed, when the club speed is known.
    smash_factor: Option<f64>,
    journey: Journey,
    /// Deliveries that explain the launch: struck low, centred and high.
    explanations: Vec<Explanation>,
}

/// A question of reach: a target distance, or a club speed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ReachAsked {
    /// Distance to reach, m.
    target: Option<f64>,
    /// Or the club speed to make the most of, m/s.
    club_speed: Option<f64>,
    /// Key of the club.
    club: String,
    aim: Aim,
    conditions: Conditions,
    /// Least and most angle of attack, deg; absent: what the club allows.
    attack_deg: Option<[f64; 2]>,
    /// An efficiency beside the house's, 70…100 %.
    efficiency_pct: Option<f64>,
    /// A player whose sessions with the club are put beside it.
    player: Option<Uuid>,
    /// The coach's units, for contour lines and refusals.
    units: Units,
}

/// The answer with its map.
#[derive(Serialize, ToSchema)]
struct ReachAnswered {
    reach: Reach,
    /// Distance over launch and spin at the ball speed of everything right.
    map: Map,
    /// That ball speed, m/s.
    ball_speed: f64,
    /// Outline of the launch and spin that can be delivered.
    deliverable: Vec<[f64; 2]>,
    /// The sessions of `reach.sessions`, in the same order.
    sessions: Vec<ReachSession>,
    /// What the player delivered with the club, where that was measured and used.
    own: Option<Freedom>,
}

/// A session on the curve.
#[derive(Serialize, ToSchema)]
struct ReachSession {
    id: Uuid,
    started_at: DateTime<Utc>,
    /// Kept shots it rests on.
    shots: usize,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(bench_flight))
        .routes(routes!(bench_reach))
}

/// Flies up to four shots to rest.
#[utoipa::path(post, path = "/bench/flight", request_body = FlightAsked, responses((status = OK, body = FlightAnswered), Problem))]
async fn bench_flight(
    _coach: Coach,
    Body(asked): Body<FlightAsked>,
) -> Result<Json<FlightAnswered>, Problem> {
    let shots = asked.shots.len();
    if !(1..=MOST_SHOTS).contains(&shots) {
        let remedy = format!("describe 1 to {MOST_SHOTS} shots");
        return Err(Invalid::new("shots", shots, "shots cannot stand side by side", remedy).into());
    }
    asked.conditions.air()?;
    asked.conditions.ground().check()?;
    let shots: Vec<_> = asked
        .shots
        .iter()
        .map(|shot| match shot.fly(&asked.conditions) {
            Ok(flown) => ShotAnswered {
                flown: Some(flown),
                refused: None,
            },
            Err(refused) => ShotAnswered {
                flown: None,
                refused: Some(refused),
            },
        })
        .collect();
    let flown: Vec<_> = shots
        .iter()
        .map(|shot| shot.flown.as_ref().map(|f| (&f.launch, &f.journey)))
        .collect();
    Ok(Json(FlightAnswered {
        side_by_side: side_by_side(&flown),
        shots,
    }))
}

impl DescribedShot {
    fn fly(&self, conditions: &Conditions) -> Result<Flown, Invalid> {
        let (launch, delivery, head) = match self {
            DescribedShot::Launch { launch, club } => {
                (*launch, None, Club::from_key("club", club)?.head())
            }
            DescribedShot::Delivery {
                delivery,
                club,
                held,
            } => {
                let club = Club::from_key("club", club)?;
                let delivery = delivery.with(club);
                let delivery = match held {
                    Some(held) => delivery.held(held.static_loft_deg, held.shaft_lean_deg)?,
                    None => delivery,
                };
                let head: Head = club.head();
                let launch = strike(&delivery, &head)?;
                let launch = launch.at(conditions.liveliness() * launch.ball_speed);
                (launch, Some(delivery), head)
            }
        };
        Ok(Flown {
            journey: journey(&launch, conditions, PATH_EVERY)?,
            smash_factor: delivery.map(|d| launch.ball_speed / d.club_speed),
            explanations: match delivery {
                None => explain(&launch, &head),
                Some(_) => vec![],
            },
            launch,
            delivery,
        })
    }
}

/// What a distance takes, or what a speed gives.
#[utoipa::path(post, path = "/bench/reach", request_body = ReachAsked, responses((status = OK, body = ReachAnswered), Problem))]
async fn bench_reach(
    coach: Coach,
    Body(asked): Body<ReachAsked>,
) -> Result<Json<ReachAnswered>, Problem> {
    let rules = coach.store().house_rules(coach.school()).await?;
    let question = asked.question(rules)?;
    let (sessions, days, own) = match asked.player {
        Some(player) => player_days(&coach, player, &question).await?,
        None => (vec![], vec![], None),
    };
    // What was asked for stands before what the player delivered.
    let own = own.filter(|_| asked.attack_deg.is_none());
    let question = ReachQuestion {
        sessions: days,
        freedom: own.unwrap_or(question.freedom),
        ..question
    };
    let units = asked.units;
    let answered = compute(coach.school(), move || {
        answer(question, units, sessions, own)
    })
    .await??;
    Ok(Json(answered))
}

impl ReachAsked {
    fn question(&self, rules: HouseRules) -> Result<ReachQuestion, Invalid> {
        let club = Club::from_key("club", &self.club)?;
        let from = match (self.target, self.club_speed) {
            (Some(target), None) => From::Target(target),
            (None, Some(speed)) => From::ClubSpeed(speed),
            _ => {
                return Err(Invalid::missing(
                    "target",
                    "give a target or a club speed, one of the two",
                ));
            }
        };
        let freedom = Freedom::of(club);
        Ok(ReachQuestion {
            from,
            club,
            aim: self.aim,
            conditions: self.conditions,
            freedom: match self.attack_deg {
                Some([least, most]) => freedom.with_attack(least, most)?,
                None => freedom,
            },
            tolerance: rules.window_tolerance,
            efficiency: self.efficiency_pct.map(|percent| percent / 100.0),
            sessions: vec![],
            rules,
        })
    }
}

/// The player's sessions with the club, as they would come out in the question's
/// conditions, oldest first, and what the player delivered in them.
async fn player_days(
    coach: &Coach,
    player: Uuid,
    question: &ReachQuestion,
) -> Result<(Vec<ReachSession>, Vec<Today>, Option<Freedom>), Problem> {
    coach.store().player(coach.school(), player).await?;
    let with_club = balls_with_club(coach, player, question.club, &question.rules).await?;
    let (mut placed, mut days) = (vec![], vec![]);
    // The latest session comes first.
    for (session, balls) in with_club.iter().rev() {
        let kept: Vec<_> = balls
            .iter()
            .filter(|stored| stored.ball.kept() && stored.ball.club == question.club)
            .map(|stored| &stored.ball.reading)
            .collect();
        let here = session.conditions();
        if let Some(day) = day_of(&kept, &here, &question.conditions, question.aim) {
            days.push(day);
            placed.push(ReachSession {
                id: session.id,
                started_at: session.started_at,
                shots: kept.len(),
            });
        }
    }
    let kept = with_club.iter().flat_map(|(_, balls)| balls);
    let kept = kept.map(|stored| &stored.ball);
    let of_club = kept.filter(|ball| ball.kept() && ball.club == question.club);
    let readings: Vec<_> = of_club.map(|ball| &ball.reading).collect();
    let told = readings
        .iter()
        .any(|reading| reading.get(Quantity::AngleOfAttack).is_some());
    let own = told.then(|| Freedom::of_player(question.club, readings));
    Ok((placed, days, own))
}

/// The player's latest sessions with the club, latest first, with their balls.
pub async fn balls_with_club(
    coach: &Coach,
    player: Uuid,
    club: Club,
    rules: &HouseRules,
) -> Result<Vec<(Session, Vec<StoredBall>)>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let sessions = store.player_sessions(school, player).await?;
    let with_club = sessions
        .into_iter()
        .map(|(session, _)| session)
        .filter(|session| session.club == club || session.purpose == Purpose::BagGapping)
        .take(MOST_SESSIONS);
    sessions_balls(store, school, with_club.collect(), rules).await
}

fn answer(
    question: ReachQuestion,
    units: Units,
    sessions: Vec<ReachSession>,
    own: Option<Freedom>,
) -> Result<ReachAnswered, Invalid> {
    let reach = reach(&question).map_err(|why| why.in_words("target", units))?;
    let right = &reach.levels[0];
    let ball_speed = right.window.best.launch.ball_speed;
    let outline = deliverable(&Question {
        speed: Speed::Ball(ball_speed),
        club: question.club,
        aim: question.aim,
        conditions: question.conditions,
        freedom: question.freedom,
        useful: question.rules.useful(),
        tolerance: question.tolerance,
    })?;
    let side = |i: usize, pad: f64, most: f64| {
        let range = Range::over(outline.iter().map(|point| point[i]));
        Range {
            from: (range.from - pad).max(0.0),
            to: (range.to + pad).min(most),
        }
    };
    // Far more spin than the best is no one's aim.
    let most_spin = (2.6 * right.window.best.launch.spin_rate_rpm).max(4500.0);
    let drawn = map(
        ball_speed,
        &question.conditions,
        question.aim,
        [side(0, 2.0, 60.0), side(1, 400.0, most_spin)],
        units.contour_step(),
        right.window.best.distance - question.tolerance,
    )?;
    Ok(ReachAnswered {
        reach,
        map: drawn,
        ball_speed,
        deliverable: outline,
        sessions,
        own,
    })
}
