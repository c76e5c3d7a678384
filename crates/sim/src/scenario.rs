//! The demo school: invented people, places and sessions, all from seeds.

mod bags;
mod check_ins;
mod juniors;
pub mod training;

use crate::golfer::{Form, GOLFERS, Golfer, Ground, Truth};
use crate::monitor::Monitor;
use crate::practice::effort_of;
use rand::SeedableRng;
use rand_pcg::Pcg64;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::purpose::Purpose;
use tally_core::shots::mark::Reason;
use tally_core::shots::reading::Reading;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::MPH;

pub use bags::{BAGS, DemoClub};
pub use check_ins::CHECK_INS;
pub use juniors::{JUNIOR_GROUP, JUNIORS, JUNIORS_FROM};

/// Name of the demo school.
pub const SCHOOL: &str = "Kestrel Plateau Golf School";
/// Name of its coach.
pub const COACH: &str = "Tova Veld";
/// The name that its coach signs in with.
pub const SIGN_IN_NAME: &str = "tova";
/// And the password.
pub const PASSWORD: &str = "tally by the tarn";
/// Height of the school above the sea, m.
pub const PLATEAU_M: f64 = 1140.0;

/// A player of the demo school.
#[derive(Debug, Clone, Copy)]
pub struct DemoPlayer {
    /// Full name.
    pub name: &'static str,
    /// Born in this year.
    pub born: i32,
    /// Whether they play left-handed.
    pub left_handed: bool,
    /// What they come for, in their words.
    pub aim: &'static str,
    /// Standing height, m.
    pub height_m: f64,
    /// Mass, kg.
    pub mass_kg: Option<f64>,
    /// How they play.
    pub level: PlayingLevel,
    /// How they swing.
    pub golfer: Golfer,
    /// Their sessions, oldest first.
    pub sessions: &'static [DemoSession],
}

/// A session of the demo school.
#[derive(Debug, Clone, Copy)]
pub struct DemoSession {
    /// Start, as RFC 3339 in UTC.
    pub start: &'static str,
    /// Whether it is still in progress.
    pub open: bool,
    /// Why it was held.
    pub purpose: Purpose,
    /// Where.
    pub place: &'static str,
    /// Temperature, °C.
    pub temperature_c: f64,
    /// Club.
    pub club: Club,
    /// Device.
    pub monitor: Monitor,
    /// A second device on the same swings, which reads club speed too high.
    pub also: Option<Monitor>,
    /// Seed of its swings.
    pub seed: u64,
    /// Blocks: label, number of balls, change of dynamic loft (deg) and share of speed.
    pub blocks: &'static [(&'static str, usize, f64, f64)],
    /// Shots the coach set aside: index and reason.
    pub set_aside: &'static [(usize, Reason)],
    /// Whether swings follow what the blocks ask for, from the first cold one on.
    pub tested: bool,
    /// Blocks in which the player strays less or more, by label: share of the usual.
    pub straying: &'static [(&'static str, f64)],
}

impl DemoSession {
    /// Whether it is under a roof.
    pub fn indoors(&self) -> bool {
        self.place == BARN
    }

    /// The air at the place.
    pub fn conditions(&self) -> Conditions {
        Conditions {
            altitude_m: PLATEAU_M,
            temperature_c: self.temperature_c,
            humidity_pct: 55.0,
            ..Conditions::REFERENCE
        }
    }

    /// The club of a block: on the way through the bag, the one it is called after.
    pub fn club_of(&self, label: &str) -> Club {
        let named = Club::all().find(|club| club.label() == label);
        named
            .filter(|_| self.purpose == Purpose::BagGapping)
            .unwrap_or(self.club)
    }

    /// The readings of the session, block by block, in hitting order.
    pub fn readings(&self, golfer: &Golfer) -> Vec<Vec<Reading>> {
        let watched = self.watched(golfer).into_iter();
        watched
            .map(|block| block.into_iter().map(|(_, reading)| reading).collect())
            .collect()
    }

