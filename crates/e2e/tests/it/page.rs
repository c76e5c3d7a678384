//! A player takes a page home: the coach chooses and rewords, the player opens a link.

use tally_e2e::play;
use thirtyfour::prelude::*;

#[tokio::test(flavor = "multi_thread")]
async fn a_page_is_written_reworded_and_opened_by_the_player() {
    play(true, async |stage| {
        stage.open_session("Petra Quill", "4 April 2026").await?;
        stage.press("Page").await?;
        let words = "//textarea[contains(., 'ten balls land within')]";
        let told = stage.find(words).await?;
        told.send_keys(" Keep it.").await?;
        // A line that was begun and left empty is named; what was typed stays.
        let lines = "//fieldset[contains(., 'What it means')]//button[.='Write a line']";
        stage.click_once_still(lines).await?;
        stage.press("Write the page").await?;
        stage
            .says("write a sentence, or leave the line out")
            .await?;
        let own = "//textarea[@aria-label='Your own line, what it means']";
        stage
            .find(own)
            .await?
            .send_keys("A club less into the wind.")
            .await?;
        // A reload in between loses nothing of it.
        stage.browser.refresh().await?;
        stage.find("//textarea[contains(., 'Keep it.')]").await?;
        stage.press("Write the page").await?;
        let sheet = |text: &str| format!("//article//li[contains(., '{text}')]");
        stage.find(&sheet("Keep it.")).await?;
        stage.find(&sheet("A club less into the wind.")).await?;

        // What is taken off stays off when the page is opened again.
        let until = "//fieldset[contains(., 'Until next time')]//input[@type='checkbox']";
        stage.click_once_still(until).await?;
        stage.says("Changed since it was written").await?;
        stage.press("Write it anew").await?;
        stage
            .find("//article[not(.//h2[.='Until next time'])]")
            .await?;
        stage.browser.refresh().await?;
        assert!(!stage.find(until).await?.is_selected().await?);
        stage.find(&sheet("Keep it.")).await?;

        stage.press("Make a link").await?;
        stage.press("Make the link").await?;
        let address = stage
            .find("//div[@role='dialog']//code")
            .await?
            .text()
            .await?;
        let player = stage.second_browser().await?;
        player.delete_all_cookies().await?;
        player.goto(&address).await?;
        for text in ["Keep it.", "A club less into the wind."] {
            player.query(By::XPath(sheet(text))).first().await?;
        }
        player
            .query(By::XPath("//button[.='The shots as a table']"))
            .first()
            .await?;
        let bar = player
            .query(By::XPath("//nav"))
            .nowait()
            .all_from_selector()
            .await?;
        assert!(bar.is_empty(), "the player sees no way into the school");
        player.quit().await
    })
    .await;
}
