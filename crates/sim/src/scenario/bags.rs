//! The clubs of the demo school's players.

use tally_core::physics::club::Club;

/// A club of a player's bag.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DemoClub {
    /// The player's number.
    pub player: u64,
    /// Its number in the bag.
    pub number: u64,
    /// Its kind.
    pub club: Club,
    /// Its head, in words.
    pub head: &'static str,
    /// Loft, deg.
    pub loft_deg: f64,
    /// Length, m.
    pub length_m: f64,
    /// Since when it is fitted.
    pub from: &'static str,
    /// When it was replaced.
    pub until: Option<&'static str>,
}

const fn club(
    [player, number]: [u64; 2],
    club: Club,
    head: &'static str,
    [loft_deg, length_m]: [f64; 2],
    from: &'static str,
) -> DemoClub {
    DemoClub {
        player,
        number,
        club,
        head,
        loft_deg,
        length_m,
        from,
        until: None,
    }
}

/// A driver of a child: the player's number and its length, m.
const fn small(player: u64, length_m: f64) -> DemoClub {
    club(
        [player, 1],
        Club::Driver,
        "",
        [14.0, length_m],
        "2025-12-01",
    )
}

/// Every club that is noted.
pub const BAGS: [DemoClub; 14] = {
    use Club::{Driver, Iron7, Wood5};
    [
        club([0, 1], Wood5, "shallow", [18.0, 1.07], "2025-10-01"),
        club([0, 2], Iron7, "", [31.0, 0.94], "2025-10-01"),
        club([1, 1], Driver, "low spin", [9.0, 1.15], "2025-10-20"),
        club([1, 2], Driver, "draw bias", [10.5, 1.14], "2025-10-20"),
        club([1, 3], Iron7, "", [30.0, 0.95], "2025-10-20"),
        DemoClub {
            until: Some("2026-03-03"),
            ..club(
                [3, 2],
                Driver,
                "first long drive",
                [8.5, 1.18],
                "2025-10-20",
            )
        },
        club([3, 1], Driver, "long drive", [7.5, 1.21], "2026-03-03"),
        small(10, 0.98),
        small(11, 1.02),
        small(12, 0.94),
        small(13, 1.00),
        small(14, 0.86),
        small(15, 1.13),
        small(16, 1.07),
    ]
};
