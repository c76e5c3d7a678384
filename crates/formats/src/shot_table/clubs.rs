//! Clubs by what people call them.

use super::names::plain_text;
use tally_core::physics::club::Club;
use tally_core::vocabulary::keyed::Keyed;

/// What an iron, a wood and a hybrid are called in several languages, as they are compared.
const IRON: [&str; 17] = [
    "i",
    "e",
    "j",
    "iron",
    "irons",
    "eisen",
    "fer",
    "hierro",
    "ferro",
    "jarn",
    "ijzer",
    "jern",
    "アイアン",
    "아이언",
    "号铁",
    "铁",
    "號鐵",
];
const WOOD: [&str; 18] = [
    "w",
    "wood",
    "woods",
    "fw",
    "fairway",
    "fairwaywood",
    "holz",
    "bois",
    "madera",
    "madeira",
    "legno",
    "tra",
    "trawood",
    "hout",
    "ウッド",
    "우드",
    "号木",
    "木",
];
const HYBRID: [&str; 17] = [
    "h",
    "hy",
    "hyb",
    "hybrid",
    "hybride",
    "hibrido",
    "ibrido",
    "rescue",
    "ut",
    "utility",
    "ユーティリティ",
    "유틸리티",
    "하이브리드",
    "铁木",
    "号铁木",
    "混合杆",
    "号混合杆",
];
const DRIVER: [&str; 15] = [
    "d",
    "dr",
    "drv",
    "driver",
    "drive",
    "drivers",
    "1w",
    "w1",
    "1wood",
    "holz1",
    "ドライバー",
    "드라이버",
    "一号木",
    "发球木",
    "开球木",
];
const WEDGES: [(Club, &[&str]); 4] = [
    (
        Club::WedgePitching,
        &[
            "pw",
            "p",
            "pitching",
            "pitchingwedge",
            "ピッチングウェッジ",
            "피칭웨지",
            "피칭",
            "p杆",
            "劈起杆",
        ],
    ),
    (
        Club::WedgeGap,
        &[
            "gw",
            "aw",
            "uw",
            "gap",
            "gapwedge",
            "approach",
            "approachwedge",
            "アプローチウェッジ",
            "갭웨지",
            "어프로치웨지",
        ],
    ),
    (
        Club::WedgeSand,
        &[
            "sw",
            "s",
            "sand",
            "sandwedge",
            "サンドウェッジ",
            "샌드웨지",
            "샌드",
            "s杆",
            "沙坑杆",
        ],
    ),
    (
        Club::WedgeLob,
        &[
            "lw",
            "l",
            "lob",
            "lobwedge",
            "ロブウェッジ",
            "로브웨지",
            "로브",
            "高抛杆",
        ],
    ),
];
/// Single clubs that have a name of their own.
const NAMED: [(&str, &str); 9] = [
    ("スプーン", "wood3"),
    ("クリーク", "wood5"),
    ("jarntrea", "iron3"),
    ("jarnfyra", "iron4"),
    ("jarnfemma", "iron5"),
    ("jarnsexa", "iron6"),
    ("jarnsjua", "iron7"),
    ("jarnatta", "iron8"),
    ("jarnnia", "iron9"),
];
/// What makes a number the name of one of several: "7er Eisen", "3:a trä".
const ORDINALS: [&str; 3] = ["", "er", "a"];
/// Lofts of wedges, degrees: what is stamped on them, half way to the next.
const LOFTS: [(std::ops::Range<f64>, Club); 4] = [
    (43.0..48.5, Club::WedgePitching),
    (48.5..53.5, Club::WedgeGap),
    (53.5..57.5, Club::WedgeSand),
    (57.5..66.0, Club::WedgeLob),
];

/// A club by its key, its label, or what people write for it: "7i", "Eisen 7", "52°", "PW".
/// Nothing for what may be meant in more than one way: "7".
pub fn club(cell: &str) -> Option<Club> {
    let folded = plain_text(cell);
    let plain: String = folded.chars().filter(|c| c.is_alphanumeric()).collect();
    if plain.is_empty() {
        return None;
    }
    // "七号铁" is "7号铁".
    let plain = match plain.contains(['号', '號', '番']) && !DRIVER.contains(&plain.as_str()) {
        true => plain.chars().map(in_figures).collect(),
        false => plain,
    };
    let named = |club: &Club| {
        let same = |text: &str| {
            text.chars()
                .filter(|c| c.is_alphanumeric())
                .eq(plain.chars())
        };
        same(&club.key().to_lowercase()) || same(&club.label().to_lowercase())
    };
    if let Some(club) = Club::all().find(named) {
        return Some(club);
    }
    if DRIVER.contains(&plain.as_str()) {
        return Some(Club::Driver);
    }
    if let Some((club, _)) = WEDGES
        .iter()
        .find(|(_, names)| names.contains(&plain.as_str()))
    {
        return Some(*club);
    }
    let named = NAMED.iter().find(|(name, _)| *name == plain);
    if let Some((_, key)) = named {
        return Club::from_key("club", key).ok();
    }
    by_loft(&folded)
        .or_else(|| by_number(&plain))
        .or_else(|| beside_its_loft(cell))
}

