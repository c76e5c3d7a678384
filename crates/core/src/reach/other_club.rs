//! What another club would do to a swing: its length, loft, head and shaft and the height of the
//! tee, each with what it is worth and how sure that is.
//!
//! The ball is the impact and flight models', struck all over the place that this player's
//! strikes scatter over. What a swing gives a club is published science where there is some
//! ([`SOURCES`]), and a wide band everywhere: each band is spread through the models, and bands
//! of different causes add as independent errors do. A player swings another club a little
//! otherwise, which no model sees; so the answer ends with the test of both.

mod build;
mod words;

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::fly_many;
use crate::physics::impact::{Contact, Delivery, Head, strike_with};
use crate::physics::launch::Launch;
use crate::physics::run::fly_to_rest;
use crate::statistics::crossing::crossing;
use crate::statistics::summary::Estimate;
use crate::verdicts::verdict::Verdict;
use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::sentence::Sentence;
pub use build::ClubBuild;
use serde::Serialize;
use utoipa::ToSchema;

/// Where the bands come from.
const SOURCES: [&str; 7] = [
    "Length and speed: Kenny, Wallace & Otto 2008 (longer drivers were faster and no less accurate in skilled hands); Cross & Nathan 2009 (how swing speed falls with a lever that is harder to turn). Sizes and band ours.",
    "Length and strike: ours, from no change (skilled players, Kenny et al. 2008) to 8 % wider for each inch.",
    "Head mass and speed: after Daish 1972 and Cross & Nathan 2009 (speed falls slowly with mass). Sizes and band ours.",
    "Loft: ours; most of a degree in the club arrives at the ball, the hands give some of it back.",
    "Shaft stiffness: Betzler, Monk, Wallace & Otto 2012; MacKenzie & Sprigings 2009; MacKenzie & Boucher 2017: no speed to speak of, a little more loft from a softer shaft, and not for everybody. Sizes ours.",
    "Tee height: ours; the strike moves up by most of it. That players hit more up at a higher ball is not in it: change the angle of attack where it was seen.",
    "Impact: Cochran & Stobbs 1968; Penner 2003. Scatter of strikes by Gauss–Hermite quadrature.",
];

/// One inch, m.
const INCH: f64 = 0.0254;
/// The longest club that the rules of golf allow, putters apart, m.
const LONGEST_ALLOWED: f64 = 48.0 * INCH;
/// A change of carry that is none to the model, m.
const NOTHING: f64 = 0.7;

/// What is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OtherClubQuestion {
    /// Kind of club.
    pub club: Club,
    /// The air and the ground.
    pub conditions: Conditions,
    /// How the player delivers the club of now.
    pub delivery: Delivery,
    /// What strikes stray by, toe to heel and high to low, m.
    pub scatter: [f64; 2],
    /// The club of now.
    pub now: ClubBuild,
    /// The other.
    pub other: ClubBuild,
    /// Steps that the other's shaft is softer; minus is stiffer.
    pub softer_steps: f64,
    /// How much higher the ball is teed with it, m.
    pub tee_higher: f64,
    /// Distance to the best loft that is as good, m.
    pub tolerance: f64,
}

/// Something that differs between the two.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Lever {
    /// Length of the club.
    Length,
    /// Loft of the head.
    Loft,
    /// Mass of the head.
    HeadMass,
    /// How much the head resists turning.
    Forgiveness,
    /// Stiffness of the shaft.
    Shaft,
    /// Height of the tee.
    Tee,
}

const LEVERS: [Lever; 6] = [
    Lever::Length,
    Lever::Loft,
    Lever::HeadMass,
    Lever::Forgiveness,
    Lever::Shaft,
    Lever::Tee,
];

/// Something that is not known exactly: low, middle and high.
struct Uncertain {
    lever: Lever,
    values: [f64; 3],
}

