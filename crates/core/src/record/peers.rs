//! Where a player stands among players of an age and a level: those of the school, and the
//! house's reference levels.
//!
//! Others are counted and never named, and of fewer than [`LEAST`] nothing is told: from a
//! rank among few everybody in the group can be told.

mod age_band;
mod words;

use crate::physics::club::Club;
use crate::record::figures::Series;
use crate::record::reference_levels::{ReferenceLevel, fitting};
use crate::record::series::Occasion;
use crate::statistics::quantile::{median, quantile};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::playing_level::PlayingLevel;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
pub use age_band::AgeBand;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Values that players are held against each other by: more of them is better.
pub const COMPARED: [Quantity; 4] = [
    Quantity::ClubSpeed,
    Quantity::BallSpeed,
    Quantity::Carry,
    Quantity::SmashFactor,
];
/// Players of a group, the player among them, from which on a rank is told.
pub const LEAST: usize = 8;
/// Latest days that tell what is usual: the middle one of three forgives an off day.
const LATEST: usize = 3;
/// Days after which a figure is too old to compare.
pub const RECENT_DAYS: i64 = 365;

/// What a player usually reaches with a club.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Usual {
    /// The club.
    pub club: Club,
    /// The value.
    pub quantity: Quantity,
    /// The middle of the averages of the latest days that tell, internal units.
    pub value: f64,
    /// The last of these days.
    pub day: NaiveDate,
}

/// By what a figure is kept.
pub fn figure_key(club: Club, quantity: Quantity) -> String {
    format!("{} {}", club.key(), quantity.key())
}

/// What a player usually reaches, by sessions with the earliest first.
pub fn usual(occasions: &[Occasion]) -> Vec<Usual> {
    let mut latest: BTreeMap<(Club, Quantity), (NaiveDate, Vec<f64>)> = BTreeMap::new();
    for occasion in occasions.iter().rev() {
        for ((series, club, quantity), values) in &occasion.figures.series {
            if *series != Series::Usual || values.is_empty() || !COMPARED.contains(quantity) {
                continue;
            }
            let told = latest.entry((*club, *quantity));
            let (_, means) = told.or_insert_with(|| (occasion.date, vec![]));
            if means.len() < LATEST {
                means.push(values.iter().sum::<f64>() / values.len() as f64);
            }
        }
    }
    let told = latest.into_iter();
    told.map(|((club, quantity), (day, means))| Usual {
        club,
        quantity,
        value: median(&means),
        day,
    })
    .collect()
}

/// Another player's figure, with what is known of them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Peer {
    /// What they usually reach, internal units.
    pub value: f64,
    /// Year of birth.
    pub born: Option<i32>,
    /// How they play.
    pub level: Option<PlayingLevel>,
}

/// What is asked.
#[derive(Debug, Clone, PartialEq)]
pub struct PeersQuestion<'a> {
    /// The player's own figure; none where they have none of late.
    pub own: Option<Usual>,
    /// Which club.
    pub club: Club,
    /// Which value.
    pub quantity: Quantity,
    /// The player's year of birth.
    pub born: Option<i32>,
    /// How they play.
    pub level: Option<PlayingLevel>,
    /// The year now.
    pub year: i32,
    /// The school's other players who have such a figure of late.
    pub others: &'a [Peer],
    /// The house's reference levels.
    pub reference: &'a [ReferenceLevel],
}

/// A rank within a group.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Rank {
    /// Players of the group, the player among them.
    pub n: usize,
    /// How many of the others are behind.
    pub ahead_of: usize,
    /// Share of the group behind, those level with the player halved, in per cent.
    pub percentile: f64,
    /// A quarter of the group is under this, internal units.
    pub quarter: f64,
    /// Half of it is.
    pub middle: f64,
    /// Three quarters of it are.
    pub three_quarters: f64,
}

/// Where a player stands.
#[derive(Debug, Clone, Default, PartialEq, Serialize, ToSchema)]
pub struct PeersTold {
    /// What a coach would say.
    pub sentence: Sentence,
    /// Which group that is, in words.
    pub group: String,
    /// The player's own figure, internal units.
    pub own: Option<f64>,
    /// The rank, where the group is large enough.
    pub rank: Option<Rank>,
    /// The house's reference level for players like this one.
    pub reference: Option<ReferenceLevel>,
}

/// Where a player stands among those of their age and level.
pub fn peers(question: &PeersQuestion) -> PeersTold {
    let band = question.born.map(|born| AgeBand::of(question.year - born));
    let of_band = |peer: &&Peer| {
        band.is_some() && peer.born.map(|born| AgeBand::of(question.year - born)) == band
    };
    let of_level = |peer: &&Peer| question.level.is_some() && peer.level == question.level;
    let all = question.others.iter();
    let close: Vec<f64> = all
        .clone()
        .filter(of_band)
        .filter(of_level)
        .map(|p| p.value)
        .collect();
    let of_age: Vec<f64> = all.filter(of_band).map(|p| p.value).collect();
    // Of an age alone where too few are of the level too.
    let (group, level) = if close.len() + 1 >= LEAST {
        (close, question.level)
    } else {
        (of_age, None)
    };
    let own = question.own.map(|own| own.value);
    let mut told = PeersTold {
        group: words::group(level, band),
        own,
        rank: own.and_then(|own| rank(own, &group)),
        reference: reference_of(question).cloned(),
        ..PeersTold::default()
    };
    told.sentence = words::sentence(question, &told, group.len());
    told
}

fn reference_of<'a>(question: &PeersQuestion<'a>) -> Option<&'a ReferenceLevel> {
    let age = question.year - question.born?;
    let of = (question.club, question.quantity);
    fitting(question.reference, of, age, question.level?)
}

/// The rank of a figure among those of others.
///
/// ```
/// use tally_core::record::peers::rank;
/// let others = [40.0, 41.0, 42.0, 43.0, 44.0, 45.0, 46.0];
/// let told = rank(43.5, &others).unwrap();
/// assert_eq!((told.n, told.ahead_of, told.percentile), (8, 4, 56.25));
/// assert_eq!(rank(43.5, &others[1..]), None);
/// ```
pub fn rank(own: f64, others: &[f64]) -> Option<Rank> {
    let n = others.len() + 1;
    if n < LEAST {
        return None;
    }
    let ahead_of = others.iter().filter(|other| **other < own).count();
    let level = others.iter().filter(|other| **other == own).count();
    let mut all: Vec<f64> = others.iter().copied().chain([own]).collect();
    all.sort_by(f64::total_cmp);
    Some(Rank {
        n,
        ahead_of,
        percentile: 100.0 * (ahead_of as f64 + 0.5 * (level + 1) as f64) / n as f64,
        quarter: quantile(&all, 0.25),
        middle: quantile(&all, 0.5),
        three_quarters: quantile(&all, 0.75),
    })
}

#[cfg(test)]
mod tests;
