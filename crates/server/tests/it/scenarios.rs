//! Situations that coaches meet every week, brought in as a coach would, and what is said
//! of them. Each stands for a family: what must and must never be said is asserted beside
//! the sentences themselves.

use crate::stage::Stage;
use serde_json::{Value, json};
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::units::Units;
use uuid::Uuid;

/// What a coach is told of the sessions of a file.
struct Told {
    stage: Stage,
    player: Uuid,
    /// Newest last: identifier and purpose.
    sessions: Vec<(Uuid, String)>,
    units: Units,
}

fn shown(sentence: &Value, units: Units) -> String {
    serde_json::from_value::<Sentence>(sentence.clone())
        .unwrap_or_else(|why| panic!("{why}: {sentence}"))
        .show(units)
}

impl Told {
    /// Brings in a file with the purpose that the product proposes for it.
    async fn of(file: &str) -> Told {
        let path = format!("{}/tests/scenarios/{file}", env!("CARGO_MANIFEST_DIR"));
        Told::of_table(&std::fs::read_to_string(path).unwrap()).await
    }

    async fn of_table(table: &str) -> Told {
        let stage = Stage::bare().await;
        let player = Uuid::now_v7();
        let name = table.lines().nth(1).unwrap().split(',').next().unwrap();
        let facts = json!({"id": player, "name": name, "born": 1994});
        assert_eq!(stage.post("/players", &facts).await.0, 201);
        let told = Told {
            stage,
            player,
            sessions: vec![],
            units: Units::MphYd,
        };
        told.with(table).await
    }

    async fn with(mut self, table: &str) -> Told {
        let (status, look) = self
            .stage
            .raw("POST", "/import-previews", table.to_owned())
            .await;
        assert_eq!(status, 200, "{look}");
        let layout: String = look["looked"]["layout"]
            .to_string()
            .bytes()
            .map(|b| format!("%{b:02X}"))
            .collect();
        let purpose = look["purpose"].as_str().unwrap();
        let path = format!(
            "/imports?id={}&player={}&file_name=shots.csv&layout={layout}&purpose={purpose}\
             &place=Deck&zone=Europe/Vienna&day=2026-04-20&club=driver",
            Uuid::now_v7(),
            self.player
        );
        let (status, done) = self.stage.raw("POST", &path, table.to_owned()).await;
        assert_eq!((status, &done["state"]), (200, &json!("done")), "{done}");
        assert_eq!(done["rows_bad"], 0, "{done}");
        let (_, player) = self.stage.get(&format!("/players/{}", self.player)).await;
        let mut sessions: Vec<(String, Uuid, String)> = player["sessions"]
            .as_array()
            .unwrap()
            .iter()
            .map(|s| {
                let text = |name: &str| s[name].as_str().unwrap().to_owned();
                (
                    text("started_at"),
                    text("id").parse().unwrap(),
                    text("purpose"),
                )
            })
            .collect();
        sessions.sort();
        self.sessions = sessions
            .into_iter()
            .map(|(_, id, purpose)| (id, purpose))
            .collect();
        self
    }

    fn latest(&self) -> Uuid {
        self.sessions.last().unwrap().0
    }

    fn show(&self, sentence: &Value) -> String {
        shown(sentence, self.units)
    }

    /// The verdict at a path: its sentence and what stands under it.
    fn verdict(&self, report: &Value) -> String {
        let verdict = &report["verdict"];
        format!(
            "{}\n    {}",
            self.show(&verdict["sentence"]),
            self.show(&verdict["detail"])
        )
    }

    async fn ask(&self, path: &str) -> Value {
        let (status, told) = self.stage.get(path).await;
        assert_eq!(status, 200, "{path}: {told}");
        told
    }

    /// The opening of a session.
    async fn opening(&self, session: Uuid) -> String {
        let told = self.ask(&format!("/sessions/{session}/opening")).await;
        self.verdict(&told)
    }

