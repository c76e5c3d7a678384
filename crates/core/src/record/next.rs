//! What a player could work on next, ranked by what it is worth on the course.
//!
//! Every worth is worked out in one way. Carry becomes strokes by the baseline of
//! [`crate::trials::strokes`]: a longer tee shot leaves less on each of fourteen holes, a
//! longer iron plays like one from nearer for its share of the approach shots. How many shots
//! a club gets in a round, and how much of a gap or a spread can be won, are ours.

mod words;

use crate::physics::club::Club;
use crate::reach::unclaimed::{Lever, Unclaimed};
use crate::record::figures::Series;
use crate::record::peers::PeersTold;
use crate::record::progress::{LevelChange, NINETY};
use crate::record::series::{Occasion, SeriesKey, follow};
use crate::session::purpose::Purpose;
use crate::statistics::summary::Estimate;
use crate::trials::strokes::{Lie, expected_strokes};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::working::Working;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::YARD;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What kind of thing there is to work on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum NextKind {
    /// Carry that the club speed could give and did not.
    Unclaimed,
    /// Speed that is there and not used.
    Speed,
    /// How far shots spread.
    Spread,
    /// Two clubs too far apart.
    BagGap,
    /// Something that was not measured for long.
    Measurement,
    /// A test that told nothing yet.
    OpenTest,
}

/// By what the list is ranked: the two schools of the trade.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RankedBy {
    /// Strokes first.
    #[default]
    Score,
    /// Distance first.
    Distance,
}

/// What something is worth to this player.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Worth {
    /// Carry, m; none where it adds none.
    pub carry: Option<Estimate>,
    /// Strokes in a round.
    pub strokes: Estimate,
}

/// Something to work on.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct NextItem {
    /// What it goes by, so that it can be pinned and dismissed.
    pub key: String,
    /// Its kind.
    pub kind: NextKind,
    /// What a coach would say.
    pub said: Sentence,
    /// What it is worth; absent where nobody can know before it is measured.
    pub worth: Option<Worth>,
    /// How it was worked out.
    pub working: Option<Working>,
    /// The purpose of a session that works on it; none where a test is looked at again.
    pub purpose: Option<Purpose>,
    /// The club of that session.
    pub club: Club,
    /// Whether the coach pinned it.
    pub pinned: bool,
}

/// A test that told nothing yet.
#[derive(Debug, Clone, PartialEq)]
pub struct OpenTest {
    /// Which question it was.
    pub key: String,
    /// What it said.
    pub told: Sentence,
    /// When.
    pub day: NaiveDate,
}

/// Where a ball landed, m.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Landed {
    /// Along the line.
    pub carry: f64,
    /// To its right.
    pub side: f64,
}

/// What is known of a player.
#[derive(Debug, Clone, PartialEq)]
pub struct NextQuestion {
    /// The day.
    pub today: NaiveDate,
    /// The club that is looked at first.
    pub club: Club,
    /// Level of usual club speed, m/s.
    pub usual: Option<Estimate>,
    /// Level of club speed when swung to be fast, m/s.
    pub fast: Option<Estimate>,
    /// What became of usual club speed since the start, where that can be told.
    pub trend: Option<LevelChange>,
    /// Where usual club speed stands among players of the age and level.
    pub peers: PeersTold,
    /// Whether the player still grows: who is ahead may only have grown before.
    pub growing: bool,
    /// Unclaimed carry of the latest kept balls, ball by ball.
    pub claimed: Vec<Unclaimed>,
    /// Where they landed.
    pub landed: Vec<Landed>,
    /// Mean carry of each club of three balls and more, m.
    pub carries: Vec<(Club, Estimate)>,
    /// The last day on which spin was measured with the club; none when never.
    pub spin_measured: Option<NaiveDate>,
    /// Tests left open, latest first.
    pub open: Vec<OpenTest>,
    /// What the coach did with proposals before: pinned, or dismissed.
    pub chosen: Vec<(String, bool)>,
    /// By what it is ranked.
    pub by: RankedBy,
    /// The house's thresholds.
    pub rules: HouseRules,
}