/// Places in [`UNCERTAIN`].
const SPEED_BY_LENGTH: usize = 0;
const SCATTER_BY_LENGTH: usize = 1;
const LOFT_ARRIVES: usize = 2;
const SPEED_BY_MASS: usize = 3;
const LOFT_BY_SOFTER: usize = 4;
const SPEED_BY_SOFTER: usize = 5;
const STRIKE_BY_TEE: usize = 6;

/// Speed as a power of length; scatter as a share for each inch; share of the loft that arrives;
/// speed as a power of head mass; degrees for each step; share of speed for each step; share of
/// the tee that the strike moves up by. [`SOURCES`] says where they are from.
static UNCERTAIN: [Uncertain; 7] = {
    const fn of(lever: Lever, values: [f64; 3]) -> Uncertain {
        Uncertain { lever, values }
    }
    [
        of(Lever::Length, [0.1, 0.3, 0.5]),
        of(Lever::Length, [0.08, 0.03, 0.0]),
        of(Lever::Loft, [0.6, 0.85, 1.0]),
        of(Lever::HeadMass, [-0.26, -0.19, -0.10]),
        of(Lever::Shaft, [-0.2, 0.3, 0.8]),
        of(Lever::Shaft, [-0.005, 0.0, 0.005]),
        of(Lever::Tee, [0.4, 0.7, 1.0]),
    ]
};

type Values = [f64; UNCERTAIN.len()];

/// What a swing makes of the ball.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ClubOutcome {
    /// Club speed, m/s.
    pub club_speed: f64,
    /// Ball speed from where it is usually struck, m/s.
    pub ball_speed: f64,
    /// Launch angle, deg.
    pub launch_angle_deg: f64,
    /// Spin rate, rpm.
    pub spin_rate_rpm: f64,
    /// Landing angle, deg.
    pub landing_angle_deg: f64,
    /// Mean carry over where it is struck, m.
    pub carry: f64,
    /// Mean total, m: that carry with the run from the usual place.
    pub total: f64,
    /// What carry strays by from the strike alone, m.
    pub carry_spread: f64,
    /// What the ball strays by to the side from the strike alone, m.
    pub side_spread: f64,
}

/// What one difference alone is worth.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LeverWorth {
    /// Which.
    pub lever: Lever,
    /// In words.
    pub said: Sentence,
    /// The swing with it alone.
    pub outcome: ClubOutcome,
    /// Carry it gives beyond the club of now, m, with its band.
    pub carry: Estimate,
    /// Club speed likewise, m/s.
    pub club_speed: Estimate,
    /// Where its band comes from, in a line.
    pub source: String,
}

/// What one loft would do with this swing.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LoftPoint {
    /// Loft of the club, deg.
    pub loft_deg: f64,
    /// Mean carry, m.
    pub carry: f64,
    /// Total, m.
    pub total: f64,
}

/// What another club would do.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OtherClub {
    /// The one conclusion.
    pub verdict: Verdict,
    /// With the club of now.
    pub now: ClubOutcome,
    /// With the other.
    pub other: ClubOutcome,
    /// Carry beyond the club of now, m, with its band.
    pub carry: Estimate,
    /// What differs, each alone.
    pub levers: Vec<LeverWorth>,
    /// How much wider strikes may scatter before a longer club carries no further: 1.4 is 40 %
    /// wider. Absent where it does not carry further, or does all the same.
    pub gone_at: Option<f64>,
    /// This swing with every loft about the other club's.
    pub lofts: Vec<LoftPoint>,
    /// The lofts that are best for it, in words; woods alone: an iron's loft is not for carry.
    pub loft_said: Option<Sentence>,
    /// What to know of it.
    pub cautions: Vec<Sentence>,
}

/// A swing with a club.
#[derive(Clone, Copy)]
struct Swing {
    delivery: Delivery,
    head: Head,
    scatter: [f64; 2],
}

