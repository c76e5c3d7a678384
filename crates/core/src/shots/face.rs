//! What a strike away from the middle of the face cost.
//!
//! From the player's own balls, at equal club speed: each place on the face takes its
//! toll on ball speed, launch, spin and carry, fitted together (least squares, Gauss 1809)
//! so that a strike low on the toe is charged to both. Where own balls are too few to
//! show a toll in carry, the impact and flight models say what such a strike costs.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::fly;
use crate::physics::impact::{Delivery, delivery_of, strike};
use crate::physics::launch::Launch;
use crate::shots::ball::{Ball, Strike, Strikes};
use crate::statistics::least_squares::{LeastSquares, least_squares};
use crate::statistics::summary::{Estimate, student_t};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::{Sentence, capital};
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// A side of the face.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Side {
    /// Below the middle.
    Low,
    /// Above it.
    High,
    /// Toward the toe.
    Toe,
    /// Toward the heel.
    Heel,
}

impl Side {
    const ALL: [Side; 4] = [Side::Low, Side::High, Side::Toe, Side::Heel];

    fn has(self, strike: Strike) -> bool {
        match self {
            Side::Low => strike.high < 0,
            Side::High => strike.high > 0,
            Side::Toe => strike.toe > 0,
            Side::Heel => strike.toe < 0,
        }
    }

    /// As said of a strike.
    pub fn in_words(self) -> &'static str {
        match self {
            Side::Low => "low on the face",
            Side::High => "high on the face",
            Side::Toe => "off the toe",
            Side::Heel => "off the heel",
        }
    }
}

/// What one value was, struck there, beyond what it is from the middle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Toll {
    /// Which value.
    pub quantity: Quantity,
    /// Struck there minus from the middle, internal units.
    pub difference: f64,
    /// Its interval; absent when the model gives it.
    pub interval: Option<Estimate>,
}

impl Toll {
    /// Whether the player's balls, or the model, show one.
    fn shown(&self) -> bool {
        self.interval.is_none_or(|i| i.low > 0.0 || i.high < 0.0)
    }
}

/// What strikes on one side of the face cost this player.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StrikeCost {
    /// The side.
    pub side: Side,
    /// Kept balls struck there.
    pub n: usize,
    /// Kept balls from the middle.
    pub middle: usize,
    /// From the player's own balls at equal club speed; empty where they are too few.
    pub own: Vec<Toll>,
    /// By the impact and flight models; empty where the launch is not known.
    pub model: Vec<Toll>,
    /// Whether the model's tolls are told, because the own balls show none in carry.
    pub by_model: bool,
    /// In words.
    pub sentence: Sentence,
}

/// The strikes of some balls with one club, and what those away from the middle cost.
#[derive(Debug, Clone, Default, PartialEq, Serialize, ToSchema)]
pub struct FaceRead {
    /// Where they were struck.
    pub strikes: Strikes,
    /// The sides that were struck, the costliest first.
    pub costs: Vec<StrikeCost>,
}

/// Values a strike takes its toll on, and whether they grow with club speed.
const TOLLS: [(Quantity, bool); 4] = [
    (Quantity::Carry, true),
    (Quantity::BallSpeed, true),
    (Quantity::LaunchAngle, false),
    (Quantity::SpinRate, false),
];

/// Reads the strikes of kept balls with `club`.
pub fn face<'a>(balls: impl Iterator<Item = &'a Ball>, club: Club, rules: &HouseRules) -> FaceRead {
    let kept = balls.filter(|b| b.kept() && b.club == club);
    let struck: Vec<(&Ball, Strike)> = kept
        .filter_map(|ball| Some((ball, ball.struck_as_told(rules)?)))
        .collect();
    let strikes = Strikes::of(struck.iter().map(|(ball, _)| *ball), rules);
    let middle = struck.iter().filter(|(_, at)| !off(*at)).count();
    let sides = Side::ALL.into_iter().filter(|side| {
        let there = |(_, strike): &(&Ball, Strike)| side.has(*strike);
        struck.iter().any(there)
    });
    let mut costs: Vec<StrikeCost> = sides
        .map(|side| cost(side, &struck, middle, club, rules))
        .collect();
    let carry = |cost: &StrikeCost| cost.carry().map_or(0.0, |toll| toll.difference);
    costs.sort_by(|a, b| carry(a).total_cmp(&carry(b)));
    FaceRead { strikes, costs }
}

