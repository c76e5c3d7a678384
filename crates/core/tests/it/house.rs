//! The rule of the house: a file stands in the folder of the question it answers, and
//! imports only from folders to its left. No circles, in any crate and in the browser.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

/// The rooms of a crate, from left to right; a folder that is none belongs to the file
/// that has its name.
const ROOMS: [(&str, &[&str]); 6] = [
    (
        "crates/core/src",
        &[
            "vocabulary",
            "physics",
            "statistics",
            "verdicts",
            "shots",
            "reach",
            "session",
            "trials",
            "record",
            "training",
            "report",
            "school",
        ],
    ),
    ("crates/formats/src", &[]),
    (
        "crates/store/src",
        &[
            "base", "school", "session", "shots", "reach", "trials", "record", "training", "report",
        ],
    ),
    ("crates/sim/src", &[]),
    (
        "crates/server/src",
        &[
            "guard",
            "state",
            "http",
            "intake",
            "made_up",
            "routes/shots",
            "routes/reach",
            "routes/session",
            "routes/trials",
            "routes/record",
            "routes/training",
            "routes/report",
            "routes/school",
            "routes",
            "server",
            "cli",
        ],
    ),
    (
        "web/src",
        &[
            "app", "ui", "mat", "shots", "reach", "session", "trials", "record", "training",
            "report", "school",
        ],
    ),
];

/// What a file takes from, file by file; paths are those below the house's `src`.
type Imports = BTreeMap<String, BTreeSet<String>>;

#[test]
fn every_import_points_to_the_left() {
    let mut wrong = Vec::new();
    for (house, rooms) in ROOMS {
        for (from, targets) in imports(house, rooms) {
            for to in targets {
                let places = [&from, &to].map(|file| room_of(file, rooms));
                if let [Some(here), Some(there)] = places
                    && here < there
                {
                    wrong.push(format!("{house}: {from} takes from {to}"));
                }
            }
        }
    }
    assert!(wrong.is_empty(), "to the right:\n{}", wrong.join("\n"));
}

#[test]
fn no_file_takes_from_itself_by_way_of_others() {
    for (house, rooms) in ROOMS {
        let circle = circle(&imports(house, rooms));
        assert!(circle.is_empty(), "{house}: {}", circle.join(" → "));
    }
}

#[test]
fn the_rule_sees_what_it_forbids() {
    let reach = ["reach/window.rs", "reach/unclaimed.rs"];
    let file = |text: &str| taken(text, "trials/a.rs", |path| reach.contains(&path));
    assert_eq!(
        file("use crate::reach::{window, unclaimed::Claim};\nuse crate::nowhere::X;"),
        ["reach/unclaimed.rs", "reach/window.rs"]
            .map(str::to_owned)
            .into()
    );
    let three = [("a", "b"), ("b", "c"), ("c", "a")];
    let round: Imports = three
        .into_iter()
        .map(|(from, to)| (from.to_owned(), BTreeSet::from([to.to_owned()])))
        .collect();
    assert_eq!(circle(&round).len(), 4);
}

fn room_of(file: &str, rooms: &[&str]) -> Option<usize> {
    rooms.iter().position(|room| {
        file.strip_prefix(room)
            .is_some_and(|rest| rest.starts_with('/') || rest.starts_with('.'))
    })
}

/// What the files of a house take from one another. Files in a folder that is no room
/// count as the file that has its name.
fn imports(house: &str, rooms: &[&str]) -> Imports {
    let root = Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../..")
        .join(house);
    let mut files = Vec::new();
    walk(&root, &mut files);
    assert!(files.len() > 3, "{house} is empty");
    let names: BTreeSet<String> = files
        .iter()
        .map(|file| {
            file.strip_prefix(&root)
                .unwrap()
                .to_string_lossy()
                .into_owned()
        })
        .collect();
    let mut all = Imports::new();
    for name in &names {
        let text = fs::read_to_string(root.join(name)).unwrap();
        let there = |path: &str| names.contains(path);
        let found = if name.ends_with(".rs") {
            taken(&text, name, there)
        } else {
            taken_by_script(&text, name, there)
        };
        let piece = piece_of(name, rooms, &names);
        let targets = all.entry(piece.clone()).or_default();
        targets.extend(found.iter().map(|to| piece_of(to, rooms, &names)));
        targets.remove(&piece);
    }
    all
}

