//! What a column holds by its name and the unit beside it.

use super::layout::ColumnUse;
use super::terms::{self, Means, meant, only_unit};
use super::units::{Told, named};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Dimension, Unit};
use unicode_normalization::UnicodeNormalization;

/// What a name says.
#[derive(Debug, Clone, PartialEq)]
pub enum Says {
    /// What the column holds.
    Holds(ColumnUse),
    /// A value whose unit it does not tell.
    WithoutUnit(Quantity),
    /// One of two values, in the unit that it tells.
    Either([Quantity; 2], Option<Unit>),
    /// Backspin, which is not quite the spin.
    Backspin,
    /// A value in something that it is not measured in, or that is not read: why.
    Refused(String),
    /// Nothing that is known.
    Nothing,
}

/// A text as it is compared: small letters, those of Europe without their marks.
pub fn plain_text(text: &str) -> String {
    text.nfkd()
        .filter(|c| !('\u{300}'..='\u{36f}').contains(c))
        .nfc()
        .flat_map(char::to_lowercase)
        .collect::<String>()
        .replace('ß', "ss")
}

/// The unit that a name has in brackets.
pub fn unit_of(name: &str) -> Option<Told> {
    named(&bracketed(name)?.1)
}

/// Whether a column is named in another language than English.
pub fn is_foreign(name: &str) -> bool {
    let name = name.trim().trim_start_matches('\u{feff}').trim();
    let mut readings = readings(name).into_iter();
    readings.any(|(bare, _)| terms::is_foreign(&bare))
}

/// What a name says, with the unit that a row below it tells.
pub fn says(name: &str, unit_below: Option<&str>) -> Says {
    let name = name.trim().trim_start_matches('\u{feff}').trim();
    if let Some(of_ours) = of_ours(name) {
        return Says::Holds(of_ours);
    }
    for (bare, unit) in readings(name) {
        let Some(means) = meant(&bare).or_else(|| meant_twice(&bare)) else {
            continue;
        };
        let below = unit_below.map(str::trim).filter(|text| !text.is_empty());
        // Of two units that say different things neither is believed.
        if let (Some(beside), Some(below), Means::Value(quantity)) = (&unit, below, means)
            && named(beside) != named(below)
        {
            return Says::WithoutUnit(quantity);
        }
        return with_unit(means, unit.as_deref().or(below));
    }
    match within(name) {
        Some(leaf) => says(leaf, unit_below),
        None => Says::Nothing,
    }
}

/// What stands within a thing that only says whose it is, as JSON has them: "shot.carry_m" and
/// "ball launch_deg", and not "target.carry" nor "impact.height", nor "shot path", which may be the
/// ball's as well.
fn within(name: &str) -> Option<&str> {
    let (whose, leaf) = name.split_once(['.', '/', ' ', '_'])?;
    let whose = plain_text(whose);
    let whose = whose.trim();
    let of_ball = ["launch", "spin", "carry", "total"];
    let of_shot = ["ball", "club", "smash", "attack", "apex", "side"];
    let plain = plain_text(leaf);
    let begins = |words: &[&str]| words.iter().any(|word| plain.starts_with(word));
    let shots = [
        "shot",
        "data",
        "values",
        "metrics",
        "measurement",
        "measurements",
        "reading",
        "result",
        "results",
    ];
    let neutral = (["ball", "flight"].contains(&whose) && begins(&of_ball))
        || (shots.contains(&whose) && (begins(&of_ball) || begins(&of_shot)));
    neutral.then_some(leaf)
}

/// What a name in two languages or scripts means, where both say the same.
fn meant_twice(name: &str) -> Option<Means> {
    let by_mark = name.split_once(['/', '|', '\n']);
    let scripts = || {
        let mut letters = name.char_indices().filter(|(_, c)| c.is_alphabetic());
        let latin = letters.next()?.1.is_ascii();
        let (at, _) = letters.find(|(_, c)| is_european(*c) != latin)?;
        Some(name.split_at(at))
    };
    let (one, other) = by_mark.or_else(scripts)?;
    meant(one).filter(|means| meant(other) == Some(*means))
}

fn is_european(c: char) -> bool {
    c < '\u{250}'
}

/// Our own names: `club_speed_mph`, `club_speed_from`, `shot`.
fn of_ours(name: &str) -> Option<ColumnUse> {
    if let Some(stem) = name.strip_suffix("_from")
        && let Ok(quantity) = Quantity::from_key("column", stem)
    {
        return Some(ColumnUse::From { quantity });
    }
    if let Ok((quantity, unit)) = Quantity::from_field(name) {
        return Some(ColumnUse::value(quantity, unit));
    }
    match name {
        "our_shot" => Some(ColumnUse::OurShot),
        "set_aside_reason" => Some(ColumnUse::Reason),
        "effort_pct" => Some(ColumnUse::Effort),
        "swing_side" => Some(ColumnUse::SwingSide),
        _ => None,
    }
}

