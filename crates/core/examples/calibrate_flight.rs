//! Fits the flight coefficients to the reference averages and prints them with their
//! residuals, with the residuals of each club when it is left out of the fit, and
//! draws both: `cargo run --release -p tally-core --example calibrate_flight [SVG]`.
//!
//! Levenberg & Marquardt on 36 weighted residuals, 24 of what thin air does, and five
//! coefficients.

#[path = "../reference/fit.rs"]
mod fit;
#[path = "../reference/least_squares.rs"]
mod least_squares;
#[path = "../reference/table.rs"]
mod table;

use fit::{fitted, left_out};
use std::fmt::Write;
use table::{Average, averages, residuals, rms};

/// The quantities of a residual: name, unit, and how much of it is a plot's half height.
const QUANTITIES: [(&str, &str, f64); 3] = [
    ("Carry", "yd", 8.0),
    ("Apex", "yd", 4.0),
    ("Landing angle", "deg", 6.0),
];

fn main() {
    let all = averages();
    let best = fitted(&all);
    println!("{best:#?}\n");
    let fit = residuals(&all, &best);
    let left_out = left_out(&all);
    println!(
        "| club | carry, yd | left out | apex, yd | left out | landing angle, deg | left out |"
    );
    println!("|---|---|---|---|---|---|---|");
    let cells = |fit: &[f64; 3], out: &[f64; 3]| {
        (0..3).fold(String::new(), |mut row, i| {
            let _ = write!(row, " {:+.1} | {:+.1} |", fit[i], out[i]);
            row
        })
    };
    for ((average, fit), out) in all.iter().zip(&fit).zip(&left_out) {
        println!("| {} |{}", average.club, cells(fit, out));
    }
    let (fit_rms, out_rms) = (
        [0, 1, 2].map(|i| rms(&fit, i)),
        [0, 1, 2].map(|i| rms(&left_out, i)),
    );
    println!("| **rms** |{}", cells(&fit_rms, &out_rms).replace('+', ""));
    if let Some(path) = std::env::args().nth(1) {
        std::fs::write(path, plot(&all, &fit, &left_out)).expect("the plot can be written");
    }
}

/// Residuals of every club, fitted (dot) and left out (ring), one panel a quantity.
fn plot(all: &[Average], fit: &[[f64; 3]], left_out: &[[f64; 3]]) -> String {
    let (panel, step) = (130.0, 54.0);
    let mut svg = String::from(
        r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 760 440" font-family="sans-serif" font-size="12" fill="#1D2129"><rect width="760" height="440" fill="#FAF7F0"/>"##,
    );
    for (i, (name, unit, half)) in QUANTITIES.iter().enumerate() {
        let zero = 70.0 + panel * i as f64;
        let _ = write!(
            svg,
            r##"<text x="8" y="{:.0}">{name}, {unit}</text><text x="60" y="{:.0}" text-anchor="end">0</text><path d="M66 {zero}H750" stroke="#5B6270"/>"##,
            zero - 48.0,
            zero + 4.0
        );
        for sign in [-1.0, 1.0] {
            let y = zero - sign * 40.0;
            let at = sign * half * 40.0 / 52.0;
            let _ = write!(
                svg,
                r##"<text x="60" y="{:.0}" text-anchor="end">{at:+.1}</text><path d="M66 {y}H750" stroke="#E3DCCB"/>"##,
                y + 4.0
            );
        }
        for (club, (fit, out)) in fit.iter().zip(left_out).enumerate() {
            let x = 100.0 + step * club as f64;
            let y = |residual: f64| zero - residual / half * 52.0;
            let _ = write!(
                svg,
                r##"<circle cx="{x}" cy="{:.1}" r="4"/><circle cx="{x}" cy="{:.1}" r="5" fill="none" stroke="#8F5200" stroke-width="1.5"/>"##,
                y(fit[i]),
                y(out[i])
            );
        }
    }
    for (club, average) in all.iter().enumerate() {
        let x = 100.0 + step * club as f64;
        let name = average.club.replace("pitching wedge", "wedge");
        let _ = write!(
            svg,
            r##"<text x="{x}" y="430" text-anchor="middle">{name}</text>"##
        );
    }
    svg.push_str("</svg>\n");
    svg
}
