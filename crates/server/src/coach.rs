//! Who asks: every route takes the coach, and through them the school.

use crate::app::App;
use crate::problem::Problem;
use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use tally_store::school::SignedIn;
use uuid::Uuid;

/// The coach who asks. Until coaches sign in, it is the one coach of the one school.
pub struct Coach(SignedIn);

impl Coach {
    /// The school whose data they may see.
    pub fn school(&self) -> Uuid {
        self.0.school_id
    }

    /// The school's name.
    pub fn school_name(&self) -> &str {
        &self.0.school
    }

    /// Their identifier.
    pub fn id(&self) -> Uuid {
        self.0.coach_id
    }

    /// Their name.
    pub fn name(&self) -> &str {
        &self.0.coach
    }
}

impl FromRequestParts<App> for Coach {
    type Rejection = Problem;

    async fn from_request_parts(_parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        Ok(Coach(app.store.only_coach().await?))
    }
}
