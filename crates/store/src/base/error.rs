//! Why the store could not do what was asked.

use diesel::result::DatabaseErrorInformation;
use tally_core::vocabulary::invalid::Invalid;
use tokio_postgres::error::SqlState;

/// Why the store could not do what was asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such thing in this school.
    #[error("no such {0}")]
    NotFound(&'static str),
    /// It contradicts what is already stored.
    #[error("{0}")]
    Conflict(String),
    /// What was given cannot be kept.
    #[error("{0}")]
    Invalid(#[from] Invalid),
    /// The player is held from it, for their own sake.
    #[error("{0}")]
    Held(String),
    /// The database has no room left on its disk.
    #[error("the database's disk is full: {0}")]
    Full(String),
    /// Too much that is long is under way.
    #[error("too many files and archives are under way")]
    Busy,
    /// The database refused.
    #[error("the database could not do it: {0}")]
    Database(#[source] diesel::result::Error),
    /// The database refused a COPY or a row as JSON.
    #[error("the database could not do it: {0}")]
    Raw(#[source] tokio_postgres::Error),
    /// No connection to the database could be had, or it broke.
    #[error("the database cannot be reached: {0}")]
    Unreachable(String),
    /// The database is there and lets nobody in like this: no waiting helps.
    #[error("{0}")]
    Shut(String),
    /// The schema could not be brought up to date.
    #[error("the database could not be migrated: {0}")]
    Migration(String),
}

/// What PostgreSQL says when it cannot write, or not all of it: Diesel hands on its
/// words, not its codes, and a [`crate::Store`] has it speak English.
fn no_room(told: &dyn DatabaseErrorInformation) -> bool {
    told.message().contains("No space left on device")
        || told.hint() == Some("Check free disk space.")
}

/// Why no connection could be had, with what to do about it.
pub(crate) fn no_connection(error: &tokio_postgres::Error) -> StoreError {
    let told = error.as_db_error().map_or("", |told| told.message());
    match error.code() {
        Some(code)
            if [
                SqlState::INVALID_PASSWORD,
                SqlState::INVALID_AUTHORIZATION_SPECIFICATION,
            ]
            .contains(code) =>
        {
            StoreError::Shut(format!(
                "the database lets nobody in like this: {told}; see to the user and the password in its address (DATABASE_URL)"
            ))
        }
        // It may be made while somebody waits.
        Some(code) if *code == SqlState::INVALID_CATALOG_NAME => StoreError::Unreachable(format!(
            "{told}; make it with createdb, or name another in the database's address (DATABASE_URL)"
        )),
        Some(_) => StoreError::Unreachable(told.to_owned()),
        None => StoreError::Unreachable(match std::error::Error::source(error) {
            Some(why) => format!("{why}; is PostgreSQL running there?"),
            None => error.to_string(),
        }),
    }
}

impl From<tokio_postgres::Error> for StoreError {
    /// A full disk and a lost connection are told as such.
    fn from(error: tokio_postgres::Error) -> Self {
        match error.code() {
            Some(code) if *code == SqlState::DISK_FULL => Self::Full(error.to_string()),
            Some(code)
                if [
                    SqlState::ADMIN_SHUTDOWN,
                    SqlState::CRASH_SHUTDOWN,
                    SqlState::CANNOT_CONNECT_NOW,
                ]
                .contains(code) =>
            {
                Self::Unreachable(error.to_string())
            }
            None if error.is_closed() => Self::Unreachable(error.to_string()),
            _ => Self::Raw(error),
        }
    }
}

impl From<diesel::result::Error> for StoreError {
    /// What the sender's identifiers are to blame for is told as such, and so are a full
    /// disk and a lost connection.
    fn from(error: diesel::result::Error) -> Self {
        use diesel::result::DatabaseErrorKind::{
            ClosedConnection, ForeignKeyViolation, UniqueViolation,
        };
        use diesel::result::Error::DatabaseError;
        match &error {
            DatabaseError(UniqueViolation, _) => Self::Conflict(
                "something else already has this identifier or name; give it another".into(),
            ),
            DatabaseError(ForeignKeyViolation, _) => Self::NotFound("thing as this refers to"),
            DatabaseError(_, told) if told.message().contains("row-level security") => {
                Self::NotFound("player")
            }
            DatabaseError(ClosedConnection, told) => Self::Unreachable(told.message().to_owned()),
            DatabaseError(_, told) if no_room(&**told) => Self::Full(told.message().to_owned()),
            _ => Self::Database(error),
        }
    }
}