impl NextQuestion {
    /// Takes in what a player's sessions tell: levels of speed, carries, measured spin.
    pub fn take_record(&mut self, occasions: &[Occasion]) {
        let level = |series| -> Option<(Estimate, Option<LevelChange>)> {
            let key = SeriesKey::hit(series, self.club, Quantity::ClubSpeed);
            let mut told = follow(occasions, &key, None, None, &self.rules);
            Some((told.days.pop()?.level?, told.changes.into_iter().next()))
        };
        let (usual, fast) = rayon::join(|| level(Series::Usual), || level(Series::AllOut));
        let (usual, trend) = usual.unzip();
        (self.usual, self.trend) = (usual, trend.flatten());
        self.fast = fast.map(|(fast, _)| fast);
        let measured = |o: &&Occasion| o.figures.spin_measured.contains(&self.club);
        self.spin_measured = occasions.iter().rev().find(measured).map(|o| o.date);
        let mut carries: BTreeMap<Club, Vec<f64>> = BTreeMap::new();
        let lately = |o: &&Occasion| (self.today - o.date).num_days() <= CARRIES_OF;
        for occasion in occasions.iter().filter(lately) {
            for ((series, club, quantity), values) in &occasion.figures.series {
                if (*series, *quantity) == (Series::Usual, Quantity::Carry) {
                    carries.entry(*club).or_default().extend(values);
                }
            }
        }
        let told = carries.into_iter();
        self.carries = told
            .filter_map(|(club, values)| Some((club, mean_of(&values, 0.0)?)))
            .collect();
    }
}

/// Carries of clubs are taken from sessions of so many days.
const CARRIES_OF: i64 = 365;
/// Proposals, at most.
pub const MOST: usize = 5;
/// Balls from which on a spread is told.
const LEAST_BALLS: usize = 8;
/// Shots of a round from the tee with the longest club, ours: fourteen holes of which four
/// are long.
const TEE_SHOTS: [(f64, f64); 2] = [(10.0, 400.0 * YARD), (4.0, 520.0 * YARD)];
/// How far a tee shot runs on, m, ours.
const RUN: f64 = 18.0;
/// Shots of a round with each other club: some twenty over nine clubs.
const SHOTS: f64 = 2.3;
/// Which part of the speed between a usual swing and a fast one comes into use, ours.
const PART_OF_SPEED: f64 = 0.5;
/// Which part of a spread can be won, ours.
const PART_OF_SPREAD: f64 = 0.2;
/// A gap so many times the usual is one.
const GAP: f64 = 1.5;
/// Days after which a measurement is old.
const OLD: i64 = 90;

/// What this player could work on, the most worth first.
pub fn next(question: &NextQuestion) -> Vec<NextItem> {
    let mut items = unclaimed(question);
    items.extend(speed(question).or_else(|| behind_peers(question)));
    items.extend(spread(question));
    items.extend(bag_gap(question));
    items.extend(measurement(question));
    items.extend(open_test(question));
    let chosen = |item: &NextItem| {
        let found = question.chosen.iter().find(|(key, _)| *key == item.key);
        found.map(|(_, pinned)| *pinned)
    };
    items.retain(|item| chosen(item) != Some(false));
    for item in &mut items {
        item.pinned = chosen(item) == Some(true);
    }
    let rank = |item: &NextItem| {
        let worth = item.worth.map(|worth| match question.by {
            RankedBy::Score => sure_half(worth.strokes),
            RankedBy::Distance => worth.carry.map_or(0.0, sure_half),
        });
        (item.pinned, worth.unwrap_or(f64::NEG_INFINITY))
    };
    items.sort_by(|a, b| {
        let (a, b) = (rank(a), rank(b));
        b.0.cmp(&a.0).then(b.1.total_cmp(&a.1))
    });
    items.truncate(MOST);
    items
}

