//! A coach reads a session: from the players' list to a verdict, a shot set aside,
//! a mistake and its recovery.

use tally_e2e::{Stage, journeys, play};
use thirtyfour::prelude::*;

journeys! {
    a_session_is_read_and_put_right: play(true),
    a_wrong_address_says_so_and_leads_back,
    the_theme_is_remembered,
    units_switch_everywhere_and_the_working_is_one_press_away,
    a_shot_set_aside_changes_the_figures_survives_a_restart_and_can_be_taken_back,
    a_strike_is_marked_by_a_number_key,
    a_value_put_right_counts_and_the_old_one_stays_in_the_record,
    another_reason_is_asked_for_in_words_and_kept_in_the_record,
    a_doubtful_shot_tells_why_and_joins_the_figures_once_it_is_kept,
    a_mark_made_while_the_server_is_away_is_kept_and_sent_once_it_is_back,
    shots_appear_by_themselves_while_a_device_sends_them,
}

async fn text(stage: &Stage, css: &str) -> WebDriverResult<String> {
    stage
        .browser
        .query(By::Css(css))
        .first()
        .await?
        .text()
        .await
}

async fn open_ilse_in_february(stage: &Stage) -> WebDriverResult<()> {
    stage
        .open_session("Ilse Marrow", "14 February 2026")
        .await?;
    stage.find("//*[@role='listbox']").await.map(|_| ())
}

async fn a_shot_set_aside_changes_the_figures_survives_a_restart_and_can_be_taken_back(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    let (kept, aside) = (
        stage.strokes("kept").await?,
        stage.strokes("set_aside").await?,
    );
    let verdict = text(stage, ".verdict").await?;
    assert!(verdict.contains("Ilse carries"), "{verdict}");
    let before = text(stage, ".detail").await?;

    // The first shot, by keyboard: X asks why, one more key answers.
    stage.strip_key(Key::Home + "").await?;
    stage.strip_key("x").await?;
    stage.says("Set shot 1 aside: why?").await?;
    stage.browser.active_element().await?.send_keys("m").await?;
    stage.says("Shot 1 is now set aside: mean carry").await?;
    assert_eq!(stage.strokes("kept").await?, kept - 1);
    assert_eq!(stage.strokes("set_aside").await?, aside + 1);
    let after = text(stage, ".detail").await?;
    assert_ne!(before, after);
    assert!(after.contains("with the three set aside"), "{after}");

    stage.restart_server().await;
    stage.browser.refresh().await?;
    stage.find("//*[@role='listbox']").await?;
    assert_eq!(text(stage, ".detail").await?, after);

    // Its record says when and why.
    stage.strip_key(Key::Home + "").await?;
    stage.strip_key(Key::Enter + "").await?;
    stage.says("Set aside: mishit").await?;
    stage.press("Take back").await?;
    stage.says("Decision taken back").await?;
    stage.press("Close").await?;
    stage.says("Shot 1 is now kept: mean carry").await?;
    assert_eq!(text(stage, ".detail").await?, before);
    Ok(())
}

async fn shots_appear_by_themselves_while_a_device_sends_them(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.open_session("Dov Ransley", "18 April 2026").await?;
    stage.find("//*[@role='listbox']").await?;
    let before = stage
        .browser
        .find_all(By::Css("[role=option]"))
        .await?
        .len();
    // Paced, so that each must be heard of by itself.
    stage.simulate(&["--shots", "3", "--pace-s", "0.8"]).await;
    stage
        .find(&format!(
            "//*[@role='option'][{}] | (//*[@role='option'])[{}]",
            before + 3,
            before + 3
        ))
        .await?;
    assert_eq!(
        stage
            .browser
            .find_all(By::Css("[role=option]"))
            .await?
            .len(),
        before + 3
    );
    Ok(())
}

async fn units_switch_everywhere_and_the_working_is_one_press_away(
    stage: &Stage,
) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    assert!(text(stage, ".verdict").await?.contains("yd"));
    let units = stage
        .find("//*[@role='combobox'][@aria-label='Units']")
        .await?;
    units.send_keys(Key::Down + Key::Down + Key::Enter).await?;
    stage
        .find("//table//th[contains(., 'Club speed, km/h')]")
        .await?;
    let verdict = text(stage, ".verdict").await?;
    assert!(verdict.contains(" m with"), "{verdict}");
    assert!(
        !text(stage, "main").await?.contains(" yd"),
        "a yard is left on the page"
    );
    stage.press("Working").await?;
    stage.says("of the furthest, ").await?;
    stage.says("Schuirmann 1987").await?;
    stage.press("Close").await?;
    stage.choose("Units", "mph · yd").await?;
    Ok(())
}

async fn a_strike_is_marked_by_a_number_key(stage: &Stage) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    stage.strip_key(Key::End + "").await?;
    stage.strip_key("9").await?;
    stage.strip_key(Key::Enter + "").await?;
    stage
        .find("//fieldset[@aria-label='Strike on the face']//button[@aria-pressed='true'][.='9']")
        .await?;
    Ok(())
}

