//! The coach's own thresholds and factors, with our defaults and their sources.
//!
//! No threshold stands in a formula: each is a rule here, so that a coach can see it
//! in *Working* and change it. [`RULES`] is the one table: the struct, its defaults
//! and the screen that edits it all come from it.

use crate::physics::club::Club;
use crate::physics::furthest::{Useful, furthest_carry};
use crate::physics::impact::LEGAL_SMASH;
use crate::statistics::looks::Looks;
use crate::verdicts::build::Build;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::{Dimension, FOOT, MPH, YARD};
use serde::Serialize;
use utoipa::ToSchema;

/// What kind of number a rule is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "kind", content = "of")]
pub enum RuleKind {
    /// A value in internal units, shown in the coach's.
    Of(Dimension),
    /// A share from 0 to 1, shown as per cent.
    Share,
    /// A whole number.
    Count,
    /// Seconds.
    Seconds,
    /// A length for each unit of speed, shown as feet for each mile an hour.
    HeightPerSpeed,
    /// 1 for yes, 0 for no.
    YesNo,
}

impl RuleKind {
    /// How many internal units one `unit` is: a dimension's unit by its suffix, `pct`
    /// for a share, `s` for seconds, `ft_per_mph` for a height for each speed, and none
    /// for numbers alone.
    fn size(self, field: &str, unit: &str) -> Result<f64, Invalid> {
        let field = format!("{field}.unit");
        let (expected, size) = match self {
            RuleKind::Of(dimension) => return Ok(dimension.unit_of_suffix(&field, unit)?.size()),
            RuleKind::Share => ("pct", 0.01),
            RuleKind::Seconds => ("s", 1.0),
            RuleKind::HeightPerSpeed => ("ft_per_mph", FOOT / MPH),
            RuleKind::Count | RuleKind::YesNo => ("", 1.0),
        };
        if unit == expected {
            Ok(size)
        } else {
            let remedy = format!("use {expected:?}");
            Err(Invalid::new(
                field,
                unit,
                "is not a unit for this rule",
                remedy,
            ))
        }
    }
}

/// One rule as it is offered.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Rule {
    /// Its name in files and the API.
    #[schema(value_type = String)]
    pub key: &'static str,
    /// What it belongs to.
    #[schema(value_type = String)]
    pub group: &'static str,
    /// Its name on screen.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// What kind of number it is.
    pub kind: RuleKind,
    /// Our value, internal units.
    pub default: f64,
    /// Least accepted.
    pub from: f64,
    /// Most accepted.
    pub to: f64,
    /// Why ours is what it is.
    #[schema(value_type = String)]
    pub source: &'static str,
}

