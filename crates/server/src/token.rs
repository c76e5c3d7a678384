//! Secrets of devices: random, shown once, kept only as a digest.

use sha2::{Digest, Sha256};
use std::fmt::Write;

/// A device's secret.
pub struct Token(String);

impl Token {
    /// A new secret of 24 random bytes.
    ///
    /// # Panics
    /// When the operating system has no randomness to give.
    pub fn random() -> Self {
        let mut bytes = [0u8; 24];
        getrandom::fill(&mut bytes).expect("the operating system gives random bytes");
        let mut text = String::from("dev-");
        for byte in bytes {
            write!(text, "{byte:02x}").expect("a text takes what is written to it");
        }
        Self(text)
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_two_are_alike_and_each_is_known_by_its_digest() {
        let (one, other) = (Token::random(), Token::random());
        assert_ne!(one.digest(), other.digest());
        let digest = one.digest();
        assert_eq!(
            Token::sent(&format!(" {} ", one.into_text())).digest(),
            digest
        );
    }
}
