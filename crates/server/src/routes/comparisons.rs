//! Any sets of a player's balls, held against each other.

use super::bag::in_words;
use super::compute;
use super::sessions::Given;
use crate::app::App;
use crate::balls::session_balls;
use crate::coach::Coach;
use crate::extract::{Body, Path};
use crate::problem::Problem;
use axum::Json;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use tally_core::ball::Ball;
use tally_core::club::Club;
use tally_core::compare::{BallSet, CompareQuestion, CompareReport, club_gap, compare};
use tally_core::house_rules::HouseRules;
use tally_core::invalid::{Invalid, text_within};
use tally_core::purpose::Purpose;
use tally_core::quantity::Quantity;
use tally_core::units::Dimension;
use tally_store::Store;
use tally_store::sessions::{Session, SessionFilter};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A set of a player's balls. What is left out does not matter; at least one thing is
/// given.
#[derive(Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetAsked {
    /// What it is called.
    label: String,
    /// Balls of this session.
    session: Option<Uuid>,
    /// Balls of blocks with these labels.
    blocks: Option<Vec<String>>,
    /// Balls of sessions begun at this time or later.
    from: Option<DateTime<Utc>>,
    /// Balls of sessions begun before this time.
    to: Option<DateTime<Utc>>,
    /// Balls hit with this club, by its key.
    club: Option<String>,
    /// Balls of sessions with this club of the bag: a head of its own.
    bag_club: Option<Uuid>,
    /// Balls of this kind: `premium`, `competition` or `range`.
    ball: Option<String>,
}

/// What is to be compared.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CompareAsked {
    /// The value that decides.
    quantity: Quantity,
    /// The sets; each is held against the first.
    sets: Vec<SetAsked>,
    /// The difference that makes none; the house's when absent.
    margin: Option<Given>,
    /// Fairway that patterns are held against; the house's when absent.
    fairway_width: Option<Given>,
    /// Whether the drift over hitting order is taken out; it is when absent.
    drift_out: Option<bool>,
}

/// What a player's balls can be told apart by.
#[derive(Serialize, ToSchema)]
struct BallSource {
    session: Uuid,
    started_at: DateTime<Utc>,
    zone: String,
    purpose: String,
    /// Clubs that its blocks name, or its own.
    clubs: Vec<Club>,
    bag_club: Option<Uuid>,
    /// That club in words.
    head: Option<String>,
    ball: String,
    /// Labels of its blocks that were begun, in order.
    blocks: Vec<String>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(compare_sets))
        .routes(routes!(ball_sources))
}

/// Compares sets of a player's balls.
#[utoipa::path(post, path = "/players/{player}/compare", params(("player" = Uuid, Path)), request_body = CompareAsked, responses((status = OK, body = CompareReport), Problem))]
async fn compare_sets(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(asked): Body<CompareAsked>,
) -> Result<Json<CompareReport>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    coach.store().player(school, player).await?;
    let dimension = asked.quantity.dimension();
    let margin = asked.margin.map(|m| m.of(dimension, "margin"));
    let fairway = asked
        .fairway_width
        .map(|w| w.within(Dimension::Distance, "fairway_width", 1.0..=200.0));
    let sets = sets(coach.store(), school, player, &asked.sets, &rules).await?;
    let question = CompareQuestion {
        quantity: asked.quantity,
        sets,
        margin: margin.transpose()?,
        fairway_width: fairway.transpose()?,
        club_gap: own_gap(coach.store(), school, player, &rules).await?,
        drift_out: asked.drift_out.unwrap_or(true),
        rules,
    };
    Ok(Json(compute(move || compare(&question)).await?))
}

