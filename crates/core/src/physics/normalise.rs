//! What a shot would have carried, had one thing been different.
//!
//! Each answer scales the carry that was seen by the flight model's ratio of the
//! changed launch to the launch itself, so that what the model does not know of a
//! ball or a device stays in. Progress is judged at equal speed and in equal air.

use crate::physics::conditions::Conditions;
use crate::physics::flight::{Flight, fly};
use crate::physics::launch::Launch;
use crate::vocabulary::invalid::{Invalid, within};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A shot's carry with the launch and the conditions it came from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Seen {
    /// Carry, m.
    pub carry: f64,
    /// Launch.
    pub launch: Launch,
    /// Conditions.
    pub conditions: Conditions,
}

/// What one ball does against another from the same delivery.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BallRatio {
    /// Its ball speed as a share of the other's.
    pub speed: f64,
    /// Its spin as a share of the other's.
    pub spin: f64,
}

impl Seen {
    /// Carry in other conditions, m: other air, and a ball as warm as there.
    ///
    /// # Errors
    /// [`Invalid`] outside the domain of flight, or for a shot that did not fly.
    pub fn in_conditions(&self, conditions: &Conditions) -> Result<f64, Invalid> {
        self.in_conditions_flown(&fly(&self.launch, &self.conditions)?, conditions)
    }

    /// The same where its own flight is known already.
    ///
    /// # Errors
    /// As [`Seen::in_conditions`].
    pub fn in_conditions_flown(
        &self,
        own: &Flight,
        conditions: &Conditions,
    ) -> Result<f64, Invalid> {
        let livelier = conditions.liveliness() / self.conditions.liveliness();
        let launch = self.launch.at(livelier * self.launch.ball_speed);
        self.beside(own, &launch, conditions)
    }

    /// Carry at another club speed with the same smash factor and launch; spin goes
    /// with speed.
    ///
    /// # Errors
    /// As [`Seen::in_conditions`].
    pub fn at_speed(&self, club_speed: f64, other: f64) -> Result<f64, Invalid> {
        within("club_speed", club_speed, 5.0..=75.0, "m/s")?;
        within("other_speed", other, 5.0..=75.0, "m/s")?;
        let share = other / club_speed;
        let launch = Launch {
            ball_speed: self.launch.ball_speed * share,
            spin_rate_rpm: self.launch.spin_rate_rpm * share,
            ..self.launch
        };
        self.changed(&launch, &self.conditions)
    }

    /// The straight equivalent: same launch, axis and direction set to zero.
    ///
    /// # Errors
    /// As [`Seen::in_conditions`].
    pub fn straight(&self) -> Result<f64, Invalid> {
        let launch = Launch {
            launch_direction_deg: 0.0,
            spin_axis_deg: 0.0,
            ..self.launch
        };
        self.changed(&launch, &self.conditions)
    }

    /// Carry of the ball that `ball`, the one hit, is compared with.
    ///
    /// # Errors
    /// As [`Seen::in_conditions`], and for ratios outside 0.5…1.5.
    pub fn with_other_ball(&self, ball: BallRatio) -> Result<f64, Invalid> {
        let launch = Launch {
            ball_speed: self.launch.ball_speed
                / within("ball_speed_ratio", ball.speed, 0.5..=1.5, "")?,
            spin_rate_rpm: self.launch.spin_rate_rpm
                / within("ball_spin_ratio", ball.spin, 0.5..=1.5, "")?,
            ..self.launch
        };
        self.changed(&launch, &self.conditions)
    }

    fn changed(&self, launch: &Launch, conditions: &Conditions) -> Result<f64, Invalid> {
        self.beside(&fly(&self.launch, &self.conditions)?, launch, conditions)
    }

    fn beside(
        &self,
        own: &Flight,
        launch: &Launch,
        conditions: &Conditions,
    ) -> Result<f64, Invalid> {
        let own = own.carry;
        if own < 1.0 {
            return Err(Invalid::new(
                "launch_angle_deg",
                self.launch.launch_angle_deg,
                "gives no flight to compare with",
                "leave this shot out",
            ));
        }
        Ok(self.carry * fly(launch, conditions)?.carry / own)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::physics::wind::Wind;
    use crate::vocabulary::units::{MPH, YARD};

    fn drive(mph: f64) -> Seen {
        let launch = Club::Driver.reference_launch(mph * MPH);
        Seen {
            carry: 240.0 * YARD,
            launch,
            conditions: Conditions::REFERENCE,
        }
    }

    #[test]
    fn a_mile_an_hour_is_worth_two_to_four_yards() {
        let at_99 = drive(100.0).at_speed(100.0 * MPH, 99.0 * MPH).unwrap() / YARD;
        assert!((236.0..238.0).contains(&at_99), "{at_99}");
        let back = drive(100.0).at_speed(100.0 * MPH, 100.0 * MPH).unwrap();
        assert!((back - 240.0 * YARD).abs() < 1e-9);
    }

    #[test]
    fn there_and_back_between_two_airs_is_the_same_carry() {
        let high = Conditions {
            altitude_m: 1140.0,
            temperature_c: 5.0,
            wind: Some(Wind {
                speed_mps: 4.0,
                from_deg: 0.0,
            }),
            ..Conditions::REFERENCE
        };
        let seen = drive(100.0);
        let up = seen.in_conditions(&high).unwrap();
        // There the same swing leaves with a colder, slower ball.
        let colder = high.liveliness() / seen.conditions.liveliness();
        let down = Seen {
            carry: up,
            conditions: high,
            launch: seen.launch.at(colder * seen.launch.ball_speed),
        }
        .in_conditions(&Conditions::REFERENCE)
        .unwrap();
        assert!((down - seen.carry).abs() < 1e-9 && (up - seen.carry).abs() > 1.0);
    }

    #[test]
    fn a_curving_shot_has_a_longer_straight_equivalent() {
        let mut slice = drive(100.0);
        slice.launch.spin_axis_deg = 20.0;
        assert!(slice.straight().unwrap() > slice.carry + YARD);
    }

    #[test]
    fn a_slow_range_ball_is_given_back_what_it_cost() {
        let range = BallRatio {
            speed: 0.97,
            spin: 0.95,
        };
        assert!(drive(100.0).with_other_ball(range).unwrap() > 243.0 * YARD);
        let wrong = BallRatio {
            speed: 0.0,
            spin: 1.0,
        };
        assert_eq!(
            drive(100.0).with_other_ball(wrong).unwrap_err().field,
            "ball_speed_ratio"
        );
    }
}