/// The middle between what is to be expected and what is sure: a worth that may be nothing
/// counts for half.
fn sure_half(worth: Estimate) -> f64 {
    0.5 * (worth.value + worth.low.max(0.0))
}

/// Strokes in a round that `more` m of carry save with a club that carries `carry` m.
///
/// ```
/// use tally_core::physics::club::Club;
/// use tally_core::record::next::strokes_saved;
/// use tally_core::verdicts::house_rules::HouseRules;
/// let rules = HouseRules::default();
/// let driver = strokes_saved(Club::Driver, 200.0, 10.0, &rules);
/// assert!(driver > strokes_saved(Club::Iron7, 140.0, 10.0, &rules));
/// ```
pub fn strokes_saved(club: Club, carry: f64, more: f64, rules: &HouseRules) -> f64 {
    let strokes = |distance: f64| {
        expected_strokes(distance.max(20.0 * YARD), Lie::Fairway, rules.player_level)
    };
    if club == Club::Driver {
        let saved = TEE_SHOTS.map(|(shots, length)| {
            let left = length - RUN - carry;
            shots * (strokes(left) - strokes(left - more))
        });
        return saved.iter().sum();
    }
    SHOTS * (strokes(carry) - strokes(carry - more))
}

/// The worth of a change of carry.
fn worth_of(club: Club, from: f64, carry: Estimate, rules: &HouseRules) -> Worth {
    let strokes = |more: f64| strokes_saved(club, from, more, rules);
    Worth {
        carry: Some(carry),
        strokes: Estimate {
            value: strokes(carry.value),
            low: strokes(carry.low),
            high: strokes(carry.high),
            n: carry.n,
        },
    }
}

/// SD of an estimate.
fn sd(of: Estimate) -> f64 {
    (of.high - of.low) / (2.0 * NINETY)
}

/// The mean of values with its interval, widened by what all of them may be off together.
fn mean_of(values: &[f64], together: f64) -> Option<Estimate> {
    let n = values.len();
    if n < 3 {
        return None;
    }
    let mean = values.iter().sum::<f64>() / n as f64;
    let square: f64 = values.iter().map(|v| (v - mean).powi(2)).sum();
    let error = (square / ((n - 1) * n) as f64 + together * together).sqrt();
    Some(Estimate {
        value: mean,
        low: mean - NINETY * error,
        high: mean + NINETY * error,
        n,
    })
}

/// Unclaimed carry by its parts: each that is worth more than what makes no difference.
fn unclaimed(question: &NextQuestion) -> Vec<NextItem> {
    let (club, rules) = (question.club, &question.rules);
    let Some(mean) = Unclaimed::mean(&question.claimed) else {
        return vec![];
    };
    let levers = [Lever::BallSpeed, Lever::Launch, Lever::Spin, Lever::Curve];
    let items = levers.into_iter().filter_map(|lever| {
        let share = |claim: &Unclaimed| {
            let share = claim.shares.iter().find(|share| share.lever == lever);
            share.map_or(0.0, |share| share.carry)
        };
        let values: Vec<f64> = question.claimed.iter().map(share).collect();
        // The model's error is the whole's: each part has its share of it.
        let part = share(&mean).abs() / mean.whole().abs().max(1.0);
        let carry = mean_of(&values, mean.model_error * part.min(1.0))?;
        let matters = carry.value >= rules.carry_margin / 2.0 && carry.high > 0.0;
        matters.then(|| NextItem {
            key: format!("unclaimed {} {}", club.key(), lever.label()),
            kind: NextKind::Unclaimed,
            said: words::unclaimed(lever, carry, club),
            worth: Some(worth_of(club, mean.actual, carry, rules)),
            working: Some(words::unclaimed_working(lever, carry, &mean, question)),
            purpose: Some(match lever {
                Lever::BallSpeed => Purpose::Benchmark,
                _ => Purpose::LaunchAndSpin,
            }),
            club,
            pinned: false,
        })
    });
    items.collect()
}

