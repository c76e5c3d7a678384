//! Finding anything that has a name: players, sessions, decisions, clubs, devices, rules,
//! pages, and what can be begun for a player.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::Query;
use crate::http::problem::Problem;
use crate::routes::session::bag::in_words;
use crate::state::App;
use axum::Json;
use chrono::NaiveDate;
use serde::Deserialize;
use std::collections::HashMap;
use tally_core::school::access::Right;
use tally_core::school::find::{Kind, Thing, find, has, words};
use tally_core::session::purpose::Purpose;
use tally_core::verdicts::house_rules::RULES;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::units::Units;
use tally_core::vocabulary::zone::date_in;
use tally_store::school::players::RosterRow;
use tally_store::session::session_lines::SessionLine;
use tally_store::trials::decisions::Decision;
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Sessions and decisions that are looked through, the latest; of players of whom more than the
/// name was asked, all.
const LOOKED_THROUGH: i64 = 400;
/// Sessions looked through of each player of whom nothing but the name was asked.
const FEW: i64 = 20;
/// Players whose bags are looked into and for whom something can be begun.
const MOST_PLAYERS: usize = 5;

/// Pages of the application: what it is called, what is there, where it is.
const PAGES: [(&str, &str, &str, Right); 16] = [
    (
        "Today",
        "who is due, what is to be looked at again",
        "/today",
        Right::Run,
    ),
    ("Players", "all of them, groups", "/players", Right::Run),
    (
        "Bench: flight",
        "what a ball does in any air",
        "/bench/flight",
        Right::Run,
    ),
    (
        "Bench: reach",
        "what it takes to carry a distance",
        "/bench/reach",
        Right::Run,
    ),
    (
        "Bench: another club",
        "length, loft, mass",
        "/bench/club",
        Right::Run,
    ),
    (
        "Bench: club length",
        "children, growing",
        "/bench/club-length",
        Right::Run,
    ),
    (
        "Programmes",
        "protocols, implements, calendar",
        "/programmes",
        Right::Run,
    ),
    (
        "House rules",
        "thresholds, factors, warm-up list",
        "/house-rules",
        Right::Run,
    ),
    (
        "Devices",
        "radar, camera, secrets, offsets",
        "/school/devices",
        Right::Run,
    ),
    (
        "Agreement",
        "two devices on the same balls",
        "/school/agreement",
        Right::Run,
    ),
    (
        "Doubtful readings",
        "decide, keep, set aside",
        "/school/doubtful",
        Right::Run,
    ),
    (
        "Files",
        "import, bring shots in, export, CSV",
        "/school/files",
        Right::Keep,
    ),
    (
        "People",
        "coaches, assistants, roles, codes",
        "/school/people",
        Right::Own,
    ),
    (
        "The record",
        "archive, who saw what",
        "/school/record",
        Right::Own,
    ),
    (
        "Account",
        "password, second factor, sign out",
        "/account",
        Right::Run,
    ),
    ("Add a player", "new", "/players?add=1", Right::Run),
];

/// What else there is of a player: words before the name, what is there, where.
const OF_A_PLAYER: [(&str, &str, &str); 6] = [
    ("Bag of", "clubs, gaps, yardage card", "bag"),
    ("Sessions of", "all of them", "sessions"),
    ("Programme of", "training, calendar", "programme"),
    (
        "Compare balls of",
        "any two heaps, across sessions",
        "compare",
    ),
    ("Yardage card of", "print, pocket", "card"),
    ("A page for", "what to take home of some weeks", "page"),
];

/// What is looked for.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Asked {
    /// Words, or their beginnings.
    words: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(found))
}

/// What fits some words, best first.
#[utoipa::path(get, path = "/find", params(Asked), responses((status = OK, body = Vec<Thing>), Problem))]
async fn found(coach: Coach, Query(asked): Query<Asked>) -> Result<Json<Vec<Thing>>, Problem> {
    let asked = text_within("words", &asked.words, 200)?;
    let (store, school) = (coach.store(), coach.school());
    let wanted = words(&asked);
    let players = store.roster_with(school, &wanted, false).await?;
    // They come by name, which stays so among those that have as much of it.
    let mut meant: Vec<(usize, Uuid, &str)> = players
        .iter()
        .map(|player| (has(&player.name, &wanted), player.id, player.name.as_str()))
        .filter(|(has, ..)| *has > 0)
        .collect();
    meant.sort_by_key(|(has, ..)| std::cmp::Reverse(*has));
    meant.truncate(MOST_PLAYERS);
    let mut things: Vec<Thing> = players.iter().map(player).collect();
    let may = |right: Right| coach.role().may(right);
    let pages = PAGES.iter().filter(|(.., right)| may(*right));
    things.extend(pages.map(|(label, about, path, _)| thing(Kind::Page, *label, *about, *path)));
    things.extend(RULES.iter().map(|rule| {
        let path = format!("/house-rules#{}", rule.key);
        thing(
            Kind::Rule,
            rule.label,
            format!("house rule, {}", rule.group),
            path,
        )
    }));
    for device in store.devices(school).await? {
        things.push(thing(
            Kind::Device,
            device.name,
            "device",
            "/school/devices",
        ));
    }
    let theirs: Vec<Uuid> = meant.iter().map(|(_, id, _)| *id).collect();
    // A name alone is of each of their sessions: the latest will do.
    let named = meant.iter().all(|(has, ..)| *has == wanted.len());
    let of_theirs = if named { FEW } else { i64::MAX };
    // A name alone means the player; more words mean something of theirs.
    meant.retain(|(has, ..)| *has < wanted.len());
    if !meant.is_empty() {
        let bags = store.bags(school, &theirs).await?;
        for (_, id, name) in meant {
            things.extend(begun_for(id, name));
            for club in bags.iter().filter(|club| club.player_id == id) {
                let label = in_words(club).show(Units::MphYd);
                let about = format!("in the bag of {name}");
                things.push(thing(
                    Kind::Club,
                    label,
                    about,
                    format!("/players/{id}/bag"),
                ));
            }
        }
    }
    let sessions = store
        .session_lines(school, (&theirs, of_theirs), LOOKED_THROUGH)
        .await?;
    let decisions = store.latest_decisions(school, LOOKED_THROUGH).await?;
    let names = players.iter().map(|player| (player.id, &*player.name));
    let names: HashMap<Uuid, &str> = names.collect();
    let mut all: Vec<Candidate> = things.into_iter().map(Candidate::from).collect();
    all.extend(sessions.into_iter().map(|line| session(line, &names)));
    all.extend(decisions.into_iter().map(|taken| decision(taken, &names)));
    let found = compute(school, move || find(&asked, all, |one| &one.thing)).await?;
    let whose: Vec<Uuid> = found.iter().filter_map(|one| one.of).collect();
    let names = store.names_of_players(school, &whose).await?;
    let named = found.into_iter().map(|one| one.named(&names));
    Ok(Json(named.collect()))
}

