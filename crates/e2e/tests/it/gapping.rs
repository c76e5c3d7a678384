//! A coach looks at a player's bag, in another air and against an earlier day, and takes a card.

use tally_e2e::play;

#[tokio::test(flavor = "multi_thread")]
async fn a_bag_is_read_in_another_air_held_against_an_earlier_day_and_taken_as_a_card() {
    play(true, async |stage| {
        stage.go("/players").await?;
        stage.press("Dov Ransley").await?;
        stage.press("Bag").await?;
        stage.says("No club is for").await?;
        stage.says("Then and now").await?;
        stage.says("One day each").await?;
        // A day that lies after the other is refused by its name, and what was chosen stays.
        stage.fill("Then, last day", "01/05/2026").await?;
        stage.says("overlaps the other time").await?;
        stage.says("No club is for").await?;
        // Thin air is typed: the number goes up, and the card keeps its own airs.
        stage.press("Change conditions").await?;
        stage.fill("Height above the sea", "6000").await?;
        stage.says("6,000 ft").await?;
        stage.says("by the flight model").await?;
        stage.press("Yardage card").await?;
        stage.says("Dov Ransley · carry, yd").await?;
        stage.press("Another air").await?;
        stage.says("10 °C").await?;
        stage.says("80 % effort").await?;
        stage.browser.refresh().await?;
        stage.says("10 °C").await.map(|_| ())
    })
    .await;
}
