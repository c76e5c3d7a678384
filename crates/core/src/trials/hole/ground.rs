//! A hole made ready to lay very many balls on.

use super::{Hole, SideTrouble, TroubleKind};
use crate::trials::strokes::{FromLie, Lie, expected_strokes};
use crate::verdicts::house_rules::HouseRules;

/// Before water across, where a ball is dropped, m.
const DROP: f64 = 2.0;

/// A hole as what a ball can meet on it. Where a ball is tells its zone, and the zone all else, so
/// that hardly a way parts: patterns of balls ask by the hundred thousand.
pub(super) struct Ground {
    length: f64,
    green: f64,
    level: f64,
    half_fairway: f64,
    /// Where trouble on the left and on the right begins; endlessly far where there is none.
    beside: [f64; 2],
    /// Where trouble across begins and ends.
    across: [f64; 2],
    /// By what is met: [`FAIRWAY`] and so on.
    zones: [Zone; 5],
}

/// Places of what a ball can meet. Trouble on the right stands behind that on the left.
const FAIRWAY: usize = 0;
const ROUGH: usize = 1;
const BESIDE: usize = 2;
const ACROSS: usize = 4;

/// Where the next stroke is played, and what it takes.
#[derive(Clone, Copy)]
struct Zone {
    place: Place,
    /// Strokes from there, with those that it costs to play from there.
    takes: FromLie,
    /// The latter alone.
    lost: f64,
}

/// Where the next stroke is played.
#[derive(Clone, Copy)]
struct Place {
    /// No further from the line than this, m.
    widest: f64,
    /// No nearer to the tee and no further than these, m.
    along: [f64; 2],
    /// Taken from where the ball landed, not from where it came to rest.
    landed: bool,
}

impl Place {
    const WHERE_IT_LIES: Place = Place {
        widest: f64::INFINITY,
        along: [f64::NEG_INFINITY, f64::INFINITY],
        landed: false,
    };
    const TEE: Place = Place {
        widest: 0.0,
        along: [0.0; 2],
        landed: false,
    };
}

impl Ground {
    pub fn of(hole: &Hole, rules: &HouseRules) -> Ground {
        let zone = |lie, lost, place| Zone {
            place,
            takes: FromLie::of(lie, rules.player_level, lost).expect("it is not the green"),
            lost,
        };
        // From where it was met, or from where a ball is dropped for it.
        let trouble = |kind, met, drop| match kind {
            TroubleKind::Trees => zone(Lie::Recovery, 0.0, met),
            TroubleKind::Sand => zone(Lie::Sand, 0.0, met),
            TroubleKind::Water => zone(Lie::Rough, 1.0, drop),
            TroubleKind::OutOfBounds => zone(Lie::Tee, 1.0, Place::TEE),
        };
        let lies = Place::WHERE_IT_LIES;
        let rough = zone(Lie::Rough, 0.0, lies);
        let beside = |side: Option<SideTrouble>| match side {
            None => (f64::INFINITY, rough),
            Some(side) => {
                let edge = Place {
                    widest: side.from,
                    ..lies
                };
                (side.from, trouble(side.kind, lies, edge))
            }
        };
        let (across, over) = match hole.across {
            None => ([f64::INFINITY, f64::NEG_INFINITY], rough),
            Some(across) => {
                let ends = [across.from, across.to];
                let within = Place {
                    along: ends,
                    landed: true,
                    ..lies
                };
                let before = Place {
                    along: [across.from - DROP; 2],
                    ..lies
                };
                (ends, trouble(across.kind, within, before))
            }
        };
        let [(left, on_left), (right, on_right)] = [hole.left, hole.right].map(beside);
        Ground {
            length: hole.length,
            green: rules.green_radius,
            level: rules.player_level,
            half_fairway: hole.fairway_width / 2.0,
            beside: [left, right],
            across,
            zones: [
                zone(Lie::Fairway, 0.0, lies),
                rough,
                on_left,
                on_right,
                over,
            ],
        }
    }

    /// Strokes after each of `N` tee shots, summed: of balls that come down so far right of the
    /// line and along it, and run on so far.
    #[inline]
    pub fn after<const N: usize>(
        &self,
        balls: impl IntoIterator<Item = [f64; 2]>,
        run: f64,
    ) -> f64 {
        // Step by step for all of them: a processor then does several at a time.
        let (mut met, mut left) = ([0; N], [0.0; N]);
        for ((met, left), [side, carry]) in met.iter_mut().zip(&mut left).zip(balls) {
            *met = self.met(side, carry, carry + run);
            *left = self.left_squared(*met, side, carry, carry + run);
        }
        for left in &mut left {
            *left = left.sqrt();
        }
        let after = met.into_iter().zip(left).map(|(met, left)| {
            let zone = &self.zones[met];
            if left <= self.green {
                zone.lost + expected_strokes(left, Lie::Green, self.level)
            } else {
                zone.takes.strokes(left)
            }
        });
        after.sum()
    }

