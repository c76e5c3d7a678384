//! A stage for browser journeys: a database, the real server, a real browser.
//!
//! Each [`Stage`] has its own of all three and takes them away when it is done.

mod processes;

pub use self::processes::program;
use self::processes::{drive, open, serve};
use futures_util::FutureExt;
use reqwest::header::COOKIE;
use serde_json::json;
use std::panic::{AssertUnwindSafe, resume_unwind};
use std::path::PathBuf;
use std::process::Stdio;
use std::time::Duration;
use tally_store::testing::TestDatabase;
use thirtyfour::prelude::*;
use tokio::process::{Child, Command};
use uuid::Uuid;

/// How long a journey waits for what should appear. Ample: a busy machine is not a
/// failure.
const PATIENCE: Duration = Duration::from_secs(30);

/// The password of a new school's owner.
pub const PASSWORD: &str = "four plain words";
/// The password of everybody in the demo.
pub const DEMO_PASSWORD: &str = "tally by the tarn";

/// What a journey is played on.
pub struct Stage {
    database: TestDatabase,
    server: Child,
    driver_process: Child,
    driver: String,
    profile: PathBuf,
    /// The browser.
    pub browser: WebDriver,
    /// Address of the web application, without a slash at its end.
    pub web: String,
    /// Host and port of the intake.
    pub intake: String,
}

/// Plays a journey on a stage and clears it away, whatever came of the journey.
///
/// # Panics
/// When the journey fails, or the stage cannot be set.
pub async fn play(demo: bool, journey: impl AsyncFnOnce(&mut Stage) -> WebDriverResult<()>) {
    play_on(Stage::set(demo).await, journey).await;
}

/// Plays a journey of somebody who comes to a server without any school.
///
/// # Panics
/// When the journey fails, or the stage cannot be set.
pub async fn play_from_nothing(journey: impl AsyncFnOnce(&mut Stage) -> WebDriverResult<()>) {
    play_on(Stage::unfounded(None).await, journey).await;
}

/// A test of journeys that leave alone what the next of them needs, one after another on one
/// stage: the stage alone costs more than most journeys.
///
/// `name: play(demo), journeys…`, each journey a function of the stage.
#[macro_export]
macro_rules! journeys {
    ($name:ident: play($demo:expr), $($journey:ident),+ $(,)?) => {
        #[tokio::test(flavor = "multi_thread")]
        async fn $name() {
            $crate::play($demo, async |stage| {
                $(
                    // Which of them failed.
                    eprintln!("journey: {}", stringify!($journey));
                    $journey(stage).await?;
                )+
                Ok(())
            })
            .await;
        }
    };
}

async fn play_on(mut stage: Stage, journey: impl AsyncFnOnce(&mut Stage) -> WebDriverResult<()>) {
    let done = AssertUnwindSafe(journey(&mut stage)).catch_unwind().await;
    let told = match &done {
        Ok(Ok(())) => String::new(),
        Ok(Err(error)) => format!("{error}\n{}", stage.seen().await),
        Err(_) => stage.seen().await,
    };
    stage.clear().await;
    match done {
        Ok(result) => assert!(result.is_ok(), "{told}"),
        Err(panic) => {
            eprintln!("the page said:\n{told}");
            resume_unwind(panic)
        }
    }
}

/// The day of the demo's last session on a stage.
const DEMO_DAY: &str = "2026-04-18";

impl Stage {
    /// Sets a stage, with the demo school or an empty one, whose owner is signed in.
    ///
    /// # Panics
    /// When the program or the browser is missing: `bin/test` sees to both.
    pub async fn set(demo: bool) -> Stage {
        Stage::founded(demo.then_some(DEMO_DAY)).await
    }

    /// The same with the demo school as it stands on a day.
    ///
    /// # Panics
    /// As [`Stage::set`].
    pub async fn set_on(day: &str) -> Stage {
        Stage::founded(Some(day)).await
    }

