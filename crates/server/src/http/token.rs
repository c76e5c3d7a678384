//! Secrets of devices, of browsers that are signed in, and one-time codes: random, told
//! once, kept only as a digest.

use sha2::{Digest, Sha256};
use std::fmt::Write;
use tally_core::vocabulary::invalid::Invalid;

/// A secret.
pub struct Token(String);

/// Letters and digits that are not mistaken for each other.
const TYPED: &[u8; 32] = b"abcdefghjkmnpqrstuvwxyz023456789";

impl Token {
    /// A new secret of 24 random bytes, with a word before it that tells what it is for.
    ///
    /// # Panics
    /// When the operating system has no randomness to give.
    pub fn random(what: &str) -> Self {
        let mut bytes = [0u8; 24];
        getrandom::fill(&mut bytes).expect("the operating system gives random bytes");
        let mut text = format!("{what}-");
        for byte in bytes {
            write!(text, "{byte:02x}").expect("a text takes what is written to it");
        }
        Self(text)
    }

    /// A new secret of 80 random bits that a person types: four groups of four.
    ///
    /// # Panics
    /// When the operating system has no randomness to give.
    pub fn to_type() -> Self {
        let typed: [char; 16] = typed();
        let groups: Vec<String> = typed
            .chunks(4)
            .map(|group| group.iter().collect())
            .collect();
        Self(groups.join("-"))
    }

    /// A secret that was sent.
    pub fn sent(text: &str) -> Self {
        Self(text.trim().to_owned())
    }

    /// What the store keeps of it.
    pub fn digest(&self) -> Vec<u8> {
        Sha256::digest(self.0.as_bytes()).to_vec()
    }

    /// The secret itself, to be told once.
    pub fn into_text(self) -> String {
        self.0
    }
}

/// Letters of a code that opens a board.
const CODE: usize = 6;

/// A new code that is read off one screen and typed at another: six letters and digits, in
/// two groups, as [`typed_code`] gives it back.
///
/// # Panics
/// When the operating system has no randomness to give.
pub fn short_code() -> String {
    typed::<CODE>().iter().collect()
}

/// So many random letters and digits that a person types.
fn typed<const N: usize>() -> [char; N] {
    let mut bytes = [0u8; N];
    getrandom::fill(&mut bytes).expect("the operating system gives random bytes");
    bytes.map(|byte| char::from(TYPED[usize::from(byte) % TYPED.len()]))
}

/// A code as it is kept, from how somebody typed it: capitals, spaces and dashes do not
/// matter, and what looks alike is the same.
///
/// # Errors
/// [`Invalid`] naming `field` when it is no code.
pub fn typed_code(field: &str, text: &str) -> Result<String, Invalid> {
    let plain = text.chars().filter(|c| !c.is_whitespace() && *c != '-');
    let code: String = plain
        .map(|c| match c.to_ascii_lowercase() {
            'o' => '0',
            other => other,
        })
        .collect();
    let whole = code.chars().count() == CODE;
    if whole && code.bytes().all(|byte| TYPED.contains(&byte)) {
        return Ok(code);
    }
    let remedy = "give the six letters and digits that the coach's screen shows";
    Err(Invalid::new(field, text, "is no code of a board", remedy))
}
