//! Club lengths of children, as a coach measures them.

use tally_e2e::play;
use thirtyfour::prelude::*;

#[tokio::test(flavor = "multi_thread")]
async fn a_group_is_read_two_children_stand_side_by_side_and_a_wrong_measure_is_kept() {
    play(true, async |stage| {
        stage.go("/bench/club-length").await?;
        // A group is found by its name.
        stage
            .find("//input[@aria-label='Groups']")
            .await?
            .send_keys("Satur")
            .await?;
        stage.keys(Key::Enter).await?;
        stage.find("//button[.='Change group']").await?;
        stage.says("no peak of club speed can be told").await?;
        stage.says("Shorter is the safe side").await?;
        for name in ["Runa Stolz", "Jasper Kolm"] {
            let child = format!("//tr[contains(., '{name}')]//input[@type='checkbox']");
            stage.click_once_still(&child).await?;
        }
        stage.find("//dl[dt='Runa Stolz']").await?;
        stage.find("//dl[dt='Jasper Kolm']").await?;

        // A slip of the hand is refused by name, and stays as it was typed.
        stage.fill("Driver of Runa Stolz", "150 cm").await?;
        stage.keys(Key::Enter).await?;
        stage.says("give a number from 40 to 140 cm").await?;
        stage.fill("Driver of Runa Stolz", "90 cm").await?;
        stage.keys(Key::Enter).await?;
        stage
            .find("//dl[dt='Runa Stolz'][contains(., '35.4 in')]")
            .await?;
        Ok(())
    })
    .await;
}