    /// The answer to the latest session's purpose.
    async fn opened(&self) -> String {
        self.opening(self.latest()).await
    }

    /// Everything that is said of the latest session on Read: the opening, the carry, what
    /// is unclaimed, and the map.
    async fn all_of_read(&self) -> String {
        let id = self.latest();
        let read = self.ask(&format!("/sessions/{id}/read")).await;
        let (status, map) = self
            .stage
            .get(&format!("/sessions/{id}/launch-spin?units=mph_yd"))
            .await;
        let map = match status {
            200 => self.show(&map["sentence"]),
            _ => map["detail"].as_str().unwrap_or_default().to_owned(),
        };
        [
            self.opened().await,
            self.verdict(&read["report"]),
            self.show(&read["report"]["unclaimed_said"]),
            map,
        ]
        .join("\n")
    }

    /// Compares the sets that the latest session's blocks make.
    async fn compared(&self, quantity: &str) -> String {
        let id = self.latest();
        let decide = self.ask(&format!("/sessions/{id}/decide")).await;
        let sets: Vec<Value> = decide["sets"]
            .as_array()
            .unwrap()
            .iter()
            .map(|set| json!({"label": set["label"], "session": id, "blocks": set["blocks"]}))
            .collect();
        let asked = json!({"quantity": quantity, "sets": sets});
        let path = format!("/players/{}/compare", self.player);
        let (status, compared) = self.stage.post(&path, &asked).await;
        assert_eq!(status, 200, "{compared}");
        self.verdict(&compared)
    }
}

