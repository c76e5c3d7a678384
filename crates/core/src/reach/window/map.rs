//! Distance over launch and spin at one ball speed, with its contour lines.

use super::{Aim, MAP_LAUNCH_DEG, MAP_SPIN_RPM, Range};
use crate::physics::conditions::Conditions;
use crate::physics::flight::fly_all;
use crate::physics::launch::Launch;
use crate::physics::run::rest_all;
use crate::vocabulary::invalid::{Invalid, within};
use contour::ContourBuilder;
use geo_types::LineString;
use serde::Serialize;
use utoipa::ToSchema;

/// Points along each side of a map.
const SIDE: usize = 60;

/// Contour lines that can be told apart.
const MOST_LEVELS: f64 = 18.0;

/// A contour line: everywhere on it the ball goes equally far.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Level {
    /// How far, m.
    pub distance: f64,
    /// Its pieces; each a run of launch angle (deg) and spin rate (rpm).
    pub lines: Vec<Vec<[f64; 2]>>,
}

/// Distance over launch angle and spin rate.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Map {
    /// Launch angles shown, deg.
    pub launch_angle_deg: Range,
    /// Spin rates shown, rpm.
    pub spin_rate_rpm: Range,
    /// Contour lines, nearest first.
    pub levels: Vec<Level>,
    /// Rings about the region at or beyond `region_from`.
    pub region: Vec<Vec<[f64; 2]>>,
}

/// Draws the map of a ball speed (m/s): a line every `step` m, or every 2, 4 or 8
/// of them where they would crowd, and the region at or
/// beyond `region_from` m. Ball, air and ground are straight and calm but for the
/// wind of `conditions`.
///
/// # Errors
/// [`Invalid`] for sides or a step out of range, or outside the domain of flight.
pub fn map(
    ball_speed: f64,
    conditions: &Conditions,
    aim: Aim,
    [launch, spin]: [Range; 2],
    step: f64,
    region_from: f64,
) -> Result<Map, Invalid> {
    for (name, value) in [
        ("launch_from_deg", launch.from),
        ("launch_to_deg", launch.to),
    ] {
        within(name, value, MAP_LAUNCH_DEG, "deg")?;
    }
    for (name, value) in [("spin_from_rpm", spin.from), ("spin_to_rpm", spin.to)] {
        within(name, value, MAP_SPIN_RPM, "rpm")?;
    }
    within("level_step", step, 0.5..=100.0, "m")?;
    let distances = distances(ball_speed, conditions, aim, launch, spin)?;
    let builder = builder(launch, spin);
    let lines = builder
        .lines(&distances, &levels_of(&distances, step))
        .expect("as many values as the grid has points");
    let region = builder
        .contours(&distances, &[region_from])
        .expect("as many values as the grid has points");
    Ok(Map {
        launch_angle_deg: launch,
        spin_rate_rpm: spin,
        levels: lines
            .iter()
            .map(|level| Level {
                distance: level.threshold(),
                lines: level
                    .geometry()
                    .0
                    .iter()
                    .flat_map(|ring| within_sides(ring, launch, spin))
                    .collect(),
            })
            .filter(|level| !level.lines.is_empty())
            .collect(),
        region: region
            .iter()
            .flat_map(|contour| &contour.geometry().0)
            .map(|polygon| {
                let held = |v: f64, side: Range| v.clamp(side.from, side.to);
                let ring = polygon.exterior().0.iter();
                ring.map(|p| [held(p.x, launch), held(p.y, spin)]).collect()
            })
            .collect(),
    })
}

/// The distances that get a line: every `step`, or every 2, 4 or 8 of them.
fn levels_of(distances: &[f64], mut step: f64) -> Vec<f64> {
    let most = distances.iter().copied().fold(0.0, f64::max);
    let least = distances.iter().copied().fold(most, f64::min);
    while (most - least) / step > MOST_LEVELS {
        step *= 2.0;
    }
    ((least / step).ceil() as i64..=(most / step).floor() as i64)
        .map(|i| i as f64 * step)
        .collect()
}