impl Strikes {
    /// The side on which most of them are, when it is not the middle.
    pub fn mostly(&self) -> Option<Side> {
        let row = |i: usize| self.ninths[i].iter().sum::<usize>();
        let column = |i: usize| self.ninths.iter().map(|r| r[i]).sum::<usize>();
        [
            (row(0), Side::High),
            (row(2), Side::Low),
            (column(0), Side::Toe),
            (column(2), Side::Heel),
        ]
        .into_iter()
        .find(|(n, _)| 2 * n > self.of)
        .map(|(_, side)| side)
    }
}

impl FaceRead {
    /// What strikes on a side cost, in words.
    pub fn cost_of(&self, side: Side) -> Option<Sentence> {
        let cost = self.costs.iter().find(|cost| cost.side == side);
        cost.and_then(StrikeCost::toll_said)
    }
}

impl StrikeCost {
    /// What decides: the own balls' toll where they show one, else the model's.
    pub fn carry(&self) -> Option<&Toll> {
        self.told()
            .iter()
            .find(|toll| toll.quantity == Quantity::Carry)
    }

    /// The tolls that are told.
    fn told(&self) -> &[Toll] {
        if self.by_model {
            &self.model
        } else {
            &self.own
        }
    }

    fn model_is_told(&self) -> bool {
        let shown = |toll: &Toll| toll.quantity == Quantity::Carry && toll.shown();
        !self.model.is_empty() && !self.own.iter().any(shown)
    }

    /// What is told of it, in words: "300 rpm more, 12 yd less".
    pub fn toll_said(&self) -> Option<Sentence> {
        let told = self.told().iter().filter(|toll| toll.shown());
        let worded: Vec<Sentence> = told.filter_map(said).collect();
        let mut worded = worded.into_iter();
        let first = worded.next()?;
        Some(worded.fold(first, |all, next| all.words(", ").join(next)))
    }
}

/// One toll in words; nothing where it is none as shown.
fn said(toll: &Toll) -> Option<Sentence> {
    let (dimension, what) = match toll.quantity {
        Quantity::Carry => (Dimension::Distance, "carry"),
        Quantity::BallSpeed => (Dimension::Speed, "ball speed"),
        Quantity::SpinRate => (Dimension::Spin, "spin"),
        _ => (Dimension::Angle, "launch"),
    };
    (toll.difference.abs() >= dimension.grain()).then(|| {
        let way = if toll.difference < 0.0 {
            "less"
        } else {
            "more"
        };
        Sentence::default()
            .figure(toll.difference.abs(), dimension)
            .words(format!(" {way} {what}"))
    })
}

fn cost(
    side: Side,
    struck: &[(&Ball, Strike)],
    middle: usize,
    club: Club,
    rules: &HouseRules,
) -> StrikeCost {
    let n = struck.iter().filter(|(_, at)| side.has(*at)).count();
    let own = TOLLS
        .iter()
        .filter_map(|(quantity, grows)| own_toll(side, struck, *quantity, *grows, rules))
        .collect();
    let mut cost = StrikeCost {
        side,
        n,
        middle,
        own,
        model: modelled(side, struck, club, rules).unwrap_or_default(),
        by_model: false,
        sentence: Sentence::default(),
    };
    cost.by_model = cost.model_is_told();
    cost.sentence = sentence(&cost);
    cost
}

/// Balls on a side and in the middle without which own balls tell no toll.
const FEWEST: [usize; 2] = [2, 3];

