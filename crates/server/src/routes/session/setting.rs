//! Where a session is held, in what weather, with which ball.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::state::App;
use axum::http::StatusCode;
use serde::Deserialize;
use tally_core::physics::ball_kind::BallKind;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::turf::Ground;
use tally_core::physics::wind::Wind;
use tally_core::school::audited::Audited;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::units::Dimension;
use tally_store::session::sessions::Session;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Where a session is held, in what weather, with which ball.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Setting {
    place: String,
    /// Whether it is under a roof; not known when it is not given.
    indoors: Option<bool>,
    /// Height above the sea, in `m`, `ft` or `yd`.
    altitude: Given,
    /// Temperature, in `c` or `f`.
    temperature: Given,
    /// Relative humidity, %; 50 when it is not given.
    humidity_pct: Option<f64>,
    /// Wind ten metres up, in `mph`, `kmh` or `mps`; none when it is not given.
    wind: Option<Given>,
    /// Where it comes from, deg: 0 is straight against, 90 from the right.
    wind_from_deg: Option<f64>,
    /// What balls land on; not known when it is not given.
    ground: Option<Ground>,
    /// `premium`, `competition` or `range`; premium when it is not given.
    ball: Option<String>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(change_setting))
}

/// Changes where a session is held, its weather or its ball.
#[utoipa::path(put, path = "/sessions/{session}", params(("session" = Uuid, Path)), request_body = Setting, responses((status = NO_CONTENT), Problem))]
async fn change_setting(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(setting): Body<Setting>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let (mut session, _) = store.session(school, id).await?;
    let was = session.clone();
    let mut errors = Vec::new();
    setting.check(&mut session, &mut errors);
    if !errors.is_empty() {
        return Err(errors.into());
    }
    store.save_session(school, &session).await?;
    // What is changed afterwards is a correction, and is written down as one.
    if was.ended_at.is_some() && session != was {
        let about = if session.place == was.place {
            "roof, weather, ground or ball".to_owned()
        } else {
            format!("place: {} → {}", was.place, session.place)
        };
        let of = Some(session.player_id);
        store
            .note(school, coach.id(), Audited::Correction, of, &about)
            .await?;
    }
    Ok(StatusCode::NO_CONTENT)
}

impl Setting {
    /// Puts itself into `session`; what cannot be used is added to `errors`.
    pub fn check(&self, session: &mut Session, errors: &mut Vec<Invalid>) {
        let mut keep = |checked: Result<f64, Invalid>| {
            checked.unwrap_or_else(|error| {
                errors.push(error);
                0.0
            })
        };
        let altitude_m = keep(self.altitude.of(Dimension::Height, "altitude"));
        let temperature_c = keep(self.temperature.celsius());
        let wind =
            self.wind.as_ref().map(|wind| Wind {
                speed_mps: keep(wind.of(Dimension::Speed, "wind")),
                from_deg: keep(self.wind_from_deg.ok_or_else(|| {
                    Invalid::missing("wind_from_deg", "say where the wind comes from")
                })),
            });
        let conditions = Conditions {
            altitude_m,
            ball_temperature_c: None,
            ball_flight: None,
            temperature_c,
            humidity_pct: self.humidity_pct.unwrap_or(Conditions::USUAL_HUMIDITY_PCT),
            pressure_hpa: session.pressure_hpa,
            // A calm is no wind.
            wind: wind.filter(|wind| wind.speed_mps != 0.0),
            ground: self.ground,
        };
        if errors.is_empty()
            && let Err(error) = conditions.air()
        {
            errors.push(error);
        }
        if let Some(Err(error)) = self.ground.map(|ground| ground.check()) {
            errors.push(error);
        }
        match text_within("place", &self.place, 200) {
            Ok(place) => session.place = place,
            Err(error) => errors.push(error),
        }
        if let Some(key) = &self.ball {
            match BallKind::from_key("ball", key) {
                Ok(ball) => session.ball = ball,
                Err(error) => errors.push(error),
            }
        }
        session.indoors = self.indoors;
        session.set_conditions(&conditions);
    }
}