macro_rules! house_rules {
    ($($key:ident: $group:literal, $label:literal, $kind:expr, $default:expr, $range:expr, $source:literal;)*) => {
        /// Every rule that the computations take from the house. Each field is a row of
        /// [`RULES`], in internal units.
        #[derive(Debug, Clone, Copy, PartialEq)]
        pub struct HouseRules {
            $(#[doc = $label] #[doc = ""] #[doc = $source] pub $key: f64,)*
            /// House factors the coach set, m of carry per m/s of club speed, by club.
            pub factors: [Option<f64>; Club::COUNT],
        }

        /// Every rule, in the order it is shown; house factors stand apart.
        pub static RULES: &[Rule] = &[$(Rule {
            key: stringify!($key),
            group: $group,
            label: $label,
            kind: $kind,
            default: $default,
            from: $range[0],
            to: $range[1],
            source: $source,
        },)*];

        impl Default for HouseRules {
            fn default() -> Self {
                Self { $($key: $default,)* factors: [None; Club::COUNT] }
            }
        }

        impl HouseRules {
            fn field(&mut self, key: &str) -> Option<&mut f64> {
                match key {
                    $(stringify!($key) => Some(&mut self.$key),)*
                    _ => None,
                }
            }
        }
    };
}

use RuleKind::{Count, HeightPerSpeed, Of, Seconds, Share, YesNo};

house_rules! {
    interval_level: "Verdicts", "Level of every interval", Share, 0.90, [0.5, 0.99],
        "The level at which two one-sided tests at 5 % decide sameness (Schuirmann 1987).";
    carry_margin: "Verdicts", "Carry that makes no difference", Of(Dimension::Distance), 5.0 * YARD, [0.5, 50.0],
        "About half the gap between neighbouring clubs.";
    speed_margin: "Verdicts", "Club or ball speed that makes no difference", Of(Dimension::Speed), MPH, [0.1, 10.0],
        "What a good radar and a steady player cannot tell apart.";
    angle_margin: "Verdicts", "Angle that makes no difference", Of(Dimension::Angle), 1.0, [0.1, 10.0],
        "What moves a driver's carry by a yard or two.";
    spin_margin: "Verdicts", "Spin that makes no difference", Of(Dimension::Spin), 300.0, [20.0, 3000.0],
        "What moves a driver's carry by two or three yards.";
    smash_margin: "Verdicts", "Smash factor that makes no difference", Of(Dimension::Ratio), 0.02, [0.005, 0.2],
        "Two yards of a driver's carry.";
    height_margin: "Verdicts", "Apex that makes no difference", Of(Dimension::Height), 10.0 * FOOT, [0.3, 15.0],
        "What a degree of launch does.";
    time_margin: "Verdicts", "Time in the air that makes no difference", Of(Dimension::Time), 0.2, [0.05, 2.0],
        "What a degree of launch does.";
    strike_margin: "Verdicts", "Place on the face that makes no difference", Of(Dimension::FaceOffset), 0.004, [0.001, 0.02],
        "Half the middle of a driver's face.";
    force_margin: "Verdicts", "Ground force that makes no difference", Of(Dimension::BodyWeight), 5.0, [1.0, 50.0],
        "What steady players differ by from swing to swing.";
    newton_margin: "Verdicts", "Ground force in newtons that makes no difference", Of(Dimension::Force), 37.0, [5.0, 400.0],
        "The same for a player of 75 kg.";
    torque_margin: "Verdicts", "Torque that makes no difference", Of(Dimension::Torque), 5.0, [1.0, 100.0],
        "What steady players differ by from swing to swing.";
    torque_mass_margin: "Verdicts", "Torque by mass that makes no difference", Of(Dimension::TorquePerMass), 0.07, [0.01, 2.0],
        "The same for a player of 75 kg.";
    moment_margin: "Verdicts", "Moment of the peak that makes no difference", Of(Dimension::Moment), 0.015, [0.002, 0.2],
        "What steady players differ by from swing to swing.";
    peak_early: "Verdicts", "A vertical peak this long before impact can still help", Of(Dimension::Moment), 0.03, [0.0, 0.3],
        "Ours: good players’ vertical peaks come well before impact; what is pushed later cannot reach the club any more.";
    verdict_power: "Verdicts", "Chance of a verdict that advised balls should give", Share, 0.80, [0.5, 0.95],
        "The usual choice when a test is planned (Cohen 1988).";
    club_gap: "Verdicts", "Carry between neighbouring clubs, when the player's own is not known", Of(Dimension::Distance), 12.0 * YARD, [5.0, 40.0],
        "Half an inch and four degrees from club to club.";
    bag_known: "Verdicts", "How well the carry of a club of the bag should be known, either way", Of(Dimension::Distance), 4.0 * YARD, [1.0, 15.0],
        "A third of the usual gap between neighbours.";
    most_more_balls: "Verdicts", "Balls beyond which more is no advice", Count, 200.0, [10.0, 2000.0],
        "More than two long sessions.";
    smash_limit: "Trust", "Highest smash factor believed", Of(Dimension::Ratio), LEGAL_SMASH, [1.3, 1.8],
        "The limit on restitution in the rules of golf allows about 1.50, and devices round.";
    carry_mismatch: "Trust", "Carry may differ from its launch's flight by", Share, 0.15, [0.02, 0.6],
        "Three times what wind and balls do.";
    ball_speed_mismatch: "Trust", "Ball speed may differ from its delivery's by", Share, 0.12, [0.02, 0.6],
        "Twice what strike and head explain in our impact model.";
    spin_mismatch: "Trust", "Spin may differ from its delivery's by", Share, 0.45, [0.1, 0.9],
        "Four times the impact model's own spread of 10 %.";
    axis_mismatch_deg: "Trust", "Spin axis may differ from its delivery's by", Of(Dimension::Angle), 15.0, [3.0, 60.0],
        "Gear effect and face to path together, with three times a camera's noise.";
    side_mismatch: "Trust", "Side may differ from its launch's flight by, share of carry", Share, 0.12, [0.02, 0.5],
        "A crosswind of 5 m/s moves a middle iron about 6 % of its carry.";
    calculated_spin: "Trust", "Calculated spin counts in spin figures", YesNo, 0.0, [0.0, 1.0],
        "A value that a device worked out is not something to practise on.";
    pair_window_s: "Trust", "Readings of two devices this close are one shot", Seconds, 2.5, [0.2, 10.0],
        "Devices stamp a shot at impact or up to two seconds later, when the ball lands in view.";
    agreement_level: "Trust", "Share of differences within the limits of agreement", Share, 0.95, [0.5, 0.99],
        "Bland and Altman (1986).";
    doubtful_sessions: "Trust", "Latest sessions that the doubtful list looks through", Count, 60.0, [1.0, 500.0],
        "A month of a busy school: older sessions are read one by one.";
    efficiency_solid: "Reach", "Share of the furthest that a solid shot makes, driver and woods", Share, 0.97, [0.7, 1.0],
        "The reference averages of elite men carry 96 to 98 % of our furthest at their speeds.";
    efficiency_typical: "Reach", "Share of the furthest that a typical shot makes, driver and woods", Share, 0.91, [0.6, 1.0],
        "Ours: six hundredths under solid, for the balls that are not struck well.";
    efficiency_solid_irons: "Reach", "The same of a solid shot with hybrids, irons and wedges", Share, 0.95, [0.7, 1.0],
        "The reference averages of elite men carry 92 to 100 % of our furthest that is useful, 96 in the mean; ours is a little less.";
    efficiency_typical_irons: "Reach", "The same of a typical shot with hybrids, irons and wedges", Share, 0.89, [0.6, 1.0],
        "Ours: as much under solid as with the driver.";
    apex_per_speed: "Useful flight", "Least apex of an iron for its club speed", HeightPerSpeed, Useful::USUAL.apex_per_speed, [0.2, 1.4],
        "As many feet as miles an hour.";
    landing_least_deg: "Useful flight", "Least landing angle that holds a green", Of(Dimension::Angle), Useful::USUAL.landing_least_deg, [25.0, 60.0],
        "Elite averages land at 46 to 52°, on greens that take less.";
    delofted_deg: "Useful flight", "Dynamic loft under the reference that is delofted", Of(Dimension::Angle), 4.0, [1.0, 15.0],
        "One club's worth.";
    spin_share: "Useful flight", "Share of the reference spin that may be missing", Share, Useful::USUAL.spin_share, [0.05, 0.8],
        "Twice the impact model's own spread.";
    curve_most_deg: "Useful flight", "Spin axis beyond which a shot curves too far", Of(Dimension::Angle), 12.0, [3.0, 45.0],
        "About eight yards of curve in a hundred and fifty.";
    window_tolerance: "Launch and spin", "Distance to the best that is as good", Of(Dimension::Distance), 3.0 * YARD, [0.5, 20.0],
        "What the flight model can tell apart.";
    sound_launch_deg: "Launch and spin", "Launch either side of the reference that is sound", Of(Dimension::Angle), 2.0, [0.5, 8.0],
        "Half a club's step.";
    sound_spin_share: "Launch and spin", "Share of the reference spin either side that is sound", Share, 0.15, [0.03, 0.6],
        "The spread of a steady player's spin.";
    pattern_share: "Landing", "Share of shots that a pattern's ellipse and circle hold", Share, 0.80, [0.5, 0.95],
        "Four balls of five: what a player can plan on.";
    fairway_width: "Landing", "Fairway a pattern is held against", Of(Dimension::Distance), 32.0 * YARD, [5.0, 100.0],
        "A usual width where drives land.";
    shared_spread: "Landing", "Balls' worth of spread that an effort takes from the others", Count, 6.0, [1.0, 100.0],
        "Three balls alone say little of a spread; the trend over all efforts says more (Smyth 2004).";
    centre_toe: "Landing", "Strike either side of the middle that is centred", Of(Dimension::FaceOffset), 0.009, [0.002, 0.03],
        "A third of a driver's useful face.";
    centre_high: "Landing", "Strike above or below the middle that is centred", Of(Dimension::FaceOffset), 0.007, [0.002, 0.03],
        "A third of a driver's useful face.";
    player_level: "Landing", "Strokes a round that a player is above the baseline", Count, 14.0, [0.0, 60.0],
        "A sound club player; the baseline is that of the best professionals (Broadie 2012).";
    green_radius: "Landing", "Distance from the hole that is still green", Of(Dimension::Distance), 13.0 * YARD, [5.0, 40.0],
        "A green of 500 square metres.";
    stretch: "Warm-up effect", "Swings of a stretch, for the best and the last", Count, 5.0, [3.0, 20.0],
        "Enough to even out single swings, short enough to move.";
    step_tolerance: "Plans", "Speed either side of a step that meets it", Share, 0.02, [0.005, 0.1],
        "Two miles an hour at a hundred: what a player can hold on purpose.";
    full_swings: "Plans", "Full-effort swings that a session proposes, at most", Count, 40.0, [5.0, 120.0],
        "What overspeed studies of grown players used in a session, and no more.";
    full_swings_growing: "Plans", "The same for players who still grow", Count, 10.0, [0.0, 60.0],
        "Growing bones take few all-out efforts, with rests between.";
    full_swings_week: "Plans", "Full-effort swings in seven days, at most", Count, 120.0, [10.0, 400.0],
        "Ours: three such sessions, with days between.";
    full_swings_week_growing: "Plans", "The same for players who still grow", Count, 20.0, [0.0, 120.0],
        "Ours: two such sessions, with days between.";
    full_swings_beginning: "Plans", "Full-effort swings that a beginner's training proposes, at most", Count, 20.0, [3.0, 80.0],
        "Half of a trained player's: tendons take longer than speed does.";
    full_swings_week_beginning: "Plans", "The same in seven days", Count, 60.0, [6.0, 240.0],
        "Ours: three such sessions, with days between.";
    beginner_sessions: "Plans", "Training sessions before a player is no beginner any more", Count, 8.0, [0.0, 50.0],
        "Ours: about a month of training.";
    stop_swings: "Plans", "All-out swings whose middle says whether to stop", Count, 8.0, [4.0, 20.0],
        "Fewer stray too far by themselves: one mishit is no fatigue.";
    stop_drop: "Plans", "Their share under the session's best that says stop", Share, 0.03, [0.01, 0.15],
        "Ours, by simulated sessions: few ordinary ones are stopped, and most that lose five in a hundred.";
    implement_share: "Plans", "Mass of an implement beside the driver's, either way, that a protocol keeps to", Share, 0.2, [0.05, 0.6],
        "Where swings stay swings: DeRenne, Buxton, Hetzler and Ho 1995; Szymanski, DeRenne and Spaniol 2009.";
    swing_jump: "Plans", "Share over the middle of the same swings that no player gains at once", Share, 0.15, [0.05, 0.5],
        "Three times what a wild swinger strays: a passing club, or a slip of the finger.";
    whole_run: "Plans", "Share of its swings that makes a session whole", Share, 0.8, [0.3, 1.0],
        "Ours: one set of five may be left out.";
    all_swings: "Plans", "Swings that a session proposes, at most", Count, 150.0, [20.0, 400.0],
        "A long session of an hour and a half.";
    all_swings_growing: "Plans", "The same for players who still grow", Count, 70.0, [10.0, 200.0],
        "Half of a grown player's.";
    off_day: "Plans", "Share under the session before that is an off day", Share, 0.025, [0.01, 0.15],
        "Twice what club speed strays from day to day.";
    check_in_weeks: "Records", "Weeks after which a player who checks in is due again", Count, 4.0, [1.0, 52.0],
        "Two check-ins a month apart tell a change of a mile an hour a month in half a year.";
    level_weeks: "Records", "Weeks without change after which a level is looked at", Count, 4.0, [2.0, 52.0],
        "Ours: a month of weekly check-ins.";
    days_to_balls: "Records", "Spread between days as a share of that between balls, where few days tell it", Share, 0.5, [0.1, 2.0],
        "Ours, until your own players show it.";
    fitting_speed: "Records", "Change of usual club speed after which the club's fit is looked at", Of(Dimension::Speed), 5.0 * MPH, [0.4, 10.0],
        "Ours: about what lies between two flexes of a shaft.";
    keep_years: "Records", "Years for which records are kept after a player's last session", Count, 5.0, [1.0, 30.0],
        "Long enough to see a child grow up and come back; the law of your country may say less.";
}

/// House factors accepted, m of carry per m/s of club speed.
const FACTORS: std::ops::RangeInclusive<f64> = 1.0..=8.0;

/// A value of the rule `key`, typed in `unit`, in internal units.
///
/// # Errors
/// [`Invalid`] when there is no such rule, it does not take the unit, or the value is
/// out of its range, which is then told in the same unit.
pub fn accept(key: &str, value: f64, unit: &str) -> Result<f64, Invalid> {
    let (kind, range) = if let Some(club) = key.strip_prefix("factor_") {
        Club::from_key("key", club)?;
        (Of(Dimension::CarryPerSpeed), FACTORS)
    } else {
        let rule = find(key)?;
        (rule.kind, rule.from..=rule.to)
    };
    let size = kind.size(key, unit)?;
    let round = |end: f64| (end / size * 1e3).round() / 1e3;
    within(
        key,
        value,
        round(*range.start())..=round(*range.end()),
        unit,
    )?;
    let internal = match kind {
        // Exact where a product would not be: 95 % is 0.95.
        Share => value / 100.0,
        _ => value * size,
    };
    Ok(internal.clamp(*range.start(), *range.end()))
}

fn find(key: &str) -> Result<&'static Rule, Invalid> {
    RULES.iter().find(|rule| rule.key == key).ok_or_else(|| {
        let keys: Vec<_> = RULES.iter().map(|r| r.key).collect();
        let remedy = format!("use one of {}", keys.join(", "));
        Invalid::new("key", key, "is not a house rule", remedy)
    })
}

