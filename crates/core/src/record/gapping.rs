//! The bag: what each club carries, how likely two of them do the same job, and which distances
//! none of them covers.
//!
//! Carries are brought to one air. What is usual is the mean of the kept balls of the latest fit
//! sessions; how likely one club flies past another is a chance, not a difference of means
//! ([`chance`]).

mod chance;
mod changes;
pub mod telling;
mod words;

use crate::physics::ball_kind::BallKind;
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::Flight;
use crate::physics::launch::Launch;
use crate::physics::normalise::Seen;
use crate::session::bag::more_balls;
use crate::shots::ball::Ball;
use crate::shots::expected_carry::air_ratio;
use crate::shots::told::Told;
use crate::shots::useful_flight;
use crate::statistics::quantile::quantile;
use crate::statistics::summary::{Estimate, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::Verdict;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
pub use changes::{BagChanges, ClubChange, GroupChange, bag_changes};
use chrono::NaiveDate;
use serde::Serialize;
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// A ball of the bag.
#[derive(Debug, Clone, PartialEq)]
pub struct BagBall {
    /// The ball; its session is a place among those looked at.
    pub ball: Ball,
    /// The air it was hit in.
    pub conditions: Conditions,
    /// The day.
    pub on: NaiveDate,
    /// What kind of ball it was.
    pub kind: BallKind,
}

/// Balls hit with a part of the effort, on purpose.
#[derive(Debug, Clone, PartialEq)]
pub struct EffortBall {
    /// The share that was asked for, 0…1.
    pub share: f64,
    /// The ball.
    pub ball: BagBall,
}

/// What is asked of a bag.
#[derive(Debug, Clone, PartialEq)]
pub struct GappingQuestion {
    /// Usual balls of the latest fit sessions, any club.
    pub balls: Vec<BagBall>,
    /// Balls of effort ladders.
    pub efforts: Vec<EffortBall>,
    /// Static lofts that are noted, deg.
    pub lofts: Vec<(Club, f64)>,
    /// Clubs that were fitted after the latest ball with their kind was hit.
    pub replaced: Vec<Club>,
    /// The air that all is told in.
    pub air: Conditions,
    /// The house's rules.
    pub rules: HouseRules,
}

/// What one club does.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ClubOfBag {
    /// Its kind.
    pub club: Club,
    /// Balls with a carry.
    pub n: usize,
    /// Sessions they are of.
    pub sessions: usize,
    /// The latest of them.
    pub last_hit: NaiveDate,
    /// Mean carry in the air asked for, m, with its interval; no interval of one ball.
    pub carry: Estimate,
    /// Whether the interval is told: there are two balls.
    pub sure: bool,
    /// Carries that eight balls in ten lie between, m.
    pub short_long: [f64; 2],
    /// Carries that half of the balls lie between, m.
    #[serde(skip)]
    pub half: [f64; 2],
    /// How far apart left and right eight in ten lie, m.
    pub left_right: Option<f64>,
    /// Mean total, m, as it was told on the day.
    pub total: Option<f64>,
    /// Mean club speed, m/s.
    pub club_speed: Option<f64>,
    /// Mean ball speed, m/s.
    pub ball_speed: Option<f64>,
    /// Mean smash factor.
    pub smash: Option<f64>,
    /// Carry to be expected of that club speed in this air, m.
    pub expected: Option<f64>,
    /// Balls with a useful flight, and those of which that can be told.
    pub useful: Option<[usize; 2]>,
    /// How many more balls would tell its carry well enough; none when it is known.
    pub more_balls: Option<usize>,
    /// Static loft as noted, deg.
    pub loft_deg: Option<f64>,
    /// What to know of this club.
    pub notes: Vec<Sentence>,
}

/// How two neighbours of the bag lie to each other.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum GapKind {
    /// As clubs should.
    Even,
    /// They do one job.
    Overlap,
    /// Distances between them that neither covers.
    Hole,
}

/// Two neighbours of the bag.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct GapOfBag {
    /// The longer one.
    pub long: Club,
    /// The shorter one.
    pub short: Club,
    /// How far their means lie apart, m.
    pub apart: f64,
    /// Chance that one ball of the shorter flies past one of the longer.
    pub flies_past: f64,
    /// How they lie.
    pub kind: GapKind,
    /// Carries between them that neither is for: beyond most of the shorter one's balls and short
    /// of most of the longer one's, m.
    pub bare: Option<[f64; 2]>,
    /// That, as a coach would say it.
    pub said: Sentence,
    /// What could be done about it.
    pub remedies: Vec<Sentence>,
}

/// A club swung with a part of the effort.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct EffortOfBag {
    /// The club.
    pub club: Club,
    /// The share of effort, 0…1.
    pub share: f64,
    /// Mean carry in the air asked for, m.
    pub carry: f64,
    /// Balls.
    pub n: usize,
}

