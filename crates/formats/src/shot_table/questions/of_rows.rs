//! Questions about the rows: whose they are, of which day, with which club, and whether they count.

use super::super::clubs;
use super::super::dates as days;
use super::super::grid::heading;
use super::super::layout::{Alike, ColumnUse, DateStyle, DaysWritten, Layout};
use super::super::likely::flight_share;
use super::super::line::Line;
use super::super::names::{Says, is_foreign};
use super::super::numbers::{Marks, is_nothing, number};
use super::super::order::{self, Back};
use super::super::rows::Rows;
use super::super::{ImportedShot, cells};
use super::{Asked, Question, choice};
use chrono::{Datelike, Days, NaiveTime};
use serde_json::json;
use std::collections::{BTreeSet, HashMap};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::shots::doubt::doubts;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Units;

/// Ball speed over club speed below which few shots of any club are.
const SLOWEST_BALL: f64 = 0.75;
/// Club speed, m/s, over which a file's unit is asked for: 141 mph, where only long drivers swing.
const FASTEST_CLUB: f64 = 63.0;
/// Spin, rpm, that a ball that carries [`FLIES`], m, has at least.
const LEAST_SPIN: f64 = 200.0;
const FLIES: f64 = 60.0;
/// Carry over what sound shots of a ball speed fly that no height or wind gives, and ball speed
/// over club speed that no club does.
const TOO_FAR: f64 = 1.45;
const MOST_SMASH: f64 = 1.56;
/// Total over carry below which few balls spin back, and of a driver none.
const LEAST_TOTAL: f64 = 0.9;
const LEAST_TOTAL_OF_DRIVER: f64 = 0.99;
/// Launch angle, degrees, below which nothing carries [`FLIES_FAR`], m.
const LEAST_LAUNCH: f64 = 2.0;
const FLIES_FAR: f64 = 180.0;
/// What some programs write for a spin that was not measured.
const NO_SPIN: f64 = 9999.0;
/// Until when, after the first shot at 0:00, times may be of a clock that was started then.
const LONGEST_LESSON: NaiveTime = NaiveTime::from_hms_opt(6, 0, 0).unwrap();
/// A year that has every day.
const LEAP_YEAR: i32 = 2024;
/// Names of clubs that are asked for at a time.
const CLUBS_ASKED: usize = 30;

