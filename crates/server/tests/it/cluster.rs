//! A PostgreSQL of a test's own, which it may kill.

use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use tally_store::testing::TestDatabase;
use uuid::Uuid;

pub struct Cluster {
    folder: PathBuf,
    /// Where PostgreSQL's programs are.
    programs: PathBuf,
    port: u16,
    /// The language that it speaks, as gettext names it.
    language: &'static str,
}

impl Cluster {
    /// Makes one of the same version as the tests' common one, and starts it.
    pub async fn begin() -> Cluster {
        Cluster::speaking("en").await
    }

    /// Makes one that tells its errors in another language.
    pub async fn speaking(language: &'static str) -> Cluster {
        let cluster = Cluster::nowhere_yet(programs().await, language);
        let made = cluster.run(
            "initdb",
            &[
                "-U",
                "tally",
                "--auth=trust",
                "--locale=C.UTF-8",
                "-E",
                "UTF8",
            ],
        );
        assert!(made, "initdb failed");
        cluster.start();
        cluster
    }

    fn nowhere_yet(programs: PathBuf, language: &'static str) -> Cluster {
        Cluster {
            folder: std::env::temp_dir().join(format!("tally-cluster-{}", Uuid::now_v7())),
            programs,
            port: free_port(),
            language,
        }
    }

    /// Makes one that follows this one, a copy that is read from and can take its place.
    pub fn follower(&self) -> Cluster {
        let follower = Cluster::nowhere_yet(self.programs.clone(), self.language);
        let url = self.url();
        let copied = follower.run("pg_basebackup", &["-d", &url, "-R", "-c", "fast"]);
        assert!(copied, "pg_basebackup failed");
        follower.start();
        follower
    }

    /// Makes a follower the one that is written to, as what watches over both does.
    pub fn promote(&self) {
        assert!(
            self.run("pg_ctl", &["-w", "promote"]),
            "pg_ctl promote failed"
        );
    }

    /// What a query says, as text.
    pub fn ask(&self, sql: &str) -> String {
        let asked = Command::new(self.programs.join("psql"))
            .args(["-XAtq", &self.url(), "-c", sql])
            .output();
        String::from_utf8(asked.unwrap().stdout)
            .unwrap()
            .trim()
            .to_owned()
    }

    /// Where it listens.
    pub fn address(&self) -> String {
        format!("127.0.0.1:{}", self.port)
    }

    /// The address of its first database.
    pub fn url(&self) -> String {
        format!("postgres://tally@127.0.0.1:{}/postgres", self.port)
    }

    /// Starts it, once what was killed has gone.
    pub fn start(&self) {
        let how = format!(
            "-p {} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''",
            self.port
        );
        let log = self.folder.join("log").display().to_string();
        while !self.run("pg_ctl", &["-w", "-l", &log, "-o", &how, "start"]) {
            std::thread::sleep(std::time::Duration::from_millis(50));
        }
    }

    /// Kills all of its processes at once, as a power cut would.
    pub fn kill(&self) {
        kill_postgres(&self.folder);
    }

    /// Runs one of PostgreSQL's programs on it; PostgreSQL refuses to run as root.
    fn run(&self, program: &str, arguments: &[&str]) -> bool {
        as_postgres(self.programs.join(program))
            .env("LANGUAGE", self.language)
            .arg("-D")
            .arg(&self.folder)
            .args(arguments)
            .current_dir("/")
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .status()
            .unwrap()
            .success()
    }
}

impl Drop for Cluster {
    fn drop(&mut self) {
        if self.folder.join("postmaster.pid").exists() {
            self.kill();
        }
        let _ = std::fs::remove_dir_all(&self.folder);
    }
}

/// Where PostgreSQL's programs are that the tests' common cluster runs by.
pub async fn programs() -> PathBuf {
    let common = TestDatabase::create().await;
    let programs = "SELECT setting FROM pg_config WHERE name = 'BINDIR'";
    let programs = common.ask(programs).await.unwrap().remove(0).into();
    common.remove().await.unwrap();
    programs
}

/// A port that nothing listens at.
pub fn free_port() -> u16 {
    let free = std::net::TcpListener::bind("127.0.0.1:0").unwrap();
    free.local_addr().unwrap().port()
}

/// Kills all processes of the PostgreSQL whose data is in a folder.
pub fn kill_postgres(data: &Path) {
    let held = data.join("postmaster.pid");
    let process = std::fs::read_to_string(&held).unwrap();
    kill_with_children(process.lines().next().unwrap());
    std::fs::remove_file(held).unwrap();
}

/// Kills a process with those that it began, and waits until they are gone.
pub fn kill_with_children(process: &str) {
    let mut all = children_of(process);
    all.push(process.to_owned());
    // Some may have ended by themselves meanwhile.
    let _ = Command::new("sh")
        .args(["-c", "kill -9 \"$@\"", "sh"])
        .args(&all)
        .stderr(Stdio::null())
        .status()
        .unwrap();
    while all.iter().any(|process| runs(process)) {
        std::thread::sleep(std::time::Duration::from_millis(5));
    }
}

/// A program that refuses to run as root.
pub fn as_postgres(program: PathBuf) -> Command {
    if !is_root() {
        return Command::new(program);
    }
    let mut command = Command::new("runuser");
    command.args(["-u", "postgres", "--"]).arg(program);
    command
}

fn is_root() -> bool {
    use std::os::unix::fs::MetadataExt;
    std::fs::metadata("/proc/self").unwrap().uid() == 0
}

/// State and parent of a process, when there is one.
fn state(process: &str) -> Option<(String, String)> {
    let text = std::fs::read_to_string(Path::new("/proc").join(process).join("stat")).ok()?;
    // The name before them may hold anything.
    let mut parts = text.rsplit_once(')')?.1.split_whitespace();
    Some((parts.next()?.to_owned(), parts.next()?.to_owned()))
}

fn runs(process: &str) -> bool {
    state(process).is_some_and(|(state, _)| state != "Z" && state != "X")
}

fn children_of(parent: &str) -> Vec<String> {
    let entries = std::fs::read_dir("/proc").unwrap().flatten();
    let names = entries.map(|entry| entry.file_name().to_string_lossy().into_owned());
    names
        .filter(|name| state(name).is_some_and(|(_, of)| of == parent))
        .collect()
}
