//! A coach runs a session: prepares it, warms up, hits, with mistakes and a lost server
//! on the way.

use serde_json::json;
use tally_e2e::{Stage, journeys, play, strokes};
use thirtyfour::prelude::*;

journeys! {
    a_session_is_prepared_and_run: play(true),
    a_house_rule_is_changed_refused_and_taken_back,
    devices_that_disagree_are_told_apart_and_doubtful_readings_decided,
    a_plan_is_edited_kept_and_taken_again,
    one_key_does_what_happens_to_a_ball,
    what_was_typed_stays_where_the_plan_of_another_purpose_does_not_come,
}

/// Waits until the strip has at least so many shots.
async fn shots(stage: &Stage, n: usize) -> WebDriverResult<()> {
    let nth = format!("//*[@role='option'][contains(@aria-label, 'Shot {n},')]");
    stage.find(&nth).await.map(|_| ())
}

async fn hit_dov_in_april(stage: &Stage) -> WebDriverResult<()> {
    stage.open_session("Dov Ransley", "18 April 2026").await?;
    shots(stage, 11).await
}

async fn great_number(stage: &Stage) -> WebDriverResult<String> {
    stage
        .find("//*[contains(@class, 'great-number')]")
        .await?
        .text()
        .await
}

#[tokio::test(flavor = "multi_thread")]
async fn from_nothing_to_the_tenth_live_shot_with_mistakes_on_the_way() {
    play(false, async |stage| {
        stage.go("/players").await?;
        stage.says("No players yet").await?;
        stage.press("Add a player").await?;
        stage.fill("Year of birth", "1066").await?;
        stage.fill("What they come for", "Clear the ditch").await?;
        stage.submit().await?;
        // Both mistakes are named, and what was typed is still there.
        stage.says("give 1 to 200 characters").await?;
        stage.says("is out of range").await?;
        stage.fill("Name", "Wren Aldous").await?;
        stage.fill("Year of birth", "1990").await?;
        stage.submit().await?;
        stage.says("Clear the ditch").await?;
        stage.press("Begin a session").await?;
        stage.fill("Place", "North bay").await?;
        stage.fill("Height above the sea", "high").await?;
        stage.press("Begin the session").await?;
        stage.says("give a number such as 12.5").await?;
        stage.fill("Height above the sea", "340").await?;
        stage.press("Begin the session").await?;
        stage.press("To the mat").await?;
        stage.press("Practice device").await?;
        shots(stage, 1).await?;
        assert!(great_number(stage).await?.contains('.'));
        shots(stage, 5).await?;
        shots(stage, 10).await?;
        stage.press("Stop practice device").await?;
        stage.press("Practice device").await.map(|_| ())
    })
    .await;
}

async fn a_plan_is_edited_kept_and_taken_again(stage: &Stage) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    stage.press("Begin a session").await?;
    stage.choose("Purpose", "Speed day").await?;
    stage
        .says("Faster than before, ball flight ignored")
        .await?;
    stage
        .find("//input[@aria-label='Label of block 4']")
        .await?;
    stage.press("Remove Full speed once more").await?;
    stage.press("Repeat Normal swings again").await?;
    stage.fill("Label of block 1", "Half swings").await?;
    stage.press("Keep as my own plan").await?;
    stage.fill("What you call it", "Gentle").await?;
    stage.submit().await?;
    stage.press("As proposed").await?;
    stage.press("Gentle").await?;
    let label = stage
        .find("//input[@aria-label='Label of block 1']")
        .await?;
    assert_eq!(label.value().await?.as_deref(), Some("Half swings"));
    stage.says("17 balls in 4 blocks").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_warm_up_is_ticked_by_the_space_bar_and_pain_holds_full_effort() {
    play(true, async |stage| {
        hit_dov_in_april(stage).await?;
        stage.press("Warm up").await?;
        stage.says("Ankle rocks, 10 each side").await?;
        stage.keys(" ").await?;
        stage.says("Heel lifts, 10 times").await?;
        stage
            .find("//button[@aria-pressed='true'][contains(., 'Ankle rocks')]")
            .await?;
        for (question, answer) in [
            ("Sleep last night", "4"),
            ("Soreness", "a little"),
            ("Hard exercise in the last two days", "no"),
            ("Does anything hurt?", "yes"),
        ] {
            stage
                .click_once_still(&format!(
                    "//fieldset[legend='{question}']//button[normalize-space(.)='{answer}']"
                ))
                .await?;
        }
        stage.press("Keep the answers").await?;
        stage.says("A doctor or a physiotherapist decides").await?;
        stage.press("To the mat").await?;
        stage.says("block 4 of 14").await?;
        stage.says("Full-effort blocks are held").await?;
        // "70 %" comes next and is gentle; then "90 %" is held.
        stage.keys("n").await?;
        stage.says("90 %: held").await?;
        stage.press("Lift the hold with a reason").await?;
        stage.fill("Why it may be lifted", "an old scar").await?;
        stage.press("Lift the hold").await?;
        stage.says("The hold was lifted: an old scar").await?;
        stage.press("To the mat").await?;
        stage.press("Next block: 90 %").await?;
        stage.says("block 6 of 14").await?;
        Ok(())
    })
    .await;
}

