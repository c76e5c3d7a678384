//! What may stand on a player's page: what a session or a period tells, in the reader's words.

use crate::physics::club::Club;
use crate::report::page::{DraftLine, PagePart, Reader};
use crate::report::told::PageTold;
use crate::statistics::summary::{Summary, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::{Dimension, Units};
use chrono::NaiveDate;

/// Values that are told of, at most.
const MOST_VALUES: usize = 4;

/// What was decided for the player.
#[derive(Debug, Clone, PartialEq)]
pub struct Decided {
    /// What it goes by.
    pub key: String,
    /// In the coach's words.
    pub words: String,
    /// When to look again.
    pub recheck_on: Option<NaiveDate>,
    /// Whether it was decided in what the page is about.
    pub here: bool,
}

/// A goal of the player.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GoalAhead {
    /// With which club.
    pub club: Club,
    /// Of which value.
    pub quantity: Quantity,
    /// The value, internal units.
    pub value: f64,
    /// The day by which.
    pub by: Option<NaiveDate>,
}

/// What a page could be about.
#[derive(Debug, Clone, PartialEq)]
pub struct DraftQuestion<'a> {
    /// Who reads it.
    pub reader: Reader,
    /// In which units.
    pub units: Units,
    /// What the session or the period gives.
    pub told: &'a PageTold,
    /// What is decided and not done with.
    pub decisions: &'a [Decided],
    /// The player's goals.
    pub goals: &'a [GoalAhead],
    /// Sessions that are planned: the day, and of what.
    pub planned: &'a [(NaiveDate, String)],
    /// The house's thresholds.
    pub rules: &'a HouseRules,
}

/// The lines that may stand on a page, part by part, with those ticked that are proposed.
pub fn draft(question: &DraftQuestion<'_>) -> Vec<DraftLine> {
    let mut lines = seen(question);
    lines.extend(question.worth());
    let some_here = question.decisions.iter().any(|decided| decided.here);
    lines.extend(question.decisions.iter().map(|decided| DraftLine {
        on: decided.recheck_on,
        ticked: decided.here || !some_here,
        ..line(
            format!("decision:{}", decided.key),
            PagePart::Until,
            Sentence::of(&decided.words),
        )
    }));
    lines.extend(question.goals.iter().map(|goal| question.goal(*goal)));
    lines.extend(question.planned.iter().map(|(on, what)| DraftLine {
        on: Some(*on),
        ..line(
            format!("planned:{on}"),
            PagePart::Next,
            Sentence::of(format!("Next session: {what}")),
        )
    }));
    lines
}

fn line(key: String, part: PagePart, said: Sentence) -> DraftLine {
    DraftLine {
        key,
        part,
        said,
        on: None,
        picture: None,
        ticked: true,
    }
}

fn seen(question: &DraftQuestion<'_>) -> Vec<DraftLine> {
    let greatest = question.told.shown.first().copied();
    let child = question.reader == Reader::Child;
    let conclusion = question.told.said.as_ref().map(|told| {
        let said = told.sentence.clone();
        let said = match question.reader {
            Reader::Elite if !told.detail.0.is_empty() => {
                said.words(" ").join(told.detail.clone()).words(".")
            }
            _ => said,
        };
        DraftLine {
            picture: greatest.and_then(|of| question.told.picture(of)),
            ticked: !child,
            ..line(told.key.to_owned(), PagePart::Seen, said)
        }
    });
    let concluded = conclusion.is_some();
    let mut lines: Vec<DraftLine> = conclusion.into_iter().collect();
    let ticks = if child || !concluded { 2 } else { 1 };
    // A mean over several clubs, or over implements, says nothing.
    let values = question.told.shown.iter().take(MOST_VALUES);
    let values = values.filter(|_| question.told.club.is_some());
    let figures = values.filter_map(|of| question.figure(*of)).enumerate();
    lines.extend(figures.map(|(i, figure)| DraftLine {
        ticked: i < ticks && (child || !question.told.mixed || !concluded),
        // One picture of the same shots is enough.
        picture: match (child, i) {
            (false, 0) if concluded => None,
            _ => figure.picture,
        },
        ..figure
    }));
    lines
}

