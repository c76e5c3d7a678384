//! Every main view can be used by everyone: no violation that axe-core finds, in either
//! theme.

use serde_json::json;
use tally_e2e::{Stage, play};
use thirtyfour::prelude::*;

const AXE: &str = concat!(
    env!("CARGO_MANIFEST_DIR"),
    "/../../web/node_modules/axe-core/axe.min.js"
);

/// The address of a main view, and words that tell that it is there.
const VIEWS: [(&str, &str); 14] = [
    ("/account", "signs in as tova"),
    ("/school/people", "Maren Tolle"),
    ("/players", "Ilse Marrow"),
    ("/house-rules", "Level of every interval"),
    ("/school/devices", "Barn camera"),
    ("/school/agreement", "Deck radar shows"),
    ("/school/doubtful", "Until you decide"),
    ("/school/files", "Bring shots in"),
    (
        "/bench/flight?shot=launch~driver_62_9.5_3400_0_4&shot=launch~driver_62_14.5_2400_0_0",
        "What delivery gives launch A",
    ),
    ("/today", "Decisions to look at again"),
    ("/bench/reach", "What the angle of attack is worth"),
    (
        "/bench/club?other_length=1.17475&other_loft=12",
        "This swing carries furthest with",
    ),
    ("/bench/club-length", "Not in the picture"),
    ("/nowhere", "There is nothing at this address"),
];

/// What axe-core finds on the page: rule, how grave, and the first elements at fault.
async fn violations(stage: &Stage) -> WebDriverResult<Vec<String>> {
    found_by(stage, "document, { resultTypes: ['violations'] }").await
}

/// What it finds of the colours, which are all that another theme changes.
async fn of_colours(stage: &Stage) -> WebDriverResult<Vec<String>> {
    let rules = "runOnly: ['color-contrast', 'link-in-text-block']";
    found_by(
        stage,
        &format!("document, {{ {rules}, resultTypes: ['violations'] }}"),
    )
    .await
}

/// What it finds in the dialog that is open; what lies behind it is nobody's to read.
async fn in_the_dialog(stage: &Stage) -> WebDriverResult<Vec<String>> {
    let there = "{ include: [['[role=dialog]']] }, { resultTypes: ['violations'] }";
    found_by(stage, there).await
}

async fn found_by(stage: &Stage, how: &str) -> WebDriverResult<Vec<String>> {
    let there = stage.browser.execute("return !!window.axe", vec![]).await?;
    if !there.convert::<bool>()? {
        let axe = std::fs::read_to_string(AXE).expect("bin/test installs the web's packages");
        stage.browser.execute(axe, vec![]).await?;
    }
    let found = stage
        .browser
        .execute_async(
            format!(
                "const done = arguments[0];
                 axe.run({how}).then(({{ violations }}) => done(violations.map((v) =>
                   `${{v.id}} (${{v.impact}}): ${{v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(' | ')}}`)));"
            ),
            vec![],
        )
        .await?;
    found.convert()
}

/// Dialogs: where the way to them begins, what is pressed (a key where it begins with "key ", an
/// element where it is an XPath), and words in them.
const DIALOGS: [(&str, &[&str], &str); 24] = [
    ("/players", &["Add a player"], "Year of birth"),
    ("/players", &["Dov Ransley", "Put right"], "facts right"),
    (
        "/players",
        &["Dov Ransley", "Bag", "Add a club"],
        "A club for the bag",
    ),
    (
        "/players",
        &["Ayla Tarrant", "About", "Make a link"],
        "Days that it opens",
    ),
    (
        "/players",
        &["Ayla Tarrant", "About", "Erase Ayla Tarrant"],
        "to erase",
    ),
    (
        "/players",
        &["Dov Ransley", "Begin a session", "Keep as my own plan"],
        "What you call it",
    ),
    ("/school/devices", &["Add a device"], "Add a device"),
    ("/school/people", &["Add a person"], "Add a person"),
    ("/programmes", &["Write a protocol"], "Add a level"),
    ("/programmes", &["Add an implement"], "An implement"),
    (
        "/players",
        &["Ilse Marrow", PROGRAMME, "Lay one"],
        "Rest days between",
    ),
    (
        "/players",
        &["Bram Lindqvale", PROGRAMME, "Ill, away, or end it"],
        "A change of plan",
    ),
    (
        "/players",
        &["Ilse Marrow", "Sessions", "14 February 2026", "Put right"],
        "Put this session right",
    ),
    (
        "/players",
        &["Ilse Marrow", "Sessions", "14 February 2026", "Note"],
        "A note for later",
    ),
    (
        "/players",
        &[
            "Ilse Marrow",
            "Sessions",
            "14 February 2026",
            "//*[@role='option'][@data-standing='doubtful']",
            "open",
        ],
        "is misread",
    ),
    (
        "/players",
        &["Ilse Marrow", "Sessions", "14 February 2026", "Working"],
        "What it came to",
    ),
    (
        "/players",
        &["Dov Ransley", "Sessions", "18 April 2026", "Board…"],
        "A board at the mat",
    ),
    (
        "/players",
        &["Dov Ransley", "Sessions", "18 April 2026", STRIP, "key e"],
        "Enter a shot",
    ),
    (
        "/players",
        &["Dov Ransley", "Sessions", "18 April 2026", STRIP, "key x"],
        "aside: why?",
    ),
    (
        "/players",
        &["Dov Ransley", "Sessions", "18 April 2026", STRIP, "key b"],
        "to which block?",
    ),
    ("/account", &["Make a token"], "A token for a script"),
    ("/players", &["//h1", "key /"], "Find anything"),
    ("/players", &["//h1", "key ?"], "Keys and words"),
    // It begins a session.
    (
        "/players",
        &[
            "Bram Lindqvale",
            PROGRAMME,
            "Begin Overspeed",
            "//ol[@aria-label='Sets']",
            "key s",
        ],
        "Leave this set out: why?",
    ),
];

