// Shared by the impact calibration and by the test that holds the model to it.

use super::table::Average;
use tally_core::physics::club::Club;
use tally_core::physics::impact::{Contact, Delivery, Head, strike_with};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::MPH;

/// The strike of a row so high on the face (m), by the head for each loft, with the dynamic
/// loft that gives the published launch, and model against published: ball speed (mph) and
/// spin (share).
pub fn compare(
    row: &Average,
    impact_high: f64,
    head: impl Fn(f64) -> Head,
    contact: &Contact,
) -> (f64, [f64; 2]) {
    let at = |loft: f64| {
        let delivery = Delivery {
            impact_high,
            ..Delivery::straight(row.club_speed, row.attack_angle_deg, loft)
        };
        strike_with(&delivery, &head(loft), contact)
    };
    let (mut low, mut high) = (0.0, 70.0);
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        if at(middle).launch_angle_deg < row.launch.launch_angle_deg {
            low = middle;
        } else {
            high = middle;
        }
    }
    let struck = at(low);
    let ball = (struck.ball_speed - row.launch.ball_speed) / MPH;
    let spin = struck.spin_rate_rpm / row.launch.spin_rate_rpm - 1.0;
    (low, [ball, spin])
}

/// The club of a row; rows stand in the order of the clubs, of which some are not published.
pub fn club_of(row: usize) -> Club {
    let published = |club: &Club| !matches!(club, Club::Wood7 | Club::WedgeGap | Club::WedgeLob);
    let mut published = Club::all().filter(published);
    published.nth(row).expect("a club for each row")
}

/// Where a good player is taken to strike the driver and the fairway woods before the fit
/// says otherwise: mean and error, m. Teed balls are met above the middle.
pub const HIGH: [[f64; 2]; 2] = [[0.006, 0.0025], [0.002, 0.0025]];

/// How high the club of a row is struck: the driver, the fairway woods, the others in the
/// middle.
pub fn high_of(row: usize, [driver, woods]: [f64; 2]) -> f64 {
    match club_of(row) {
        Club::Driver => driver,
        Club::Wood3 | Club::Wood5 => woods,
        _ => 0.0,
    }
}
