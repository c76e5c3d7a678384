//! Players: listed, shown with their sessions, added.

use crate::http::coach::Coach;
use crate::http::consent::{ConsentView, consent_of};
use crate::http::extract::{Body, Path, Query};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::routes::session::sessions::ListedSession;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, Datelike, Utc};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::ops::RangeInclusive;
use tally_core::school::audited::Audited;
use tally_core::school::find::words as words_of;
use tally_core::school::player_facts::{FIRST_BORN, HEIGHT_M, MASS_KG};
use tally_core::school::roster::{Listed, RosterOrder, roster as core_roster};
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::text::{lines_within, text_within};
use tally_core::vocabulary::units::Dimension;
use tally_store::base::keys::Key;
use tally_store::school::players::Player;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// How many players are told unless it is said, and how many may be.
const SHOWN: u32 = 25;
const MOST_SHOWN: RangeInclusive<f64> = 1.0..=500.0;

/// A player by name.
#[derive(Serialize, ToSchema)]
struct NamedPlayer {
    id: Uuid,
    name: String,
    aim: String,
    /// Since when they do not come any more.
    archived_at: Option<DateTime<Utc>>,
}

/// Which players, in which order.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct RosterWanted {
    /// Words of their name or of what they come for, or beginnings of them; none for all.
    words: Option<String>,
    order: Option<RosterOrder>,
    /// Whether also those who do not come any more.
    away: Option<bool>,
    /// How many are to be told at most, 1 to 500; 25 unless it is said.
    most: Option<u32>,
}

/// Players of the school, the first of those that were found.
#[derive(Serialize, ToSchema)]
struct RosterView {
    players: Vec<RosterPlayer>,
    /// The order that they stand in.
    order: RosterOrder,
    /// How many were found.
    found: usize,
    /// How many players come, whoever was looked for.
    all: usize,
    /// How many do not come any more.
    away: usize,
}

/// A player in the list.
#[derive(Serialize, ToSchema)]
struct RosterPlayer {
    id: Uuid,
    name: String,
    aim: String,
    sessions: i64,
    shots: i64,
    last_session: Option<DateTime<Utc>>,
    /// Zone of the place where that was.
    last_zone: Option<String>,
    /// Since when they do not come any more.
    archived_at: Option<DateTime<Utc>>,
}

/// A session with what the coach noted: for coaches alone, never for who has a link.
#[derive(Serialize, ToSchema)]
struct NotedSession {
    #[serde(flatten)]
    session: ListedSession,
    /// What the coach noted.
    note: String,
    /// What it can be found by.
    tags: Vec<String>,
}

/// A player with their sessions, latest first.
#[derive(Serialize, ToSchema)]
struct PlayerView {
    id: Uuid,
    name: String,
    born: Option<i32>,
    left_handed: bool,
    aim: String,
    /// Standing height, m.
    height_m: Option<f64>,
    /// Mass, kg.
    mass_kg: Option<f64>,
    /// How they play.
    level: Option<PlayingLevel>,
    /// Since when they do not come any more.
    archived_at: Option<DateTime<Utc>>,
    sessions: Vec<NotedSession>,
    /// A guardian's consent.
    consent: ConsentView,
}

/// A player to add.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPlayer {
    /// Made by the sender.
    id: Uuid,
    name: String,
    /// Year of birth.
    born: Option<i32>,
    #[serde(default)]
    left_handed: bool,
    /// What they come for.
    #[serde(default)]
    aim: String,
    /// Standing height.
    height: Option<Given>,
    /// Mass, in `kg` or `lb`.
    mass: Option<Given>,
    /// How they play.
    level: Option<PlayingLevel>,
}

/// A player's facts, all of them.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PlayerFacts {
    name: String,
    /// Year of birth; not known when absent.
    born: Option<i32>,
    left_handed: bool,
    /// What they come for.
    aim: String,
    /// Standing height; not known when absent.
    height: Option<Given>,
    /// Mass, in `kg` or `lb`; not known when absent.
    mass: Option<Given>,
    /// How they play; not known when absent.
    level: Option<PlayingLevel>,
}