impl HouseRules {
    /// Sets a rule, or with no value takes our own again. `factor_` with a club's key
    /// is that club's house factor.
    ///
    /// # Errors
    /// [`Invalid`] when there is no such rule, or the value is out of its range.
    pub fn set(&mut self, key: &str, value: Option<f64>) -> Result<(), Invalid> {
        if let Some(club) = key.strip_prefix("factor_") {
            let club = Club::from_key("key", club)?;
            let value = value.map(|v| within(key, v, FACTORS, "m per m/s"));
            self.factors[club as usize] = value.transpose()?;
            return Ok(());
        }
        let rule = find(key)?;
        let value = match value {
            Some(value) => within(key, value, rule.from..=rule.to, "")?,
            None => rule.default,
        };
        if matches!(rule.kind, Count | YesNo) && value.fract() != 0.0 {
            return Err(Invalid::new(
                key,
                value,
                "is not whole",
                "give a whole number",
            ));
        }
        if let Some(field) = self.field(key) {
            *field = value;
        }
        Ok(())
    }

    /// Full-effort swings of a day and of seven days, at most.
    pub fn full_swings_of(&self, build: Build) -> [f64; 2] {
        match build {
            Build::Growing => [self.full_swings_growing, self.full_swings_week_growing],
            Build::Beginning => [self.full_swings_beginning, self.full_swings_week_beginning],
            Build::Trained => [self.full_swings, self.full_swings_week],
        }
    }

