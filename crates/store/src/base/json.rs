//! Columns of JSON.

use crate::base::error::StoreError;

/// What a column of JSON holds.
pub(crate) fn from_json<T: serde::de::DeserializeOwned>(
    json: serde_json::Value,
) -> Result<T, StoreError> {
    serde_json::from_value(json)
        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)).into())
}
