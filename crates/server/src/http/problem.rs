//! Every error of the API, as problem details (RFC 9457).

use crate::guard::turns::Full;
use axum::Json;
use axum::extract::rejection::{JsonRejection, PathRejection, QueryRejection};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use serde::Serialize;
use tally_core::vocabulary::invalid::Invalid;
use tally_store::StoreError;
use utoipa::openapi::{ContentBuilder, Ref, RefOr, ResponseBuilder};
use utoipa::{IntoResponses, ToSchema};

/// What went wrong and what to do about it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Problem {
    /// Short name of the kind of problem.
    pub title: String,
    /// HTTP status.
    pub status: u16,
    /// What happened this time, for a person.
    pub detail: String,
    /// The fields at fault, each with its value and remedy.
    pub errors: Vec<Invalid>,
    /// After how many seconds it may be tried again; the answer's `Retry-After`.
    #[serde(skip)]
    pub retry_after_s: Option<u64>,
}

impl Problem {
    /// A problem without fields.
    pub fn new(status: StatusCode, title: &str, detail: impl Into<String>) -> Self {
        Self {
            title: title.to_owned(),
            status: status.as_u16(),
            detail: detail.into(),
            errors: Vec::new(),
            retry_after_s: None,
        }
    }

    /// The same, to be tried again after so many seconds.
    pub fn again_after_s(self, seconds: f64) -> Self {
        Self {
            retry_after_s: Some(seconds.ceil().max(1.0) as u64),
            ..self
        }
    }

    /// They have as many files under way as they may.
    pub(crate) fn files_under_way() -> Self {
        Self::new(
            StatusCode::TOO_MANY_REQUESTS,
            "Files under way",
            "as many files of yours, or of your school, are being read as may be at a time; wait until one is in, or cancel it",
        )
        .again_after_s(5.0)
    }

    /// Too much is asked of the server just now.
    pub(crate) fn busy(_: Full) -> Self {
        Self::new(
            StatusCode::SERVICE_UNAVAILABLE,
            "Busy",
            "too much is being asked for just now; nothing was changed, try again in a moment",
        )
        .again_after_s(2.0)
    }

    /// The database does not answer, or has had no time for this.
    pub fn database_away() -> Self {
        Self::new(
            StatusCode::SERVICE_UNAVAILABLE,
            "Database away",
            "the database does not answer just now; nothing was changed, try again shortly",
        )
        .again_after_s(2.0)
    }

    /// The database's disk is full.
    pub fn disk_full() -> Self {
        Self::new(
            StatusCode::INSUFFICIENT_STORAGE,
            "Disk full",
            "the server's disk is full, so nothing was changed; ask whoever keeps the server to free room, then do it again",
        )
    }

    /// It took too long.
    pub fn too_slow() -> Self {
        Self::new(
            StatusCode::GATEWAY_TIMEOUT,
            "Too slow",
            "this took too long and was given up; try again",
        )
    }

    /// Our own fault; the log says why.
    pub fn ours() -> Self {
        Self::new(
            StatusCode::INTERNAL_SERVER_ERROR,
            "Server error",
            "the server could not do this; nothing was changed, and the log says why",
        )
    }

    /// Nobody is signed in, or no longer.
    pub fn not_signed_in() -> Self {
        Self::new(
            StatusCode::UNAUTHORIZED,
            "Not signed in",
            "you are not signed in, or no longer; sign in and do it again",
        )
    }

    /// A script whose token opens nothing.
    pub fn no_such_script() -> Self {
        Self::new(
            StatusCode::UNAUTHORIZED,
            "Not signed in",
            "this token of a script is not known, ended, or was taken back; make another under your initials",
        )
    }

    /// A path that leads nowhere.
    pub fn no_such_path(path: &str) -> Self {
        Self::new(
            StatusCode::NOT_FOUND,
            "Not found",
            format!("there is nothing at {path}; /api/openapi.json lists what there is"),
        )
    }
}

impl From<Full> for Problem {
    fn from(full: Full) -> Self {
        Self::busy(full)
    }
}

impl From<Invalid> for Problem {
    fn from(invalid: Invalid) -> Self {
        vec![invalid].into()
    }
}

impl From<Vec<Invalid>> for Problem {
    fn from(errors: Vec<Invalid>) -> Self {
        let detail: Vec<_> = errors.iter().map(Invalid::to_string).collect();
        Self {
            errors,
            ..Self::new(
                StatusCode::UNPROCESSABLE_ENTITY,
                "Not valid",
                detail.join(". "),
            )
        }
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound(what) => Self::new(
                StatusCode::NOT_FOUND,
                "Not found",
                format!("this school has no such {what}"),
            ),
            StoreError::Invalid(why) => why.into(),
            StoreError::Conflict(why) => Self::new(StatusCode::CONFLICT, "Conflict", why),
            StoreError::Held(why) => Self::new(StatusCode::CONFLICT, "Held", why),
            StoreError::Unreachable(_) | StoreError::Shut(_) => {
                tracing::error!(%error, "store");
                Self::database_away()
            }
            StoreError::Busy => Self::busy(Full),
            StoreError::Full(_) => {
                tracing::error!(%error, "store");
                Self::disk_full()
            }
            StoreError::Database(_) | StoreError::Raw(_) | StoreError::Migration(_) => {
                tracing::error!(%error, "store");
                Self::ours()
            }
        }
    }
}

impl From<JsonRejection> for Problem {
    fn from(rejection: JsonRejection) -> Self {
        Self::new(
            rejection.status(),
            "Body not understood",
            rejection.body_text(),
        )
    }
}

impl From<PathRejection> for Problem {
    fn from(rejection: PathRejection) -> Self {
        let detail = format!(
            "{}; copy identifiers whole from the address",
            rejection.body_text()
        );
        Self::new(rejection.status(), "Address not understood", detail)
    }
}

impl From<QueryRejection> for Problem {
    fn from(rejection: QueryRejection) -> Self {
        Self::new(
            rejection.status(),
            "Address not understood",
            rejection.body_text(),
        )
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let after = self.retry_after_s;
        let mut response = (status, Json(self)).into_response();
        if let Some(seconds) = after {
            response
                .headers_mut()
                .insert(header::RETRY_AFTER, seconds.into());
        }
        response.headers_mut().insert(
            header::CONTENT_TYPE,
            HeaderValue::from_static("application/problem+json"),
        );
        response
    }
}

impl IntoResponses for Problem {
    fn responses() -> std::collections::BTreeMap<String, RefOr<utoipa::openapi::Response>> {
        let content = ContentBuilder::new()
            .schema(Some(Ref::from_schema_name(Self::name())))
            .build();
        let response = ResponseBuilder::new()
            .description("What went wrong and what to do about it")
            .content("application/problem+json", content)
            .build();
        [("default".to_owned(), RefOr::T(response))].into()
    }
}
