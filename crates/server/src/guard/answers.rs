//! Answers that took long to work out, kept as long as nothing they rest on changes.
//!
//! What an answer rests on is in its key, with a count that every change raises: an answer is
//! never looked at again once something changed, and is pushed out by newer ones.

use axum::body::Bytes;
use axum::http::header::CONTENT_TYPE;
use axum::response::{IntoResponse, Response};
use quick_cache::Weighter;
use quick_cache::sync::Cache;
use serde::Serialize;
use uuid::Uuid;

/// Kept answers, in bytes, at most.
const MOST: u64 = 64 * 1024 * 1024;
/// Kept answers, about.
const ABOUT: usize = 1000;

/// What an answer rests on.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Asked {
    /// Of which school.
    pub school: Uuid,
    /// Who asked: not everybody sees everything.
    pub coach: Uuid,
    /// About whom.
    pub player: Uuid,
    /// How often anything of the player changed.
    pub changes: i64,
    /// By which rules and offsets.
    pub mark: i64,
    /// What was asked, and all else that the answer rests on.
    pub question: String,
}

#[derive(Debug, Clone)]
struct Size;

impl Weighter<Asked, Bytes> for Size {
    fn weight(&self, _: &Asked, answer: &Bytes) -> u64 {
        answer.len() as u64
    }
}

/// Kept answers.
#[derive(Debug)]
pub struct Answers(Cache<Asked, Bytes, Size>);

impl Default for Answers {
    fn default() -> Self {
        Answers(Cache::with_weighter(ABOUT, MOST, Size))
    }
}

impl Answers {
    /// The answer, where it is kept.
    pub fn get(&self, asked: &Asked) -> Option<Bytes> {
        self.0.get(asked)
    }

    /// The answer as JSON: as it is kept, or worked out now and kept.
    ///
    /// # Errors
    /// Those of working it out.
    pub async fn kept_or<T: Serialize, E>(
        &self,
        asked: Asked,
        worked_out: impl Future<Output = Result<T, E>>,
    ) -> Result<Response, E> {
        let json = |answer: Bytes| ([(CONTENT_TYPE, "application/json")], answer).into_response();
        if let Some(answer) = self.get(&asked) {
            return Ok(json(answer));
        }
        let view = worked_out.await?;
        let answer = Bytes::from(serde_json::to_vec(&view).expect("an answer is plain data"));
        self.keep(asked, answer.clone());
        Ok(json(answer))
    }

    /// Keeps an answer.
    pub fn keep(&self, asked: Asked, answer: Bytes) {
        self.0.insert(asked, answer);
    }
}
