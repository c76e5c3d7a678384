//! The flight table: launches in, the same rows with their flights added.
//!
//! Rows stream through one at a time. A bad row is reported by line and column and
//! left out; the good ones are written.

use csv::{ReaderBuilder, StringRecord, Writer};
use std::io::{Read, Write};
use tally_core::air::Conditions;
use tally_core::flight::{Flight, Launch, fly};
use tally_core::invalid::Invalid;
use tally_core::units::{MPH, YARD};

/// Columns that must be there.
const NEEDED: [&str; 3] = ["ball_speed_mph", "launch_angle_deg", "spin_rate_rpm"];
/// Columns that may be there.
const OPTIONAL: [&str; 4] = [
    "launch_direction_deg",
    "spin_axis_deg",
    "altitude_m",
    "temperature_c",
];
/// Columns that are added.
const ADDED: [&str; 5] = [
    "carry_yd",
    "side_yd",
    "apex_yd",
    "landing_angle_deg",
    "hang_time_s",
];

/// Why a table, or a row of it, could not be used.
#[derive(Debug, thiserror::Error)]
pub enum FlightCsvError {
    /// The header lacks a column.
    #[error("line 1: there is no column {0:?}; the header needs {needed}", needed = NEEDED.join(", "))]
    NoColumn(&'static str),
    /// The header has a column twice, or one that would be added.
    #[error("line 1: column {0:?} {1}")]
    Column(String, &'static str),
    /// A row was refused.
    #[error("line {line}, column {column} ({name}): {why}")]
    Row {
        /// Line of the file, from 1.
        line: u64,
        /// Column of the row, from 1.
        column: usize,
        /// The column's name.
        name: String,
        /// What is wrong.
        why: Box<Invalid>,
    },
    /// The text is not CSV, or could not be read.
    #[error("line {line}: {source}; check the number of columns and the quotes")]
    Text {
        /// Line of the file, from 1.
        line: u64,
        /// The reader's own words.
        source: csv::Error,
    },
    /// The result could not be written.
    #[error("cannot write the result: {0}")]
    Write(#[from] csv::Error),
}

/// What became of the rows.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Done {
    /// Rows written.
    pub good: u64,
    /// Rows refused.
    pub bad: u64,
}

/// Reads launches from `input`, writes rows with flights to `output`, and tells each
/// refused row to `report`.
///
/// # Errors
/// [`FlightCsvError`] when the header is unusable or the output cannot be written.
pub fn run(
    input: impl Read,
    output: impl Write,
    mut report: impl FnMut(&FlightCsvError),
) -> Result<Done, FlightCsvError> {
    let mut reader = ReaderBuilder::new().from_reader(input);
    let header = reader
        .headers()
        .map_err(|source| FlightCsvError::Text { line: 1, source })?
        .clone();
    let columns = Columns::find(&header)?;
    let mut writer = Writer::from_writer(output);
    writer.write_record(header.iter().chain(ADDED))?;

    let mut done = Done::default();
    let mut row = StringRecord::new();
    loop {
        match reader.read_record(&mut row) {
            Ok(false) => break,
            Ok(true) => match columns.fly(&row) {
                Ok(flight) => {
                    done.good += 1;
                    let added = added(&flight);
                    writer.write_record(row.iter().chain(added.iter().map(String::as_str)))?;
                }
                Err(refused) => {
                    done.bad += 1;
                    report(&refused);
                }
            },
            Err(source) => {
                done.bad += 1;
                let line = source.position().map_or(0, csv::Position::line);
                let fatal = matches!(source.kind(), csv::ErrorKind::Io(_));
                report(&FlightCsvError::Text { line, source });
                if fatal {
                    break;
                }
            }
        }
    }
    writer.flush().map_err(csv::Error::from)?;
    Ok(done)
}

fn added(flight: &Flight) -> [String; 5] {
    [
        flight.carry / YARD,
        flight.side / YARD,
        flight.apex / YARD,
        flight.landing_angle_deg,
        flight.hang_time,
    ]
    // Adding zero turns a rounded −0 into 0.
    .map(|value| format!("{:.2}", (value * 100.0).round() / 100.0 + 0.0))
}

/// Where each known column stands in the header.
struct Columns {
    needed: [usize; 3],
    optional: [Option<usize>; 4],
}

impl Columns {
    fn find(header: &StringRecord) -> Result<Self, FlightCsvError> {
        let clean = |name: &str| name.trim_start_matches('\u{feff}').trim().to_owned();
        let names: Vec<String> = header.iter().map(clean).collect();
        let place = |name: &str| names.iter().position(|n| n == name);
        for known in NEEDED.iter().chain(&OPTIONAL) {
            if names.iter().filter(|n| n == known).count() > 1 {
                return Err(FlightCsvError::Column(
                    (*known).to_owned(),
                    "stands twice; keep one",
                ));
            }
        }
        if let Some(taken) = ADDED.iter().find(|a| place(a).is_some()) {
            return Err(FlightCsvError::Column(
                (*taken).to_owned(),
                "would be added by this command; rename it",
            ));
        }
        let mut needed = [0; 3];
        for (slot, name) in needed.iter_mut().zip(NEEDED) {
            *slot = place(name).ok_or(FlightCsvError::NoColumn(name))?;
        }
        Ok(Self {
            needed,
            optional: OPTIONAL.map(place),
        })
    }

    fn fly(&self, row: &StringRecord) -> Result<Flight, FlightCsvError> {
        let refuse = |column: usize, name: &str, why: Invalid| FlightCsvError::Row {
            line: row.position().map_or(0, csv::Position::line),
            column: column + 1,
            name: name.to_owned(),
            why: Box::new(why),
        };
        let number = |column: usize, name: &str| -> Result<f64, FlightCsvError> {
            let cell = row.get(column).unwrap_or_default().trim();
            cell.parse().map_err(|_| {
                let why = Invalid::new(
                    name,
                    cell,
                    "is not a number",
                    "give a plain number such as 12.5",
                );
                refuse(column, name, why)
            })
        };
        // An empty optional cell means the default, as an absent column does.
        let optional = |i: usize, default: f64| match self.optional[i] {
            Some(column) if !row.get(column).unwrap_or_default().trim().is_empty() => {
                number(column, OPTIONAL[i])
            }
            _ => Ok(default),
        };
        let [ball_speed, launch_angle, spin] = self.needed;
        let launch = Launch {
            ball_speed: number(ball_speed, NEEDED[0])? * MPH,
            launch_angle_deg: number(launch_angle, NEEDED[1])?,
            spin_rate_rpm: number(spin, NEEDED[2])?,
            launch_direction_deg: optional(0, 0.0)?,
            spin_axis_deg: optional(1, 0.0)?,
        };
        let conditions = Conditions {
            altitude_m: optional(2, Conditions::REFERENCE.altitude_m)?,
            temperature_c: optional(3, Conditions::REFERENCE.temperature_c)?,
            ..Conditions::REFERENCE
        };
        fly(&launch, &conditions).map_err(|why| {
            let name = if why.field == "ball_speed" {
                NEEDED[0]
            } else {
                &why.field
            };
            let place = NEEDED
                .iter()
                .position(|n| *n == name)
                .map(|i| self.needed[i])
                .or_else(|| {
                    OPTIONAL
                        .iter()
                        .position(|n| *n == name)
                        .and_then(|i| self.optional[i])
                });
            refuse(place.unwrap_or(0), name, why.clone())
        })
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
        insta::assert_snapshot!(output, @r#"
        note,ball_speed_mph,launch_angle_deg,spin_rate_rpm,carry_yd,side_yd,apex_yd,landing_angle_deg,hang_time_s
        "driver, high",150,12,2600,239.18,0.00,27.92,37.61,6.21
        wedge,86,28,9000,103.56,0.00,24.94,52.55,5.01
        "#);
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
    fn a_missing_or_doubled_column_is_named() {
        let table = |header: &str| {
            run(header.as_bytes(), Vec::new(), |_| ())
                .unwrap_err()
                .to_string()
        };
        assert!(table("ball_speed_mph,spin_rate_rpm\n").contains("launch_angle_deg"));
        assert!(
            table("ball_speed_mph,ball_speed_mph,launch_angle_deg,spin_rate_rpm\n")
                .contains("twice")
        );
        assert!(
            table("carry_yd,ball_speed_mph,launch_angle_deg,spin_rate_rpm\n").contains("rename")
        );
        assert!(table("").contains("ball_speed_mph"));
    }

    #[test]
    fn a_byte_order_mark_does_not_hide_the_first_column() {
        let (_, _, done) =
            flown("\u{feff}ball_speed_mph,launch_angle_deg,spin_rate_rpm\n150,12,2600\n");
        assert_eq!(done.good, 1);
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

    proptest::proptest! {
        #[test]
        fn no_table_whatever_makes_it_panic(rows in "[0-9a-z,.\"\n -]{0,300}") {
            let table = format!("ball_speed_mph,launch_angle_deg,spin_rate_rpm\n{rows}");
            let _ = run(table.as_bytes(), Vec::new(), |_| ());
        }
    }
}
