//! What a device tells that this version does not know: kept apart and told back, so that a
//! newer device is heard by an older server.

use serde_json::{Map, Value as Json};
use std::collections::BTreeSet;
use tally_core::vocabulary::characters::kept;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Dimension;

/// Most names of a line that are kept apart.
const MOST: usize = 60;
/// Longest name and longest value that are kept, bytes; of longer ones the name alone.
const LONGEST: [usize; 2] = [60, 400];

/// Fields of each line that are read.
const READ: [(&str, &[&str]); 2] = [
    (
        "hello",
        &[
            "type",
            "version",
            "token",
            "time",
            "kind",
            "run",
            "session",
            "measures",
            "calculates",
        ],
    ),
    (
        "shot",
        &[
            "type",
            "sequence",
            "time",
            "values",
            "implement",
            "swing_side",
            "position",
            "club",
            "block",
        ],
    ),
];

/// Whether a value's name is of no quantity that is known. A known one in a unit that is none
/// of its own is a mistake, and not new.
pub fn is_new(field: &str) -> bool {
    if Quantity::from_field(field).is_ok() {
        return false;
    }
    let units = || {
        Dimension::ALL
            .iter()
            .flat_map(|dimension| dimension.accepted())
    };
    let is_unit = |rest: &str| units().any(|unit| unit.suffix() == rest && !rest.is_empty());
    !Quantity::all().any(|quantity| {
        let rest = field.strip_prefix(quantity.key());
        rest.is_some_and(|rest| rest.is_empty() || rest.strip_prefix('_').is_some_and(is_unit))
    })
}

/// The fields of a line that are not read, with their values.
pub fn fields_of(object: &Map<String, Json>, line: &str) -> Map<String, Json> {
    let read = READ
        .iter()
        .find(|(of, _)| *of == line)
        .map_or(&[][..], |(_, read)| read);
    let mut apart = Map::new();
    for (name, value) in object {
        if !read.contains(&name.as_str()) {
            keep(&mut apart, name, value);
        }
    }
    apart
}

/// Keeps a name with its value apart, as far as there is room.
pub fn keep(apart: &mut Map<String, Json>, name: &str, value: &Json) {
    if apart.len() >= MOST {
        return;
    }
    let mut name = kept(name);
    name.truncate(name.floor_char_boundary(LONGEST[0]));
    let short = value.to_string().len() <= LONGEST[1] && !value.to_string().contains("\\u0000");
    apart.insert(name, if short { value.clone() } else { Json::Null });
}

/// Quantities of a list, and the names among them that are not known.
pub fn known_of(list: &[Json]) -> (BTreeSet<Quantity>, Vec<String>) {
    let (mut known, mut apart) = (BTreeSet::new(), Vec::new());
    for key in list {
        let told = key.as_str().map_or_else(|| key.to_string(), str::to_owned);
        match Quantity::from_key("quantity", &told) {
            Ok(quantity) => {
                known.insert(quantity);
            }
            Err(_) if apart.len() < MOST => {
                let mut name = kept(&told);
                name.truncate(name.floor_char_boundary(LONGEST[0]));
                apart.push(name);
            }
            Err(_) => {}
        }
    }
    (known, apart)
}