/// The toll of a side on a value over the player's own balls, the other sides' taken out.
fn own_toll(
    side: Side,
    struck: &[(&Ball, Strike)],
    quantity: Quantity,
    grows: bool,
    rules: &HouseRules,
) -> Option<Toll> {
    let rows: Vec<(Strike, f64, Option<f64>)> = struck
        .iter()
        .filter_map(|(ball, at)| {
            let value = ball.counted(quantity, rules)?;
            Some((*at, value, ball.reading.get(Quantity::ClubSpeed)))
        })
        .collect();
    let there = rows.iter().filter(|(at, ..)| side.has(*at)).count();
    let centred = rows.iter().filter(|(at, ..)| !off(*at)).count();
    if there < FEWEST[0] || centred < FEWEST[1] {
        return None;
    }
    let speeds: Option<Vec<f64>> = rows.iter().map(|(.., speed)| *speed).collect();
    let equal = |i: usize| match &speeds {
        Some(speeds) if grows => speeds.iter().sum::<f64>() / speeds.len() as f64 / speeds[i],
        _ => 1.0,
    };
    let values: Vec<f64> = rows
        .iter()
        .enumerate()
        .map(|(i, r)| r.1 * equal(i))
        .collect();
    let fit = by_side(side, &rows, &values)?;
    let (difference, error) = fit.contrast(&{
        let mut weights = vec![0.0; fit.coefficients.len()];
        weights[1] = 1.0;
        weights
    });
    let grain = quantity.dimension().grain() / 12f64.sqrt();
    let half = student_t(rules.interval_level, fit.freedom) * error.max(grain);
    Some(Toll {
        quantity,
        difference,
        interval: Some(Estimate {
            value: difference,
            low: difference - half,
            high: difference + half,
            n: there,
        }),
    })
}

/// A level for the middle and a toll for each side that was struck, this one's first.
fn by_side(
    side: Side,
    rows: &[(Strike, f64, Option<f64>)],
    values: &[f64],
) -> Option<LeastSquares> {
    let column = |side: Side| -> Vec<f64> {
        rows.iter()
            .map(|(at, ..)| f64::from(side.has(*at)))
            .collect()
    };
    let mut columns = vec![vec![1.0; rows.len()], column(side)];
    let others = Side::ALL.into_iter().filter(|other| *other != side);
    columns.extend(others.map(column).filter(|c| c.contains(&1.0)));
    least_squares(&columns, values)
}

fn off(strike: Strike) -> bool {
    strike.toe != 0 || strike.high != 0
}

/// How far beyond the house's middle a strike lies that was only pointed at.
const POINTED: f64 = 1.6;

/// What the models say of a strike there, with the delivery of this player's balls.
fn modelled(
    side: Side,
    struck: &[(&Ball, Strike)],
    club: Club,
    rules: &HouseRules,
) -> Option<Vec<Toll>> {
    let centred: Vec<&Ball> = struck
        .iter()
        .filter(|(_, at)| !off(*at))
        .map(|(ball, _)| *ball)
        .collect();
    let there = struck.iter().filter(|(_, at)| side.has(*at));
    let measured: Vec<f64> = there
        .clone()
        .filter(|(ball, _)| ball.strike.is_none())
        .filter_map(|(ball, _)| place_of(side, ball))
        .collect();
    let place = if measured.is_empty() {
        let limit = match side {
            Side::Low | Side::High => rules.centre_high,
            Side::Toe | Side::Heel => rules.centre_toe,
        };
        POINTED * limit
    } else {
        measured.iter().sum::<f64>() / measured.len() as f64
    };
    let [toe, high] = match side {
        Side::Low => [0.0, -place],
        Side::High => [0.0, place],
        Side::Toe => [place, 0.0],
        Side::Heel => [-place, 0.0],
    };
    let head = club.head();
    // Without a ball from the middle, the launch is one from there and leads back to it.
    let (from, at) = if centred.is_empty() {
        let off: Vec<&Ball> = there.map(|(ball, _)| *ball).collect();
        (mean_launch(&off, rules)?, [toe, high])
    } else {
        (mean_launch(&centred, rules)?, [0.0, 0.0])
    };
    let delivery = delivery_of(&from, &head, at)?;
    let launch = |[toe, high]: [f64; 2]| {
        let moved = Delivery {
            impact_toe: toe,
            impact_high: high,
            ..delivery
        };
        strike(&moved, &head).ok()
    };
    let (middle, away) = (launch([0.0, 0.0])?, launch([toe, high])?);
    // A difference hardly moves with the air, so that of the day is not asked for.
    let air = Conditions::REFERENCE;
    let carry = |launch: &Launch| fly(launch, &air).ok().map(|flight| flight.carry);
    let toll = |quantity, difference| Toll {
        quantity,
        difference,
        interval: None,
    };
    Some(vec![
        toll(Quantity::Carry, carry(&away)? - carry(&middle)?),
        toll(Quantity::BallSpeed, away.ball_speed - middle.ball_speed),
        toll(
            Quantity::LaunchAngle,
            away.launch_angle_deg - middle.launch_angle_deg,
        ),
        toll(
            Quantity::SpinRate,
            away.spin_rate_rpm - middle.spin_rate_rpm,
        ),
    ])
}