impl Asked<'_> {
    pub(super) fn players(&self) -> Option<Question> {
        let at = self.column(ColumnUse::Player)?;
        let names: BTreeSet<&str> = self.told(at).into_iter().collect();
        let asks = format!(
            "{} names {} players. Whose shots are whose?",
            self.name(at),
            names.len()
        );
        let cells = names
            .iter()
            .take(6)
            .map(|name| (*name).to_owned())
            .collect();
        let mut question = self.ask("players", asks, cells, Vec::new());
        question.open = self.layout.only.is_none();
        (names.len() > 1).then_some(question)
    }

    pub(super) fn dates(&self) -> Vec<Question> {
        let Some(at) = self.column(ColumnUse::Date) else {
            return Vec::new();
        };
        let told = self.told(at);
        let mut styles = days::styles(&told, self.layout.year, self.today);
        let taken = self.layout.dates;
        let of = |cell: &str, style: DateStyle| {
            let year = self.layout.year;
            days::fits(cell, DaysWritten { style, year })
        };
        let as_taken =
            |style: &DateStyle| told.iter().all(|cell| of(cell, *style) == of(cell, taken));
        // An order that an earlier file or a person gave, and that these cells speak against,
        // is a question of its own.
        let key = if styles.iter().any(as_taken) {
            "dates".to_owned()
        } else {
            styles.push(taken);
            format!("dates:{}", json!(taken).as_str().unwrap_or_default())
        };
        let differs = |cell: &&&str| {
            let mut read = styles.iter().map(|style| of(cell, *style));
            let first = read.next();
            read.any(|day| Some(day) != first)
        };
        let mut all = Vec::new();
        if let Some(cell) = told.iter().find(differs) {
            let choices = styles.iter().filter_map(|style| {
                let day = of(cell, *style)?;
                Some(choice(
                    day.format("%-d %B %Y").to_string(),
                    "dates",
                    json!(style),
                ))
            });
            let asks = format!(
                "{} can be read in more than one way. Which day is {cell}?",
                self.name(at)
            );
            all.push(self.ask(&key, asks, vec![(*cell).to_owned()], choices.collect()));
        }
        let late = self
            .today
            .checked_add_days(Days::new(1))
            .unwrap_or(self.today);
        let to_come = told
            .iter()
            .find(|cell| days::fits(cell, self.layout.days()).is_some_and(|day| day > late));
        if let Some(cell) = to_come {
            let asks = format!(
                "{} holds days that are still to come, such as {cell}. Is that right?",
                self.name(at)
            );
            let right = choice("it is right", "dates", json!(self.layout.dates));
            all.push(self.ask("to_come", asks, vec![(*cell).to_owned()], vec![right]));
        }
        all
    }

    /// Of which days the rows are whose days name no year, or cannot be read at all: of one day
    /// that is chosen for all of them they seldom are.
    pub(super) fn undated(&self) -> Option<Question> {
        let claims = self.claims();
        let says_day = |said: &Says| *said == Says::Holds(ColumnUse::Date);
        let at = claims.iter().position(says_day)?;
        let told = self.told(at);
        let another = self.column(ColumnUse::Date).is_some_and(|held| held != at)
            || self.layout.columns[at] == ColumnUse::Time;
        let read = |year: Option<i32>| {
            let styles = DateStyle::ALL.map(|style| DaysWritten { style, year });
            let fits = |cell: &&&str| styles.iter().any(|days| days::fits(cell, *days).is_some());
            told.iter().filter(fits).count()
        };
        if another || told.is_empty() || read(None) > 0 {
            return None;
        }
        let cells = told.iter().take(3).map(|cell| (*cell).to_owned()).collect();
        let one_day = choice(
            "one day for all rows, which I choose",
            "columns",
            json!(self.columns_with(at, ColumnUse::Unused)),
        );
        let this = self.today.year();
        // A leap day is none in most years.
        if read(Some(LEAP_YEAR)) * 10 < told.len() * 8 {
            let asks = format!(
                "{} is not read as days. Are all rows of one day? Else write them as 2026-04-18.",
                self.name(at)
            );
            return Some(self.ask("undated", asks, cells, vec![one_day]));
        }
        let with_year = |year: i32| {
            let style = days::styles(&told, Some(year), self.today)[0];
            let mut all = choice(year.to_string(), "year", json!(year));
            let columns = self.columns_with(at, ColumnUse::Date);
            all.change.insert("columns".to_owned(), json!(columns));
            all.change.insert("dates".to_owned(), json!(style));
            all
        };
        let choices = [this, this - 1, this - 2].map(with_year).into_iter();
        let asks = format!("{} names no year. Of which are these days?", self.name(at));
        Some(self.ask("year", asks, cells, choices.chain([one_day]).collect()))
    }

    /// Whether a column names the clubs that does not say so, where none does.
    pub(super) fn club_column(&self) -> Option<Question> {
        let claims = self.claims();
        let key = |i: usize| format!("club_column:{i}");
        let found = (0..claims.len()).find_map(|i| {
            let told = self.told(i);
            let is_club = |cell: &&&str| clubs::club(cell).is_some() && cell.chars().count() > 1;
            let known: BTreeSet<&str> = told.iter().filter(is_club).copied().collect();
            let some = told.iter().filter(is_club).count() * 5 >= told.len().max(1);
            let silent = matches!(claims[i], Says::Nothing) && !known.is_empty() && some;
            // One without a name that was taken for the clubs by what it holds is not asked about.
            let answered = self.layout.settled.contains(&key(i));
            let free = self.layout.columns[i] == ColumnUse::Unused || answered;
            (silent && free).then_some((i, known))
        });
        let (at, known) = found?;
        if self.column(ColumnUse::Club).is_some_and(|held| held != at) {
            return None;
        }
        let some: Vec<String> = known.iter().take(2).map(|c| format!("“{c}”")).collect();
        let asks = format!(
            "{} holds {}. Does it name the club of each shot?",
            self.name(at),
            super::listed(&some)
        );
        let answers = [
            ("it does", ColumnUse::Club),
            ("it does not", ColumnUse::Unused),
        ];
        let choices = self.becoming(at, answers);
        let told: BTreeSet<&str> = self.told(at).into_iter().collect();
        let cells = told.into_iter().take(4).map(str::to_owned).collect();
        Some(self.ask(&key(at), asks, cells, choices))
    }

    /// Whether times that begin at 0:00 are of the day or of a clock that was started then.
    pub(super) fn elapsed(&self) -> Option<Question> {
        let claims = self.claims();
        let at = claims
            .iter()
            .position(|said| *said == Says::Holds(ColumnUse::Time))?;
        let told = self.told(at);
        let times: Option<Vec<NaiveTime>> = told.iter().map(|cell| days::time_of(cell)).collect();
        let times = times?;
        let first = *times.first()?;
        let runs = first == NaiveTime::MIN
            && times.len() > 2
            && times.is_sorted()
            && times.last().is_some_and(|last| *last < LONGEST_LESSON);
        let asks = format!(
            "{} begins at {}. Are these times of the day, or the time since the first shot?",
            self.name(at),
            told[0]
        );
        let becomes = [
            ("since the first shot", ColumnUse::Unused),
            ("times of the day", ColumnUse::Time),
        ];
        let choices = self.becoming(at, becomes);
        let cells = told.iter().take(3).map(|cell| (*cell).to_owned()).collect();
        runs.then(|| self.ask("elapsed", asks, cells, choices))
    }

    /// Whether rows that name no day are of that of the row above.
    pub(super) fn days_down(&self) -> Option<Question> {
        let at = self.column(ColumnUse::Date)?;
        let holds = |line: &&Line| !is_nothing(line.cells.get(at).unwrap_or("").trim());
        let blank = self.rows.iter().find(|line| !holds(line))?;
        // Nothing stands above a first row that names none.
        self.rows.first().filter(|first| holds(first))?;
        let asks = format!(
            "Row {} and others name no day. Were they hit on that of the row above?",
            blank.row
        );
        let choices = vec![
            choice("yes, as the row above", "days_down", json!(true)),
            choice("no, leave them out", "days_down", json!(false)),
        ];
        Some(self.ask("days_down", asks, Vec::new(), choices))
    }

    /// Whether the last row was hit first, where no time tells and numbers or days go back.
    pub(super) fn order(&self) -> Option<Question> {
        let (at, back) = order::goes_back(self.grid, self.layout)?;
        let name = self.name(at);
        let asks = match back {
            Back::Numbers => format!("{name} counts down. Was the last row hit first?"),
            Back::Days => {
                format!("The days of {name} go back. Was the last row of each day hit first?")
            }
        };
        let choices = vec![
            choice("yes, the last row first", "newest_first", json!(true)),
            choice("no, as they stand", "newest_first", json!(false)),
        ];
        let cells = self.first(at);
        Some(self.ask("order", asks, cells, choices))
    }

    pub(super) fn alike(&self) -> Option<Question> {
        let mut first: HashMap<&[u8], u64> = HashMap::new();
        let telling = |line: &&&Line| {
            let numbers = line
                .cells
                .iter()
                .filter(|cell| number(cell.trim(), Marks::Decimals).is_some());
            numbers.count() >= 3
        };
        let twice = self.rows.iter().filter(telling).find_map(|line| {
            let before = first.insert(line.cells.as_byte_record().as_slice(), line.row)?;
            Some((before, line.row))
        });
        let (one, other) = twice?;
        let asks = format!(
            "Rows {one} and {other} are alike in every cell. Are such rows one shot, or each a shot?"
        );
        let choices = vec![
            choice("one shot", "alike", json!(Alike::Once)),
            choice("each a shot", "alike", json!(Alike::Each)),
        ];
        Some(self.ask("alike", asks, Vec::new(), choices))
    }

    pub(super) fn clubs(&self) -> Vec<Question> {
        let ask = |name: &str, asks: String| Question {
            of_club: Some(name.to_owned()),
            open: !self.layout.clubs.contains_key(name),
            ..self.ask(&format!("club:{name}"), asks, Vec::new(), Vec::new())
        };
        let which = |name: &str| ask(name, format!("Which club is “{name}”?"));
        let foreign = self.names.iter().any(|name| is_foreign(name));
        let plain =
            |cell: &str| clubs::club(cell).is_some() && !(foreign && clubs::is_letter_h(cell));
        let Some(at) = self.column(ColumnUse::Club) else {
            let below = self
                .grid
                .lines
                .iter()
                .filter(|line| line.row > self.layout.header_row);
            let headings = below.filter_map(|line| heading(&line.cells));
            let several = self.layout.columns.len() > 1;
            let names: BTreeSet<&str> = headings.filter(|name| several && !plain(name)).collect();
            return names.into_iter().take(CLUBS_ASKED).map(which).collect();
        };
        // What is swung without a ball is no club.
        let swung = self.column(ColumnUse::Implement);
        let holds = |line: &Line, i: usize| !is_nothing(line.cells.get(i).unwrap_or("").trim());
        // Nor is a row without its number a shot.
        let number = self.column(ColumnUse::Number);
        let without = |line: &&&Line| {
            !holds(line, at)
                && !swung.is_some_and(|i| holds(line, i))
                && number.is_none_or(|i| holds(line, i))
        };
        let blank = self.rows.iter().any(|line| without(&line));
        // A note below the shots, or a line between them, is no club's name, unless the rows
        // below it go by it.
        let alone =
            |line: &&&Line| line.cells.iter().filter(|c| !is_nothing(c.trim())).count() == 1;
        let named = self.rows.iter().filter(|line| blank || !alone(line));
        let named = named.filter_map(|line| line.cells.get(at)).map(str::trim);
        let names: BTreeSet<&str> = named
            .filter(|cell| !is_nothing(cell) && !plain(cell))
            .collect();
        let unknown = names.into_iter().take(CLUBS_ASKED);
        let mut all: Vec<Question> = unknown.map(which).collect();
        if blank {
            let above = choice("that of the row above", "filled_down", json!(true));
            // Nothing stands above a first row that names none.
            let first = self.rows.first().is_some_and(|line| holds(line, at));
            let asks = "Some rows name no club. With which were they hit?".to_owned();
            let choices = if first { vec![above] } else { Vec::new() };
            all.push(Question {
                of_club: Some(String::new()),
                open: !self.layout.clubs.contains_key("") && !self.layout.filled_down,
                ..self.ask("club:", asks, Vec::new(), choices)
            });
        }
        all
    }

    /// Whether rows that whoever wrote the file marked were set aside.
    pub(super) fn left_out(&self) -> Option<Question> {
        let marks = |held: ColumnUse| matches!(held, ColumnUse::LeftOut | ColumnUse::Counts);
        let chosen = self.layout.columns.iter().copied();
        let named = self.claims().into_iter().map(|said| match said {
            Says::Holds(held) => held,
            _ => ColumnUse::Unused,
        });
        let (at, held) = chosen
            .enumerate()
            .find(|(_, held)| marks(*held))
            .or_else(|| named.enumerate().find(|(_, held)| marks(*held)))?;
        let told: Option<Vec<bool>> = self.told(at).into_iter().map(cells::yes).collect();
        let (out, all) = (held == ColumnUse::LeftOut, told?);
        let marked = all.iter().filter(|yes| **yes == out).count();
        let (them, others) = match marked {
            1 => ("it", "count it"),
            _ => ("them", "count them"),
        };
        let asks = format!(
            "By {} {marked} of the first {} rows {} left out. Set {them} aside, or {others} like the others?",
            self.name(at),
            self.rows.len(),
            if marked == 1 { "was" } else { "were" }
        );
        let set_aside = format!("set {them} aside");
        let becomes = [(set_aside.as_str(), held), (others, ColumnUse::Unused)];
        let choices = self.becoming(at, becomes);
        (marked > 0).then(|| self.ask("left_out", asks, Vec::new(), choices))
    }

    /// Whether most of the shots can be believed: else a column or a unit is wrong.
    pub(super) fn believed(&self) -> Option<Question> {
        let layout = Layout {
            only: None,
            ..self.layout.clone()
        };
        let read = Rows::held(self.grid.lines.clone(), layout).all();
        let (shots, mut odd, mut why) = (read.len(), 0usize, None);
        for row in &read {
            let doubt = match &row.shot {
                Err(bad) => {
                    let out = bad
                        .troubles
                        .iter()
                        .find(|t| t.problem.contains("out of range"));
                    out.map(|t| format!("{} “{}” {}", t.name, t.value, t.problem))
                }
                Ok(shot) => oddness(shot),
            };
            if let Some(doubt) = doubt {
                odd += 1;
                why.get_or_insert((row.row, doubt));
            }
        }
        let (row, why) = why.filter(|_| odd >= 2 && odd * 5 >= shots * 2)?;
        let asks = format!(
            "{odd} of the first {shots} shots cannot be as they stand. Are the columns and units right? Row {row}: {why}"
        );
        let right = choice(
            "they are right; let the shots be doubtful",
            "across",
            json!(self.layout.across),
        );
        Some(self.ask("believed", asks, Vec::new(), vec![right]))
    }
}

