//! The bag before and after a block of training or a fitting: all clubs at once.
//!
//! A day is a chance of its own: two days differ though nothing changed. What is usual for that
//! ([`HouseRules::days_to_balls`]) is in every interval, and many clubs are many chances to be
//! fooled (Benjamini & Hochberg 1995).

use super::{BagBall, carry_in};
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::statistics::many::standing;
use crate::statistics::summary::{Estimate, student_t_of};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::{Sentence, capital};
use crate::vocabulary::units::Dimension::{Distance, Ratio, Speed};
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, StudentsT};
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// A value then and now.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ThenNow {
    /// Mean then and now, internal units.
    pub means: [f64; 2],
    /// By how much it changed.
    pub by: Estimate,
    /// Whether it stands, told among all the others.
    pub real: bool,
}

/// One club then and now.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ClubChange {
    /// The club.
    pub club: Club,
    /// Balls then and now.
    pub n: [usize; 2],
    /// Club speed, m/s.
    pub club_speed: Option<ThenNow>,
    /// Smash factor.
    pub smash: Option<ThenNow>,
    /// Carry in one air, m.
    pub carry: Option<ThenNow>,
    /// Carry down to the next club of the bag, then and now, m.
    pub gap: Option<[f64; 2]>,
}

/// Clubs of one kind together.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct GroupChange {
    /// What they are called.
    pub name: &'static str,
    /// How many clubs.
    pub clubs: usize,
    /// Club speed, m/s.
    pub club_speed: Option<Estimate>,
    /// Carry, m.
    pub carry: Option<Estimate>,
}

/// The bag then and now.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BagChanges {
    /// The one conclusion.
    pub sentence: Sentence,
    /// What it leaves open.
    pub open: Sentence,
    /// Clubs that were hit in both, the longest first.
    pub clubs: Vec<ClubChange>,
    /// Woods, irons and wedges together.
    pub groups: Vec<GroupChange>,
}

/// A change with its standard error's parts.
#[derive(Clone, Copy)]
struct Change {
    means: [f64; 2],
    /// Variance by balls, and by days.
    balls: f64,
    days: f64,
    degrees: f64,
    n: usize,
}

/// A club, its balls then and now, and what its speed, smash and carry did.
type Told = (Club, [usize; 2], [Option<Change>; 3]);

/// Reads what changed; nothing when no club was hit in both.
pub fn bag_changes(
    before: &[BagBall],
    after: &[BagBall],
    air: &Conditions,
    rules: &HouseRules,
) -> Option<BagChanges> {
    let speed = |told: &BagBall| told.ball.counted(Quantity::ClubSpeed, rules);
    let smash = |told: &BagBall| told.ball.counted(Quantity::SmashFactor, rules);
    let carry = |told: &BagBall| carry_in(told, air, rules);
    let sets = [before, after];
    let mut told: Vec<Told> = Club::all()
        .filter_map(|club| {
            let hit = |set: &[BagBall]| {
                set.iter()
                    .filter(|b| b.ball.club == club && b.ball.kept())
                    .count()
            };
            let n = sets.map(hit);
            let changes = [
                change(sets, club, &speed, rules),
                change(sets, club, &smash, rules),
                change(sets, club, &carry, rules),
            ];
            (n[0] > 0 && n[1] > 0).then_some((club, n, changes))
        })
        .collect();
    if told.is_empty() {
        return None;
    }
    let carried = |changes: &[Option<Change>; 3]| changes[2].map_or(0.0, |c| c.means[1]);
    told.sort_by(|a, b| carried(&b.2).total_cmp(&carried(&a.2)));
    let real: [Vec<bool>; 3] = [0, 1, 2].map(|value| {
        let p: Vec<f64> = told
            .iter()
            .map(|(_, _, c)| c[value].map_or(1.0, |c| c.p()))
            .collect();
        standing(&p, rules.interval_level)
    });
    let level = rules.interval_level;
    let clubs: Vec<ClubChange> = told
        .iter()
        .enumerate()
        .map(|(at, (club, n, changes))| {
            let then_now = |value: usize| {
                changes[value].map(|change| ThenNow {
                    means: change.means,
                    by: change.estimate(level),
                    real: real[value][at],
                })
            };
            let next = told.get(at + 1).and_then(|(_, _, next)| next[2]);
            ClubChange {
                club: *club,
                n: *n,
                club_speed: then_now(0),
                smash: then_now(1),
                carry: then_now(2),
                gap: changes[2]
                    .zip(next)
                    .map(|(own, next)| [0, 1].map(|i| own.means[i] - next.means[i])),
            }
        })
        .collect();
    let groups = groups(&told, level);
    Some(BagChanges {
        sentence: sentence(&clubs, &groups, rules),
        open: open(sets, &clubs),
        clubs,
        groups,
    })
}