/// What a player's balls can be told apart by, latest session first.
#[utoipa::path(get, path = "/players/{player}/ball-sources", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<BallSource>), Problem))]
async fn ball_sources(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<Json<Vec<BallSource>>, Problem> {
    let school = coach.school();
    coach.store().player(school, player).await?;
    let mut heads: BTreeMap<Uuid, String> = BTreeMap::new();
    let mut sources = Vec::new();
    for (session, shots) in coach.store().player_sessions(school, player).await? {
        if shots == 0 {
            continue;
        }
        let (session, blocks) = coach.store().session(school, session.id).await?;
        let own = Club::from_key("club", &session.club)?;
        let mut labels: Vec<String> = Vec::new();
        let mut clubs: Vec<Club> = Vec::new();
        for block in blocks.iter().filter(|block| block.begun_at.is_some()) {
            if !labels.contains(&block.label) {
                labels.push(block.label.clone());
            }
            let club = block.plan().club.unwrap_or(own);
            if !clubs.contains(&club) {
                clubs.push(club);
            }
        }
        let head = match session.bag_club_id {
            Some(id) if !heads.contains_key(&id) => {
                let club = coach.store().bag_club(school, id).await?;
                let words = club.map(|club| in_words(&club)).unwrap_or_default();
                heads.insert(id, words.clone());
                Some(words)
            }
            Some(id) => heads.get(&id).cloned(),
            None => None,
        };
        sources.push(BallSource {
            head,
            session: session.id,
            started_at: session.started_at,
            zone: session.zone,
            purpose: Purpose::from_key("purpose", &session.purpose)?
                .label()
                .to_owned(),
            clubs,
            bag_club: session.bag_club_id,
            ball: session.ball,
            blocks: labels,
        });
    }
    Ok(Json(sources))
}

/// Loads the sets asked for; a session that several share is read once.
pub async fn sets(
    store: &Store,
    school: Uuid,
    player: Uuid,
    asked: &[SetAsked],
    rules: &HouseRules,
) -> Result<Vec<BallSet>, Problem> {
    let mut errors = Vec::new();
    for (i, set) in asked.iter().enumerate() {
        set.check(i, &mut errors);
    }
    if !errors.is_empty() {
        return Err(errors.into());
    }
    let mut read: BTreeMap<Uuid, Vec<(Ball, String)>> = BTreeMap::new();
    let mut sets = Vec::new();
    for set in asked {
        let mut balls = Vec::new();
        let filter = SessionFilter {
            session: set.session,
            player: Some(player),
            purpose: None,
            from: set.from,
            to: set.to,
        };
        for session in store.sessions_filtered(school, &filter).await? {
            if !set.takes(&session) {
                continue;
            }
            if !read.contains_key(&session.id) {
                let place = read.len();
                let (session, blocks) = store.session(school, session.id).await?;
                let stored = session_balls(store, school, &session, blocks, rules, place).await?;
                let named = stored
                    .into_iter()
                    .map(|s| (s.ball, s.plan.label.clone()))
                    .collect();
                read.insert(session.id, named);
            }
            let known = read.get(&session.id).into_iter().flatten();
            balls.extend(
                known
                    .filter(|(ball, label)| set.holds(ball, label))
                    .map(|(ball, _)| ball.clone()),
            );
        }
        sets.push(BallSet {
            label: set.label.trim().to_owned(),
            balls,
        });
    }
    Ok(sets)
}

/// Carry between neighbouring clubs in the player's latest bag gapping, m.
async fn own_gap(
    store: &Store,
    school: Uuid,
    player: Uuid,
    rules: &HouseRules,
) -> Result<Option<f64>, Problem> {
    let filter = SessionFilter {
        player: Some(player),
        purpose: Some(Purpose::BagGapping.key().to_owned()),
        ..SessionFilter::default()
    };
    let Some(session) = store.sessions_filtered(school, &filter).await?.pop() else {
        return Ok(None);
    };
    let (session, blocks) = store.session(school, session.id).await?;
    let balls = session_balls(store, school, &session, blocks, rules, 0).await?;
    let mut carries: BTreeMap<Club, Vec<f64>> = BTreeMap::new();
    for ball in balls.iter().map(|b| &b.ball).filter(|b| b.kept()) {
        if let Some(carry) = ball.reading.get(Quantity::Carry) {
            carries.entry(ball.club).or_default().push(carry);
        }
    }
    let means: Vec<f64> = carries
        .values()
        .map(|c| c.iter().sum::<f64>() / c.len() as f64)
        .collect();
    Ok(club_gap(&means))
}

impl SetAsked {
    fn check(&self, place: usize, errors: &mut Vec<Invalid>) {
        let field = |name: &str| format!("sets[{place}].{name}");
        if let Err(why) = text_within(&field("label"), &self.label, 200) {
            errors.push(why);
        }
        if let Some(club) = &self.club
            && let Err(why) = Club::from_key(&field("club"), club)
        {
            errors.push(why);
        }
        if let (Some(from), Some(to)) = (self.from, self.to)
            && from >= to
        {
            errors.push(Invalid::new(
                field("from"),
                from.to_rfc3339(),
                "is not before the end",
                "give the earlier time first",
            ));
        }
        let anything = self.session.is_some()
            || self.blocks.is_some()
            || self.from.is_some()
            || self.to.is_some()
            || self.club.is_some()
            || self.bag_club.is_some()
            || self.ball.is_some();
        if !anything {
            errors.push(Invalid::missing(
                field("session"),
                "say which balls: a session, blocks, dates, a club or a kind of ball",
            ));
        }
    }

    fn takes(&self, session: &Session) -> bool {
        self.bag_club
            .is_none_or(|club| session.bag_club_id == Some(club))
            && self.ball.as_ref().is_none_or(|ball| session.ball == *ball)
    }

    fn holds(&self, ball: &Ball, label: &str) -> bool {
        self.club
            .as_ref()
            .is_none_or(|club| ball.club.key() == club)
            && self
                .blocks
                .as_ref()
                .is_none_or(|labels| labels.iter().any(|l| l == label))
    }
}