/// How far toward a side a ball was measured to be struck, m.
fn place_of(side: Side, ball: &Ball) -> Option<f64> {
    let place = |quantity| ball.reading.get(quantity);
    match side {
        Side::Low => place(Quantity::ImpactHigh).map(|high| -high),
        Side::High => place(Quantity::ImpactHigh),
        Side::Toe => place(Quantity::ImpactToe),
        Side::Heel => place(Quantity::ImpactToe).map(|toe| -toe),
    }
}

/// The mean launch, straight, of balls whose spin counts.
fn mean_launch(balls: &[&Ball], rules: &HouseRules) -> Option<Launch> {
    let launches: Vec<[f64; 3]> = balls
        .iter()
        .filter_map(|ball| {
            let value = |quantity| ball.counted(quantity, rules);
            Some([
                value(Quantity::BallSpeed)?,
                value(Quantity::LaunchAngle)?,
                value(Quantity::SpinRate)?,
            ])
        })
        .collect();
    let n = launches.len() as f64;
    let mean = |i: usize| launches.iter().map(|l| l[i]).sum::<f64>() / n;
    (!launches.is_empty()).then(|| Launch {
        ball_speed: mean(0),
        launch_angle_deg: mean(1),
        launch_direction_deg: 0.0,
        spin_rate_rpm: mean(2),
        spin_axis_deg: 0.0,
    })
}

