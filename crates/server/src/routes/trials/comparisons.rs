//! Any sets of a player's balls, held against each other.

use crate::guard::compute::{compute, large};
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::routes::session::bag::in_words;
use crate::routes::shots::balls::{StoredBall, sessions_balls, sessions_balls_up_to};
use crate::state::App;
use axum::Json;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::club::Club;
use tally_core::session::acts::Prepared;
use tally_core::session::purpose::Purpose;
use tally_core::statistics::looks::Looks;
use tally_core::statistics::many::standing;
use tally_core::trials::compare::{
    BallSet, CompareQuestion, CompareReport, MOST_SETS, compare, own_gap,
};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::verdicts::verdict::VerdictKind;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment::moment;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::units::Dimension;
use tally_store::Store;
use tally_store::session::bag::BagClub;
use tally_store::session::blocks::Block;
use tally_store::session::sessions::{Session, SessionFilter};
use tally_store::trials::comparisons::{Comparison, MadeComparison};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A set of a player's balls. What is left out does not matter; at least one thing is
/// given.
#[derive(Clone, Deserialize, Serialize, ToSchema)]
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
    /// Whether order and days are reckoned with; they are when absent.
    order_in: Option<bool>,
}

/// What a player's balls can be told apart by.
#[derive(Serialize, ToSchema)]
struct BallSource {
    session: Uuid,
    started_at: DateTime<Utc>,
    zone: String,
    purpose: &'static str,
    /// Clubs that its blocks name, or its own.
    clubs: Vec<Club>,
    bag_club: Option<Uuid>,
    /// That club in words.
    head: Option<Sentence>,
    ball: BallKind,
    /// Labels of its blocks that were begun, in order.
    blocks: Vec<String>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(compare_sets))
        .routes(routes!(comparisons))
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
    let prepared = prepared_for(coach.store(), school, &asked.sets).await?;
    let _turn = large(school).await?;
    let SetsRead {
        sets,
        looks,
        chosen_of,
    } = sets(coach.store(), school, player, &asked.sets, &rules).await?;
    let key = key_of(&asked.sets, &sets, asked.quantity);
    let lately = lately(coach.store(), school, player).await?;
    let others = lately.iter().filter(|other| other.key != key);
    let others = others.map(|other| other.p).collect();
    let meant = prepared.filter(|prepared| prepared.quantity == asked.quantity);
    let question = CompareQuestion {
        quantity: asked.quantity,
        sets,
        margin: margin.transpose()?.or(meant.and_then(|meant| meant.margin)),
        prepared,
        others,
        chosen_of,
        fairway_width: fairway.transpose()?,
        club_gap: latest_gap(coach.store(), school, player, &rules).await?,
        order_in: asked.order_in.unwrap_or(true),
        looks,
        rules,
    };
    let report = compute(coach.school(), move || compare(&question)).await??;
    let surest = report.differences.iter().map(|d| d.chance);
    if let Some(chance) = surest.reduce(f64::min) {
        let made = MadeComparison {
            key: &key,
            told: &report.verdict.sentence,
            p: chance,
            undecided: report.verdict.kind == VerdictKind::CannotTellYet,
        };
        let store = coach.store();
        store.log_comparison(school, player, &made).await?;
    }
    Ok(Json(report))
}

/// How long a comparison is counted among the others.
const LATELY: chrono::Duration = chrono::Duration::weeks(6);

async fn lately(store: &Store, school: Uuid, player: Uuid) -> Result<Vec<Comparison>, Problem> {
    let since = Utc::now() - LATELY;
    Ok(store.comparisons_since(school, player, since).await?)
}

/// What names a question: which balls, by which value; whatever the margin, and however the
/// sets are called.
fn key_of(asked: &[SetAsked], sets: &[BallSet], quantity: Quantity) -> String {
    let named = asked.iter().zip(sets).map(|(asked, set)| {
        let mut blocks = asked.blocks.clone();
        if let Some(blocks) = &mut blocks {
            blocks.sort();
            blocks.dedup();
        }
        SetAsked {
            label: String::new(),
            blocks,
            // Told or not, it is the club that they were hit with.
            club: set.balls.first().map(|ball| ball.club.key().to_owned()),
            ..asked.clone()
        }
    });
    let named: Vec<SetAsked> = named.collect();
    let asked = serde_json::to_vec(&(quantity, named)).expect("sets are plain data");
    let digest = Sha256::digest(asked);
    digest.iter().map(|byte| format!("{byte:02x}")).collect()
}

