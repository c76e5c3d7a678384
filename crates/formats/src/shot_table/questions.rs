//! What a file does not tell, asked in a sentence with the answers to choose from.
//!
//! Every answer is a change to the layout, so that whoever shows a question needs to know
//! nothing of tables. A question stands for as long as the file gives rise to it; it is open
//! until its key is among those that were settled.

use super::grid::{Grid, heading, told};
use super::layout::{Alike, ColumnUse, DateStyle, Layout};
use super::likely::{in_unit, unit_groups};
use super::names::{Says, says};
use super::numbers::{Marks, is_nothing, number};
use super::rows::Rows;
use super::source::Line;
use super::{ImportedShot, cells, clubs, dates};
use chrono::{Days, NaiveDate};
use serde::Serialize;
use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet, HashMap};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::shots::doubt::doubts;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Unit, Units};
use utoipa::ToSchema;

/// Ball speed over club speed below which few shots of any club are.
const SLOWEST_BALL: f64 = 0.75;
/// Club speed, m/s, over which a file's unit is asked for: 141 mph, where only long drivers swing.
const FASTEST_CLUB: f64 = 63.0;
/// Names of clubs that are asked for at a time.
const CLUBS_ASKED: usize = 30;

/// One answer.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Choice {
    /// What it is called.
    pub label: String,
    /// The fields of the layout that it changes, with what they become.
    #[schema(value_type = Object)]
    pub change: BTreeMap<String, Value>,
}

/// Something that the file does not tell.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Question {
    /// What goes among the settled ones with the answer.
    pub key: String,
    /// The question.
    pub asks: String,
    /// Cells or rows that it is about.
    pub cells: Vec<String>,
    /// The answers; none where a club is to be chosen for `of_club`, or a player.
    pub choices: Vec<Choice>,
    /// What the file calls a club, empty for rows that name none.
    pub of_club: Option<String>,
    /// The place of the answer that the layout has now.
    pub chosen: Option<usize>,
    /// Whether it waits for an answer.
    pub open: bool,
}

impl Question {
    fn new(
        layout: &Layout,
        key: &str,
        asks: String,
        cells: Vec<String>,
        choices: Vec<Choice>,
    ) -> Self {
        let now = serde_json::to_value(layout).unwrap_or_default();
        let has = |choice: &Choice| {
            choice
                .change
                .iter()
                .all(|(field, value)| now.get(field) == Some(value))
        };
        let open = !layout.settled.contains(key);
        Self {
            key: key.to_owned(),
            asks,
            cells,
            chosen: choices.iter().position(has).filter(|_| !open),
            choices,
            of_club: None,
            open,
        }
    }
}

fn choice(label: impl Into<String>, field: &str, value: Value) -> Choice {
    Choice {
        label: label.into(),
        change: BTreeMap::from([(field.to_owned(), value)]),
    }
}

/// Questions that a file still asks when it is read by a layout: no row of it goes in before
/// they are answered.
///
/// # Errors
/// [`Invalid`] when the file is not what the layout says.
pub fn still_open(head: &[u8], layout: &Layout, today: NaiveDate) -> Result<Vec<String>, Invalid> {
    let grid = Grid::read(head, &layout.source, layout.across)?;
    let all = questions(&grid, layout, today);
    Ok(all.into_iter().filter(|q| q.open).map(|q| q.asks).collect())
}

/// All that a file asks.
pub(super) fn questions(grid: &Grid, layout: &Layout, today: NaiveDate) -> Vec<Question> {
    let asked = Asked {
        names: grid.names(layout),
        rows: grid.shots(layout),
        grid,
        layout,
        today,
    };
    let mut all = Vec::new();
    all.extend(asked.blocks());
    all.extend(asked.players());
    all.extend(asked.doubles());
    all.extend(asked.backspin());
    all.extend(asked.unnamed());
    all.extend(asked.units());
    all.extend(asked.dates());
    all.extend(asked.zeros());
    all.extend(asked.alike());
    all.extend(asked.clubs());
    // What cannot be is told once the units and days are known.
    if !all.iter().any(|q: &Question| q.open) {
        all.extend(asked.believed());
    }
    all
}

/// What is known of a file when questions about it are made.
struct Asked<'a> {
    grid: &'a Grid,
    layout: &'a Layout,
    names: Vec<String>,
    rows: Vec<&'a Line>,
    today: NaiveDate,
}

