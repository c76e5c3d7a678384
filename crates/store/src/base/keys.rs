//! Enums in columns of text, by their keys.

use diesel::deserialize::{self, FromSql, FromSqlRow};
use diesel::expression::AsExpression;
use diesel::pg::{Pg, PgValue};
use diesel::serialize::{self, Output, ToSql};
use diesel::sql_types::Text;
use std::io::Write;
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::club::Club;
use tally_core::physics::turf::Surface;
use tally_core::school::access::Role;
use tally_core::school::audited::Audited;
use tally_core::session::purpose::Purpose;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::mark::{MarkKind, Reason};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::quantity::Quantity;

/// An enum as its column holds it: its key. A key that this version does not know is an
/// error of the row, never another value.
///
/// In a row: `#[diesel(deserialize_as = Key<Club>, serialize_as = Key<Club>)]`, or
/// `Option<Key<Surface>>` where the column may be empty; in a query: `Key(club)`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, FromSqlRow, AsExpression)]
#[diesel(sql_type = Text)]
pub struct Key<T: Keyed + std::fmt::Debug>(pub T);

impl<T: Keyed + std::fmt::Debug> FromSql<Text, Pg> for Key<T> {
    fn from_sql(value: PgValue<'_>) -> deserialize::Result<Self> {
        let key = <String as FromSql<Text, Pg>>::from_sql(value)?;
        Ok(Key(T::from_key("key", &key)?))
    }
}

impl<T: Keyed + std::fmt::Debug> ToSql<Text, Pg> for Key<T> {
    fn to_sql<'b>(&'b self, out: &mut Output<'b, '_, Pg>) -> serialize::Result {
        out.write_all(self.0.key().as_bytes())?;
        Ok(serialize::IsNull::No)
    }
}

/// What a row's field takes from its column.
macro_rules! fields {
    ($($keyed:ty),+ $(,)?) => {$(
        impl From<Key<$keyed>> for $keyed {
            fn from(key: Key<$keyed>) -> Self {
                key.0
            }
        }
        impl From<$keyed> for Key<$keyed> {
            fn from(value: $keyed) -> Self {
                Key(value)
            }
        }
    )+};
}

fields!(
    Audited,
    BallKind,
    Club,
    DeviceKind,
    MarkKind,
    PlayingLevel,
    Purpose,
    Quantity,
    Reason,
    Role,
    Surface
);