/// The name without its unit, with the unit: as it stands first, then with what may be one
/// taken off. What stands in brackets and is no unit leaves the name unknown, unless it only
/// says which side is which.
fn readings(name: &str) -> Vec<(String, Option<String>)> {
    let name = name.trim();
    let spaced = words(name);
    let mut all = vec![(spaced.clone(), None)];
    if let Some((before, within, behind)) = bracketed(name) {
        let bare = format!("{before} {behind}");
        if says_sides(&within) {
            return readings(&bare);
        }
        if named(&within).is_some() {
            all.insert(0, (words(&bare), Some(within)));
        }
    }
    // "Carry yd", "carry_yd", "carryYards", "Carry, m", "Carry in m", "Speed - mph".
    let cut = spaced.rfind([' ', ',', '-', ':']).filter(|at| *at > 0);
    if let Some(at) = cut {
        let (before, behind) = (&spaced[..at], &spaced[at + 1..]);
        if named(behind).is_some() {
            let before = before
                .trim()
                .trim_end_matches(" in")
                .trim_end_matches(['-', ',', ':', '/']);
            all.push((words(before), Some(behind.to_owned())));
        }
    }
    // "BALLSPEEDMPH".
    let plain = spaced.to_lowercase();
    let glued = [
        "mph", "kmh", "kph", "mps", "yards", "yds", "yd", "feet", "ft", "deg", "rpm", "m",
    ];
    let ends = glued
        .iter()
        .find_map(|unit| Some((plain.strip_suffix(unit)?, *unit)));
    if let (Some((before, unit)), None) = (ends, cut) {
        all.push((before.to_owned(), Some(unit.to_owned())));
    }
    all
}

/// Words apart: "ClubSpeed" and "club_speed" are club speed.
fn words(name: &str) -> String {
    let mut spaced = String::new();
    let mut lower = false;
    for c in name.chars() {
        if c.is_uppercase() && lower {
            spaced.push(' ');
        }
        lower = c.is_lowercase();
        spaced.push(if c == '_' { ' ' } else { c });
    }
    spaced
}

fn bracketed(name: &str) -> Option<(String, String, String)> {
    let open = name.find(['(', '[', '{', '（', '［'])?;
    let wide = name[open..].chars().next()?.len_utf8();
    let close = open + name[open..].find([')', ']', '}', '）', '］'])?;
    let end = close + name[close..].chars().next()?.len_utf8();
    (close >= open + wide).then(|| {
        (
            name[..open].to_owned(),
            name[open + wide..close].to_owned(),
            name[end..].to_owned(),
        )
    })
}

/// "L/R", "-L/+R", "left -, right +": that left is less than nothing, as it is with us.
fn says_sides(within: &str) -> bool {
    let plain: String = plain_text(within)
        .chars()
        .filter(|c| !c.is_whitespace())
        .collect();
    matches!(
        plain.as_str(),
        "l/r"
            | "+right"
            | "right+"
            | "+r"
            | "r+"
            | "-left"
            | "left-"
            | "-l"
            | "l-"
            | "l-r"
            | "lr"
            | "-l/+r"
            | "l-/r+"
            | "l-r+"
            | "+r/-l"
            | "r+/l-"
            | "-left/+right"
            | "left-/right+"
            | "left/right"
            | "+right/-left"
            | "links/rechts"
            | "+=right"
            | "right=+"
            | "+=r"
            | "-=l"
    )
}

/// The value by the body that a whole force or torque goes with.
pub fn by_body(whole: Quantity) -> Option<Quantity> {
    Quantity::all().find(|quantity| quantity.whole() == Some(whole))
}

/// Whether a value has one unit that everybody writes it in.
fn tells_itself(quantity: Quantity) -> bool {
    quantity.dimension() != Dimension::FaceOffset && quantity.whole().is_none()
}

