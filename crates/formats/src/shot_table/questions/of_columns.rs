//! Questions about what the columns hold.

use super::super::cells;
use super::super::guess::is_number;
use super::super::layout::ColumnUse;
use super::super::likely::{in_unit, told_by, unit_groups};
use super::super::line::Line;
use super::super::names::{Says, is_foreign, says, unit_of};
use super::super::numbers::{Marks, is_nothing, number};
use super::super::terms::{Parts, may_count, of_several, parts, sums_up};
use super::super::units::Told;
use super::{Asked, Question, choice};
use serde_json::json;
use std::collections::{BTreeMap, BTreeSet};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Unit;

/// By how much a value in two units may differ, as a share: half a yard of 100.
const ROUNDED: f64 = 0.005;
/// Kinds of shots that one column parts, at most.
const MOST_PARTS: usize = 12;
/// Balls that are off to one side, all of them, before it is asked whether they were.
const ONE_SIDED: usize = 6;

impl Asked<'_> {
    pub(super) fn blocks(&self) -> Option<Question> {
        let has_values = self
            .layout
            .columns
            .iter()
            .any(|c| matches!(c, ColumnUse::Value { .. }));
        let claims = self.claims();
        let numbers: Vec<usize> = (0..self.layout.columns.len())
            // Which value a name means that may mean two is asked of it alone.
            .filter(|&i| !matches!(claims[i], Says::Either(..)))
            .filter(|&i| {
                matches!(
                    self.layout.columns[i],
                    ColumnUse::Unused | ColumnUse::Shots { .. }
                )
            })
            .filter(|&i| {
                let told = self.told(i);
                !told.is_empty() && told.iter().all(|cell| is_number(cell))
            })
            // What a row comes to is no shot of it.
            .filter(|&i| !sums_up(&self.names[i], false) && !of_several(&self.names[i]))
            .collect();
        // Where each name has the same unit, it is of the shots; else it is of a value that is
        // not read.
        let units: Vec<Option<Told>> = numbers.iter().map(|i| unit_of(&self.names[*i])).collect();
        let in_unit = match units.first() {
            Some(Some(Told::Unit(unit))) if units.iter().all(|other| *other == units[0]) => {
                Some(*unit)
            }
            _ => None,
        };
        let of_blocks: Vec<usize> = numbers
            .into_iter()
            .zip(units)
            .filter(|(_, unit)| in_unit.is_some() || unit.is_none())
            .map(|(i, _)| i)
            .collect();
        // Different units, though none that is known, are of different values.
        let brackets: BTreeSet<&str> = of_blocks
            .iter()
            .map(|i| in_brackets(&self.names[*i]))
            .collect();
        let blocks = of_blocks.len() > 1 && brackets.len() == 1;
        if has_values || self.layout.header_row == 0 || !blocks {
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
        let kinds = kinds
            .into_iter()
            .filter(|(_, unit)| in_unit.is_none_or(|told| told == *unit));
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
        let choices: Vec<_> = choices.collect();
        (!choices.is_empty()).then(|| self.ask("blocks", asks, cells, choices))
    }

    /// What each column says of itself.
    pub(super) fn claims(&self) -> Vec<Says> {
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

    pub(super) fn doubles(&self) -> Vec<Question> {
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
                    .any(|column| !self.tell_the_same(columns[0], *column))
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

    /// Whether two columns that hold the same value tell it alike, in their units, but for what
    /// was rounded off.
    fn tell_the_same(&self, one: (usize, ColumnUse), other: (usize, ColumnUse)) -> bool {
        if self.told(one.0) == self.told(other.0) {
            return one.1 == other.1;
        }
        let value = |(i, held): (usize, ColumnUse), line: &Line| {
            let ColumnUse::Value { quantity, unit } = held else {
                return None;
            };
            let cell = line.cells.get(i).unwrap_or("").trim();
            let letters = self.layout.side_letters;
            let told = (!is_nothing(cell)).then(|| cells::value(quantity, unit, cell, letters));
            told.map(|told| told.map(|(si, _)| si).unwrap_or(f64::NAN))
        };
        self.rows
            .iter()
            .all(|line| match (value(one, line), value(other, line)) {
                (Some(a), Some(b)) => (a - b).abs() <= ROUNDED * a.abs().max(b.abs()),
                (a, b) => a.is_none() && b.is_none(),
            })
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

    pub(super) fn backspin(&self) -> Option<Question> {
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
        let answers = [
            ("use it as the spin rate", spin),
            ("leave it out", ColumnUse::Unused),
        ];
        let choices = self.becoming(at, answers);
        let asks = format!(
            "{} is the spin without its tilt: nearly all of it when the ball flies straight, less when it curves. Use it?",
            self.name(at)
        );
        let cells = self.first(at);
        Some(self.ask("backspin", asks, cells, choices))
    }

    /// Which of two values a column holds whose name says either.
    pub(super) fn either(&self) -> Vec<Question> {
        let ask = |(i, said): (usize, Says)| {
            let Says::Either(two, unit) = said else {
                return None;
            };
            let others = self.layout.columns.iter().enumerate();
            let others: Vec<ColumnUse> = others
                .filter_map(|(j, held)| (j != i).then_some(*held))
                .collect();
            let numbers = self
                .told(i)
                .into_iter()
                .filter(|c| number(c, Marks::Decimals).is_some());
            let cells: Vec<String> = numbers.take(3).map(str::to_owned).collect();
            let free: Vec<ColumnUse> = two
                .into_iter()
                .map(|quantity| match unit {
                    Some(unit) => ColumnUse::value(quantity, unit),
                    None => self.silent(i, quantity),
                })
                .filter(|held| !others.iter().any(|other| held.doubles(other)))
                .collect();
            if free.is_empty() || cells.is_empty() {
                return None;
            }
            let called = |held: &ColumnUse| match held {
                ColumnUse::Value { quantity, .. } => quantity.label().to_lowercase(),
                _ => String::new(),
            };
            let labels: Vec<String> = free.iter().map(called).collect();
            let asks = match &labels[..] {
                [one] => format!("{} may be {one}. Is it?", self.name(i)),
                _ => format!(
                    "{} may be {}. Which is it?",
                    self.name(i),
                    labels.join(" or ")
                ),
            };
            let out = ("leave it out".to_owned(), ColumnUse::Unused);
            let choices = self.becoming(i, labels.into_iter().zip(free).chain([out]));
            Some(self.ask(&format!("either:{i}"), asks, cells, choices))
        };
        self.claims()
            .into_iter()
            .enumerate()
            .filter_map(ask)
            .collect()
    }

    pub(super) fn unnamed(&self) -> Option<Question> {
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
        let cells = self.first(first);
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

    pub(super) fn units(&self) -> Vec<Question> {
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
                let cells = self.first(group.columns[0]);
                self.ask(&group.key, asks, cells, choices.collect())
            })
            .collect()
    }

    /// Of which value a column tells the units, where it may be of several.
    pub(super) fn units_told(&self) -> Vec<Question> {
        let names: Vec<&str> = self.names.iter().map(String::as_str).collect();
        let ask = |at: usize| {
            let of = told_by(self.layout, &names, at, &self.told(at));
            let plain = of.len() == 1 && self.layout.columns[at] != ColumnUse::Unused;
            let settled = self.layout.settled.contains(&format!("units_of:{at}"));
            if of.is_empty() || (plain && !settled) {
                return None;
            }
            let held = of.into_iter().map(|quantity| {
                let label = quantity.label().to_lowercase();
                (label, ColumnUse::Units { quantity })
            });
            let none = ("of none of them".to_owned(), ColumnUse::Unused);
            let choices = self.becoming(at, held.chain([none]));
            let asks = format!("{} tells units. Of which value?", self.name(at));
            let cells = self.first(at);
            Some(self.ask(&format!("units_of:{at}"), asks, cells, choices))
        };
        (0..names.len()).filter_map(ask).collect()
    }

    /// Whether a column parts shots that else were all of one kind, or of one lesson.
    pub(super) fn parted(&self) -> Option<Question> {
        let by_day = self.column(ColumnUse::Date).is_some();
        let free =
            |i: usize| matches!(self.layout.columns[i], ColumnUse::Unused | ColumnUse::Block);
        let found = (0..self.layout.columns.len())
            .filter(|i| free(*i))
            .find_map(|i| {
                let of = parts(&self.names[i]).filter(|of| !by_day || *of == Parts::Shots)?;
                let mut kinds = self.told(i);
                // Balls that are counted, perhaps anew for each club, are told apart by nothing.
                let counted = kinds.windows(2).filter(|two| {
                    let [one, next] = [two[0], two[1]].map(|cell| cell.parse::<u32>().ok());
                    one.is_some_and(|one| next == Some(one + 1))
                });
                if counted.count() * 2 > kinds.len() {
                    return None;
                }
                let mut seen = BTreeSet::new();
                kinds.retain(|kind| seen.insert(*kind));
                let several =
                    (2..=MOST_PARTS).contains(&kinds.len()) && kinds.len() < self.rows.len();
                several.then_some((i, of, kinds))
            });
        let (at, of, kinds) = found?;
        let key = format!("parts:{at}");
        // A block that something else tells is not asked about.
        let block = self.column(ColumnUse::Block);
        if block.is_some_and(|held| held != at || !self.layout.settled.contains(&key)) {
            return None;
        }
        let shown = if kinds.len() > 3 { 2 } else { 3 };
        let mut some: Vec<String> = kinds.iter().take(shown).map(|c| format!("“{c}”")).collect();
        if kinds.len() > shown {
            some.push(format!("{} more", kinds.len() - shown));
        }
        let no_day = match of {
            Parts::Occasions => ", and no day does",
            Parts::Shots => "",
        };
        let asks = format!(
            "{} tells {} apart{no_day}. Give each a block of its own, or take all shots alike?",
            self.name(at),
            super::listed(&some)
        );
        let choices = self.becoming(
            at,
            [
                ("a block each", ColumnUse::Block),
                ("all alike", ColumnUse::Unused),
            ],
        );
        Some(self.ask(&key, asks, Vec::new(), choices))
    }

    /// Columns of values that have a side, none of whose cells tells it.
    fn without_side(&self) -> Vec<usize> {
        let bare = |i: usize, quantity: Quantity| {
            let cells = self.told(i);
            let positive = |cell: &&str| {
                let (rest, side) = cells::without_direction(quantity, cell, true);
                side.is_none() && number(rest, Marks::Decimals).is_some_and(|(n, _)| n >= 0.0)
            };
            !cells.is_empty() && cells.iter().all(positive)
        };
        let all = self.layout.columns.iter().enumerate();
        all.filter(|(i, held)| match held {
            ColumnUse::Value { quantity, .. } => {
                cells::signed(*quantity)
                    && !matches!(quantity, Quantity::AngleOfAttack | Quantity::ImpactHigh)
                    && bare(*i, *quantity)
            }
            _ => false,
        })
        .map(|(i, _)| i)
        .collect()
    }

    /// Of which value a column of lefts and rights is.
    pub(super) fn sides(&self) -> Option<Question> {
        let letters = self.names.iter().any(|name| is_foreign(name));
        let tells = |i: usize| {
            let sides: Option<Vec<f64>> = self
                .told(i)
                .into_iter()
                .map(|cell| cells::side(cell, letters))
                .collect();
            sides.is_some_and(|sides| sides.iter().any(|side| *side != 0.0))
        };
        let held = |held: &ColumnUse| matches!(held, ColumnUse::Unused | ColumnUse::Sides { .. });
        let at =
            (0..self.layout.columns.len()).find(|&i| held(&self.layout.columns[i]) && tells(i))?;
        let of = self.without_side().into_iter();
        let of = of.filter_map(|i| match self.layout.columns[i] {
            ColumnUse::Value { quantity, .. } => {
                Some((self.names[i].as_str(), ColumnUse::Sides { quantity }))
            }
            _ => None,
        });
        let mut of: Vec<(&str, ColumnUse)> = of.collect();
        if of.is_empty() {
            return None;
        }
        of.push(("of none of them", ColumnUse::Unused));
        let asks = format!("{} tells left and right. Of which column?", self.name(at));
        let cells = self.first(at);
        Some(self.ask("sides", asks, cells, self.becoming(at, of)))
    }

    /// Whether a column without its sides has them in another column's words that mean left for
    /// one player and right for another.
    pub(super) fn by_hand(&self) -> Option<Question> {
        let by_hand = |i: &usize| {
            let told = self.told(*i);
            let unused = self.layout.columns[*i] == ColumnUse::Unused;
            unused && !told.is_empty() && told.iter().all(|cell| cells::is_by_hand(cell))
        };
        let at = (0..self.layout.columns.len()).find(by_hand)?;
        // The one that was asked about; or that stands before it, or else the only one.
        let key = |of: usize| format!("by_hand:{of}");
        let asked = |of: &usize| self.layout.settled.contains(&key(*of));
        let bare = self.without_side();
        let before = bare.iter().rev().find(|i| **i < at).or(bare.first());
        let asked = (0..self.layout.columns.len()).find(asked);
        let of = asked.or(before.copied())?;
        let held = match &self.claims()[of] {
            Says::Holds(held) => *held,
            Says::WithoutUnit(quantity) => self.silent(of, *quantity),
            _ => self.layout.columns[of],
        };
        let cells = self.first(at);
        let asks = format!(
            "{} says “{}”, which is another side for a left-hander and is not read. {} has no side without it: leave it out?",
            self.name(at),
            cells.first().map_or("", String::as_str),
            self.name(of)
        );
        let choices = self.becoming(
            of,
            [
                ("leave it out", ColumnUse::Unused),
                ("it has its sides", held),
            ],
        );
        Some(self.ask(&key(of), asks, cells, choices))
    }

    /// Whether a ball never went left, or how far it was off was written without its side.
    pub(super) fn one_sided(&self) -> Option<Question> {
        let said = |held: &ColumnUse| {
            *held
                == ColumnUse::Sides {
                    quantity: Quantity::Side,
                }
        };
        if self.layout.columns.iter().any(said) {
            return None;
        }
        let at = self.without_side().into_iter().find(|&i| {
            let side = matches!(
                self.layout.columns[i],
                ColumnUse::Value {
                    quantity: Quantity::Side,
                    ..
                }
            );
            let off = |cell: &&str| number(cell, Marks::Decimals).is_some_and(|(n, _)| n != 0.0);
            let many = self.told(i).into_iter().filter(off).count();
            side && many >= ONE_SIDED && Quantity::from_field(&self.names[i]).is_err()
        })?;
        let asks = format!(
            "No ball of {} went left. Were all to the right, or is the side not told?",
            self.name(at)
        );
        let answers = [
            ("all to the right", self.layout.columns[at]),
            ("not told; leave it out", ColumnUse::Unused),
        ];
        let choices = self.becoming(at, answers);
        let cells = self.first(at);
        Some(self.ask("one_sided", asks, cells, choices))
    }

    /// Whether rows are shots, or what several came to.
    pub(super) fn averages(&self) -> Option<Question> {
        let several = |i: usize| {
            let numbers: Vec<f64> = self
                .told(i)
                .into_iter()
                .filter_map(|cell| Some(number(cell, Marks::Decimals)?.0))
                .collect();
            // Rows that are counted from the first on are shots.
            let counted = numbers.iter().zip(1..).all(|(n, nth)| *n == f64::from(nth));
            let sums = match self.layout.columns[i] {
                ColumnUse::Unused => of_several(&self.names[i]),
                // The shots of a lesson are counted up, be it anew for each club.
                ColumnUse::Number => {
                    may_count(&self.names[i])
                        && numbers.len() > 1
                        && !numbers.windows(2).any(|two| (two[1] - two[0]).abs() == 1.0)
                }
                _ => false,
            };
            sums && !counted && numbers.iter().any(|n| *n != 1.0)
        };
        let at = (0..self.layout.columns.len()).find(|&i| several(i))?;
        let asks = format!(
            "{} suggests that a row sums several shots up, which is no shot. Is each row one shot?",
            self.name(at)
        );
        // Of those that begin with ones, the others are why it is asked.
        let mut cells = self.first(at);
        if cells.iter().all(|cell| cell == "1") {
            let others = self.told(at).into_iter().filter(|cell| *cell != "1");
            cells = others.take(3).map(str::to_owned).collect();
        }
        let shots = choice(
            "each row is one shot",
            "columns",
            json!(self.layout.columns),
        );
        Some(self.ask("averages", asks, cells, vec![shots]))
    }

    pub(super) fn zeros(&self) -> Option<Question> {
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
}

/// What stands in the last brackets of a name; nothing where it has none.
fn in_brackets(name: &str) -> &str {
    let Some((_, behind)) = name.rsplit_once(['(', '[']) else {
        return "";
    };
    behind.split([')', ']']).next().unwrap_or("")
}
