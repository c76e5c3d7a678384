//! The junior group: children who come on Saturdays, and are tested twice in a winter, in March
//! with their drivers as well.

use super::{BARN, DECK, DemoPlayer, DemoSession, session};
use crate::golfer::{GOLFERS, Golfer};
use crate::monitor::Monitor::Radar;
use tally_core::physics::club::Club;
use tally_core::session::purpose::Purpose;
use tally_core::vocabulary::playing_level::PlayingLevel;

/// A junior: name, year of birth, height, share of the reference speed, what the driver's length
/// leaves of it, seed.
macro_rules! junior {
    ($name:literal, $born:literal, $height_m:literal, $share:literal, $driver:literal, $seed:literal) => {
        DemoPlayer {
            name: $name,
            born: $born,
            left_handed: false,
            aim: "",
            height_m: $height_m,
            mass_kg: None,
            level: PlayingLevel::Club,
            golfer: Golfer {
                speed_share: $share,
                ..GOLFERS[5]
            },
            sessions: {
                const SESSIONS: [DemoSession; 3] = [
                    tested("2025-12-06T12:00:00Z", BARN, 5.0, $seed, 0.97),
                    tested("2026-03-14T12:00:00Z", DECK, 9.0, $seed + 1, 1.0),
                    session(
                        "2026-03-14T12:20:00Z",
                        Purpose::ClubLength,
                        DECK,
                        9.0,
                        Club::Driver,
                        Radar,
                        $seed + 2,
                        &[("Usual length", 5, 0.0, $driver)],
                        &[],
                    ),
                ];
                &SESSIONS
            },
        }
    };
}

const fn tested(
    start: &'static str,
    place: &'static str,
    temperature_c: f64,
    seed: u64,
    share: f64,
) -> DemoSession {
    let blocks: &'static [(&'static str, usize, f64, f64)] = if share < 1.0 {
        &[("Check-in", 8, 0.0, 0.97)]
    } else {
        &[("Check-in", 8, 0.0, 1.0)]
    };
    session(
        start,
        Purpose::Benchmark,
        place,
        temperature_c,
        Club::Iron7,
        Radar,
        seed,
        blocks,
        &[],
    )
}

/// What the group is called.
pub const JUNIOR_GROUP: &str = "Saturday juniors";
/// Number of the first of them among the school's players.
pub const JUNIORS_FROM: u64 = 10;

/// The children of the group.
pub const JUNIORS: [DemoPlayer; 7] = [
    junior!("Mira Halden", 2011, 1.58, 0.74, 1.0, 7000),
    junior!("Teo Brandl", 2012, 1.55, 0.71, 0.99, 7010),
    junior!("Lise Aubry", 2012, 1.49, 0.66, 1.0, 7020),
    junior!("Oskar Venn", 2013, 1.46, 0.68, 0.95, 7030),
    junior!("Runa Stolz", 2013, 1.44, 0.61, 0.99, 7040),
    junior!("Jasper Kolm", 2011, 1.71, 0.83, 0.99, 7050),
    junior!("Edda Mohr", 2011, 1.6, 0.7, 0.97, 7060),
];
