//! What the furthest is sought for, and among what.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::Flight;
use crate::physics::impact::Delivery;
use crate::physics::launch::Launch;
use crate::physics::run::Rest;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::units::{FOOT, MPH};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Which distance is to be long.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Aim {
    /// Distance in the air.
    Carry,
    /// Carry and run.
    Total,
}

/// What there is to begin with.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Speed {
    /// The ball's speed, m/s, however it came about.
    Ball(f64),
    /// The club's speed, m/s; the ball's follows from the delivery.
    Club(f64),
}

/// What is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Question {
    /// Speed of ball or club.
    pub speed: Speed,
    /// The club.
    pub club: Club,
    /// Carry or total.
    pub aim: Aim,
    /// Air, wind and ground.
    pub conditions: Conditions,
    /// What may be delivered.
    pub freedom: Freedom,
    /// What makes a flight with an iron or a hybrid useful: none that is not is sought.
    pub useful: Useful,
    /// Distance to the best within which a delivery is as good, m.
    pub tolerance: f64,
}

/// A delivery with all that comes of it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Outcome {
    /// How club meets ball.
    pub delivery: Delivery,
    /// How the ball leaves.
    pub launch: Launch,
    /// How it flies.
    pub flight: Flight,
    /// Where it comes to rest.
    pub rest: Rest,
    /// The distance that is sought, m.
    pub distance: f64,
}

/// What a flight with an iron or a hybrid must be to be of use.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Useful {
    /// Least apex of an iron for each speed of the club, m per m/s.
    pub apex_per_speed: f64,
    /// Least landing angle, deg.
    pub landing_least_deg: f64,
    /// Share of the reference spin that may be missing.
    pub spin_share: f64,
}

impl Useful {
    /// As many feet high as the club is miles an hour fast, landing at 43°, with three
    /// quarters of the spin of the reference delivery.
    pub const USUAL: Useful = Useful {
        apex_per_speed: FOOT / MPH,
        landing_least_deg: 43.0,
        spin_share: 0.25,
    };
}

/// The deliveries among which the best is sought.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Freedom {
    /// Least and most angle of attack, deg.
    pub angle_of_attack_deg: [f64; 2],
    /// Least and most dynamic loft, deg.
    pub dynamic_loft_deg: [f64; 2],
}

impl Freedom {
    /// What a swing can do with a club: a teed driver can be hit down or up by five
    /// degrees; any other club within two degrees of its reference attack. Loft within
    /// what heads and hands give a driver; for others from three degrees under the elite's
    /// reference to eight above it, where slow players deliver it.
    pub fn of(club: Club) -> Self {
        let usual = club.reference_delivery(club.reference_club_speed());
        let (attack, loft) = (usual.angle_of_attack_deg, usual.dynamic_loft_deg);
        match club {
            Club::Driver => Freedom {
                angle_of_attack_deg: [-5.0, 5.0],
                dynamic_loft_deg: [loft - 4.0, loft + 15.0],
            },
            _ => Freedom {
                angle_of_attack_deg: [attack - 2.0, attack + 2.0],
                dynamic_loft_deg: [loft - 3.0, loft + 8.0],
            },
        }
    }

    /// The same with the attack held within other limits.
    ///
    /// # Errors
    /// [`Invalid`] outside ±10° or when the limits are the wrong way round.
    pub fn with_attack(self, least: f64, most: f64) -> Result<Self, Invalid> {
        let range = -10.0..=10.0;
        within("attack_from_deg", least, range.clone(), "deg")?;
        within("attack_to_deg", most, range, "deg")?;
        if least > most {
            return Err(Invalid::new(
                "attack_from_deg",
                least,
                format!("is above the other limit, {most}"),
                "give the lower limit first",
            ));
        }
        Ok(Freedom {
            angle_of_attack_deg: [least, most],
            ..self
        })
    }
}
