//! The coach's own thresholds and factors, with our defaults and their sources.
//!
//! No threshold stands in a formula: each is a rule here, so that a coach can see it
//! in *Working* and, later, change it.

use crate::club::Club;
use crate::impact::LEGAL_SMASH;
use crate::units::{FOOT, MPH, YARD};

/// Every rule that the computations take from the house.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HouseRules {
    /// Level of every interval, 0…1. Default 0.90: the level at which two one-sided
    /// tests at 5 % decide equivalence (Schuirmann 1987).
    pub interval_level: f64,
    /// Carry that makes no difference to the coach, m. Default 5 yd: about half the
    /// gap between neighbouring clubs.
    pub carry_margin: f64,
    /// Smash factor above which a reading cannot be right. Default 1.52: the limit on
    /// restitution in the rules of golf allows about 1.50, and devices round.
    pub smash_limit: f64,
    /// Share by which a measured carry may differ from the flight of its own launch
    /// before the reading is doubted. Default 0.15: three times what wind and balls do.
    pub carry_mismatch: f64,
    /// Balls beyond which "more balls" is no advice. Default 200.
    pub most_more_balls: usize,
    /// Share of the furthest that a solid shot makes. Default 0.94: what the flight
    /// model gives elite averages.
    pub efficiency_solid: f64,
    /// Share of the furthest that a typical shot makes. Default 0.87: a sound strike
    /// at club players' speeds.
    pub efficiency_typical: f64,
    /// Least apex of an iron for its club speed, m per m/s. Default: as many feet as
    /// miles an hour.
    pub apex_per_speed: f64,
    /// Least landing angle that holds a green, deg. Default 43: elite averages land at
    /// 46 to 52, on greens that take less.
    pub landing_least_deg: f64,
    /// Dynamic loft below the reference delivery's that is delofted, deg. Default 4:
    /// one club's worth.
    pub delofted_deg: f64,
    /// Share of the reference spin that may be missing. Default 0.25: twice the impact
    /// model's own spread.
    pub spin_share: f64,
    /// Spin axis beyond which a shot curves too far, deg. Default 12.
    pub curve_most_deg: f64,
    /// Distance to the best within which launch and spin are as good, m. Default 3 yd:
    /// what the flight model can tell apart.
    pub window_tolerance: f64,
    /// Launch either side of the reference delivery's that is sound, deg. Default 2:
    /// half a club's step.
    pub sound_launch_deg: f64,
    /// Share of the reference spin either side that is sound. Default 0.15.
    pub sound_spin_share: f64,
    /// House factors the coach set, m of carry per m/s of club speed.
    pub factor: Option<f64>,
}

impl Default for HouseRules {
    fn default() -> Self {
        Self {
            interval_level: 0.90,
            carry_margin: 5.0 * YARD,
            smash_limit: LEGAL_SMASH,
            carry_mismatch: 0.15,
            most_more_balls: 200,
            efficiency_solid: 0.94,
            efficiency_typical: 0.87,
            apex_per_speed: FOOT / MPH,
            landing_least_deg: 43.0,
            delofted_deg: 4.0,
            spin_share: 0.25,
            curve_most_deg: 12.0,
            window_tolerance: 3.0 * YARD,
            sound_launch_deg: 2.0,
            sound_spin_share: 0.15,
            factor: None,
        }
    }
}

impl HouseRules {
    /// The house factor of a club, m of carry per m/s of club speed.
    pub fn house_factor(&self, club: Club) -> f64 {
        self.factor
            .unwrap_or_else(|| club.default_house_factor() * YARD / MPH)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_coach_s_own_factor_stands_before_ours() {
        let own = HouseRules {
            factor: Some(1.9),
            ..HouseRules::default()
        };
        assert_eq!(own.house_factor(Club::Driver), 1.9);
        let ours = HouseRules::default().house_factor(Club::Driver);
        assert!((ours - Club::Driver.default_house_factor() * YARD / MPH).abs() < 1e-12);
    }
}
