//! The flight table: launches in, the same rows with their flights added.

use crate::table::{self, Cells, Columns, Done, TableError};
use rayon::prelude::*;
use std::io::{Read, Write};
use tally_core::physics::ball_flight::BallFlight;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::Flight;
use tally_core::physics::launch::Launch;
use tally_core::physics::run::{Rest, fly_many_to_rest};
use tally_core::physics::turf::{Ground, Surface};
use tally_core::physics::wind::Wind;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::{MPH, YARD};

/// The columns of its table.
pub const COLUMNS: Columns = Columns {
    needed: &["ball_speed_mph", "launch_angle_deg", "spin_rate_rpm"],
    optional: &[
        "launch_direction_deg",
        "spin_axis_deg",
        "altitude_m",
        "temperature_c",
        "humidity_pct",
        "pressure_hpa",
        "wind_mps",
        "wind_from_deg",
        "surface",
        "firmness",
        "ball_drag",
        "ball_lift",
    ],
    added: &[
        "carry_yd",
        "side_yd",
        "apex_yd",
        "landing_angle_deg",
        "hang_time_s",
        "total_yd",
        "landing_speed_mph",
    ],
};

/// Reads launches from `input`, writes rows with flights to `output`, and tells each
/// refused row to `report`.
///
/// # Errors
/// [`TableError`] when the header is unusable or the output cannot be written.
pub fn run(
    input: impl Read + Send,
    output: impl Write,
    report: impl FnMut(&TableError),
) -> Result<Done, TableError> {
    table::run(&COLUMNS, input, output, report, flown)
}

