//! A coach judges what a test showed and decides, with mistakes on the way.

use tally_e2e::{Stage, journeys};
use thirtyfour::prelude::*;

journeys! {
    what_tests_showed_is_judged_and_decided: play(true),
    an_effort_ladder_is_judged_by_the_coach_s_own_criterion_and_hole,
    any_balls_are_held_against_any_others,
    a_trace_is_marked_by_hand_and_a_table_that_cannot_be_read_says_where,
    a_comparison_ends_in_a_decision_that_today_brings_back,
    a_test_is_planned_by_the_difference_that_matters,
}

/// Opens Decide of a player's session.
async fn decide(stage: &Stage, player: &str, day: &str) -> WebDriverResult<()> {
    stage.open_session(player, day).await?;
    stage.press("Decide").await
}

async fn a_comparison_ends_in_a_decision_that_today_brings_back(
    stage: &Stage,
) -> WebDriverResult<()> {
    decide(stage, "Petra Quill", "4 April 2026").await?;
    stage.says("ten balls land within").await?;
    stage.find("//figure//*[name()='svg']").await?;
    // A margin of nothing is refused by name, and what was seen stays.
    stage.fill("Makes no difference", "0").await?;
    stage.says("give more than 0").await?;
    stage.says("ten balls land within").await?;
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
    stage.press("Look again on…").await?;
    stage
        .find("//*[contains(@class, 'focused')]//input[@aria-label='Look again on']")
        .await?
        .send_keys("09/05/2026")
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
        .click_once_still(&format!("{mine}//a[.='See the test']"))
        .await?;
    stage.says("within your 20 yd").await?;
    stage.press("Today").await?;
    stage
        .click_once_still(&format!("{mine}//button[.='Done with it']"))
        .await?;
    stage
        .find("//ul[contains(@class, 'decisions')][not(contains(., 'Easter'))]")
        .await?;
    Ok(())
}

async fn an_effort_ladder_is_judged_by_the_coach_s_own_criterion_and_hole(
    stage: &Stage,
) -> WebDriverResult<()> {
    decide(stage, "Dov Ransley", "21 February 2026").await?;
    stage.says("stock feels like").await?;
    stage.choose("Best means", "most fairways").await?;
    stage
        .says("Which effort to play for the fairway is open")
        .await?;
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
    stage.says("more speed gave").await?;
    Ok(())
}

async fn any_balls_are_held_against_any_others(stage: &Stage) -> WebDriverResult<()> {
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
}

async fn a_test_is_planned_by_the_difference_that_matters(stage: &Stage) -> WebDriverResult<()> {
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
}

async fn a_trace_is_marked_by_hand_and_a_table_that_cannot_be_read_says_where(
    stage: &Stage,
) -> WebDriverResult<()> {
    decide(stage, "Ayla Tarrant", "28 March 2026").await?;
    stage.says("earlier: now").await?;
    stage.says("lead arm level").await?;
    stage
        .click_once_still("//summary[starts-with(., 'Every trace')]")
        .await?;
    stage.press("2 Before").await?;
    // What is no number is said and kept; without an impact the trace is left out.
    stage.fill("Impact, ms", "at the ball").await?;
    stage
        .says("“at the ball” is no number of milliseconds")
        .await?;
    stage
        .fill("Impact, ms", &char::from(Key::Delete).to_string())
        .await?;
    stage.press("Keep the marks").await?;
    stage.says("1 without a mark of impact").await?;
    stage.says("One has no mark of impact").await?;
    stage.press("2 Before").await?;
    // After impact no club is on its way to the ball.
    stage.fill("Impact, ms", "1300").await?;
    stage.fill("Shaft level, ms", "1400").await?;
    stage.press("Keep the marks").await?;
    stage.says("is not before impact").await?;
    stage.fill("Shaft level, ms", "1240").await?;
    stage.press("Keep the marks").await?;
    stage
        .find("//section[@aria-label='Traces'][not(contains(., 'without a mark'))]")
        .await?;

    let file = std::env::temp_dir().join(format!("traces-{}.csv", std::process::id()));
    std::fs::write(&file, "shot,time_ms,lead_n\n1,0,heavy\n").expect("a file");
    let open = "//input[@type='file']";
    let path = file.to_string_lossy().into_owned();
    stage.find(open).await?.send_keys(&path).await?;
    stage.says("line 2, column 3").await?;
    std::fs::remove_file(&file).ok();
    Ok(())
}