    /// Swings of a day, at most.
    pub fn all_swings_of(&self, build: Build) -> f64 {
        if build.grows() {
            self.all_swings_growing
        } else {
            self.all_swings
        }
    }

    /// What makes a flight useful in this house.
    pub fn useful(&self) -> Useful {
        Useful {
            apex_per_speed: self.apex_per_speed,
            landing_least_deg: self.landing_least_deg,
            spin_share: self.spin_share,
        }
    }

    /// The value of a rule of [`RULES`].
    pub fn get(&self, key: &str) -> Option<f64> {
        let mut copy = *self;
        copy.field(key).copied()
    }

    /// The same with the interval that whoever looks while balls are hit must use.
    ///
    /// ```
    /// use tally_core::statistics::looks::Looks;
    /// use tally_core::verdicts::house_rules::HouseRules;
    /// let rules = HouseRules::default();
    /// assert_eq!(rules.looked_at(Looks::Once, 8), rules);
    /// let early = rules.looked_at(Looks::throughout(24, 2), 8);
    /// assert!(early.interval_level > rules.interval_level);
    /// ```
    pub fn looked_at(mut self, looks: Looks, hit: usize) -> HouseRules {
        self.interval_level = looks.level(self.interval_level, hit);
        self
    }

    /// These rules with a house factor of the coach's own.
    #[must_use]
    pub fn with_factor(mut self, club: Club, factor: f64) -> Self {
        self.factors[club as usize] = Some(factor);
        self
    }

