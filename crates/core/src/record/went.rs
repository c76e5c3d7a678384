//! Where the speed went: from the club to the ball to the carry.

use crate::record::progress::ChangeKind::{RealAndWorthIt, RealButSmall};
use crate::record::progress::{DayRead, ProgressRead};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;

/// Where the speed went: said where club speed rose and the strike or the carry did not
/// follow.
pub fn where_it_went(
    speed: &ProgressRead,
    smash: &ProgressRead,
    carry: &ProgressRead,
) -> Option<Sentence> {
    let real = |of: &ProgressRead| {
        let change = of.changes.first()?;
        matches!(change.kind, RealAndWorthIt | RealButSmall).then_some(change.change.value)
    };
    let up = real(speed).filter(|up| *up > 0.0)?;
    let lost = real(smash).filter(|lost| *lost < 0.0)?;
    let levels = |of: &ProgressRead| {
        let level = |day: Option<&DayRead>| Some(day?.level?.value);
        Some((level(of.days.first())?, level(of.days.last())?))
    };
    let (then, now) = levels(smash)?;
    let ball = up * now + lost * (levels(speed)?.1 - up);
    let mut said = Sentence::of("The strike did not keep up: smash fell from ")
        .bare(then, Quantity::SmashFactor.dimension())
        .words(" to ")
        .bare(now, Quantity::SmashFactor.dimension())
        .words(", so that ")
        .figure(up, Quantity::ClubSpeed.dimension())
        .words(" of club speed became ")
        .figure(ball, Quantity::BallSpeed.dimension())
        .words(" of ball speed");
    if let Some(change) = carry.changes.first() {
        said = said
            .words(" and ")
            .figure(change.change.value, Quantity::Carry.dimension())
            .words(" of carry");
    }
    Some(said.words("."))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::record::series::tests::weekly;
    use crate::record::series::{Series, follow};
    use crate::verdicts::house_rules::HouseRules;
    use crate::vocabulary::units::{MPH, Units, YARD};

    #[test]
    fn speed_that_the_strike_did_not_follow_is_told() {
        let occasions = weekly(|week| {
            let week = week as f64;
            let (club, smash) = ((100.0 + week) * MPH, 1.49 - 0.005 * week);
            [
                (Quantity::ClubSpeed, club),
                (Quantity::SmashFactor, smash),
                (Quantity::Carry, (240.0 + 0.4 * week) * YARD),
            ]
        });
        let rules = HouseRules::default();
        let read = |quantity| {
            follow(
                &occasions,
                (Series::Usual, Club::Driver, quantity),
                None,
                None,
                &rules,
            )
        };
        let [speed, smash, carry] =
            [Quantity::ClubSpeed, Quantity::SmashFactor, Quantity::Carry].map(read);
        let said = where_it_went(&speed, &smash, &carry)
            .unwrap()
            .show(Units::MphYd);
        assert!(
            said.starts_with("The strike did not keep up: smash fell from 1.49"),
            "{said}"
        );
        assert_eq!(where_it_went(&smash, &speed, &carry), None);
    }
}
