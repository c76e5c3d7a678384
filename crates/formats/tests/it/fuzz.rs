//! Whatever bytes come, the readers answer: good ones broken in every way, by the
//! thousand here and by the million with `TALLY_FUZZ_INPUTS=10000000 cargo test
//! --release`.

use crate::workbooks::of_each_kind;
use rand::{RngExt, SeedableRng};
use rand_pcg::Pcg64;
use std::io::{Cursor, Read, Write};
use tally_core::shots::trace::Trace;
use tally_formats::device_line::{self, Hello, Line};
use tally_formats::shot_table::{Rows, guess, look};
use tally_formats::{archive, shot_table};

fn inputs() -> u64 {
    std::env::var("TALLY_FUZZ_INPUTS").map_or(6_000, |n| n.parse().expect("a number"))
}

/// Pieces that readers stumble over.
const PIECES: [&[u8]; 16] = [
    b"{",
    b"}",
    b"[",
    b"\"",
    b"\\u",
    b"\\ud800",
    b"1e999",
    b"-0",
    b"NaN",
    b"null",
    b";",
    b",",
    b"\n",
    b"\xff\xfe",
    b"\xef\xbb\xbf",
    b"99999999999999999999",
];

/// A good input with a few things done to it.
fn broken(good: &[u8], rng: &mut Pcg64) -> Vec<u8> {
    let mut bytes = good.to_vec();
    for _ in 0..rng.random_range(1..6) {
        let at = rng.random_range(0..=bytes.len());
        match rng.random_range(0..6) {
            0 if at < bytes.len() => bytes[at] = rng.random(),
            1 => bytes.truncate(at),
            2 if at < bytes.len() => {
                let to = rng.random_range(at..bytes.len());
                bytes.drain(at..=to);
            }
            3 => {
                let piece = PIECES[rng.random_range(0..PIECES.len())];
                bytes.splice(at..at, piece.iter().copied());
            }
            4 if at < bytes.len() => {
                let again = bytes[at..(at + 40).min(bytes.len())].to_vec();
                bytes.splice(at..at, again);
            }
            _ => bytes.insert(at, rng.random()),
        }
    }
    bytes
}

/// Breaks each of the good inputs in turn.
fn each_broken(good: &[&str], seed: u64, mut read: impl FnMut(&[u8])) {
    let mut rng = Pcg64::seed_from_u64(seed);
    for i in 0..inputs() {
        let from = good[i as usize % good.len()];
        read(&broken(from.as_bytes(), &mut rng));
    }
}

const HELLO: &str = r#"{"type":"hello","version":1,"token":"dev-a","kind":"radar","run":"a","time":"2026-04-18T10:00:00Z","measures":["club_speed","ball_speed","launch_angle","spin_rate","carry"],"calculates":["smash_factor"]}"#;
const SHOT: &str = r#"{"type":"shot","sequence":7,"time":"2026-04-18T10:00:07Z","values":{"club_speed_mph":{"value":94.1,"from":"measured"},"smash_factor":{"value":1.38,"from":"calculated"},"carry_yd":{"value":183,"from":"measured"}}}"#;
const TRACE: &str = r#"{"type":"trace","sequence":7,"rate_hz":20,"impact_s":0.7,"lead_pct_bw":[48,49,null,60,71.5,80,90,104,99,80,70,60,55,52,50,49,48,48,47,47,47],"torque_nm":[0,1,2,4,9,20,44,80,101,90,60,33,20,11,7,5,4,3,2,1,0]}"#;

#[test]
fn no_device_line_breaks_its_reader() {
    let Ok(Line::Hello(hello)) = device_line::parse(HELLO, None) else {
        panic!("the hello is good");
    };
    let hello: &Hello = &hello;
    let mut good = 0;
    each_broken(&[HELLO, SHOT, TRACE], 1, |bytes| {
        let line = String::from_utf8_lossy(bytes);
        match device_line::parse(&line, Some(hello)) {
            Ok(Line::Shot(shot)) => {
                good += 1;
                assert!(
                    shot.reading.0.values().all(|value| value.si.is_finite()),
                    "{line}"
                );
            }
            Ok(Line::Hello(_) | Line::Ping) => good += 1,
            Ok(Line::Trace(line)) => {
                good += 1;
                let _ = Trace::taken(line.rate_hz, line.marks, line.channels);
            }
            Err((_, why)) => assert!(why.value.chars().count() <= 61, "{why}"),
        }
    });
    // Some survive what was done to them: the test does not break everything alike.
    assert!(good > 0);
}

