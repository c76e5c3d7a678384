//! Which of the rows of a table was hit first.

use super::When;
use super::grid::Grid;
use super::layout::{ColumnUse, Layout};
use super::rows::Rows;
use chrono::NaiveDateTime;

/// What says that the last row may have been hit first.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Back {
    /// The numbers of the shots count down.
    Numbers,
    /// Their days go back.
    Days,
}

/// Whether the rows tell times, and each is of a time before the one above it or the same.
pub fn times_go_back(grid: &Grid, layout: &Layout) -> bool {
    let times: Option<Vec<NaiveDateTime>> = whens(grid, layout).into_iter().map(moment).collect();
    times.is_some_and(|times| backwards(&times))
}

/// The column by which the last row may have been hit first, where no time tells.
pub fn goes_back(grid: &Grid, layout: &Layout) -> Option<(usize, Back)> {
    let column = |is: ColumnUse| layout.columns.iter().position(|held| *held == is);
    let whens = whens(grid, layout);
    // Of shots that stand in one row the first is told by the columns.
    let wide = |held: &ColumnUse| matches!(held, ColumnUse::Shots { .. });
    if whens.iter().any(|when| moment(*when).is_some()) || layout.columns.iter().any(wide) {
        return None;
    }
    if let Some(at) = column(ColumnUse::Number) {
        let rows = grid.shots(layout);
        let cells = rows.iter().filter_map(|line| line.cells.get(at));
        let numbers: Vec<u64> = cells
            .filter_map(|cell| cell.trim().trim_start_matches('#').trim().parse().ok())
            .collect();
        let pairs = || numbers.iter().zip(numbers.iter().skip(1));
        let down = pairs().filter(|(a, b)| a > b).count();
        let up = pairs().filter(|(a, b)| a < b).count();
        // Each day may begin its own count.
        if down >= 2 && down > 2 * up {
            return Some((at, Back::Numbers));
        }
    }
    let days: Option<Vec<_>> = whens
        .into_iter()
        .map(|when| match when {
            When::Day(day) => Some(day),
            _ => None,
        })
        .collect();
    let (at, days) = (column(ColumnUse::Date)?, days?);
    // Of a day with one shot there is no order.
    let several = days.iter().zip(days.iter().skip(1)).any(|(a, b)| a == b);
    (several && backwards(&days)).then_some((at, Back::Days))
}

fn whens(grid: &Grid, layout: &Layout) -> Vec<When> {
    let read = Rows::held(grid.lines.clone(), layout.clone()).all();
    let shots = read.into_iter().filter_map(|row| row.shot.ok());
    shots.map(|shot| shot.when).collect()
}

fn moment(when: When) -> Option<NaiveDateTime> {
    match when {
        When::At(moment) => Some(moment.naive_utc()),
        When::Local(local) => Some(local),
        // All of the same day.
        When::Clock(time) => Some(chrono::NaiveDate::MIN.and_time(time)),
        When::Day(_) | When::Unknown => None,
    }
}

/// Whether none comes after the one before it, and one comes before it.
fn backwards<T: PartialOrd>(all: &[T]) -> bool {
    let pairs = || all.iter().zip(all.iter().skip(1));
    pairs().all(|(a, b)| a >= b) && pairs().any(|(a, b)| a > b)
}
