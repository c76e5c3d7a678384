//! People of the school who lose what they sign in with, leave, and come back.

use std::time::{SystemTime, UNIX_EPOCH};
use tally_e2e::{DEMO_PASSWORD, Stage, journeys};
use thirtyfour::prelude::*;
use totp_rs::{Builder, Secret};

journeys! {
    people_go_and_come_back: play(true),
    who_leaves_the_school_is_out_at_once_and_in_again_when_they_come_back,
    an_owner_lets_in_a_coach_whose_authenticator_is_lost,
    a_changed_password_signs_out_the_browser_that_was_left_open,
}

/// Goes to the other machine; answers the one that was left.
fn at(stage: &mut Stage, machine: WebDriver) -> WebDriver {
    std::mem::replace(&mut stage.browser, machine)
}

/// Opens what can be changed about somebody.
async fn change(stage: &Stage, person: &str) -> WebDriverResult<()> {
    stage.go("/school/people").await?;
    stage
        .click_once_still(&format!(
            "//li[contains(., '{person}')]//button[.='Change']"
        ))
        .await
}

async fn an_owner_lets_in_a_coach_whose_authenticator_is_lost(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    let machine = stage.browser_of("maren").await?;
    let office = at(stage, machine);
    stage.go("/account").await?;
    stage.fill("Your password", DEMO_PASSWORD).await?;
    stage.press("Set up a second factor").await?;
    let secret = stage
        .find("//code[contains(@class, 'secret-text')]")
        .await?;
    let secret = Secret::try_from_base32(&secret.text().await?).expect("it is base32");
    let now = SystemTime::now().duration_since(UNIX_EPOCH);
    let code = Builder::new()
        .with_secret(secret)
        .build_noncompliant()
        .generate(now.expect("it is after 1970").as_secs());
    stage
        .fill("Code that it shows now", &code.to_string())
        .await?;
    stage.press("Ask for it from now on").await?;
    stage.says("Ask for it no longer").await?;
    stage.press("Sign out").await?;
    stage.enter("maren", DEMO_PASSWORD).await?;
    stage.says("Code of your authenticator").await?;
    let machine = at(stage, office);
    change(stage, "Maren Tolle").await?;
    stage.press("Take their second factor away").await?;
    stage
        .find("//li[contains(., 'Maren Tolle')][not(contains(., 'second factor'))]")
        .await?;
    stage.go("/school/record").await?;
    stage.says("no second factor for maren any longer").await?;
    let office = at(stage, machine);
    stage.browser.refresh().await?;
    stage.enter("maren", DEMO_PASSWORD).await?;
    stage.says("Today").await?;
    let machine = at(stage, office);
    machine.quit().await
}

async fn who_leaves_the_school_is_out_at_once_and_in_again_when_they_come_back(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    let machine = stage.browser_of("maren").await?;
    let office = at(stage, machine);
    stage.go("/players").await?;
    stage.says("Add a player").await?;
    let machine = at(stage, office);
    change(stage, "Maren Tolle").await?;
    stage.press("They left the school").await?;
    stage
        .find("//li[contains(., 'Maren Tolle')][contains(., 'left on')]")
        .await?;
    let office = at(stage, machine);
    stage.browser.refresh().await?;
    stage.enter("maren", DEMO_PASSWORD).await?;
    stage.says("the name or the password is not right").await?;
    let machine = at(stage, office);
    change(stage, "Maren Tolle").await?;
    stage.press("They came back").await?;
    stage
        .find("//li[contains(., 'Maren Tolle')][not(contains(., 'left on'))]")
        .await?;
    // The only owner cannot leave, and what was typed beside it stays.
    change(stage, "Tova Veld").await?;
    stage.fill("Name", "Tova Veld-Elling").await?;
    stage.press("They left the school").await?;
    stage.says("this is the school's only owner").await?;
    let name = stage
        .find("//form//label[contains(., 'Name')]//input")
        .await?;
    assert_eq!(
        name.prop("value").await?.as_deref(),
        Some("Tova Veld-Elling")
    );
    let office = at(stage, machine);
    stage.enter("maren", DEMO_PASSWORD).await?;
    stage.says("Add a player").await?;
    let machine = at(stage, office);
    machine.quit().await
}

async fn a_changed_password_signs_out_the_browser_that_was_left_open(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    let left_open = stage.browser_of("maren").await?;
    stage.browser.delete_all_cookies().await?;
    stage.sign_in_as(&stage.browser, "maren").await?;
    stage.go("/account").await?;
    stage.fill("Password until now", "not the old one").await?;
    stage.fill("New password", "six quite other words").await?;
    stage.press("Change the password").await?;
    stage.says("is not your password").await?;
    stage.fill("Password until now", DEMO_PASSWORD).await?;
    stage.fill("New password", "short").await?;
    stage.press("Change the password").await?;
    stage.says("take 12 or more").await?;
    stage.fill("New password", "six quite other words").await?;
    stage.press("Change the password").await?;
    stage.says("Other browsers were signed out").await?;
    let here = at(stage, left_open);
    stage.go("/players").await?;
    stage.enter("maren", DEMO_PASSWORD).await?;
    stage.says("the name or the password is not right").await?;
    stage.fill("Password", "six quite other words").await?;
    stage.submit().await?;
    stage.says("Add a player").await?;
    here.quit().await
}
