//! Where a player stands among the school's players and by the house's reference levels.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::recorded;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use chrono::{Datelike, Days, NaiveDate, Utc};
use serde::Deserialize;
use tally_core::physics::club::Club;
use tally_core::record::peers::{
    COMPARED, Peer, PeersQuestion, PeersTold, RECENT_DAYS, Usual, figure_key, peers, usual,
};
use tally_core::record::reference_levels::ReferenceLevel;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::base::keys::Key;
use tally_store::school::players::Player;
use tally_store::{Store, StoreError};
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// What is compared.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Compared {
    /// Key of a club.
    club: String,
    /// Key of a value: club speed, ball speed, carry or smash factor.
    quantity: String,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(player_peers))
}

/// Where a player stands among those of their age and level.
#[utoipa::path(get, path = "/players/{player}/peers", params(("player" = Uuid, Path), Compared), responses((status = OK, body = PeersTold), Problem))]
async fn player_peers(
    State(app): State<App>,
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(compared): Query<Compared>,
) -> Result<Json<PeersTold>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let player = store.player(school, id).await?;
    let club = Club::from_key("club", &compared.club)?;
    let quantity = Quantity::from_key("quantity", &compared.quantity)?;
    if !COMPARED.contains(&quantity) {
        let keys = COMPARED.map(Keyed::key).join(", ");
        let problem = "is no value of which more is better for everybody";
        let remedy = format!("use one of {keys}");
        return Err(Invalid::new("quantity", compared.quantity, problem, remedy).into());
    }
    let rules = store.house_rules(school).await?;
    let read = recorded(store, school, id, &rules).await?;
    let own = compute(school, move || usual(&read.occasions)).await?;
    let others = Others::of(&app.store, school, &player, (club, quantity)).await?;
    let own = own
        .into_iter()
        .find(|of| (of.club, of.quantity) == (club, quantity));
    Ok(Json(others.held_against(own)))
}

/// The school's other players, and what is known of this one.
pub struct Others {
    of: (Club, Quantity),
    born: Option<i32>,
    level: Option<PlayingLevel>,
    today: NaiveDate,
    others: Vec<Peer>,
    reference: Vec<ReferenceLevel>,
}

impl Others {
    /// Reads them. Every player of the school counts, whoever's they are: nobody is named, and
    /// of a few nothing is told.
    pub async fn of(
        all: &Store,
        school: Uuid,
        player: &Player,
        of: (Club, Quantity),
    ) -> Result<Self, StoreError> {
        let today = Utc::now().date_naive();
        let since = today - Days::new(RECENT_DAYS.unsigned_abs());
        let all = all.for_school(school);
        Ok(Others {
            of,
            born: player.born,
            level: player.level.map(|Key(level)| level),
            today,
            others: all
                .peers(school, player.id, &figure_key(of.0, of.1), since)
                .await?,
            reference: all.reference_levels(school).await?,
        })
    }

    /// Where a player with this figure stands.
    pub fn held_against(&self, own: Option<Usual>) -> PeersTold {
        let recent = |own: &Usual| (self.today - own.day).num_days() <= RECENT_DAYS;
        peers(&PeersQuestion {
            own: own.filter(recent),
            club: self.of.0,
            quantity: self.of.1,
            born: self.born,
            level: self.level,
            year: self.today.year(),
            others: &self.others,
            reference: &self.reference,
        })
    }
}