    async fn founded(demo: Option<&str>) -> Stage {
        let stage = Stage::unfounded(demo).await;
        let demo = demo.is_some();
        if !demo {
            let school = json!({
                "school": "Your school", "name": "Orla Finch",
                "sign_in_name": "orla", "password": PASSWORD,
            });
            let founded = stage.ask("/set-up", &school).await;
            assert!(founded.status().is_success(), "the school is not founded");
        }
        let name = if demo { "tova" } else { "orla" };
        stage
            .sign_in_as(&stage.browser, name)
            .await
            .expect("the owner signs in");
        stage
    }

    /// Sets a stage on which nobody is signed in: with the demo school, or with none.
    async fn unfounded(demo: Option<&str>) -> Stage {
        let database = if let Some(day) = demo {
            TestDatabase::create_like(&demo_of_this_program(day), async |url| {
                let loaded = Command::new(program())
                    .args(["demo", "--on", day, "--database-url", url])
                    .status()
                    .await
                    .expect("amber-tally is built");
                assert!(loaded.success(), "the demo did not load");
            })
            .await
        } else {
            TestDatabase::create().await
        };
        let (server, web, intake) = serve(&database.url, "0", "0").await;
        let (driver_process, driver) = drive().await;
        let profile = std::env::temp_dir().join(format!("tally-browser-{}", Uuid::now_v7()));
        let browser = open(&driver, &profile).await;
        Stage {
            database,
            server,
            driver_process,
            driver,
            profile,
            browser,
            web,
            intake,
        }
    }

    /// Signs a browser in, as if its person had done so before.
    ///
    /// # Errors
    /// The browser's.
    ///
    /// # Panics
    /// When the person is not let in.
    pub async fn sign_in_as(&self, browser: &WebDriver, name: &str) -> WebDriverResult<()> {
        let password = if name == "orla" {
            PASSWORD
        } else {
            DEMO_PASSWORD
        };
        let asked = json!({"sign_in_name": name, "password": password});
        let answer = self.ask("/sign-in", &asked).await;
        let cookie = answer.headers()["set-cookie"].to_str();
        let (key, value) = cookie
            .ok()
            .and_then(|cookie| cookie.split(';').next())
            .and_then(|cookie| cookie.split_once('='))
            .expect("a cookie has a name and a value");
        // Cookies are for the page that is open.
        browser.goto(format!("{}/mark.svg", self.web)).await?;
        let mut cookie = Cookie::new(key, value);
        cookie.set_path("/");
        browser.add_cookie(cookie).await
    }

    /// A client of the API that is signed in as the owner of a new school.
    ///
    /// # Panics
    /// When the owner is not let in.
    pub async fn client(&self) -> reqwest::Client {
        self.client_of("orla").await
    }

    /// A client of the API that is signed in as somebody of a new school.
    ///
    /// # Panics
    /// When they are not let in.
    pub async fn client_of(&self, name: &str) -> reqwest::Client {
        let asked = json!({"sign_in_name": name, "password": PASSWORD});
        let answer = self.ask("/sign-in", &asked).await;
        let cookie = answer.headers()["set-cookie"].clone();
        reqwest::Client::builder()
            .default_headers([(COOKIE, cookie)].into_iter().collect())
            .build()
            .expect("a client with a cookie")
    }

    async fn ask(&self, path: &str, body: &serde_json::Value) -> reqwest::Response {
        reqwest::Client::new()
            .post(format!("{}/api/v1{path}", self.web))
            .json(body)
            .send()
            .await
            .expect("the server answers")
    }

    /// Opens a second browser, as on another machine, at the page of the first.
    ///
    /// # Errors
    /// The browser's.
    pub async fn second_browser(&self) -> WebDriverResult<WebDriver> {
        let profile = self.profile.join(Uuid::now_v7().to_string());
        let second = open(&self.driver, &profile).await;
        let cookies = self.browser.get_all_cookies().await?;
        second.goto(format!("{}/mark.svg", self.web)).await?;
        for cookie in cookies {
            second.add_cookie(cookie).await?;
        }
        second
            .goto(self.browser.current_url().await?.as_str())
            .await?;
        Ok(second)
    }