/// Speed that fast swings have and usual ones do not.
fn speed(question: &NextQuestion) -> Option<NextItem> {
    let (club, rules) = (question.club, &question.rules);
    let (usual, fast) = (question.usual?, question.fast?);
    let gap = fast.value - usual.value;
    let error = sd(usual).hypot(sd(fast));
    if gap < rules.speed_margin || gap - NINETY * error <= 0.0 {
        return None;
    }
    let each = PART_OF_SPEED * rules.carry_per_speed(club, usual.value);
    let carry = Estimate {
        value: each * gap,
        low: each * (gap - NINETY * error),
        high: each * (gap + NINETY * error),
        n: usual.n.min(fast.n),
    };
    let from = rules.carry_of(club, usual.value);
    Some(NextItem {
        key: format!("speed {}", club.key()),
        kind: NextKind::Speed,
        said: words::speed(gap, carry, club).join(words::trend(question.trend.as_ref())),
        worth: Some(worth_of(club, from, carry, rules)),
        working: Some(words::speed_working(usual, fast, carry, question)),
        purpose: Some(Purpose::SpeedDay),
        club,
        pinned: false,
    })
}

/// Speed that others of the age and level have: nobody knows how much of it can be won, so
/// none of it is sure.
fn behind_peers(question: &NextQuestion) -> Option<NextItem> {
    let (club, rules) = (question.club, &question.rules);
    let (usual, rank) = (question.usual?, question.peers.rank?);
    let gap = rank.middle - usual.value;
    if question.growing || gap < rules.speed_margin {
        return None;
    }
    let each = rules.carry_per_speed(club, usual.value);
    let carry = Estimate {
        value: PART_OF_SPEED * each * gap,
        low: 0.0,
        high: each * gap,
        n: rank.n,
    };
    let from = rules.carry_of(club, usual.value);
    let said = words::behind_peers(gap, &question.peers, rank, carry, club);
    Some(NextItem {
        key: format!("peers {}", club.key()),
        kind: NextKind::Speed,
        said: said.join(words::trend(question.trend.as_ref())),
        worth: Some(worth_of(club, from, carry, rules)),
        working: Some(words::peers_working(usual, rank, carry, question)),
        purpose: Some(Purpose::SpeedDay),
        club,
        pinned: false,
    })
}

/// Balls that miss the fairway: what a spread narrower by a fifth would save from the tee.
fn spread(question: &NextQuestion) -> Option<NextItem> {
    let (club, rules) = (question.club, &question.rules);
    if club != Club::Driver || question.landed.len() < LEAST_BALLS {
        return None;
    }
    let middle = question.landed.iter().map(|b| b.side).sum::<f64>() / question.landed.len() as f64;
    let after = |side: f64, carry: f64| {
        let beyond = side.abs() - rules.fairway_width / 2.0;
        let lie = match beyond {
            _ if beyond <= 0.0 => Lie::Fairway,
            _ if beyond <= ROUGH => Lie::Rough,
            _ => Lie::Recovery,
        };
        let each = TEE_SHOTS.map(|(shots, length)| {
            let left = (length - RUN - carry).hypot(side).max(20.0 * YARD);
            shots * expected_strokes(left, lie, rules.player_level)
        });
        each.iter().sum::<f64>()
    };
    // A step at the edge of the fairway is rough: a ball is as its neighbours would be.
    let blurred = |ball: &Landed, narrower: f64| {
        let near = [-1.2, -0.4, 0.4, 1.2].map(|z| {
            let own = (ball.side - middle) * narrower + middle;
            after(own + z * SIDE_BLUR * narrower, ball.carry)
        });
        near.iter().sum::<f64>() / near.len() as f64
    };
    let saved = question.landed.iter();
    let saved = saved.map(|b| blurred(b, 1.0) - blurred(b, 1.0 - PART_OF_SPREAD));
    let strokes = mean_of(&saved.collect::<Vec<f64>>(), 0.0)?;
    let square: f64 = question
        .landed
        .iter()
        .map(|b| (b.side - middle).powi(2))
        .sum();
    let sd = (square / (question.landed.len() - 1) as f64).sqrt();
    (strokes.value > 0.0).then(|| NextItem {
        key: format!("spread {}", club.key()),
        kind: NextKind::Spread,
        said: words::spread(sd, strokes, club),
        worth: Some(Worth {
            carry: None,
            strokes,
        }),
        working: Some(words::spread_working(sd, strokes, question)),
        purpose: Some(Purpose::EffortLadder),
        club,
        pinned: false,
    })
}