/// What a bag does.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BagRead {
    /// The one conclusion.
    pub verdict: Verdict,
    /// Its clubs, the longest first.
    pub clubs: Vec<ClubOfBag>,
    /// Its neighbours.
    pub gaps: Vec<GapOfBag>,
    /// Part efforts, by club and effort.
    pub efforts: Vec<EffortOfBag>,
    /// What all of it leaves open.
    pub cautions: Vec<Sentence>,
}

/// Share of club speed that a centimetre of length is worth. Ours, by geometry: a centimetre is
/// 0.6 % of the way from the shoulder to the head, and a longer lever swings slower by up to two
/// thirds of that. Longer drivers were faster in tests (Wallace, Otto & Nevill 2007).
pub const SPEED_PER_CM: [f64; 2] = [0.002, 0.006];
/// Chance from which on two clubs do one job.
pub const ONE_JOB: f64 = 0.25;
/// How many times the usual gap is a hole.
const HOLE: f64 = 1.5;
/// How many times it is one though a club has a ball or two only.
const WIDE: f64 = 2.5;

/// Reads a bag; nothing without a ball that has a carry.
pub fn bag_read(question: &GappingQuestion) -> Option<BagRead> {
    let rules = &question.rules;
    let mut clubs: Vec<(ClubOfBag, Vec<f64>)> = Club::all()
        .filter_map(|club| club_of_bag(question, club))
        .collect();
    clubs.sort_by(|a, b| b.0.carry.value.total_cmp(&a.0.carry.value));
    if clubs.is_empty() {
        return None;
    }
    let carries: Vec<Vec<f64>> = clubs.iter().map(|(_, carries)| carries.clone()).collect();
    let efforts = efforts(question);
    let passes = chance::fly_past(&carries);
    let pairs = clubs.windows(2).zip(passes);
    let gaps: Vec<GapOfBag> = pairs
        .map(|(pair, flies_past)| gap([&pair[0].0, &pair[1].0], flies_past, &efforts, rules))
        .collect();
    let mut clubs: Vec<ClubOfBag> = clubs.into_iter().map(|(club, _)| club).collect();
    for club in &mut clubs {
        club.notes = words::notes(club, question);
    }
    Some(BagRead {
        verdict: words::verdict(&clubs, &gaps, question),
        cautions: words::cautions(&clubs, question),
        clubs,
        gaps,
        efforts,
    })
}

fn club_of_bag(question: &GappingQuestion, club: Club) -> Option<(ClubOfBag, Vec<f64>)> {
    let rules = &question.rules;
    let hit = || {
        let of = question.balls.iter();
        of.filter(move |told| told.ball.club == club && told.ball.kept())
    };
    let flights: Vec<Flown> = hit()
        .map(|told| flown(told, &question.air, rules))
        .collect();
    let carries: Vec<f64> = flights.iter().filter_map(|flown| flown.carry).collect();
    let told = summarise(&carries, rules.interval_level)?;
    let mean = |quantity| {
        let values: Vec<f64> = hit()
            .filter_map(|t| t.ball.counted(quantity, rules))
            .collect();
        summarise(&values, rules.interval_level).map(|told| told.mean)
    };
    let club_speed = mean(Quantity::ClubSpeed);
    let ball_speed = mean(Quantity::BallSpeed);
    let expected = club_speed.and_then(|speed| {
        let ratio = air_ratio(club, speed, &question.air).ok()?;
        Some(rules.carry_of(club, speed) * ratio)
    });
    let mut sorted = carries.clone();
    sorted.sort_by(f64::total_cmp);
    let mut sides: Vec<f64> = hit()
        .filter_map(|t| t.ball.reading.get(Quantity::Side))
        .collect();
    sides.sort_by(f64::total_cmp);
    let between = |sorted: &[f64], share| [quantile(sorted, share), quantile(sorted, 1.0 - share)];
    let ends = |sorted: &[f64]| between(sorted, 0.1);
    let flights: Vec<bool> = flights.iter().filter_map(|flown| flown.useful).collect();
    let sessions: BTreeSet<usize> = hit().map(|told| told.ball.session).collect();
    let interval = told.interval;
    let read = ClubOfBag {
        club,
        n: told.n,
        sessions: sessions.len(),
        last_hit: hit().map(|told| told.on).max()?,
        carry: interval.unwrap_or(Estimate {
            value: told.mean,
            low: told.mean,
            high: told.mean,
            n: 1,
        }),
        sure: interval.is_some(),
        short_long: ends(&sorted),
        half: between(&sorted, 0.25),
        left_right: (sides.len() > 2).then(|| {
            let [left, right] = ends(&sides);
            right - left
        }),
        total: mean(Quantity::Total),
        club_speed,
        ball_speed,
        smash: mean(Quantity::SmashFactor),
        expected,
        useful: (!flights.is_empty())
            .then(|| [flights.iter().filter(|u| **u).count(), flights.len()]),
        more_balls: more_balls(&carries, rules),
        loft_deg: question
            .lofts
            .iter()
            .find(|(of, _)| *of == club)
            .map(|(_, loft)| *loft),
        notes: Vec::new(),
    };
    Some((read, carries))
}