impl Asked<'_> {
    fn ask(&self, key: &str, asks: String, cells: Vec<String>, choices: Vec<Choice>) -> Question {
        Question::new(self.layout, key, asks, cells, choices)
    }

    /// The cells of a column that hold something.
    fn told(&self, i: usize) -> Vec<&str> {
        told(&self.rows, i)
    }

    fn name(&self, i: usize) -> String {
        format!("“{}”", self.names.get(i).map_or("", String::as_str))
    }

    fn list(&self, columns: &[usize]) -> String {
        let names: Vec<String> = columns.iter().map(|i| self.name(*i)).collect();
        listed(&names)
    }

    fn columns_with(&self, i: usize, becomes: ColumnUse) -> Vec<ColumnUse> {
        let mut columns = self.layout.columns.clone();
        columns[i] = becomes;
        columns
    }

    fn column(&self, is: ColumnUse) -> Option<usize> {
        self.layout.columns.iter().position(|column| *column == is)
    }

    fn blocks(&self) -> Option<Question> {
        let has_values = self
            .layout
            .columns
            .iter()
            .any(|c| matches!(c, ColumnUse::Value { .. }));
        let of_blocks: Vec<usize> = (0..self.layout.columns.len())
            .filter(|&i| {
                matches!(
                    self.layout.columns[i],
                    ColumnUse::Unused | ColumnUse::Shots { .. }
                )
            })
            // A name with a unit is of a value that is not read.
            .filter(|&i| !super::names::tells_unit(&self.names[i]))
            .filter(|&i| {
                let told = self.told(i);
                let numbers = told
                    .iter()
                    .filter(|c| number(c, Marks::Decimals).is_some())
                    .count();
                !told.is_empty() && numbers == told.len()
            })
            .collect();
        if has_values || self.layout.header_row == 0 || of_blocks.len() < 2 {
            return None;
        }
        let kinds = [
            (Quantity::Carry, Unit::Yd),
            (Quantity::Carry, Unit::M),
            (Quantity::ClubSpeed, Unit::Mph),
            (Quantity::ClubSpeed, Unit::Kmh),
            (Quantity::ClubSpeed, Unit::Mps),
            (Quantity::BallSpeed, Unit::Mph),
            (Quantity::BallSpeed, Unit::Kmh),
            (Quantity::BallSpeed, Unit::Mps),
            (Quantity::Total, Unit::Yd),
            (Quantity::Total, Unit::M),
        ];
        let choices = kinds.map(|(quantity, unit)| {
            let mut columns = self.layout.columns.clone();
            for i in &of_blocks {
                columns[*i] = ColumnUse::Shots { quantity, unit };
            }
            choice(
                format!("{}, {}", quantity.label().to_lowercase(), unit.symbol()),
                "columns",
                json!(columns),
            )
        });
        let asks = format!(
            "{} look like blocks with a shot in each cell. What do the numbers tell?",
            self.list(&of_blocks)
        );
        let cells = self
            .told(of_blocks[0])
            .into_iter()
            .take(4)
            .map(str::to_owned)
            .collect();
        Some(self.ask("blocks", asks, cells, choices.into()))
    }

    fn players(&self) -> Option<Question> {
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

    /// What each column says of itself.
    fn claims(&self) -> Vec<Says> {
        let header = self.grid.named(self.layout);
        let header = header.as_ref();
        let units = self.grid.units(self.layout).map(|line| &line.cells);
        (0..self.layout.columns.len())
            .map(|i| {
                let name = header.and_then(|cells| cells.get(i)).unwrap_or("");
                says(name, units.and_then(|cells| cells.get(i)))
            })
            .collect()
    }

    fn doubles(&self) -> Vec<Question> {
        let mut by_quantity: BTreeMap<Quantity, Vec<(usize, ColumnUse)>> = BTreeMap::new();
        for (i, said) in self.claims().into_iter().enumerate() {
            let (quantity, held) = match said {
                Says::Holds(held @ ColumnUse::Value { quantity, .. }) => (quantity, held),
                Says::WithoutUnit(quantity) => (quantity, self.silent(i, quantity)),
                _ => continue,
            };
            if !self.told(i).is_empty() {
                by_quantity.entry(quantity).or_default().push((i, held));
            }
        }
        let several = by_quantity.into_iter().filter(|(_, columns)| {
            columns.len() > 1
                && columns
                    .iter()
                    .any(|(i, _)| self.told(*i) != self.told(columns[0].0))
        });
        several
            .map(|(quantity, claiming)| {
                let which: Vec<usize> = claiming.iter().map(|(i, _)| *i).collect();
                let choices = claiming.iter().map(|(used, held)| {
                    let mut columns = self.layout.columns.clone();
                    for (i, _) in &claiming {
                        columns[*i] = if i == used { *held } else { ColumnUse::Unused };
                    }
                    let label = format!("column {}, {}", used + 1, self.name(*used));
                    choice(label, "columns", json!(columns))
                });
                let label = quantity.label().to_lowercase();
                let asks = format!(
                    "{} all tell {label}, and not the same. Which one counts?",
                    self.list(&which)
                );
                let key = format!("double:{}", quantity.key());
                let cells = which
                    .iter()
                    .filter_map(|i| self.told(*i).first().map(|c| (*c).to_owned()));
                self.ask(&key, asks, cells.collect(), choices.collect())
            })
            .collect()
    }

    /// What a column holds that tells no unit: as it is, or in the unit that was said for others
    /// of its kind.
    fn silent(&self, i: usize, quantity: Quantity) -> ColumnUse {
        if let held @ ColumnUse::Value { .. } = self.layout.columns[i] {
            return held;
        }
        let of_kind = unit_groups(self.grid, self.layout, &self.rows)
            .into_iter()
            .flat_map(|group| group.columns)
            .find_map(|other| match self.layout.columns[other] {
                ColumnUse::Value { quantity: of, unit } => {
                    (of.dimension() == quantity.dimension()).then_some(unit)
                }
                _ => None,
            });
        let unit = of_kind.unwrap_or(quantity.dimension().accepted()[0]);
        ColumnUse::value(quantity, unit)
    }

    fn backspin(&self) -> Option<Question> {
        let claims = self.claims();
        let at = claims.iter().position(|said| *said == Says::Backspin)?;
        let spins = |said: &Says| {
            matches!(
                said,
                Says::Holds(ColumnUse::Value {
                    quantity: Quantity::SpinRate,
                    ..
                })
            )
        };
        if claims.iter().any(spins) || self.told(at).is_empty() {
            return None;
        }
        let spin = ColumnUse::value(Quantity::SpinRate, Unit::Rpm);
        let choices = vec![
            choice(
                "use it as the spin rate",
                "columns",
                json!(self.columns_with(at, spin)),
            ),
            choice(
                "leave it out",
                "columns",
                json!(self.columns_with(at, ColumnUse::Unused)),
            ),
        ];
        let asks = format!(
            "{} is the spin without its tilt: nearly all of it when the ball flies straight, less when it curves. Use it?",
            self.name(at)
        );
        let cells = self
            .told(at)
            .into_iter()
            .take(3)
            .map(str::to_owned)
            .collect();
        Some(self.ask("backspin", asks, cells, choices))
    }

    fn unnamed(&self) -> Option<Question> {
        let header = &self.grid.header(self.layout)?.cells;
        let columns: Vec<usize> = (0..self.layout.columns.len())
            .filter(|&i| header.get(i).is_none_or(|name| name.trim().is_empty()))
            .filter(|&i| self.layout.columns[i] == ColumnUse::Unused)
            .filter(|&i| {
                let numbers = self
                    .told(i)
                    .iter()
                    .filter(|c| number(c, Marks::Decimals).is_some())
                    .count();
                numbers > 0 && numbers * 2 >= self.rows.len()
            })
            .collect();
        let first = *columns.first()?;
        let asks = format!(
            "{} hold numbers and have no name. Do commas stand between cells and before decimals both? Then save the file with semicolons. Are they of no use?",
            self.list(&columns)
        );
        let cells = self
            .told(first)
            .into_iter()
            .take(3)
            .map(str::to_owned)
            .collect();
        Some(self.ask(
            "unnamed",
            asks,
            cells,
            vec![choice(
                "they are of no use",
                "across",
                json!(self.layout.across),
            )],
        ))
    }

    fn units(&self) -> Vec<Question> {
        let groups = unit_groups(self.grid, self.layout, &self.rows);
        let asked = groups.into_iter().filter_map(|mut group| {
            let taken = match self.layout.columns[group.columns[0]] {
                ColumnUse::Value { unit, .. } => unit,
                _ => return None,
            };
            // One that an earlier file or a person gave, and that the numbers speak against, is
            // a question of its own.
            if !group.candidates.contains(&taken) {
                group.candidates.push(taken);
                group.key = format!("{}:{}", group.key, taken.suffix());
            }
            (group.candidates.len() > 1 || group.always).then_some(group)
        });
        asked
            .map(|group| {
                let choices = group.candidates.iter().map(|unit| {
                    let mut columns = self.layout.columns.clone();
                    for i in &group.columns {
                        columns[*i] = in_unit(columns[*i], *unit);
                    }
                    choice(unit.symbol(), "columns", json!(columns))
                });
                let verb = if group.columns.len() == 1 {
                    "names"
                } else {
                    "name"
                };
                let asks = format!("{} {verb} no unit. Which is it?", self.list(&group.columns));
                let cells = self
                    .told(group.columns[0])
                    .into_iter()
                    .take(3)
                    .map(str::to_owned);
                self.ask(&group.key, asks, cells.collect(), choices.collect())
            })
            .collect()
    }

    fn dates(&self) -> Vec<Question> {
        let Some(at) = self.column(ColumnUse::Date) else {
            return Vec::new();
        };
        let told = self.told(at);
        let mut styles = dates::styles(&told, self.today);
        let taken = self.layout.dates;
        let as_taken = |style: &DateStyle| {
            told.iter()
                .all(|cell| dates::fits(cell, *style) == dates::fits(cell, taken))
        };
        // An order that an earlier file or a person gave, and that these cells speak against,
        // is a question of its own.
        let key = if styles.iter().any(as_taken) {
            "dates".to_owned()
        } else {
            styles.push(taken);
            format!("dates:{}", json!(taken).as_str().unwrap_or_default())
        };
        let differs = |cell: &&&str| {
            let mut read = styles.iter().map(|style| dates::fits(cell, *style));
            let first = read.next();
            read.any(|day| Some(day) != first)
        };
        let mut all = Vec::new();
        if let Some(cell) = told.iter().find(differs) {
            let choices = styles.iter().filter_map(|style| {
                let day = dates::fits(cell, *style)?;
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
            .find(|cell| dates::fits(cell, self.layout.dates).is_some_and(|day| day > late));
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

    fn zeros(&self) -> Option<Question> {
        let zero = |cell: &&&str| matches!(number(cell, Marks::Decimals), Some((value, _)) if value == 0.0);
        let many: Vec<usize> = (0..self.layout.columns.len())
            .filter(|&i| match self.layout.columns[i] {
                ColumnUse::Value { quantity, .. } => !cells::zero_is_nothing(quantity),
                _ => false,
            })
            .filter(|&i| {
                let told = self.told(i);
                let zeros = told.iter().filter(zero).count();
                let ours = Quantity::from_field(&self.names[i]).is_ok();
                !ours && zeros >= 3 && zeros * 4 >= told.len()
            })
            .collect();
        let first = *many.first()?;
        let zeros = self.told(first).iter().filter(zero).count();
        let asks = format!(
            "{} {} 0 in many rows ({zeros} of {} in the first). Was it 0, or was it not measured?",
            self.list(&many),
            if many.len() == 1 { "has" } else { "have" },
            self.told(first).len()
        );
        let choices = vec![
            choice("not measured", "zero_is_missing", json!(true)),
            choice("it was 0", "zero_is_missing", json!(false)),
        ];
        Some(self.ask("zeros", asks, Vec::new(), choices))
    }

    fn alike(&self) -> Option<Question> {
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

    fn clubs(&self) -> Vec<Question> {
        let ask = |name: &str, asks: String| Question {
            of_club: Some(name.to_owned()),
            open: !self.layout.clubs.contains_key(name),
            ..self.ask(&format!("club:{name}"), asks, Vec::new(), Vec::new())
        };
        let which = |name: &str| ask(name, format!("Which club is “{name}”?"));
        let plain = |cell: &str| clubs::club(cell).is_some();
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
        let names: BTreeSet<&str> = self
            .told(at)
            .into_iter()
            .filter(|cell| !plain(cell))
            .collect();
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

    /// Whether most of the shots can be believed: else a column or a unit is wrong.
    fn believed(&self) -> Option<Question> {
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
    let rules = HouseRules::default();
    let found = doubts(reading, club, &Conditions::REFERENCE, &rules);
    found.first().map(|doubt| doubt.reason.show(Units::MphYd))
}

fn listed(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [one] => one.clone(),
        [many @ .., last] => format!("{} and {last}", many.join(", ")),
    }
}