    /// Opens a second browser, as on another machine, at which somebody else is signed in.
    ///
    /// # Errors
    /// The browser's.
    ///
    /// # Panics
    /// When the person is not let in.
    pub async fn browser_of(&self, name: &str) -> WebDriverResult<WebDriver> {
        let theirs = self.second_browser().await?;
        theirs.delete_all_cookies().await?;
        self.sign_in_as(&theirs, name).await?;
        Ok(theirs)
    }

    /// Signs in on the sign-in page.
    ///
    /// # Errors
    /// When there is none.
    pub async fn enter(&self, name: &str, password: &str) -> WebDriverResult<()> {
        self.fill("Sign-in name", name).await?;
        self.fill("Password", password).await?;
        self.submit().await
    }

    /// Adds a player and prepares their first session as proposed; ends at its warm-up.
    ///
    /// # Errors
    /// When a step of it is not there.
    pub async fn begin_first_session(&self) -> WebDriverResult<()> {
        self.go("/players").await?;
        self.press("Add a player").await?;
        self.fill("Name", "Wren Aldous").await?;
        self.submit().await?;
        self.press("Begin a session").await?;
        self.fill("Place", "North bay").await?;
        self.press("Begin the session").await?;
        self.says("To the mat").await.map(|_| ())
    }

    /// Opens a player's session of a day from the players.
    ///
    /// # Errors
    /// When a step of it is not there.
    pub async fn open_session(&self, player: &str, day: &str) -> WebDriverResult<()> {
        self.go("/players").await?;
        self.press(player).await?;
        self.press("Sessions").await?;
        self.press(day).await
    }

    /// Sends the form that is open.
    ///
    /// # Errors
    /// When there is none.
    pub async fn submit(&self) -> WebDriverResult<()> {
        self.click_once_still("//form//button[@type='submit']")
            .await
    }

    /// Adds a device under School and returns its secret.
    ///
    /// # Errors
    /// When a step of it is not there.
    pub async fn add_device(&self, name: &str) -> WebDriverResult<String> {
        self.go("/school/devices").await?;
        self.press("Add a device").await?;
        self.fill("Name", name).await?;
        self.submit().await?;
        let secret = self
            .find("//*[contains(@class, 'secret')]/code[. != '']")
            .await?;
        // What is still coming into view has no text yet.
        Ok(secret.prop("textContent").await?.unwrap_or_default())
    }

    /// Presses keys wherever the focus is.
    ///
    /// # Errors
    /// The browser's.
    pub async fn keys(&self, keys: impl Into<TypingData>) -> WebDriverResult<()> {
        let keys: TypingData = keys.into();
        self.browser.action_chain().send_keys(keys).perform().await
    }

    /// The server's process.
    ///
    /// # Panics
    /// When it has ended.
    pub fn server_id(&self) -> u32 {
        self.server.id().expect("the server runs")
    }

    /// Address of the stage's database.
    pub fn database_url(&self) -> String {
        self.database.url.clone()
    }

    /// Goes to a page of the application.
    ///
    /// # Errors
    /// The browser's.
    pub async fn go(&self, path: &str) -> WebDriverResult<()> {
        self.browser.goto(format!("{}{path}", self.web)).await
    }

    /// Waits for the first element that matches an XPath.
    ///
    /// # Errors
    /// When there is none in time.
    pub async fn find(&self, xpath: &str) -> WebDriverResult<WebElement> {
        self.browser
            .query(By::XPath(xpath))
            .wait(PATIENCE, Duration::from_millis(40))
            .first()
            .await
    }

    /// Waits for an element that says `text`.
    ///
    /// # Errors
    /// When there is none in time.
    pub async fn says(&self, text: &str) -> WebDriverResult<WebElement> {
        self.find(&format!("//*[contains(normalize-space(.), \"{text}\")][not(self::script)][not(.//*[contains(normalize-space(.), \"{text}\")])]"))
            .await
    }

    /// Waits for a button or link with this name and presses it.
    ///
    /// # Errors
    /// When there is none, or it cannot be pressed.
    pub async fn press(&self, name: &str) -> WebDriverResult<()> {
        self.click_once_still(&format!(
            "//*[self::button or self::a][contains(normalize-space(.), \"{name}\") or @aria-label=\"{name}\"]"
        ))
        .await
    }

