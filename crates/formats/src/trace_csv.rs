//! Tables of traces: a row for each sample, with the number of its shot in the session.

use crate::trace_fields::{CHECKPOINTS, FORCES_ARE_MIXED, TRACE_FIELDS, TraceField, field_of};
use csv::StringRecord;
use tally_core::shots::trace::{
    MOST_SAMPLES, Marks, Samples, Trace, TraceChannel, evenly, of_body_weight,
};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;

/// Traces of one table, at most.
const MOST_TRACES: usize = 400;

/// The samples of one shot, as they stand in the table.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct TableTrace {
    /// The shot's number in the session, from 1.
    pub shot: usize,
    /// Line of its first sample, from 1.
    pub line: u64,
    /// Times of the samples, s.
    pub times: Vec<f64>,
    /// The channels, with nothing where a cell is empty: forces in % of body weight or in N.
    pub channels: Samples,
    /// What is marked, on the clock of the times.
    pub marks: Marks,
}

impl TableTrace {
    /// Its samples as a trace, evenly spaced and on their own clock; forces in N as shares of the
    /// weight of a body of `mass` (kg), where that is given.
    ///
    /// # Errors
    /// [`Invalid`] as [`Trace::taken`] and [`evenly`], named by shot and line.
    pub fn taken(self, mass: Option<f64>) -> Result<Trace, Invalid> {
        let named = format!("shot {} (from line {})", self.shot, self.line);
        self.into_trace(mass).map_err(|why| Invalid {
            field: format!("{named}, {}", why.field),
            ..why
        })
    }

    fn into_trace(self, mass: Option<f64>) -> Result<Trace, Invalid> {
        let from = self.times.first().copied().unwrap_or(0.0);
        let (rate_hz, mut channels) = evenly(&self.times, self.channels)?;
        if let Some(mass) = mass {
            of_body_weight(&mut channels, mass);
        }
        // A channel that the table has and this shot has not.
        channels.retain(|_, values| values.iter().any(Option::is_some));
        let checkpoints = self.marks.checkpoints.into_iter();
        let marks = Marks {
            impact_s: self.marks.impact_s.map(|at| at - from),
            checkpoints: checkpoints.map(|(of, at)| (of, at - from)).collect(),
        };
        Trace::taken(rate_hz, marks, channels)
    }
}

/// The traces of a table.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct TableTraces {
    /// Shot by shot.
    pub traces: Vec<TableTrace>,
    /// Whether forces are in N, so that the player's mass is needed.
    pub newtons: bool,
}

/// Reads a table with the columns `shot`, `time_s` or `time_ms`, one for each channel, and where
/// they are known `impact_s` and the checkpoints (`lead_arm_level_s`, `shaft_level_s`,
/// `shaft_upright_s`) on the same clock, in any row of the shot.
///
/// # Errors
/// [`Invalid`] whose field names the line and the column, for a header without a needed column
/// and for the first cell that cannot be used.
pub fn read_traces(text: &str) -> Result<TableTraces, Invalid> {
    let mut reader = csv::ReaderBuilder::new()
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let unreadable = |line: u64, why: csv::Error| {
        let remedy = "check the number of columns and the quotes";
        Invalid::new(format!("line {line}"), "", why.to_string(), remedy)
    };
    let header = reader.headers().map_err(|why| unreadable(1, why))?.clone();
    let columns = Table::of(&header)?;
    let mut told = TableTraces {
        newtons: columns.newtons,
        ..TableTraces::default()
    };
    for row in reader.records() {
        let row = row.map_err(|why| {
            let line = why.position().map_or(0, csv::Position::line);
            unreadable(line, why)
        })?;
        columns.take(&row, &mut told)?;
    }
    if told.traces.is_empty() {
        return Err(Invalid::missing("line 2", "give a row for each sample"));
    }
    Ok(told)
}

/// Writes traces with the numbers of their shots as a table that [`read_traces`] reads again:
/// marks stand in the first row of their shot.
pub fn write_traces<'a>(traces: impl Iterator<Item = (usize, &'a Trace)>) -> String {
    let mut out = String::from("shot,time_s,impact_s");
    for (name, _) in CHECKPOINTS {
        out.push(',');
        out.push_str(name);
    }
    for channel in TraceChannel::all() {
        out.push(',');
        out.push_str(field_of(channel));
    }
    out.push('\n');
    let cell = |value: Option<f64>, digits: usize| {
        value.map_or(String::new(), |value| format!("{value:.digits$}"))
    };
    for (shot, trace) in traces {
        let samples = trace.channels.values().map(Vec::len).max().unwrap_or(0);
        for i in 0..samples {
            let mut cells = vec![shot.to_string(), cell(Some(i as f64 / trace.rate_hz), 6)];
            let marked = |at: Option<f64>| cell(at.filter(|_| i == 0), 4);
            cells.push(marked(trace.marks.impact_s));
            cells.extend(
                CHECKPOINTS.map(|(_, of)| marked(trace.marks.checkpoints.get(&of).copied())),
            );
            let values = TraceChannel::all();
            cells.extend(values.map(|of| cell(trace.channels.get(&of).map(|all| all[i]), 2)));
            out.push_str(&cells.join(","));
            out.push('\n');
        }
    }
    out
}