/// Whether a player still comes.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PlayerArchived {
    archived: bool,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(players, add_player))
        .routes(routes!(roster))
        .routes(routes!(player, correct_player))
        .routes(routes!(archive_player))
}

/// The school's players by name, those included who do not come any more.
#[utoipa::path(get, path = "/players", responses((status = OK, body = [NamedPlayer]), Problem))]
async fn players(coach: Coach) -> Result<Json<Vec<NamedPlayer>>, Problem> {
    let players = coach.store().roster(coach.school()).await?;
    let named = players.into_iter().map(|player| NamedPlayer {
        id: player.id,
        name: player.name,
        aim: player.aim,
        archived_at: player.archived_at,
    });
    Ok(Json(named.collect()))
}

/// Those players that are looked for, with what is held of them.
#[utoipa::path(get, path = "/roster", params(RosterWanted), responses((status = OK, body = RosterView), Problem))]
async fn roster(
    coach: Coach,
    Query(wanted): Query<RosterWanted>,
) -> Result<Json<RosterView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let words = match wanted.words.as_deref().map(str::trim) {
        None | Some("") => String::new(),
        Some(words) => text_within("words", words, 200)?,
    };
    let most = within(
        "most",
        f64::from(wanted.most.unwrap_or(SHOWN)),
        MOST_SHOWN,
        "players",
    )?;
    let order = wanted.order.unwrap_or_default();
    let (with_away, most) = (wanted.away.unwrap_or_default(), most as usize);
    let [all, away] = store.players_counted(school).await?;
    let asked = words_of(&words);
    let players = match asked.as_slice() {
        [] => {
            let most = i64::try_from(most).unwrap_or(i64::MAX);
            store.roster_page(school, order, with_away, most).await?
        }
        asked => store.roster_with(school, asked, true).await?,
    };
    let gone: HashMap<Uuid, DateTime<Utc>> = players
        .iter()
        .filter_map(|player| Some((player.id, player.archived_at?)))
        .collect();
    let listed = players.into_iter().map(|player| Listed {
        away: player.archived_at.is_some(),
        last: player.last_session_at,
        id: player.id,
        name: player.name,
        aim: player.aim,
    });
    let mut found = core_roster(listed.collect(), &words, order, with_away);
    let how_many = match asked.as_slice() {
        [] if with_away => all + away,
        [] => all,
        _ => found.len(),
    };
    found.truncate(most);
    let ids: Vec<Uuid> = found.iter().map(|one| one.id).collect();
    let mut held = store.held_by(school, &ids).await?;
    let told = found.into_iter().map(|one| {
        let held = held.remove(&one.id).unwrap_or_default();
        let (last_session, last_zone) = held.last.unzip();
        RosterPlayer {
            archived_at: gone.get(&one.id).copied(),
            id: one.id,
            name: one.name,
            aim: one.aim,
            sessions: held.sessions,
            shots: held.shots,
            last_session,
            last_zone,
        }
    });
    Ok(Json(RosterView {
        players: told.collect(),
        order,
        found: how_many,
        all,
        away,
    }))
}

