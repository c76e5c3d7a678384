//! Passwords and second factors, by well-kept crates: argon2id and TOTP (RFC 6238).

use argon2::Argon2;
use argon2::password_hash::rand_core::OsRng;
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use std::sync::OnceLock;
use totp_rs::{Builder, Secret, Totp};

/// The hash of a password, as a PHC string. Takes its time: call it off the async threads.
///
/// # Panics
/// When the operating system has no randomness to give.
pub fn hash(password: &str) -> String {
    let salt = SaltString::generate(&mut OsRng);
    Argon2::default()
        .hash_password(password.as_bytes(), &salt)
        .expect("the default parameters are valid")
        .to_string()
}

/// Whether a password is the one of this hash. Without a hash it takes as long and is
/// wrong, so that nobody learns which names there are.
pub fn is(password: &str, hash: Option<&str>) -> bool {
    static NOBODY_S: OnceLock<String> = OnceLock::new();
    let known =
        hash.unwrap_or_else(|| NOBODY_S.get_or_init(|| self::hash("nobody signs in with this")));
    let right = PasswordHash::new(known).is_ok_and(|known| {
        Argon2::default()
            .verify_password(password.as_bytes(), &known)
            .is_ok()
    });
    right && hash.is_some()
}

/// A second factor.
pub struct SecondFactor {
    totp: Totp,
    secret: Vec<u8>,
}

impl SecondFactor {
    /// A new one with a secret of 20 random bytes.
    ///
    /// # Panics
    /// When the operating system has no randomness to give.
    pub fn new(sign_in_name: &str) -> SecondFactor {
        let mut secret = vec![0; 20];
        getrandom::fill(&mut secret).expect("the operating system gives random bytes");
        Self::of(secret, sign_in_name)
    }

    /// The one with this secret.
    pub fn of(secret: Vec<u8>, sign_in_name: &str) -> SecondFactor {
        let totp = Builder::new()
            .with_secret(secret.clone())
            .with_issuer(Some("Amber Tally"))
            // A colon parts issuer and account in the address.
            .with_account_name(sign_in_name.replace(':', "_"))
            .build_noncompliant();
        SecondFactor { totp, secret }
    }

    /// The secret, to be kept.
    pub fn secret(&self) -> &[u8] {
        &self.secret
    }

    /// The secret, to be typed.
    pub fn typed(&self) -> String {
        Secret::from(self.secret.as_slice()).to_base32()
    }

    /// The address that a picture of it holds.
    ///
    /// # Panics
    /// Never: name and issuer hold no colon.
    pub fn address(&self) -> String {
        self.totp.to_url().expect("neither name holds a colon")
    }

    /// The time step of a code that holds at this moment, in seconds since 1970; none
    /// when it does not. Codes before and after this half-minute hold too.
    pub fn step(&self, code: &str, now_s: u64) -> Option<i64> {
        let code: String = code.chars().filter(|c| !c.is_whitespace()).collect();
        self.totp.check(&code, now_s).map(|step| step as i64)
    }
}
