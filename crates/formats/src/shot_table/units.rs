//! Units by any of the names that people write, those among them that are not read too.

use tally_core::vocabulary::units::{Dimension, Unit};

/// What a text says of a unit.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Told {
    /// One that is read; what it measures goes with it.
    Unit(Unit),
    /// One that is a unit and is not read.
    Other,
}

/// The unit that a text names, whatever it measures.
pub fn named(text: &str) -> Option<Told> {
    let name = text
        .trim()
        .trim_matches(['(', ')', '[', ']', '{', '}', '.', ',', ':', '/', '-'])
        .trim()
        .to_lowercase()
        .replace('²', "2");
    let unit = match name.as_str() {
        "mph" | "mi/h" | "mi/hr" | "mile/h" | "miles/h" | "miles/hour" | "miles per hour"
        | "マイル" => Unit::Mph,
        "m/s" | "mps" | "m_s" | "m/sec" | "meter/s" | "metres/s" | "meters/s" | "ms-1"
        | "m.s-1" | "米/秒" => Unit::Mps,
        "km/h" | "kmh" | "kph" | "km_h" | "km/hr" | "kmph" | "km/u" | "km/t" | "公里/小时" => {
            Unit::Kmh
        }
        "yd" | "yds" | "yard" | "yards" | "y" | "yardas" | "iarde" | "verges" | "ヤード"
        | "야드" | "码" | "碼" => Unit::Yd,
        "m" | "meter" | "meters" | "metre" | "metres" | "mtr" | "mètres" | "metros" | "metri"
        | "metros." | "meters." | "metrar" | "metern" | "メートル" | "미터" | "米" => {
            Unit::M
        }
        "ft" | "feet" | "foot" | "'" | "fuß" | "fuss" | "pieds" | "pies" | "piedi" | "fot"
        | "voet" | "フィート" | "피트" | "英尺" => Unit::Ft,
        "deg" | "degs" | "degree" | "degrees" | "°" | "º" | "grad" | "degrés" | "grados"
        | "gradi" | "grader" | "graden" | "度" | "도" => Unit::Deg,
        "rpm" | "rev/min" | "revs/min" | "1/min" | "u/min" | "tr/min" | "tours/min"
        | "giri/min" | "giri/minuto" | "tpm" | "toeren/min" | "omw/min" | "varv/min" | "v/min"
        | "o/min" | "umdr/min" | "rev" | "r/min" | "回転/分" | "转/分" => Unit::Rpm,
        "s" | "sec" | "secs" | "second" | "seconds" | "sek" | "秒" | "초" => Unit::S,
        "ms" | "msec" | "msecs" => Unit::Ms,
        "mm" | "millimeter" | "millimetre" | "millimeters" | "millimetres" => Unit::Mm,
        "% bw" | "%bw" | "pct_bw" | "bw%" | "bw" => Unit::PctBw,
        "n" | "newton" | "newtons" => Unit::N,
        "kg" | "kgf" => Unit::Kg,
        "lb" | "lbs" | "lbf" => Unit::Lb,
        "n·m" | "nm" => Unit::Nm,
        "n·m/kg" | "nm/kg" | "nm_per_kg" => Unit::NmPerKg,
        "in" | "inch" | "inches" | "\"" => Unit::In,
        "cm" | "centimeter" | "centimetre" | "centimeters" | "centimetres" => Unit::Cm,
        "%" | "pct" | "percent" | "ft/s" | "fps" | "kn" | "knots" | "krpm" | "k rpm" | "rps"
        | "rad" | "radians" | "rad/s" | "deg/s" | "°/s" | "km" | "mi" | "mile" | "miles"
        | "min" | "h" | "hz" | "g" | "w" | "kw" | "j" | "psi" | "hpa" | "mbar" | "°c" | "°f"
        | "oz" | "dd" | "bpm" | "°/sec" | "deg/sec" | "m/s2" | "n/kg" | "w/kg" | "kpa" | "bar"
        | "inhg" => {
            return Some(Told::Other);
        }
        _ => return None,
    };
    Some(Told::Unit(unit))
}

/// A unit of a dimension by its name.
pub fn unit_named(dimension: Dimension, text: &str) -> Option<Unit> {
    // A share of body weight is written with its sign alone.
    if dimension == Dimension::BodyWeight && text.trim() == "%" {
        return Some(Unit::PctBw);
    }
    match named(text)? {
        Told::Unit(unit) => dimension.accepted().contains(&unit).then_some(unit),
        Told::Other => None,
    }
}

/// Whether a text is a unit of any kind.
pub fn is_unit(text: &str) -> bool {
    named(text).is_some()
}
