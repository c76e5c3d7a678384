//! Shots side by side: their figures, and which goes furthest.

use crate::physics::launch::Launch;
use crate::physics::run::Journey;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// Letters of the shots, in order.
pub const LETTERS: [&str; 4] = ["A", "B", "C", "D"];
/// Carries closer than this, m, are the same to the model.
const SAME: f64 = 0.5;

/// A figure of every shot.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FigureRow {
    /// Its name.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// What kind of thing it is.
    pub dimension: Dimension,
    /// Its value in each shot; absent where a shot was refused.
    pub values: Vec<Option<f64>>,
}

/// The shots' figures and the sentence that tells them apart.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SideBySide {
    /// Which goes furthest, and by how much.
    pub sentence: Sentence,
    /// The figures.
    pub rows: Vec<FigureRow>,
}

/// Puts shots side by side; a refused shot is absent.
pub fn side_by_side(shots: &[Option<(&Launch, &Journey)>]) -> SideBySide {
    type Shot<'a> = (&'a Launch, &'a Journey);
    let row = |label, dimension, value: fn(&Shot<'_>) -> f64| FigureRow {
        label,
        dimension,
        values: shots.iter().map(|s| s.as_ref().map(value)).collect(),
    };
    use Dimension as D;
    SideBySide {
        sentence: sentence(shots),
        rows: vec![
            row("Carry", D::Distance, |(_, j)| j.flight.carry),
            row("Run", D::Distance, |(_, j)| j.rest.run),
            row("Total", D::Distance, |(_, j)| j.rest.total),
            row("Total, give or take", D::Distance, |(_, j)| j.rest.error),
            row("Side at landing", D::Distance, |(_, j)| j.flight.side),
            row("Apex", D::Height, |(_, j)| j.flight.apex),
            row("Landing angle", D::Angle, |(_, j)| {
                j.flight.landing_angle_deg
            }),
            row("Landing speed", D::Speed, |(_, j)| j.flight.landing_speed),
            row("Spin at landing", D::Spin, |(_, j)| {
                j.flight.landing_spin_rpm
            }),
            row("Hang time", D::Time, |(_, j)| j.flight.hang_time),
            row("Ball speed", D::Speed, |(l, _)| l.ball_speed),
            row("Launch angle", D::Angle, |(l, _)| l.launch_angle_deg),
            row("Launch direction", D::Angle, |(l, _)| {
                l.launch_direction_deg
            }),
            row("Spin rate", D::Spin, |(l, _)| l.spin_rate_rpm),
            row("Spin axis", D::Angle, |(l, _)| l.spin_axis_deg),
        ],
    }
}

fn sentence(shots: &[Option<(&Launch, &Journey)>]) -> Sentence {
    let flown: Vec<_> = shots
        .iter()
        .zip(LETTERS)
        .filter_map(|(shot, letter)| shot.as_ref().map(|(_, journey)| (letter, *journey)))
        .collect();
    let carry = |j: &Journey| j.flight.carry;
    // Among equals, the first: `max_by` takes the last.
    let Some(longest) = flown
        .iter()
        .rev()
        .max_by(|a, b| carry(a.1).total_cmp(&carry(b.1)))
    else {
        return Sentence::of("No shot can be flown as described.");
    };
    let runs = |said: Sentence, journey: &Journey| {
        let run = journey.rest.run;
        said.words(if run < 0.0 {
            " and comes back "
        } else {
            " and runs "
        })
        .bare(run.abs(), Dimension::Distance)
        .words(".")
    };
    if flown.len() == 1 {
        let said = Sentence::of("It carries ").figure(carry(longest.1), Dimension::Distance);
        return runs(said, longest.1);
    }
    let others = flown
        .iter()
        .rev()
        .filter(|(letter, _)| *letter != longest.0);
    let next = others
        .max_by(|a, b| carry(a.1).total_cmp(&carry(b.1)))
        .expect("two shots were flown");
    if carry(longest.1) - carry(next.1) < SAME {
        return Sentence::of(format!("{} and {} carry the same: ", longest.0, next.0))
            .figure(carry(longest.1), Dimension::Distance)
            .words(".");
    }
    let said = Sentence::of(format!("{} carries furthest, ", longest.0))
        .figure(carry(longest.1), Dimension::Distance)
        .words(", ")
        .apart(carry(longest.1), carry(next.1), Dimension::Distance)
        .words(format!(" beyond {},", next.0));
    runs(said, longest.1)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::physics::conditions::Conditions;
    use crate::physics::run::journey;
    use crate::vocabulary::units::Units;

    fn flown(club: Club) -> (Launch, Journey) {
        let launch = club.reference_launch(40.0);
        (
            launch,
            journey(&launch, &Conditions::REFERENCE, 0.1).unwrap(),
        )
    }

    #[test]
    fn figures_stand_side_by_side_and_a_refused_shot_leaves_a_gap() {
        let (driver, iron) = (flown(Club::Driver), flown(Club::Iron7));
        let both = side_by_side(&[Some((&driver.0, &driver.1)), None, Some((&iron.0, &iron.1))]);
        let carry = &both.rows[0];
        assert_eq!(carry.values[1], None);
        assert_eq!(carry.values[2], Some(iron.1.flight.carry));
        let said = both.sentence.show(Units::MphYd);
        assert!(
            said.starts_with("A carries furthest") && said.contains("beyond C"),
            "{said}"
        );
    }

    #[test]
    fn one_shot_alone_none_and_two_alike_are_said_so() {
        let drive = flown(Club::Driver);
        let shot = Some((&drive.0, &drive.1));
        let said =
            |shots: &[Option<(&Launch, &Journey)>]| side_by_side(shots).sentence.show(Units::MphYd);
        assert!(said(&[shot]).starts_with("It carries"));
        assert!(said(&[shot, shot]).starts_with("A and B carry the same"));
        assert!(said(&[None]).starts_with("No shot"));
    }
}