async fn one_key_does_what_happens_to_a_ball(stage: &Stage) -> WebDriverResult<()> {
    hit_dov_in_april(stage).await?;
    let kept = stage.strokes("kept").await?;
    stage.keys("m").await?;
    stage.find("//b[contains(@class, 'aside')]").await?;
    assert_eq!(stage.strokes("kept").await?, kept - 1);
    stage.keys("u").await?;
    stage
        .find("//*[@role='option'][@data-standing='kept'][contains(@aria-label, 'Shot 11')]")
        .await?;
    stage.keys("9").await?;
    stage
        .find("//button[@aria-label='9, high heel'][@aria-pressed='true']")
        .await?;
    stage.press("Hide club speed").await?;
    stage.press("Show club speed").await?;
    stage.press("Hide club speed").await?;
    stage.keys("p").await?;
    stage.says("shots that come in are set aside").await?;
    stage.simulate(&["--shots", "1"]).await;
    stage
        .find("//*[@role='option'][@data-standing='set_aside'][contains(@aria-label, 'Shot 12')]")
        .await?;
    stage.keys("p").await?;
    stage.keys("n").await?;
    stage.says("block 5 of 14").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_while_the_server_is_away_is_queued_and_sent_once() {
    play(true, async |stage| {
        hit_dov_in_april(stage).await?;
        stage.stop_server().await;
        stage.says("server away").await?;
        for speed in ["101.5", "99.5"] {
            stage.keys("e").await?;
            stage.says("Enter a shot").await?;
            stage.keys(speed).await?;
            stage.keys(Key::Enter + "").await?;
            stage.find("//body[not(.//*[@role='dialog'])]").await?;
        }
        stage.says("2 entries are kept here").await?;
        stage.says("club speed 101.5 mph").await?;
        stage.restart_server().await;
        shots(stage, 13).await?;
        assert_eq!(great_number(stage).await?, "99.5");
        stage.says("entered by hand").await?;
        // Nothing comes twice.
        stage.browser.refresh().await?;
        shots(stage, 13).await?;
        let all = stage.browser.find_all(By::Css("[role=option]")).await?;
        assert_eq!(all.len(), 13);
        Ok(())
    })
    .await;
}

/// What of the answers the browser keeps for a page that is loaded again, as text.
const HELD: &str = "const held = () => new Promise((told) => {
       indexedDB.open('amber-tally-answers').onsuccess = ({ target: { result: kept } }) => {
         const answered = (all) => { kept.close(); told(JSON.stringify(all)); };
         if (!kept.objectStoreNames.contains('answers')) return answered([]);
         const all = kept.transaction('answers').objectStore('answers').getAll();
         all.onsuccess = () => answered(all.result);
       };
     });";

#[tokio::test(flavor = "multi_thread")]
async fn a_page_at_the_mat_is_loaded_again_while_the_server_is_away() {
    play(true, async |stage| {
        hit_dov_in_april(stage).await?;
        let kept = format!(
            "const done = arguments[0];
             {HELD}
             const look = async () =>
               (await caches.match('/index.html')) && (await held()).includes('Ransley')
                 ? done(true) : setTimeout(look, 200);
             navigator.serviceWorker.ready.then(look);"
        );
        stage.browser.execute_async(kept, vec![]).await?;
        stage.stop_server().await;
        stage.browser.refresh().await?;
        // What was there is there, and what happens meanwhile waits.
        shots(stage, 11).await?;
        stage.says("server away").await?;
        stage.keys("m").await?;
        stage.says("One entry is kept here").await?;
        stage.restart_server().await;
        stage.find("//b[contains(@class, 'aside')]").await?;
        // Who goes out leaves nothing of it behind.
        stage.go("/account").await?;
        stage.press("Sign out").await?;
        stage.find("//form").await?;
        let left = format!(
            "const done = arguments[0];
             {HELD}
             held().then((all) => done(all.includes('Ransley')));"
        );
        let left = stage.browser.execute_async(left, vec![]).await?;
        assert!(!left.convert::<bool>()?);
        Ok(())
    })
    .await;
}

