//! What another club would do to a swing, and how a player swings the one of now.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::routes::reach::bench::{DeliveryAsked, balls_with_club};
use crate::routes::shots::balls::StoredBall;
use crate::state::App;
use axum::Json;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::reach::other_club::{ClubBuild, OtherClub, OtherClubQuestion, other_club};
use tally_core::reach::own_delivery::{OwnDelivery, own_delivery};
use tally_core::record::figures::is_usual;
use tally_core::vocabulary::keyed::Keyed;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Two clubs of a kind and a swing.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct OtherClubAsked {
    /// Key of the kind of club.
    club: String,
    conditions: Conditions,
    /// How the club of now is delivered.
    delivery: DeliveryAsked,
    /// What strikes stray by toe to heel, m.
    scatter_toe: f64,
    /// What they stray by high to low, m.
    scatter_high: f64,
    now: ClubBuild,
    other: ClubBuild,
    /// Steps that the other's shaft is softer; minus is stiffer.
    #[serde(default)]
    softer_steps: f64,
    /// How much higher the ball is teed with the other, m.
    #[serde(default)]
    tee_higher: f64,
}

/// Which club.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct OfClub {
    /// Its key.
    club: String,
}

/// How a player swings a club, and how that club is built.
#[derive(Serialize, ToSchema)]
struct DeliveryView {
    /// Absent where too few balls tell it.
    own: Option<OwnDelivery>,
    /// As noted in the bag, as usual where it is not.
    build: ClubBuild,
    /// Whether the bag tells its loft.
    loft_noted: bool,
    /// Whether the bag tells its length.
    length_noted: bool,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(bench_club))
        .routes(routes!(player_delivery))
}

/// What another club would do to a swing.
#[utoipa::path(post, path = "/bench/club", request_body = OtherClubAsked, responses((status = OK, body = OtherClub), Problem))]
async fn bench_club(
    coach: Coach,
    Body(asked): Body<OtherClubAsked>,
) -> Result<Json<OtherClub>, Problem> {
    let rules = coach.store().house_rules(coach.school()).await?;
    let club = Club::from_key("club", &asked.club)?;
    let question = OtherClubQuestion {
        club,
        conditions: asked.conditions,
        delivery: asked.delivery.with(club),
        scatter: [asked.scatter_toe, asked.scatter_high],
        now: asked.now,
        other: asked.other,
        softer_steps: asked.softer_steps,
        tee_higher: asked.tee_higher,
        tolerance: rules.window_tolerance,
    };
    let told = compute(coach.school(), move || other_club(&question)).await??;
    Ok(Json(told))
}

/// How a player usually delivers a club, and how that club is built.
#[utoipa::path(get, path = "/players/{player}/delivery", params(("player" = Uuid, Path), OfClub), responses((status = OK, body = DeliveryView), Problem))]
async fn player_delivery(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(of): Query<OfClub>,
) -> Result<Json<DeliveryView>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let club = Club::from_key("club", &of.club)?;
    store.player(school, player).await?;
    let rules = store.house_rules(school).await?;
    let bag = store.bag(school, player).await?;
    let noted = bag.iter().rev().find(|noted| noted.club == club);
    let usual = ClubBuild::usual(club);
    let build = ClubBuild {
        static_loft_deg: noted
            .and_then(|noted| noted.loft_deg)
            .unwrap_or(usual.static_loft_deg),
        club_length_m: noted
            .and_then(|noted| noted.length_m)
            .unwrap_or(usual.club_length_m),
        ..usual
    };
    let sessions = balls_with_club(&coach, player, club, &rules).await?;
    // An effort asked for, or another way of hitting, is not how the club is delivered.
    let usual = sessions.into_iter().flat_map(|(session, balls)| {
        let usual = move |stored: &StoredBall| is_usual(session.purpose, &stored.plan);
        balls.into_iter().filter(usual)
    });
    let balls: Vec<_> = usual.map(|stored| stored.ball).collect();
    let own = compute(school, move || own_delivery(&balls, club, &rules)).await?;
    Ok(Json(DeliveryView {
        own,
        loft_noted: noted.is_some_and(|noted| noted.loft_deg.is_some()),
        length_noted: noted.is_some_and(|noted| noted.length_m.is_some()),
        build,
    }))
}
