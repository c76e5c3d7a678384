//! Which characters are kept, and which are seen.

/// Whether a character is not kept: it controls something, ends a line, or turns the
/// order round in which the others are read, so that a name reads as another.
pub fn unkeepable(c: char) -> bool {
    c.is_control()
        || matches!(
            c,
            '\u{61c}'
                | '\u{200e}'
                | '\u{200f}'
                | '\u{2028}'..='\u{202e}'
                | '\u{2066}'..='\u{2069}'
                | '\u{feff}'
                | '\u{fff9}'..='\u{fffb}'
        )
}

/// The text with a sign in the place of what cannot be kept, several lines as they are:
/// for what is shown as it stands, such as the cells of a file that could not be read.
pub fn kept(text: &str) -> String {
    let shown = |c| match c {
        '\n' | '\t' => c,
        odd if unkeepable(odd) => char::REPLACEMENT_CHARACTER,
        plain => plain,
    };
    text.chars().map(shown).collect()
}

/// Whether there is anything to be seen of a character.
pub fn seen(c: char) -> bool {
    !(c.is_whitespace()
        || unkeepable(c)
        || matches!(
            c,
            '\u{ad}'
                | '\u{34f}'
                | '\u{115f}'
                | '\u{1160}'
                | '\u{17b4}'
                | '\u{17b5}'
                | '\u{180b}'..='\u{180f}'
                | '\u{200b}'..='\u{200d}'
                | '\u{2060}'..='\u{2065}'
                | '\u{2800}'
                | '\u{3164}'
                | '\u{fe00}'..='\u{fe0f}'
                | '\u{ffa0}'
                | '\u{e0000}'..='\u{e0fff}'
        ))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_cannot_be_kept_leaves_a_sign() {
        let odd = "a\u{0}b\u{202e}c\nd\te";
        assert_eq!(kept(odd), "a\u{fffd}b\u{fffd}c\nd\te");
        assert_eq!(kept("Ļūcija 李"), "Ļūcija 李");
    }
}
