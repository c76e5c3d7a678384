//! Who comes in, who sees what, and what becomes of typed words when time is over.

use tally_e2e::{DEMO_PASSWORD, PASSWORD, Stage, play, play_from_nothing};
use thirtyfour::prelude::*;

async fn enter(stage: &Stage, name: &str, password: &str) -> WebDriverResult<()> {
    stage.fill("Sign-in name", name).await?;
    stage.fill("Password", password).await?;
    stage.submit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_school_is_set_up_and_its_owner_goes_out_and_comes_in_again() {
    play_from_nothing(async |stage| {
        stage.go("/players").await?;
        stage.says("Set up your school").await?;
        stage.fill("School", "North Bay Golf").await?;
        stage.fill("Your name", "Orla Finch").await?;
        stage.fill("Sign-in name", "orla").await?;
        stage.fill("Password", "too short").await?;
        stage.submit().await?;
        stage.says("has 9 characters").await?;
        stage.fill("Password", PASSWORD).await?;
        // What was typed before is still there.
        stage.submit().await?;
        stage.says("No players yet").await?;
        stage.says("North Bay Golf").await?;
        stage.press("OF, the account of Orla Finch").await?;
        stage.press("Sign out").await?;
        enter(stage, "orla", "four plain wrds").await?;
        stage.says("the name or the password is not right").await?;
        enter(stage, "Orla", PASSWORD).await?;
        stage.says("North Bay Golf").await.map(|_| ())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_coach_sets_a_password_by_a_code_and_sees_only_what_is_shared() {
    play(true, async |stage| {
        stage.go("/school/people").await?;
        stage.press("Add a person").await?;
        stage.fill("Name", "Runa Holt").await?;
        stage.fill("Sign-in name", "maren").await?;
        stage.submit().await?;
        stage.says("somebody signs in as “maren” already").await?;
        stage.fill("Sign-in name", "runa").await?;
        stage.submit().await?;
        let code = stage.find("//*[@class='secret']/code[. != '']").await?;
        let code = code.prop("textContent").await?.unwrap_or_default();
        let there = stage.second_browser().await?;
        there.delete_all_cookies().await?;
        // The owner's browser steps aside for the one who comes.
        let owner = std::mem::replace(&mut stage.browser, there);
        stage.go("/players").await?;
        stage.press("I have a code for a new password").await?;
        stage.fill("Sign-in name", "runa").await?;
        stage.fill("Code", &code).await?;
        stage.fill("New password", PASSWORD).await?;
        stage.submit().await?;
        stage.says("No players yet").await?;
        let visitor = std::mem::replace(&mut stage.browser, owner);
        stage.go("/players").await?;
        stage.press("Petra Quill").await?;
        stage.says("Who sees this player").await?;
        stage.press("Change").await?;
        stage
            .find("//label[contains(., 'Runa Holt')]")
            .await?
            .click()
            .await?;
        stage.press("Save").await?;
        stage.says("Runa Holt (coach)").await?;
        let owner = std::mem::replace(&mut stage.browser, visitor);
        stage.go("/players").await?;
        stage.press("Petra Quill").await?;
        stage.says("Who sees this player").await?;
        let names = stage.browser.source().await?;
        assert!(!names.contains("Dov Ransley"));
        stage.go("/school/people").await?;
        stage.says("For owners of the school").await?;
        let visitor = std::mem::replace(&mut stage.browser, owner);
        visitor.quit().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_typed_stays_when_one_is_signed_out_half_way() {
    play(true, async |stage| {
        stage.go("/players").await?;
        stage.press("Add a player").await?;
        stage.fill("Name", "Wren Aldous").await?;
        // Signed out on another machine meanwhile.
        let other = stage.second_browser().await?;
        let here = std::mem::replace(&mut stage.browser, other);
        stage.go("/account").await?;
        stage.press("Sign out everywhere").await?;
        stage.says("This is the demo").await?;
        let other = std::mem::replace(&mut stage.browser, here);
        other.quit().await?;
        stage.submit().await?;
        stage.says("Sign in again").await?;
        let over = "//*[@class='door-over']";
        for (field, text) in [(1, "tova"), (2, DEMO_PASSWORD)] {
            stage
                .find(&format!("({over}//input)[{field}]"))
                .await?
                .send_keys(text)
                .await?;
        }
        stage
            .find(&format!("{over}//button[@type='submit']"))
            .await?
            .click()
            .await?;
        stage.find("//body[not(.//*[@class='door-over'])]").await?;
        let name = stage.find("//label[contains(., 'Name')]//input").await?;
        assert_eq!(name.prop("value").await?.as_deref(), Some("Wren Aldous"));
        stage.submit().await?;
        stage.says("Begin a session").await.map(|_| ())
    })
    .await;
}