fn sentence(cost: &StrikeCost) -> Sentence {
    let words = cost.side.in_words();
    let balls = if cost.n == 1 { "ball" } else { "balls" };
    let said = Sentence::of(format!(
        "{} ({} {balls}, {} from the middle): ",
        capital(words),
        cost.n,
        cost.middle
    ));
    match cost.toll_said() {
        Some(toll) if cost.by_model => said
            .words("own balls do not tell yet; by the model ")
            .join(toll)
            .words("."),
        Some(toll) => said.join(toll).words(" at equal club speed."),
        None if cost.own.is_empty() => said.words("too few balls to tell what it cost."),
        None => said.words("no cost is seen."),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::impact::strike;
    use crate::shots::reading::{Provenance, Reading};
    use crate::vocabulary::units::{MPH, Units, YARD};

    /// A drive of the model itself, struck `high` above the middle.
    fn drive(mph: f64, toe: f64, high: f64, noise: f64) -> Ball {
        let delivery = Delivery {
            impact_toe: toe,
            impact_high: high,
            ..Delivery::straight(mph * MPH, 1.0, 14.0)
        };
        let launch = strike(&delivery, &Club::Driver.head()).unwrap();
        let carry = fly(&launch, &Conditions::REFERENCE).unwrap().carry;
        let mut reading = Reading::default();
        for (quantity, si) in [
            (Quantity::ClubSpeed, mph * MPH),
            (Quantity::BallSpeed, launch.ball_speed),
            (Quantity::LaunchAngle, launch.launch_angle_deg),
            (Quantity::SpinRate, launch.spin_rate_rpm),
            (Quantity::Carry, carry + noise),
            (Quantity::ImpactToe, toe),
            (Quantity::ImpactHigh, high),
        ] {
            reading.set(quantity, si, Provenance::Measured);
        }
        Ball::new(reading, Club::Driver, 0)
    }

    fn read(balls: &[Ball]) -> FaceRead {
        face(balls.iter(), Club::Driver, &HouseRules::default())
    }

    #[test]
    fn own_balls_tell_what_low_on_the_face_cost_at_equal_speed() {
        // The low ones are the fastest, as with full effort: by carry alone they gain.
        let mut balls: Vec<Ball> = (0..8)
            .map(|i| drive(100.0 + f64::from(i), 0.0, 0.0, f64::from(i % 3) - 1.0))
            .collect();
        balls.extend((0..3).map(|i| drive(112.0, 0.0, -0.012, f64::from(i) - 1.0)));
        let told = read(&balls);
        let low = &told.costs[0];
        assert_eq!((low.side, low.n, low.middle), (Side::Low, 3, 8));
        let truth = {
            let carry = |high| drive(104.4, 0.0, high, 0.0).reading.get(Quantity::Carry);
            carry(-0.012).unwrap() - carry(0.0).unwrap()
        };
        let carry = low.carry().unwrap();
        assert!(truth < -3.0 * YARD && carry.interval.is_some(), "{truth}");
        assert!(
            (carry.difference - truth).abs() < 3.0 * YARD,
            "{carry:?} against {truth}"
        );
        let said = low.sentence.show(Units::MphYd);
        assert!(
            said.starts_with("Low on the face (3 balls, 8 from the middle): "),
            "{said}"
        );
        assert!(
            said.contains("yd less carry") && said.contains("rpm more spin"),
            "{said}"
        );
    }

    #[test]
    fn one_ball_off_the_middle_is_told_by_the_model() {
        let mut balls = vec![drive(105.0, 0.0, 0.0, 0.0); 5];
        balls.push(drive(105.0, 0.022, 0.0, 2.0));
        let told = read(&balls);
        let toe = &told.costs[0];
        assert_eq!((toe.side, toe.own.len()), (Side::Toe, 0));
        let by_model = toe.carry().unwrap();
        let truth = drive(105.0, 0.022, 0.0, 0.0);
        let gap = truth.reading.get(Quantity::Carry).unwrap()
            - balls[0].reading.get(Quantity::Carry).unwrap();
        assert!((by_model.difference - gap).abs() < 0.5 * YARD);
        assert!(toe.sentence.show(Units::MphYd).contains("by the model"));
    }

    #[test]
    fn a_strike_low_on_the_toe_is_charged_to_both() {
        let carry = |balls: &[Ball], side| {
            let told = read(balls);
            let cost = told.costs.into_iter().find(|c| c.side == side).unwrap();
            cost.own[0].difference
        };
        let noise = |i: i32| f64::from(i % 3) - 1.0;
        let mut balls: Vec<Ball> = (0..9).map(|i| drive(105.0, 0.0, 0.0, noise(i))).collect();
        balls.extend((0..3).map(|i| drive(105.0, 0.0, -0.012, noise(i))));
        let alone = carry(&balls, Side::Low);
        balls.extend((0..3).map(|i| drive(105.0, 0.02, 0.0, noise(i))));
        balls.extend((0..3).map(|i| drive(105.0, 0.02, -0.012, noise(i))));
        assert!((carry(&balls, Side::Low) - alone).abs() < 3.0 * YARD);
    }

    #[test]
    fn without_strikes_there_is_nothing_to_read_and_without_launch_no_model() {
        assert_eq!(read(&[]), FaceRead::default());
        let mut hit = drive(105.0, 0.0, -0.02, 0.0);
        hit.reading.0.remove(&Quantity::SpinRate);
        let told = read(&[hit]);
        assert!(told.costs[0].carry().is_none());
        assert!(
            told.costs[0]
                .sentence
                .show(Units::MphYd)
                .contains("too few")
        );
    }
}