/// One player.
#[utoipa::path(get, path = "/players/{player}", params(("player" = Uuid, Path)), responses((status = OK, body = PlayerView), Problem))]
async fn player(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<PlayerView>, Problem> {
    let player = coach.store().player(coach.school(), id).await?;
    let sessions = coach.store().player_sessions(coach.school(), id).await?;
    let consent = consent_of(coach.store(), coach.school(), id, player.born).await?;
    let archived_at = coach.store().archived_at(coach.school(), id).await?;
    Ok(Json(PlayerView {
        consent,
        id: player.id,
        name: player.name,
        born: player.born,
        left_handed: player.left_handed,
        aim: player.aim,
        height_m: player.height_m,
        mass_kg: player.mass_kg,
        level: player.level.map(|Key(level)| level),
        archived_at,
        sessions: sessions
            .into_iter()
            .map(|(session, shots)| NotedSession {
                note: session.note.clone(),
                tags: session.tags(),
                session: ListedSession::new(session, shots),
            })
            .collect(),
    }))
}

/// Adds a player.
#[utoipa::path(post, path = "/players", request_body = NewPlayer, responses((status = CREATED), Problem))]
async fn add_player(coach: Coach, Body(new): Body<NewPlayer>) -> Result<StatusCode, Problem> {
    coach
        .store()
        .add_player(coach.school(), &new.check()?)
        .await?;
    Ok(StatusCode::CREATED)
}

/// Puts a player's facts right.
#[utoipa::path(put, path = "/players/{player}", params(("player" = Uuid, Path)), request_body = PlayerFacts, responses((status = NO_CONTENT), Problem))]
async fn correct_player(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(facts): Body<PlayerFacts>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let was = store.player(school, id).await?;
    let right = NewPlayer {
        id,
        name: facts.name,
        born: facts.born,
        left_handed: facts.left_handed,
        aim: facts.aim,
        height: facts.height,
        mass: facts.mass,
        level: facts.level,
    }
    .check()?;
    if right == was {
        return Ok(StatusCode::NO_CONTENT);
    }
    store.correct_player(school, &right).await?;
    let born = |player: &Player| {
        player
            .born
            .map_or("not given".to_owned(), |b| b.to_string())
    };
    let mut said = Vec::new();
    if right.name != was.name {
        said.push(format!("name: {} → {}", was.name, right.name));
    }
    if right.born != was.born {
        said.push(format!("born: {} → {}", born(&was), born(&right)));
    }
    if right.left_handed != was.left_handed {
        said.push("hand".to_owned());
    }
    if right.aim != was.aim {
        said.push("aim".to_owned());
    }
    // What a body measures is nobody's to read in a log.
    if (right.height_m, right.mass_kg) != (was.height_m, was.mass_kg) {
        said.push("height and mass".to_owned());
    }
    if right.level != was.level {
        said.push("level of play".to_owned());
    }
    let about = said.join("; ");
    let act = Audited::Correction;
    store
        .note(school, coach.id(), act, Some(id), &about)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Puts a player among those who do not come any more, or brings them back. Nothing of
/// theirs is lost.
#[utoipa::path(put, path = "/players/{player}/archived", params(("player" = Uuid, Path)), request_body = PlayerArchived, responses((status = NO_CONTENT), Problem))]
async fn archive_player(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(wanted): Body<PlayerArchived>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    if store.archived_at(school, id).await?.is_some() == wanted.archived {
        return Ok(StatusCode::NO_CONTENT);
    }
    let at = wanted.archived.then(Utc::now);
    store.archive_player(school, id, at).await?;
    let about = if wanted.archived {
        "does not come any more"
    } else {
        "comes again"
    };
    let act = Audited::Correction;
    store.note(school, coach.id(), act, Some(id), about).await?;
    Ok(StatusCode::NO_CONTENT)
}

impl NewPlayer {
    fn check(self) -> Result<Player, Vec<Invalid>> {
        let mut errors = Vec::new();
        let mut keep = |checked: Result<String, Invalid>| {
            checked.unwrap_or_else(|error| {
                errors.push(error);
                String::new()
            })
        };
        let name = keep(text_within("name", &self.name, 200));
        let aim = match self.aim.trim() {
            "" => String::new(),
            aim => keep(lines_within("aim", aim, 500)),
        };
        if let Some(born) = self.born
            && let Err(error) = within(
                "born",
                f64::from(born),
                f64::from(FIRST_BORN)..=f64::from(Utc::now().year()),
                "",
            )
        {
            errors.push(error);
        }
        let height = self.height.as_ref();
        let height = height.map(|h| h.within(Dimension::ClubLength, "height", HEIGHT_M));
        let mass = self.mass.as_ref().map(|m| m.kilograms("mass", MASS_KG));
        let mut number =
            |given: Option<Result<f64, Invalid>>| given?.map_err(|error| errors.push(error)).ok();
        let (height_m, mass_kg) = (number(height), number(mass));
        if !errors.is_empty() {
            return Err(errors);
        }
        Ok(Player {
            id: self.id,
            name,
            born: self.born,
            left_handed: self.left_handed,
            aim,
            height_m,
            mass_kg,
            level: self.level.map(Key),
        })
    }
}
