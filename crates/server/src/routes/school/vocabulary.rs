//! The words and units of the job, so that the browser needs none of its own.

use crate::state::App;
use axum::Json;
use serde::Serialize;
use tally_core::physics::ball_flight::BallFlight;
use tally_core::physics::club::Club;
use tally_core::physics::impact::Delivery;
use tally_core::physics::launch::Launch;
use tally_core::reach::other_club::ClubBuild;
use tally_core::reach::own_delivery::USUAL_SCATTER;
use tally_core::session::acts::MOST_NUMBERS;
use tally_core::session::purpose::Purpose;
use tally_core::shots::useful_flight::{CheckKind, CheckWord};
use tally_core::vocabulary::glossary::{Word, glossary};
use tally_core::vocabulary::inputs::{INPUTS, Input};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Dimension, Units};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// Everything that has a name.
#[derive(Serialize, ToSchema)]
struct Vocabulary {
    quantities: Vec<QuantityWord>,
    units: Vec<ShownUnit>,
    /// Every unit in which a dimension may be given.
    accepted: Vec<AcceptedUnit>,
    clubs: Vec<ClubWord>,
    purposes: Vec<PurposeWord>,
    /// What is found of a flight that is not useful, and how that is worded.
    checks: Vec<CheckWord>,
    /// What the words of the trade mean.
    glossary: Vec<Word>,
    /// Numbers shown while balls are hit, at most.
    most_numbers: usize,
    /// What can be typed or dragged at the bench.
    inputs: Vec<Input>,
    /// What strikes stray by until a player's own are known, toe to heel and high to low, m.
    usual_scatter: [f64; 2],
    /// How a reduced-flight ball flies, until the coach knows better.
    reduced_flight: BallFlight,
}

/// A quantity.
#[derive(Serialize, ToSchema)]
struct QuantityWord {
    key: Quantity,
    label: &'static str,
    dimension: Dimension,
    has_best: bool,
}

/// How a dimension is shown under one choice of units.
#[derive(Serialize, ToSchema)]
struct ShownUnit {
    units: Units,
    dimension: Dimension,
    /// What stands behind the number.
    symbol: &'static str,
    /// Its name in requests.
    suffix: &'static str,
    /// How many internal units one of it is.
    size: f64,
    /// Decimals shown.
    decimals: u8,
    /// Step to which it is rounded, in shown units.
    step: f64,
}

/// A unit in which a dimension may be given.
#[derive(Serialize, ToSchema)]
struct AcceptedUnit {
    dimension: Dimension,
    /// Its name in requests.
    suffix: &'static str,
    symbol: &'static str,
}

/// A club.
#[derive(Serialize, ToSchema)]
struct ClubWord {
    key: Club,
    label: &'static str,
    /// A sound delivery, to start from.
    delivery: Delivery,
    /// Its launch.
    launch: Launch,
    /// How such a club is usually built.
    build: ClubBuild,
    /// Whether its ball usually stands on a tee.
    teed: bool,
}

/// A purpose.
#[derive(Serialize, ToSchema)]
struct PurposeWord {
    key: Purpose,
    label: &'static str,
    /// What it answers.
    about: &'static str,
    /// The numbers it shows while shots are hit, the greatest first.
    shown: &'static [Quantity],
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(vocabulary))
}

/// The vocabulary.
#[utoipa::path(get, path = "/vocabulary", responses((status = OK, body = Vocabulary)))]
async fn vocabulary() -> Json<Vocabulary> {
    let units = Units::all()
        .flat_map(|units| Dimension::ALL.map(|dimension| (units, dimension)))
        .map(|(units, dimension)| {
            let unit = dimension.shown(units);
            ShownUnit {
                units,
                dimension,
                symbol: unit.symbol(),
                suffix: unit.suffix(),
                size: unit.size(),
                decimals: dimension.decimals(),
                step: dimension.step(),
            }
        });
    Json(Vocabulary {
        inputs: INPUTS.to_vec(),
        usual_scatter: USUAL_SCATTER,
        reduced_flight: BallFlight::REDUCED,
        checks: CheckKind::ALL.map(CheckKind::word).into(),
        quantities: Quantity::all()
            .map(|key| QuantityWord {
                key,
                label: key.label(),
                dimension: key.dimension(),
                has_best: key.has_best(),
            })
            .collect(),
        units: units.collect(),
        accepted: Dimension::ALL
            .into_iter()
            .flat_map(|dimension| {
                let units = dimension.accepted().iter();
                units.map(move |unit| AcceptedUnit {
                    dimension,
                    suffix: unit.suffix(),
                    symbol: unit.symbol(),
                })
            })
            .collect(),
        clubs: Club::all()
            .map(|key| ClubWord {
                key,
                label: key.label(),
                delivery: key.sound_delivery(),
                launch: key.reference_launch(key.sound_delivery().club_speed),
                build: ClubBuild::usual(key),
                teed: key.teed(),
            })
            .collect(),
        glossary: glossary(),
        most_numbers: MOST_NUMBERS,
        purposes: Purpose::all()
            .map(|key| PurposeWord {
                key,
                label: key.label(),
                about: key.about(),
                shown: key.shown(),
            })
            .collect(),
    })
}
