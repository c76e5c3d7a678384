//! A ball that the air holds back on purpose, for short ranges.
//!
//! How much more drag and how much less lift such a ball has is printed on none; the ones
//! here make a driver's flight about four fifths of a premium ball's, and a coach who has
//! hit both sets what was seen.

use crate::physics::launch::Aero;
use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Drag and lift of a ball as shares of a premium ball's at the same speed and spin.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BallFlight {
    /// Its drag.
    pub drag: f64,
    /// Its lift.
    pub lift: f64,
}

impl BallFlight {
    /// A premium ball's.
    pub const FULL: BallFlight = BallFlight {
        drag: 1.0,
        lift: 1.0,
    };
    /// A reduced-flight ball's; ours.
    pub const REDUCED: BallFlight = BallFlight {
        drag: 1.35,
        lift: 0.85,
    };

    /// How the air takes hold of it.
    ///
    /// # Errors
    /// [`Invalid`] for drag outside 0.5…3 or lift outside 0…1.5 of a premium ball's.
    pub(crate) fn aero(self) -> Result<Aero, Invalid> {
        let drag = inputs::check("ball_drag", self.drag)?;
        let lift = inputs::check("ball_lift", self.lift)?;
        let full = Aero::CALIBRATED;
        Ok(Aero {
            lift_most: lift * full.lift_most,
            drag_least: drag * full.drag_least,
            drag_spin: drag * full.drag_spin,
            drag_slow: drag * full.drag_slow,
            ..full
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::physics::conditions::Conditions;
    use crate::physics::flight::{fly, fly_many};
    use crate::vocabulary::units::MPH;
    use proptest::prelude::*;

    fn with(ball_flight: BallFlight) -> Conditions {
        Conditions {
            ball_flight: Some(ball_flight),
            ..Conditions::REFERENCE
        }
    }

    #[test]
    fn a_reduced_flight_ball_goes_about_four_fifths_as_far() {
        let drive = Club::Driver.reference_launch(100.0 * MPH);
        let full = fly(&drive, &Conditions::REFERENCE).unwrap().carry;
        let reduced = fly(&drive, &with(BallFlight::REDUCED)).unwrap().carry;
        assert!(
            (0.76..0.84).contains(&(reduced / full)),
            "{}",
            reduced / full
        );
    }

    #[test]
    fn nonsense_is_refused_by_name() {
        let lead = BallFlight {
            drag: 0.0,
            ..BallFlight::FULL
        };
        assert_eq!(with(lead).air().unwrap_err().field, "ball_drag");
    }

    proptest! {
        #[test]
        fn more_drag_never_carries_further_and_lanes_know_the_ball(
            mph in 50.0..120.0f64, drag in 1.0..2.0f64, lift in 0.5..1.0f64,
        ) {
            let drive = Club::Driver.reference_launch(mph * MPH);
            let ball = with(BallFlight { drag, lift });
            let reduced = fly(&drive, &ball).unwrap().carry;
            let less_drag = with(BallFlight { drag: 1.0, lift });
            prop_assert!(reduced <= fly(&drive, &less_drag).unwrap().carry + 1e-6);
            let many = fly_many(&[drive], &ball).unwrap()[0].carry;
            prop_assert!((many - reduced).abs() < 0.1, "{many} {reduced}");
        }
    }
}
