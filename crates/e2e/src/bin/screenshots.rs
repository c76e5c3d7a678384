//! Makes the pictures of `docs/screenshots/` from the demo data: `bin/screenshots`.

use std::path::PathBuf;
use std::time::Duration;
use tally_e2e::Stage;
use thirtyfour::prelude::*;

#[tokio::main]
async fn main() {
    let folder = std::env::args()
        .nth(1)
        .map_or_else(|| PathBuf::from("docs/screenshots"), PathBuf::from);
    std::fs::create_dir_all(&folder).expect("the folder for the pictures can be made");
    let stage = Stage::set(true).await;
    let done = take(&stage, &folder).await;
    stage.clear().await;
    // A programme half-way through is one of today.
    let day = chrono::Utc::now().date_naive().to_string();
    let today = Stage::set_on(&day).await;
    let done = done.and(take_training(&today, &folder).await);
    today.clear().await;
    let empty = Stage::set(false).await;
    let done = done.and(take_empty(&empty, &folder).await);
    empty.clear().await;
    done.expect("every view could be shown");
}

async fn take(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    size(stage, 1280, 800).await?;
    stage.go("/players").await?;
    stage.says("Ilse Marrow").await?;
    picture(stage, folder, "players").await?;

    stage.press("Bram Lindqvale").await?;
    stage.says("was an off day").await?;
    picture(stage, folder, "player").await?;

    stage
        .open_session("Ilse Marrow", "14 February 2026")
        .await?;
    stage.find("//figure//*[name()='svg']").await?;
    for _ in 0..13 {
        stage.strip_key(Key::Right + "").await?;
    }
    picture(stage, folder, "read").await?;

    decisions(stage, folder).await?;
    stations(stage, folder).await?;
    school(stage, folder).await?;
    bench(stage, folder).await
}

async fn bench(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    size(stage, 1280, 800).await?;
    stage.go(FLIGHT).await?;
    stage.says("What delivery gives launch A").await?;
    picture(stage, folder, "bench-flight").await?;

    // A hundred and ninety yards over the tarn with a fairway wood.
    stage
        .go("/bench/reach?club=wood5&target=173.736&alt=1140&temp=14")
        .await?;
    stage.choose("Player", "Ilse Marrow").await?;
    stage.says("Last session").await?;
    stage.says("What the angle of attack is worth").await?;
    picture(stage, folder, "bench-reach").await?;
    Ok(())
}

/// What Petra's comparison and Ayla's force session showed.
async fn decisions(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    for (player, day, name, shows) in [
        (
            "Petra Quill",
            "4 April 2026",
            "decide",
            "Where the balls land",
        ),
        (
            "Ayla Tarrant",
            "28 March 2026",
            "decide-force",
            "where it can still help",
        ),
    ] {
        stage.open_session(player, day).await?;
        stage.press("Decide").await?;
        stage.says(shows).await?;
        stage.find("//figure//*[name()='svg']").await?;
        picture(stage, folder, name).await?;
    }
    stage.go("/players").await?;
    stage.press("Dov Ransley").await?;
    stage.press("Bag").await?;
    stage.says("No club is for").await?;
    picture(stage, folder, "bag").await?;
    stage.press("Today").await?;
    stage.says("Decisions to look at again").await?;
    // Comes once the players' sessions are read.
    stage.says("doubtful readings wait").await?;
    picture(stage, folder, "today").await
}