/// Why a shot cannot be as it stands, or hardly.
fn oddness(shot: &ImportedShot) -> Option<String> {
    let (reading, club) = (&shot.reading, shot.club.unwrap_or(Club::Driver));
    let speeds = [Quantity::ClubSpeed, Quantity::BallSpeed].map(|quantity| reading.get(quantity));
    if let [Some(of_club), Some(of_ball)] = speeds
        && of_ball < SLOWEST_BALL * of_club
    {
        return Some("the ball is much slower than the club".to_owned());
    }
    if speeds[0].is_some_and(|of_club| of_club > FASTEST_CLUB) {
        return Some("the club is faster than almost anyone swings".to_owned());
    }
    let told = |quantity| reading.get(quantity);
    if let (Some(spin), Some(carry)) = (told(Quantity::SpinRate), told(Quantity::Carry))
        && spin.abs() < LEAST_SPIN
        && carry > FLIES
    {
        return Some("no ball that flies so far spins so little".to_owned());
    }
    if told(Quantity::SpinRate).is_some_and(|spin| spin.round() == NO_SPIN) {
        return Some("9999 is hardly a spin that was measured".to_owned());
    }
    if let (Some(launch), Some(carry)) = (told(Quantity::LaunchAngle), told(Quantity::Carry))
        && launch < LEAST_LAUNCH
        && carry > FLIES_FAR
    {
        return Some("no ball that starts so flat flies so far".to_owned());
    }
    let ball = speeds[1].or(speeds[0].map(|of_club| of_club * MOST_SMASH));
    if let (Some(ball), Some(carry)) = (ball, told(Quantity::Carry))
        && carry > TOO_FAR * ball * flight_share(ball)
    {
        return Some("no ball so slow flies so far".to_owned());
    }
    if let (Some(carry), Some(total)) = (told(Quantity::Carry), told(Quantity::Total))
        && total
            < carry
                * match shot.club {
                    Some(Club::Driver) => LEAST_TOTAL_OF_DRIVER,
                    _ => LEAST_TOTAL,
                }
    {
        return Some("the total is much shorter than the carry".to_owned());
    }
    let rules = HouseRules::default();
    let found = doubts(reading, club, &Conditions::REFERENCE, &rules);
    found.first().map(|doubt| doubt.reason.show(Units::MphYd))
}