/// Whether a club is an H and a number, which is a hybrid in English, and a wood (Holz, hout) or an
/// iron (hierro) elsewhere.
pub fn is_letter_h(cell: &str) -> bool {
    let plain: String = plain_text(cell)
        .chars()
        .filter(|c| c.is_alphanumeric())
        .collect();
    let number = plain.strip_prefix('h');
    number.is_some_and(|n| !n.is_empty() && n.bytes().all(|b| b.is_ascii_digit()))
}

/// The club that the name of a column of shots begins with: "Driver carry (yd)", "7i". Nothing for
/// a letter before a figure, which may number anything: "W1".
pub fn begun_with(name: &str) -> Option<Club> {
    let bare = name.split(['(', '[']).next().unwrap_or(name);
    let words: Vec<&str> = bare.split_whitespace().collect();
    let plain = |first: &str| {
        first.starts_with(|c: char| c.is_ascii_digit())
            || first.chars().take_while(|c| c.is_alphabetic()).count() > 1
    };
    (1..=words.len().min(3))
        .rev()
        .map(|many| words[..many].join(" "))
        .filter(|first| plain(first))
        .find_map(|first| club(&first))
}

fn in_figures(c: char) -> char {
    let written = "一二三四五六七八九".chars().zip('1'..='9');
    let same = written.into_iter().find(|(word, _)| *word == c);
    same.map_or(c, |(_, figure)| figure)
}

/// A club with its loft behind it, in brackets or with its sign: "Driver (10.5°)", "Wedge (56)",
/// "7 iron 34°".
fn beside_its_loft(cell: &str) -> Option<Club> {
    let cell = cell.trim();
    let bracketed = cell
        .strip_suffix(')')
        .and_then(|cell| cell.rsplit_once('('));
    let signed = || {
        let bare = cell.strip_suffix(['°', 'º'])?.trim_end();
        bare.rsplit_once(char::is_whitespace)
    };
    let (name, loft) = bracketed.or_else(signed)?;
    let bare = loft.trim().trim_end_matches(['°', 'º']).trim_end();
    bare.replace(',', ".").parse::<f64>().ok()?;
    club(name).or_else(|| by_loft(&format!("{bare}{}°", plain_text(name))))
}

/// A wedge by the loft on it: with its sign, or with a word for a wedge beside it.
fn by_loft(folded: &str) -> Option<Club> {
    let bare: String = folded
        .chars()
        .map(|c| if c == ',' { '.' } else { c })
        .filter(|c| !c.is_whitespace())
        .collect();
    let figures: String = bare
        .chars()
        .filter(|c| c.is_ascii_digit() || *c == '.')
        .collect();
    let around: String = bare
        .chars()
        .filter(|c| !c.is_ascii_digit() && *c != '.')
        .collect();
    let says = [
        "°",
        "º",
        "deg",
        "degree",
        "degrees",
        "度",
        "도",
        "wedge",
        "°wedge",
        "degwedge",
        "w°",
        "wedge°",
        "ウェッジ",
        "웨지",
    ];
    if !says.contains(&around.as_str()) {
        return None;
    }
    let loft: f64 = figures.parse().ok()?;
    LOFTS
        .iter()
        .find(|(range, _)| range.contains(&loft))
        .map(|(_, club)| *club)
}