/// Holds what must be said against it, and what must never be.
fn says(said: &str, must: &[&str], never: &[&str]) {
    for words in must {
        assert!(said.contains(words), "“{words}” is missing in: {said}");
    }
    for words in never {
        assert!(!said.contains(words), "“{words}” is in: {said}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_milestone_is_told_in_recorded_totals_and_the_best_struck_ball_is_named() {
    let told = Told::of("01-milestone.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &["in total", "Ball 3 is the best struck: 263 yd"],
        &["101 %"],
    );
    // Reach counts what was recorded, and no ball is more than the furthest.
    let reach = json!({
        "target": 262.0, "club": "driver", "aim": "total", "player": told.player,
        "units": "mph_yd", "conditions": crate::bench::calm(),
    });
    let (status, answer) = told.stage.post("/bench/reach", &reach).await;
    assert_eq!(status, 200, "{answer}");
    let day = &answer["reach"]["sessions"][0];
    assert!(day["efficiency"].as_f64().unwrap() <= 1.0 + 1e-9, "{day}");
    // 258 yd in total on average, as recorded.
    assert!(
        (day["distance"].as_f64().unwrap() / 0.9144 - 258.2).abs() < 3.0,
        "{day}"
    );
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn check_ins_are_told_by_average_and_best_and_against_last_time() {
    let told = Told::of("02-seven-weeks.csv").await;
    assert_eq!(told.sessions.len(), 7);
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(&said, &["averaged", "best", "last time"], &["cannot tell"]);
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn intent_is_told_clearly_and_what_warming_up_did_stays_open() {
    let told = Told::of("03-intent.csv").await;
    let said = told.all_of_read().await;
    insta::assert_snapshot!(told.opened().await);
    says(
        &said,
        &[
            "All-out is 6.8 mph faster than Usual",
            "cannot be told.",
            "a club and a half",
        ],
        &["warming up added", "more ball", "Bram"],
    );
    let warm = told
        .ask(&format!("/sessions/{}/warm-up-effect", told.latest()))
        .await;
    says(
        &told.verdict(&warm),
        &["too few to tell"],
        &["Warming up added"],
    );
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn forces_come_in_newtons_and_kilograms_and_of_each_foot_with_its_peak() {
    let mut table =
        String::from("player,hit_at,club,block,Lead force (N),Trail force (kg),trail_peak_ms\n");
    for i in 0..12 {
        let (block, more) = if i < 6 { ("Before", 0) } else { ("After", 1) };
        let off = [0, 9, -7, 4, -11, 5][i % 6];
        let [lead, trail, peak] = [780 + 220 * more + off, 70 + off / 4, 300 + 60 * more + off];
        let line = format!(
            "Ayla Tarrant,2026-03-02T10:{i:02}:00+01:00,driver,{block},{lead},{trail},{peak}\n"
        );
        table.push_str(&line);
    }
    let told = Told::of_table(&table).await;
    let said = told.opened().await;
    says(
        &said,
        &[
            "lead force 780 → 1,000 N",
            "the trail foot’s peak 60 ms earlier",
            "trail force: no sure change",
        ],
        &["% BW"],
    );
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn drills_change_force_torque_and_timing_and_no_cause_is_told() {
    let told = Told::of("05-ground-force.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &[
            "lead force 104 → 133",
            "both feet 147 → 181",
            "torque 101 → 123 N·m",
            "14 ms after impact to 128 ms before",
            "club speed 91.6 → 96.3 mph",
            "early enough",
            "moved together",
        ],
        &["ms more", "because", "carry"],
    );
    let peak = told.compared("vertical_peak").await;
    says(&peak, &["142 ms earlier"], &["more than"]);
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_ladder_of_feels_says_what_they_came_to_before_what_is_open() {
    let told = Told::of("08-effort.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &[
            "50 % by feel is 85 % of full speed",
            "stock feels like",
            "Ball 4 belongs to another feel",
            "comes low on the face: 13 yd less carry",
            "more spin",
        ],
        &["no pattern yet", "Play 50 %"],
    );
    let path = format!("/sessions/{}/effort", told.latest());
    let (_, effort) = told.stage.post(&path, &json!({})).await;
    // Three balls name no safe tee ball.
    let chance = effort["safe_chance"].as_f64();
    assert!(chance.is_none_or(|chance| chance >= 0.8), "{chance:?}");
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn each_speed_is_held_against_its_own_carry_and_a_useless_flight_stands_apart() {
    let told = Told::of("09-useful-carry.csv").await;
    let rule = json!({"id": Uuid::now_v7(), "given": {"value": 1.9, "unit": "yd_per_mph"}});
    let (status, why) = told.stage.put("/house-rules/factor_iron7", &rule).await;
    assert_eq!(status, 204, "{why}");
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &[
            "what each club speed should give",
            "no use: low, flat, little spin, curving",
        ],
        &["averaged", "168 yd", "13 further than"],
    );
    // Each shot names its checks, the vocabulary words them; and what its one device told
    // stands there once.
    let path = format!("/sessions/{}/read", told.latest());
    let (_, read) = told.stage.get(&path).await;
    let (_, words) = told.stage.get("/vocabulary").await;
    let worded = words["checks"].as_array().unwrap();
    let each = |key: &str, of: &Value| of[key].as_array().unwrap().clone();
    let shots = each("shots", &read["report"]);
    let failed: Vec<Value> = shots.iter().flat_map(|s| each("failed", s)).collect();
    assert!(!failed.is_empty());
    for failed in failed {
        let word = worded.iter().find(|word| word["key"] == failed["check"]);
        let [found, wanted] = ["found", "wanted"].map(|key| failed[key].as_f64().unwrap());
        match word.unwrap()["limit"].as_str().unwrap() {
            "at least" => assert!(found < wanted, "{failed}"),
            _ => assert!(found > wanted, "{failed}"),
        }
    }
    for shot in each("shots", &read) {
        assert!(shot["sources"][0].get("reading").is_none(), "{shot}");
    }
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_same_carry_in_half_the_width_is_said_at_once() {
    let told = Told::of("10-full-or-short.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &[
            "carries the same as Full",
            "within 8 yd left to right against 23",
        ],
        &["annot tell"],
    );
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calculated_spin_gives_no_advice_and_no_yards() {
    let told = Told::of("11-two-devices-radar.csv").await;
    let said = told.all_of_read().await;
    insta::assert_snapshot!(told.opened().await);
    says(
        &said,
        &["only calculated spin"],
        &[
            "loft",
            "high:",
            "low:",
            "on the way up",
            "doubtful left out",
        ],
    );
    told.stage.clear().await;
    // The camera measured it.
    let camera = Told::of("11-two-devices-camera.csv").await;
    insta::assert_snapshot!("the_camera_measured_it", camera.opened().await);
    camera.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bag_is_told_with_its_gaps_and_smash_is_worked_out() {
    let told = Told::of("12-bag-before-after.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    let read = told.ask(&format!("/sessions/{}/read", told.latest())).await;
    let smash = &read["shots"][0]["reading"]["smash_factor"];
    assert_eq!(smash["from"], "calculated", "{smash}");
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn six_balls_of_a_ladder_give_their_steps() {
    let told = Told::of("13-speed-ladder.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &[
            "yd per mph",
            "spin rises",
            "Ball 1, straight, would have gone",
        ],
        &["a line needs 8"],
    );
    let ladder = told
        .ask(&format!("/sessions/{}/speed-ladder", told.latest()))
        .await;
    assert_eq!(ladder["rungs"].as_array().unwrap().len(), 4);
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_implement_s_speed_is_no_driver_s() {
    let told = Told::of("14-training-session.csv").await;
    let said = told.all_of_read().await;
    insta::assert_snapshot!(told.opened().await);
    says(
        &said,
        &["125.0 mph, with the light implement", "slower"],
        &["has a carry", "with the driver"],
    );
    // Each implement, side and position has its own record.
    let record = told.ask(&format!("/players/{}/record", told.player)).await;
    let records = record["records"].as_array().unwrap();
    let best = |side: &str| {
        let of = |r: &&Value| {
            let swung = &r["of"]["swung"];
            (&swung["implement"], &swung["side"], &swung["position"])
                == (&json!("medium"), &json!(side), &json!("stepping"))
        };
        let found = records.iter().find(of).unwrap();
        (found["record"]["best"].as_f64().unwrap() / 0.44704).round()
    };
    assert_eq!((best("dominant"), best("other")), (119.0, 103.0));
    let first = shown(&record["shown"]["progress"]["sentence"], Units::MphYd);
    assert!(first.starts_with("One day so far"), "{first}");
    let prepared = format!(
        "/players/{}/prepare?purpose=speed_day&club=driver",
        told.player
    );
    let prepared = told.ask(&prepared).await;
    assert!(prepared["last"].is_null(), "{}", prepared["last"]);
    let table = told.stage.text("/shots.csv?units=mph_yd").await;
    let row = table.lines().nth(1).unwrap();
    assert!(row.contains(",light,dominant,normal,"), "{row}");
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_after_the_other_the_means_stand_and_the_order_is_open() {
    let told = Told {
        units: Units::KmhM,
        ..Told::of("15-smooth-or-all-out.csv").await
    };
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(
        &said,
        &[
            "All out carries 19 m further than Smooth",
            "no wider",
            "cannot be told.",
            "Smooth off the heel",
        ],
        &["taken out", "order out"],
    );
    let speed = told.compared("club_speed").await;
    says(&speed, &["10.4 km/h faster"], &[]);
    told.stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_off_day_is_named_and_its_figures_are_not_the_ones_to_beat() {
    let told = Told::of("16-off-day.csv").await;
    let said = told.opened().await;
    insta::assert_snapshot!(said);
    says(&said, &["off day", "Recover"], &["carry"]);
    let prepared = format!(
        "/players/{}/prepare?purpose=speed_day&club=driver",
        told.player
    );
    let prepared = told.ask(&prepared).await;
    let beat = &prepared["last"]["told"]["to_beat"][0];
    assert!(
        (beat["best"].as_f64().unwrap() / 0.44704 - 139.9).abs() < 0.01,
        "{beat}"
    );
    assert_eq!(prepared["last"]["after_off_day"], true);
    told.stage.clear().await;
}