/// Reads what the other club would do.
///
/// # Errors
/// [`Invalid`] for a value out of its range, named with the club it is of, and for a swing that
/// no ball flies from.
pub fn other_club(question: &OtherClubQuestion) -> Result<OtherClub, Invalid> {
    question.check()?;
    let middle: Values = std::array::from_fn(|i| UNCERTAIN[i].values[1]);
    let base = question.outcome(question.swing(&[], &middle))?;
    let differ: Vec<Lever> = LEVERS
        .into_iter()
        .filter(|l| question.differs(*l))
        .collect();
    let alone = differ.iter().map(|lever| {
        let (outcome, carry, club_speed) = question.worth(&[*lever], &base)?;
        Ok(LeverWorth {
            lever: *lever,
            said: words::lever(question, *lever),
            outcome,
            carry,
            club_speed,
            source: words::source(*lever).to_owned(),
        })
    });
    let levers = alone.collect::<Result<Vec<_>, Invalid>>()?;
    let (other, carry, _) = question.worth(&differ, &base)?;
    let gone_at = question.gone_at(&differ, &base)?;
    let lofts = question.lofts(&differ)?;
    Ok(OtherClub {
        verdict: words::verdict(question, &levers, [&base, &other], carry, gone_at),
        loft_said: question
            .club
            .teed()
            .then(|| words::lofts(&lofts, question.tolerance))
            .flatten(),
        cautions: words::cautions(question),
        now: base,
        other,
        carry,
        levers,
        gone_at,
        lofts,
    })
}

impl OtherClubQuestion {
    fn check(&self) -> Result<(), Invalid> {
        self.conditions.air()?;
        self.conditions.ground().check()?;
        self.delivery.check()?;
        inputs::check("scatter_toe", self.scatter[0])?;
        inputs::check("scatter_high", self.scatter[1])?;
        inputs::check("softer_steps", self.softer_steps)?;
        inputs::check("tee_higher", self.tee_higher)?;
        for (which, build) in [("now", &self.now), ("other", &self.other)] {
            build.check().map_err(|refused| Invalid {
                field: format!("{which}.{}", refused.field),
                ..refused
            })?;
        }
        Ok(())
    }

    /// How much it differs in a lever, in the lever's own measure.
    fn difference(&self, lever: Lever) -> f64 {
        let (now, other) = (&self.now, &self.other);
        match lever {
            Lever::Length => other.club_length_m - now.club_length_m,
            Lever::Loft => other.static_loft_deg - now.static_loft_deg,
            Lever::HeadMass => other.head_mass_g - now.head_mass_g,
            Lever::Forgiveness => other.forgiveness_pct - now.forgiveness_pct,
            Lever::Shaft => self.softer_steps,
            Lever::Tee => self.tee_higher,
        }
    }

    fn differs(&self, lever: Lever) -> bool {
        self.difference(lever).abs() > 1e-9
    }

    /// The swing with the club of now but for these levers.
    fn swing(&self, levers: &[Lever], values: &Values) -> Swing {
        let by = |lever: Lever| match levers.contains(&lever) {
            true => self.difference(lever),
            false => 0.0,
        };
        let inches = by(Lever::Length) / INCH;
        let longer = 1.0 + by(Lever::Length) / self.now.club_length_m;
        let heavier = 1.0 + by(Lever::HeadMass) / self.now.head_mass_g;
        let speed = longer.powf(values[SPEED_BY_LENGTH])
            * heavier.powf(values[SPEED_BY_MASS])
            * (1.0 + values[SPEED_BY_SOFTER] * by(Lever::Shaft));
        let own = self.delivery;
        let build = ClubBuild {
            head_mass_g: self.now.head_mass_g + by(Lever::HeadMass),
            forgiveness_pct: self.now.forgiveness_pct + by(Lever::Forgiveness),
            ..self.now
        };
        // A shorter club is struck no worse.
        let wider = (1.0 + values[SCATTER_BY_LENGTH] * inches).max(0.5);
        let loft = own.dynamic_loft_deg
            + values[LOFT_ARRIVES] * by(Lever::Loft)
            + values[LOFT_BY_SOFTER] * by(Lever::Shaft);
        Swing {
            delivery: Delivery {
                club_speed: own.club_speed * speed,
                dynamic_loft_deg: loft.max(own.angle_of_attack_deg),
                impact_high: (own.impact_high + values[STRIKE_BY_TEE] * by(Lever::Tee))
                    .clamp(-0.04, 0.04),
                ..own
            },
            head: build.head(self.club),
            scatter: self.scatter.map(|spread| spread * wider),
        }
    }

