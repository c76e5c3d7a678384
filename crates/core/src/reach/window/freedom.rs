//! What one player can deliver, from what was seen.

use crate::physics::club::Club;
use crate::physics::furthest::Freedom;
use crate::shots::reading::Reading;
use crate::shots::told::is_calculated;
use crate::statistics::summary::summarise;
use crate::vocabulary::quantity::Quantity;

/// How far beyond what a player was seen to deliver the window goes, deg.
const BEYOND_DEG: f64 = 2.0;

impl Freedom {
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
}
