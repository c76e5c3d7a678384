//! The bench as a coach uses it.

use tally_e2e::{Stage, journeys};
use thirtyfour::error::WebDriverResult;

journeys! {
    the_bench_is_used_as_a_coach_uses_it: play(true),
    a_session_shows_its_map_and_what_is_unclaimed,
    two_shots_stand_side_by_side_and_the_address_brings_them_back,
    a_number_out_of_range_is_kept_and_marked_and_the_last_good_one_stands,
    a_head_wind_takes_carry_away,
    four_shots_stand_side_by_side_and_one_can_be_taken_away,
    described_by_delivery_the_strike_on_the_face_changes_the_flight,
    the_bench_speaks_the_coach_s_units_and_the_link_means_the_same_shot,
    reach_tells_what_a_player_needs_first_and_what_cannot_be_reached,
    another_club_is_weighed_with_a_player_s_own_swing_and_a_slip_of_the_hand_is_kept,
    a_shot_is_saved_as_the_window_that_a_player_s_map_shows,
}

/// The carry in the table's row for shot A.
const CARRY_A: &str = "//table[contains(@class, 'bench-figures')]//tr[th='Carry']/td[1]";

/// Waits until the address holds this.
async fn address_says(stage: &Stage, part: &str) -> WebDriverResult<()> {
    while !stage.browser.current_url().await?.as_str().contains(part) {
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    Ok(())
}

async fn two_shots_stand_side_by_side_and_the_address_brings_them_back(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/bench").await?;
    stage.says("It carries").await?;
    // Its heading tells what was found; a tab tells where one is.
    let title = stage.browser.title().await?;
    assert_eq!(title, "Bench, flight · Amber Tally");
    stage.press("beside").await?;
    stage.says("A and B carry the same").await?;
    stage.fill("Ball speed", "150").await?;
    stage.says("B carries furthest").await?;
    // The address follows once the hand rests.
    address_says(stage, "67.05").await?;
    let sentence = stage.says("B carries furthest").await?.text().await?;
    let link = stage.browser.current_url().await?;
    stage.go("/players").await?;
    stage.says("Ilse Marrow").await?;
    stage.browser.goto(link.as_str()).await?;
    assert_eq!(
        stage.says("B carries furthest").await?.text().await?,
        sentence
    );
    Ok(())
}

async fn a_number_out_of_range_is_kept_and_marked_and_the_last_good_one_stands(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/bench/flight").await?;
    stage.says("It carries").await?;
    let before = stage.find(CARRY_A).await?.text().await?;
    stage.fill("Launch angle", "steep").await?;
    stage
        .says("“steep” is not used: give a number from −10.0 to 75.0")
        .await?;
    assert_eq!(stage.find(CARRY_A).await?.text().await?, before);
    stage.fill("Launch angle", "950").await?;
    stage.says("“950” is not used").await?;
    stage.fill("Launch angle", "20").await?;
    stage.find(&format!("{CARRY_A}[not(.='{before}')]")).await?;
    Ok(())
}

async fn a_head_wind_takes_carry_away(stage: &Stage) -> WebDriverResult<()> {
    stage.go("/bench/flight").await?;
    stage.says("It carries").await?;
    let calm = stage.find(CARRY_A).await?.text().await?;
    stage.press("Change conditions").await?;
    stage.fill("Wind", "20").await?;
    stage.says("wind 20.0 mph against").await?;
    let windy = stage.find(&format!("{CARRY_A}[not(.='{calm}')]")).await?;
    let yards = |text: String| {
        text.split(' ')
            .next()
            .map(str::to_owned)
            .unwrap_or_default()
    };
    let (calm, windy) = (yards(calm), yards(windy.text().await?));
    assert!(windy.parse::<f64>().unwrap() < calm.parse::<f64>().unwrap() - 10.0);
    Ok(())
}

async fn a_shot_is_saved_as_the_window_that_a_player_s_map_shows(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage
        .go("/bench/flight?shot=launch~wood5_55_12_4200_0_0")
        .await?;
    stage.press("Save as a player’s target").await?;
    stage.choose("Player", "Ilse Marrow").await?;
    stage
        .click_once_still("//*[@role='dialog']//button[normalize-space(.)='Save']")
        .await?;
    stage
        .says("Saved for Ilse Marrow: launch 10.0 to 14.0°")
        .await?;
    stage.open_session("Ilse Marrow", "21 March 2026").await?;
    stage.says("the player’s own window").await?;
    Ok(())
}

async fn reach_tells_what_a_player_needs_first_and_what_cannot_be_reached(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage
        .go("/bench/reach?club=wood5&target=173.736&alt=1140&temp=14")
        .await?;
    stage.says("190 yd of carry needs").await?;
    stage.choose("Player", "Ilse Marrow").await?;
    stage.says("Last session").await?;
    stage.press("Working").await?;
    stage.says("Efficiency = distance / the furthest").await?;
    stage.press("Close").await?;
    stage.fill("Distance", "500").await?;
    stage.says("no delivery reaches 500 yd").await?;
    stage.fill("Distance", "180").await?;
    stage.says("180 yd of carry").await?;
    stage.press("Bench").await?;
    stage.says("It carries").await?;
    Ok(())
}

async fn four_shots_stand_side_by_side_and_one_can_be_taken_away(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/bench/flight").await?;
    stage.says("It carries").await?;
    for _ in 0..3 {
        stage.press("beside").await?;
    }
    stage.find("//th[.='D']").await?;
    stage
        .find("//*[contains(@class, 'letter-row')][not(contains(., 'beside'))]")
        .await?;
    stage.press("Take D away").await?;
    stage
        .find("//table[contains(@class, 'bench-figures')][not(.//th[.='D'])]")
        .await?;
    stage.says("beside").await?;
    Ok(())
}

async fn described_by_delivery_the_strike_on_the_face_changes_the_flight(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/bench/flight").await?;
    stage.says("It carries").await?;
    stage
        .click_once_still("//label[normalize-space(.)='Delivery']")
        .await?;
    stage.says("Dynamic loft").await?;
    let centred = stage.find(CARRY_A).await?.text().await?;
    stage.fill("Impact toe", "25").await?;
    stage
        .find(&format!("{CARRY_A}[not(.='{centred}')]"))
        .await?;
    // A face that would meet the ball from above is refused, the rest stays.
    stage.fill("Dynamic loft", "5").await?;
    stage.fill("Angle of attack", "8").await?;
    stage.says("lies below the angle of attack").await?;
    stage.fill("Dynamic loft", "14").await?;
    stage.says("It carries").await?;
    Ok(())
}

async fn the_bench_speaks_the_coach_s_units_and_the_link_means_the_same_shot(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage
        .go("/bench/flight?shot=launch~driver_60_12_2600_0_0")
        .await?;
    stage.says("It carries").await?;
    assert!(stage.find(CARRY_A).await?.text().await?.ends_with(" yd"));
    stage.choose("Units", "m/s · m").await?;
    stage.find(&format!("{CARRY_A}[contains(., ' m')]")).await?;
    let field = stage
        .find("//input[@id=//label[normalize-space(.)='Ball speed']/@for]")
        .await?;
    assert_eq!(field.value().await?.as_deref(), Some("60.0"));
    stage.choose("Units", "mph · yd").await?;
    stage
        .find(&format!("{CARRY_A}[contains(., ' yd')]"))
        .await?;
    Ok(())
}

async fn a_session_shows_its_map_and_what_is_unclaimed(stage: &Stage) -> WebDriverResult<()> {
    stage
        .open_session("Ilse Marrow", "14 February 2026")
        .await?;
    stage.says("balls are inside the window").await?;
    stage.says("of carry are left unclaimed").await?;
    stage
        .click_once_still("//*[contains(@class, 'launch-spin')]//button[.='Table']")
        .await?;
    stage
        .find("//*[contains(@class, 'launch-spin')]//td[.='set aside']")
        .await?;
    stage
        .find("//section[contains(@class, 'unclaimed')]//th[.='Ball speed']")
        .await?;
    Ok(())
}

async fn another_club_is_weighed_with_a_player_s_own_swing_and_a_slip_of_the_hand_is_kept(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/bench/club").await?;
    stage.says("change something of the other").await?;
    stage.choose("Player", "Bram Lindqvale").await?;
    stage.says("of loft at impact").await?;
    // The first field called so is the other club's.
    stage.fill("Length", "far too long").await?;
    stage.says("“far too long” is not used").await?;
    stage.says("change something of the other").await?;
    stage.fill("Length", "48.5").await?;
    stage.says(" longer: ").await?;
    stage.says("Longer than the 48 in").await?;
    stage.says("hit both, in turns").await?;
    address_says(stage, "other_length=1.2319").await?;
    stage.press("Prepare that comparison").await?;
    stage.says("Comparison").await?;
    stage.browser.back().await?;
    // The address brought it all back.
    stage.says(" longer: ").await?;
    Ok(())
}