#[test]
fn no_table_breaks_its_reader() {
    let tables = [
        "Date;Club;Club speed (mph);Ball speed (mph);Spin;Carry (yd)\n18.04.2026 10:00:01;7 iron;81,2;110,4;6231;157,0\n18.04.2026 10:00:41;7 iron;80,4;108,8;;154,2\n",
        "hit_at,club,club_speed_mph,carry_yd\n2026-04-18T10:00:00Z,driver,94.1,221\n2026-04-18T10:01:00Z,driver,\"95,0\",226 yd\n",
        r#"{"shots":[{"club":"7i","ball_speed":{"value":110,"unit":"mph"},"carry_yd":150},{"club":"7i","carry_yd":151}]}"#,
        r#"{"columns":["club","ball_speed_mph"],"data":[["7i",110],["7i",111.5]]}"#,
        r#"{"club":["7i","7i"],"ball_speed_mph":[110,111.5]}"#,
    ];
    let mut rows = 0;
    each_broken(&tables, 2, |bytes| rows += rows_of(bytes));
    assert!(rows > 0);
}

/// Guesses what is in a file, looks at it and reads its rows; how many there were.
fn rows_of(bytes: &[u8]) -> u64 {
    let today = "2026-11-27".parse().unwrap();
    let Ok(layout) = guess(bytes, today) else {
        return 0;
    };
    let _ = look(bytes, &layout, today);
    if layout.check().is_err() {
        return 0;
    }
    let Ok(mut rows) = Rows::open(bytes, layout) else {
        return 0;
    };
    let mut read = 0;
    while let Some(Ok(shot_table::ReadRow { .. })) = rows.next_row() {
        read += 1;
    }
    read
}

/// A workbook's parts, by name; none where it is not a packed one.
fn parts(book: &[u8]) -> Vec<(String, Vec<u8>)> {
    let Ok(mut packed) = zip::ZipArchive::new(Cursor::new(book)) else {
        return vec![];
    };
    let all = (0..packed.len()).map(|at| {
        let mut part = packed.by_index(at).unwrap();
        let mut held = Vec::new();
        part.read_to_end(&mut held).unwrap();
        (part.name().unwrap().into_owned(), held)
    });
    all.collect()
}

fn packed(parts: &[(String, Vec<u8>)]) -> Vec<u8> {
    let mut packed = zip::ZipWriter::new(Cursor::new(Vec::new()));
    let how =
        zip::write::SimpleFileOptions::default().compression_method(zip::CompressionMethod::Stored);
    for (name, held) in parts {
        packed.start_file(name.as_str(), how).unwrap();
        packed.write_all(held).unwrap();
    }
    packed.finish().unwrap().into_inner()
}

#[test]
fn no_workbook_breaks_its_reader() {
    let mut rng = Pcg64::seed_from_u64(4);
    let books = of_each_kind();
    let apart = books.each_ref().map(|book| parts(book));
    let mut rows = 0;
    // Each takes as long as ten tables.
    for i in 0..inputs() / 10 {
        let kind = i as usize % books.len();
        // What is packed breaks as a whole, but more often within, where its packing hides it.
        if apart[kind].is_empty() || rng.random_ratio(1, 8) {
            rows += rows_of(&broken(&books[kind], &mut rng));
            continue;
        }
        let mut parts = apart[kind].clone();
        let at = rng.random_range(0..parts.len());
        parts[at].1 = broken(&parts[at].1, &mut rng);
        rows += rows_of(&packed(&parts));
    }
    assert!(rows > 0);
}

#[test]
fn no_archive_breaks_its_reader() {
    let whole = format!(
        "{}\"player\":[{{\"id\":\"a\",\"name\":\"Wren\",\"born\":null}}],\n\"shot\":[{{\"values\":{{\"carry\":{{\"si\":201.5}}}}}},{{}}]{}",
        archive::head(),
        archive::TAIL
    );
    let mut rows = 0u64;
    each_broken(&[&whole], 3, |bytes| {
        // Broken or not: it ends, and tells.
        if let Err(error) = archive::read(bytes, &mut |_, _, _| {
            rows += 1;
            Ok(())
        }) {
            assert!(error.to_string().contains("choose the file"), "{error}");
        }
    });
    assert!(rows > 0);
}
