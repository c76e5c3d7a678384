//! A coach judges what a test showed and decides, with mistakes on the way.

use tally_e2e::{Stage, play};
use thirtyfour::prelude::*;

/// Opens Decide of a player's session.
async fn decide(stage: &Stage, player: &str, day: &str) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press(player).await?;
    stage.press("Sessions").await?;
    stage.press(day).await?;
    stage.press("Decide").await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_comparison_ends_in_a_decision_that_today_brings_back() {
    play(true, async |stage| {
        decide(stage, "Petra Quill", "4 April 2026").await?;
        stage.says("and lands in 42 % of the width").await?;
        stage.find("//figure//*[name()='svg']").await?;
        // A margin of nothing is refused by name, and what was seen stays.
        stage.fill("Makes no difference", "0").await?;
        stage.says("give more than 0").await?;
        stage.says("and lands in 42 % of the width").await?;
        stage.fill("Makes no difference", "20").await?;
        stage
            .says("the same as Usual start within your 20 yd")
            .await?;
        stage.press("Working").await?;
        stage.says("Welch 1947").await?;
        stage.press("Close").await?;

        stage.press("Keep the decision").await?;
        stage.says("give 1 to 1000 characters").await?;
        let words = "//textarea[@aria-label='What to do until next time']";
        stage
            .find(words)
            .await?
            .send_keys("Quiet start until Easter")
            .await?;
        stage
            .find("//input[@aria-label='Look again on']")
            .await?
            .send_keys("05092026")
            .await?;
        stage.press("Keep the decision").await?;
        stage
            .find("//li[contains(., 'Quiet start until Easter')][contains(., '9 May 2026')]")
            .await?;
        stage.press("Today").await?;
        let mine = "//li[contains(., 'Quiet start until Easter')]";
        stage.find(mine).await?;
        // The way back leads to the very test, margin and all.
        stage
            .find(&format!("{mine}//a[.='See the test']"))
            .await?
            .click()
            .await?;
        stage.says("within your 20 yd").await?;
        stage.press("Today").await?;
        stage
            .find(&format!("{mine}//button[.='Done with it']"))
            .await?
            .click()
            .await?;
        stage
            .find("//ul[contains(@class, 'decisions')][not(contains(., 'Easter'))]")
            .await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_effort_ladder_is_judged_by_the_coach_s_own_criterion_and_hole() {
    play(true, async |stage| {
        decide(stage, "Dov Ransley", "21 February 2026").await?;
        stage.says("stock feels like").await?;
        stage.choose("Best means", "most fairways").await?;
        stage.says("Which to play for the fairway is open").await?;
        stage.fill("Fairway width", "-4").await?;
        stage.says("give a number from 1.1 to 218.7 yd").await?;
        stage.fill("Fairway width", "12").await?;
        stage
            .find("//table[contains(@class, 'efforts')]//tr[contains(@class, 'chosen')]")
            .await?;
        stage.press("Hole").await?;
        stage.choose("On the left", "water").await?;
        stage.says("give a number such as 12.5").await?;
        stage.fill("Left from the middle", "20").await?;
        stage.says("looks best here").await?;
        stage.press("Warm-up").await?;
        stage.says("Gain from the first swing on").await?;
        stage.press("Speed ladder").await?;
        stage.says("each step of speed is worth").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn any_balls_are_held_against_any_others() {
    play(true, async |stage| {
        stage.go("/players").await?;
        stage.press("Ilse Marrow").await?;
        stage.press("Compare any balls").await?;
        stage.says("Add two sets").await?;
        stage
            .choose("Session", "17 January 2026, benchmark")
            .await?;
        stage.press("Add this set").await?;
        stage.says("Add a second set").await?;
        stage
            .choose("Session", "21 March 2026, expected carry")
            .await?;
        stage.choose("Block", "From the mat").await?;
        stage.press("Add this set").await?;
        stage.says("further than 17 January 2026 (").await?;
        stage.says("One day each cannot tell a change").await?;
        // The address holds it all.
        stage.browser.refresh().await?;
        stage.says("further than 17 January 2026 (").await?;
        stage.press("hold against this").await?;
        stage
            .says("shorter than From the mat, 21 March 2026 (")
            .await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_test_is_planned_by_the_difference_that_matters() {
    play(true, async |stage| {
        stage.go("/players").await?;
        stage.press("Ilse Marrow").await?;
        stage.press("Begin a session").await?;
        stage.choose("Purpose", "Comparison").await?;
        stage
            .choose("Club", "5-wood, shallow, 18°, 42.1 in")
            .await?;
        stage.says("balls of each").await?;
        stage.fill("Difference in carry that matters", "12").await?;
        let status =
            "//*[contains(@class, 'test-plan')]//*[@role='status'][contains(., 'balls of each')]";
        stage.find(status).await?;
        stage.press("Plan so many").await?;
        stage.press("Begin the session").await?;
        stage.press("To the mat").await?;
        stage.says("block 1 of 4").await?;
        stage.press("Decide").await?;
        stage.says("One kind of block only").await?;
        Ok(())
    })
    .await;
}