const PROGRAMME: &str = "//nav[@aria-label='Player']//a[. = 'Programme']";
const STRIP: &str = "//*[@role='listbox']";

async fn width(stage: &Stage, wide: i64, high: i64) -> WebDriverResult<()> {
    let metrics = json!({"width": wide, "height": high, "deviceScaleFactor": 1, "mobile": false});
    let tools = stage.browser.cdp();
    tools
        .send_raw("Emulation.setDeviceMetricsOverride", metrics)
        .await?;
    Ok(())
}

/// Where a page is wider than a small phone, which is also a laptop's at four times the size.
async fn too_wide(stage: &Stage) -> WebDriverResult<Option<i64>> {
    const SMALL: i64 = 320;
    let tools = stage.browser.cdp();
    width(stage, SMALL, 700).await?;
    // Charts take their width a moment after.
    let wide = stage
        .browser
        .execute_async(
            "const done = arguments[0];
             const wide = () => document.documentElement.scrollWidth;
             let tries = 20;
             const look = () => wide() <= 320 || --tries === 0 ? done(wide()) : setTimeout(look, 50);
             setTimeout(look, 50);",
            vec![],
        )
        .await?;
    tools
        .send_raw("Emulation.clearDeviceMetricsOverride", json!({}))
        .await?;
    let wide: i64 = wide.convert()?;
    Ok((wide > SMALL).then_some(wide))
}

async fn theme(stage: &Stage) -> WebDriverResult<String> {
    let theme = "return document.documentElement.dataset.theme";
    stage.browser.execute(theme, vec![]).await?.convert()
}

/// What is found on the page in the light and in the dark theme, and on a small phone.
async fn in_both_themes(stage: &Stage, view: &str) -> WebDriverResult<Vec<String>> {
    let mut found = vec![];
    if let Some(wide) = too_wide(stage).await? {
        found.push(format!("{view} is {wide} px wide on a phone of 320"));
    }
    // Each begins in the theme that the one before ended in: to switch draws all anew.
    let (here, press, there) = if theme(stage).await? == "light" {
        ("light", "Barn light", "dark")
    } else {
        ("dark", "Day light", "light")
    };
    let in_this = violations(stage).await?;
    found.extend(in_this.into_iter().map(|v| format!("{view}, {here}: {v}")));
    stage.press(press).await?;
    // Half way from one theme to the other, colours are of neither.
    stage.settled().await?;
    let in_other = of_colours(stage).await?;
    found.extend(
        in_other
            .into_iter()
            .map(|v| format!("{view}, {there}: {v}")),
    );
    Ok(found)
}

