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

    stage.press("Ilse Marrow").await?;
    stage.says("Carry the tarn").await?;
    picture(stage, folder, "player").await?;

    stage.press("14 February 2026").await?;
    stage.find("//figure//*[name()='svg']").await?;
    for _ in 0..13 {
        stage.strip_key(Key::Right + "").await?;
    }
    picture(stage, folder, "read").await?;

    stage
        .browser
        .execute("document.querySelector('.shots').scrollIntoView()", vec![])
        .await?;
    picture(stage, folder, "read-shots").await?;
    stage.browser.execute("scrollTo(0, 0)", vec![]).await?;

    stage
        .find("//*[@class='launch-spin']//figure//*[name()='svg']")
        .await?;
    stage
        .browser
        .execute(
            "document.querySelector('.launch-spin').scrollIntoView()",
            vec![],
        )
        .await?;
    picture(stage, folder, "read-launch-spin").await?;
    stage.browser.execute("scrollTo(0, 0)", vec![]).await?;

    stage.press("Working").await?;
    stage.says("What it came to").await?;
    picture(stage, folder, "read-working").await?;
    stage.press("Close").await?;

    stage.strip_key("x").await?;
    stage.says("why?").await?;
    picture(stage, folder, "read-set-aside").await?;
    stage
        .browser
        .action_chain()
        .send_keys(Key::Escape + "")
        .perform()
        .await?;
    tokio::time::sleep(Duration::from_millis(400)).await;

    stage.strip_key(Key::Enter + "").await?;
    stage.says("Strike").await?;
    picture(stage, folder, "read-shot").await?;
    stage.press("Close").await?;
    tokio::time::sleep(Duration::from_millis(400)).await;

    stage.press("Barn light").await?;
    picture(stage, folder, "read-dark").await?;
    stage.press("Day light").await?;

    size(stage, 820, 1180).await?;
    picture(stage, folder, "read-tablet").await?;
    bench(stage, folder).await
}

async fn bench(stage: &Stage, folder: &std::path::Path) -> WebDriverResult<()> {
    size(stage, 1280, 800).await?;
    stage.go(FLIGHT).await?;
    stage.says("What delivery gives launch A").await?;
    picture(stage, folder, "bench-flight").await?;
    stage.press("Barn light").await?;
    picture(stage, folder, "bench-flight-dark").await?;
    stage.press("Day light").await?;

    // A hundred and ninety yards over the tarn with a fairway wood.
    stage
        .go("/bench/reach?club=wood5&target=173.736&alt=1140&temp=14")
        .await?;
    stage.choose("Player", "Ilse Marrow").await?;
    stage.says("Last session").await?;
    stage.says("What the angle of attack is worth").await?;
    picture(stage, folder, "bench-reach").await?;
    size(stage, 820, 1180).await?;
    picture(stage, folder, "bench-reach-tablet").await
}

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
