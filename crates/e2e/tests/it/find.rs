//! What helps on every page: finding anything, the keys, the words.

use tally_e2e::{Stage, journeys};
use thirtyfour::prelude::*;

journeys! {
    what_helps_on_every_page: play(true),
    anything_is_found_by_keyboard_and_what_is_found_is_opened,
    keys_are_shown_changed_and_switched_off_and_a_word_is_looked_up,
}

/// Where what is looked for is typed.
const FIELD: &str = "//input[@aria-label='What to find']";

async fn anything_is_found_by_keyboard_and_what_is_found_is_opened(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/today").await?;
    stage.says("Decisions to look at again").await?;
    stage.keys("/").await?;
    stage.find(FIELD).await?;
    stage.keys("speed day bram").await?;
    stage
        .says("Begin a session for Bram Lindqvale: speed day")
        .await?;
    stage.keys(Key::Enter + "").await?;
    // The page that was found has the focus, and says which it is.
    stage.says("Begin the session").await?;
    let url = stage.browser.current_url().await?;
    assert_eq!(url.query(), Some("purpose=speed_day"));
    // Enter before the answer is there means what comes, not what stood there.
    stage.go("/today").await?;
    stage.says("Decisions to look at again").await?;
    stage.keys("/").await?;
    stage.find(FIELD).await?;
    stage.keys("bram").await?;
    stage.says("Bram Lindqvale").await?;
    for _ in 0.."bram".len() {
        stage.keys(Key::Backspace + "").await?;
    }
    stage.keys("ilse marrow" + Key::Enter).await?;
    stage.says("Carry the tarn").await?;
    // A page that one is on already still opens what is asked for.
    stage.go("/players").await?;
    stage.says("Add a player").await?;
    stage.keys("/").await?;
    stage.find(FIELD).await?;
    stage.keys("add a pl" + Key::Enter).await?;
    stage
        .find("//*[@role='dialog']//label[contains(., 'Name')]")
        .await?;
    // A slash in a field is a slash; a name that nobody has is told so.
    stage.go("/house-rules").await?;
    stage.press("Find").await?;
    stage.find(FIELD).await?;
    stage.keys("margin / of zebra").await?;
    stage.says("Nothing fits “margin / of zebra”").await?;
    for _ in 0.."margin / of zebra".len() {
        stage.keys(Key::Backspace + "").await?;
    }
    stage.keys("level of every").await?;
    stage
        .find("//*[@role='option']//*[.='Level of every interval']")
        .await?;
    stage.keys(Key::Enter + "").await?;
    stage
        .find("//li[contains(@class, 'meant')]")
        .await
        .map(|_| ())
}

async fn keys_are_shown_changed_and_switched_off_and_a_word_is_looked_up(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.open_session("Dov Ransley", "18 April 2026").await?;
    stage.says("as last time").await?;
    stage.keys("?").await?;
    stage.says("give it to another block").await?;
    stage.fill("Look a word up", "off day").await?;
    stage.says("outside the player's own band").await?;
    // A key that has a meaning is not given another.
    let change = "//button[@aria-label='Change the key for: undo the last act']";
    stage.settled().await?;
    stage.click_once_still(change).await?;
    stage.keys("x").await?;
    stage
        .says("“X” is “set this ball aside”: change that one first.")
        .await?;
    stage.keys("z").await?;
    stage.says("“Z” is “undo the last act” now.").await?;
    stage.keys(Key::Escape + "").await?;
    stage.find("//body[not(.//*[@role='dialog'])]").await?;
    stage.keys("m").await?;
    stage.says("Z undoes it").await?;
    stage.keys("z").await?;
    stage.find("//body[not(contains(., 'undoes it'))]").await?;
    // Switched off, no key does anything, and none is shown.
    stage.press("?").await?;
    stage.says("Single keys").await?;
    stage.settled().await?;
    stage
        .click_once_still("//label[contains(., 'Single keys')]")
        .await?;
    stage.keys(Key::Escape + "").await?;
    stage.find("//body[not(.//*[@role='dialog'])]").await?;
    stage.keys("mp?/").await?;
    stage.find("//body[not(.//kbd)]").await?;
    stage
        .find("//body[not(contains(., 'missed its feel.'))]")
        .await?;
    stage.find("//body[not(.//*[@role='dialog'])]").await?;
    // Nor does one answer a question, which a pointer still does.
    stage
        .open_session("Ilse Marrow", "14 February 2026")
        .await?;
    stage.find("//*[@role='listbox']").await?;
    stage.strip_key(Key::Home + "").await?;
    stage.strip_key(Key::Enter + "").await?;
    stage.says("What it should have carried").await?;
    stage.settled().await?;
    stage.press("Set aside").await?;
    let asked =
        "//*[@role='dialog'][contains(., 'aside: why?')][not(.//kbd[string-length(.) = 1])]";
    stage.find(asked).await?;
    stage.keys("m").await?;
    stage.find(asked).await?;
    stage.press("Mishit").await?;
    stage.says("is now set aside").await.map(|_| ())
}
