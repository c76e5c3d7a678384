//! Whether two ways of hitting differ: short or full, head A or B, before or after.
//!
//! Every set is held against the first. Balls of one session are told apart with warm-up,
//! drift and the likeness of neighbours averaged over ([`crate::statistics`]); balls of
//! different days with the day as the unit; one day each tells no change from a good or a
//! bad day, and nothing is claimed. The plain difference stands beside the one that
//! decides. Sameness within the margin is decided by two one-sided tests (Schuirmann
//! 1987), which is the same as an interval of twice that level inside the margin. Spread,
//! bests and landing patterns are compared beside it.

mod ball_ratio;
mod basis;
mod claim;
mod difference;
mod words;

use crate::physics::ball_kind::BallKind;
use crate::physics::club::Club;
use crate::session::acts::Prepared;
use crate::session::label::{Felt, asks_full_effort, felt, without_turn};
use crate::session::purpose::Purpose;
use crate::session::read::Counts;
use crate::session::test_plan::more_balls;
use crate::shots::ball::{Ball, Strikes};
use crate::shots::face::{FaceRead, face};
use crate::shots::landing::{Pattern, landed, pattern};
use crate::statistics::looks::Looks;
use crate::statistics::summary::{Estimate, Summary, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::Dimension;
pub use ball_ratio::BallTold;
use ball_ratio::ball_told;
pub use basis::Basis;
use basis::decided;
pub use claim::Among;
use claim::{among, by_chance};
pub use difference::{Bests, Shuffled, SpreadRatio};
use difference::{Pair, bests, drift_seen, shuffled, spread_ratio, welch};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Sets that are compared at once, at most.
pub const MOST_SETS: usize = 12;

/// A set of balls with a name.
#[derive(Debug, Clone, PartialEq)]
pub struct BallSet {
    /// What it is called.
    pub label: String,
    /// Its balls, in hitting order.
    pub balls: Vec<Ball>,
    /// The kind of golf ball, where all were hit with one.
    pub ball: Option<BallKind>,
}

/// What is to be compared, and by what.
#[derive(Debug, Clone, PartialEq)]
pub struct CompareQuestion {
    /// The value that decides.
    pub quantity: Quantity,
    /// The sets; each is held against the first.
    pub sets: Vec<BallSet>,
    /// The difference that makes none, internal units; the house's when absent.
    pub margin: Option<f64>,
    /// Width of the fairway that patterns are held against, m; the house's when absent.
    pub fairway_width: Option<f64>,
    /// Carry between neighbouring clubs of this player, m, when known.
    pub club_gap: Option<f64>,
    /// Whether order and days are reckoned with; without, the balls stand as they fell.
    pub order_in: bool,
    /// Whether somebody looked while the balls were hit.
    pub looks: Looks,
    /// What the test was prepared for, when it was.
    pub prepared: Option<Prepared>,
    /// How often chance alone would show as much, of the other comparisons that were made
    /// for this player lately.
    pub others: Vec<f64>,
    /// How many balls there are, where only some of them were read, chosen evenly from every
    /// session.
    pub chosen_of: Option<usize>,
    /// The house's thresholds.
    pub rules: HouseRules,
}

/// One set, read.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SetRead {
    /// What it is called.
    pub label: String,
    /// How its balls stand.
    pub counts: Counts,
    /// Kept balls that have the value.
    pub values: usize,
    /// The value over kept balls.
    pub kept: Option<Summary>,
    /// The same with those set aside.
    pub with_set_aside: Option<Summary>,
    /// Where kept balls land, right of the line and carry, m.
    pub landings: Vec<[f64; 2]>,
    /// Their pattern.
    pub pattern: Option<Pattern>,
    /// The pattern with the balls set aside.
    pub pattern_with_set_aside: Option<Pattern>,
    /// Kept strikes from the middle.
    pub strikes: Strikes,
    /// Other values over kept balls.
    pub beside: Vec<BesideRead>,
}

/// A value that is told beside the one that decides.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BesideRead {
    /// Which.
    pub quantity: Quantity,
    /// Over kept balls.
    pub kept: Summary,
}

