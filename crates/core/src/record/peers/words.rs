//! What a coach would say of where a player stands.

use super::{AgeBand, LEAST, PeersQuestion, PeersTold};
use crate::vocabulary::playing_level::PlayingLevel;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;

/// The group, in words: "club players of 19 to 49".
pub fn group(level: Option<PlayingLevel>, band: Option<AgeBand>) -> String {
    let who = level.map_or("players", PlayingLevel::players);
    match band {
        Some(band) => format!("{who} {}", band.in_words()),
        None => who.to_owned(),
    }
}

pub fn sentence(question: &PeersQuestion, told: &PeersTold, others: usize) -> Sentence {
    let dimension = question.quantity.dimension();
    let mut said = standing(question, told, others);
    if let Some(reference) = &told.reference {
        said = said
            .words(" The house's reference for such players is ")
            .figure(reference.value, dimension)
            .words(".");
    }
    said
}

fn standing(question: &PeersQuestion, told: &PeersTold, others: usize) -> Sentence {
    let Some(own) = told.own else {
        return Sentence::of("No usual swings with this club within a year to compare.");
    };
    if question.born.is_none() {
        return Sentence::of(
            "Note the year of birth: players are only held against those of their age.",
        );
    }
    let Some(rank) = told.rank else {
        let have = match others {
            0 => "nobody else".to_owned(),
            1 => "one other".to_owned(),
            n => format!("{n} others"),
        };
        return Sentence::of(format!(
            "No rank yet: it takes {LEAST} {} with such a figure, and there {} {have}.",
            told.group,
            if others > 1 { "are" } else { "is" },
        ));
    };
    let more = match question.quantity {
        Quantity::ClubSpeed => "Faster than",
        Quantity::Carry => "Farther than",
        _ => "Ahead of",
    };
    let place = match rank.ahead_of {
        0 => Sentence::of(format!("The last of {} {}", rank.n, told.group)),
        all if all + 1 == rank.n => Sentence::of(format!("The first of {} {}", rank.n, told.group)),
        n => Sentence::of(format!("{more} {n} of {} other {}", rank.n - 1, told.group)),
    };
    let dimension = question.quantity.dimension();
    let off = own - rank.middle;
    if off.abs() < dimension.grain() {
        return place.words(" here; level with their middle.");
    }
    let side = if off < 0.0 { "under" } else { "over" };
    place
        .words(" here; ")
        .apart_in_full(own, rank.middle, dimension)
        .words(format!(" {side} their middle."))
}