    /// What the second device reports of the same swings.
    pub fn second_readings(&self, golfer: &Golfer) -> Vec<Vec<Reading>> {
        let Some(also) = self.also else {
            return vec![];
        };
        // Randomness of its own, so that the first device's readings stay as they are.
        let mut rng = Pcg64::seed_from_u64(self.seed + 10_000);
        let mut see = |truth: &Truth| {
            let mut reading = also.watch(truth, &mut rng);
            if let Some(club) = reading.value(Quantity::ClubSpeed) {
                reading.set(Quantity::ClubSpeed, club.si + SECOND_READS_HIGH, club.from);
            }
            reading.0.remove(&Quantity::SmashFactor);
            reading
        };
        self.watched(golfer)
            .iter()
            .map(|block| block.iter().map(|(truth, _)| see(truth)).collect())
            .collect()
    }

    fn watched(&self, golfer: &Golfer) -> Vec<Vec<(Truth, Reading)>> {
        let mut rng = Pcg64::seed_from_u64(self.seed);
        let conditions = self.conditions();
        let mut swings = 0;
        self.blocks
            .iter()
            .map(|(label, balls, loft, speed)| {
                let strays = self.straying.iter().find(|(of, _)| of == label);
                let golfer = Golfer {
                    loft_deg: golfer.loft_deg + loft,
                    speed_share: golfer.speed_share * speed,
                    scatter: golfer.scatter * strays.map_or(1.0, |(_, share)| *share),
                    ..*golfer
                };
                (0..*balls)
                    .map(|_| {
                        let form = if self.tested {
                            Form {
                                swings,
                                effort: effort_of(label),
                            }
                        } else {
                            Form::USUAL
                        };
                        swings += 1;
                        let club = self.club_of(label);
                        let mut truth = golfer.swing_in(form, club, &conditions, &mut rng);
                        if self.purpose == Purpose::Force {
                            truth.ground = pushed(label, truth.ground);
                        }
                        let reading = self.monitor.watch(&truth, &mut rng);
                        (truth, reading)
                    })
                    .collect()
            })
            .collect()
    }
}

/// How a player pushes who learns to: late before the drills, and early after them.
fn pushed(label: &str, ground: Ground) -> Ground {
    let (more, peak) = match label {
        "Before" => (0.9, -0.01),
        "After" => (1.12, 0.12),
        _ => (1.0, 0.06),
    };
    Ground {
        lead: ground.lead * more,
        both: ground.both * more,
        torque: ground.torque * more,
        peak: ground.peak - 0.045 + peak,
    }
}

/// What the second device adds to club speed, m/s.
const SECOND_READS_HIGH: f64 = 1.8 * MPH;
/// The barn that the school hits from in winter.
pub const BARN: &str = "Two-bay barn";
const DECK: &str = "Outdoor deck";

#[expect(clippy::too_many_arguments, reason = "one row of a table")]
const fn session(
    start: &'static str,
    purpose: Purpose,
    place: &'static str,
    temperature_c: f64,
    club: Club,
    monitor: Monitor,
    seed: u64,
    blocks: &'static [(&'static str, usize, f64, f64)],
    set_aside: &'static [(usize, Reason)],
) -> DemoSession {
    DemoSession {
        start,
        open: false,
        purpose,
        place,
        temperature_c,
        club,
        monitor,
        also: None,
        seed,
        blocks,
        set_aside,
        tested: false,
        straying: &[],
    }
}

/// A test whose swings follow what its blocks ask for.
const fn tested(straying: &'static [(&'static str, f64)], session: DemoSession) -> DemoSession {
    DemoSession {
        tested: true,
        straying,
        ..session
    }
}

const fn with_second(also: Monitor, session: DemoSession) -> DemoSession {
    DemoSession {
        also: Some(also),
        ..session
    }
}

const fn open(session: DemoSession) -> DemoSession {
    DemoSession {
        open: true,
        ..session
    }
}

