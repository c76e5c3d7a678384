//! Every table, once: its key, what of it goes into an archive, which of its rows are a
//! player's, and what row-level security lets through.
//!
//! The tables stand in the order in which their rows can be written; read backwards, it
//! is the order in which they can be erased. A test holds the list against the
//! database's own catalogue, so that a new table cannot be forgotten.

/// One table.
#[derive(Debug, Clone, Copy)]
pub struct Table {
    /// Its name.
    pub name: &'static str,
    /// Its primary key, after `school_id` where it has one.
    pub key: &'static [&'static str],
    /// What of it an archive holds.
    pub archive: Archive,
    /// Which of its rows are a player's, and go when the player is erased.
    pub of_a_player: OfAPlayer,
    /// Which of its rows a store sees.
    pub seen: Seen,
}

/// What of a table an archive holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Archive {
    /// Its rows, without these columns.
    Without(&'static [&'static str]),
    /// Nothing, because …
    Nothing(&'static str),
}

/// Which rows of a table are a player's.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OfAPlayer {
    /// The player's own row.
    Themselves,
    /// Those that name the player.
    Own,
    /// Those of the player's sessions.
    OfSessions,
    /// Those of the shots of the player's sessions.
    OfShots,
    /// Those of files that brought the player's shots.
    OfImports,
    /// None, though they stand in the player's archive: who did what is told by name.
    Named,
    /// None: they outlive the player, or have nothing to do with one.
    None,
}

impl OfAPlayer {
    /// What finds the rows of player `$2` of school `$1`.
    pub fn condition(self) -> Option<&'static str> {
        Some(match self {
            OfAPlayer::Themselves => "id = $2",
            OfAPlayer::Own => "player_id = $2",
            OfAPlayer::OfSessions => {
                "session_id IN (SELECT id FROM session WHERE school_id = $1 AND player_id = $2)"
            }
            OfAPlayer::OfShots => {
                "shot_id IN (SELECT shot.id FROM shot JOIN session s \
                 ON (s.school_id, s.id) = (shot.school_id, shot.session_id) \
                 WHERE s.school_id = $1 AND s.player_id = $2)"
            }
            OfAPlayer::OfImports => {
                "import_id IN (SELECT id FROM import WHERE school_id = $1 AND player_id = $2)"
            }
            OfAPlayer::Named | OfAPlayer::None => return None,
        })
    }
}

/// What row-level security lets a store see of a table.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Seen {
    /// The rows of its school (policy `own_school`).
    School,
    /// Of those, the player rows that are the person's own or shared with them
    /// (`own_or_shared`).
    Players,
    /// Of those, the rows of players that the person sees (`seen_player`).
    OfSeenPlayers,
    /// None: the database's own user alone reads it, and it holds to a school.
    Secret,
    /// None, and it holds to no school.
    NoSchool,
}

impl Seen {
    /// The names of the policies that do so, in order.
    pub fn policies(self) -> &'static [&'static str] {
        match self {
            Seen::School | Seen::Secret => &["own_school"],
            Seen::Players => &["own_or_shared", "own_school"],
            Seen::OfSeenPlayers => &["own_school", "seen_player"],
            Seen::NoSchool => &[],
        }
    }
}

const fn table(
    name: &'static str,
    key: &'static [&'static str],
    archive: Archive,
    of_a_player: OfAPlayer,
    seen: Seen,
) -> Table {
    Table {
        name,
        key,
        archive,
        of_a_player,
        seen,
    }
}

