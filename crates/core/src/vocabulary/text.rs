//! What people type, program and file alike: one rule for all text that is kept.

use crate::vocabulary::characters::{kept, seen, unkeepable};
use crate::vocabulary::invalid::Invalid;
use url::Url;

/// Accepts one line of 1 to `most` characters once trimmed.
///
/// # Errors
/// [`Invalid`] naming the field and what cannot be kept of it.
pub fn text_within(field: &str, value: &str, most: usize) -> Result<String, Invalid> {
    checked(field, value, most, unkeepable)
}

/// The same over several lines.
///
/// # Errors
/// As [`text_within`].
pub fn lines_within(field: &str, value: &str, most: usize) -> Result<String, Invalid> {
    checked(field, value, most, |c| c != '\n' && unkeepable(c))
}

fn checked(
    field: &str,
    value: &str,
    most: usize,
    unkeepable: impl Fn(char) -> bool,
) -> Result<String, Invalid> {
    let value = value.trim();
    if !value.chars().any(seen) {
        let remedy = format!("give 1 to {most} characters");
        return Err(Invalid::missing(field, remedy));
    }
    let length = value.chars().count();
    if length > most {
        let problem = format!("has {length} characters");
        let remedy = format!("shorten it to {most} characters");
        return Err(Invalid::new(field, value, problem, remedy));
    }
    if let Some(odd) = value.chars().find(|c| unkeepable(*c)) {
        let problem = format!("has a character that is not kept, {}", odd.escape_unicode());
        return Err(Invalid::new(field, kept(value), problem, "type plain text"));
    }
    Ok(value.to_owned())
}

/// Accepts a path of the application, as its own pages are linked: nothing that leads to
/// another host, however a browser reads it.
///
/// # Errors
/// [`Invalid`].
pub fn own_path(field: &str, value: &str, most: usize) -> Result<String, Invalid> {
    let remedy = "give the path of a page of the application, such as /players, or none";
    let refused = |problem: &str| Err(Invalid::new(field, kept(value), problem, remedy));
    if value.chars().count() > most {
        return refused("is too long");
    }
    let here = Url::parse("https://here.invalid").expect("it is an address");
    let Ok(there) = here.join(value) else {
        return refused("is not a path");
    };
    let as_read = [
        there.path(),
        &there.query().map(|q| format!("?{q}")).unwrap_or_default(),
        &there
            .fragment()
            .map(|f| format!("#{f}"))
            .unwrap_or_default(),
    ]
    .concat();
    // What is read as it was written and begins with one stroke stays here.
    let stays = there.origin() == here.origin() && value.starts_with('/');
    if stays && as_read == value {
        Ok(value.to_owned())
    } else {
        refused("is not a path of the application")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn text_is_trimmed_and_held_to_its_length() {
        assert_eq!(text_within("name", "  Wren ", 10).unwrap(), "Wren");
        let refused = text_within("name", "   ", 10).unwrap_err();
        assert!(refused.problem.contains("missing"));
        let refused = text_within("name", "Wren Aldous the Third", 10).unwrap_err();
        assert_eq!(refused.remedy, "shorten it to 10 characters");
    }

    #[test]
    fn names_of_all_scripts_are_kept_and_what_only_pretends_to_be_one_is_not() {
        for name in [
            "Ré",
            "Ļūcija",
            "李",
            "محمد",
            "נועה",
            "می‌خواهم",
            "👩‍👧",
            "O’Brien-Łuk",
        ] {
            assert_eq!(text_within("name", name, 20).as_deref(), Ok(name));
        }
        for odd in [
            "Wr\u{0}en",
            "Wr\u{7}en",
            "Wr\u{9b}en",
            "Wr\nen",
            "Wr\ten",
            "Wr\u{202e}en",
            "Wr\u{2066}en",
            "Wr\u{200f}en",
            "Wr\u{2028}en",
            "W\u{feff}ren",
        ] {
            let refused = text_within("name", odd, 20).unwrap_err();
            assert!(refused.problem.contains("not kept"), "{refused}");
            assert!(!refused.to_string().chars().any(unkeepable), "{refused:?}");
        }
        for nothing in [
            "\u{200b}",
            "\u{2060}\u{200d}",
            "\u{3164}",
            "\u{fe0f}",
            "\u{ad} ",
        ] {
            let refused = text_within("name", nothing, 20).unwrap_err();
            assert_eq!(refused.problem, "is missing", "{nothing:?}");
        }
        assert_eq!(
            lines_within("note", "one\ntwo", 20).as_deref(),
            Ok("one\ntwo")
        );
        assert!(lines_within("note", "one\rtwo", 20).is_err());
    }

    #[test]
    fn a_path_stays_on_this_site() {
        let player = "/players/01890000-0000-7000-8000-000000000001";
        for own in [
            "/",
            player,
            "/sessions/x/decide?club=iron7&by=carry#effort",
            "/bench?a=%20b",
        ] {
            assert_eq!(own_path("address", own, 400).as_deref(), Ok(own));
        }
        for away in [
            "",
            "players",
            "//elsewhere.invalid/x",
            "/\\elsewhere.invalid",
            "/\t/elsewhere.invalid",
            "\\\\elsewhere.invalid",
            "https://elsewhere.invalid",
            "javascript:alert(1)",
            "/%2e%2e//elsewhere.invalid",
            "/..//elsewhere.invalid",
            "/a\nb",
            " /x",
            "/x\u{0}",
            "///elsewhere.invalid",
            "/./x",
            "?x",
            "#x",
        ] {
            assert!(own_path("address", away, 400).is_err(), "{away:?}");
        }
        assert!(own_path("address", &"/x".repeat(400), 400).is_err());
    }
}