impl SetRead {
    /// A value beside the one that decides, over kept balls.
    pub fn told_beside(&self, quantity: Quantity) -> Option<&Summary> {
        let found = self.beside.iter().find(|b| b.quantity == quantity);
        found.map(|beside| &beside.kept)
    }
}

/// A set held against the first.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DifferenceRead {
    /// Place of the set.
    pub set: usize,
    /// How the question is answered for it.
    pub kind: VerdictKind,
    /// Its mean minus the first set's, as it decides.
    pub difference: Estimate,
    /// What that rests on.
    pub basis: Basis,
    /// The same as the balls fell (Welch 1947).
    pub raw: Estimate,
    /// The same with the balls set aside, as they fell.
    pub with_set_aside: Option<Estimate>,
    /// The straight change for each ball of a session, as it was seen.
    pub drift: Option<Estimate>,
    /// How often shuffled balls differ as much; only where they were hit about ball by
    /// ball, so that they could have been dealt so.
    pub shuffled: Option<Shuffled>,
    /// Spread over that of the first set.
    pub spread: Option<SpreadRatio>,
    /// Left–right spread over that of the first set.
    pub side_spread: Option<SpreadRatio>,
    /// Bests at equal numbers of tries.
    pub bests: Option<Bests>,
    /// How often chance alone would show as much, looks and sets reckoned with; no less
    /// than it is.
    pub chance: f64,
    /// The difference as it is likely to be seen again: drawn toward none by as much as it
    /// is unsure (Efron & Morris 1973), because the largest of many is told first.
    pub likely: f64,
    /// About how many more balls of each would tell.
    pub more_balls: Option<usize>,
    /// What the difference is worth in carry, m: for club speed, by the house factor.
    pub worth: Option<Estimate>,
    /// What that is in clubs.
    pub clubs: Option<Estimate>,
    /// What its kind of ball does against the first set's, where they differ.
    pub ball: Option<BallTold>,
}

/// What a comparison says.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CompareReport {
    /// The value that decides.
    pub quantity: Quantity,
    /// Level of the intervals: wider for several sets (Dunn 1961) and for looks while balls
    /// were hit.
    pub interval_level: f64,
    /// The difference that makes none, internal units.
    pub margin: f64,
    /// Width of the fairway, m.
    pub fairway_width: f64,
    /// The verdict.
    pub verdict: Verdict,
    /// The sets as asked.
    pub sets: Vec<SetRead>,
    /// Each further set against the first, where both have enough.
    pub differences: Vec<DifferenceRead>,
    /// How the sure difference stands among the other comparisons of these weeks.
    pub among: Option<Among>,
    /// Where on the face all of their balls were struck, and what that cost.
    pub face: FaceRead,
}

/// How much wider than Welch's an interval of balls hit in turns is, at least and at most:
/// what advised balls are reckoned with, as they are advised in turns. Few balls do not show
/// yet how alike neighbours are, so something is reckoned with always.
const WIDER: [f64; 2] = [1.08, 1.3];

/// Values told beside the one that decides.
const BESIDE: [Quantity; 8] = [
    Quantity::ClubSpeed,
    Quantity::BallSpeed,
    Quantity::SmashFactor,
    Quantity::LaunchAngle,
    Quantity::SpinRate,
    Quantity::Carry,
    Quantity::Side,
    Quantity::ImpactToe,
];

