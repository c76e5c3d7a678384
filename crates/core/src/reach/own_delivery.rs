//! How a player delivers a club, from the balls hit with it: as measured, or worked back from
//! the launch by the impact model where no delivery was.

use crate::physics::club::Club;
use crate::physics::impact::{Delivery, delivery_of};
use crate::physics::launch::Launch;
use crate::shots::ball::Ball;
use crate::statistics::quantile::median;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// Balls from which on they tell of a delivery.
const ENOUGH: usize = 3;
/// Strikes from which on their own scatter counts.
const STRIKES: usize = 8;
/// What strikes of a sound club player stray by, toe to heel and high to low, m: ours.
pub const USUAL_SCATTER: [f64; 2] = [0.010, 0.007];

/// A player's delivery of a club.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OwnDelivery {
    /// The delivery, straight: of where the ball starts and curves nothing is told.
    pub delivery: Delivery,
    /// Balls it rests on.
    pub balls: usize,
    /// Whether it was worked back from the launch.
    pub worked_back: bool,
    /// What strikes stray by, toe to heel and high to low, m.
    pub scatter: [f64; 2],
    /// Whether that is this player's own.
    pub own_scatter: bool,
    /// Where it is from, in words.
    pub said: Sentence,
}

/// Reads how `club` is delivered in these balls; nothing where too few tell it.
pub fn own_delivery(balls: &[Ball], club: Club, rules: &HouseRules) -> Option<OwnDelivery> {
    let kept = || balls.iter().filter(|ball| ball.kept() && ball.club == club);
    let rows = |wanted: &[Quantity]| -> Vec<Vec<f64>> {
        let row = |ball: &Ball| wanted.iter().map(|q| ball.counted(*q, rules)).collect();
        kept().filter_map(row).collect()
    };
    let struck = rows(&[Quantity::ImpactToe, Quantity::ImpactHigh]);
    let of = |rows: &[Vec<f64>], i: usize| rows.iter().map(|row| row[i]).collect::<Vec<f64>>();
    let usual_high = club.sound_delivery().impact_high;
    let at = match struck.len() {
        0..ENOUGH => [0.0, usual_high],
        _ => [0, 1].map(|i| median(&of(&struck, i))),
    };
    let own_scatter = struck.len() >= STRIKES;
    let scatter = match own_scatter {
        true => [0, 1].map(|i| spread(&of(&struck, i))),
        false => USUAL_SCATTER,
    };
    let measured = rows(&[
        Quantity::ClubSpeed,
        Quantity::AngleOfAttack,
        Quantity::DynamicLoft,
    ]);
    let (delivery, balls, worked_back) = if measured.len() >= ENOUGH {
        let [speed, attack, loft] = [0, 1, 2].map(|i| median(&of(&measured, i)));
        let straight = Delivery::straight(speed, attack, loft);
        (straight, measured.len(), false)
    } else {
        let launched = rows(&[
            Quantity::BallSpeed,
            Quantity::LaunchAngle,
            Quantity::SpinRate,
        ]);
        if launched.len() < ENOUGH {
            return None;
        }
        let [ball_speed, launch_angle_deg, spin_rate_rpm] =
            [0, 1, 2].map(|i| median(&of(&launched, i)));
        let launch = Launch {
            ball_speed,
            launch_angle_deg,
            launch_direction_deg: 0.0,
            spin_rate_rpm,
            spin_axis_deg: 0.0,
        };
        let found = delivery_of(&launch, &club.head(), [0.0, at[1]])?;
        (found, launched.len(), true)
    };
    let delivery = Delivery {
        impact_toe: at[0],
        impact_high: at[1],
        club_path_deg: 0.0,
        face_angle_deg: 0.0,
        ..delivery
    };
    delivery.check().ok()?;
    Some(OwnDelivery {
        said: said(&delivery, balls, worked_back, own_scatter),
        delivery,
        balls,
        worked_back,
        scatter,
        own_scatter,
    })
}

