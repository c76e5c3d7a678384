//! A second screen at the mat, and many screens of one coach.

use tally_e2e::{Stage, journeys};
use thirtyfour::prelude::*;

journeys! {
    screens_beside_the_mat: play(true),
    nine_tabs_at_the_mat_all_go_on,
    a_board_follows_the_mat_and_goes_dark_with_the_session,
}

async fn says(browser: &WebDriver, text: &str) -> WebDriverResult<()> {
    let found = format!("//*[contains(normalize-space(.), \"{text}\")]");
    browser.query(By::XPath(found)).first().await.map(|_| ())
}

async fn a_board_follows_the_mat_and_goes_dark_with_the_session(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.open_session("Dov Ransley", "18 April 2026").await?;
    stage.press("Board…").await?;
    stage.press("Open a board").await?;
    let code = stage
        .find("//*[contains(@class, 'code_')]")
        .await?
        .text()
        .await?;
    // Another machine, at which nobody is signed in.
    let screen = stage.second_browser().await?;
    screen.delete_all_cookies().await?;
    let board = format!("{}/board", stage.web);
    screen.goto(&board).await?;
    let field = screen.query(By::Tag("input")).first().await?;
    field.send_keys("zzz zzz" + Key::Enter).await?;
    says(&screen, "this code opens no board").await?;
    screen.goto(format!("{board}#{code}")).await?;
    says(&screen, "as last time").await?;
    says(&screen, "Next ball, 3 of 3").await?;
    let all = screen.find(By::Tag("body")).await?.text().await?;
    assert!(!all.contains("Dov"), "{all}");
    // What is done at the mat is seen there, what is hidden is hidden there.
    stage.keys(Key::Escape + "").await?;
    stage.press("Hide club speed").await?;
    says(&screen, "yd carry").await?;
    stage.keys("p").await?;
    says(&screen, "paused").await?;
    stage.press("End session").await?;
    says(&screen, "The board is dark").await?;
    screen.quit().await
}

async fn nine_tabs_at_the_mat_all_go_on(stage: &Stage) -> WebDriverResult<()> {
    stage.open_session("Dov Ransley", "18 April 2026").await?;
    stage.says("as last time").await?;
    let here = stage.browser.current_url().await?;
    // A browser gives a server six connections at most.
    for _ in 0..8 {
        let tab = stage.browser.new_tab().await?;
        stage.browser.switch_to_window(tab).await?;
        stage.browser.goto(here.as_str()).await?;
        stage.says("as last time").await?;
    }
    // What is done in the last is seen in the first.
    stage.press("Hide club speed").await?;
    stage.says("Show club speed").await?;
    let mut tabs = stage.browser.windows().await?;
    let first = tabs.remove(0);
    for tab in tabs {
        stage.browser.switch_to_window(tab).await?;
        stage.browser.close_window().await?;
    }
    stage.browser.switch_to_window(first).await?;
    stage.says("Show club speed").await?;
    stage.says("in progress").await?;
    stage.press("Show club speed").await?;
    stage.says("Hide club speed").await.map(|_| ())
}
