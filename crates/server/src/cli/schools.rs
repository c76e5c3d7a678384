//! `amber-tally school` and `amber-tally code`: what an operator does for a school's owner.

use crate::http::token::Token;
use chrono::{Duration, Utc};
use clap::Args;
use tally_core::school::access::{CODE_HOLDS_S, sign_in_name};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::text::text_within;
use tally_store::school::people::Founder;
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// A school to found.
#[derive(Debug, Args)]
pub struct NewSchool {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// The school's name.
    #[arg(long)]
    name: String,
    /// Its owner's name.
    #[arg(long)]
    owner: String,
    /// The name that the owner signs in with.
    #[arg(long)]
    sign_in_name: String,
}

/// Who needs a code.
#[derive(Debug, Args)]
pub struct NewCode {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// The name that the person signs in with.
    #[arg(long)]
    sign_in_name: String,
    /// Ask for their second factor no longer: their authenticator is lost.
    #[arg(long)]
    without_second_factor: bool,
}

/// Why it could not be done.
#[derive(Debug, thiserror::Error)]
pub enum SchoolsError {
    /// Something that was given cannot be used.
    #[error(transparent)]
    Invalid(#[from] Invalid),
    /// The database.
    #[error(transparent)]
    Store(#[from] StoreError),
}

/// Founds a school and prints the code with which its owner sets a password.
///
/// # Errors
/// [`SchoolsError`].
pub async fn found(new: NewSchool) -> Result<(), SchoolsError> {
    let founder = Founder {
        school: &text_within("name", &new.name, 200)?,
        name: &text_within("owner", &new.owner, 200)?,
        sign_in_name: &sign_in_name("sign_in_name", &new.sign_in_name)?,
        password_hash: None,
    };
    let store = Store::open(&new.database_url).await?;
    let who = store.found_another(founder).await?;
    give(&store, who.school_id, who.coach_id).await
}

/// Prints a code for a new password.
///
/// # Errors
/// [`SchoolsError`].
pub async fn code(new: NewCode) -> Result<(), SchoolsError> {
    let name = sign_in_name("sign_in_name", &new.sign_in_name)?;
    let store = Store::open(&new.database_url).await?;
    let known = store.credential(&name).await?.ok_or_else(|| {
        let remedy = "give the name as it is typed to sign in";
        Invalid::new("sign_in_name", &name, "signs in nowhere", remedy)
    })?;
    if new.without_second_factor {
        store
            .end_second_factor(known.school_id, known.coach_id)
            .await?;
    }
    give(&store, known.school_id, known.coach_id).await
}

async fn give(store: &Store, school: Uuid, person: Uuid) -> Result<(), SchoolsError> {
    let code = Token::to_type();
    let until = Utc::now() + Duration::seconds(CODE_HOLDS_S);
    store
        .save_code(school, person, &code.digest(), until)
        .await?;
    println!("{}", code.into_text());
    Ok(())
}
