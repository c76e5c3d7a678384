//! The impact table: deliveries in, the same rows with their launches added.

use crate::table::{self, Cells, Columns, Done, TableError};
use std::io::{Read, Write};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::impact::{Delivery, Head, Lie, strike};
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::MPH;

/// The columns of its table.
pub const COLUMNS: Columns = Columns {
    needed: &["club_speed_mph", "attack_angle_deg", "dynamic_loft_deg"],
    optional: &[
        "club_path_deg",
        "face_angle_deg",
        "impact_toe_mm",
        "impact_high_mm",
        "lie",
        "ball_temperature_c",
        "club",
    ],
    added: &[
        "ball_speed_mph",
        "smash_factor",
        "launch_angle_deg",
        "launch_direction_deg",
        "spin_rate_rpm",
        "spin_axis_deg",
    ],
};

/// Reads deliveries from `input`, writes rows with launches to `output`, and tells
/// each refused row to `report`. Without a club, the head is the one that usually
/// delivers such a loft; without a height of impact, the ball is met where good players
/// usually meet it with the club, which with a driver is above the middle.
///
/// # Errors
/// [`TableError`] when the header is unusable or the output cannot be written.
pub fn run(
    input: impl Read + Send,
    output: impl Write,
    report: impl FnMut(&TableError),
) -> Result<Done, TableError> {
    table::run(&COLUMNS, input, output, report, |rows| {
        rows.iter().map(struck_by).collect()
    })
}

fn struck_by(cells: &Cells<'_>) -> Result<[f64; 6], Invalid> {
    let club = cells.text("club").map(|key| Club::from_key("club", key));
    let club = club.transpose()?;
    let delivery = delivery(cells, club)?;
    let head = match club {
        Some(club) => club.head(),
        None => Head::for_loft(delivery.dynamic_loft_deg),
    };
    let ball = Conditions {
        ball_temperature_c: cells.optional("ball_temperature_c")?,
        ..Conditions::REFERENCE
    };
    ball.air()?;
    let launch = strike(&delivery, &head).map_err(|why| Invalid {
        field: match why.field.as_str() {
            "angle_of_attack_deg" => "attack_angle_deg".to_owned(),
            _ => why.field.clone(),
        },
        ..why
    })?;
    Ok([
        ball.liveliness() * launch.ball_speed / MPH,
        ball.liveliness() * launch.ball_speed / delivery.club_speed,
        launch.launch_angle_deg,
        launch.launch_direction_deg,
        launch.spin_rate_rpm,
        launch.spin_axis_deg,
    ])
}

fn delivery(cells: &Cells<'_>, club: Option<Club>) -> Result<Delivery, Invalid> {
    let degrees = |name| Ok(cells.optional(name)?.unwrap_or(0.0));
    let metres = |name, usual| match cells.optional(name)? {
        Some(mm) => Ok(within(name, mm, -40.0..=40.0, "mm")? / 1000.0),
        None => Ok(usual),
    };
    let club_speed = cells.mph("club_speed_mph", 12.0..=167.0)?;
    let usual_high = club.map_or(0.0, |club| club.reference_delivery(club_speed).impact_high);
    let lie = cells.text("lie").map(|key| Lie::from_key("lie", key));
    Ok(Delivery {
        club_speed,
        angle_of_attack_deg: cells.number("attack_angle_deg")?,
        dynamic_loft_deg: cells.number("dynamic_loft_deg")?,
        club_path_deg: degrees("club_path_deg")?,
        face_angle_deg: degrees("face_angle_deg")?,
        impact_toe: metres("impact_toe_mm", 0.0)?,
        impact_high: metres("impact_high_mm", usual_high)?,
        lie: lie.transpose()?.unwrap_or_default(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn struck(input: &str) -> (String, Vec<String>) {
        let (mut output, mut reports) = (Vec::new(), Vec::new());
        run(input.as_bytes(), &mut output, |r| {
            reports.push(r.to_string())
        })
        .unwrap();
        (String::from_utf8(output).unwrap(), reports)
    }

    #[test]
    fn deliveries_come_back_with_their_launches() {
        let (output, reports) = struck(
            "club_speed_mph,attack_angle_deg,dynamic_loft_deg,club,face_angle_deg\n113,-1.3,12.8,driver,\n92,-4.1,20,,2\n",
        );
        assert!(reports.is_empty(), "{reports:?}");
        insta::assert_snapshot!(output, @r"
        club_speed_mph,attack_angle_deg,dynamic_loft_deg,club,face_angle_deg,ball_speed_mph,smash_factor,launch_angle_deg,launch_direction_deg,spin_rate_rpm,spin_axis_deg
        113,-1.3,12.8,driver,,163.52,1.45,12.37,0.00,3483.24,0.00
        92,-4.1,20,,2,126.76,1.38,14.36,1.50,6248.54,4.73
        ");
    }

    #[test]
    fn a_refusal_names_the_columns_of_the_table() {
        let (_, reports) = struck(
            "club_speed_mph,attack_angle_deg,dynamic_loft_deg,club,impact_toe_mm\n113,-45,12,,\n113,8,5,,\n113,0,12,spoon,\n113,0,12,,90\n900,0,12,,\n",
        );
        insta::assert_snapshot!(reports.join("\n"), @r#"
        line 2, column 2 (attack_angle_deg): attack_angle_deg: "-45" is out of range; give a number from -20 to 20 deg
        line 3, column 3 (dynamic_loft_deg): dynamic_loft_deg: "5" lies below the angle of attack, 8; give a dynamic loft above the angle of attack
        line 4, column 4 (club): club: "spoon" is not a club; use one of driver, wood3, wood5, wood7, hybrid, iron3, iron4, iron5, iron6, iron7, iron8, iron9, wedge_pitching, wedge_gap, wedge_sand, wedge_lob
        line 5, column 5 (impact_toe_mm): impact_toe_mm: "90" is out of range; give a number from -40 to 40 mm
        line 6, column 1 (club_speed_mph): club_speed_mph: "900" is out of range; give a number from 12 to 167 mph
        "#);
    }
}
