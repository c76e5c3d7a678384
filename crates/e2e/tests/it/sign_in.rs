//! Who comes in, who sees what, and what becomes of typed words when time is over.

use std::time::{SystemTime, UNIX_EPOCH};
use tally_e2e::{DEMO_PASSWORD, PASSWORD, Stage, journeys, play_from_nothing};
use thirtyfour::prelude::*;
use totp_rs::{Builder, Secret};

journeys! {
    a_new_school_knows_who_is_there: play(false),
    a_second_factor_is_set_up_asked_for_and_taken_away,
    shots_appear_again_by_themselves_once_one_has_signed_in_again,
    a_child_without_consent_begins_no_session_until_it_is_noted,
}

journeys! {
    everybody_sees_what_is_theirs: play(true),
    an_assistant_is_offered_nothing_that_deletes_or_takes_out,
    what_was_typed_stays_when_one_is_signed_out_half_way,
    a_new_coach_sets_a_password_by_a_code_and_sees_only_what_is_shared,
    a_child_s_page_is_shared_by_a_link_looked_at_in_the_record_and_erased_at_last,
    what_was_kept_for_the_mat_is_not_shown_to_who_is_signed_in_no_longer,
}

/// Signs everybody of one's name out, on another machine.
async fn sign_out_elsewhere(stage: &mut Stage) -> WebDriverResult<()> {
    let other = stage.second_browser().await?;
    let here = std::mem::replace(&mut stage.browser, other);
    stage.go("/account").await?;
    stage.press("Sign out everywhere").await?;
    stage.says("Sign-in name").await?;
    let other = std::mem::replace(&mut stage.browser, here);
    other.quit().await
}

/// Answers the dialog that lies over the page when one is no longer signed in.
async fn sign_in_over_the_page(stage: &Stage, name: &str, password: &str) -> WebDriverResult<()> {
    stage.says("Sign in again").await?;
    let over = "//*[contains(@class, 'door-over')]";
    for (field, text) in [(1, name), (2, password)] {
        stage
            .find(&format!("({over}//input)[{field}]"))
            .await?
            .send_keys(text)
            .await?;
    }
    stage
        .click_once_still(&format!("{over}//button[@type='submit']"))
        .await?;
    stage
        .find("//body[not(.//*[contains(@class, 'door-over')])]")
        .await?;
    Ok(())
}

/// The code that an authenticator shows now, and the one that it shows next.
fn codes(secret: &str) -> [String; 2] {
    let secret = Secret::try_from_base32(secret).expect("the secret is base32");
    let totp = Builder::new().with_secret(secret).build_noncompliant();
    let now = SystemTime::now().duration_since(UNIX_EPOCH);
    let now = now.expect("it is after 1970").as_secs();
    [0, 30].map(|ahead| totp.generate(now + ahead).to_string())
}

async fn a_second_factor_is_set_up_asked_for_and_taken_away(stage: &Stage) -> WebDriverResult<()> {
    stage.go("/account").await?;
    stage.fill("Your password", "not that one").await?;
    stage.press("Set up a second factor").await?;
    stage.says("is not your password").await?;
    stage.fill("Your password", PASSWORD).await?;
    stage.press("Set up a second factor").await?;
    let secret = stage
        .find("//code[contains(@class, 'secret-text')]")
        .await?;
    let [now, next] = codes(&secret.text().await?);
    stage.fill("Code that it shows now", "000000").await?;
    stage.press("Ask for it from now on").await?;
    stage.says("does not hold").await?;
    stage.fill("Code that it shows now", &now).await?;
    stage.press("Ask for it from now on").await?;
    stage.says("Ask for it no longer").await?;
    stage.press("Sign out").await?;
    stage.enter("orla", PASSWORD).await?;
    stage.fill("Code of your authenticator", &next).await?;
    stage.submit().await?;
    stage.says("No players yet").await?;
    stage.go("/account").await?;
    stage.fill("Your password", PASSWORD).await?;
    stage.press("Ask for it no longer").await?;
    stage.says("Set up a second factor").await?;
    stage.press("Sign out").await?;
    stage.enter("orla", PASSWORD).await?;
    stage.says("No players yet").await.map(|_| ())
}

