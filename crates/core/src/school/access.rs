//! Who may do what in a school, and how a person shows who they are.

use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What a person is in a school.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Role {
    /// Answers for the school: its people, devices and erasures. Sees every player.
    Owner,
    /// Works with their own players and those shared with them.
    Coach,
    /// Runs sessions of the players shared with them; deletes and takes out nothing.
    Assistant,
}

impl Keyed for Role {
    const KIND: &'static str = "a role";
}

/// What a request needs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Right {
    /// Nothing: signing in, and what everybody may know.
    Open,
    /// To be one of the school.
    Run,
    /// To change or take out what the school keeps: imports, exports, deletions, rules.
    Keep,
    /// To answer for the school.
    Own,
}

impl Role {
    /// What one is called who has it.
    pub fn in_words(self) -> &'static str {
        match self {
            Role::Owner => "an owner",
            Role::Coach => "a coach",
            Role::Assistant => "an assistant",
        }
    }

    /// The lesser of the two.
    pub fn at_most(self, other: Role) -> Role {
        // The variants stand from the most to the least.
        if (self as u8) < other as u8 {
            other
        } else {
            self
        }
    }

    /// Whether it has a right.
    pub fn may(self, right: Right) -> bool {
        match right {
            Right::Open | Right::Run => true,
            Right::Keep => self != Role::Assistant,
            Right::Own => self == Role::Owner,
        }
    }

    /// Whether it sees every player of the school, shared or not.
    pub fn sees_all(self) -> bool {
        self == Role::Owner
    }
}

/// A script that speaks in somebody's name.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Script {
    /// Its token.
    pub id: Uuid,
    /// Whether it may change what is kept.
    pub changes: bool,
}

/// Most tokens of one person's scripts.
pub const MOST_SCRIPTS: i64 = 20;
/// Longest life of a script's token, days.
pub const LONGEST_SCRIPT_DAYS: f64 = 366.0;

/// From this age on a person consents for themselves, years.
const OF_AGE: i32 = 18;

/// Who was born after this year may be a child still: their birthday is not kept, so all
/// of its year counts.
pub fn children_born_after(this_year: i32) -> i32 {
    this_year - OF_AGE - 1
}

/// Whether a guardian's consent is needed before a session of this player is kept.
pub fn needs_consent(born: Option<i32>, this_year: i32) -> bool {
    born.is_some_and(|born| born > children_born_after(this_year))
}

/// Shortest password, characters.
pub const SHORTEST_PASSWORD: usize = 12;
/// Longest password, characters: a limit to what is hashed.
pub const LONGEST_PASSWORD: usize = 200;
/// Longest name to sign in with, characters.
const LONGEST_NAME: usize = 100;

/// Accepts a password by its length alone (no rules of composition: Grassi et al. 2017),
/// unless it is the sign-in name or one character over and over.
///
/// # Errors
/// [`Invalid`], which never repeats the password.
pub fn check_password(field: &str, password: &str, sign_in_name: &str) -> Result<(), Invalid> {
    let refuse = |problem: &str, remedy: String| Err(Invalid::new(field, "", problem, remedy));
    let length = password.chars().count();
    if length < SHORTEST_PASSWORD {
        return refuse(
            &format!("has {length} characters"),
            format!("take {SHORTEST_PASSWORD} or more; a few plain words do well"),
        );
    }
    if length > LONGEST_PASSWORD {
        return refuse(
            &format!("has {length} characters"),
            format!("shorten it to {LONGEST_PASSWORD}"),
        );
    }
    let same = password.chars().all(|c| password.starts_with(c));
    if same || password.to_lowercase() == sign_in_name.to_lowercase() {
        let problem = "would be guessed at once";
        return refuse(problem, "take a few plain words".to_owned());
    }
    Ok(())
}

/// A name to sign in with, in small letters: an e-mail address or any one word.
///
/// # Errors
/// [`Invalid`] when it is empty, too long, or has spaces.
pub fn sign_in_name(field: &str, name: &str) -> Result<String, Invalid> {
    let name = name.trim().to_lowercase();
    let remedy = "give one word, or an e-mail address";
    if name.is_empty() {
        return Err(Invalid::missing(field, remedy));
    }
    if name.chars().count() > LONGEST_NAME {
        let remedy = format!("shorten it to {LONGEST_NAME} characters");
        return Err(Invalid::new(field, name, "is too long", remedy));
    }
    if name.chars().any(|c| c.is_whitespace() || c.is_control()) {
        return Err(Invalid::new(field, name, "has a space", remedy));
    }
    Ok(name)
}

/// Over how long wrong tries are counted, s.
pub const TRIES_COUNT_S: f64 = 900.0;
/// Wrong tries for one name that are free.
const FREE_TRIES: i64 = 5;
/// First wait after the free tries, s; it doubles with each further one …
const FIRST_WAIT_S: f64 = 15.0;
/// … up to this, so that whoever guesses at somebody's name does not shut them out.
const LONGEST_WAIT_S: f64 = 60.0;
/// Wrong tries from one address, for whatever names, that are free; others from there
/// take turns, so that whoever guesses there shuts out no colleague.
const FREE_TRIES_FROM: i64 = 40;
/// How long a turn takes, s.
const TURN_S: f64 = 1.0;
/// How long one waits for a turn, s; who would wait longer is told to come again.
const LONGEST_QUEUE_S: f64 = 5.0;

