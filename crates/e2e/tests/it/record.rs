//! A coach looks at months of a player, sets a goal with a slip of the hand, and makes a
//! session the benchmark.

use tally_e2e::{Stage, journeys};
use thirtyfour::prelude::*;

journeys! {
    what_months_tell_of_a_player: play(true),
    what_next_is_pinned_dismissed_with_a_reason_and_proposed_again,
    months_are_read_a_goal_is_set_and_a_benchmark_is_made,
}

async fn months_are_read_a_goal_is_set_and_a_benchmark_is_made(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    stage.says("was an off day").await?;
    stage.says("level since 17 February").await?;
    stage.says("6 weeks off").await?;
    // Days are walked by keys, and the same is there as a table.
    let strip = stage.find("//*[@role='listbox']").await?;
    strip.send_keys(Key::Home + "").await?;
    stage.says("4 November 2025, average").await?;
    stage.press("Table").await?;
    stage.says("off day").await?;
    stage.press("Picture").await?;
    // Another value by one tap; its goal is typed wrongly, and nothing typed is lost.
    stage.press("Carry").await?;
    stage.says("None with this value").await?;
    stage.press("Set one").await?;
    stage.fill("Average to reach", "9000").await?;
    stage.submit().await?;
    stage.says("give a number from 0 to 492.1 yd").await?;
    let field = stage
        .find("//label[contains(., 'Average to reach')]//input")
        .await?;
    assert_eq!(field.prop("value").await?.as_deref(), Some("9000"));
    stage.fill("Average to reach", "310").await?;
    stage.submit().await?;
    stage.says("goal 310 yd").await?;
    stage.press("Make a session the benchmark").await?;
    stage.fill("Name", "Before the summer").await?;
    stage.press("Freeze it").await?;
    stage.says("Before the summer").await?;
    // All of it stands after the page is loaded again.
    stage.browser.refresh().await?;
    stage.says("goal 310 yd").await?;
    stage.says("Before the summer").await?;
    // Repeated, it is prepared as it was.
    stage.press("Repeat it").await?;
    stage.says("Repeats").await?;
    stage.says("Before the summer").await.map(|_| ())
}

async fn what_next_is_pinned_dismissed_with_a_reason_and_proposed_again(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    stage.says("strokes a round").await?;
    stage.press("Pin").await?;
    stage.says("Unpin").await?;
    stage.press("Unpin").await?;
    stage.press("Dismiss").await?;
    stage
        .fill("Why it is dismissed", "After the season")
        .await?;
    stage.press("Dismiss it").await?;
    let fold = stage.find("//summary[contains(., 'Dismissed: 1')]").await?;
    fold.click().await?;
    stage.says("After the season").await?;
    stage.press("Propose it again").await?;
    // Ranked by the other school, and prepared in one tap.
    stage.press("distance first").await?;
    stage.press("Prepare a session").await?;
    stage.says("Begin the session").await?;
    // The bag stands on a page of its own.
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    stage.press("Bag").await?;
    stage.press("Add a club").await?;
    stage.says("A club for the bag").await.map(|_| ())
}