async fn shots_appear_again_by_themselves_once_one_has_signed_in_again(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    stage.begin_first_session().await?;
    let token = {
        let at = stage.browser.current_url().await?;
        let token = stage.add_device("Bay radar").await?;
        stage.browser.goto(at.as_str()).await?;
        token
    };
    stage.press("To the mat").await?;
    let hit = ["--shots", "2", "--pace-s", "0", "--token", &token];
    stage.simulate(&hit).await;
    stage
        .find("//*[@role='option'][contains(@aria-label, 'Shot 2')]")
        .await?;
    sign_out_elsewhere(stage).await?;
    // What comes in meanwhile is stored; the screen asks who is there.
    stage.simulate(&hit).await;
    sign_in_over_the_page(stage, "orla", PASSWORD).await?;
    stage
        .find("//*[@role='option'][contains(@aria-label, 'Shot 4')]")
        .await?;
    stage.simulate(&hit).await;
    stage
        .find("//*[@role='option'][contains(@aria-label, 'Shot 6')]")
        .await
        .map(|_| ())
}

async fn an_assistant_is_offered_nothing_that_deletes_or_takes_out(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    let assistant = stage.browser_of("jori").await?;
    let owner = std::mem::replace(&mut stage.browser, assistant);
    stage.go("/players").await?;
    stage.press("Ayla Tarrant").await?;
    stage.press("About").await?;
    stage.says("Who sees this player").await?;
    stage.says("Begin a session").await?;
    let page = stage.browser.source().await?;
    for not_theirs in ["Erase", "as a file", "Make a link", ">Change<"] {
        assert!(!page.contains(not_theirs), "{not_theirs} is offered");
    }
    for theirs_not in ["/school/people", "/school/record"] {
        stage.go(theirs_not).await?;
        stage.says("For owners of the school").await?;
    }
    stage.go("/school/devices").await?;
    stage.says("They connect to").await?;
    let page = stage.browser.source().await?;
    for not_theirs in ["Add a device", "New secret"] {
        assert!(!page.contains(not_theirs), "{not_theirs} is offered");
    }
    let assistant = std::mem::replace(&mut stage.browser, owner);
    assistant.quit().await
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
        stage.enter("orla", "four plain wrds").await?;
        stage.says("the name or the password is not right").await?;
        stage.enter("Orla", PASSWORD).await?;
        stage.says("North Bay Golf").await.map(|_| ())
    })
    .await;
}

async fn a_new_coach_sets_a_password_by_a_code_and_sees_only_what_is_shared(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    stage.go("/school/people").await?;
    stage.press("Add a person").await?;
    stage.fill("Name", "Runa Holt").await?;
    stage.fill("Sign-in name", "maren").await?;
    stage.submit().await?;
    stage.says("somebody signs in as “maren” already").await?;
    stage.fill("Sign-in name", "runa").await?;
    stage.submit().await?;
    let code = stage
        .find("//*[contains(@class, 'secret')]/code[. != '']")
        .await?;
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
    stage.press("About").await?;
    stage.says("Who sees this player").await?;
    stage.press("Change").await?;
    stage
        .click_once_still("//label[contains(., 'Runa Holt')]")
        .await?;
    stage.press("Save").await?;
    stage.says("Runa Holt (coach)").await?;
    let owner = std::mem::replace(&mut stage.browser, visitor);
    stage.go("/players").await?;
    stage.press("Petra Quill").await?;
    stage.press("About").await?;
    stage.says("Who sees this player").await?;
    let names = stage.browser.source().await?;
    assert!(!names.contains("Dov Ransley"));
    stage.go("/school/people").await?;
    stage.says("For owners of the school").await?;
    let visitor = std::mem::replace(&mut stage.browser, owner);
    visitor.quit().await
}

async fn what_was_kept_for_the_mat_is_not_shown_to_who_is_signed_in_no_longer(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.open_session("Dov Ransley", "18 April 2026").await?;
    stage.says("as last time").await?;
    let here = stage.browser.current_url().await?;
    let kept = "const done = arguments[0];
         const look = () => {
           indexedDB.open('amber-tally-answers').onsuccess = ({ target }) => {
             const all = target.result.transaction('answers').objectStore('answers').getAll();
             all.onsuccess = () => {
               target.result.close();
               if (JSON.stringify(all.result).includes('Ransley')) done(true);
               else setTimeout(look, 100);
             };
           };
         };
         look();";
    stage.browser.execute_async(kept, vec![]).await?;
    stage.go("/mark.svg").await?;
    // The time is over, or they were signed out elsewhere.
    stage.browser.delete_all_cookies().await?;
    stage.browser.goto(here.as_str()).await?;
    stage.find("//form//button[@type='submit']").await?;
    stage
        .find("//body[not(contains(., 'Ransley'))]")
        .await
        .map(|_| ())
}