/// Spread that a few wild strikes do not make: from the middle half, at least a millimetre.
fn spread(values: &[f64]) -> f64 {
    let middle = median(values);
    let off: Vec<f64> = values.iter().map(|value| (value - middle).abs()).collect();
    (1.4826 * median(&off)).clamp(0.001, 0.025)
}

fn said(delivery: &Delivery, balls: usize, worked_back: bool, own_scatter: bool) -> Sentence {
    let attack = delivery.angle_of_attack_deg;
    let said = Sentence::of(format!("{balls} balls: "))
        .figure(delivery.club_speed, Dimension::Speed)
        .words(", ")
        .figure(attack.abs(), Dimension::Angle)
        .words(if attack < 0.0 { " down, " } else { " up, " })
        .figure(delivery.dynamic_loft_deg, Dimension::Angle)
        .words(" of loft at impact");
    let said = match worked_back {
        true => said.words(", worked back from the launch"),
        false => said,
    };
    said.words(match own_scatter {
        true => ".",
        false => "; how strikes scatter is taken as usual.",
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::impact::strike;
    use crate::shots::reading::{Provenance, Reading};
    use crate::vocabulary::units::{MPH, Units};

    fn ball(order: usize, values: &[(Quantity, f64)]) -> Ball {
        let mut reading = Reading::default();
        for (quantity, si) in values {
            reading.set(*quantity, *si, Provenance::Measured);
        }
        Ball::new(reading, Club::Driver, order)
    }

    #[test]
    fn what_was_measured_counts_and_a_mishit_among_it_does_not() {
        let balls: Vec<Ball> = [100.0, 101.0, 102.0, 61.0, 101.0]
            .into_iter()
            .enumerate()
            .map(|(order, mph)| {
                let told = [
                    (Quantity::ClubSpeed, mph * MPH),
                    (Quantity::AngleOfAttack, -1.0),
                    (Quantity::DynamicLoft, 12.0),
                ];
                ball(order, &told)
            })
            .collect();
        let told = own_delivery(&balls, Club::Driver, &HouseRules::default()).unwrap();
        assert!((told.delivery.club_speed / MPH - 101.0).abs() < 1e-9);
        assert_eq!(
            (told.balls, told.worked_back, told.own_scatter),
            (5, false, false)
        );
        assert_eq!(
            told.said.show(Units::MphYd),
            "5 balls: 101.0 mph, 1.0° down, 12.0° of loft at impact; how strikes scatter is taken as usual."
        );
        let none = own_delivery(&balls[..2], Club::Driver, &HouseRules::default());
        assert_eq!(none, None);
    }

    #[test]
    fn a_delivery_is_found_again_from_its_launches_and_strikes_tell_their_scatter() {
        let truth = Delivery {
            impact_high: 0.004,
            ..Delivery::straight(100.0 * MPH, 2.0, 14.0)
        };
        let launch = strike(&truth, &Club::Driver.head()).unwrap();
        let balls: Vec<Ball> = (0..12)
            .map(|order| {
                let off = f64::from(order as i32 % 3 - 1);
                let told = [
                    (Quantity::BallSpeed, launch.ball_speed),
                    (Quantity::LaunchAngle, launch.launch_angle_deg),
                    (Quantity::SpinRate, launch.spin_rate_rpm),
                    (Quantity::ImpactToe, 0.012 * off),
                    (Quantity::ImpactHigh, 0.004 + 0.006 * off),
                ];
                ball(order, &told)
            })
            .collect();
        let told = own_delivery(&balls, Club::Driver, &HouseRules::default()).unwrap();
        assert!(told.worked_back && told.own_scatter);
        assert!(
            (told.delivery.club_speed - truth.club_speed).abs() < 1e-3,
            "{told:?}"
        );
        assert!((told.delivery.angle_of_attack_deg - 2.0).abs() < 1e-2);
        assert!(told.scatter[0] > told.scatter[1], "{:?}", told.scatter);
    }
}