impl Change {
    fn error(&self) -> f64 {
        (self.balls + self.days).sqrt()
    }

    fn by(&self) -> f64 {
        self.means[1] - self.means[0]
    }

    fn p(&self) -> f64 {
        let t = StudentsT::new(0.0, 1.0, self.degrees).expect("degrees of freedom are positive");
        2.0 * t.cdf(-(self.by() / self.error()).abs())
    }

    fn estimate(&self, level: f64) -> Estimate {
        let half = student_t_of(level, self.degrees) * self.error();
        Estimate {
            value: self.by(),
            low: self.by() - half,
            high: self.by() + half,
            n: self.n,
        }
    }
}

/// The change of one value with one club; nothing without two balls in each.
fn change(
    sets: [&[BagBall]; 2],
    club: Club,
    value: &impl Fn(&BagBall) -> Option<f64>,
    rules: &HouseRules,
) -> Option<Change> {
    let told = sets.map(|set| {
        let of = set.iter().filter(|b| b.ball.club == club && b.ball.kept());
        let told: Vec<(f64, usize)> = of
            .filter_map(|b| Some((value(b)?, b.ball.session)))
            .collect();
        told
    });
    if told.iter().any(|values| values.len() < 2) {
        return None;
    }
    let n = [0, 1].map(|i| told[i].len() as f64);
    let means = [0, 1].map(|i| told[i].iter().map(|(v, _)| v).sum::<f64>() / n[i]);
    let squares = [0, 1].map(|i| {
        told[i]
            .iter()
            .map(|(v, _)| (v - means[i]).powi(2))
            .sum::<f64>()
    });
    let degrees = n[0] + n[1] - 2.0;
    // One spread for both: few balls tell no two. A value told in whole steps never has none.
    let variance = ((squares[0] + squares[1]) / degrees).max(1e-9);
    let days = [0, 1].map(|i| {
        let days: BTreeSet<usize> = told[i].iter().map(|(_, session)| *session).collect();
        days.len() as f64
    });
    let between = rules.days_to_balls.powi(2) * variance;
    Some(Change {
        means,
        balls: variance * (1.0 / n[0] + 1.0 / n[1]),
        days: between * (1.0 / days[0] + 1.0 / days[1]),
        degrees,
        n: (n[0] + n[1]) as usize,
    })
}

const WOODS: &str = "Woods";
const IRONS: &str = "Irons";
const WEDGES: &str = "Wedges";

fn group_of(club: Club) -> &'static str {
    match club {
        wood if wood < Club::Hybrid => WOODS,
        wedge if wedge >= Club::WedgePitching => WEDGES,
        _ => IRONS,
    }
}

/// Clubs together: the mean of their changes. All were hit on the same days, so what the days
/// leave open does not shrink with their number.
fn groups(told: &[Told], level: f64) -> Vec<GroupChange> {
    let of = |name: &'static str| {
        let members: Vec<&[Option<Change>; 3]> = told
            .iter()
            .filter(|(club, ..)| group_of(*club) == name)
            .map(|(_, _, changes)| changes)
            .collect();
        let together = |value: usize| {
            let changes: Vec<Change> = members.iter().filter_map(|c| c[value]).collect();
            let k = changes.len() as f64;
            let sum = |of: fn(&Change) -> f64| changes.iter().map(of).sum::<f64>();
            (!changes.is_empty()).then(|| {
                let pooled = Change {
                    means: [0, 1].map(|i| changes.iter().map(|c| c.means[i]).sum::<f64>() / k),
                    balls: sum(|c| c.balls) / (k * k),
                    days: sum(|c| c.days) / k,
                    degrees: sum(|c| c.degrees),
                    n: changes.iter().map(|c| c.n).sum(),
                };
                pooled.estimate(level)
            })
        };
        (!members.is_empty()).then(|| GroupChange {
            name,
            clubs: members.len(),
            club_speed: together(0),
            carry: together(2),
        })
    };
    [WOODS, IRONS, WEDGES].into_iter().filter_map(of).collect()
}

/// What a group's speed did.
enum Did {
    Gained(f64),
    Lost(f64),
    Nothing,
    Unclear,
}

fn did(speed: &Estimate, rules: &HouseRules) -> Did {
    if speed.low > 0.0 && speed.value >= rules.speed_margin {
        Did::Gained(speed.value)
    } else if speed.high < 0.0 && -speed.value >= rules.speed_margin {
        Did::Lost(-speed.value)
    } else if speed.value.abs() < rules.speed_margin {
        Did::Nothing
    } else {
        Did::Unclear
    }
}