/// Wrong tries of the last quarter of an hour, for a name or from an address.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct WrongTries {
    /// How many.
    pub number: i64,
    /// Seconds since the latest; less than none while its turn is still to come.
    pub latest_s: f64,
}

/// When a try to sign in is looked at.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Turn {
    /// After so many seconds, mostly none.
    After(f64),
    /// Not this one: there were too many wrong ones of late. Another may come after so
    /// many seconds.
    Refused(f64),
}

/// When a try is looked at that follows these wrong ones for its name and from its address.
pub fn turn(for_name: WrongTries, from_address: WrongTries) -> Turn {
    let over = for_name.number - FREE_TRIES;
    if over >= 0 {
        let wait = (FIRST_WAIT_S * 2f64.powi(over.min(10) as i32)).min(LONGEST_WAIT_S);
        let left = wait - for_name.latest_s;
        if left > 0.0 {
            return Turn::Refused(left);
        }
    }
    if from_address.number < FREE_TRIES_FROM {
        return Turn::After(0.0);
    }
    let after = (TURN_S - from_address.latest_s).max(0.0);
    if after > LONGEST_QUEUE_S {
        Turn::Refused(after)
    } else {
        Turn::After(after)
    }
}

/// How long a browser may do nothing before it is signed out, s: a day at the mat.
pub const IDLE_S: i64 = 12 * 3600;
/// How long a browser stays signed in at most, s.
pub const SIGNED_IN_S: i64 = 14 * 24 * 3600;
/// How long a browser is known that somebody signed in with, s: half a year.
pub const KNOWN_S: i64 = 180 * 24 * 3600;
/// How long a code for a new password holds, s.
pub const CODE_HOLDS_S: i64 = 3 * 24 * 3600;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_assistant_keeps_nothing_and_only_an_owner_owns() {
        let may =
            |right: Right| [Role::Owner, Role::Coach, Role::Assistant].map(|role| role.may(right));
        assert_eq!(may(Right::Run), [true, true, true]);
        assert_eq!(may(Right::Keep), [true, true, false]);
        assert_eq!(may(Right::Own), [true, false, false]);
        for role in Role::all() {
            assert_eq!(Role::from_key("role", role.key()), Ok(role));
        }
        assert!(Role::from_key("role", "captain").is_err());
    }

    #[test]
    fn whoever_may_still_be_a_child_needs_a_guardian_s_consent() {
        assert!(needs_consent(Some(2012), 2026));
        assert!(needs_consent(Some(2008), 2026));
        assert!(!needs_consent(Some(2007), 2026));
        // Without a year of birth nobody is taken for a child.
        assert!(!needs_consent(None, 2026));
    }

    #[test]
    fn a_password_is_long_and_is_never_repeated_in_its_refusal() {
        let refused = |password: &str| check_password("password", password, "tova@example.org");
        assert_eq!(refused("short words"), refused("other words"));
        assert!(refused("aaaaaaaaaaaaaaa").is_err());
        assert!(refused("Tova@Example.org").is_err());
        assert!(refused(&"ab".repeat(101)).is_err());
        for password in ["short", "aaaaaaaaaaaaaaa"] {
            let told = refused(password).unwrap_err().to_string();
            assert!(!told.contains(password), "{told}");
        }
        assert_eq!(refused("four plain words"), Ok(()));
        assert_eq!(refused("zwölf Zeichen"), Ok(()));
    }

    #[test]
    fn a_sign_in_name_is_the_same_however_it_is_typed() {
        let typed = sign_in_name("sign_in_name", "  Tova@Example.ORG ");
        assert_eq!(typed.as_deref(), Ok("tova@example.org"));
        assert!(sign_in_name("sign_in_name", "tova veld").is_err());
        assert!(sign_in_name("sign_in_name", " ").is_err());
    }

    #[test]
    fn guessing_is_slowed_more_and_more_and_waiting_helps() {
        let after = |number, latest_s| {
            let for_name = WrongTries { number, latest_s };
            turn(for_name, WrongTries::default())
        };
        assert_eq!(after(4, 0.0), Turn::After(0.0));
        assert_eq!(after(5, 0.0), Turn::Refused(15.0));
        assert_eq!(after(6, 10.0), Turn::Refused(20.0));
        assert_eq!(after(5, 16.0), Turn::After(0.0));
        assert_eq!(after(1_000, 0.0), Turn::Refused(LONGEST_WAIT_S));
    }

    #[test]
    fn whoever_guesses_from_an_address_makes_others_there_wait_and_shuts_nobody_out() {
        let after = |number, latest_s| {
            let from = WrongTries { number, latest_s };
            turn(WrongTries::default(), from)
        };
        assert_eq!(after(39, 0.0), Turn::After(0.0));
        assert_eq!(after(40, 0.25), Turn::After(0.75));
        assert_eq!(after(4_000, 60.0), Turn::After(0.0));
        // Two wait for their turns already, and then six.
        assert_eq!(after(40, -2.0), Turn::After(3.0));
        assert_eq!(after(40, -6.0), Turn::Refused(7.0));
    }
}
