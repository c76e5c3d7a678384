//! Many questions at once: which claims stand when all of them are counted.
//!
//! Of twenty tests of nothing two come out "sure" at nine in ten. Benjamini & Hochberg
//! (1995) hold the share of false claims among those told to what was promised for one.

/// Which of these chances (of so much by luck alone, 0…1) stand together at `level`.
///
/// ```
/// use tally_core::statistics::many::standing;
/// assert_eq!(standing(&[0.04], 0.9), [true]);
/// assert_eq!(standing(&[0.04, 0.6, 0.8, 0.5], 0.9), [false, false, false, false]);
/// assert_eq!(standing(&[0.04, 0.06, 0.8, 0.001], 0.9), [true, true, false, true]);
/// ```
pub fn standing(p: &[f64], level: f64) -> Vec<bool> {
    let mut ranked = p.to_vec();
    ranked.sort_by(f64::total_cmp);
    let share = (1.0 - level) / p.len().max(1) as f64;
    let last = ranked
        .iter()
        .enumerate()
        .rev()
        .find(|(i, p)| **p <= share * (i + 1) as f64)
        .map(|(_, p)| *p);
    p.iter()
        .map(|p| last.is_some_and(|last| *p <= last))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardUniform};
    use rand_pcg::Pcg64;

    #[test]
    fn few_of_the_claims_that_stand_are_false() {
        let mut rng = Pcg64::seed_from_u64(7);
        let (mut share, mut found) = (0.0, 0);
        const RUNS: usize = 2000;
        for _ in 0..RUNS {
            // Fifteen tests of nothing beside five of something clear.
            let p: Vec<f64> = (0..20)
                .map(|i| {
                    Distribution::<f64>::sample(&StandardUniform, &mut rng)
                        * if i < 5 { 0.004 } else { 1.0 }
                })
                .collect();
            let stands = standing(&p, 0.9);
            let told = stands.iter().filter(|s| **s).count();
            let wrong = stands[5..].iter().filter(|s| **s).count();
            share += wrong as f64 / told.max(1) as f64;
            found += stands[..5].iter().filter(|s| **s).count();
        }
        assert!(share / (RUNS as f64) <= 0.1, "{}", share / RUNS as f64);
        assert!(found > 4 * RUNS, "{found}");
    }
}