/// A bag from its shortest club to its longest and back, with the woods at a share of their
/// usual speed.
const fn through_the_bag(woods: f64) -> [(&'static str, usize, f64, f64); 20] {
    [
        ("Sand wedge", 3, 0.0, 1.0),
        ("Pitching wedge", 3, 0.0, 1.0),
        ("9-iron", 3, 0.0, 1.0),
        ("8-iron", 3, 0.0, 1.0),
        ("7-iron", 3, 0.0, 1.0),
        ("6-iron", 3, 0.0, 1.0),
        ("5-iron", 3, 0.0, 1.0),
        ("4-iron", 3, 0.0, 1.0),
        ("5-wood", 3, 0.0, woods),
        ("3-wood", 3, 0.0, woods),
        ("3-wood", 3, 0.0, woods),
        ("5-wood", 3, 0.0, woods),
        ("4-iron", 3, 0.0, 1.0),
        ("5-iron", 3, 0.0, 1.0),
        ("6-iron", 3, 0.0, 1.0),
        ("7-iron", 3, 0.0, 1.0),
        ("8-iron", 3, 0.0, 1.0),
        ("9-iron", 3, 0.0, 1.0),
        ("Pitching wedge", 3, 0.0, 1.0),
        ("Sand wedge", 3, 0.0, 1.0),
    ]
}

const THROUGH_THE_BAG: [(&str, usize, f64, f64); 20] = through_the_bag(1.0);
const THROUGH_IT_LATER: [(&str, usize, f64, f64); 20] = through_the_bag(1.03);

/// Everyone at the demo school who has sessions so far.
pub const PLAYERS: [DemoPlayer; 6] = {
    use Club as C;
    use Monitor::{Camera, ForcePlate, HandRadar, Radar};
    [
        DemoPlayer {
            name: "Ilse Marrow",
            born: 1991,
            left_handed: false,
            aim: "Carry the tarn on the seventh: 190 yd with a fairway wood",
            height_m: 1.68,
            mass_kg: Some(63.0),
            level: PlayingLevel::Club,
            golfer: GOLFERS[0],
            sessions: &[
                session(
                    "2026-01-17T09:00:00Z",
                    Purpose::Benchmark,
                    BARN,
                    7.0,
                    C::Wood5,
                    Camera,
                    101,
                    &[("As usual", 15, 0.0, 0.985)],
                    &[(6, Reason::Mishit)],
                ),
                session(
                    "2026-02-14T09:30:00Z",
                    Purpose::ExpectedCarry,
                    DECK,
                    4.0,
                    C::Wood5,
                    Radar,
                    2,
                    &[
                        ("As usual", 10, 0.0, 1.0),
                        ("Ball one width forward", 10, 1.6, 1.0),
                        ("As usual", 10, 0.0, 1.0),
                    ],
                    &[(4, Reason::Mishit), (17, Reason::Interrupted)],
                ),
                session(
                    "2026-03-21T10:00:00Z",
                    Purpose::ExpectedCarry,
                    DECK,
                    11.0,
                    C::Wood5,
                    Radar,
                    31,
                    &[
                        ("New tee height", 12, 2.0, 1.01),
                        ("From the mat", 13, 1.5, 1.01),
                    ],
                    &[(7, Reason::Mishit)],
                ),
            ],
        },
        DemoPlayer {
            name: "Dov Ransley",
            born: 2007,
            left_handed: false,
            aim: "Hit fairways without giving up speed",
            height_m: 1.84,
            mass_kg: Some(79.0),
            level: PlayingLevel::Competition,
            golfer: GOLFERS[1],
            sessions: &[
                with_second(
                    Radar,
                    session(
                        "2026-01-24T15:00:00Z",
                        Purpose::Benchmark,
                        BARN,
                        6.0,
                        C::Driver,
                        Camera,
                        211,
                        &[("Stock", 20, 0.0, 1.0)],
                        &[(3, Reason::Mishit), (12, Reason::Mishit)],
                    ),
                ),
                tested(
                    &[],
                    session(
                        "2026-02-21T14:00:00Z",
                        Purpose::EffortLadder,
                        DECK,
                        5.0,
                        C::Driver,
                        Radar,
                        229,
                        &[
                            ("50 %", 3, 0.0, 1.0),
                            ("Stock", 3, 0.0, 1.0),
                            ("60 %", 3, 0.0, 1.0),
                            ("100 %", 3, 0.0, 1.0),
                            ("70 %", 3, 0.0, 1.0),
                            ("90 %", 3, 0.0, 1.0),
                            ("80 %", 3, 0.0, 1.0),
                            ("80 %", 3, 0.0, 1.0),
                            ("90 %", 3, 0.0, 1.0),
                            ("70 %", 3, 0.0, 1.0),
                            ("100 %", 3, 0.0, 1.0),
                            ("60 %", 3, 0.0, 1.0),
                            ("Stock", 3, 0.0, 1.0),
                            ("50 %", 3, 0.0, 1.0),
                        ],
                        &[(13, Reason::MissedFeel)],
                    ),
                ),
                session(
                    "2026-02-28T14:00:00Z",
                    Purpose::BagGapping,
                    BARN,
                    7.0,
                    C::Iron7,
                    Camera,
                    231,
                    &THROUGH_THE_BAG,
                    &[],
                ),
                session(
                    "2026-04-04T13:00:00Z",
                    Purpose::BagGapping,
                    DECK,
                    11.0,
                    C::Iron7,
                    Camera,
                    237,
                    &THROUGH_IT_LATER,
                    &[],
                ),
                open(tested(
                    &[],
                    session(
                        "2026-04-18T13:00:00Z",
                        Purpose::EffortLadder,
                        DECK,
                        13.0,
                        C::Driver,
                        Radar,
                        223,
                        &[
                            ("50 %", 3, 0.0, 1.0),
                            ("Stock", 3, 0.0, 1.0),
                            ("60 %", 3, 0.0, 1.0),
                            ("100 %", 2, 0.0, 1.0),
                        ],
                        &[(7, Reason::MissedFeel)],
                    ),
                )),
            ],
        },
        DemoPlayer {
            name: "Petra Quill",
            born: 1964,
            left_handed: false,
            aim: "Play again after a hip operation, without hurry",
            height_m: 1.71,
            mass_kg: None,
            level: PlayingLevel::Club,
            golfer: GOLFERS[2],
            sessions: &[
                session(
                    "2026-03-07T11:00:00Z",
                    Purpose::ExpectedCarry,
                    BARN,
                    9.0,
                    C::Iron5,
                    Camera,
                    307,
                    &[("Usual start", 8, 0.0, 1.0), ("Quiet start", 8, 0.0, 1.0)],
                    &[(2, Reason::Mishit)],
                ),
                tested(
                    &[("Usual start", 1.4), ("Quiet start", 0.6)],
                    session(
                        "2026-04-04T11:00:00Z",
                        Purpose::Comparison,
                        DECK,
                        10.0,
                        C::Iron5,
                        Radar,
                        318,
                        &[
                            ("Usual start", 6, 0.0, 1.0),
                            ("Quiet start", 6, 0.0, 0.995),
                            ("Quiet start", 6, 0.0, 0.995),
                            ("Usual start", 6, 0.0, 1.0),
                        ],
                        &[(4, Reason::Interrupted)],
                    ),
                ),
            ],
        },
        DemoPlayer {
            name: "Bram Lindqvale",
            born: 1998,
            left_handed: true,
            aim: "Hit it very far",
            height_m: 1.92,
            mass_kg: Some(98.0),
            level: PlayingLevel::Elite,
            golfer: GOLFERS[3],
            sessions: &[
                session(
                    "2026-02-28T16:00:00Z",
                    Purpose::Benchmark,
                    DECK,
                    6.0,
                    C::Driver,
                    Radar,
                    401,
                    &[("Stock", 12, 0.0, 1.0), ("Everything", 12, 0.0, 1.035)],
                    &[(15, Reason::Mishit)],
                ),
                tested(
                    &[],
                    session(
                        "2026-03-28T16:00:00Z",
                        Purpose::SpeedDay,
                        DECK,
                        9.0,
                        C::Driver,
                        Radar,
                        409,
                        &[
                            ("Normal swings", 4, 0.0, 1.0),
                            ("Full speed, flight ignored", 5, 0.0, 1.0),
                            ("Full speed once more", 5, 0.0, 1.0),
                            ("Normal swings again", 4, 0.0, 1.0),
                        ],
                        &[],
                    ),
                ),
            ],
        },
        DemoPlayer {
            name: "Ayla Tarrant",
            born: 2011,
            left_handed: false,
            aim: "Make the county junior squad",
            height_m: 1.61,
            mass_kg: None,
            level: PlayingLevel::Competition,
            golfer: GOLFERS[4],
            sessions: &[
                session(
                    "2026-03-14T09:00:00Z",
                    Purpose::Benchmark,
                    DECK,
                    9.0,
                    C::Iron7,
                    Radar,
                    503,
                    &[("Stock", 18, 0.0, 1.0)],
                    &[(8, Reason::Mishit)],
                ),
                with_second(
                    HandRadar,
                    session(
                        "2026-03-28T09:00:00Z",
                        Purpose::Force,
                        BARN,
                        8.0,
                        C::Driver,
                        ForcePlate,
                        509,
                        &[
                            ("Before", 5, 0.0, 1.0),
                            ("Drills", 6, 0.0, 0.9),
                            ("After", 5, 0.0, 1.05),
                        ],
                        &[],
                    ),
                ),
                tested(
                    &[],
                    session(
                        "2026-04-11T09:00:00Z",
                        Purpose::SpeedLadder,
                        DECK,
                        12.0,
                        C::Iron7,
                        Radar,
                        509,
                        &[
                            ("75 % of stock", 2, 0.0, 1.0),
                            ("100 % of stock", 2, 0.0, 1.0),
                            ("80 % of stock", 2, 0.0, 1.0),
                            ("95 % of stock", 2, 0.0, 1.0),
                            ("85 % of stock", 2, 0.0, 1.0),
                            ("90 % of stock", 2, 0.0, 1.0),
                            ("90 % of stock", 2, 0.0, 1.0),
                            ("85 % of stock", 2, 0.0, 1.0),
                            ("95 % of stock", 2, 0.0, 1.0),
                            ("80 % of stock", 2, 0.0, 1.0),
                            ("100 % of stock", 2, 0.0, 1.0),
                            ("75 % of stock", 2, 0.0, 1.0),
                        ],
                        &[],
                    ),
                ),
            ],
        },
        DemoPlayer {
            name: "Niko Tarrant",
            born: 2014,
            left_handed: false,
            aim: "Beat his sister",
            height_m: 1.42,
            mass_kg: None,
            level: PlayingLevel::Club,
            golfer: GOLFERS[5],
            sessions: &[session(
                "2026-03-14T10:00:00Z",
                Purpose::Benchmark,
                DECK,
                10.0,
                C::Iron7,
                Radar,
                601,
                &[("Stock", 14, 0.0, 1.0)],
                &[(1, Reason::Mishit), (9, Reason::Interrupted)],
            )],
        },
    ]
};

#[cfg(test)]
mod tests {
    use super::*;
    use tally_core::session::read::{Question, read};
    use tally_core::shots::standing::Shot;

    #[test]
    fn the_demo_holds_trouble_and_its_set_aside_shots_exist() {
        let mut doubtful = 0;
        for player in &PLAYERS {
            for session in player.sessions {
                let shots: Vec<Shot> = session
                    .readings(&player.golfer)
                    .concat()
                    .into_iter()
                    .map(|reading| Shot {
                        reading,
                        decision: None,
                    })
                    .collect();
                assert!(session.set_aside.iter().all(|(i, _)| *i < shots.len()));
                let report = read(&Question {
                    player: player.name,
                    club: session.club,
                    conditions: session.conditions(),
                    rules: tally_core::verdicts::house_rules::HouseRules::default(),
                    shots: &shots,
                });
                doubtful += report.counts.doubtful;
            }
        }
        assert!(doubtful > 0, "no doubtful reading anywhere in the demo");
    }

    #[test]
    fn the_second_device_reads_club_speed_high_and_ball_speed_true() {
        let (player, session) = PLAYERS
            .iter()
            .flat_map(|p| p.sessions.iter().map(move |s| (p, s)))
            .find(|(_, s)| s.also.is_some())
            .unwrap();
        let first = session.readings(&player.golfer).concat();
        let second = session.second_readings(&player.golfer).concat();
        let apart = |quantity| {
            let pairs = first.iter().zip(&second);
            let apart: Vec<f64> = pairs
                .filter_map(|(a, b)| Some(b.get(quantity)? - a.get(quantity)?))
                .collect();
            apart.iter().sum::<f64>() / apart.len() as f64
        };
        assert!((apart(Quantity::ClubSpeed) - SECOND_READS_HIGH).abs() < 0.3);
        assert!(apart(Quantity::BallSpeed).abs() < 0.1);
    }

    #[test]
    fn a_session_is_the_same_each_time_it_is_made() {
        let session = &PLAYERS[0].sessions[1];
        assert_eq!(
            session.readings(&PLAYERS[0].golfer),
            session.readings(&PLAYERS[0].golfer)
        );
    }
}