/// What a ball did: its carry in the air asked for, and whether its flight was useful, where
/// enough is known of it.
struct Flown {
    carry: Option<f64>,
    useful: Option<bool>,
}

fn flown(told: &BagBall, air: &Conditions, rules: &HouseRules) -> Flown {
    let (reading, club) = (&told.ball.reading, told.ball.club);
    let seen = Told::of(reading, club, &told.conditions);
    let flight = seen.believed_flight(rules);
    let known = reading
        .get(Quantity::LaunchAngle)
        .or(reading.get(Quantity::Apex));
    let carry = told.ball.counted(Quantity::Carry, rules);
    Flown {
        carry: carry.and_then(|carry| match told.conditions == *air {
            true => Some(carry),
            false => brought(carry, seen.launch.zip(flight), told, air),
        }),
        useful: known.map(|_| useful_flight::failed(reading, flight, club, rules).is_empty()),
    }
}

/// What a ball would have carried in this air: by its own launch where that is believed, or
/// else as a sound strike of its club and speed would have.
fn carry_in(told: &BagBall, air: &Conditions, rules: &HouseRules) -> Option<f64> {
    flown(told, air, rules).carry
}

fn brought(
    carry: f64,
    own: Option<(Launch, &Flight)>,
    told: &BagBall,
    air: &Conditions,
) -> Option<f64> {
    if let Some((launch, flight)) = own {
        let seen = Seen {
            carry,
            launch,
            conditions: told.conditions,
        };
        if let Ok(there) = seen.in_conditions_flown(flight, air) {
            return Some(there);
        }
    }
    let (reading, club) = (&told.ball.reading, told.ball.club);
    let speed = reading
        .get(Quantity::ClubSpeed)
        .or_else(|| Some(reading.get(Quantity::BallSpeed)? / 1.4))
        .unwrap_or(0.85 * club.reference_club_speed());
    let ratio = |conditions: &Conditions| air_ratio(club, speed, conditions).ok();
    Some(carry * ratio(air)? / ratio(&told.conditions)?)
}

fn gap(
    [long, short]: [&ClubOfBag; 2],
    flies_past: f64,
    efforts: &[EffortOfBag],
    rules: &HouseRules,
) -> GapOfBag {
    let apart = long.carry.value - short.carry.value;
    let bare = [short.half[1], long.half[0]];
    let bare = (bare[1] - bare[0] >= rules.carry_margin).then_some(bare);
    // The tee clubs lie apart in every bag, and a ball or two tell a wide hole only.
    let tee = long.club == Club::Driver;
    let sure = (long.n > 2 && short.n > 2) || apart > WIDE * rules.club_gap;
    let kind = if flies_past >= ONE_JOB {
        GapKind::Overlap
    } else if bare.is_some() && apart > HOLE * rules.club_gap && sure && !tee {
        GapKind::Hole
    } else {
        GapKind::Even
    };
    GapOfBag {
        long: long.club,
        short: short.club,
        apart,
        flies_past,
        kind,
        bare,
        said: words::gap([long, short], apart, flies_past, kind, bare),
        remedies: words::remedies([long, short], kind, bare, efforts, rules),
    }
}

fn efforts(question: &GappingQuestion) -> Vec<EffortOfBag> {
    let mut keys: Vec<(Club, u32)> = question
        .efforts
        .iter()
        .map(|told| (told.ball.ball.club, (told.share * 100.0).round() as u32))
        .collect();
    keys.sort();
    keys.dedup();
    let told = keys.into_iter().rev().filter_map(|(club, pct)| {
        let of = |told: &&EffortBall| {
            told.ball.ball.club == club && (told.share * 100.0).round() as u32 == pct
        };
        let carries: Vec<f64> = question
            .efforts
            .iter()
            .filter(of)
            .filter(|told| told.ball.ball.kept())
            .filter_map(|told| carry_in(&told.ball, &question.air, &question.rules))
            .collect();
        let told = summarise(&carries, question.rules.interval_level)?;
        Some(EffortOfBag {
            club,
            share: f64::from(pct) / 100.0,
            carry: told.mean,
            n: told.n,
        })
    });
    told.collect()
}

#[cfg(test)]
mod tests;
