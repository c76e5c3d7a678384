//! The school's players as they are listed: those that are looked for, in the order asked for.

use crate::school::find::{has, words};
use crate::vocabulary::keyed::Keyed;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The order of a list of players.
#[derive(
    Debug,
    Clone,
    Copy,
    Default,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum RosterOrder {
    /// By name.
    #[default]
    Name,
    /// Who was there last comes first; who never was, last.
    Last,
}

impl Keyed for RosterOrder {
    const KIND: &'static str = "an order of players";
}

/// What a player is found and put in order by.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Listed {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// What they come for.
    pub aim: String,
    /// Whether they do not come any more.
    pub away: bool,
    /// When their last session began.
    pub last: Option<DateTime<Utc>>,
}

/// Those players whose name or aim has all the words, names first; those who are away only where
/// they are asked for.
///
/// ```
/// use tally_core::school::roster::{Listed, RosterOrder, roster};
/// let player = |name: &str, aim: &str, away| Listed {
///     id: uuid::Uuid::nil(),
///     name: name.to_owned(),
///     aim: aim.to_owned(),
///     away,
///     last: None,
/// };
/// let all = vec![
///     player("Mira Holm", "a straighter driver", false),
///     player("Dov Straight", "", false),
///     player("Åse Lund", "", true),
/// ];
/// let names = |words, away| {
///     let found = roster(all.clone(), words, RosterOrder::Name, away);
///     found.into_iter().map(|one| one.name).collect::<Vec<_>>()
/// };
/// assert_eq!(names("", false), ["Dov Straight", "Mira Holm"]);
/// assert_eq!(names("straight", false), ["Dov Straight", "Mira Holm"]);
/// assert_eq!(names("ase", true), ["Åse Lund"]);
/// assert_eq!(names("mira driver", false), ["Mira Holm"]);
/// ```
pub fn roster(all: Vec<Listed>, asked: &str, order: RosterOrder, away: bool) -> Vec<Listed> {
    let words = words(asked);
    let fits = |one: &Listed| has(&format!("{} {}", one.name, one.aim), &words) == words.len();
    let mut found: Vec<(usize, Listed)> = all
        .into_iter()
        .filter(|one| (away || !one.away) && fits(one))
        .map(|one| (words.len() - has(&one.name, &words), one))
        .collect();
    let latest = |one: &Listed| match order {
        RosterOrder::Name => None,
        RosterOrder::Last => one.last,
    };
    found.sort_by(|(a, one), (b, other)| {
        let by_name = a.cmp(b).then_with(|| latest(other).cmp(&latest(one)));
        by_name.then_with(|| (&one.name, one.id).cmp(&(&other.name, other.id)))
    });
    found.into_iter().map(|(_, one)| one).collect()
}
