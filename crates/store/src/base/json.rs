//! Columns of JSON.

use crate::base::error::StoreError;
use diesel::deserialize::{self, FromSql, FromSqlRow};
use diesel::pg::{Pg, PgValue};
use diesel::sql_types::Jsonb;
use serde::de::DeserializeOwned;

/// The only form in which PostgreSQL sends `jsonb` so far: text behind a byte.
const FORM: u8 = 1;

/// What a column of JSON holds, read as it comes: without the tree that [`from_json`] starts
/// from, which costs more than all else in reading thousands of shots.
#[derive(Debug, Clone, FromSqlRow)]
pub(crate) struct Json<T: DeserializeOwned + std::fmt::Debug>(pub T);

impl<T: DeserializeOwned + std::fmt::Debug> FromSql<Jsonb, Pg> for Json<T> {
    fn from_sql(value: PgValue<'_>) -> deserialize::Result<Self> {
        match value.as_bytes() {
            [FORM, text @ ..] => Ok(Json(serde_json::from_slice(text)?)),
            _ => Err("jsonb of a form that is not known".into()),
        }
    }
}

/// The same of what another version may have written: nothing where it cannot be read.
#[derive(Debug, Clone, FromSqlRow)]
pub(crate) struct JsonIfReadable<T: DeserializeOwned + std::fmt::Debug>(pub Option<T>);

impl<T: DeserializeOwned + std::fmt::Debug> FromSql<Jsonb, Pg> for JsonIfReadable<T> {
    fn from_sql(value: PgValue<'_>) -> deserialize::Result<Self> {
        let read: deserialize::Result<Json<T>> = Json::from_sql(value);
        Ok(JsonIfReadable(read.ok().map(|Json(held)| held)))
    }
}

/// What a column of JSON holds.
pub(crate) fn from_json<T: DeserializeOwned>(json: serde_json::Value) -> Result<T, StoreError> {
    serde_json::from_value(json)
        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)).into())
}