/// What may be found, and whose it is where their name has none of the words: their name is looked up
/// only of what is found, and not of hundreds of sessions.
struct Candidate {
    thing: Thing,
    of: Option<Uuid>,
}

impl From<Thing> for Candidate {
    fn from(thing: Thing) -> Candidate {
        Candidate { thing, of: None }
    }
}

impl Candidate {
    /// What is of a player, who is one of these where a word may be in their name.
    fn of(player: Uuid, names: &HashMap<Uuid, &str>, thing: Thing) -> Candidate {
        let nameless = Candidate {
            thing,
            of: Some(player),
        };
        match names.get(&player) {
            Some(name) => nameless.with(name).into(),
            None => nameless,
        }
    }

    fn named(self, names: &HashMap<Uuid, String>) -> Thing {
        match self.of.and_then(|player| names.get(&player)) {
            Some(name) => self.with(name),
            None => self.thing,
        }
    }

    /// With the name where it stands in what is said beside such a thing.
    fn with(self, name: &str) -> Thing {
        let Thing { kind, about, .. } = &self.thing;
        let about = match kind {
            Kind::Decision => format!("{about} {name}"),
            _ => format!("{name}, {about}"),
        };
        Thing {
            about,
            ..self.thing
        }
    }
}

fn thing(
    kind: Kind,
    label: impl Into<String>,
    about: impl Into<String>,
    path: impl Into<String>,
) -> Thing {
    Thing {
        kind,
        label: label.into(),
        about: about.into(),
        day: None,
        path: path.into(),
    }
}

fn on(day: NaiveDate, thing: Thing) -> Thing {
    Thing {
        day: Some(day),
        ..thing
    }
}

fn player(player: &RosterRow) -> Thing {
    let about = match player.aim.trim() {
        "" => "record, sessions, bag, programme",
        aim => aim,
    };
    thing(
        Kind::Player,
        &player.name,
        about,
        format!("/players/{}", player.id),
    )
}

/// What can be begun or looked at for a player.
fn begun_for(id: Uuid, name: &str) -> Vec<Thing> {
    let of = format!("/players/{id}");
    // Training is begun from its programme.
    let purposes = Purpose::all().filter(|purpose| *purpose != Purpose::Training);
    let begun = purposes.map(|purpose| {
        let label = format!(
            "Begin a session for {name}: {}",
            purpose.label().to_lowercase()
        );
        let path = format!("{of}/prepare?purpose={}", purpose.key());
        thing(Kind::Act, label, purpose.about(), path)
    });
    let others = OF_A_PLAYER.iter().map(|(before, about, at)| {
        let label = format!("{before} {name}");
        thing(Kind::Act, label, *about, format!("{of}/{at}"))
    });
    begun.chain(others).collect()
}

fn session(held: SessionLine, names: &HashMap<Uuid, &str>) -> Candidate {
    let day = date_in(held.started_at, &held.zone);
    let tags: Vec<String> = serde_json::from_value(held.tags).unwrap_or_default();
    let tags: String = tags.iter().map(|tag| format!(", {tag}")).collect();
    let station = match held.ended_at {
        None => "hit",
        Some(_) => "read",
    };
    let found = thing(
        Kind::Session,
        format!(
            "{}, {}",
            held.purpose.0.label(),
            held.club.0.label().to_lowercase()
        ),
        format!("{}{tags}", held.place),
        format!("/sessions/{}/{station}", held.id),
    );
    Candidate::of(held.player_id, names, on(day, found))
}

fn decision(taken: Decision, names: &HashMap<Uuid, &str>) -> Candidate {
    let day = taken.decided_at.date_naive();
    let path = match taken.address.as_str() {
        "" => format!("/players/{}", taken.player_id),
        address => address.to_owned(),
    };
    let found = thing(Kind::Decision, taken.words, "decided for", path);
    Candidate::of(taken.player_id, names, on(day, found))
}