async fn what_was_typed_stays_where_the_plan_of_another_purpose_does_not_come(
    stage: &mut Stage,
) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    stage.press("Begin a session").await?;
    stage.fill("Place", "Behind the barn").await?;
    stage.stop_server().await;
    stage.choose("Purpose", "Speed day").await?;
    stage.press("Begin the session").await?;
    let again = "Ask for its plan again";
    stage.says(again).await?;
    let place = "//input[@id=//label[normalize-space(.)='Place']/@for] | //label[contains(., 'Place')]//input";
    let typed = stage.find(place).await?;
    assert_eq!(
        typed.prop("value").await?.as_deref(),
        Some("Behind the barn")
    );
    stage.restart_server().await;
    stage.press(again).await?;
    stage.says("flight ignored").await?;
    // It was not begun meanwhile, and is by whoever presses now.
    stage.press("Begin the session").await?;
    stage.says("Behind the barn").await?;
    stage.says("To the mat").await.map(|_| ())
}

#[tokio::test(flavor = "multi_thread")]
async fn two_browsers_on_one_session_agree() {
    play(true, async |stage| {
        hit_dov_in_april(stage).await?;
        let second = stage.second_browser().await?;
        second
            .query(By::Css("[role=option][aria-label^='Shot 11']"))
            .first()
            .await?;
        let aside = strokes(&second, "set_aside").await?;
        stage.keys("m").await?;
        stage.find("//b[contains(@class, 'aside')]").await?;
        second.query(By::Css("b[class*=aside]")).first().await?;
        assert_eq!(strokes(&second, "set_aside").await?, aside + 1);
        second.quit().await
    })
    .await;
}

async fn a_house_rule_is_changed_refused_and_taken_back(stage: &Stage) -> WebDriverResult<()> {
    stage.go("/house-rules").await?;
    stage.fill("Level of every interval", "120").await?;
    stage.keys(Key::Enter + "").await?;
    stage.says("give a number from 50 to 99 pct").await?;
    stage.fill("Level of every interval", "95").await?;
    stage.keys(Key::Enter + "").await?;
    stage.says("1 rule is your own").await?;
    stage.says("Level of every interval: 95 %").await?;
    stage.press("Ours again").await?;
    stage.says("All as we set them").await?;
    stage.fill("Movement 1", "Skipping").await?;
    stage.press("Save the list").await?;
    stage.press("Our list again").await?;
    stage
        .find("//input[@aria-label='Movement 1'][@value='Ankle rocks']")
        .await?;
    Ok(())
}

