//! The weather and the turf of a day, as a coach types them.

use crate::physics::air::{Air, standard_pressure_pa};
use crate::physics::ball_flight::BallFlight;
use crate::physics::turf::Ground;
use crate::physics::wind::Wind;
use crate::vocabulary::inputs;
use crate::vocabulary::invalid::{Invalid, within};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Share of its speed that a ball gains for each degree, 1/°C.
const LIVELIER: f64 = 0.0008;

/// The weather and the turf that matter to a ball, as a coach types them.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Conditions {
    /// Height above the sea, m. Gives the pressure when none was read.
    pub altitude_m: f64,
    /// Temperature of the air, °C.
    pub temperature_c: f64,
    /// Temperature of the ball, °C, when it is not the air's: out of a warm pocket, or of a
    /// cold car.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ball_temperature_c: Option<f64>,
    /// The ball's own drag and lift, when it is not flown as a premium ball: one made for
    /// short ranges.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ball_flight: Option<BallFlight>,
    /// Relative humidity, %.
    pub humidity_pct: f64,
    /// Pressure at the place itself, hPa, when it was read.
    pub pressure_hpa: Option<f64>,
    /// The wind, when there is any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub wind: Option<Wind>,
    /// Where the ball comes down; an average fairway when nothing is said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ground: Option<Ground>,
}

impl Conditions {
    /// Relative humidity where nobody read it, %: it hardly matters to a ball.
    pub const USUAL_HUMIDITY_PCT: f64 = 50.0;

    /// Calm, mild sea-level air over an average fairway, in which reference figures are published.
    pub const REFERENCE: Conditions = Conditions {
        altitude_m: 0.0,
        temperature_c: 25.0,
        ball_temperature_c: None,
        ball_flight: None,
        humidity_pct: Self::USUAL_HUMIDITY_PCT,
        pressure_hpa: None,
        wind: None,
        ground: None,
    };

    /// How fast a ball of this warmth leaves, as a share of one at 25 °C: a cold ball is
    /// stiffer and springs back less. Rules of thumb lie between 1 % of ball speed for ten
    /// degrees and 1 % for fifteen; this is 1 % for 12.5. A ball speed that was measured has it in it already.
    ///
    /// ```
    /// use tally_core::physics::conditions::Conditions;
    /// let frost = Conditions { temperature_c: 0.0, ..Conditions::REFERENCE };
    /// let pocket = Conditions { ball_temperature_c: Some(25.0), ..frost };
    /// assert!((frost.liveliness() - 0.98).abs() < 1e-9 && pocket.liveliness() == 1.0);
    /// ```
    pub fn liveliness(&self) -> f64 {
        let celsius = self.ball_temperature_c.unwrap_or(self.temperature_c);
        1.0 + LIVELIER * (celsius - Self::REFERENCE.temperature_c)
    }

    /// The air in these conditions.
    ///
    /// # Errors
    /// [`Invalid`] outside altitude −450…5,000 m, temperatures −30…50 °C, humidity
    /// 0…100 %, pressure 500…1,100 hPa, a wind that [`Wind::velocity`] refuses, or a ball
    /// with drag or lift such as none has.
    pub fn air(&self) -> Result<Air, Invalid> {
        let altitude = inputs::check("altitude_m", self.altitude_m)?;
        let celsius = inputs::check("temperature_c", self.temperature_c)?;
        let humidity = inputs::check("humidity_pct", self.humidity_pct)?;
        if let Some(ball) = self.ball_temperature_c {
            inputs::check("ball_temperature_c", ball)?;
        }
        let pressure = match self.pressure_hpa {
            Some(read) => within("pressure_hpa", read, 500.0..=1100.0, "hPa")? * 100.0,
            None => standard_pressure_pa(altitude),
        };
        let wind = match &self.wind {
            Some(wind) => wind.velocity()?,
            None => [0.0, 0.0],
        };
        let air = Air::of(pressure, celsius, humidity, wind);
        Ok(match self.ball_flight {
            Some(ball) => Air {
                aero: ball.aero()?,
                ..air
            },
            None => air,
        })
    }

    /// The ground in these conditions.
    pub fn ground(&self) -> Ground {
        self.ground.unwrap_or(Ground::AVERAGE_FAIRWAY)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn air(altitude_m: f64, temperature_c: f64, humidity_pct: f64) -> Air {
        Conditions {
            altitude_m,
            temperature_c,
            humidity_pct,
            ..Conditions::REFERENCE
        }
        .air()
        .unwrap()
    }

    #[test]
    fn the_standard_atmosphere_has_its_published_densities() {
        // ISO 2533:1975: 1.2250 kg/m³ at sea level, 15 °C; 1.1117 at 1,000 m, 8.5 °C.
        assert!((air(0.0, 15.0, 0.0).density - 1.2250).abs() < 1e-4);
        assert!((air(1000.0, 8.5, 0.0).density - 1.1117).abs() < 2e-4);
    }

    #[test]
    fn viscosity_at_fifteen_degrees_is_the_published_one() {
        // ISO 2533:1975: 1.7894e-5 Pa·s.
        assert!((air(0.0, 15.0, 0.0).viscosity - 1.7894e-5).abs() < 2e-8);
    }

    #[test]
    fn height_warmth_and_humidity_each_thin_the_air() {
        let here = air(0.0, 20.0, 40.0).density;
        assert!(air(1140.0, 20.0, 40.0).density < here);
        assert!(air(0.0, 30.0, 40.0).density < here);
        assert!(air(0.0, 20.0, 90.0).density < here);
    }

    #[test]
    fn a_pressure_that_was_read_overrides_the_altitude() {
        let read = Conditions {
            altitude_m: 2000.0,
            pressure_hpa: Some(1013.25),
            ..Conditions::REFERENCE
        };
        assert_eq!(read.air(), Conditions::REFERENCE.air());
    }

    #[test]
    fn impossible_weather_is_refused_by_name() {
        let hot = Conditions {
            temperature_c: 250.0,
            ..Conditions::REFERENCE
        };
        assert_eq!(hot.air().unwrap_err().field, "temperature_c");
    }
}
