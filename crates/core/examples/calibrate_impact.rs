//! Fits the contact of ball and face, and the spring of thin faces, to the reference
//! averages and prints them with their residuals:
//! `cargo run --release -p tally-core --example calibrate_impact`.
//!
//! One dynamic loft for each row is inferred from its launch; ball speed and spin
//! are left to judge by: 24 residuals and two expected strike heights, six coefficients.

#[path = "../reference/impact.rs"]
mod impact;
#[path = "../reference/least_squares.rs"]
mod least_squares;
#[path = "../reference/table.rs"]
mod table;

use impact::{HIGH, club_of, compare, high_of};
use table::{Average, averages, rms_of};
use tally_core::physics::club::Club;
use tally_core::physics::impact::{Contact, Head};

/// Head of the club of a row, with the springs that are being fitted.
fn head(club: Club, p: &[f64]) -> Head {
    let spring = match club {
        Club::Wood3 | Club::Wood5 => p[3],
        Club::Hybrid => p[4],
        _ => club.head().spring,
    };
    Head {
        spring,
        ..club.head()
    }
}

fn contact(p: &[f64]) -> Contact {
    Contact {
        solid: p[0],
        grip: p[1],
        ..Contact::CALIBRATED
    }
}

/// Strike heights of driver and woods, m.
fn high(p: &[f64]) -> [f64; 2] {
    [p[2], p[5]]
}

fn main() {
    let rows = averages();
    let compared = |p: &[f64]| -> Vec<(f64, [f64; 2])> {
        rows.iter()
            .enumerate()
            .map(|(i, row)| {
                compare(
                    row,
                    high_of(i, high(p)),
                    |_| head(club_of(i), p),
                    &contact(p),
                )
            })
            .collect()
    };
    // One weighted error is about what averaging leaves: 1 mph, 6 % of spin.
    let found = least_squares::fit(&[0.75, 0.23, 0.008, 0.08, 0.05, 0.002], |p| {
        let strikes = high(p).into_iter().zip(HIGH);
        let strikes: Vec<f64> = strikes
            .map(|(at, [mean, error])| (at - mean) / error)
            .collect();
        let rows = compared(p);
        let rows = rows
            .iter()
            .flat_map(|(_, [ball, spin])| [*ball, spin / 0.06]);
        rows.chain(strikes).collect()
    });
    println!("{:#?}", contact(&found));
    println!("springs: woods {:.4}, hybrid {:.4}", found[3], found[4]);
    println!(
        "struck high: driver {:.5} m, woods {:.5} m\n",
        found[2], found[5]
    );
    print("Head of the club", &rows, &compared(&found));
    let by_loft: Vec<_> = rows
        .iter()
        .enumerate()
        .map(|(i, row)| {
            compare(
                row,
                high_of(i, high(&found)),
                Head::for_loft,
                &contact(&found),
            )
        })
        .collect();
    print("Head by its loft, club unknown", &rows, &by_loft);
}

fn print(title: &str, rows: &[Average], compared: &[(f64, [f64; 2])]) {
    println!(
        "{title}\n\n| club | dynamic loft, deg | ball speed, mph | spin, % |\n|---|---|---|---|"
    );
    for (row, (loft, [ball, spin])) in rows.iter().zip(compared) {
        println!(
            "| {} | {loft:.1} | {ball:+.1} | {:+.0} |",
            row.club,
            100.0 * spin
        );
    }
    println!(
        "| **rms** | | {:.2} | {:.1} |\n",
        rms_of(compared.iter().map(|(_, e)| e[0])),
        100.0 * rms_of(compared.iter().map(|(_, e)| e[1]))
    );
}