/// A numbered club: the number before or behind what it is.
fn by_number(plain: &str) -> Option<Club> {
    let figures: String = plain.chars().filter(|c| c.is_ascii_digit()).collect();
    let around: String = plain.chars().filter(|c| !c.is_ascii_digit()).collect();
    let around = around
        .strip_prefix('番')
        .or(around.strip_prefix('번'))
        .unwrap_or(&around);
    let around = around.trim_end_matches('番').trim_end_matches('번');
    if figures.is_empty() {
        return HYBRID[2..].contains(&around).then_some(Club::Hybrid);
    }
    let without = |ordinal: &&str| around.strip_prefix(ordinal);
    let known = |kind: &&str| [&IRON[..], &WOOD, &HYBRID].concat().contains(kind);
    let around = ORDINALS.iter().filter_map(without).find(known)?;
    if !plain.starts_with(&figures) && !plain.ends_with(&figures) {
        return None;
    }
    if HYBRID.contains(&around) {
        // Hardly a hybrid any more: an iron, in Spanish.
        let iron = is_letter_h(plain) && matches!(figures.as_bytes(), [b'6'..=b'9']);
        return (figures.len() <= 2 && !iron).then_some(Club::Hybrid);
    }
    let [figure] = figures.as_bytes() else {
        return None;
    };
    let of = |prefix: &str| Club::from_key("club", &format!("{prefix}{}", *figure as char)).ok();
    if IRON.contains(&around) {
        return of("iron");
    }
    match (WOOD.contains(&around), *figure) {
        (true, b'1') => Some(Club::Driver),
        (true, _) => of("wood"),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_column_of_shots_begins_with_its_club_or_with_none() {
        for (name, wanted) in [
            ("Driver carry (yd)", Some(Club::Driver)),
            ("7 iron carry (yd)", Some(Club::Iron7)),
            ("Eisen 7 [m]", Some(Club::Iron7)),
            ("7i", Some(Club::Iron7)),
            ("PW", Some(Club::WedgePitching)),
            ("Block 1 (yd)", None),
            ("W1", None),
            ("Warm-up", None),
            ("Day 7 iron", None),
            ("", None),
        ] {
            assert_eq!(begun_with(name), wanted, "{name}");
        }
    }

    #[test]
    fn clubs_are_known_by_what_people_write() {
        for (cell, wanted) in [
            ("7i", Some(Club::Iron7)),
            ("7-iron", Some(Club::Iron7)),
            ("Iron 7", Some(Club::Iron7)),
            ("Eisen 7", Some(Club::Iron7)),
            ("Fer 7", Some(Club::Iron7)),
            ("Järn 7", Some(Club::Iron7)),
            ("7番アイアン", Some(Club::Iron7)),
            ("7번 아이언", Some(Club::Iron7)),
            ("7号铁", Some(Club::Iron7)),
            ("七号铁", Some(Club::Iron7)),
            ("三号木", Some(Club::Wood3)),
            ("4H", Some(Club::Hybrid)),
            ("Hybrid", Some(Club::Hybrid)),
            ("3W", Some(Club::Wood3)),
            ("Holz 5", Some(Club::Wood5)),
            ("1W", Some(Club::Driver)),
            ("DRIVER", Some(Club::Driver)),
            ("GW", Some(Club::WedgeGap)),
            ("52°", Some(Club::WedgeGap)),
            ("56 deg", Some(Club::WedgeSand)),
            ("60° Wedge", Some(Club::WedgeLob)),
            ("Sand wedge", Some(Club::WedgeSand)),
            ("wedge_pitching", Some(Club::WedgePitching)),
            ("iron7", Some(Club::Iron7)),
            ("Driver (10.5°)", Some(Club::Driver)),
            ("7 IRON (34)", Some(Club::Iron7)),
            ("Wedge (56°)", Some(Club::WedgeSand)),
            ("Driver 10.5°", Some(Club::Driver)),
            ("SW 56°", Some(Club::WedgeSand)),
            ("7 iron 34°", Some(Club::Iron7)),
            ("7er Eisen", Some(Club::Iron7)),
            ("3er Holz", Some(Club::Wood3)),
            ("3:a trä", Some(Club::Wood3)),
            ("Järnsjua", Some(Club::Iron7)),
            ("E7", Some(Club::Iron7)),
            ("スプーン", Some(Club::Wood3)),
            ("하이브리드 4", Some(Club::Hybrid)),
            ("4号铁木", Some(Club::Hybrid)),
            ("H4", Some(Club::Hybrid)),
            ("7H", Some(Club::Hybrid)),
            ("Driver (new)", None),
            // Nothing that may be meant otherwise.
            ("H7", None),
            ("F7", None),
            ("7", None),
            ("7er", None),
            ("52", None),
            ("spoon", None),
            ("10i", None),
            ("72°", None),
            ("", None),
        ] {
            assert_eq!(club(cell), wanted, "{cell}");
        }
    }
}