/// Width of the rough beside a fairway, m, ours: beyond it the way to the green is blocked.
const ROUGH: f64 = 20.0 * YARD;
/// How far a ball might as well have landed beside where it did, m.
const SIDE_BLUR: f64 = 5.0;

/// The widest gap of the bag, where it is one.
fn bag_gap(question: &NextQuestion) -> Option<NextItem> {
    let rules = &question.rules;
    let mut told = question.carries.clone();
    told.sort_by(|a, b| b.1.value.total_cmp(&a.1.value));
    let gap_of = |pair: &[(Club, Estimate)]| pair[0].1.value - pair[1].1.value;
    // The tee clubs lie apart in every bag.
    let pairs = told.windows(2).filter(|pair| pair[0].0 != Club::Driver);
    let pair = pairs.max_by(|a, b| gap_of(a).total_cmp(&gap_of(b)))?;
    let [long, short] = [pair[0], pair[1]];
    let gap = gap_of(pair);
    if gap < GAP * rules.club_gap {
        return None;
    }
    let unsure = NINETY * sd(long.1).hypot(sd(short.1));
    // A shot wanted between two clubs misses by a quarter of the gap.
    let miss = |gap: f64| expected_strokes(5.0 * YARD + gap / 4.0, Lie::Green, rules.player_level);
    let strokes = |gap: f64| SHOTS * (miss(gap) - miss(rules.club_gap));
    let strokes = Estimate {
        value: strokes(gap),
        low: strokes(gap - unsure),
        high: strokes(gap + unsure),
        n: long.1.n.min(short.1.n),
    };
    Some(NextItem {
        key: format!("gap {} {}", long.0.key(), short.0.key()),
        kind: NextKind::BagGap,
        said: words::bag_gap(long, short),
        worth: Some(Worth {
            carry: None,
            strokes,
        }),
        working: Some(words::bag_gap_working(long, short, strokes, rules)),
        purpose: Some(Purpose::BagGapping),
        club: long.0,
        pinned: false,
    })
}

/// Spin that nobody measured for long: launch and spin are guessed without it.
fn measurement(question: &NextQuestion) -> Option<NextItem> {
    let recent = question
        .spin_measured
        .is_some_and(|day| (question.today - day).num_days() < OLD);
    (!recent).then(|| NextItem {
        key: format!("measure spin {}", question.club.key()),
        kind: NextKind::Measurement,
        said: words::measurement(question.spin_measured, question.today, question.club),
        worth: None,
        working: None,
        purpose: Some(Purpose::LaunchAndSpin),
        club: question.club,
        pinned: false,
    })
}

/// The latest test that told nothing yet.
fn open_test(question: &NextQuestion) -> Option<NextItem> {
    let test = question.open.first()?;
    Some(NextItem {
        key: format!("test {}", test.key),
        kind: NextKind::OpenTest,
        said: words::open_test(test, question.today),
        worth: None,
        working: None,
        purpose: None,
        club: question.club,
        pinned: false,
    })
}

#[cfg(test)]
mod tests;