impl DraftQuestion<'_> {
    fn summary(&self, of: Quantity) -> Option<Summary> {
        summarise(&self.told.values(of), self.rules.interval_level)
    }

    /// A value in numbers alone.
    fn figure(&self, of: Quantity) -> Option<DraftLine> {
        let told = self.summary(of)?;
        let dimension = of.dimension();
        let name = of.label();
        let best = of.has_best();
        if self.told.mixed && !best {
            return None;
        }
        let said = match self.reader {
            Reader::Child if self.told.mixed => Sentence::of(format!("{}: ", childs_best(of)))
                .figure(told.best, dimension)
                .words("."),
            _ if self.told.mixed => Sentence::of(format!("{name}: at best "))
                .figure(told.best, dimension)
                .words(format!(", of {}.", counted(told.n))),
            Reader::Child => {
                let usual = |said: Sentence| said.figure(told.mean, dimension).words(".");
                match best {
                    true => usual(
                        Sentence::of(format!("{}: ", childs_best(of)))
                            .figure(told.best, dimension)
                            .words(". Mostly it was near "),
                    ),
                    false => usual(Sentence::of(format!("{name}: mostly near "))),
                }
            }
            Reader::ClubPlayer => {
                let said = Sentence::of(format!("{name}: "))
                    .figure(told.mean, dimension)
                    .words(" on average");
                let said = match best && told.n > 1 {
                    true => said.words(", at best ").bare(told.best, dimension),
                    false => said,
                };
                said.words(format!(", over {}.", counted(told.n)))
            }
            Reader::Elite => {
                let said = Sentence::of(format!("{name}: ")).figure(told.mean, dimension);
                let said = match told.interval {
                    Some(within) => said
                        .words(" (")
                        .bare(within.low, dimension)
                        .words(" to ")
                        .bare(within.high, dimension)
                        .words(")"),
                    None => said,
                };
                let said = match best {
                    true => said.words(", best ").bare(told.best, dimension),
                    false => said,
                };
                let said = match told.spread {
                    Some(spread) => said.words(", spread ").bare(spread, dimension),
                    None => said,
                };
                said.words(format!(", n {}.", told.n))
            }
        };
        Some(DraftLine {
            picture: self.told.picture(of),
            ..line(format!("figure:{}", of.key()), PagePart::Seen, said)
        })
    }

    /// What a little more club speed would carry.
    fn worth(&self) -> Option<DraftLine> {
        let club = self.told.club?;
        let speed = self.summary(Quantity::ClubSpeed)?.mean;
        let unit = Dimension::Speed.shown(self.units);
        let more = unit.size() * self.rules.carry_per_speed(club, speed);
        let said = Sentence::of(format!("Each extra {} with the ", unit.symbol()))
            .words(club.label().to_lowercase())
            .words(" is worth about ")
            .figure(more, Dimension::Distance)
            .words(" of carry.");
        Some(DraftLine {
            ticked: self.told.shown.contains(&Quantity::ClubSpeed) && !self.told.mixed,
            ..line("worth".to_owned(), PagePart::Means, said)
        })
    }

    fn goal(&self, goal: GoalAhead) -> DraftLine {
        let dimension = goal.quantity.dimension();
        let said = Sentence::of(format!(
            "Target, {} with the {}: ",
            goal.quantity.label().to_lowercase(),
            goal.club.label().to_lowercase()
        ))
        .figure(goal.value, dimension);
        let here = (self.told.club == Some(goal.club))
            .then(|| self.summary(goal.quantity))
            .flatten();
        let said = match here {
            Some(told) if told.mean < goal.value && goal.quantity.has_best() => said
                .words(", ")
                .apart_in_full(goal.value, told.mean, dimension)
                .words(" to go."),
            _ => said.words("."),
        };
        DraftLine {
            on: goal.by,
            ..line(
                format!("goal:{}:{}", goal.club.key(), goal.quantity.key()),
                PagePart::Next,
                said,
            )
        }
    }
}

fn childs_best(of: Quantity) -> String {
    match of {
        Quantity::ClubSpeed => "Your fastest swing".to_owned(),
        Quantity::BallSpeed => "Your fastest ball".to_owned(),
        Quantity::Carry => "Your longest carry".to_owned(),
        Quantity::Total => "Your longest ball".to_owned(),
        other => format!("Your best {}", other.label().to_lowercase()),
    }
}