async fn what_was_typed_stays_when_one_is_signed_out_half_way(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Add a player").await?;
    stage.fill("Name", "Wren Aldous").await?;
    sign_out_elsewhere(stage).await?;
    stage.submit().await?;
    sign_in_over_the_page(stage, "tova", DEMO_PASSWORD).await?;
    let name = stage.find("//label[contains(., 'Name')]//input").await?;
    assert_eq!(name.prop("value").await?.as_deref(), Some("Wren Aldous"));
    stage.submit().await?;
    stage.says("Begin a session").await.map(|_| ())
}

async fn a_child_s_page_is_shared_by_a_link_looked_at_in_the_record_and_erased_at_last(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Ayla Tarrant").await?;
    stage.press("About").await?;
    stage.press("Make a link").await?;
    stage.fill("Days that it opens", "0").await?;
    stage.submit().await?;
    stage.says("from 1 to 366").await?;
    stage.fill("Days that it opens", "14").await?;
    stage.submit().await?;
    let address = stage
        .find("//*[contains(@class, 'secret')]/code[. != '']")
        .await?;
    let address = address.prop("textContent").await?.unwrap_or_default();
    // Whoever has it reads it without signing in, and reads nothing else.
    let guest = stage.second_browser().await?;
    guest.delete_all_cookies().await?;
    let owner = std::mem::replace(&mut stage.browser, guest);
    stage.browser.goto(&address).await?;
    stage.find("//h1[.='Ayla']").await?;
    let seen = stage.browser.source().await?;
    assert!(!seen.contains("Dov Ransley") && !seen.contains("Tarrant"));
    let guest = std::mem::replace(&mut stage.browser, owner);
    stage.browser.refresh().await?;
    stage.press("Revoke").await?;
    stage
        .find("//body[not(.//button[normalize-space(.)='Revoke'])]")
        .await?;
    let owner = std::mem::replace(&mut stage.browser, guest);
    stage.browser.refresh().await?;
    stage.says("no longer").await?;
    let guest = std::mem::replace(&mut stage.browser, owner);
    guest.quit().await?;
    // The record says who read, and can be asked for one kind alone.
    stage.go("/school/record").await?;
    stage.says("read a child's records: Ayla Tarrant").await?;
    stage.choose("What", "Erased a player").await?;
    stage.says("Nothing of the kind").await?;
    // Erased, by the name as it stands and no other.
    stage.go("/players").await?;
    stage.press("Ayla Tarrant").await?;
    stage.press("About").await?;
    stage.press("Erase Ayla Tarrant").await?;
    stage.fill("Type Ayla Tarrant to erase", "Ayla").await?;
    stage.press("Erase for good").await?;
    stage.says("is not this player's name").await?;
    stage
        .fill("Type Ayla Tarrant to erase", "Ayla Tarrant")
        .await?;
    stage.press("Erase for good").await?;
    stage.says("Ayla Tarrant is erased").await?;
    stage.press("To the players").await?;
    stage.says("Petra Quill").await?;
    let left = stage.browser.source().await?;
    assert!(!left.contains("Ayla Tarrant"));
    stage.go("/school/record").await?;
    stage.choose("What", "Erased a player").await?;
    stage.says("erased a player").await.map(|_| ())
}

async fn a_child_without_consent_begins_no_session_until_it_is_noted(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Add a player").await?;
    stage.fill("Name", "Pia Aldous").await?;
    stage.fill("Year of birth", "2014").await?;
    stage.submit().await?;
    stage.says("A guardian’s consent is missing").await?;
    stage.press("Begin a session").await?;
    stage.fill("Place", "North bay").await?;
    stage.press("Begin the session").await?;
    stage.says("no guardian's consent is noted").await?;
    // What was typed is still there when it was noted meanwhile.
    let place = stage.find("//input[@value='North bay']").await?;
    assert!(place.is_displayed().await?);
    let other = stage.second_browser().await?;
    let here = std::mem::replace(&mut stage.browser, other);
    stage.go("/players").await?;
    stage.press("Pia Aldous").await?;
    stage.fill("Guardian", "Ada Aldous").await?;
    stage.fill("Consented on", "01/04/2026").await?;
    stage.press("Note it").await?;
    stage.says("Ada Aldous consented on").await?;
    let other = std::mem::replace(&mut stage.browser, here);
    other.quit().await?;
    stage.press("Begin the session").await?;
    stage.says("To the mat").await.map(|_| ())
}
