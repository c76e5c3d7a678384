//! How a player stands by their sessions: what a list of many players shows of each.

use crate::physics::club::Club;
use crate::record::figures::Series;
use crate::record::flags::{Flag, FlagKind, flags};
use crate::record::records::{RecordOf, records};
use crate::record::series::{Occasion, choices, follow};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::sentence::Sentence;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use utoipa::ToSchema;

/// How a player stands.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct PlayerStanding {
    /// What a coach would say of their record.
    pub sentence: Sentence,
    /// What there is to look at.
    pub flags: Vec<Flag>,
    /// The best there is to beat, of the series that is looked at first.
    pub best: Option<BestToBeat>,
    /// SD between days as a share of that between balls, of that series.
    #[serde(default)]
    pub strays: Option<f64>,
}

/// The best of a value, which an off day never sets.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BestToBeat {
    /// Of what.
    pub of: RecordOf,
    /// The best, internal units.
    pub best: f64,
}

/// How a player stands by their sessions, earliest first. `held` is why full effort is held in
/// the latest of them, `fitted` when each club came into the bag.
pub fn player_standing(
    occasions: &[Occasion],
    held: Option<String>,
    fitted: &HashMap<Club, NaiveDate>,
    rules: &HouseRules,
) -> PlayerStanding {
    let mut told = PlayerStanding::default();
    if let Some((reason, latest)) = held.zip(occasions.last()) {
        told.flags.push(Flag {
            kind: FlagKind::Held,
            said: Sentence::of(format!("Full effort was held: {reason}.")),
            since: latest.date,
            seen: latest.date,
        });
    }
    told.flags.extend(doubted(occasions, rules));
    let Some(first) = choices(occasions).into_iter().next() else {
        return told;
    };
    let key = first.key;
    let progress = follow(occasions, &key, None, None, rules);
    // A club is fitted to usual swings.
    let usual = key.club.filter(|_| key.series == Series::Usual);
    let fitted = usual.and_then(|club| fitted.get(&club).copied());
    told.flags.extend(flags(&progress, usual, fitted, rules));
    let of = RecordOf {
        club: key.club,
        swung: key.swung,
        quantity: key.quantity,
    };
    let standing = records(occasions)
        .into_iter()
        .find(|record| record.of == of);
    told.best = standing.map(|standing| BestToBeat {
        of: standing.of,
        best: standing.record.best,
    });
    told.strays = progress.strays;
    told.sentence = progress.sentence;
    told
}

/// Readings of the latest sessions that nobody has decided on.
fn doubted(occasions: &[Occasion], rules: &HouseRules) -> Option<Flag> {
    let looked_at = usize::try_from(rules.doubtful_sessions()).unwrap_or(usize::MAX);
    let latest = occasions.iter().rev().take(looked_at);
    let with: Vec<&Occasion> = latest.filter(|o| o.figures.doubted > 0).collect();
    let n: usize = with.iter().map(|o| o.figures.doubted).sum();
    let wait = if n == 1 {
        "reading waits"
    } else {
        "readings wait"
    };
    Some(Flag {
        kind: FlagKind::Doubted,
        said: Sentence::of(format!("{n} doubtful {wait} for a decision.")),
        since: with.last()?.date,
        seen: with[0].date,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::record::series::tests::weekly;
    use crate::vocabulary::quantity::Quantity;
    use crate::vocabulary::units::MPH;

    #[test]
    fn pain_and_doubts_are_told_with_the_best_to_beat_and_a_player_without_balls_has_none() {
        let rules = HouseRules::default();
        let mut occasions = weekly(|week| {
            let speed = (100.0 + week as f64) * MPH;
            [
                (Quantity::ClubSpeed, speed),
                (Quantity::BallSpeed, speed),
                (Quantity::Carry, 200.0),
            ]
        });
        let best = 107.5 * MPH;
        let latest = &mut occasions[7].figures;
        latest.doubted = 1;
        let given = crate::record::figures::Best::of(&[best]).unwrap();
        latest
            .bests
            .insert((Club::Driver, Quantity::ClubSpeed), given);
        let none = HashMap::new();
        let told = player_standing(&occasions, Some("pain".to_owned()), &none, &rules);
        let kinds: Vec<FlagKind> = told.flags.iter().map(|flag| flag.kind).collect();
        assert_eq!(kinds, [FlagKind::Held, FlagKind::Doubted]);
        assert_eq!(told.best.unwrap().best, best);
        let empty = player_standing(&[Occasion::default()], None, &none, &rules);
        assert_eq!((empty.flags.len(), empty.best), (0, None));
    }
}