/// What the test was prepared for, when all sets are of one session.
async fn prepared_for(
    store: &Store,
    school: Uuid,
    sets: &[SetAsked],
) -> Result<Option<Prepared>, Problem> {
    let first = sets.first().and_then(|set| set.session);
    match first {
        Some(session) if sets.iter().all(|set| set.session == first) => {
            Ok(store.progress(school, session).await?.prepared)
        }
        _ => Ok(None),
    }
}

/// A comparison that was made for a player.
#[derive(Serialize, ToSchema)]
struct ComparisonView {
    made_at: DateTime<Utc>,
    /// What it said.
    told: Sentence,
    /// How often chance alone would show as much.
    chance: f64,
    /// Whether it stands when all of these weeks are counted together.
    stands: bool,
}

/// The comparisons of the last six weeks, latest first.
#[utoipa::path(get, path = "/players/{player}/comparisons", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<ComparisonView>), Problem))]
async fn comparisons(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<Json<Vec<ComparisonView>>, Problem> {
    let school = coach.school();
    coach.store().player(school, player).await?;
    let rules = coach.store().house_rules(school).await?;
    let lately = lately(coach.store(), school, player).await?;
    let chances: Vec<f64> = lately.iter().map(|made| made.p).collect();
    let stands = standing(&chances, rules.interval_level);
    let views = lately.into_iter().zip(stands).map(|(made, stands)| {
        let (made_at, told, chance) = (made.made_at, made.told, made.p);
        ComparisonView {
            made_at,
            told,
            chance,
            stands,
        }
    });
    Ok(Json(views.collect()))
}

/// What a player's balls can be told apart by, latest session first.
#[utoipa::path(get, path = "/players/{player}/ball-sources", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<BallSource>), Problem))]
async fn ball_sources(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<Json<Vec<BallSource>>, Problem> {
    let school = coach.school();
    coach.store().player(school, player).await?;
    let sessions = coach.store().player_sessions(school, player).await?;
    let hit: Vec<Session> = sessions
        .into_iter()
        .filter(|(_, shots)| *shots > 0)
        .map(|(session, _)| session)
        .collect();
    let ids: Vec<Uuid> = hit.iter().map(|session| session.id).collect();
    let mut blocks = coach.store().blocks_of(school, &ids).await?;
    let heads = coach.store().heads(school, player).await?;
    let sources = hit.into_iter().map(|session| {
        let of = blocks.remove(&session.id).unwrap_or_default();
        let head = session.bag_club_id.and_then(|id| heads.get(&id));
        BallSource::of(session, &of, head)
    });
    let sources: Vec<BallSource> = sources.collect();
    Ok(Json(sources))
}

/// Balls that are read for a question; of more, as many are chosen evenly from every
/// session, which tells as much of means, spreads and days as anybody can use.
const MOST_BALLS: usize = 6_000;

/// The sets of a question.
pub struct SetsRead {
    /// The sets.
    pub sets: Vec<BallSet>,
    /// How their balls were looked at while they were hit.
    pub looks: Looks,
    /// How many balls there are, when not all of them were read.
    pub chosen_of: Option<usize>,
}

/// Loads the sets asked for, and how they were looked at; a session that several share is
/// read once.
pub async fn sets(
    store: &Store,
    school: Uuid,
    player: Uuid,
    asked: &[SetAsked],
    rules: &HouseRules,
) -> Result<SetsRead, Problem> {
    // Before anything is looked up for them.
    if asked.len() > MOST_SETS {
        let problem = "are more sets than can be read together";
        let remedy = format!("choose up to {MOST_SETS}");
        return Err(Invalid::new("sets", asked.len(), problem, remedy).into());
    }
    let mut errors = Vec::new();
    for (i, set) in asked.iter().enumerate() {
        set.check(i, &mut errors);
    }
    if !errors.is_empty() {
        return Err(errors.into());
    }
    let mut of_sets = Vec::new();
    let mut wanted: Vec<Session> = Vec::new();
    for set in asked {
        let filter = SessionFilter {
            session: set.session,
            player: Some(player),
            purpose: None,
            from: set.from,
            to: set.to,
        };
        let mut sessions = store.sessions_filtered(school, &filter).await?;
        sessions.retain(|session| set.takes(session));
        of_sets.push(sessions.iter().map(|s| s.id).collect::<Vec<_>>());
        sessions.retain(|session| wanted.iter().all(|w| w.id != session.id));
        wanted.extend(sessions);
    }
    let looks = looks_at(store, school, asked, &wanted).await?;
    let (read, all) = sessions_balls_up_to(store, school, wanted, rules, MOST_BALLS).await?;
    let read: BTreeMap<Uuid, (BallKind, Vec<StoredBall>)> = read
        .into_iter()
        .map(|(session, balls)| (session.id, (session.ball, balls)))
        .collect();
    let sets = asked.iter().zip(of_sets).map(|(set, sessions)| {
        let sessions = sessions.iter().filter_map(|id| read.get(id));
        let stored = sessions.flat_map(|(kind, balls)| balls.iter().map(move |b| (*kind, b)));
        let stored: Vec<_> = stored.filter(|(_, stored)| set.holds(stored)).collect();
        let mut kinds = stored
            .iter()
            .map(|(kind, stored)| stored.plan.gear.ball.unwrap_or(*kind));
        let kind = kinds.next();
        BallSet {
            label: set.label.trim().to_owned(),
            ball: kind.filter(|first| kinds.all(|other| other == *first)),
            balls: stored.into_iter().map(|(_, b)| b.ball.clone()).collect(),
        }
    });
    Ok(SetsRead {
        sets: sets.collect(),
        looks,
        chosen_of: (all > MOST_BALLS).then_some(all),
    })
}

/// Whether the sets' balls were looked at while they were hit: those of one session that
/// was held with this system, by as many balls as it planned for them.
async fn looks_at(
    store: &Store,
    school: Uuid,
    asked: &[SetAsked],
    sessions: &[Session],
) -> Result<Looks, Problem> {
    let [session] = sessions else {
        return Ok(Looks::Once);
    };
    if session.import_id.is_some() {
        return Ok(Looks::Once);
    }
    let mut blocks = store.blocks_of(school, &[session.id]).await?;
    let blocks = blocks.remove(&session.id).unwrap_or_default();
    let planned: usize = blocks
        .iter()
        .map(Block::plan)
        .filter(|plan| {
            let club = plan.club.unwrap_or(session.club);
            asked.iter().any(|set| set.names(&plan.known_as(), club))
        })
        .map(|plan| plan.balls as usize)
        .sum();
    Ok(Looks::throughout(planned, asked.len()))
}

/// Carry between neighbouring clubs in the player's latest bag gapping, m.
///
/// # Errors
/// The store's.
pub async fn latest_gap(
    store: &Store,
    school: Uuid,
    player: Uuid,
    rules: &HouseRules,
) -> Result<Option<f64>, Problem> {
    let filter = SessionFilter {
        player: Some(player),
        purpose: Some(Purpose::BagGapping),
        ..SessionFilter::default()
    };
    let latest = store.sessions_filtered(school, &filter).await?.pop();
    let latest = latest.into_iter().collect();
    let balls = sessions_balls(store, school, latest, rules).await?;
    let balls = balls.iter().flat_map(|(_, balls)| balls);
    Ok(own_gap(balls.map(|stored| &stored.ball)))
}

impl BallSource {
    fn of(session: Session, blocks: &[Block], head: Option<&BagClub>) -> Self {
        let mut labels: Vec<String> = Vec::new();
        let mut clubs: Vec<Club> = Vec::new();
        for block in blocks.iter().filter(|block| block.begun_at.is_some()) {
            let plan = block.plan();
            if !labels.contains(&plan.known_as()) {
                labels.push(plan.known_as());
            }
            let club = plan.club.unwrap_or(session.club);
            if !clubs.contains(&club) {
                clubs.push(club);
            }
        }
        BallSource {
            head: head.map(in_words),
            session: session.id,
            started_at: session.started_at,
            zone: session.zone,
            purpose: session.purpose.label(),
            clubs,
            bag_club: session.bag_club_id,
            ball: session.ball,
            blocks: labels,
        }
    }
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
        for (end, at) in [("from", self.from), ("to", self.to)] {
            if let Some(Err(why)) = at.map(|at| moment(&field(end), at)) {
                errors.push(why);
            }
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
            && self
                .ball
                .as_ref()
                .is_none_or(|ball| session.ball.key() == ball)
    }

    fn holds(&self, stored: &StoredBall) -> bool {
        self.names(&stored.plan.known_as(), stored.ball.club)
    }

    /// Whether balls of a block with this label, hit with this club, are of the set.
    fn names(&self, label: &str, hit_with: Club) -> bool {
        let (club, blocks) = (self.club.as_ref(), self.blocks.as_ref());
        club.is_none_or(|club| hit_with.key() == club)
            && blocks.is_none_or(|labels| labels.iter().any(|named| named == label))
    }
}
