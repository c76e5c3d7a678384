#![allow(dead_code)] // each user takes its own part
// Shared by the calibrations and by the tests that hold the model to it.

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
    let air = Conditions::REFERENCE.air().expect("reference air");
    averages
        .iter()
        .map(|row| {
            let flight = fly_with(&row.launch, &air, aero);
            [
                flight.carry / YARD - row.carry_yd,
                flight.apex / YARD - row.apex_yd,
                flight.landing_angle_deg - row.landing_angle_deg,
            ]
        })
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