async fn devices_that_disagree_are_told_apart_and_doubtful_readings_decided(
    stage: &Stage,
) -> WebDriverResult<()> {
    stage.go("/school/agreement").await?;
    stage
        .says("Deck radar shows 1.7 mph more than Barn camera")
        .await?;
    // One day's set-up is no offset: none is offered.
    stage.says("All are of one session").await?;
    let offered = stage
        .browser
        .find_all(By::XPath("//button[contains(., 'Adopt as offset')]"))
        .await?;
    assert!(offered.is_empty(), "an offset is offered from one session");
    stage.press("Doubtful").await?;
    let before = stage
        .find("//h1[contains(., 'doubtful')]")
        .await?
        .text()
        .await?;
    stage.press("Keep").await?;
    let told = format!("//h1[contains(., 'oubtful')][not(contains(., '{before}'))]");
    stage.find(&told).await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_is_looked_at_put_right_brought_in_and_taken_out_again() {
    play(true, async |stage| {
        let file = std::env::temp_dir().join(format!("tally-{}.csv", uuid::Uuid::now_v7()));
        let table =
            "date;speed of club (mph);carry (yd)\n18.04.2026;92,4;231\n18.04.2026;fast;231\n";
        std::fs::write(&file, table).expect("a table can be written");
        stage.go("/school/files").await?;
        let field = stage
            .find("//input[@type='file'][contains(@accept, 'csv')]")
            .await?;
        field.send_keys(file.display().to_string()).await?;
        stage.says("As they will be stored").await?;
        stage
            .says("“fast” is not a number; write a number such as 92.4")
            .await?;
        stage.press("Bring in").await?;
        stage.says("Choose whose shots these are").await?;
        stage.choose("Whose shots", "Bram Lindqvale").await?;
        stage.press("Bring in").await?;
        stage.says("Choose the club; the file names none").await?;
        stage.choose("Club", "Driver").await?;
        stage.press("Bring in").await?;
        stage.says("1 shot is in").await?;
        stage.says("Download the bad rows").await?;
        stage.press("Undo").await?;
        stage.press("Take them out").await?;
        stage.says("taken out again").await?;
        std::fs::remove_file(&file).expect("the table is there");
        Ok(())
    })
    .await;
}

/// Sends a shot to the open session as a device of the demo would; answers once it is stored.
async fn a_shot_comes(stage: &Stage, run: &str) -> WebDriverResult<()> {
    let sent = tokio::process::Command::new(tally_e2e::program())
        .args([
            "simulate",
            "--shots",
            "1",
            "--pace-s",
            "0",
            "--server",
            &stage.intake,
        ])
        .args(["--seed", run])
        .status()
        .await;
    assert!(sent.is_ok_and(|sent| sent.success()));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn an_act_belongs_to_the_shot_it_was_opened_for_whatever_comes_in_meanwhile() {
    play(true, async |stage| {
        hit_dov_in_april(stage).await?;
        stage.press("Hit").await?;
        stage.says("Shot 11").await?;
        // A reason is asked for the eleventh; the twelfth comes; the answer is the eleventh's.
        stage.keys("x").await?;
        stage.says("Set shot 11 aside: why?").await?;
        a_shot_comes(stage, "1").await?;
        shots(stage, 12).await?;
        stage.says("Set shot 11 aside: why?").await?;
        stage.keys("m").await?;
        stage.says("Shot 11 set aside. U undoes it.").await?;
        stage
            .find("//*[@role='option'][contains(@aria-label, 'Shot 11, set aside')]")
            .await?;
        stage
            .find("//*[@role='option'][contains(@aria-label, 'Shot 12, kept')]")
            .await?;
        // It is undone by number too, though another one stands on the screen.
        stage.keys("u").await?;
        stage
            .find("//*[@role='option'][contains(@aria-label, 'Shot 11, kept')]")
            .await?;
        // So is a value that is being typed.
        stage.keys("c").await?;
        stage.says("Correct shot 12").await?;
        a_shot_comes(stage, "2").await?;
        shots(stage, 13).await?;
        stage.says("Correct shot 12").await?;
        stage.keys("99").await?;
        stage.press("Save").await?;
        stage
            .find("//*[@role='option'][contains(@aria-label, 'Shot 12,')][contains(@aria-label, '99.0 mph')]")
            .await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_begun_too_early_is_taken_back_and_a_ball_goes_where_it_belongs() {
    play(true, async |stage| {
        hit_dov_in_april(stage).await?;
        stage.press("Hit").await?;
        stage.says("Shot 11").await?;
        stage.keys("n").await?;
        stage.says("is on. U undoes it.").await?;
        stage.keys("u").await?;
        stage
            .says("block 1 of")
            .await
            .or(stage.says("of 3").await)?;
        stage.keys("b").await?;
        stage.says("Give shot 11 to which block?").await?;
        stage.keys("1").await?;
        stage.says("Shot 11 given to").await?;
        Ok(())
    })
    .await;
}

/// Lets every answer come so many milliseconds late.
async fn slow(stage: &Stage, latency: u32) -> WebDriverResult<()> {
    let tools = stage.browser.cdp();
    tools.send_raw("Network.enable", json!({})).await?;
    let network = json!({
        "offline": false, "latency": latency, "downloadThroughput": -1, "uploadThroughput": -1,
    });
    tools
        .send_raw("Network.emulateNetworkConditions", network)
        .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn all_out_swings_are_asked_a_warm_up_and_told_to_stop_and_go_on_with_a_reason() {
    play(true, async |stage| {
        stage.go("/players").await?;
        stage.press("Bram Lindqvale").await?;
        stage.press("Begin a session").await?;
        stage.says("Begin the session").await?;
        // Begun before a slow network has told the day's plan, it is that plan all the same.
        slow(stage, 700).await?;
        stage.choose("Purpose", "Speed day").await?;
        stage.says("flight ignored").await?;
        stage.press("Begin the session").await?;
        stage.says("End session").await?;
        slow(stage, 0).await?;
        stage.press("Hit").await?;
        stage.says("No warm-up is noted").await?;
        stage.press("They are warm: note it").await?;
        stage
            .find("//body[not(contains(., 'No warm-up is noted'))]")
            .await?;
        let hit = stage.browser.current_url().await?;
        // The coach has the school swing less than was planned.
        stage.go("/house-rules").await?;
        let rule = "Full-effort swings that a session proposes, at most";
        stage.fill(rule, "5").await?;
        stage.keys(Key::Enter + "").await?;
        stage.says("1 rule is your own").await?;
        stage.go(hit.path()).await?;
        stage.says("Strokes appear here").await?;
        stage.keys("n").await?;
        stage.says("All-out swings only when warm").await?;
        for speed in ["128", "129", "127", "128", "128.5"] {
            stage.keys("e").await?;
            stage.says("Enter a shot").await?;
            stage.keys(speed).await?;
            stage.keys(Key::Enter + "").await?;
            stage.find("//body[not(.//*[@role='dialog'])]").await?;
        }
        stage.says("Stop all-out swings here").await?;
        stage.press("Go on, with a reason").await?;
        stage
            .fill("Why all-out swings go on", "Last day of the block")
            .await?;
        stage.press("Go on").await?;
        stage
            .find("//body[not(contains(., 'Stop all-out swings here'))]")
            .await
            .map(|_| ())
    })
    .await;
}
