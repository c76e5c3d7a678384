//! Benchmarks: what a named test gave, frozen as it was that day.

use crate::physics::ball_kind::BallKind;
use crate::statistics::summary::summarise;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One value of a benchmark, over its kept balls.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BenchmarkFigure {
    /// Which.
    pub quantity: Quantity,
    /// Kept balls.
    pub n: usize,
    /// Their mean.
    pub mean: f64,
    /// The best of them, where more is better.
    pub best: Option<f64>,
    /// Their SD.
    pub spread: Option<f64>,
    /// Lower end of the interval of the mean.
    pub low: Option<f64>,
    /// Upper end.
    pub high: Option<f64>,
}

impl BenchmarkFigure {
    /// What kept values gave; nothing of none.
    pub fn of(quantity: Quantity, values: &[f64], level: f64) -> Option<BenchmarkFigure> {
        let told = summarise(values, level)?;
        Some(BenchmarkFigure {
            quantity,
            n: told.n,
            mean: told.mean,
            best: quantity.has_best().then_some(told.best),
            spread: told.spread,
            low: told.interval.map(|i| i.low),
            high: told.interval.map(|i| i.high),
        })
    }
}

/// With what a benchmark was hit: a check-in is held the same way.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BenchmarkSetting {
    /// The ball.
    pub ball: BallKind,
    /// Where.
    pub place: String,
    /// Whether it was under a roof, where that is known.
    #[serde(default)]
    pub indoors: Option<bool>,
    /// The devices that read it.
    pub devices: Vec<String>,
    /// Kept balls.
    pub balls: usize,
    /// Balls set aside.
    pub set_aside: usize,
    /// Level of the intervals, by the house rules of that day.
    pub interval_level: f64,
}

impl BenchmarkSetting {
    /// What a later session did otherwise, in words: such a session is no clean repetition.
    /// Nothing where it was held the same way. `corrected` tells of which devices an offset is
    /// known, which their readings are without.
    pub fn otherwise(
        &self,
        later: &BenchmarkSetting,
        corrected: impl Fn(&str) -> bool,
    ) -> Option<Sentence> {
        let mut said = Vec::new();
        if later.ball != self.ball {
            let kind: [&'static str; 2] = [later.ball.into(), self.ball.into()];
            said.push(format!("a {} ball in place of {}", kind[0], kind[1]));
        }
        if later.devices != self.devices {
            let named = |devices: &[String]| match devices {
                [] => "none".to_owned(),
                devices => devices.join(" and "),
            };
            let (now, then) = (named(&later.devices), named(&self.devices));
            let known = later
                .devices
                .iter()
                .chain(&self.devices)
                .any(|d| corrected(d));
            let so = if known {
                "its known offset is taken out"
            } else {
                "no offset between them is known"
            };
            said.push(format!("read by {now} in place of {then} ({so})"));
        }
        if let (Some(now), Some(then)) = (later.indoors, self.indoors)
            && now != then
        {
            let roof = |indoors| if indoors { "indoors" } else { "outdoors" };
            said.push(format!("{} in place of {}", roof(now), roof(then)));
        }
        if later.place != self.place {
            said.push(format!("at {} in place of {}", later.place, self.place));
        }
        (!said.is_empty()).then(|| Sentence::of(said.join(", ")))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::Units;

    #[test]
    fn what_was_done_otherwise_is_said() {
        let then = BenchmarkSetting {
            ball: BallKind::Premium,
            place: "Barn".to_owned(),
            indoors: Some(true),
            devices: vec!["Camera".to_owned()],
            balls: 10,
            set_aside: 1,
            interval_level: 0.9,
        };
        assert_eq!(
            then.otherwise(
                &BenchmarkSetting {
                    balls: 8,
                    ..then.clone()
                },
                |_| false
            ),
            None
        );
        let other = BenchmarkSetting {
            ball: BallKind::Range,
            devices: vec![],
            indoors: Some(false),
            ..then.clone()
        };
        assert_eq!(
            then.otherwise(&other, |_| false)
                .unwrap()
                .show(Units::MphYd),
            "a range ball in place of premium, read by none in place of Camera (no offset between them is known), \
             outdoors in place of indoors"
        );
    }
}