    /// Which zone a ball meets.
    #[inline]
    fn met(&self, side: f64, carry: f64, total: f64) -> usize {
        let (right, stray) = (usize::from(side >= 0.0), side.abs());
        // Landing in it, or running into it from the near side.
        if carry <= self.across[1] && total >= self.across[0] {
            ACROSS
        } else if stray > self.beside[right] {
            BESIDE + right
        } else {
            [FAIRWAY, ROUGH][usize::from(stray > self.half_fairway)]
        }
    }

    /// The square of what is left to the hole, m². Its root is not taken by `hypot`: nothing here
    /// is near the ends of what a number holds.
    #[inline]
    fn left_squared(&self, met: usize, side: f64, carry: f64, total: f64) -> f64 {
        let place = &self.zones[met].place;
        let along = if place.landed { carry } else { total };
        let along = along.clamp(place.along[0], place.along[1]);
        let stray = side.abs().clamp(0.0, place.widest);
        (self.length - along).powi(2) + stray * stray
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::trials::hole::CrossTrouble;

    #[test]
    fn a_ball_plays_on_from_where_it_lies_from_its_drop_or_from_the_tee() {
        let rules = HouseRules::default();
        let on = |left, right, across| Hole {
            length: 400.0,
            fairway_width: 30.0,
            left: Some(SideTrouble {
                kind: left,
                from: 30.0,
            }),
            right: Some(SideTrouble {
                kind: right,
                from: 25.0,
            }),
            across: Some(CrossTrouble {
                kind: across,
                from: 150.0,
                to: 170.0,
            }),
        };
        use TroubleKind::{OutOfBounds, Sand, Trees, Water};
        let one = on(Water, Trees, Sand);
        let other = on(Sand, OutOfBounds, Water);
        // Where it comes down; from where on, by which lie, at what cost it plays on.
        for (hole, side, carry, from, lie, lost) in [
            (&one, 0.0, 240.0, [0.0, 250.0], Lie::Fairway, 0.0),
            (&one, -15.0, 240.0, [-15.0, 250.0], Lie::Fairway, 0.0),
            (&one, -16.0, 240.0, [-16.0, 250.0], Lie::Rough, 0.0),
            (&one, -40.0, 240.0, [-30.0, 250.0], Lie::Rough, 1.0),
            (&one, 26.0, 240.0, [26.0, 250.0], Lie::Recovery, 0.0),
            (&one, 3.0, 160.0, [3.0, 160.0], Lie::Sand, 0.0),
            (&one, 3.0, 145.0, [3.0, 150.0], Lie::Sand, 0.0),
            (&one, 3.0, 139.0, [3.0, 149.0], Lie::Fairway, 0.0),
            (&one, 3.0, 171.0, [3.0, 181.0], Lie::Fairway, 0.0),
            (&one, 2.0, 382.0, [2.0, 392.0], Lie::Green, 0.0),
            (&other, -40.0, 240.0, [-40.0, 250.0], Lie::Sand, 0.0),
            (&other, 40.0, 240.0, [0.0, 0.0], Lie::Tee, 1.0),
            (&other, 40.0, 160.0, [40.0, 148.0], Lie::Rough, 1.0),
            (&other, 0.0, 168.0, [0.0, 148.0], Lie::Rough, 1.0),
        ] {
            let left = f64::hypot(400.0 - from[1], from[0]);
            let wanted = lost + expected_strokes(left, lie, rules.player_level);
            let told = Ground::of(hole, &rules).after::<1>([[side, carry]], 10.0);
            assert!(
                (told - wanted).abs() < 1e-9,
                "{side} {carry}: {told} {wanted}"
            );
        }
        // Several at once are as many strokes as one after the other.
        let balls = [[0.0, 240.0], [-40.0, 240.0], [3.0, 145.0]];
        let ground = Ground::of(&one, &rules);
        let one_by_one: f64 = balls
            .map(|ball| ground.after::<1>([ball], 10.0))
            .iter()
            .sum();
        assert!((ground.after::<3>(balls, 10.0) - one_by_one).abs() < 1e-9);
    }
}
