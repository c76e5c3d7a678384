//! A coach trains a player: a programme laid and moved, sets called out at the mat, a slip, a
//! lost server, and what it gave.

use tally_e2e::{Stage, journeys, play};
use thirtyfour::prelude::*;

journeys! {
    a_player_is_trained: play(true),
    a_programme_that_cannot_fit_is_refused_with_nothing_lost_then_laid_moved_and_shared,
    a_set_is_nine_digits_and_three_enters_with_a_slip_and_a_lost_server_between,
}

/// Opens a player's programme from the players.
async fn programme_of(stage: &Stage, player: &str) -> WebDriverResult<()> {
    stage.press(player).await?;
    let tab = "//nav[@aria-label='Player']//a[. = 'Programme']";
    stage.click_once_still(tab).await
}

/// Begins a session of overspeed for Bram, and waits for its first set.
async fn overspeed(stage: &Stage) -> WebDriverResult<()> {
    stage.go("/players").await?;
    programme_of(stage, "Bram Lindqvale").await?;
    stage.says("Spring speed").await?;
    stage.press("Begin Overspeed").await?;
    heading(stage, "light, own side").await
}

/// Waits until the set that is on reads so.
async fn heading(stage: &Stage, what: &str) -> WebDriverResult<()> {
    let path = format!("//h1[contains(normalize-space(.), '{what}')]");
    stage.find(&path).await.map(|_| ())
}

/// Calls readings out on the keyboard: digits and Enter, nothing else.
async fn call(stage: &Stage, readings: &[&str]) -> WebDriverResult<()> {
    for reading in readings {
        stage.keys(format!("{reading}{}", Key::Enter + "")).await?;
        stage.says(&format!("{reading} kept")).await?;
    }
    Ok(())
}

async fn a_set_is_nine_digits_and_three_enters_with_a_slip_and_a_lost_server_between(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    overspeed(stage).await?;
    stage.says("No warm-up is noted").await?;
    stage.press("They are warm: note it").await?;
    call(stage, &["141", "143"]).await?;
    stage.keys(format!("1115{}", Key::Enter + "")).await?;
    stage.says("1115 mph is no swing").await?;
    // The next digits begin anew.
    call(stage, &["145"]).await?;
    heading(stage, "light, other side").await?;
    stage.says("rest").await?;
    stage.stop_server().await;
    call(stage, &["121", "122", "123"]).await?;
    stage.says("The server is away").await?;
    // The next set comes all the same.
    heading(stage, "medium, own side").await?;
    stage.restart_server().await;
    stage.browser.refresh().await?;
    heading(stage, "medium, own side").await?;
    stage
        .find("//ol[@aria-label='Sets']/li[2][contains(., '3 of 3')]")
        .await?;
    call(stage, &["131"]).await?;
    stage.keys("u").await?;
    stage.says("The last swing is taken back").await?;
    stage
        .find("//ol[@aria-label='Sets']/li[3][contains(., '0 of 3')]")
        .await?;
    stage.keys("s").await?;
    stage.says("Leave this set out: why?").await?;
    stage.keys("t").await?;
    heading(stage, "medium, other side").await?;
    stage.keys(Key::Escape + "").await?;
    stage.says("No more all-out swings").await?;
    stage.keys("e").await?;
    stage
        .says("with the light implement: no club speed")
        .await?;
    stage.says("it does not count as whole").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_hand_radar_goes_through_a_whole_protocol_and_two_tabs_show_the_same() {
    play(true, async |stage| {
        overspeed(stage).await?;
        let address = stage.browser.current_url().await?;
        let session = address
            .path()
            .split('/')
            .nth(2)
            .unwrap_or_default()
            .to_owned();
        let other = stage.second_browser().await?;
        stage.sign_in_as(&other, "tova").await?;
        other.goto(address.as_str()).await?;
        let radar = [
            "--monitor",
            "hand-radar",
            "--golfer",
            "bram",
            "--pace-s",
            "0",
        ];
        let whole = ["--protocol", "overspeed", "--session", &session];
        stage.simulate(&[&radar[..], &whole[..]].concat()).await;
        stage.says("All sets are made").await?;
        stage.press("End session").await?;
        stage.says("over the 5 kinds of set that both had").await?;
        let ended = other.query(By::XPath("//button[contains(., 'Resume')]"));
        ended.first().await?;
        other.quit().await?;
        // It stands in the record as an implement's, beside no club's.
        stage.press("The programme").await?;
        stage.says("15 of 15 swings").await?;
        Ok(())
    })
    .await;
}

async fn a_programme_that_cannot_fit_is_refused_with_nothing_lost_then_laid_moved_and_shared(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    programme_of(stage, "Ilse Marrow").await?;
    stage.press("Lay one").await?;
    stage.fill("Name", "Tarn by summer").await?;
    stage.fill("Rest days between, at least", "2").await?;
    stage.press("Lay it on these days").await?;
    stage.says("need 9 days").await?;
    stage.fill("Rest days between, at least", "1").await?;
    stage.press("Lay it on these days").await?;
    stage.says("Tarn by summer").await?;
    stage
        .find("//ol[@aria-label='Weeks']/li[8]//button")
        .await?;
    // Ill: what falls into it is away.
    stage.press("Ill, away, or end it").await?;
    stage.press("No training then").await?;
    stage
        .find("//ol[@aria-label='Weeks']//button[contains(., 'away')]")
        .await?;
    stage.press("Ill, away, or end it").await?;
    stage.press("The player is back today").await?;
    stage.press("Make a private calendar address").await?;
    stage.says("/api/v1/calendars/calendar-").await?;
    stage.keys(Key::Escape + "").await?;
    stage.press("Revoke the address").await?;
    stage.says("Make a private calendar address").await?;
    Ok(())
}
