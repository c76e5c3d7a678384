//! Records: the best of a value, and the sessions in which it was set.

use serde::Serialize;
use utoipa::ToSchema;

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

/// The record of the sessions' kept values, earliest first; `grain` is what a device tells
/// apart. Nothing without a value.
///
/// ```
/// use tally_core::record::records::record;
/// let told = record(&[vec![44.0, 45.0], vec![45.02], vec![], vec![46.1]], 0.05).unwrap();
/// assert_eq!((told.best, told.session, told.before), (46.1, 3, Some(45.0)));
/// assert_eq!((told.set_in, told.ties), (vec![3], vec![]));
/// ```
pub fn record(sessions: &[Vec<f64>], grain: f64) -> Option<Record> {
    let mut told: Option<Record> = None;
    for (session, values) in sessions.iter().enumerate() {
        let Some(best) = values.iter().copied().reduce(f64::max) else {
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
    let n = sessions.iter().map(Vec::len).sum();
    told.map(|record| Record { n, ..record })
}
