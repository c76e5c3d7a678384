//! Passwords, second factors and tokens.

use tally_server::http::password::{SecondFactor, hash, is};
use tally_server::http::token::Token;

#[test]
fn a_password_is_known_by_its_hash_and_no_two_hashes_are_alike() {
    let (one, other) = (hash("four plain words"), hash("four plain words"));
    assert_ne!(one, other);
    assert!(one.starts_with("$argon2id$"), "{one}");
    assert!(is("four plain words", Some(&one)));
    assert!(!is("four plain word", Some(&one)));
    assert!(!is("four plain words", None));
    assert!(!is("nobody signs in with this", None));
    assert!(!is("", Some("no hash at all")));
}

#[test]
fn the_second_factor_is_the_published_one_and_forgives_half_a_minute() {
    // RFC 6238, appendix B: the last six of the eight digits.
    let published = SecondFactor::of(b"12345678901234567890".to_vec(), "tova");
    for (at, code) in [
        (59, "287082"),
        (1_111_111_109, "081804"),
        (2_000_000_000, "279037"),
    ] {
        assert_eq!(published.step(code, at), Some(at as i64 / 30));
        assert_eq!(published.step(code, at + 29), published.step(code, at));
        assert_eq!(published.step(code, at + 90), None);
    }
    assert_eq!(published.step("287 082", 59), Some(1));
    assert!(
        published
            .address()
            .starts_with("otpauth://totp/Amber%20Tally:tova")
    );
}

#[test]
fn no_two_are_alike_and_each_is_known_by_its_digest() {
    let (one, other) = (Token::random("dev"), Token::random("dev"));
    assert_ne!(one.digest(), other.digest());
    assert_ne!(Token::to_type().digest(), Token::to_type().digest());
    assert_eq!(Token::to_type().into_text().len(), 19);
    let digest = one.digest();
    assert_eq!(
        Token::sent(&format!(" {} ", one.into_text())).digest(),
        digest
    );
}
