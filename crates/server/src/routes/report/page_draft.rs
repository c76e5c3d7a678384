//! What may stand on a player's page: gathered from a session, or from the days of a period.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::recorded;
use crate::routes::session::acts::age_of;
use crate::routes::shots::balls::{balls_in, swings_in};
use crate::routes::training::plan::Plan;
use crate::routes::trials::decide::OfClub;
use crate::routes::trials::opening::opening_of;
use crate::state::App;
use axum::Json;
use chrono::{NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::report::draft::{Decided, DraftQuestion, GoalAhead, draft};
use tally_core::report::page::{DraftLine, Reader};
use tally_core::report::told::PageTold;
use tally_core::session::warm_up::GROWN;
use tally_core::shots::ball::Ball;
use tally_core::training::calendar::DayState;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::moment::day;
use tally_core::vocabulary::units::Units;
use tally_core::vocabulary::zone::date_in;
use tally_store::school::players::Player;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Planned sessions that a page tells of.
const PLANNED: usize = 2;

/// What a page is about: a session, or the days from one to another.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct About {
    /// The session.
    pub session: Option<Uuid>,
    /// The first day, where it is no session.
    pub from: Option<NaiveDate>,
    /// The last day.
    pub to: Option<NaiveDate>,
    /// Who reads it.
    pub reader: Reader,
    /// In which units.
    pub units: Units,
}

/// The same as it is asked for.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct DraftAsked {
    /// The session that the page is about.
    session: Option<Uuid>,
    /// The first day, where it is no session.
    from: Option<NaiveDate>,
    /// The last day.
    to: Option<NaiveDate>,
    /// Who reads it; a child's page when the player is one and nothing is said.
    #[param(inline)]
    reader: Option<Reader>,
    units: Units,
}

/// What may stand on a page.
#[derive(Serialize, ToSchema)]
pub struct PageDraft {
    /// The player's name.
    pub player_name: String,
    /// Whether the player is a child: the page calls them by the first name or initials.
    pub child: bool,
    /// Who reads it.
    pub reader: Reader,
    /// What could stand above it.
    pub title: String,
    /// The first day and the last that it is about.
    #[schema(value_type = Vec<NaiveDate>)]
    pub days: [NaiveDate; 2],
    /// The lines.
    pub lines: Vec<DraftLine>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(page_draft))
}

/// What may stand on a page of a session, or of the days of a period.
#[utoipa::path(get, path = "/players/{player}/page-draft", params(("player" = Uuid, Path), DraftAsked), responses((status = OK, body = PageDraft), Problem))]
async fn page_draft(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(asked): Query<DraftAsked>,
) -> Result<Json<PageDraft>, Problem> {
    let player = coach.store().player(coach.school(), player).await?;
    let usual = match is_child(&player) {
        true => Reader::Child,
        false => Reader::ClubPlayer,
    };
    let about = About {
        session: asked.session,
        from: asked.from,
        to: asked.to,
        reader: asked.reader.unwrap_or(usual),
        units: asked.units,
    };
    Ok(Json(draft_of(&coach, &player, about).await?))
}

/// Whether the page keeps to a first name or initials.
pub fn is_child(player: &Player) -> bool {
    age_of(player).is_some_and(|age| age < GROWN)
}

/// What may stand on the page of a player.
///
/// # Errors
/// [`Invalid`] when neither a session nor days are given, and the store's.
pub async fn draft_of(coach: &Coach, player: &Player, about: About) -> Result<PageDraft, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let rules = store.house_rules(school).await?;
    let (title, days, told) = match (about.session, about.from, about.to) {
        (Some(session), None, None) => of_session(coach, player, session, &rules).await?,
        (None, Some(from), Some(to)) => of_period(coach, player, [from, to], &rules).await?,
        _ => {
            let remedy = "give a session, or the first day and the last (from, to)";
            return Err(Invalid::missing("session", remedy).into());
        }
    };
    let decisions = store.decisions(school, player.id).await?.into_iter();
    let decisions: Vec<Decided> = decisions
        .filter(|decision| decision.done_at.is_none())
        .map(|decision| Decided {
            here: match about.session {
                Some(session) => decision.session_id == Some(session),
                None => (days[0]..=days[1]).contains(&decision.decided_at.date_naive()),
            },
            key: decision.id.to_string(),
            words: decision.words,
            recheck_on: decision.recheck_on,
        })
        .collect();
    let goals = store.goals(school, player.id).await?.into_iter();
    let goals: Vec<GoalAhead> = goals
        .map(|goal| GoalAhead {
            club: goal.club,
            quantity: goal.quantity,
            value: goal.value,
            by: goal.by_day,
        })
        .collect();
    let plan = Plan::of(store, school, player.id, Utc::now()).await?;
    let ahead = plan
        .days
        .iter()
        .filter(|view| view.day.date > plan.today && matches!(view.state, DayState::ToCome));
    let planned: Vec<(NaiveDate, String)> = ahead
        .take(PLANNED)
        .map(|view| (view.day.date, view.title.clone()))
        .collect();
    let lines = compute(school, move || {
        draft(&DraftQuestion {
            reader: about.reader,
            units: about.units,
            told: &told,
            decisions: &decisions,
            goals: &goals,
            planned: &planned,
            rules: &rules,
        })
    })
    .await?;
    Ok(PageDraft {
        player_name: player.name.clone(),
        child: is_child(player),
        reader: about.reader,
        title,
        days,
        lines,
    })
}

async fn of_session(
    coach: &Coach,
    player: &Player,
    id: Uuid,
    rules: &HouseRules,
) -> Result<(String, [NaiveDate; 2], PageTold), Problem> {
    let (store, school) = (coach.store(), coach.school());
    let hit = store.hit_session(school, id).await?;
    let session = hit.session.clone();
    if session.player_id != player.id {
        let remedy = "open the page from the session itself";
        return Err(Invalid::new("session", id, "is of another player", remedy).into());
    }
    let on = date_in(session.started_at, &session.zone);
    let title = session.purpose.label().to_owned();
    if hit.shots.is_empty() {
        return Ok((title, [on, on], PageTold::default()));
    }
    let shown = store.progress(school, id).await?.shown(session.purpose);
    let opening = opening_of(coach, id, OfClub::default()).await?;
    let rules = *rules;
    let told = compute(school, move || {
        let balls = balls_in(&hit, &rules, 0).into_iter();
        let balls: Vec<(String, Ball)> = balls
            .map(|stored| (stored.plan.known_as(), stored.ball))
            .collect();
        PageTold::of_session(opening, shown, &balls, &swings_in(&hit, &rules), &rules)
    })
    .await?;
    Ok((title, [on, on], told))
}

async fn of_period(
    coach: &Coach,
    player: &Player,
    days: [NaiveDate; 2],
    rules: &HouseRules,
) -> Result<(String, [NaiveDate; 2], PageTold), Problem> {
    let [from, to] = [day("from", days[0])?, day("to", days[1])?];
    if from > to {
        let remedy = "give a later day, or change the two";
        return Err(Invalid::new("to", to, "is before the first day", remedy).into());
    }
    let read = recorded(coach.store(), coach.school(), player.id, rules).await?;
    let rules = *rules;
    let told = compute(coach.school(), move || {
        PageTold::of_days(&read.occasions, [from, to], &rules)
    })
    .await?;
    Ok(("How it went".to_owned(), [from, to], told))
}