/// The flights of many rows, those in the same conditions together.
fn flown(rows: &[Cells<'_>]) -> Vec<Result<[f64; 7], Invalid>> {
    let described: Vec<_> = rows
        .par_chunks(256)
        .flat_map_iter(|rows| {
            // Most rows are of the same day as the one before.
            let mut checked = None;
            rows.iter().map(move |cells| described(cells, &mut checked))
        })
        .collect();
    let mut answers = Vec::with_capacity(rows.len());
    let alike = |a: &Described, b: &Described| match (a, b) {
        (Ok((_, here)), Ok((_, there))) => here == there,
        (Err(_), Err(_)) => true,
        _ => false,
    };
    for group in described.chunk_by(alike) {
        let Some(Ok((_, conditions))) = group.first() else {
            answers.extend(group.iter().map(|row| match row {
                Ok(_) => unreachable!("rows that fly stand apart from those that do not"),
                Err(why) => Err(why.clone()),
            }));
            continue;
        };
        let launches: Vec<Launch> = group.iter().flatten().map(|(launch, _)| *launch).collect();
        match fly_many_to_rest(&launches, conditions) {
            Ok(runs) => answers.extend(runs.iter().map(|(flight, rest)| Ok(figures(flight, rest)))),
            Err(why) => answers.extend(group.iter().map(|_| Err(why.clone()))),
        }
    }
    answers
}

type Described = Result<(Launch, Conditions), Invalid>;

/// The launch and the day of a row; `checked` is the last day that was found to be one.
fn described(cells: &Cells<'_>, checked: &mut Option<Conditions>) -> Described {
    let launch = Launch {
        ball_speed: cells.mph("ball_speed_mph", 12.0..=246.0)?,
        launch_angle_deg: cells.number("launch_angle_deg")?,
        spin_rate_rpm: cells.number("spin_rate_rpm")?,
        launch_direction_deg: cells.optional("launch_direction_deg")?.unwrap_or(0.0),
        spin_axis_deg: cells.optional("spin_axis_deg")?.unwrap_or(0.0),
    };
    let conditions = conditions(cells)?;
    launch.check()?;
    if *checked != Some(conditions) {
        conditions.ground().check()?;
        conditions.air()?;
        *checked = Some(conditions);
    }
    Ok((launch, conditions))
}

fn figures(flight: &Flight, rest: &Rest) -> [f64; 7] {
    [
        flight.carry / YARD,
        flight.side / YARD,
        flight.apex / YARD,
        flight.landing_angle_deg,
        flight.hang_time,
        rest.total / YARD,
        flight.landing_speed / MPH,
    ]
}

fn conditions(cells: &Cells<'_>) -> Result<Conditions, Invalid> {
    let usual = Conditions::REFERENCE;
    Ok(Conditions {
        altitude_m: cells.optional("altitude_m")?.unwrap_or(usual.altitude_m),
        temperature_c: cells
            .optional("temperature_c")?
            .unwrap_or(usual.temperature_c),
        // A ball speed has the ball's warmth in it already.
        ball_temperature_c: None,
        ball_flight: ball_flight(cells)?,
        humidity_pct: cells
            .optional("humidity_pct")?
            .unwrap_or(usual.humidity_pct),
        pressure_hpa: cells.optional("pressure_hpa")?,
        wind: wind(cells)?,
        ground: ground(cells)?,
    })
}

fn ball_flight(cells: &Cells<'_>) -> Result<Option<BallFlight>, Invalid> {
    let (drag, lift) = (cells.optional("ball_drag")?, cells.optional("ball_lift")?);
    Ok((drag.is_some() || lift.is_some()).then_some(BallFlight {
        drag: drag.unwrap_or(BallFlight::FULL.drag),
        lift: lift.unwrap_or(BallFlight::FULL.lift),
    }))
}

fn wind(cells: &Cells<'_>) -> Result<Option<Wind>, Invalid> {
    let from = cells.optional("wind_from_deg")?;
    match cells.optional("wind_mps")? {
        None | Some(0.0) => Ok(None),
        Some(speed_mps) => {
            let from_deg = from.ok_or_else(|| {
                Invalid::missing(
                    "wind_from_deg",
                    "a wind needs where it comes from: 0 against, 90 from the right, 180 from behind",
                )
            })?;
            Ok(Some(Wind {
                speed_mps,
                from_deg,
            }))
        }
    }
}

fn ground(cells: &Cells<'_>) -> Result<Option<Ground>, Invalid> {
    let surface = cells
        .text("surface")
        .map(|word| Surface::from_key("surface", word))
        .transpose()?;
    let remedy = "give 0 (soft) to 1 (hard), or soft, average, firm or hard";
    match (cells.text("firmness"), surface) {
        (None, None) => Ok(None),
        (None, Some(_)) => Err(Invalid::missing("firmness", remedy)),
        (Some(cell), surface) => {
            let firmness = match cell.to_lowercase().as_str() {
                "soft" => 0.0,
                "average" => 0.5,
                "firm" => 0.75,
                "hard" => 1.0,
                _ => cell
                    .parse()
                    .map_err(|_| Invalid::new("firmness", cell, "is no firmness", remedy))?,
            };
            Ok(Some(Ground {
                surface: surface.unwrap_or(Surface::Fairway),
                firmness,
            }))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn flown(input: &str) -> (String, Vec<String>, Done) {
        let mut output = Vec::new();
        let mut reports = Vec::new();
        let done = run(input.as_bytes(), &mut output, |r| {
            reports.push(r.to_string())
        })
        .unwrap();
        (String::from_utf8(output).unwrap(), reports, done)
    }

    #[test]
    fn rows_come_back_with_their_flights_and_other_columns_untouched() {
        let (output, reports, done) = flown(
            "note,ball_speed_mph,launch_angle_deg,spin_rate_rpm\n\"driver, high\",150,12,2600\nwedge,86,28,9000\n",
        );
        assert_eq!((reports.len(), done), (0, Done { good: 2, bad: 0 }));
        let lines: Vec<&str> = output.lines().collect();
        assert_eq!(
            lines[0],
            "note,ball_speed_mph,launch_angle_deg,spin_rate_rpm,carry_yd,side_yd,apex_yd,\
             landing_angle_deg,hang_time_s,total_yd,landing_speed_mph"
        );
        // The last digit is the machine's: lanes round otherwise than a flight alone.
        for (line, own, figures) in [
            (
                1,
                "\"driver, high\",150,12,2600,",
                [239.9, 0.0, 28.2, 37.0, 6.3, 257.5, 60.4],
            ),
            (
                2,
                "wedge,86,28,9000,",
                [105.6, 0.0, 25.5, 50.5, 5.1, 108.5, 47.2],
            ),
        ] {
            let told = lines[line]
                .strip_prefix(own)
                .expect("its own columns first");
            let told: Vec<f64> = told.split(',').map(|cell| cell.parse().unwrap()).collect();
            assert_eq!(told.len(), figures.len(), "{told:?}");
            let off = told.iter().zip(figures).map(|(a, b)| (a - b).abs());
            assert!(off.fold(0.0, f64::max) < 0.11, "{told:?}");
        }
    }

    #[test]
    fn a_bad_row_is_told_by_line_and_column_and_good_rows_are_still_written() {
        let (output, reports, done) = flown(
            "ball_speed_mph,launch_angle_deg,spin_rate_rpm,altitude_m\n150,12,2600,\n150,twelve,2600,0\n150,12,2600,99999\n150,12\n120,15,5000,1140\n",
        );
        assert_eq!(done, Done { good: 2, bad: 3 });
        assert_eq!(output.lines().count(), 3);
        insta::assert_snapshot!(reports.join("\n"), @r#"
        line 3, column 2 (launch_angle_deg): launch_angle_deg: "twelve" is not a number; give a plain number such as 12.5
        line 4, column 4 (altitude_m): altitude_m: "99999" is out of range; give a number from -450 to 5000 m
        line 5: CSV error: record 4 (line: 5, byte: 106): found record with 2 fields, but the previous record has 4 fields; check the number of columns and the quotes
        "#);
    }

    #[test]
    fn each_row_is_flown_in_its_own_air() {
        let (output, _, done) = flown(
            "ball_speed_mph,launch_angle_deg,spin_rate_rpm,altitude_m,temperature_c\n160,12,2600,0,25\n160,12,2600,2000,25\n160,12,2600,0,-5\n",
        );
        assert_eq!(done.good, 3);
        let carry: Vec<f64> = output
            .lines()
            .skip(1)
            .map(|line| line.split(',').nth(5).unwrap().parse().unwrap())
            .collect();
        assert!(carry[1] > carry[0] && carry[2] < carry[0], "{carry:?}");
    }

    #[test]
    fn a_right_tilted_axis_ends_right_and_is_written_positive() {
        let (output, _, _) = flown(
            "ball_speed_mph,launch_angle_deg,spin_rate_rpm,spin_axis_deg\n150,12,2600,10\n150,12,2600,-10\n",
        );
        let sides: Vec<f64> = output
            .lines()
            .skip(1)
            .map(|line| line.split(',').nth(5).unwrap().parse().unwrap())
            .collect();
        assert!(sides[0] > 5.0);
        assert_eq!(sides[0], -sides[1]);
    }

    /// The added cells of one row, by the row's own columns.
    fn one(header: &str, row: &str) -> Vec<f64> {
        let (output, reports, _) = flown(&format!("{header}\n{row}\n"));
        assert!(reports.is_empty(), "{reports:?}");
        let line = output.lines().nth(1).unwrap();
        let cells: Vec<f64> = line
            .split(',')
            .map(|c| c.parse().unwrap_or(f64::NAN))
            .collect();
        cells[cells.len() - 7..].to_vec()
    }

    fn refused(header: &str, row: &str) -> String {
        let (_, reports, done) = flown(&format!("{header}\n{row}\n"));
        assert_eq!(done.good, 0);
        reports[0].clone()
    }

    #[test]
    fn wind_pressure_and_ground_are_read() {
        let header = "ball_speed_mph,launch_angle_deg,spin_rate_rpm,wind_mps,wind_from_deg,pressure_hpa,firmness";
        let calm = one(header, "150,12,2600,,,,");
        let against = one(header, "150,12,2600,5,0,,");
        let behind = one(header, "150,12,2600,5,180,,");
        assert!(against[0] < calm[0] - 5.0 && behind[0] > calm[0] + 5.0);
        assert!(one(header, "150,12,2600,,,850,")[0] > calm[0]);
        let (soft, hard) = (
            one(header, "150,12,2600,,,,soft"),
            one(header, "150,12,2600,,,,1"),
        );
        assert!(soft[5] < calm[5] && calm[5] < hard[5]);
        assert_eq!(soft[0], hard[0]);
    }

    #[test]
    fn a_wind_from_nowhere_and_a_ground_without_firmness_are_refused() {
        let bare = "ball_speed_mph,launch_angle_deg,spin_rate_rpm";
        let told = refused(&format!("{bare},wind_mps,wind_from_deg"), "150,12,2600,5,");
        assert!(
            told.contains("column 5 (wind_from_deg)") && told.contains("0 against"),
            "{told}"
        );
        let told = refused(&format!("{bare},surface,firmness"), "150,12,2600,green,");
        assert!(told.contains("(firmness)"), "{told}");
        let told = refused(&format!("{bare},firmness"), "150,12,2600,boggy");
        assert!(told.contains("boggy"), "{told}");
        let told = refused(&format!("{bare},firmness"), "150,12,2600,7");
        assert!(told.contains("0 to 1"), "{told}");
    }

    #[test]
    fn a_speed_out_of_range_is_told_in_its_own_unit() {
        let told = refused(
            "ball_speed_mph,launch_angle_deg,spin_rate_rpm",
            "300,12,2600",
        );
        assert!(
            told.contains("\"300\"") && told.contains("12 to 246 mph"),
            "{told}"
        );
    }

    proptest::proptest! {
        #[test]
        fn no_table_whatever_makes_it_panic(rows in "[0-9a-z,.\"\n -]{0,300}") {
            let table = format!("ball_speed_mph,launch_angle_deg,spin_rate_rpm\n{rows}");
            let _ = run(table.as_bytes(), Vec::new(), |_| ());
        }
    }
}