    /// Types into the field with this label, in place of what it holds.
    ///
    /// # Errors
    /// When there is none.
    pub async fn fill(&self, label: &str, text: &str) -> WebDriverResult<()> {
        let field = self
            .find(&format!(
                "//label[contains(normalize-space(.), \"{label}\")]//input | //input[@aria-label=\"{label}\"] | //input[@id=//label[normalize-space(.)=\"{label}\"]/@for]"
            ))
            .await?;
        // What covers the field may still be leaving, and take the focus with it between
        // the selection and the text, which then stands behind what the field held.
        let began = tokio::time::Instant::now();
        loop {
            let typed = async {
                field.send_keys(Key::Control + "a").await?;
                field.send_keys(text).await
            }
            .await;
            let held = field.prop("value").await?.unwrap_or_default();
            let appended = held != text && held.ends_with(text);
            if (typed.is_ok() && !appended) || began.elapsed() > PATIENCE {
                return typed;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }

    /// Chooses an option of the list with this label.
    ///
    /// # Errors
    /// When there is no such list or option.
    pub async fn choose(&self, label: &str, option: &str) -> WebDriverResult<()> {
        let list = format!(
            "//*[@role='combobox'][@aria-label=\"{label}\" or @id=//label[normalize-space(.)=\"{label}\"]/@for or @aria-labelledby=//span[normalize-space(.)=\"{label}\"]/@id]/ancestor::*[contains(@class, 'ant-select')][1]"
        );
        let shows = format!("{list}[contains(normalize-space(.), \"{option}\")]");
        let to_choose = format!(
            "//*[contains(@class, 'ant-select-item-option')][normalize-space(.)=\"{option}\"]"
        );
        // A list that is still unfolding can put another option under the pointer, and a drawer
        // on its way out takes the focus when it is gone, which folds the list.
        for _ in 0..5 {
            self.click_once_still(&list).await?;
            let picked = self.click_within(&to_choose, Duration::from_secs(5)).await;
            tokio::time::sleep(Duration::from_millis(50)).await;
            if picked.is_ok() && self.browser.find(By::XPath(&shows)).await.is_ok() {
                return Ok(());
            }
        }
        self.find(&shows).await.map(|_| ())
    }

    /// Waits until nothing moves: what is clicked on its way is clicked elsewhere.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn settled(&self) -> WebDriverResult<()> {
        const RESTS: &str = "const done = arguments[0];
            const moves = (a) => a.playState === 'running' && a.effect.getTiming().iterations !== Infinity;
            let tries = 100;
            const look = () =>
              !document.getAnimations().some(moves) || --tries === 0 ? done() : setTimeout(look, 50);
            setTimeout(look, 50);";
        self.browser.execute_async(RESTS, vec![]).await.map(|_| ())
    }

    /// Clicks an element that may still be moving into its place. Only a click that
    /// cannot have been delivered is made again.
    ///
    /// # Errors
    /// When there is none.
    pub async fn click_once_still(&self, xpath: &str) -> WebDriverResult<()> {
        self.click_within(xpath, PATIENCE).await
    }

    async fn click_within(&self, xpath: &str, patience: Duration) -> WebDriverResult<()> {
        let began = tokio::time::Instant::now();
        loop {
            let found = self.find(xpath).await?;
            let clicked = found.click().await;
            if !not_delivered(&clicked) || began.elapsed() > patience {
                return clicked;
            }
            // What stands behind a foot that stays is scrolled to, as a person would.
            let _ = found.scroll_into_view().await;
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }

    /// Presses a key with the tally strip in focus, once a dialog on its way out gives it back.
    ///
    /// # Errors
    /// When there is no strip.
    pub async fn strip_key(&self, keys: impl Into<TypingData>) -> WebDriverResult<()> {
        let keys: TypingData = keys.into();
        let keys: String = keys.as_vec().into_iter().collect();
        let began = tokio::time::Instant::now();
        loop {
            let strip = self
                .find("//*[@role='listbox'][@aria-label='Shots in hitting order']")
                .await?;
            let sent = strip.send_keys(keys.as_str()).await;
            if !not_delivered(&sent) || began.elapsed() > PATIENCE {
                return sent;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }

    /// Stops the server as a power cut would.
    ///
    /// # Panics
    /// When it cannot be stopped.
    pub async fn stop_server(&mut self) {
        self.server.kill().await.expect("a child can be killed");
    }

    /// Stops the server if it runs, and starts it again on its ports.
    ///
    /// # Panics
    /// When it does not come back.
    pub async fn restart_server(&mut self) {
        self.stop_server().await;
        let port = |address: &str| address.rsplit(':').next().unwrap_or("0").to_owned();
        let (server, ..) = serve(&self.database.url, &port(&self.web), &port(&self.intake)).await;
        self.server = server;
    }

    /// The strokes of the strip that stand so.
    ///
    /// # Errors
    /// The browser's.
    pub async fn strokes(&self, standing: &str) -> WebDriverResult<usize> {
        strokes(&self.browser, standing).await
    }

    /// Runs `amber-tally simulate` with these arguments to its end.
    ///
    /// # Panics
    /// When it fails.
    pub async fn simulate(&self, arguments: &[&str]) {
        let done = Command::new(program())
            .args(["simulate", "--server", &self.intake])
            .args(arguments)
            .stdout(Stdio::null())
            .status()
            .await
            .expect("amber-tally is built");
        assert!(done.success(), "simulate failed");
    }

    /// Founds another school beside the first, whose owner signs in by this name with [`PASSWORD`];
    /// answers with a client who did.
    ///
    /// # Panics
    /// When it is refused.
    pub async fn another_school(&self, sign_in_name: &str) -> reqwest::Client {
        let told = Command::new(program())
            .args(["school", "--database-url", &self.database.url])
            .args(["--name", "Another school", "--owner", "Ida Moss"])
            .args(["--sign-in-name", sign_in_name])
            .output()
            .await
            .expect("amber-tally is built");
        let code = String::from_utf8_lossy(&told.stdout).trim().to_owned();
        let new = json!({"sign_in_name": sign_in_name, "code": code, "password": PASSWORD});
        let set = self.ask("/new-password", &new).await;
        assert!(set.status().is_success(), "the password is not set");
        self.client_of(sign_in_name).await
    }

    /// What the page says, for the message of a failed journey.
    async fn seen(&self) -> String {
        match self.browser.find(By::Tag("body")).await {
            Ok(body) => body.text().await.unwrap_or_default(),
            Err(error) => error.to_string(),
        }
    }

    /// Takes the stage away.
    pub async fn clear(mut self) {
        // Each may be gone already; the others must go all the same.
        let _ = self.browser.quit().await;
        let _ = self.driver_process.kill().await;
        let _ = self.server.kill().await;
        let _ = self.database.remove().await;
        let _ = std::fs::remove_dir_all(&self.profile);
    }
}

/// The strokes of a browser's strip that stand so.
///
/// # Errors
/// The browser's.
pub async fn strokes(browser: &WebDriver, standing: &str) -> WebDriverResult<usize> {
    let found = browser
        .find_all(By::Css(format!("[role=option][data-standing={standing}]")))
        .await?;
    Ok(found.len())
}

/// Whether what was done never reached the page, so that it may be done again.
fn not_delivered(done: &WebDriverResult<()>) -> bool {
    done.as_ref().is_err_and(|error| {
        let told = error.to_string().to_lowercase();
        ["intercepted", "interactable", "stale"]
            .iter()
            .any(|word| told.contains(word))
    })
}

/// The demo as the program under test loads it: another program makes another one.
fn demo_of_this_program(day: &str) -> String {
    let built = program().metadata().and_then(|about| about.modified());
    let since = built.map(|at| at.duration_since(std::time::UNIX_EPOCH).unwrap_or_default());
    let day = day.replace('-', "");
    format!("demo{day}_{:x}", since.unwrap_or_default().as_nanos())
}
