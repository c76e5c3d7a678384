//! A coach puts a player's facts right, notes a session and finds it again, puts somebody
//! away and brings them back, and gives the school its own references.

use tally_e2e::{Stage, journeys};
use thirtyfour::prelude::*;

journeys! {
    what_is_known_of_players: play(true),
    references_are_the_school_s_own_and_stand_beside_a_player,
    facts_notes_and_who_comes_no_more,
}

async fn facts_notes_and_who_comes_no_more(stage: &Stage) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Ilse Marrow").await?;
    // A slip of the hand: nothing typed is lost.
    stage.press("Put right").await?;
    stage.fill("Height", "17").await?;
    stage.fill("What they come for", "The tarn").await?;
    stage.submit().await?;
    stage.says("give a number from").await?;
    let field = stage.find("//label[contains(., 'Height')]//input").await?;
    assert_eq!(field.prop("value").await?.as_deref(), Some("17"));
    stage.fill("Height", "67").await?;
    stage.submit().await?;
    stage.says("The tarn").await?;
    // The latest session is noted, and found by its tag.
    stage.press("Sessions").await?;
    stage
        .click_once_still("(//a[contains(@class, 'row-link')])[1]")
        .await?;
    stage.press("Note").await?;
    let note = stage.find("//label[contains(., 'Note')]//textarea").await?;
    note.send_keys("Gusts from the left").await?;
    let tags = stage.find("//input[@id='tags']").await?;
    tags.send_keys("New grip,").await?;
    stage.press("Keep the note").await?;
    stage.says("Gusts from the left").await?;
    stage.says("new grip").await?;
    stage.press("Ilse Marrow").await?;
    stage.press("Sessions").await?;
    stage.fill("Place, day or note", "gusts").await?;
    stage.says("Gusts from the left").await?;
    let rows = stage
        .browser
        .find_all(By::XPath("//li//a[contains(@class, 'row-link')]"))
        .await?;
    assert_eq!(rows.len(), 1);
    // Put away, nothing can begin; back in one tap.
    stage.press("About").await?;
    stage.press("Put away").await?;
    stage.says("no session can begin").await?;
    stage.go("/players").await?;
    stage.press("Also those put away: 1").await?;
    stage.press("Ilse Marrow").await?;
    stage.press("Bring back").await?;
    stage.says("Begin a session").await.map(|_| ())
}

async fn references_are_the_school_s_own_and_stand_beside_a_player(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/house-rules").await?;
    stage.press("Add a reference").await?;
    stage.choose("Players of row 9", "Elite player").await?;
    stage.fill("Figure of row 9", "124").await?;
    stage.press("Save the references").await?;
    stage.says("row 9 source").await?;
    stage.fill("Youngest of row 9", "20").await?;
    stage
        .fill("Source of row 9", "Our own long hitters")
        .await?;
    stage.press("Save the references").await?;
    stage.says("Our references again").await?;
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    stage
        .says("Reference: Our own long hitters")
        .await
        .map(|_| ())
}
