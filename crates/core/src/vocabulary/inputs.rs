//! What can be typed or dragged at the bench, each with its name and its range.
//!
//! One table serves the model's own checks and the sliders, so that a slider cannot
//! leave what the model accepts.

use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// One input.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Input {
    /// Its field.
    #[schema(value_type = String)]
    pub key: &'static str,
    /// Its name on screen.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// What kind of thing it is; absent for a temperature or a share.
    pub dimension: Option<Dimension>,
    /// Unit of the range and of refusals.
    #[schema(value_type = String)]
    pub unit: &'static str,
    /// Least, in that unit.
    pub from: f64,
    /// Most.
    pub to: f64,
    /// A step worth dragging by, in that unit.
    pub step: f64,
}

const fn input(
    key: &'static str,
    label: &'static str,
    dimension: Option<Dimension>,
    unit: &'static str,
    [from, to, step]: [f64; 3],
) -> Input {
    Input {
        key,
        label,
        dimension,
        unit,
        from,
        to,
        step,
    }
}

/// Every input.
pub static INPUTS: [Input; 33] = {
    use Dimension as D;
    const fn angle(key: &'static str, label: &'static str, range: [f64; 3]) -> Input {
        input(key, label, Some(Dimension::Angle), "deg", range)
    }
    [
        input(
            "ball_speed",
            "Ball speed",
            Some(D::Speed),
            "m/s",
            [5.0, 110.0, 0.2],
        ),
        angle("launch_angle_deg", "Launch angle", [-10.0, 75.0, 0.1]),
        angle(
            "launch_direction_deg",
            "Launch direction",
            [-60.0, 60.0, 0.1],
        ),
        input(
            "spin_rate_rpm",
            "Spin rate",
            Some(D::Spin),
            "rpm",
            [0.0, 15_000.0, 50.0],
        ),
        angle("spin_axis_deg", "Spin axis", [-90.0, 90.0, 0.5]),
        input(
            "club_speed",
            "Club speed",
            Some(D::Speed),
            "m/s",
            [5.0, 75.0, 0.2],
        ),
        angle("angle_of_attack_deg", "Angle of attack", [-20.0, 20.0, 0.1]),
        angle("dynamic_loft_deg", "Dynamic loft", [0.0, 75.0, 0.1]),
        angle("static_loft_deg", "Loft of the club", [4.0, 70.0, 0.5]),
        angle("shaft_lean_deg", "Shaft lean", [-20.0, 20.0, 0.5]),
        angle("club_path_deg", "Club path", [-30.0, 30.0, 0.1]),
        angle("face_angle_deg", "Face angle", [-30.0, 30.0, 0.1]),
        input(
            "impact_toe",
            "Impact toe",
            Some(D::FaceOffset),
            "m",
            [-0.04, 0.04, 0.001],
        ),
        input(
            "impact_high",
            "Impact high",
            Some(D::FaceOffset),
            "m",
            [-0.04, 0.04, 0.001],
        ),
        input(
            "club_length_m",
            "Length",
            Some(D::ClubLength),
            "m",
            [0.4, 1.3, 0.00635],
        ),
        input("head_mass_g", "Head", None, "g", [100.0, 400.0, 1.0]),
        input(
            "forgiveness_pct",
            "Forgiveness",
            None,
            "%",
            [50.0, 200.0, 5.0],
        ),
        input(
            "softer_steps",
            "Softer shaft",
            None,
            "steps",
            [-3.0, 3.0, 0.25],
        ),
        input(
            "tee_higher",
            "Teed higher",
            Some(D::FaceOffset),
            "m",
            [-0.03, 0.03, 0.001],
        ),
        input(
            "scatter_toe",
            "Scatter, toe to heel",
            Some(D::FaceOffset),
            "m",
            [0.0, 0.025, 0.001],
        ),
        input(
            "scatter_high",
            "Scatter, high to low",
            Some(D::FaceOffset),
            "m",
            [0.0, 0.025, 0.001],
        ),
        input(
            "altitude_m",
            "Height above the sea",
            Some(D::Height),
            "m",
            [-450.0, 5000.0, 10.0],
        ),
        input(
            "temperature_c",
            "Temperature",
            None,
            "°C",
            [-30.0, 50.0, 1.0],
        ),
        input(
            "ball_temperature_c",
            "Temperature of the ball",
            None,
            "°C",
            [-30.0, 50.0, 1.0],
        ),
        input(
            "ball_drag",
            "Drag, of a premium ball's",
            None,
            "",
            [0.5, 3.0, 0.05],
        ),
        input(
            "ball_lift",
            "Lift, of a premium ball's",
            None,
            "",
            [0.0, 1.5, 0.05],
        ),
        input("humidity_pct", "Humidity", None, "%", [0.0, 100.0, 5.0]),
        input("wind_mps", "Wind", Some(D::Speed), "m/s", [0.0, 30.0, 0.5]),
        angle("wind_from_deg", "Wind from", [-360.0, 360.0, 5.0]),
        input(
            "reach_target",
            "Distance",
            Some(D::Distance),
            "m",
            [30.0, 600.0, 1.0],
        ),
        input(
            "reach_club_speed",
            "Club speed",
            Some(D::Speed),
            "m/s",
            [18.0, 75.0, 0.2],
        ),
        input(
            "efficiency_pct",
            "Efficiency",
            None,
            "%",
            [70.0, 100.0, 1.0],
        ),
        input(
            "firmness",
            "Firmness",
            None,
            "(0 soft, 1 hard)",
            [0.0, 1.0, 0.05],
        ),
    ]
};

/// Accepts `value` for the input called `key`.
///
/// # Errors
/// [`Invalid`] naming the field, the value and the range.
///
/// # Panics
/// When there is no such input: a slip of ours.
pub(crate) fn check(key: &str, value: f64) -> Result<f64, Invalid> {
    let input = INPUTS
        .iter()
        .find(|input| input.key == key)
        .expect("every checked field stands in the table");
    within(key, value, input.from..=input.to, input.unit)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_input_has_a_range_with_steps_in_it_and_a_name_of_its_own() {
        for (i, input) in INPUTS.iter().enumerate() {
            assert!(
                (input.to - input.from) / input.step >= 15.0,
                "{}",
                input.key
            );
            assert!(INPUTS[i + 1..].iter().all(|other| other.key != input.key));
        }
    }

    #[test]
    fn a_value_out_of_range_is_refused_in_the_input_s_unit() {
        let told = check("firmness", 2.0).unwrap_err().to_string();
        assert_eq!(
            told,
            "firmness: \"2\" is out of range; give a number from 0 to 1 (0 soft, 1 hard)"
        );
    }
}