/// Compares sets of balls.
///
/// # Errors
/// [`Invalid`] for fewer than two or more than twelve sets, a margin or a fairway that is
/// not more than nothing.
/// Sets without enough balls are no error: the sentence says what is missing.
pub fn compare(question: &CompareQuestion) -> Result<CompareReport, Invalid> {
    let rules = &question.rules;
    let sets = &question.sets;
    if !(2..=MOST_SETS).contains(&sets.len()) {
        let remedy = format!("choose 2 to {MOST_SETS} sets");
        return Err(Invalid::new(
            "sets",
            sets.len(),
            "cannot be compared",
            remedy,
        ));
    }
    let margin = margin(question)?;
    let fairway_width = match question.fairway_width {
        Some(width) => within("fairway_width", width, 1.0..=200.0, "m")?,
        None => rules.fairway_width,
    };
    let once = 1.0 - (1.0 - rules.interval_level) / (sets.len() - 1) as f64;
    let hit: usize = sets
        .iter()
        .map(|set| values(&set.balls, question, Ball::kept).len())
        .sum();
    let level = question.looks.level(once, hit);
    let levels = [level, once];
    let read: Vec<SetRead> = sets
        .iter()
        .map(|set| read_set(set, question, fairway_width))
        .collect();
    let differences: Vec<DifferenceRead> = if words::mixed(sets).is_some() {
        vec![]
    } else {
        (1..sets.len())
            .filter_map(|i| against_first(question, i, margin, levels))
            .collect()
    };
    let balls = || question.sets.iter().flat_map(|set| &set.balls);
    let face = balls()
        .next()
        .map(|first| face(balls(), first.club, rules))
        .unwrap_or_default();
    let among = among(question, &differences);
    let verdict = words::verdict(question, &read, &differences, [margin, level], &face, among);
    Ok(CompareReport {
        quantity: question.quantity,
        interval_level: level,
        margin,
        fairway_width,
        verdict,
        sets: read,
        differences,
        among,
        face,
    })
}

/// Blocks that make a set.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SetProposal {
    /// What it is called.
    pub label: String,
    /// Labels of its blocks.
    pub blocks: Vec<String>,
}

/// The sets that a purpose's blocks make; each block is told by its label and whether it
/// asks for full effort. A speed day holds its full-speed blocks against the others, an
/// effort ladder every feel against stock, any other purpose each label against the one
/// hit first.
pub fn propose_sets(purpose: Purpose, blocks: &[(String, bool)]) -> Vec<SetProposal> {
    let full = |(label, full): &(String, bool)| *full || asks_full_effort(label);
    // A side of a speed day keeps the coach's own name where its turns share one.
    let side = |wanted: bool, otherwise: &str| {
        let mut names = blocks.iter().filter(|b| full(b) == wanted);
        let name = names.next().map(|(label, _)| without_turn(label));
        let shared = names.all(|(label, _)| Some(without_turn(label)) == name);
        name.filter(|_| shared).unwrap_or(otherwise).to_owned()
    };
    let (fast, usual) = (side(true, "Full speed"), side(false, "Normal"));
    let mut sets: Vec<SetProposal> = Vec::new();
    for block in blocks {
        let label = &block.0;
        let set = match purpose {
            Purpose::SpeedDay if full(block) => &fast,
            Purpose::SpeedDay => &usual,
            _ => label,
        };
        match sets.iter_mut().find(|known| known.label == *set) {
            Some(known) if known.blocks.contains(label) => {}
            Some(known) => known.blocks.push(label.clone()),
            None => sets.push(SetProposal {
                label: set.clone(),
                blocks: vec![label.clone()],
            }),
        }
    }
    if purpose == Purpose::EffortLadder {
        sets.sort_by(|a, b| {
            let place = |set: &SetProposal| match felt(&set.label) {
                Some(Felt::Stock) => f64::NEG_INFINITY,
                Some(Felt::Share(share)) => share,
                None => f64::INFINITY,
            };
            place(a).total_cmp(&place(b))
        });
    }
    sets.truncate(MOST_SETS);
    sets
}

/// Median carry between neighbouring clubs of a player, m, from the mean carry of each.
///
/// ```
/// use tally_core::trials::compare::club_gap;
/// assert_eq!(club_gap(&[120.0, 150.0, 134.0, 162.0]), Some(14.0));
/// assert_eq!(club_gap(&[120.0]), None);
/// ```
pub fn club_gap(carries: &[f64]) -> Option<f64> {
    let mut sorted = carries.to_vec();
    sorted.sort_by(f64::total_cmp);
    let mut gaps: Vec<f64> = sorted.windows(2).map(|pair| pair[1] - pair[0]).collect();
    gaps.sort_by(f64::total_cmp);
    let middle = gaps.len() / 2;
    match gaps.len() {
        0 => None,
        n if n % 2 == 1 => Some(gaps[middle]),
        _ => Some(0.5 * (gaps[middle - 1] + gaps[middle])),
    }
    .filter(|gap| *gap > 0.0)
}

