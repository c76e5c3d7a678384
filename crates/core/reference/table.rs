#![allow(dead_code)] // each user takes its own part
// Shared by the calibrations and by the tests that hold the model to it.

use tally_core::physics::air::Air;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::fly_with;
use tally_core::physics::launch::{Aero, Launch};
use tally_core::vocabulary::units::{MPH, YARD};

/// One club of the reference averages, in the units of the file.
pub struct Average {
    pub club: String,
    /// m/s.
    pub club_speed: f64,
    pub attack_angle_deg: f64,
    pub launch: Launch,
    pub carry_yd: f64,
    pub apex_yd: f64,
    pub landing_angle_deg: f64,
}

/// Published averages of elite men at sea level, calm, about 25 °C.
pub fn averages() -> Vec<Average> {
    let text = include_str!("flight-averages-a.csv");
    let mut rows = csv::Reader::from_reader(text.as_bytes());
    let names = rows.headers().expect("a header").clone();
    rows.records()
        .map(|row| {
            let row = row.expect("a row");
            let cell = |name: &str| &row[names.iter().position(|n| n == name).expect("a column")];
            let number = |name: &str| cell(name).parse::<f64>().expect("a number");
            Average {
                club: cell("club").to_owned(),
                club_speed: number("club_speed_mph") * MPH,
                attack_angle_deg: number("attack_angle_deg"),
                launch: Launch {
                    ball_speed: number("ball_speed_mph") * MPH,
                    launch_angle_deg: number("launch_angle_deg"),
                    launch_direction_deg: 0.0,
                    spin_rate_rpm: number("spin_rate_rpm"),
                    spin_axis_deg: 0.0,
                },
                carry_yd: number("carry_yd"),
                apex_yd: number("apex_yd"),
                landing_angle_deg: number("landing_angle_deg"),
            }
        })
        .collect()
}

/// Model minus published: carry (yd), apex (yd), landing angle (deg), per club.
pub fn residuals(averages: &[Average], aero: &Aero) -> Vec<[f64; 3]> {
    let air = Air {
        aero: *aero,
        ..Conditions::REFERENCE.air().expect("reference air")
    };
    averages
        .iter()
        .map(|row| {
            let flight = fly_with(&row.launch, &air);
            [
                flight.carry / YARD - row.carry_yd,
                flight.apex / YARD - row.apex_yd,
                flight.landing_angle_deg - row.landing_angle_deg,
            ]
        })
        .collect()
}

/// Height of the published rule of thumb: about 1.2 % of carry for a thousand feet, so
/// 6 % here, 5,000 ft up, m.
const THIN_AIR_M: f64 = 1524.0;
/// Gain expected there, and its error: at the published speeds, and at three quarters of
/// them, launched 1.5° higher, where lift has more to lose.
const THIN_AIR_GAINS: [[f64; 2]; 2] = [[0.06, 0.01], [0.03, 0.02]];

/// How far each club's carry in thin air is from what is expected there, in errors: at the
/// published speed and at three quarters of it. The published flights are all of one air,
/// so that nothing else holds what air does.
pub fn thin_air(averages: &[Average], aero: &Aero) -> Vec<[f64; 2]> {
    let air = |altitude_m| {
        let conditions = Conditions {
            altitude_m,
            ..Conditions::REFERENCE
        };
        Air {
            aero: *aero,
            ..conditions.air().expect("fair weather")
        }
    };
    let (low, high) = (air(0.0), air(THIN_AIR_M));
    let gain = |launch: &Launch| fly_with(launch, &high).carry / fly_with(launch, &low).carry - 1.0;
    averages
        .iter()
        .map(|row| {
            let slower = Launch {
                ball_speed: 0.75 * row.launch.ball_speed,
                launch_angle_deg: 1.5 + row.launch.launch_angle_deg,
                spin_rate_rpm: 0.75 * row.launch.spin_rate_rpm,
                ..row.launch
            };
            let gains = [gain(&row.launch), gain(&slower)];
            std::array::from_fn(|i| (gains[i] - THIN_AIR_GAINS[i][0]) / THIN_AIR_GAINS[i][1])
        })
        .collect()
}

/// Everything that the calibration of flight holds small: the residuals in errors.
pub fn errors(averages: &[Average], aero: &Aero) -> Vec<f64> {
    let published = residuals(averages, aero).into_iter();
    let published = published.flat_map(|r| (0..3).map(move |i| r[i] / WEIGHTS[i]));
    published
        .chain(thin_air(averages, aero).into_iter().flatten())
        .collect()
}

/// One weighted error is about what averaging and rounding leave: 2 yd of carry,
/// 1 yd of apex, 1.5° of landing angle.
pub const WEIGHTS: [f64; 3] = [2.0, 1.0, 1.5];

/// Root mean square of one column of residuals.
pub fn rms(residuals: &[[f64; 3]], column: usize) -> f64 {
    rms_of(residuals.iter().map(|r| r[column]))
}

/// Root mean square.
pub fn rms_of(errors: impl ExactSizeIterator<Item = f64>) -> f64 {
    let n = errors.len() as f64;
    (errors.map(|e| e * e).sum::<f64>() / n).sqrt()
}
