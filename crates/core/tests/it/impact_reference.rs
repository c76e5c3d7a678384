//! The impact model against published averages.

use crate::impact::{club_of, compare};
use crate::table::{averages, rms_of};
use tally_core::physics::impact::{Contact, Head};

/// Ball speed (mph) and spin (share) against published, for each row.
fn by_club(contact: &Contact) -> Vec<[f64; 2]> {
    let rows = averages();
    let compared = rows.iter().enumerate();
    compared
        .map(|(i, row)| compare(row, |_| club_of(i).head(), contact).1)
        .collect()
}

fn assert_close(rows: &[[f64; 2]]) {
    let ball = rms_of(rows.iter().map(|r| r[0]));
    let spin = rms_of(rows.iter().map(|r| r[1]));
    assert!(ball <= 2.0, "ball speed {ball} mph rms");
    assert!(spin <= 0.12, "spin {spin} rms");
}

#[test]
fn ball_speed_and_spin_agree_with_published_averages() {
    assert_close(&by_club(&Contact::CALIBRATED));
}

#[test]
fn they_agree_too_when_the_club_is_not_known() {
    let rows: Vec<_> = averages()
        .iter()
        .map(|row| compare(row, Head::for_loft, &Contact::CALIBRATED).1)
        .collect();
    assert_close(&rows);
}

/// Changing any fitted coefficient by 2 % must not fit better: the constants in the
/// code are the ones that the calibration finds.
#[test]
fn the_coefficients_are_the_best_fit() {
    let cost = |contact: &Contact| -> f64 {
        let rows = by_club(contact);
        rows.iter()
            .map(|[ball, spin]| ball * ball + (spin / 0.06).powi(2))
            .sum()
    };
    let fields: [fn(&mut Contact) -> &mut f64; 3] =
        [|c| &mut c.solid, |c| &mut c.grip, |c| &mut c.slip_until_deg];
    let best = cost(&Contact::CALIBRATED);
    for (i, field) in fields.iter().enumerate() {
        for factor in [0.98, 1.02] {
            let mut moved = Contact::CALIBRATED;
            *field(&mut moved) *= factor;
            assert!(
                cost(&moved) > best,
                "coefficient {i} times {factor} fits better"
            );
        }
    }
}