/// A player's own gap between neighbouring clubs, m, from the kept balls of a session
/// with several of them.
pub fn own_gap<'a>(balls: impl IntoIterator<Item = &'a Ball>) -> Option<f64> {
    let mut carries: BTreeMap<Club, Vec<f64>> = BTreeMap::new();
    for ball in balls.into_iter().filter(|ball| ball.kept()) {
        if let Some(carry) = ball.reading.get(Quantity::Carry) {
            carries.entry(ball.club).or_default().push(carry);
        }
    }
    let means: Vec<f64> = carries
        .values()
        .map(|c| c.iter().sum::<f64>() / c.len() as f64)
        .collect();
    club_gap(&means)
}

fn margin(question: &CompareQuestion) -> Result<f64, Invalid> {
    let dimension = question.quantity.dimension();
    match question.margin {
        Some(margin) if margin > 0.0 && margin.is_finite() => Ok(margin),
        Some(margin) => Err(Invalid::new(
            "margin",
            margin,
            "is no margin",
            format!(
                "give more than 0, and no less than the device tells apart ({})",
                dimension.grain()
            ),
        )),
        None => Ok(question.rules.margin(question.quantity)),
    }
}

fn values(balls: &[Ball], question: &CompareQuestion, wanted: fn(&Ball) -> bool) -> Vec<f64> {
    balls
        .iter()
        .filter(|ball| wanted(ball))
        .filter_map(|ball| ball.counted(question.quantity, &question.rules))
        .collect()
}

fn read_set(set: &BallSet, question: &CompareQuestion, fairway_width: f64) -> SetRead {
    use crate::shots::standing::Standing;
    let rules = &question.rules;
    let level = rules.interval_level;
    let count = |standing| set.balls.iter().filter(|b| b.standing == standing).count();
    let kept = values(&set.balls, question, Ball::kept);
    let landings = |wanted: fn(&Ball) -> bool| -> Vec<[f64; 2]> {
        let balls = set.balls.iter().filter(|b| wanted(b));
        balls.filter_map(landed).collect()
    };
    let (kept_landings, hit_landings) = (landings(Ball::kept), landings(Ball::hit));
    let kept_pattern = pattern(&kept_landings, fairway_width, rules);
    let beside = BESIDE.into_iter().filter_map(|quantity| {
        let balls = set.balls.iter().filter(|b| b.kept());
        let values: Vec<f64> = balls.filter_map(|b| b.counted(quantity, rules)).collect();
        let kept = summarise(&values, level)?;
        Some(BesideRead { quantity, kept })
    });
    SetRead {
        label: set.label.clone(),
        counts: Counts {
            kept: count(Standing::Kept),
            set_aside: count(Standing::SetAside),
            doubtful: count(Standing::Doubtful),
        },
        values: kept.len(),
        kept: summarise(&kept, level),
        with_set_aside: summarise(&values(&set.balls, question, Ball::hit), level),
        pattern_with_set_aside: if hit_landings.len() == kept_landings.len() {
            kept_pattern.clone()
        } else {
            pattern(&hit_landings, fairway_width, rules)
        },
        pattern: kept_pattern,
        landings: kept_landings,
        strikes: Strikes::of(set.balls.iter().filter(|b| b.kept()), rules),
        beside: beside.collect(),
    }
}