fn sentence(clubs: &[ClubChange], groups: &[GroupChange], rules: &HouseRules) -> Sentence {
    let told: Vec<(&str, Did)> = groups
        .iter()
        .filter_map(|group| Some((group.name, did(&group.club_speed?, rules))))
        .collect();
    let mut said = Sentence::default();
    for (name, did) in &told {
        let (begins, name) = match said.0.is_empty() {
            true => ("", (*name).to_owned()),
            false => (", ", name.to_lowercase()),
        };
        let gained = match did {
            Did::Gained(by) => Some(("gained", *by)),
            Did::Lost(by) => Some(("lost", *by)),
            _ => None,
        };
        if let Some((word, by)) = gained {
            said = said
                .words(format!("{begins}{name} {word} "))
                .figure(by, Speed);
        }
    }
    // Those of which there is nothing to tell are told together.
    let all_of = |kind: Did| {
        let same = |did: &Did| std::mem::discriminant(did) == std::mem::discriminant(&kind);
        let names = told.iter().filter(|(_, did)| same(did));
        let names: Vec<String> = names.map(|(name, _)| name.to_lowercase()).collect();
        match &names[..] {
            [] => None,
            [one] => Some(one.clone()),
            [rest @ .., last] => Some(format!("{} and {last}", rest.join(", "))),
        }
    };
    if let Some(names) = all_of(Did::Nothing) {
        said = match said.0.is_empty() {
            true => said.words(format!("{} changed nothing to speak of", capital(&names))),
            false => said.words(format!(", {names} nothing to speak of")),
        };
    }
    if let Some(names) = all_of(Did::Unclear) {
        said = match said.0.is_empty() {
            true => said.words(format!("Of {names} nothing can be told yet")),
            false => said.words(format!("; of {names} nothing can be told yet")),
        };
    }
    if told.is_empty() {
        let carries = clubs
            .iter()
            .filter(|c| c.carry.is_some_and(|c| c.real))
            .count();
        said = Sentence::of(match carries {
            0 => "No club carries otherwise than before that can be told".to_owned(),
            1 => "One club carries otherwise than before".to_owned(),
            n => format!("{n} clubs carry otherwise than before"),
        });
    }
    said = said.words(".");
    match not_carried(clubs, rules) {
        Some(lost) => said.words(" ").join(lost),
        None => said,
    }
}

/// Smash that a club must have lost for it to be said.
const SMASH_LOST: f64 = 0.012;

/// The club whose speed went furthest without becoming carry, and what took it.
fn not_carried(clubs: &[ClubChange], rules: &HouseRules) -> Option<Sentence> {
    let lost = |club: &&ClubChange| {
        let (speed, carry) = (club.club_speed?, club.carry?);
        let worth = rules.carry_per_speed(club.club, speed.means[0]) * speed.by.value;
        let strike = club.smash?;
        let fell = strike.means[0] - strike.means[1];
        let sure = speed.by.low > 0.0 && strike.by.high < 0.0;
        let much = speed.by.value >= rules.speed_margin && fell >= SMASH_LOST;
        (sure && much && worth > carry.by.value).then_some(worth - carry.by.value)
    };
    let worst = clubs
        .iter()
        .filter(|club| lost(club).is_some())
        .max_by(|a, b| lost(a).unwrap_or(0.0).total_cmp(&lost(b).unwrap_or(0.0)))?;
    let (speed, carry, smash) = (worst.club_speed?, worst.carry?, worst.smash?);
    let said = Sentence::of(format!("The {} is ", worst.club.in_words())).apart_in_full(
        speed.means[1],
        speed.means[0],
        Speed,
    );
    let said = if carry.by.value > 0.0 {
        said.words(" faster and carries only ")
            .apart_in_full(carry.means[1], carry.means[0], Distance)
            .words(" further")
    } else {
        said.words(" faster and carries ")
            .apart_in_full(carry.means[1], carry.means[0], Distance)
            .words(" less")
    };
    Some(
        said.words(": smash fell from ")
            .bare(smash.means[0], Ratio)
            .words(" to ")
            .bare(smash.means[1], Ratio)
            .words("."),
    )
}

fn open(sets: [&[BagBall]; 2], clubs: &[ClubChange]) -> Sentence {
    let days = sets.map(|set| {
        let told = |told: &&BagBall| clubs.iter().any(|club| club.club == told.ball.club);
        let days: BTreeSet<usize> = set.iter().filter(told).map(|b| b.ball.session).collect();
        days.len()
    });
    Sentence::of(if days == [1, 1] {
        "One day each: part of any change may be the day; the intervals allow for a usual one."
            .to_owned()
    } else {
        format!(
            "{} days before, {} after; the intervals allow for days that differ as they usually do.",
            days[0], days[1]
        )
    })
}