fn counted(n: usize) -> String {
    match n {
        1 => "one shot".to_owned(),
        n => format!("{n} shots"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::report::told::{PageSaid, PageSet};
    use crate::vocabulary::units::MPH;

    fn said(reader: Reader, speeds: &[f64]) -> Vec<(String, String, bool)> {
        told(reader, speeds, false)
    }

    fn told(reader: Reader, speeds: &[f64], mixed: bool) -> Vec<(String, String, bool)> {
        let rules = HouseRules::default();
        let speeds: Vec<f64> = speeds.iter().map(|mph| mph * MPH).collect();
        let set = PageSet {
            label: "All-out".to_owned(),
            values: [(Quantity::ClubSpeed, speeds)].into(),
        };
        let told = PageTold {
            said: Some(PageSaid {
                key: "opening",
                sentence: Sentence::of("All-out is faster."),
                detail: Sentence::of("3 against 3 swings"),
            }),
            shown: vec![Quantity::ClubSpeed, Quantity::Carry],
            club: Some(Club::Driver),
            sets: vec![set],
            mixed,
        };
        let decided = |key: &str, here| Decided {
            key: key.to_owned(),
            words: format!("Do {key}."),
            recheck_on: None,
            here,
        };
        let goal = GoalAhead {
            club: Club::Driver,
            quantity: Quantity::ClubSpeed,
            value: 100.0 * MPH,
            by: None,
        };
        let lines = draft(&DraftQuestion {
            reader,
            units: Units::MphYd,
            told: &told,
            decisions: &[decided("old", false), decided("this", true)],
            goals: &[goal],
            planned: &[],
            rules: &rules,
        });
        let shown = |line: DraftLine| (line.key.clone(), line.said.show(Units::MphYd), line.ticked);
        lines.into_iter().map(shown).collect()
    }

    #[test]
    fn a_child_reads_best_and_usual_and_no_verdict_unless_the_coach_wants_it() {
        let told = said(Reader::Child, &[58.0, 61.0, 61.0]);
        assert!(!told[0].2);
        assert_eq!(
            told[1].1,
            "Your fastest swing: 61.0 mph. Mostly it was near 60.0 mph."
        );
        assert!(told[1].2);
    }

    #[test]
    fn no_mean_is_taken_over_blocks_that_differ_on_purpose() {
        for reader in Reader::all() {
            let lines = told(reader, &[58.0, 90.0], true);
            let figure = lines
                .iter()
                .find(|(key, ..)| key == "figure:club_speed")
                .unwrap();
            assert!(
                !figure.1.contains("74") && figure.1.contains("90.0 mph"),
                "{}",
                figure.1
            );
            let worth = lines.iter().find(|(key, ..)| key == "worth").unwrap();
            assert!(!worth.2);
        }
    }

    #[test]
    fn an_elite_player_reads_interval_spread_and_count() {
        let told = said(Reader::Elite, &[96.0, 97.0, 98.0]);
        assert_eq!(told[0].1, "All-out is faster. 3 against 3 swings.");
        assert!(
            told[1]
                .1
                .contains("(95.3 to 98.7), best 98.0, spread 1.0, n 3."),
            "{}",
            told[1].1
        );
        let alone = said(Reader::Elite, &[96.0]);
        assert_eq!(alone[1].1, "Club speed: 96.0 mph, best 96.0, n 1.");
    }

    #[test]
    fn what_was_decided_here_is_proposed_and_a_goal_says_how_far_it_is() {
        let told = said(Reader::ClubPlayer, &[96.0, 98.0]);
        let line = |key: &str| told.iter().find(|(of, ..)| of == key).unwrap();
        assert!(line("decision:this").2 && !line("decision:old").2);
        assert!(
            line("goal:driver:club_speed")
                .1
                .ends_with("100.0 mph, 3.0 mph to go.")
        );
        assert!(
            line("worth")
                .1
                .starts_with("Each extra mph with the driver is worth about")
        );
        assert_eq!(
            line("figure:club_speed").1,
            "Club speed: 97.0 mph on average, at best 98.0, over 2 shots."
        );
    }

    #[test]
    fn a_session_without_shots_offers_what_is_decided_and_aimed_for() {
        let told = said(Reader::ClubPlayer, &[]);
        let keys: Vec<&str> = told.iter().map(|(key, ..)| key.as_str()).collect();
        assert_eq!(
            keys,
            [
                "opening",
                "decision:old",
                "decision:this",
                "goal:driver:club_speed"
            ]
        );
    }
}