/// The file that stands for `file`: itself, or the one that its folder is called after.
fn piece_of(file: &str, rooms: &[&str], names: &BTreeSet<String>) -> String {
    let mut piece = file.to_owned();
    while let Some((folder, _)) = piece.rsplit_once('/') {
        let parent = format!("{folder}.rs");
        if rooms.contains(&folder) || !names.contains(&parent) {
            break;
        }
        piece = parent;
    }
    piece
}

fn walk(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        let name = path.file_name().unwrap().to_string_lossy().into_owned();
        if path.is_dir() {
            walk(&path, found);
        } else if [".rs", ".ts", ".tsx"].iter().any(|end| name.ends_with(end))
            && !["lib.rs", "main.rs", "main.tsx", "tests.rs", "testing.rs"].contains(&&*name)
            && !name.contains(".test.")
        {
            found.push(path);
        }
    }
}

/// The files that a Rust file names by `crate::…`, in `use` lines and elsewhere; what
/// stands in comments and in its tests does not count.
fn taken(text: &str, file: &str, there: impl Fn(&str) -> bool) -> BTreeSet<String> {
    let code = text.split("#[cfg(test)]").next().unwrap_or_default();
    let code: String = code
        .lines()
        .filter(|line| !line.trim_start().starts_with("//"))
        .collect::<Vec<_>>()
        .join("\n");
    let mut found = BTreeSet::new();
    for (at, _) in code.match_indices("crate::") {
        // Not the end of another crate's name.
        if code[..at].ends_with(|c: char| c.is_alphanumeric() || c == '_') {
            continue;
        }
        let rest = &code[at + "crate::".len()..];
        let end = rest
            .find(|c: char| !(c.is_alphanumeric() || c == '_' || c == ':'))
            .unwrap_or(rest.len());
        let path = rest[..end].trim_end_matches(':');
        let inner = rest[end..]
            .strip_prefix('{')
            .and_then(|r| r.split('}').next());
        let paths = match inner {
            None => vec![path.to_owned()],
            Some(group) => group
                .split(',')
                .map(|part| format!("{path}::{}", part.trim()))
                .collect(),
        };
        for path in paths {
            let mut parts: Vec<&str> = path.split("::").collect();
            while !parts.is_empty() {
                let candidate = format!("{}.rs", parts.join("/"));
                if there(&candidate) && candidate != file {
                    found.insert(candidate);
                    break;
                }
                parts.pop();
            }
        }
    }
    found
}

/// The files that a script imports by a relative path.
fn taken_by_script(text: &str, file: &str, there: impl Fn(&str) -> bool) -> BTreeSet<String> {
    let mut found = BTreeSet::new();
    for before in ["from \"", "import(\"", "import \""] {
        for (at, _) in text.match_indices(before) {
            let path = text[at + before.len()..]
                .split('"')
                .next()
                .unwrap_or_default();
            if !path.starts_with('.') {
                continue;
            }
            let mut parts: Vec<&str> = file.split('/').collect();
            parts.pop();
            for step in path.split('/') {
                match step {
                    "." => {}
                    ".." => {
                        parts.pop();
                    }
                    name => parts.push(name),
                }
            }
            let path = parts.join("/");
            let candidates = [".ts", ".tsx"].map(|end| format!("{path}{end}"));
            found.extend(candidates.into_iter().filter(|c| there(c)));
        }
    }
    found
}

/// A way that comes back to where it began; empty when there is none.
fn circle(imports: &Imports) -> Vec<String> {
    let mut known = BTreeSet::new();
    let mut way = Vec::new();
    for file in imports.keys() {
        if comes_back(file, imports, &mut known, &mut way) {
            let last = way.last().cloned().unwrap_or_default();
            let first = way.iter().position(|f| *f == last).unwrap_or_default();
            return way.split_off(first);
        }
    }
    Vec::new()
}

fn comes_back(
    file: &str,
    imports: &Imports,
    known: &mut BTreeSet<String>,
    way: &mut Vec<String>,
) -> bool {
    let on_the_way = way.iter().any(|f| f == file);
    way.push(file.to_owned());
    if on_the_way {
        return true;
    }
    if known.insert(file.to_owned()) {
        for to in imports.get(file).into_iter().flatten() {
            if comes_back(to, imports, known, way) {
                return true;
            }
        }
    }
    way.pop();
    false
}