    /// The house factor of a club, m of carry per m/s of club speed.
    pub fn house_factor(&self, club: Club) -> f64 {
        let sound = club.sound_delivery().club_speed;
        self.factors[club as usize].unwrap_or_else(|| self.solid_carry(club, sound) / sound)
    }

    /// The share of the furthest that a solid shot makes with a club.
    pub fn solid(&self, club: Club) -> f64 {
        if club < Club::Hybrid {
            self.efficiency_solid
        } else {
            self.efficiency_solid_irons
        }
    }

    /// The share of the furthest that a typical shot makes with a club.
    pub fn typical(&self, club: Club) -> f64 {
        if club < Club::Hybrid {
            self.efficiency_typical
        } else {
            self.efficiency_typical_irons
        }
    }

    /// The carry (m) that the house expects of a club speed (m/s) in reference air: the
    /// coach's own factor times the speed, or a solid share of the furthest at that speed;
    /// in either case no more than the furthest, which a slow club's share of a fast one's
    /// factor would be.
    pub fn carry_of(&self, club: Club, club_speed: f64) -> f64 {
        match self.factors[club as usize] {
            Some(factor) => (factor * club_speed).min(furthest_carry(club, club_speed)),
            None => self.solid_carry(club, club_speed),
        }
    }

    /// What a little more club speed adds to it at `club_speed`, m for each m/s.
    pub fn carry_per_speed(&self, club: Club, club_speed: f64) -> f64 {
        let carry = |speed: f64| self.carry_of(club, speed);
        0.5 * (carry(club_speed + 1.0) - carry(club_speed - 1.0))
    }

