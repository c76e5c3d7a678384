//! The units of columns whose unit nobody tells: which their numbers may be in.

use super::grid::{Grid, told};
use super::layout::{ColumnUse, Layout};
use super::line::Line;
use super::names::{Says, says};
use super::numbers::number;
use super::terms::names_units;
use super::{cells, clubs, units};
use std::collections::BTreeSet;
use tally_core::physics::club::Club;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Dimension, Unit};

/// Columns of one kind whose unit nobody tells.
pub struct UnitGroup {
    /// Key of the question about them.
    pub key: String,
    /// Their places.
    pub columns: Vec<usize>,
    /// Units that the numbers may be in, the likeliest first.
    pub candidates: Vec<Unit>,
    /// Whether it is asked even where there is but one.
    pub always: bool,
}

/// A column in another unit: a force whole or by the body as the unit has it.
pub fn in_unit(column: ColumnUse, unit: Unit) -> ColumnUse {
    let ColumnUse::Value { quantity, .. } = column else {
        return column;
    };
    if quantity.dimension().accepted().contains(&unit) {
        return ColumnUse::value(quantity, unit);
    }
    let by_body = super::names::by_body(quantity);
    let other = quantity.whole().or(by_body).unwrap_or(quantity);
    ColumnUse::value(other, unit)
}

/// Gives the columns whose unit nobody tells the likeliest one.
pub fn likely_units(layout: &mut Layout, grid: &Grid) {
    // Speeds first: what distances are likely in goes by them.
    for _ in 0..2 {
        let rows = grid.shots(layout);
        let groups = unit_groups(grid, layout, &rows);
        for group in groups {
            let Some(unit) = group.candidates.first() else {
                continue;
            };
            for i in group.columns {
                layout.columns[i] = in_unit(layout.columns[i], *unit);
            }
        }
    }
}

/// The values whose unit a column tells row by row, where it is named for units and holds nothing
/// else: the one that its name says, or that stands before it where there are several such
/// columns; else all that have none in their names and may be measured so.
pub fn told_by(layout: &Layout, names: &[&str], at: usize, cells: &[&str]) -> Vec<Quantity> {
    let free = matches!(
        layout.columns[at],
        ColumnUse::Unused | ColumnUse::Units { .. }
    );
    let named = names.get(at).and_then(|name| names_units(name));
    let Some(of) = named.filter(|_| free && !cells.is_empty()) else {
        return Vec::new();
    };
    let silent = |i: usize| match (layout.columns[i], says(names.get(i).unwrap_or(&""), None)) {
        (ColumnUse::Value { quantity, .. }, Says::WithoutUnit(_) | Says::Either(_, None)) => {
            let fits = |cell: &&str| units::unit_named(quantity.dimension(), cell).is_some();
            cells.iter().all(fits).then_some((i, quantity))
        }
        _ => None,
    };
    let silent: Vec<(usize, Quantity)> = (0..layout.columns.len()).filter_map(silent).collect();
    let several = names.iter().filter(|name| names_units(name).is_some());
    let several = several.count() > 1;
    let meant = says(&of, None);
    let is_meant = |(i, quantity): &(usize, Quantity)| match &meant {
        Says::WithoutUnit(said) => said == quantity,
        Says::Either(two, _) => two.contains(quantity),
        _ if several => i + 1 == at,
        _ => true,
    };
    let told = silent.into_iter().filter(is_meant);
    told.map(|(_, quantity)| quantity).collect()
}

/// A column with a number for its size.
struct Sized {
    column: usize,
    quantity: Quantity,
    /// The unit that the file tells.
    unit: Option<Unit>,
    /// The one that it is taken for.
    taken: Unit,
    median: f64,
}

