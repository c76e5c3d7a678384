//! How thick and how sticky the air is.
//!
//! Density of humid air as two ideal gases (dry air and vapour), with the vapour
//! pressure after Magnus (Alduchov & Eskridge 1996) and, where no pressure was
//! read, the International Standard Atmosphere for the altitude. Viscosity after
//! Sutherland (1893).

use crate::physics::launch::Aero;

/// Pressure of the standard atmosphere at sea level, Pa.
const SEA_LEVEL_PA: f64 = 101_325.0;
/// Specific gas constant of dry air, J/(kg·K).
const R_DRY: f64 = 287.053;
/// Specific gas constant of water vapour, J/(kg·K).
const R_VAPOUR: f64 = 461.495;
/// 0 °C in kelvin.
const ZERO_C: f64 = 273.15;

/// What a flight needs to know of the air.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Air {
    /// Density, kg/m³.
    pub density: f64,
    /// Dynamic viscosity, Pa·s.
    pub viscosity: f64,
    /// Wind ten metres up, m/s: towards the target, and to the right.
    pub wind: [f64; 2],
    /// How it takes hold of the ball that is played.
    pub aero: Aero,
}

impl Air {
    /// The air at a pressure (Pa), temperature (°C) and relative humidity (%), moving
    /// with `wind` ([`Air::wind`]).
    pub(crate) fn of(pressure: f64, celsius: f64, humidity_pct: f64, wind: [f64; 2]) -> Self {
        let kelvin = celsius + ZERO_C;
        let vapour = humidity_pct / 100.0 * saturation_pressure(celsius);
        Air {
            density: (pressure - vapour) / (R_DRY * kelvin) + vapour / (R_VAPOUR * kelvin),
            viscosity: 1.458e-6 * kelvin.powf(1.5) / (kelvin + 110.4),
            wind,
            aero: Aero::CALIBRATED,
        }
    }
}

/// Pressure of the standard atmosphere at an altitude below 11 km, Pa (ISO 2533:1975).
pub(crate) fn standard_pressure_pa(altitude: f64) -> f64 {
    SEA_LEVEL_PA * (1.0 - 2.255_77e-5 * altitude).powf(5.255_88)
}

/// Saturation vapour pressure over water, Pa.
fn saturation_pressure(celsius: f64) -> f64 {
    610.94 * (17.625 * celsius / (celsius + 243.04)).exp()
}