/// Dov's effort ladder: prepared, warmed up for, hit.
async fn stations(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    stage.go("/players").await?;
    stage.press("Dov Ransley").await?;
    stage.press("Begin a session").await?;
    stage.choose("Purpose", "Effort ladder").await?;
    stage.says("To beat").await?;
    picture(stage, folder, "prepare").await?;

    stage.open_session("Dov Ransley", "18 April 2026").await?;
    stage.says("To beat").await?;
    stage.press("Warm up").await?;
    stage.says("Ankle rocks, 10 each side").await?;
    stage.keys("   ").await?;
    stage
        .says("Turns with a club on the shoulders, 10 each side")
        .await?;
    picture(stage, folder, "warm-up").await?;

    stage.press("To the mat").await?;
    stage.says("block 4 of 14").await?;
    stage.press("Barn light").await?;
    picture(stage, folder, "hit").await?;
    stage.press("Day light").await?;
    stage.press("Board…").await?;
    stage.press("Open a board").await?;
    let code = stage.find("//*[contains(@class, 'code_')]").await?;
    let code = code.text().await?;
    stage.go(&format!("/board#{code}")).await?;
    stage.says("as last time").await?;
    picture(stage, folder, "board").await
}

async fn school(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    stage.go("/house-rules").await?;
    stage.says("All as we set them").await?;
    picture(stage, folder, "house-rules").await?;
    stage.open_session("Petra Quill", "4 April 2026").await?;
    stage.press("Page").await?;
    stage.press("Write the page").await?;
    stage.find("//article//*[name()='svg']").await?;
    stage.browser.execute("scrollTo(0, 0)", vec![]).await?;
    picture(stage, folder, "page").await?;
    let table = std::env::temp_dir().join("april.csv");
    std::fs::write(&table, TABLE).expect("a table can be written");
    stage.go("/school/files").await?;
    let field = stage
        .find("//input[@type='file'][contains(@accept, 'csv')]")
        .await?;
    field.send_keys(table.display().to_string()).await?;
    stage.says("As they will be stored").await?;
    picture(stage, folder, "files").await?;
    Ok(())
}

/// A programme half-way through, what it is made of, and one of its sessions.
async fn take_training(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    size(stage, 1280, 800).await?;
    stage.go("/players").await?;
    stage.press("Bram Lindqvale").await?;
    let tab = "//nav[@aria-label='Player']//a[. = 'Programme']";
    stage.find(tab).await?.click().await?;
    stage.says("Spring speed").await?;
    picture(stage, folder, "programme").await?;
    stage.press("Begin Overspeed").await?;
    stage.press("They are warm: note it").await?;
    for reading in ["141", "143", "145", "122", "125"] {
        stage.keys(format!("{reading}{}", Key::Enter + "")).await?;
        stage.says(&format!("{reading} kept")).await?;
    }
    picture(stage, folder, "run").await
}

/// A table as a coach might bring it.
const TABLE: &str = "date;club;club speed (mph);carry;side\n\
    18.04.2026 10:15;7-iron;82,4;165 yd;3 L\n\
    18.04.2026 10:16;7-iron;fast;166 yd;1 R\n\
    18.04.2026 10:17;9-iron;79,1;140 yd;2 R\n";

/// Two drives side by side into a breeze: a low, spinning one and the one to aim for.
const FLIGHT: &str = "/bench/flight?shot=launch~driver_62_9.5_3400_0_4&shot=launch~driver_62_14.5_2400_0_0&alt=1140&temp=12&hum=55&wind=4_45&ground=fairway_0.5";

async fn take_empty(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    size(stage, 1280, 800).await?;
    stage.go("/players").await?;
    stage.says("No players yet").await?;
    picture(stage, folder, "empty").await
}

/// Gives the page itself this size, whatever the window's frame takes.
async fn size(stage: &Stage, width: u32, height: u32) -> WebDriverResult<()> {
    stage.browser.set_window_rect(0, 0, width, height).await?;
    let inner = stage
        .browser
        .execute("return [innerWidth, innerHeight]", vec![])
        .await?;
    let (w, h): (u32, u32) = inner.convert()?;
    stage
        .browser
        .set_window_rect(0, 0, 2 * width - w, 2 * height - h)
        .await
}

async fn picture(stage: &Stage, folder: &std::path::Path, name: &str) -> WebDriverResult<()> {
    tokio::time::sleep(Duration::from_millis(700)).await;
    stage
        .browser
        .screenshot(&folder.join(format!("{name}.png")))
        .await
}