/// Columns whose unit nobody tells, kind by kind, with the units that they may be in.
pub fn unit_groups(grid: &Grid, layout: &Layout, rows: &[&Line]) -> Vec<UnitGroup> {
    let header = grid.named(layout);
    let header = header.as_ref();
    let units = grid.units(layout).map(|line| &line.cells);
    let mut sized = Vec::new();
    for (i, column) in layout.columns.iter().enumerate() {
        let ColumnUse::Value { quantity, unit } = *column else {
            continue;
        };
        let name = header.and_then(|cells| cells.get(i)).unwrap_or("");
        let silent = matches!(
            says(name, units.and_then(|cells| cells.get(i))),
            Says::WithoutUnit(_) | Says::Either(_, None)
        );
        let numbers: Vec<(f64, &str)> = told(rows, i)
            .into_iter()
            .filter_map(|cell| {
                let bare = cell.trim_matches(['*', '~', ' ']);
                let (bare, _) = cells::without_direction(quantity, bare, true);
                number(bare, cells::marks(quantity))
            })
            .collect();
        // One letter may be a side.
        let tells = |behind: &str| {
            behind.chars().count() > 1 || units::unit_named(quantity.dimension(), behind).is_some()
        };
        let by_themselves = !numbers.is_empty() && numbers.iter().all(|(_, behind)| tells(behind));
        if let Some(median) = median(numbers.iter().map(|(value, _)| *value)) {
            sized.push(Sized {
                column: i,
                quantity,
                unit: (!silent || by_themselves || layout.units_of(quantity).is_some())
                    .then_some(unit),
                taken: unit,
                median,
            });
        }
    }
    let club = only_club(layout, rows);
    let mut groups = Vec::new();
    for (kind, dimensions) in [
        ("speeds", &[Dimension::Speed][..]),
        ("distances", &[Dimension::Distance]),
        ("heights", &[Dimension::Height]),
        ("offsets", &[Dimension::FaceOffset]),
        ("forces", &[Dimension::BodyWeight, Dimension::Force]),
        ("torques", &[Dimension::TorquePerMass, Dimension::Torque]),
    ] {
        let of = |one: &&Sized| dimensions.contains(&one.quantity.dimension());
        let silent: Vec<&Sized> = sized
            .iter()
            .filter(of)
            .filter(|one| one.unit.is_none())
            .collect();
        if silent.is_empty() {
            continue;
        }
        let candidates = match kind {
            "speeds" => speed_units(&silent, &sized, club),
            "distances" => distance_units(&silent, &sized),
            "heights" => height_units(&silent, &sized),
            "offsets" => vec![Unit::Mm],
            "forces" => vec![Unit::PctBw, Unit::N, Unit::Kg, Unit::Lb],
            _ => vec![Unit::NmPerKg, Unit::Nm],
        };
        groups.push(UnitGroup {
            key: format!("unit:{kind}"),
            columns: silent.iter().map(|one| one.column).collect(),
            candidates,
            always: kind == "offsets",
        });
    }
    groups
}

fn only_club(layout: &Layout, rows: &[&Line]) -> Option<Club> {
    let at = layout
        .columns
        .iter()
        .position(|column| *column == ColumnUse::Club)?;
    let named: BTreeSet<&str> = told(rows, at).into_iter().collect();
    let clubs: Vec<Option<Club>> = named.into_iter().map(clubs::club).collect();
    match clubs[..] {
        [one] => one,
        _ => None,
    }
}

/// Carry over ball speed, s, of sound shots at a ball speed, m/s: what a flight through air
/// gives between a chip and a long drive, within a fifth.
pub fn flight_share(ball_speed: f64) -> f64 {
    0.55 + 0.0425 * ball_speed
}
/// How far, as a logarithm, a shot may be from that and still be believed.
const NEAR: f64 = 0.36;