/// The pieces of a ring that are contour and not the map's own edge, along which the
/// library closes its rings.
fn within_sides(ring: &LineString, launch: Range, spin: Range) -> Vec<Vec<[f64; 2]>> {
    let inside = |p: &[f64; 2]| {
        let strictly = |v: f64, side: Range| side.from < v && v < side.to;
        strictly(p[0], launch) && strictly(p[1], spin)
    };
    let points: Vec<[f64; 2]> = ring.0.iter().map(|p| [p.x, p.y]).collect();
    points
        .split(|p| !inside(p))
        .filter(|piece| piece.len() > 1)
        .map(<[_]>::to_vec)
        .collect()
}

/// Distances over the grid, row by row of spin, m.
fn distances(
    ball_speed: f64,
    conditions: &Conditions,
    aim: Aim,
    launch: Range,
    spin: Range,
) -> Result<Vec<f64>, Invalid> {
    let (air, ground) = (conditions.air()?, conditions.ground());
    ground.check()?;
    let at = |range: Range, i: usize| {
        range.from + (range.to - range.from) * i as f64 / (SIDE - 1) as f64
    };
    let launch_at = |i: usize| Launch {
        ball_speed,
        launch_angle_deg: at(launch, i % SIDE),
        launch_direction_deg: 0.0,
        spin_rate_rpm: at(spin, i / SIDE),
        spin_axis_deg: 0.0,
    };
    launch_at(0).check()?;
    let launches: Vec<Launch> = (0..SIDE * SIDE).map(launch_at).collect();
    Ok(match aim {
        Aim::Carry => {
            let flights = fly_all(&launches, &air).into_iter();
            flights.map(|flight| flight.carry).collect()
        }
        Aim::Total => {
            let runs = rest_all(&launches, &air, &ground).into_iter();
            runs.map(|(_, rest)| rest.total).collect()
        }
    })
}

fn builder(launch: Range, spin: Range) -> ContourBuilder {
    let step = |range: Range| (range.to - range.from) / (SIDE - 1) as f64;
    // The library puts a value in the middle of its cell.
    ContourBuilder::new(SIDE, SIDE, true)
        .x_origin(launch.from - 0.5 * step(launch))
        .y_origin(spin.from - 0.5 * step(spin))
        .x_step(step(launch))
        .y_step(step(spin))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::flight::fly;

    fn driver_map() -> Map {
        let launch = Range {
            from: 4.0,
            to: 24.0,
        };
        let spin = Range {
            from: 1000.0,
            to: 5000.0,
        };
        map(
            65.0,
            &Conditions::REFERENCE,
            Aim::Carry,
            [launch, spin],
            5.0,
            205.0,
        )
        .unwrap()
    }

    #[test]
    fn on_a_contour_line_the_ball_goes_as_far_as_the_line_says() {
        let map = driver_map();
        assert!(map.levels.len() > 3);
        for level in &map.levels {
            for [launch_angle_deg, spin_rate_rpm] in level.lines.iter().flatten() {
                let launch = Launch {
                    ball_speed: 65.0,
                    launch_angle_deg: *launch_angle_deg,
                    launch_direction_deg: 0.0,
                    spin_rate_rpm: *spin_rate_rpm,
                    spin_axis_deg: 0.0,
                };
                let carry = fly(&launch, &Conditions::REFERENCE).unwrap().carry;
                assert!(
                    (carry - level.distance).abs() < 0.3,
                    "{carry} {}",
                    level.distance
                );
            }
        }
    }

    #[test]
    fn sides_out_of_range_are_refused_by_name() {
        let launch = Range {
            from: -30.0,
            to: 24.0,
        };
        let spin = Range {
            from: 1000.0,
            to: 5000.0,
        };
        let refused = map(
            65.0,
            &Conditions::REFERENCE,
            Aim::Carry,
            [launch, spin],
            5.0,
            200.0,
        );
        assert_eq!(refused.unwrap_err().field, "launch_from_deg");
    }
}
