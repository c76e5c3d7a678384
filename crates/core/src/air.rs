//! How thick and how sticky the air is.
//!
//! Density of humid air as two ideal gases (dry air and vapour), with the vapour
//! pressure after Magnus (Alduchov & Eskridge 1996) and, where no pressure was
//! read, the International Standard Atmosphere for the altitude. Viscosity after
//! Sutherland (1893).

use crate::ground::Ground;
use crate::inputs;
use crate::invalid::{Invalid, within};
use crate::wind::Wind;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Pressure of the standard atmosphere at sea level, Pa.
const SEA_LEVEL_PA: f64 = 101_325.0;
/// Specific gas constant of dry air, J/(kg·K).
const R_DRY: f64 = 287.053;
/// Specific gas constant of water vapour, J/(kg·K).
const R_VAPOUR: f64 = 461.495;
/// 0 °C in kelvin.
const ZERO_C: f64 = 273.15;

/// The weather and the turf that matter to a ball, as a coach types them.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Conditions {
    /// Height above the sea, m. Gives the pressure when none was read.
    pub altitude_m: f64,
    /// Temperature, °C.
    pub temperature_c: f64,
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
    /// Calm, mild sea-level air over an average fairway, in which reference figures are published.
    pub const REFERENCE: Conditions = Conditions {
        altitude_m: 0.0,
        temperature_c: 25.0,
        humidity_pct: 50.0,
        pressure_hpa: None,
        wind: None,
        ground: None,
    };

    /// The air in these conditions.
    ///
    /// # Errors
    /// [`Invalid`] outside altitude −450…5,000 m, temperature −30…50 °C, humidity
    /// 0…100 %, pressure 500…1,100 hPa, or a wind that [`Wind::velocity`] refuses.
    pub fn air(&self) -> Result<Air, Invalid> {
        let altitude = inputs::check("altitude_m", self.altitude_m)?;
        let celsius = inputs::check("temperature_c", self.temperature_c)?;
        let humidity = inputs::check("humidity_pct", self.humidity_pct)?;
        let pressure = match self.pressure_hpa {
            Some(read) => within("pressure_hpa", read, 500.0..=1100.0, "hPa")? * 100.0,
            None => standard_pressure(altitude),
        };
        let kelvin = celsius + ZERO_C;
        let vapour = humidity / 100.0 * saturation_pressure(celsius);
        Ok(Air {
            density: (pressure - vapour) / (R_DRY * kelvin) + vapour / (R_VAPOUR * kelvin),
            viscosity: 1.458e-6 * kelvin.powf(1.5) / (kelvin + 110.4),
            wind: match &self.wind {
                Some(wind) => wind.velocity()?,
                None => [0.0, 0.0],
            },
        })
    }

    /// The ground in these conditions.
    pub fn ground(&self) -> Ground {
        self.ground.unwrap_or(Ground::AVERAGE_FAIRWAY)
    }
}

/// What a flight needs to know of the air.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Air {
    /// Density, kg/m³.
    pub density: f64,
    /// Dynamic viscosity, Pa·s.
    pub viscosity: f64,
    /// Wind ten metres up, m/s: towards the target, and to the right.
    pub wind: [f64; 2],
}

/// Pressure of the standard atmosphere at an altitude below 11 km, Pa (ISO 2533:1975).
fn standard_pressure(altitude: f64) -> f64 {
    SEA_LEVEL_PA * (1.0 - 2.255_77e-5 * altitude).powf(5.255_88)
}

/// Saturation vapour pressure over water, Pa.
fn saturation_pressure(celsius: f64) -> f64 {
    610.94 * (17.625 * celsius / (celsius + 243.04)).exp()
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