fn speed_units(silent: &[&Sized], all: &[Sized], club: Option<Club>) -> Vec<Unit> {
    let carry = all.iter().find(|one| one.quantity == Quantity::Carry);
    let likely = |unit: Unit| -> Option<f64> {
        let mut off = 0.0;
        for one in silent {
            let speed = unit.to_internal(one.median);
            let (range, typical) = match one.quantity {
                Quantity::BallSpeed => (12.0..92.0, 58.0),
                Quantity::HandSpeed => (2.5..16.0, 9.0),
                _ => (9.0..66.0, 41.0),
            };
            if !range.contains(&speed) {
                return None;
            }
            if let (Some(club), Quantity::ClubSpeed) = (club, one.quantity) {
                let share = speed / club.reference_club_speed();
                if !(0.4..1.35).contains(&share) {
                    return None;
                }
            }
            off += (speed / typical).ln().abs();
            let ball = match one.quantity {
                Quantity::BallSpeed => speed,
                Quantity::ClubSpeed => speed * 1.36,
                _ => continue,
            };
            if let Some(carry) = carry {
                let metres = carry.unit.map_or_else(
                    // Between yards and metres.
                    || carry.median * 0.955,
                    |unit| unit.to_internal(carry.median),
                );
                let apart = (metres / ball / flight_share(ball)).ln().abs();
                if apart > NEAR {
                    return None;
                }
                off = apart;
            }
        }
        Some(off)
    };
    let mut found: Vec<(Unit, f64)> = [Unit::Mph, Unit::Kmh, Unit::Mps]
        .into_iter()
        .filter_map(|unit| Some((unit, likely(unit)?)))
        .collect();
    found.sort_by(|a, b| a.1.total_cmp(&b.1));
    let found: Vec<Unit> = found.into_iter().map(|(unit, _)| unit).collect();
    if found.is_empty() {
        return vec![Unit::Mph, Unit::Kmh, Unit::Mps];
    }
    found
}

fn in_miles(all: &[Sized]) -> bool {
    let speed = all
        .iter()
        .find(|one| one.quantity.dimension() == Dimension::Speed);
    speed.is_none_or(|one| one.taken == Unit::Mph)
}

fn distance_units(silent: &[&Sized], all: &[Sized]) -> Vec<Unit> {
    let sides = if in_miles(all) {
        [Unit::Yd, Unit::M, Unit::Ft]
    } else {
        [Unit::M, Unit::Yd, Unit::Ft]
    };
    let ball = all.iter().find_map(|one| match (one.quantity, one.unit) {
        (Quantity::BallSpeed, Some(unit)) => Some(unit.to_internal(one.median)),
        (Quantity::ClubSpeed, Some(unit)) => Some(unit.to_internal(one.median) * 1.36),
        _ => None,
    });
    let fits = |unit: &Unit| {
        silent.iter().all(|one| {
            let metres = unit.to_internal(one.median);
            match (one.quantity, ball) {
                (Quantity::Carry, Some(ball)) => {
                    (metres / ball / flight_share(ball)).ln().abs() < NEAR + 0.15
                }
                (Quantity::Carry | Quantity::Total, _) => (3.0..380.0).contains(&metres),
                _ => metres < 120.0,
            }
        })
    };
    // Feet are told by being far too many; without a speed beside them they are not asked for.
    let found: Vec<Unit> = sides
        .into_iter()
        .filter(|unit| {
            fits(unit)
                && (*unit != Unit::Ft
                    || ball.is_some()
                    || silent.iter().any(|one| one.median > 400.0))
        })
        .collect();
    if found.is_empty() {
        sides.to_vec()
    } else {
        found
    }
}

fn height_units(silent: &[&Sized], all: &[Sized]) -> Vec<Unit> {
    let order = if in_miles(all) {
        [Unit::Ft, Unit::Yd, Unit::M]
    } else {
        [Unit::M, Unit::Ft, Unit::Yd]
    };
    let fits = |unit: &Unit| {
        silent
            .iter()
            .all(|one| (1.5..62.0).contains(&unit.to_internal(one.median)))
    };
    let found: Vec<Unit> = order.into_iter().filter(fits).collect();
    if found.is_empty() {
        order.to_vec()
    } else {
        found
    }
}

fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut values: Vec<f64> = values.map(f64::abs).collect();
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}
