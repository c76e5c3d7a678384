//! Bram's programme: twelve weeks of three kinds of session, of which he is in the sixth; a
//! rise that levels off, a day missed, and two days held for a stiff back.

use chrono::{Datelike, Duration, NaiveDate, NaiveTime};
use tally_core::training::house_protocols::house_protocols;
use tally_core::training::implement::{Implement, ImplementKind};
use tally_core::training::programme::{
    Away, MixPart, Programme, ProgrammeAct, Progression, TrainingDay,
};

/// Whose it is, by place.
pub const OF_PLAYER: usize = 3;
/// First of its days.
const BEGINS: (i32, u32, u32) = (2026, 3, 10);
/// Weeks that speed rises for, and by how much, as a share.
const RISE: (f64, f64) = (4.0, 0.02);

/// What the school has to swing: name, kind and mass, g.
pub const IMPLEMENTS: [(&str, ImplementKind, f64); 5] = [
    ("light", ImplementKind::Lighter, 250.0),
    ("medium", ImplementKind::Lighter, 282.0),
    ("heavy", ImplementKind::Heavier, 326.0),
    ("counterweighted", ImplementKind::Counterweighted, 352.0),
    ("own driver", ImplementKind::OwnDriver, 312.0),
];

/// One of them.
pub fn implement((name, kind, grams): (&str, ImplementKind, f64)) -> Implement {
    Implement {
        name: name.to_owned(),
        kind,
        mass_kg: Some(grams / 1000.0),
        length_m: None,
    }
}

/// The programme, with every day of the scenario moved.
pub fn programme(moved: Duration, zone: &str) -> Programme {
    let (year, month, day) = BEGINS;
    let begins = NaiveDate::from_ymd_opt(year, month, day).expect("a day of the scenario");
    let begins = begins + moved;
    let ours = house_protocols();
    // Overspeed, strength, and balls for speed alone.
    let part = |at: usize| MixPart {
        protocol: ours[at].0,
        a_week: 1,
    };
    let on = |days| TrainingDay::of((begins + Duration::days(days)).weekday());
    Programme {
        name: "Spring speed".to_owned(),
        begins,
        weeks: 12,
        days: vec![on(0), on(2), on(4)],
        rest_days: 1,
        mix: vec![part(0), part(1), part(2)],
        check_in_weeks: 4,
        lighter_weeks: 4,
        progression: Progression {
            up_after: 3,
            back_after_days: 14,
        },
        at: NaiveTime::from_hms_opt(17, 30, 0),
        zone: zone.to_owned(),
    }
}

/// What changed its plan.
pub fn acts(programme: &Programme) -> Vec<ProgrammeAct> {
    let on = |days| programme.begins + Duration::days(days);
    vec![
        ProgrammeAct::Away {
            from: on(16),
            to: None,
            why: Away::Pain,
            note: "lower back stiff after moving house".to_owned(),
        },
        ProgrammeAct::Back { on: on(18) },
    ]
}

/// The day that was missed, counted from the first.
pub const MISSED: i64 = 30;

/// How fast he is on a day of the programme, as a share of his usual speed: a rise that levels
/// off, and days that differ.
pub fn form(day: i64, place: usize) -> f64 {
    let (weeks, rise) = RISE;
    let so_far = (day as f64 / 7.0 / weeks).min(1.0);
    // Two in a hundred either way, the same in every load.
    let differs = ((place as f64 * 2.399).sin()) * 0.008;
    1.0 + rise * so_far + differs
}
