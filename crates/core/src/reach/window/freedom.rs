//! What a swing can deliver: the house's limits, or a player's own.

use crate::physics::club::Club;
use crate::shots::reading::Reading;
use crate::shots::told::is_calculated;
use crate::statistics::summary::summarise;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::quantity::Quantity;
use serde::Serialize;
use utoipa::ToSchema;

/// How far beyond what a player was seen to deliver the window goes, deg.
const BEYOND_DEG: f64 = 2.0;

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
    /// what heads and hands give a driver, within three degrees of the reference for others.
    pub fn of(club: Club) -> Self {
        let usual = club.reference_delivery(club.reference_club_speed());
        let (attack, loft) = (usual.angle_of_attack_deg, usual.dynamic_loft_deg);
        match club {
            Club::Driver => Freedom {
                angle_of_attack_deg: [-5.0, 5.0],
                dynamic_loft_deg: [loft - 4.0, loft + 12.0],
            },
            _ => Freedom {
                angle_of_attack_deg: [attack - 2.0, attack + 2.0],
                dynamic_loft_deg: [loft - 3.0, loft + 3.0],
            },
        }
    }

    /// What a player can do with a club, from how these shots of it were delivered: each
    /// limit two spreads and two degrees beyond what was measured. What was measured on
    /// fewer than three shots widens the limits of [`Freedom::of`]; where nothing was,
    /// those stand.
    ///
    /// ```
    /// use tally_core::physics::club::Club;
    /// use tally_core::reach::window::Freedom;
    /// use tally_core::shots::reading::{Provenance, Reading};
    /// use tally_core::vocabulary::quantity::Quantity;
    /// let mut up = Reading::default();
    /// up.set(Quantity::AngleOfAttack, 9.0, Provenance::Measured);
    /// let own = Freedom::of_player(Club::Driver, [&up, &up, &up]);
    /// assert_eq!(own.angle_of_attack_deg, [7.0, 11.0]);
    /// assert_eq!(own.dynamic_loft_deg, Freedom::of(Club::Driver).dynamic_loft_deg);
    /// ```
    pub fn of_player<'a>(club: Club, shots: impl IntoIterator<Item = &'a Reading>) -> Self {
        let shots: Vec<&Reading> = shots.into_iter().collect();
        let own = |quantity, [from, to]: [f64; 2]| {
            let measured: Vec<f64> = shots
                .iter()
                .filter(|shot| !is_calculated(shot, quantity))
                .filter_map(|shot| shot.get(quantity))
                .collect();
            let Some(told) = summarise(&measured, 0.9) else {
                return [from, to];
            };
            match told.spread.filter(|_| told.n >= 3) {
                Some(spread) => {
                    let beyond = 2.0 * spread + BEYOND_DEG;
                    [told.mean - beyond, told.mean + beyond]
                }
                None => [
                    from.min(told.least - BEYOND_DEG),
                    to.max(told.best + BEYOND_DEG),
                ],
            }
        };
        let usual = Self::of(club);
        let held = |[from, to]: [f64; 2], [least, most]: [f64; 2]| {
            [from.clamp(least, most), to.clamp(least, most)]
        };
        Freedom {
            angle_of_attack_deg: held(
                own(Quantity::AngleOfAttack, usual.angle_of_attack_deg),
                [-15.0, 15.0],
            ),
            dynamic_loft_deg: held(
                own(Quantity::DynamicLoft, usual.dynamic_loft_deg),
                [0.0, 70.0],
            ),
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