fn with_unit(means: Means, unit: Option<&str>) -> Says {
    let quantity = match means {
        Means::Role(role) => return Says::Holds(role),
        Means::Backspin => {
            return match unit.and_then(named) {
                None | Some(Told::Unit(Unit::Rpm)) => Says::Backspin,
                _ => Says::Nothing,
            };
        }
        Means::Either(two) => {
            return match unit.map(|text| super::units::unit_named(two[0].dimension(), text)) {
                None => Says::Either(two, None),
                Some(Some(unit)) => Says::Either(two, Some(unit)),
                Some(None) => Says::Nothing,
            };
        }
        Means::Value(quantity) => quantity,
    };
    let Some(text) = unit else {
        return match only_unit(quantity) {
            Some(unit) if tells_itself(quantity) => Says::Holds(ColumnUse::value(quantity, unit)),
            _ => Says::WithoutUnit(quantity),
        };
    };
    // A force or a torque may be whole or by the body: its unit tells.
    let either = [Some(quantity), quantity.whole()].into_iter().flatten();
    for quantity in either {
        if let Some(unit) = super::units::unit_named(quantity.dimension(), text) {
            return Says::Holds(ColumnUse::value(quantity, unit));
        }
    }
    if quantity == Quantity::SmashFactor {
        return Says::Refused(format!("a smash factor in {text} is not read"));
    }
    let label = quantity.label().to_lowercase();
    match named(text) {
        Some(Told::Unit(_)) => Says::Refused(format!("{text} is not what {label} is measured in")),
        Some(Told::Other) => {
            Says::Refused(format!("{text} is not read; give {label} in another unit"))
        }
        None => Says::Nothing,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use tally_core::vocabulary::units::Unit;

    fn value(name: &str) -> Option<(Quantity, Unit)> {
        match says(name, None) {
            Says::Holds(ColumnUse::Value { quantity, unit, .. }) => Some((quantity, unit)),
            _ => None,
        }
    }

    #[test]
    fn a_name_is_known_whole_with_its_unit_wherever_it_stands() {
        for (name, quantity, unit) in [
            ("Club Speed (mph)", Quantity::ClubSpeed, Unit::Mph),
            ("BallSpeed [km/h]", Quantity::BallSpeed, Unit::Kmh),
            ("carry_yd", Quantity::Carry, Unit::Yd),
            ("Carry, m", Quantity::Carry, Unit::M),
            ("Carry in m", Quantity::Carry, Unit::M),
            (
                "Schlägerkopfgeschwindigkeit (km/h)",
                Quantity::ClubSpeed,
                Unit::Kmh,
            ),
            ("Vitesse de balle (m/s)", Quantity::BallSpeed, Unit::Mps),
            ("Ángulo de ataque", Quantity::AngleOfAttack, Unit::Deg),
            ("ヘッドスピード(m/s)", Quantity::ClubSpeed, Unit::Mps),
            ("スピン量（rpm）", Quantity::SpinRate, Unit::Rpm),
            ("클럽 스피드 (mph)", Quantity::ClubSpeed, Unit::Mph),
            ("总距离(码)", Quantity::Total, Unit::Yd),
            ("Side (L/R) yd", Quantity::Side, Unit::Yd),
            ("Max Height (ft)", Quantity::Apex, Unit::Ft),
            (
                "Club Speed / Schlägerkopfgeschwindigkeit (mph)",
                Quantity::ClubSpeed,
                Unit::Mph,
            ),
            ("球速 Ball Speed (mph)", Quantity::BallSpeed, Unit::Mph),
            ("Speed of club (mph)", Quantity::ClubSpeed, Unit::Mph),
            ("lead force (N)", Quantity::WholeForceLead, Unit::N),
            ("Schlägerkopfgeschw. (km/h)", Quantity::ClubSpeed, Unit::Kmh),
            ("Vel. bola (km/h)", Quantity::BallSpeed, Unit::Kmh),
            ("Clubsnelheid (km/u)", Quantity::ClubSpeed, Unit::Kmh),
            ("Spin (giri/min)", Quantity::SpinRate, Unit::Rpm),
            ("Utgångsvinkel (grader)", Quantity::LaunchAngle, Unit::Deg),
            ("carryYards", Quantity::Carry, Unit::Yd),
            ("shot.carry_m", Quantity::Carry, Unit::M),
            ("ball launch_deg", Quantity::LaunchAngle, Unit::Deg),
        ] {
            assert_eq!(value(name), Some((quantity, unit)), "{name}");
        }
        assert_eq!(says("Carry", None), Says::WithoutUnit(Quantity::Carry));
        assert_eq!(
            says("Carry", Some("[m]")),
            Says::Holds(ColumnUse::value(Quantity::Carry, Unit::M))
        );
    }

    #[test]
    fn what_only_sounds_like_a_value_is_not_taken_for_it() {
        for name in [
            "Face to path",
            "Spin loft",
            "Impact height",
            "Side spin",
            "Landing speed",
            "Club speed (deg)",
            "Carry (flat)",
            "Total side",
            "Avg carry",
            "Max club speed",
            "Target distance",
            "Low point",
            "Side (R-/L+)",
            "Ball speed (ft/s)",
            "Carry std dev",
            "Landing height",
            "Spin (krpm)",
            "Carry / Total (yd)",
            "Spin / Loft",
            "Face / Path",
            "target.carry_yd",
            "impact.height_ft",
            "ball.height_ft",
            "average/carry_yd",
            "Shot path (deg)",
            "Shot height (ft)",
        ] {
            assert_eq!(value(name), None, "{name}");
            assert!(!matches!(says(name, None), Says::WithoutUnit(_)), "{name}");
        }
    }
}
