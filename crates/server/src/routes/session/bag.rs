//! The clubs of a player's bag.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, NaiveDate, NaiveTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::session::bag;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::text::text_within;
use tally_store::session::bag::BagClub;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A club of a bag.
#[derive(Serialize, ToSchema)]
pub struct BagClubView {
    id: Uuid,
    club: Club,
    /// All that is known of it, in words.
    in_words: Sentence,
    loft_deg: Option<f64>,
    /// Length, m.
    length: Option<f64>,
    /// Mass, kg.
    mass: Option<f64>,
    /// Since when it is fitted as it is.
    fitted_on: NaiveDate,
    flex: String,
    head: String,
}

impl From<BagClub> for BagClubView {
    fn from(club: BagClub) -> Self {
        Self {
            in_words: in_words(&club),
            id: club.id,
            club: club.club,
            loft_deg: club.loft_deg,
            length: club.length_m,
            mass: club.mass_kg,
            fitted_on: club.added_at.date_naive(),
            flex: club.flex,
            head: club.head,
        }
    }
}

/// All that is known of a club of a bag.
pub fn in_words(club: &BagClub) -> Sentence {
    bag::BagClub {
        club: club.club,
        head: &club.head,
        loft_deg: club.loft_deg,
        length_m: club.length_m,
        mass_kg: club.mass_kg,
        flex: &club.flex,
    }
    .in_words()
}

/// A club to put into a bag.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewBagClub {
    /// Made by the sender.
    id: Uuid,
    /// Key of the kind of club.
    club: String,
    #[serde(default)]
    head: String,
    loft_deg: Option<f64>,
    /// Length, m.
    length_m: Option<f64>,
    /// Mass, g.
    mass_g: Option<f64>,
    #[serde(default)]
    flex: String,
    /// Since when it is fitted as it is; today when it is not given.
    fitted_on: Option<NaiveDate>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(players_bag, add_to_bag))
        .routes(routes!(take_from_bag))
}

/// The clubs in a player's bag.
#[utoipa::path(get, path = "/players/{player}/bag", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<BagClubView>), Problem))]
async fn players_bag(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<Json<Vec<BagClubView>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let bag = store.bag(school, player).await?;
    Ok(Json(bag.into_iter().map(BagClubView::from).collect()))
}

/// Puts a club into a player's bag.
#[utoipa::path(post, path = "/players/{player}/bag", params(("player" = Uuid, Path)), request_body = NewBagClub, responses((status = CREATED), Problem))]
async fn add_to_bag(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(new): Body<NewBagClub>,
) -> Result<StatusCode, Problem> {
    let club = new.check(player)?;
    coach.store().add_to_bag(coach.school(), &club).await?;
    Ok(StatusCode::CREATED)
}

/// Takes a club out of a player's bag; sessions hit with it keep it.
#[utoipa::path(delete, path = "/players/{player}/bag/{club}", params(("player" = Uuid, Path), ("club" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn take_from_bag(
    coach: Coach,
    Path((player, club)): Path<(Uuid, Uuid)>,
) -> Result<StatusCode, Problem> {
    coach
        .store()
        .take_from_bag(coach.school(), player, club, Utc::now())
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Clubs that were fitted before are not asked for.
const EARLIEST_FITTING: NaiveDate = NaiveDate::from_ymd_opt(1950, 1, 1).expect("a day");

/// When a day begins.
fn begins(day: NaiveDate) -> DateTime<Utc> {
    day.and_time(NaiveTime::MIN).and_utc()
}

impl NewBagClub {
    fn check(self, player: Uuid) -> Result<BagClub, Vec<Invalid>> {
        let mut errors = Vec::new();
        let club = Club::from_key("club", &self.club).map_err(|error| errors.push(error));
        for (field, value, range, unit) in [
            ("loft_deg", self.loft_deg, 4.0..=70.0, "deg"),
            ("length_m", self.length_m, 0.4..=1.4, "m"),
            ("mass_g", self.mass_g, 100.0..=800.0, "g"),
        ] {
            if let Some(Err(error)) = value.map(|v| within(field, v, range, unit)) {
                errors.push(error);
            }
        }
        for (field, text, most) in [("head", &self.head, 100), ("flex", &self.flex, 50)] {
            if !text.trim().is_empty()
                && let Err(error) = text_within(field, text, most)
            {
                errors.push(error);
            }
        }
        let now = Utc::now();
        if let Some(day) = self.fitted_on
            && (day > now.date_naive() || day < EARLIEST_FITTING)
        {
            let problem = "is no day on which a club was fitted";
            let remedy = "give a day since 1950 that is not to come";
            errors.push(Invalid::new("fitted_on", day, problem, remedy));
        }
        let (true, Ok(club)) = (errors.is_empty(), club) else {
            return Err(errors);
        };
        Ok(BagClub {
            id: self.id,
            player_id: player,
            club,
            head: self.head.trim().to_owned(),
            loft_deg: self.loft_deg,
            length_m: self.length_m,
            mass_kg: self.mass_g.map(|g| g / 1000.0),
            flex: self.flex.trim().to_owned(),
            added_at: self.fitted_on.map_or(now, begins),
        })
    }
}
