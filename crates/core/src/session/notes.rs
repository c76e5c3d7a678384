//! What a coach notes of a session: words, and tags to find it again by.

use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::text::{lines_within, text_within};

/// Tags of a session, at most.
pub const MOST_TAGS: usize = 8;
/// Characters of a tag, at most.
const MOST_LETTERS: usize = 40;
/// Characters of a note, at most.
const MOST_WORDS: usize = 2000;

/// A note as it is kept; an empty one is none.
///
/// # Errors
/// [`Invalid`] where it is too long or has characters that are not kept.
pub fn note(text: &str) -> Result<String, Invalid> {
    match text.trim() {
        "" => Ok(String::new()),
        text => lines_within("note", text, MOST_WORDS),
    }
}

/// Tags as they are kept: without blanks around them, in small letters, each once.
///
/// ```
/// use tally_core::session::notes::tags;
/// let kept = tags(&[" Wet grass".to_owned(), "wet grass".to_owned(), String::new()]);
/// assert_eq!(kept, Ok(vec!["wet grass".to_owned()]));
/// ```
///
/// # Errors
/// [`Invalid`] where a tag is too long or has characters that are not kept, or there are more
/// than [`MOST_TAGS`].
pub fn tags(given: &[String]) -> Result<Vec<String>, Invalid> {
    let mut kept: Vec<String> = Vec::new();
    for (place, tag) in given.iter().enumerate() {
        let tag = tag.trim().to_lowercase();
        if tag.is_empty() || kept.contains(&tag) {
            continue;
        }
        kept.push(text_within(&format!("tags[{place}]"), &tag, MOST_LETTERS)?);
    }
    if kept.len() > MOST_TAGS {
        let problem = format!("are more than {MOST_TAGS}");
        let remedy = "keep those by which you would look for it";
        return Err(Invalid::new("tags", kept.len(), problem, remedy));
    }
    Ok(kept)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn too_many_and_too_long_tags_are_refused_by_their_place() {
        let many: Vec<String> = (0..9).map(|n| format!("tag {n}")).collect();
        assert_eq!(tags(&many).unwrap_err().field, "tags");
        let long = ["fine".to_owned(), "x".repeat(41)];
        assert_eq!(tags(&long).unwrap_err().field, "tags[1]");
        assert_eq!(note("  \n"), Ok(String::new()));
        assert!(note(&"x".repeat(2001)).is_err());
    }
}