    /// What these levers together are worth beyond `base`: the outcome, carry and club speed.
    fn worth(
        &self,
        levers: &[Lever],
        base: &ClubOutcome,
    ) -> Result<(ClubOutcome, Estimate, Estimate), Invalid> {
        let middle: Values = std::array::from_fn(|i| UNCERTAIN[i].values[1]);
        let outcome = self.outcome(self.swing(levers, &middle))?;
        let [mut carry, mut speed] = [[0.0; 2]; 2];
        for (i, uncertain) in UNCERTAIN.iter().enumerate() {
            if !levers.contains(&uncertain.lever) {
                continue;
            }
            let at_ends = [0, 2].map(|end| {
                let mut values = middle;
                values[i] = uncertain.values[end];
                self.carried(self.swing(levers, &values))
            });
            let [low, high] = at_ends;
            let ends = [low?, high?];
            widen(&mut carry, outcome.carry, ends.map(|end| end.0));
            widen(&mut speed, outcome.club_speed, ends.map(|end| end.1));
        }
        let estimate = |value: f64, off: [f64; 2]| Estimate {
            value,
            low: value - off[0].sqrt(),
            high: value + off[1].sqrt(),
            n: 0,
        };
        Ok((
            outcome,
            estimate(outcome.carry - base.carry, carry),
            estimate(outcome.club_speed - base.club_speed, speed),
        ))
    }

    /// The factor on scatter at which a longer club carries no further than that of now.
    fn gone_at(&self, levers: &[Lever], base: &ClubOutcome) -> Result<Option<f64>, Invalid> {
        const WIDEST: f64 = 3.0;
        if !(levers.contains(&Lever::Length) && self.difference(Lever::Length) > 0.0) {
            return Ok(None);
        }
        let mut values: Values = std::array::from_fn(|i| UNCERTAIN[i].values[1]);
        values[SCATTER_BY_LENGTH] = 0.0;
        let swing = self.swing(levers, &values);
        let beyond = |factor: f64| {
            let scatter = swing.scatter.map(|spread| spread * factor);
            let carried = self.carried(Swing { scatter, ..swing });
            carried.map_or(f64::NEG_INFINITY, |(carry, _)| carry - base.carry)
        };
        if beyond(1.0) <= NOTHING || beyond(WIDEST) > 0.0 {
            return Ok(None);
        }
        Ok(Some(crossing(1.0, WIDEST, |factor| -beyond(factor))))
    }

    /// This swing, with all that differs, at the lofts about the other club's.
    fn lofts(&self, levers: &[Lever]) -> Result<Vec<LoftPoint>, Invalid> {
        let middle: Values = std::array::from_fn(|i| UNCERTAIN[i].values[1]);
        let swing = self.swing(levers, &middle);
        let arrives = middle[LOFT_ARRIVES];
        let (dynamic, attack) = (
            swing.delivery.dynamic_loft_deg,
            swing.delivery.angle_of_attack_deg,
        );
        let halves = -12..=12;
        let lofts = halves.map(|half| 0.5 * f64::from(half)).filter(|off| {
            let loft = self.other.static_loft_deg + off;
            inputs::check("static_loft_deg", loft).is_ok() && dynamic + arrives * off > attack + 2.0
        });
        lofts
            .map(|off| {
                let delivery = Delivery {
                    dynamic_loft_deg: dynamic + arrives * off,
                    ..swing.delivery
                };
                let outcome = self.outcome(Swing { delivery, ..swing })?;
                Ok(LoftPoint {
                    loft_deg: self.other.static_loft_deg + off,
                    carry: outcome.carry,
                    total: outcome.total,
                })
            })
            .collect()
    }