/// Every table but the migrations' own.
pub static TABLES: [Table; 43] = {
    use Archive::{Nothing, Without};
    use OfAPlayer as Of;
    const ALL: Archive = Without(&[]);
    const ID: &[&str] = &["id"];
    const SIGN_IN: Archive = Nothing("what one signs in with stays in its database");
    [
        table(
            "school",
            &[],
            Without(&["created_at", "demo"]),
            Of::Named,
            Seen::School,
        ),
        table("coach", ID, ALL, Of::Named, Seen::School),
        table("credential", &["coach_id"], SIGN_IN, Of::None, Seen::Secret),
        table("web_session", ID, SIGN_IN, Of::None, Seen::Secret),
        table("known_browser", ID, SIGN_IN, Of::None, Seen::Secret),
        table("script_token", ID, SIGN_IN, Of::None, Seen::Secret),
        table("wrong_try", ID, SIGN_IN, Of::None, Seen::NoSchool),
        table(
            "player",
            ID,
            Without(&["last_session_at"]),
            Of::Themselves,
            Seen::Players,
        ),
        table(
            "player_share",
            &["player_id", "coach_id"],
            ALL,
            Of::Own,
            Seen::School,
        ),
        table("player_group", ID, ALL, Of::None, Seen::School),
        table(
            "player_group_member",
            &["group_id", "player_id"],
            ALL,
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table(
            "player_standing",
            &["player_id"],
            Nothing("it is told again from the sessions"),
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table("bag_club", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table(
            "target_window",
            &["player_id", "club"],
            ALL,
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table(
            "import",
            ID,
            Without(&["sha256"]),
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table(
            "import_bad_row",
            &["import_id", "row"],
            Nothing("a file's bad rows are kept for mending that file only"),
            Of::OfImports,
            Seen::School,
        ),
        table(
            "session",
            ID,
            Without(&["shots", "paired"]),
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table("block", ID, ALL, Of::OfSessions, Seen::School),
        table("session_act", ID, ALL, Of::OfSessions, Seen::School),
        table(
            "session_figures",
            &["session_id"],
            Nothing("it is counted again from the shots"),
            Of::OfSessions,
            Seen::School,
        ),
        table(
            "device",
            ID,
            Without(&["token_sha256", "connected_at"]),
            Of::None,
            Seen::School,
        ),
        table("shot", ID, ALL, Of::OfSessions, Seen::School),
        table("decision", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table(
            "comparison",
            &["player_id", "key"],
            ALL,
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table(
            "goal",
            &["player_id", "club", "quantity"],
            ALL,
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table("benchmark", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table(
            "next_choice",
            &["player_id", "item"],
            ALL,
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table("page", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table(
            "player_link",
            ID,
            Nothing("a link is a secret of the address it was made at"),
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table(
            "board",
            &["session_id"],
            Nothing("a board is open for hours, here"),
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table("shot_entry", ID, ALL, Of::OfShots, Seen::School),
        table("shot_mark", ID, ALL, Of::OfShots, Seen::School),
        table("reading", ID, ALL, Of::OfShots, Seen::School),
        table("trace", &["shot_id"], ALL, Of::OfShots, Seen::School),
        table("implement", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table("programme", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table("programme_act", ID, ALL, Of::Own, Seen::OfSeenPlayers),
        table("run", &["session_id"], ALL, Of::OfSessions, Seen::School),
        table(
            "calendar_feed",
            ID,
            Nothing("a feed is a secret of the address it was made at"),
            Of::Own,
            Seen::OfSeenPlayers,
        ),
        table("plan_template", ID, ALL, Of::None, Seen::School),
        table("protocol", ID, ALL, Of::None, Seen::School),
        table("house_rule", ID, ALL, Of::None, Seen::School),
        table(
            "audit",
            ID,
            Nothing("it tells who saw and took out what, here"),
            Of::None,
            Seen::School,
        ),
    ]
};

/// The tables of an archive, in its order, with the columns that stay at home.
pub fn archived() -> impl Iterator<Item = (&'static Table, &'static [&'static str])> {
    TABLES.iter().filter_map(|table| match table.archive {
        Archive::Without(columns) => Some((table, columns)),
        Archive::Nothing(_) => None,
    })
}

/// The tables with a player's rows, in the order in which they can go, each with what
/// finds them.
pub fn erased() -> impl Iterator<Item = (&'static str, &'static str)> {
    TABLES
        .iter()
        .rev()
        .filter_map(|table| Some((table.name, table.of_a_player.condition()?)))
}

/// The tables that the application's role cannot read at all.
pub fn secret() -> impl Iterator<Item = &'static str> {
    TABLES
        .iter()
        .filter(|table| matches!(table.seen, Seen::Secret | Seen::NoSchool))
        .map(|table| table.name)
}