#[tokio::test(flavor = "multi_thread")]
async fn every_main_view_is_accessible_in_both_themes_and_fits_a_small_phone() {
    play(true, async |stage| {
        let mut found = vec![];
        for (path, words) in VIEWS {
            stage.go(path).await?;
            stage.says(words).await?;
            found.extend(in_both_themes(stage, path).await?);
        }
        stage.go("/players").await?;
        stage.press("Bram Lindqvale").await?;
        stage.says("was an off day").await?;
        found.extend(in_both_themes(stage, "months of a player").await?);
        stage.go("/players").await?;
        stage.press("Ilse Marrow").await?;
        stage.says("Carry the tarn").await?;
        found.extend(in_both_themes(stage, "the player").await?);
        stage.press("Sessions").await?;
        stage.press("14 February 2026").await?;
        stage.says("of carry are left unclaimed").await?;
        stage
            .find("//*[contains(@class, 'launch-spin')]//figure")
            .await?;
        found.extend(in_both_themes(stage, "the session").await?);
        stage.press("Decide").await?;
        stage.says("could hide in these swings").await?;
        stage.find("//figure//*[name()='svg']").await?;
        found.extend(in_both_themes(stage, "Decide, warm-up").await?);
        for (view, words) in [
            ("Comparison", "Left–right spread"),
            ("Effort", "No block names an effort"),
            ("Speed ladder", "more speed gave"),
            ("Hole", "fewer to the left"),
        ] {
            stage.press(view).await?;
            stage.says(words).await?;
            found.extend(in_both_themes(stage, &format!("Decide, {view}")).await?);
        }
        stage.press("Page").await?;
        stage.press("Write the page").await?;
        stage.find("//article//h1").await?;
        found.extend(in_both_themes(stage, "the page").await?);
        stage.go("/players").await?;
        stage.press("Ilse Marrow").await?;
        stage.press("Compare any balls").await?;
        stage.says("Add two sets").await?;
        found.extend(in_both_themes(stage, "any balls").await?);
        stage.open_session("Ayla Tarrant", "28 March 2026").await?;
        stage.press("Decide").await?;
        stage.says("where it can still help").await?;
        found.extend(in_both_themes(stage, "Decide, force").await?);
        stage.go("/players").await?;
        stage.press("Dov Ransley").await?;
        stage.press("Bag").await?;
        stage.says("No club is for").await?;
        stage.press("Change conditions").await?;
        found.extend(in_both_themes(stage, "the bag").await?);
        stage.press("Yardage card").await?;
        stage.says("carry, yd").await?;
        found.extend(in_both_themes(stage, "the card").await?);
        stage
            .open_session("Dov Ransley", "21 February 2026")
            .await?;
        stage.press("Decide").await?;
        stage.says("by feel is").await?;
        stage.find("//figure//*[name()='svg']").await?;
        found.extend(in_both_themes(stage, "Decide, effort").await?);
        stage.go("/players").await?;
        stage.press("Dov Ransley").await?;
        stage.press("Begin a session").await?;
        stage.says("To beat").await?;
        found.extend(in_both_themes(stage, "a session to prepare").await?);
        stage.open_session("Dov Ransley", "18 April 2026").await?;
        stage.says("To beat").await?;
        found.extend(in_both_themes(stage, "Hit").await?);
        stage.press("Warm up").await?;
        stage.says("Ankle rocks, 10 each side").await?;
        found.extend(in_both_themes(stage, "Warm up").await?);
        stage.press("Prepare").await?;
        stage.says("Blocks to come").await?;
        found.extend(in_both_themes(stage, "Prepare").await?);
        stage.browser.delete_all_cookies().await?;
        stage.go("/today").await?;
        stage.says("This is the demo").await?;
        found.extend(violations(stage).await?);
        assert!(found.is_empty(), "{}", found.join("\n"));
        Ok(())
    })
    .await;
}

/// Goes on to a dialog: presses what is named, or the key.
async fn way(stage: &Stage, press: &str) -> WebDriverResult<()> {
    match press.strip_prefix("key ") {
        Some(key) => stage.keys(key).await,
        None if press.starts_with("//") => stage.click_once_still(press).await,
        None => stage.press(press).await,
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn every_dialog_is_accessible_on_a_tablet_and_on_a_phone_in_both_themes() {
    play(true, async |stage| {
        let mut found = vec![];
        for (path, presses, words) in DIALOGS {
            width(stage, 820, 1180).await?;
            stage.go(path).await?;
            stage.find("//h1").await?;
            for press in presses {
                way(stage, press).await?;
            }
            let dialog = format!("//*[@role='dialog'][contains(., \"{words}\")]");
            stage.find(&dialog).await?;
            // What is still coming into view has the colours of neither.
            stage.settled().await?;
            let here = in_the_dialog(stage).await?;
            found.extend(here.into_iter().map(|v| format!("{words}, tablet: {v}")));
            // Behind the dialog the light is changed where there is a switch; a run has none.
            let other = "const names = ['Barn light', 'Day light'];
                [...document.querySelectorAll('header button')]
                  .find((button) => names.includes(button.textContent))?.click()";
            stage.browser.execute(other, vec![]).await?;
            width(stage, 390, 844).await?;
            stage.settled().await?;
            let here = in_the_dialog(stage).await?;
            found.extend(here.into_iter().map(|v| format!("{words}, phone: {v}")));
        }
        assert!(found.is_empty(), "{}", found.join("\n"));
        Ok(())
    })
    .await;
}