/// Where the columns are.
struct Table {
    shot: usize,
    time: usize,
    /// What one of the time's unit is, s.
    time_size: f64,
    channels: Vec<(usize, TraceField)>,
    marks: Vec<(usize, &'static str)>,
    newtons: bool,
}

impl Table {
    fn of(header: &StringRecord) -> Result<Table, Invalid> {
        let place = |name: &str| {
            header
                .iter()
                .position(|cell| cell.eq_ignore_ascii_case(name))
        };
        let missing =
            |name: &str, remedy: &str| Invalid::missing(format!("line 1, {name}"), remedy);
        let shot = place("shot")
            .ok_or_else(|| missing("shot", "give the shot's number in the session, from 1"))?;
        let times = [("time_s", 1.0), ("time_ms", 0.001)];
        let time = times
            .into_iter()
            .find_map(|(name, size)| Some((place(name)?, size)));
        let (time, time_size) = time
            .ok_or_else(|| missing("time_s", "give the time of each sample, time_s or time_ms"))?;
        let fields = TRACE_FIELDS.into_iter();
        let channels: Vec<(usize, TraceField)> = fields
            .filter_map(|of| Some((place(of.name)?, of)))
            .collect();
        if channels.is_empty() {
            let names: Vec<&str> = TRACE_FIELDS.iter().map(|of| of.name).collect();
            let remedy = format!("give at least one of {}", names.join(", "));
            return Err(missing("channels", &remedy));
        }
        for (i, (_, one)) in channels.iter().enumerate() {
            if let Some((_, other)) = channels[..i].iter().find(|(_, o)| o.channel == one.channel) {
                let problem = format!("tells the same as {}", other.name);
                return Err(Invalid::new("line 1", one.name, problem, "give it once"));
            }
        }
        let newtons = channels.iter().any(|(_, of)| of.is_force());
        if newtons && channels.iter().any(|(_, of)| of.is_share()) {
            let [problem, remedy] = FORCES_ARE_MIXED;
            return Err(Invalid::new("line 1", "", problem, remedy));
        }
        let names = CHECKPOINTS.iter().map(|(name, _)| *name);
        let marks = names.chain(["impact_s"]);
        Ok(Table {
            shot,
            time,
            time_size,
            channels,
            marks: marks
                .filter_map(|name| Some((place(name)?, name)))
                .collect(),
            newtons,
        })
    }