    fn solid_carry(&self, club: Club, club_speed: f64) -> f64 {
        self.solid(club) * furthest_carry(club, club_speed)
    }

    /// Whether spin that a device only calculated counts in spin figures.
    pub fn counts_calculated_spin(&self) -> bool {
        self.calculated_spin >= 0.5
    }

    /// Latest sessions that the doubtful list looks through.
    pub fn doubtful_sessions(&self) -> i64 {
        self.doubtful_sessions as i64
    }

    /// The difference that makes none.
    pub fn margin(&self, quantity: Quantity) -> f64 {
        match quantity.dimension() {
            Dimension::Ratio | Dimension::CarryPerSpeed | Dimension::SpeedWorth => {
                self.smash_margin
            }
            Dimension::Distance | Dimension::ClubLength => self.carry_margin,
            Dimension::Speed => self.speed_margin,
            Dimension::Angle => self.angle_margin,
            Dimension::Spin => self.spin_margin,
            Dimension::Height => self.height_margin,
            Dimension::Time => self.time_margin,
            Dimension::FaceOffset => self.strike_margin,
            Dimension::BodyWeight => self.force_margin,
            Dimension::Force => self.newton_margin,
            Dimension::Torque => self.torque_margin,
            Dimension::TorquePerMass => self.torque_mass_margin,
            Dimension::Moment => self.moment_margin,
        }
    }

