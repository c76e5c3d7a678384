//! The impact model against published averages.

use crate::impact::{HIGH, club_of, compare, high_of};
use crate::table::{averages, rms_of};
use tally_core::physics::club::Club;
use tally_core::physics::impact::{Contact, Delivery, Head, Lie, strike};

/// How high the reference deliveries strike driver and woods, m.
fn usual_high() -> [f64; 2] {
    [Club::Driver, Club::Wood3].map(|club| club.reference_delivery(45.0).impact_high)
}

/// Ball speed (mph) and spin (share) against published, for each row.
fn by_club(contact: &Contact, high: [f64; 2]) -> Vec<[f64; 2]> {
    let rows = averages();
    let compared = rows.iter().enumerate();
    compared
        .map(|(i, row)| compare(row, high_of(i, high), |_| club_of(i).head(), contact).1)
        .collect()
}

fn assert_close(rows: &[[f64; 2]]) {
    let ball = rms_of(rows.iter().map(|r| r[0]));
    let spin = rms_of(rows.iter().map(|r| r[1]));
    assert!(ball <= 1.5, "ball speed {ball} mph rms");
    assert!(spin <= 0.10, "spin {spin} rms");
    assert!(
        rows[0][1].abs() <= 0.10,
        "spin of the driver {:+.2}",
        rows[0][1]
    );
}

#[test]
fn ball_speed_and_spin_agree_with_published_averages() {
    assert_close(&by_club(&Contact::CALIBRATED, usual_high()));
}

#[test]
fn they_agree_too_when_the_club_is_not_known() {
    let rows: Vec<_> = averages()
        .iter()
        .enumerate()
        .map(|(i, row)| {
            let high = high_of(i, usual_high());
            compare(row, high, Head::for_loft, &Contact::CALIBRATED).1
        })
        .collect();
    assert_close(&rows);
}

/// Changing any fitted coefficient by 2 % must not fit better: the constants in the
/// code are the ones that the calibration finds.
#[test]
fn the_coefficients_are_the_best_fit() {
    let cost = |contact: &Contact, high: [f64; 2]| -> f64 {
        let rows = by_club(contact, high);
        let published = rows
            .iter()
            .map(|[ball, spin]| ball * ball + (spin / 0.06).powi(2));
        let strikes = high.into_iter().zip(HIGH);
        let strikes = strikes.map(|(at, [mean, error])| ((at - mean) / error).powi(2));
        published.chain(strikes).sum()
    };
    let fields: [fn(&mut Contact) -> &mut f64; 2] = [|c| &mut c.solid, |c| &mut c.grip];
    let best = cost(&Contact::CALIBRATED, usual_high());
    for factor in [0.98, 1.02] {
        for (i, field) in fields.iter().enumerate() {
            let mut moved = Contact::CALIBRATED;
            *field(&mut moved) *= factor;
            let moved = cost(&moved, usual_high());
            assert!(moved > best, "coefficient {i} times {factor} fits better");
        }
        let [driver, woods] = usual_high();
        for high in [
            [driver * factor, woods],
            [driver, woods + 0.0005 * (factor - 1.0).signum()],
        ] {
            let moved = cost(&Contact::CALIBRATED, high);
            assert!(
                moved > best,
                "struck {high:?} fits better than {:?}",
                usual_high()
            );
        }
    }
}

/// A ball grips at small angles and slides past the friction limit, so that spin rises
/// with spin loft, tops out and falls.
#[test]
fn spin_rises_with_spin_loft_tops_out_and_falls() {
    let head = Club::WedgeSand.head();
    let spin = |spin_loft: f64| {
        let delivery = Delivery::straight(36.0, -3.0, spin_loft - 3.0);
        strike(&delivery, &head).unwrap().spin_rate_rpm
    };
    let lofts: Vec<f64> = (5..=75).map(|loft| spin(f64::from(loft))).collect();
    let top = lofts.iter().copied().fold(0.0, f64::max);
    let at = 5 + lofts.iter().position(|s| *s == top).unwrap();
    assert!((50..=62).contains(&at), "spin tops out at {at} deg");
    assert!(spin(70.0) < spin(55.0));
    // At small angles it grips: spin goes with the sine of the angle.
    let grips = spin(12.0) / spin(6.0) / (12.0_f64.to_radians().sin() / 6.0_f64.to_radians().sin());
    assert!((grips - 1.0).abs() < 0.02, "{grips}");
}

#[test]
fn water_takes_spin_off_a_wedge_and_grass_off_an_iron_and_neither_off_a_driver() {
    let share = |club: Club, lie: Lie| {
        let dry = club.reference_delivery(0.85 * club.reference_club_speed());
        let spin = |lie| {
            strike(&Delivery { lie, ..dry }, &club.head())
                .unwrap()
                .spin_rate_rpm
        };
        spin(lie) / spin(Lie::Dry)
    };
    assert!((0.6..0.9).contains(&share(Club::WedgeSand, Lie::Wet)));
    assert!((0.5..0.85).contains(&share(Club::Iron7, Lie::Grass)));
    for lie in [Lie::Wet, Lie::Grass] {
        assert!(share(Club::Driver, lie) > 0.95, "{lie:?}");
        assert!(share(Club::WedgePitching, lie) < share(Club::Iron4, lie));
    }
}

/// Where the club is not told, a degree more loft costs what a degree costs.
#[test]
fn a_head_guessed_from_its_loft_never_makes_the_ball_speed_jump() {
    let ball = |loft: f64| {
        let delivery = Delivery::straight(42.0, -2.0, loft);
        strike(&delivery, &Head::for_loft(loft)).unwrap().ball_speed / 0.44704
    };
    for tenth in 80..450 {
        let loft = f64::from(tenth) / 10.0;
        let lost = ball(loft) - ball(loft + 0.1);
        assert!((-0.05..0.2).contains(&lost), "{lost} mph from {loft} deg");
    }
}