async fn a_doubtful_shot_tells_why_and_joins_the_figures_once_it_is_kept(
    stage: &Stage,
) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    let kept = stage.strokes("kept").await?;
    assert_eq!(stage.strokes("doubtful").await?, 1);
    stage
        .click_once_still("//*[@role='option'][@data-standing='doubtful']")
        .await?;
    stage.press("open").await?;
    stage.says("is misread").await?;
    stage.press("Keep").await?;
    stage.says(", kept").await?;
    stage.press("Close").await?;
    stage.says("is now kept: mean carry").await?;
    assert_eq!(stage.strokes("doubtful").await?, 0);
    assert_eq!(stage.strokes("kept").await?, kept + 1);
    Ok(())
}

async fn another_reason_is_asked_for_in_words_and_kept_in_the_record(
    stage: &Stage,
) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    stage.strip_key(Key::Home + "").await?;
    stage.strip_key("x").await?;
    stage.press("Other, in words").await?;
    // Without words it is refused, and the question stays.
    stage
        .click_once_still("//form//button[@type='submit']")
        .await?;
    stage.says("give 1 to 500 characters").await?;
    stage
        .fill("Reason in words", "a gust from the barn door")
        .await?;
    stage
        .click_once_still("//form//button[@type='submit']")
        .await?;
    stage.says("Shot 1 is now set aside").await?;
    stage.strip_key(Key::Enter + "").await?;
    stage.says("a gust from the barn door").await?;
    stage.press("Take back").await?;
    // Its record tells of one that was taken back before: only the figures tell that this is.
    stage.says("Shot 1 is now kept").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn five_hundred_shots_fold_and_the_chosen_one_unfolds() {
    play(false, async |stage| {
        stage.begin_first_session().await?;
        let address = stage.browser.current_url().await?;
        let token = stage.add_device("Bay radar").await?;
        let hit = address.path().replace("warm-up", "hit");
        stage.go(&hit).await?;
        stage.says("Strokes appear here as shots come in").await?;
        stage
            .simulate(&["--shots", "500", "--pace-s", "0", "--token", &token])
            .await;
        stage
            .find("//*[@role='option'][contains(@aria-label, 'Shot 500')]")
            .await?;
        assert!(
            stage
                .browser
                .find_all(By::Css("[class*=strip-folded]"))
                .await?
                .len()
                >= 99
        );
        stage.strip_key(Key::End + "").await?;
        stage
            .find("//*[@role='option'][@aria-selected='true'][contains(@aria-label, 'Shot 500')]")
            .await?;
        // The bundle of the chosen shot is drawn stroke by stroke.
        stage
            .find("//*[name()='path'][contains(@class, 'stroke-wedge')]")
            .await?;
        let wide = stage
            .browser
            .execute(
                "return document.documentElement.scrollWidth <= innerWidth",
                vec![],
            )
            .await?;
        assert_eq!(wide.json(), &true, "the page scrolls sideways");
        Ok(())
    })
    .await;
}

async fn the_theme_is_remembered(stage: &Stage) -> WebDriverResult<()> {
    // The bar makes room for the school's name when it comes: no click may go beside.
    let school = "Kestrel Plateau Golf School";
    stage.go("/players").await?;
    stage.says(school).await?;
    stage.press("Barn light").await?;
    stage.find("//html[@data-theme='dark']").await?;
    stage.browser.refresh().await?;
    stage.find("//html[@data-theme='dark']").await?;
    stage.says(school).await?;
    stage.press("Day light").await?;
    stage.find("//html[@data-theme='light']").await?;
    Ok(())
}

async fn a_wrong_address_says_so_and_leads_back(stage: &Stage) -> WebDriverResult<()> {
    stage
        .go("/sessions/01890000-0000-7000-8000-000000000001/read")
        .await?;
    stage.says("this school has no such session").await?;
    stage.go("/nowhere").await?;
    stage.press("Go to the players").await?;
    stage.says("Ilse Marrow").await?;
    Ok(())
}

async fn a_mark_made_while_the_server_is_away_is_kept_and_sent_once_it_is_back(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    let aside = stage.strokes("set_aside").await?;
    stage.strip_key(Key::Home + "").await?;
    stage.strip_key("x").await?;
    stage.says("Set shot 1 aside: why?").await?;
    stage.stop_server().await;
    stage.press("Mishit").await?;
    stage.says("shot 1 set aside").await?;
    // Even when the page is loaded anew in between.
    stage.restart_server().await;
    stage.browser.refresh().await?;
    stage
        .find("//*[@role='option'][1][@data-standing='set_aside']")
        .await?;
    assert_eq!(stage.strokes("set_aside").await?, aside + 1);
    Ok(())
}

async fn a_value_put_right_counts_and_the_old_one_stays_in_the_record(
    stage: &Stage,
) -> WebDriverResult<()> {
    open_ilse_in_february(stage).await?;
    stage.strip_key(Key::Home + "").await?;
    stage.strip_key(Key::Enter + "").await?;
    stage.fill("Club speed, mph", "84.5").await?;
    stage.submit().await?;
    stage.says("Club speed entered: 84.5 mph").await?;
    stage.press("Take the entered club speed back").await?;
    stage.says("Club speed taken back").await?;
    Ok(())
}