    /// The ball of a swing struck there.
    fn launch(&self, swing: &Swing, [toe, high]: [f64; 2]) -> Launch {
        let delivery = Delivery {
            impact_toe: (swing.delivery.impact_toe + toe).clamp(-0.04, 0.04),
            impact_high: (swing.delivery.impact_high + high).clamp(-0.04, 0.04),
            ..swing.delivery
        };
        let launch = strike_with(&delivery, &swing.head, &Contact::CALIBRATED);
        launch.at(self.conditions.liveliness() * launch.ball_speed)
    }

    /// Mean carry over where it is struck, and club speed.
    fn carried(&self, swing: Swing) -> Result<(f64, f64), Invalid> {
        let (flown, _) = self.scattered(&swing)?;
        Ok((flown[0], swing.delivery.club_speed))
    }

    /// Mean carry, its spread and that to the side, and the flights behind them.
    fn scattered(&self, swing: &Swing) -> Result<([f64; 3], Vec<Launch>), Invalid> {
        // Three points a way carry a normal scatter's first five moments.
        let ways: [(f64, f64); 3] = [
            (-(3f64.sqrt()), 1.0 / 6.0),
            (0.0, 2.0 / 3.0),
            (3f64.sqrt(), 1.0 / 6.0),
        ];
        let places = ways
            .iter()
            .flat_map(|(toe, a)| ways.iter().map(move |(high, b)| ([*toe, *high], a * b)));
        let (launches, weights): (Vec<Launch>, Vec<f64>) = places
            .map(|([toe, high], weight)| {
                let at = [toe * swing.scatter[0], high * swing.scatter[1]];
                (self.launch(swing, at), weight)
            })
            .unzip();
        let flights = fly_many(&launches, &self.conditions)?;
        let mean = |of: &dyn Fn(usize) -> f64| -> f64 {
            weights.iter().enumerate().map(|(i, w)| w * of(i)).sum()
        };
        let carry = mean(&|i| flights[i].carry);
        let side = mean(&|i| flights[i].side);
        let carries = mean(&|i| (flights[i].carry - carry).powi(2)).sqrt();
        let sides = mean(&|i| (flights[i].side - side).powi(2)).sqrt();
        Ok(([carry, carries, sides], launches))
    }

    fn outcome(&self, swing: Swing) -> Result<ClubOutcome, Invalid> {
        let ([carry, carry_spread, side_spread], launches) = self.scattered(&swing)?;
        let launch = launches[launches.len() / 2];
        let (flight, rest) = fly_to_rest(&launch, &self.conditions)?;
        Ok(ClubOutcome {
            club_speed: swing.delivery.club_speed,
            ball_speed: launch.ball_speed,
            launch_angle_deg: launch.launch_angle_deg,
            spin_rate_rpm: launch.spin_rate_rpm,
            landing_angle_deg: flight.landing_angle_deg,
            carry,
            total: carry + rest.run,
            carry_spread,
            side_spread,
        })
    }
}

/// Adds the square of how far the ends lie below and above the middle.
fn widen(off: &mut [f64; 2], middle: f64, ends: [f64; 2]) {
    let below = ends.iter().fold(0.0f64, |most, end| most.max(middle - end));
    let above = ends.iter().fold(0.0f64, |most, end| most.max(end - middle));
    off[0] += below * below;
    off[1] += above * above;
}

#[cfg(test)]
mod tests;