    fn take(&self, row: &StringRecord, told: &mut TableTraces) -> Result<(), Invalid> {
        let line = row.position().map_or(0, csv::Position::line);
        let refuse = |place: usize, value: &str, problem: &str, remedy: &str| {
            Invalid::new(
                format!("line {line}, column {}", place + 1),
                value,
                problem,
                remedy,
            )
        };
        let number = |place: usize| -> Result<Option<f64>, Invalid> {
            let cell = row.get(place).unwrap_or_default();
            if cell.is_empty() {
                return Ok(None);
            }
            let value = cell.replace(',', ".").parse::<f64>().ok();
            let value = value.filter(|value| value.is_finite());
            value.map(Some).ok_or_else(|| {
                refuse(
                    place,
                    cell,
                    "is not a number",
                    "give a plain number such as 12.5",
                )
            })
        };
        let cell = row.get(self.shot).unwrap_or_default();
        let shot = cell.parse::<usize>().ok().filter(|n| *n > 0);
        let remedy = "give the shot's number in the session, from 1";
        let shot = shot.ok_or_else(|| refuse(self.shot, cell, "is no number of a shot", remedy))?;
        let time = number(self.time)?
            .ok_or_else(|| refuse(self.time, "", "is missing", "give the time of each sample"))?;
        let at = match told.traces.iter().rposition(|trace| trace.shot == shot) {
            Some(at) => at,
            None if told.traces.len() < MOST_TRACES => {
                told.traces.push(TableTrace {
                    shot,
                    line,
                    ..TableTrace::default()
                });
                told.traces.len() - 1
            }
            None => {
                let problem = format!("is one more than the {MOST_TRACES} that are read at once");
                return Err(refuse(self.shot, cell, &problem, "bring them in in parts"));
            }
        };
        let trace = &mut told.traces[at];
        if trace.times.len() >= MOST_SAMPLES {
            let problem = format!("has more than {MOST_SAMPLES} samples");
            return Err(refuse(
                self.shot,
                cell,
                &problem,
                "leave out what is not the swing",
            ));
        }
        trace.times.push(time * self.time_size);
        for (place, of) in &self.channels {
            let value = number(*place)?.map(|value| value * of.size);
            trace.channels.entry(of.channel).or_default().push(value);
        }
        for (place, name) in &self.marks {
            let Some(at) = number(*place)? else {
                continue;
            };
            match CHECKPOINTS.iter().find(|(known, _)| known == name) {
                Some((_, checkpoint)) => {
                    trace.marks.checkpoints.insert(*checkpoint, at);
                }
                None => trace.marks.impact_s = Some(at),
            }
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use tally_core::shots::trace::{Checkpoint, TraceChannel};

    #[test]
    fn what_is_written_is_read_again_as_it_was() {
        let wave = |by: f64| {
            (0..400)
                .map(|i| Some((f64::from(i) * by).round() / 4.0))
                .collect()
        };
        let marks = Marks {
            impact_s: Some(0.7),
            checkpoints: [(Checkpoint::ShaftLevel, 0.65)].into(),
        };
        let lead = Samples::from([
            (TraceChannel::Lead, wave(1.5)),
            (TraceChannel::Torque, wave(0.3)),
        ]);
        let both = Samples::from([(TraceChannel::Both, wave(0.7))]);
        let traces = [
            (2, Trace::taken(500.0, marks, lead).unwrap()),
            (5, Trace::taken(480.0, Marks::default(), both).unwrap()),
        ];
        let text = write_traces(traces.iter().map(|(shot, trace)| (*shot, trace)));
        let read = read_traces(&text).unwrap().traces;
        assert_eq!(read.iter().map(|t| t.shot).collect::<Vec<_>>(), [2, 5]);
        for (read, (_, trace)) in read.into_iter().zip(&traces) {
            let again = read.taken(None).unwrap();
            assert!((again.rate_hz / trace.rate_hz - 1.0).abs() < 1e-4);
            assert_eq!(
                (&again.marks, &again.channels),
                (&trace.marks, &trace.channels)
            );
        }
    }

    #[test]
    fn rows_are_samples_of_their_shots_and_marks_stand_in_any_of_them() {
        let text = "shot,time_ms,lead_n,torque_nm,impact_s,shaft_level_s\n\
                    1,0,400,1,,\n1,2,410,,0.7,0.6\n3,0,500,2,,\n1,4,\"420,5\",3,,\n";
        let told = read_traces(text).unwrap();
        assert!(told.newtons);
        let shots: Vec<(usize, u64)> = told.traces.iter().map(|t| (t.shot, t.line)).collect();
        assert_eq!(shots, [(1, 2), (3, 4)]);
        let first = &told.traces[0];
        assert_eq!(first.times, [0.0, 0.002, 0.004]);
        assert_eq!(
            first.channels[&TraceChannel::Lead],
            [Some(400.0), Some(410.0), Some(420.5)]
        );
        assert_eq!(
            first.channels[&TraceChannel::Torque],
            [Some(1.0), None, Some(3.0)]
        );
        assert_eq!(first.marks.impact_s, Some(0.7));
        assert_eq!(first.marks.checkpoints[&Checkpoint::ShaftLevel], 0.6);
    }

    #[test]
    fn a_trace_stands_on_its_own_clock_and_what_is_wrong_with_it_is_named_by_shot_and_line() {
        let rows = |from: f64| -> String {
            (0..30)
                .map(|i| format!("4,{},80\n", from + 2.0 * f64::from(i)))
                .collect()
        };
        let head = "shot,time_ms,lead_pct_bw,impact_s\n4,98,80,0.14\n";
        let told = read_traces(&format!("{head}{}", rows(100.0).replace('\n', ",\n"))).unwrap();
        let trace = told.traces[0].clone().taken(None).unwrap();
        assert!((trace.rate_hz - 500.0).abs() < 1e-6);
        assert!((trace.marks.impact_s.unwrap() - 0.042).abs() < 1e-9);
        let apart = read_traces(&format!("{head}{}", rows(400.0).replace('\n', ",\n"))).unwrap();
        let refused = apart.traces[0].clone().taken(None).unwrap_err();
        assert_eq!(refused.field, "shot 4 (from line 2), time");
    }

    #[test]
    fn what_cannot_be_read_is_named_by_line_and_column() {
        let refused = |text: &str| {
            let why = read_traces(text).unwrap_err();
            (why.field, why.problem)
        };
        assert_eq!(refused("time_s,lead_n\n").0, "line 1, shot");
        assert_eq!(refused("shot,lead_n\n").0, "line 1, time_s");
        assert_eq!(refused("shot,time_s\n").0, "line 1, channels");
        assert_eq!(refused("shot,time_s,lead_n\n").0, "line 2");
        let odd = "shot,time_s,lead_n\n1,0,400\n1,0.001,lots\n";
        assert_eq!(
            refused(odd),
            ("line 3, column 3".into(), "is not a number".into())
        );
        assert_eq!(refused("shot,time_s,lead_n\n0,0,1\n").0, "line 2, column 1");
        assert_eq!(refused("shot,time_s,lead_n\n1,,1\n").0, "line 2, column 2");
        let mixed = refused("shot,time_s,lead_n,both_pct_bw\n").1;
        assert!(mixed.contains("another unit"), "{mixed}");
        let twice = refused("shot,time_s,lead_n,lead_kg\n").1;
        assert!(twice.contains("the same as lead_n"), "{twice}");
    }
}
