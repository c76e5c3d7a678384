//! Records: the best of a value, and the sessions in which it was set.

use crate::physics::club::Club;
use crate::record::figures::{Best, SessionFigures};
use crate::record::series::Occasion;
use crate::shots::swung::Swung;
use crate::vocabulary::quantity::Quantity;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// What a record is the best of: balls of a club, or swings of an implement from a side in a
/// position.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
pub struct RecordOf {
    /// The club; none of a swing without a ball.
    pub club: Option<Club>,
    /// What was swung without a ball.
    pub swung: Option<Swung>,
    /// The value.
    pub quantity: Quantity,
}

/// A record that stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StandingRecord {
    /// Of what.
    pub of: RecordOf,
    /// The record.
    pub record: Record,
    /// The best under a roof, where both kinds of place gave one.
    pub indoors: Option<f64>,
    /// The best in the open, where both did.
    pub outdoors: Option<f64>,
}

/// Every record of a player's sessions, earliest first: those of clubs, then those of swings
/// without a ball.
pub fn records(sessions: &[Occasion]) -> Vec<StandingRecord> {
    let mut all: BTreeSet<RecordOf> = BTreeSet::new();
    for given in sessions.iter().map(|session| &session.figures) {
        all.extend(given.bests.keys().map(|(club, quantity)| RecordOf {
            club: Some(*club),
            swung: None,
            quantity: *quantity,
        }));
        all.extend(given.swings.keys().map(|swung| RecordOf {
            club: None,
            swung: Some(swung.clone()),
            quantity: Quantity::ClubSpeed,
        }));
    }
    let (hit, swung): (Vec<RecordOf>, Vec<RecordOf>) =
        all.into_iter().partition(|of| of.club.is_some());
    let told = hit.into_iter().chain(swung).filter_map(|of| {
        let best = |given: &SessionFigures| match (&of.swung, of.club) {
            (Some(swung), _) => Best::of(given.swings.get(swung)?),
            (None, Some(club)) => given.bests.get(&(club, of.quantity)).copied(),
            (None, None) => None,
        };
        let bests: Vec<Option<Best>> = sessions.iter().map(|s| best(&s.figures)).collect();
        let record = record(&bests, of.quantity.dimension().grain())?;
        let under = |roof: bool| {
            let there = sessions.iter().zip(&bests);
            let there = there.filter(|(session, _)| session.indoors == Some(roof));
            let best = there.filter_map(|(_, best)| Some((*best)?.best));
            best.reduce(f64::max)
        };
        let (indoors, outdoors) = under(true).zip(under(false)).unzip();
        Some(StandingRecord {
            of,
            record,
            indoors,
            outdoors,
        })
    });
    told.collect()
}

/// The best of a value over sessions.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Record {
    /// The best, internal units.
    pub best: f64,
    /// Place of the session that set it first.
    pub session: usize,
    /// The best before that one, which it beat by more than a device tells apart.
    pub before: Option<f64>,
    /// Later sessions that came as near as a device can tell.
    pub ties: Vec<usize>,
    /// Sessions that set a record when they were held, the first of all left out.
    pub set_in: Vec<usize>,
    /// Kept balls it is the best of.
    pub n: usize,
}

/// The record of what the sessions gave, earliest first; `grain` is what a device tells
/// apart. Nothing without a value.
///
/// ```
/// use tally_core::record::figures::Best;
/// use tally_core::record::records::record;
/// let given = [&[44.0, 45.0][..], &[45.02], &[], &[46.1]].map(Best::of);
/// let told = record(&given, 0.05).unwrap();
/// assert_eq!((told.best, told.session, told.before), (46.1, 3, Some(45.0)));
/// assert_eq!((told.set_in, told.ties), (vec![3], vec![]));
/// ```
pub fn record(sessions: &[Option<Best>], grain: f64) -> Option<Record> {
    let mut told: Option<Record> = None;
    for (session, given) in sessions.iter().enumerate() {
        let Some(Best { best, .. }) = *given else {
            continue;
        };
        match &mut told {
            None => {
                told = Some(Record {
                    best,
                    session,
                    before: None,
                    ties: vec![],
                    set_in: vec![],
                    n: 0,
                });
            }
            Some(record) if best > record.best + grain => {
                record.before = Some(record.best);
                record.best = best;
                record.session = session;
                record.ties.clear();
                record.set_in.push(session);
            }
            Some(record) if best >= record.best - grain => record.ties.push(session),
            Some(_) => {}
        }
    }
    let n = sessions.iter().flatten().map(|given| given.n).sum();
    told.map(|record| Record { n, ..record })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_implement_s_speed_is_no_club_s_and_each_side_has_its_own() {
        let swung = |side| Swung {
            implement: "light".to_owned(),
            side: Some(side),
            position: None,
        };
        use crate::shots::swung::SwingSide::{Dominant, Other};
        let session = |own: f64, other: f64, club: f64, indoors: bool| {
            let best = Best::of(&[club]).unwrap();
            let figures = SessionFigures {
                bests: [((Club::Driver, Quantity::ClubSpeed), best)].into(),
                swings: [(swung(Dominant), vec![own]), (swung(Other), vec![other])].into(),
                ..SessionFigures::default()
            };
            Occasion {
                indoors: Some(indoors),
                figures,
                ..Occasion::default()
            }
        };
        let given = [
            session(55.0, 48.0, 50.0, true),
            session(56.0, 48.0, 49.0, false),
        ];
        let told = records(&given);
        assert_eq!(
            (told[0].indoors, told[0].outdoors),
            (Some(50.0), Some(49.0))
        );
        assert_eq!(records(&given[..1])[0].indoors, None);
        let best: Vec<f64> = told.iter().map(|r| r.record.best).collect();
        assert_eq!(best, [50.0, 56.0, 48.0]);
        assert_eq!(told[1].record.set_in, [1]);
        assert_eq!(told[2].record.ties, [1]);
    }
}