    /// Balls beyond which "more balls" is no advice.
    pub fn most_more_balls(&self) -> usize {
        self.most_more_balls as usize
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_coach_s_own_factor_stands_before_ours_for_that_club_alone() {
        let own = HouseRules::default().with_factor(Club::Driver, 1.9);
        assert_eq!(own.house_factor(Club::Driver), 1.9);
        let ours = HouseRules::default();
        assert_eq!(
            own.house_factor(Club::Iron6),
            ours.house_factor(Club::Iron6)
        );
        let speed = Club::Driver.sound_delivery().club_speed;
        let by_factor = ours.house_factor(Club::Driver) * speed;
        assert!((by_factor - ours.carry_of(Club::Driver, speed)).abs() < 1e-9);
    }

    #[test]
    fn every_rule_can_be_set_within_its_range_and_taken_back() {
        for rule in RULES {
            assert!(
                (rule.from..=rule.to).contains(&rule.default),
                "{}",
                rule.key
            );
            let mut rules = HouseRules::default();
            rules.set(rule.key, Some(rule.to)).unwrap();
            assert_eq!(rules.get(rule.key), Some(rule.to));
            rules.set(rule.key, None).unwrap();
            assert_eq!(rules, HouseRules::default(), "{}", rule.key);
        }
    }

    #[test]
    fn a_rule_is_typed_in_its_kind_s_units() {
        assert!((accept("carry_margin", 5.0, "yd").unwrap() - 5.0 * YARD).abs() < 1e-12);
        assert_eq!(accept("interval_level", 90.0, "pct"), Ok(0.9));
        let wrong = accept("interval_level", 0.9, "").unwrap_err();
        assert_eq!(
            (wrong.field.as_str(), wrong.remedy.as_str()),
            ("interval_level.unit", "use \"pct\"")
        );
        let far = accept("interval_level", 100.0, "pct").unwrap_err();
        assert_eq!(far.remedy, "give a number from 50 to 99 pct");
        assert!(
            (accept("factor_driver", 2.5, "yd_per_mph").unwrap() - 2.5 * YARD / MPH).abs() < 1e-12
        );
    }

    #[test]
    fn what_is_no_rule_or_out_of_range_is_refused_by_name() {
        let mut rules = HouseRules::default();
        assert_eq!(rules.set("luck", Some(1.0)).unwrap_err().field, "key");
        assert_eq!(
            rules.set("interval_level", Some(2.0)).unwrap_err().field,
            "interval_level"
        );
        assert!(rules.set("most_more_balls", Some(20.5)).is_err());
        assert!(rules.set("factor_spoon", Some(2.0)).is_err());
        rules.set("factor_iron6", Some(3.5)).unwrap();
        assert_eq!(rules.house_factor(Club::Iron6), 3.5);
    }

    #[test]
    fn nobody_is_asked_for_more_than_the_furthest_and_fast_swings_for_what_they_do() {
        let rules = HouseRules::default();
        let greedy = rules.with_factor(Club::Iron7, 3.0 * YARD / MPH);
        for mph in [30.0, 54.0, 80.0, 120.0] {
            for club in Club::all() {
                let most = furthest_carry(club, mph * MPH);
                assert!(rules.carry_of(club, mph * MPH) < most, "{club:?} {mph}");
                assert!(greedy.carry_of(club, mph * MPH) <= most, "{club:?} {mph}");
            }
        }
        // A grown player's straight drives at 96 to 100 mph carry 220 to 242 yd.
        let at = |mph: f64| rules.carry_of(Club::Driver, mph * MPH) / YARD;
        assert!((220.0..242.0).contains(&at(98.0)), "{}", at(98.0));
        // More yards for each mile an hour, the faster the club.
        assert!(at(56.0) / 56.0 < at(80.0) / 80.0 && at(80.0) / 80.0 < at(98.0) / 98.0);
    }
}