fn against_first(
    question: &CompareQuestion,
    set: usize,
    margin: f64,
    levels: [f64; 2],
) -> Option<DifferenceRead> {
    let [level, once] = levels;
    let rules = &question.rules;
    let grain = question.quantity.dimension().grain();
    let (first, other) = (&question.sets[0].balls, &question.sets[set].balls);
    let pair = Pair::of(first, other, |ball| {
        ball.kept()
            .then(|| ball.counted(question.quantity, rules))
            .flatten()
    });
    if pair.first.len() < 2 || pair.other.len() < 2 {
        return None;
    }
    let (a, b) = (pair.first_values(), pair.other_values());
    let raw = welch(&a, &b, once, grain);
    let (difference, basis) = if question.order_in {
        let decided = decided(&pair, levels, grain);
        (decided.difference, decided.basis)
    } else {
        (welch(&a, &b, level, grain), Basis::AsTheyFell)
    };
    let kind = if basis.can_tell() {
        decide(&difference, margin)
    } else {
        VerdictKind::CannotTellYet
    };
    let within_a_session = !matches!(basis, Basis::Days | Basis::OneDayEach);
    let more_balls = (kind == VerdictKind::CannotTellYet && within_a_session)
        .then(|| {
            let wider = difference.half_width() / welch(&a, &b, level, grain).half_width();
            let least = if question.order_in { WIDER[0] } else { 1.0 };
            let wider = wider.clamp(least, WIDER[1]);
            more_balls(&a, &b, &difference, margin, [level, wider], rules)
        })
        .flatten();
    let with = |balls: &[Ball]| values(balls, question, Ball::hit);
    let (all_first, all_other) = (with(first), with(other));
    let (worth, clubs) = worth(question, &difference, first);
    let (chance, likely) = if basis.can_tell() {
        by_chance(&difference, levels, a.len() + b.len() - 2)
    } else {
        // One day each tells no change from a good day: nothing of it is evidence.
        (1.0, difference.value)
    };
    Some(DifferenceRead {
        set,
        kind,
        difference,
        basis,
        raw,
        with_set_aside: (all_first.len() + all_other.len() > a.len() + b.len())
            .then(|| welch(&all_first, &all_other, once, grain)),
        drift: drift_seen(&pair, once, grain),
        shuffled: pair.ball_by_ball().then(|| shuffled(&a, &b)),
        spread: spread_ratio(&a, &b, once, grain),
        side_spread: side_spread(first, other, once),
        bests: question
            .quantity
            .has_best()
            .then(|| bests(&pair.first_values(), &pair.other_values(), grain)),
        chance,
        likely,
        more_balls,
        worth,
        clubs,
        ball: ball_told(question, set, levels),
    })
}

/// The left–right spreads of the kept balls.
fn side_spread(first: &[Ball], other: &[Ball], level: f64) -> Option<SpreadRatio> {
    let sides = Pair::of(first, other, |ball| {
        ball.kept()
            .then(|| ball.reading.get(Quantity::Side))
            .flatten()
    });
    spread_ratio(
        &sides.first_values(),
        &sides.other_values(),
        level,
        Dimension::Distance.grain(),
    )
}

/// The interval against nothing and against the margin.
pub(crate) fn decide(difference: &Estimate, margin: f64) -> VerdictKind {
    if difference.low >= -margin && difference.high <= margin {
        VerdictKind::Same
    } else if difference.low > 0.0 {
        VerdictKind::Yes
    } else if difference.high < 0.0 {
        VerdictKind::No
    } else {
        VerdictKind::CannotTellYet
    }
}

/// A difference of speed in carry by what the house expects, and any of carry in clubs.
fn worth(
    question: &CompareQuestion,
    difference: &Estimate,
    first: &[Ball],
) -> (Option<Estimate>, Option<Estimate>) {
    let club = first.first().map_or(Club::Driver, |ball| ball.club);
    let worth = match question.quantity {
        Quantity::ClubSpeed => {
            let speeds = first
                .iter()
                .filter_map(|ball| ball.reading.get(Quantity::ClubSpeed));
            let speeds: Vec<f64> = speeds.collect();
            let mean = speeds.iter().sum::<f64>() / speeds.len().max(1) as f64;
            Some(difference.times(question.rules.carry_per_speed(club, mean)))
        }
        Quantity::Carry | Quantity::Total => Some(*difference),
        _ => None,
    };
    let gap = question.club_gap.unwrap_or(question.rules.club_gap);
    let clubs = worth.map(|worth| worth.times(1.0 / gap));
    let speed = question.quantity == Quantity::ClubSpeed;
    (worth.filter(|_| speed), clubs)
}

#[cfg(test)]
mod tests;
