//! A coach's morning: what is under way, who is due, what there is to look at.

use crate::http::coach::Coach;
use crate::http::extract::Query;
use crate::http::problem::Problem;
use crate::made_up;
use crate::routes::record::standings::tell_all;
use crate::routes::session::sessions::ListedSession;
use crate::routes::shots::devices::{DeviceView, listed};
use crate::routes::trials::decisions::DecisionView;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Datelike, Duration, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::collections::HashMap;
use tally_core::record::flags::{Flag, FlagHead, FlagKind, FlagOrder, first_in_order};
use tally_core::record::standings::{BestToBeat, PlayerStanding};
use tally_core::school::access::children_born_after;
use tally_core::vocabulary::invalid::within;
use tally_core::vocabulary::sentence::Sentence;
use tally_store::record::standings::{Due, Flagged, Standings};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// What the day holds.
#[derive(Serialize, ToSchema)]
struct TodayView {
    /// Sessions in progress, latest first.
    in_progress: Vec<PlayersSession>,
    /// Decisions to look at again, the earliest first.
    rechecks: Vec<Recheck>,
    /// Players who check in and did not for long, the latest of them first.
    due: Vec<DuePlayer>,
    /// What there is to look at, as many as were asked for.
    flags: Vec<TodayFlag>,
    order: FlagOrder,
    /// How much there is in all.
    flags_in_all: usize,
    /// Players whose sessions are still being read: what there is to look at of them comes.
    still_reading: usize,
    /// Whether there is any player at all.
    any_players: bool,
    /// Whether players that we made up are in the school, to try with.
    made_up: bool,
}

/// A player who is due for a check-in.
#[derive(Serialize, ToSchema)]
struct DuePlayer {
    player: Uuid,
    player_name: String,
    /// When the last check-in began.
    last: DateTime<Utc>,
    /// Whole weeks since then.
    weeks: i64,
    check_ins: i32,
    /// The best there is to beat.
    to_beat: Option<BestToBeat>,
}

/// Something to look at, of a player or of a device.
#[derive(Serialize, ToSchema)]
struct TodayFlag {
    /// The player; none where it is a device's.
    player: Option<Uuid>,
    /// The player's name, or the device's.
    name: String,
    flag: Flag,
}

/// Players who are named as due, at most.
const MOST_DUE: i64 = 12;

/// A session with its player.
#[derive(Serialize, ToSchema)]
struct PlayersSession {
    player_name: String,
    session: ListedSession,
}

/// A decision to look at again.
#[derive(Serialize, ToSchema)]
struct Recheck {
    player_name: String,
    decision: DecisionView,
}

/// How much there is to look at is told.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct TodayWanted {
    /// Most things to look at; 60 when left out.
    flags: Option<u32>,
    /// Their order; the most urgent first when left out.
    order: Option<FlagOrder>,
}

/// Things to look at that are told where nobody asks for more, and at most.
const FLAGS_SHOWN: u32 = 60;
const MOST_FLAGS: std::ops::RangeInclusive<f64> = 1.0..=5_000.0;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(today))
}

/// Sessions in progress, who is due, and what there is to look at.
#[utoipa::path(get, path = "/today", params(TodayWanted), responses((status = OK, body = TodayView), Problem))]
async fn today(
    State(app): State<App>,
    coach: Coach,
    Query(wanted): Query<TodayWanted>,
) -> Result<Json<TodayView>, Problem> {
    let most = f64::from(wanted.flags.unwrap_or(FLAGS_SHOWN));
    let most = within("flags", most, MOST_FLAGS, "things to look at")?;
    let (store, school) = (coach.store(), coach.school());
    let now = Utc::now();
    let rules = store.house_rules(school).await?;
    let mark = store.figures_mark(school, &rules).await?;
    // Nobody waits for what many sessions take to read: what is told of these comes later.
    let Standings {
        untold: later,
        flagged,
    } = store.standings(school, mark).await?;
    let still_reading = later.len();
    if still_reading > 0
        && let Some(place) = app.reading.begin(coach.id())
    {
        // It goes on after the answer, and holds no connection meanwhile.
        let (store, rules) = (store.for_long(), rules);
        tokio::spawn(async move {
            if let Err(problem) = tell_all(&store, school, mark, later, &rules).await {
                tracing::warn!(?problem, "today: a player's sessions could not be read");
            }
            drop(place);
        });
    }
    let in_progress = store.sessions_in_progress(school).await?;
    let ids: Vec<Uuid> = in_progress.iter().map(|s| s.id).collect();
    let shots = store.shots_in(school, &ids).await?;
    let rechecks = store.decisions_to_recheck(school).await?;
    let since = now - Duration::weeks(rules.check_in_weeks as i64);
    let due = store.due_check_ins(school, since, MOST_DUE).await?;
    let mut flags = of_players(&flagged, now.date_naive());
    flags.extend(without_consent(&coach, now).await?);
    for device in listed(store, school).await? {
        let expected = device.session.is_some_and(|session| ids.contains(&session));
        if expected && !device.connected {
            flags.push(silent(&device, now));
        }
    }
    let order = wanted.order.unwrap_or_default();
    let flags_in_all = flags.len();
    let flags = first_in_order(flags, order, most as usize, |one| (one.head, &one.name));
    let shown: Vec<Uuid> = flags.iter().filter_map(|flag| flag.player).collect();
    let told = store.flags_of(school, mark, &shown).await?;
    let seen = rechecks.iter().map(|(d, _)| d.player_id);
    let seen: Vec<Uuid> = seen.chain(shown).collect();
    coach.has_seen(&seen).await?;
    let players: Vec<Uuid> = in_progress.iter().map(|s| s.player_id).collect();
    let names = store.names_of_players(school, &players).await?;
    let in_progress = in_progress.into_iter().map(|session| PlayersSession {
        player_name: names.get(&session.player_id).cloned().unwrap_or_default(),
        session: {
            let n = shots.get(&session.id).copied().unwrap_or(0);
            ListedSession::new(session, n)
        },
    });
    let due = due.into_iter().map(|due: Due<PlayerStanding>| DuePlayer {
        player: due.player,
        player_name: due.name,
        last: due.last,
        weeks: (now - due.last).num_weeks(),
        check_ins: due.check_ins,
        to_beat: due.told.and_then(|told| told.best),
    });
    let rechecks = rechecks.into_iter().map(|(decision, player_name)| Recheck {
        player_name,
        decision: decision.into(),
    });
    Ok(Json(TodayView {
        in_progress: in_progress.collect(),
        rechecks: rechecks.collect(),
        due: due.collect(),
        flags: flags
            .into_iter()
            .filter_map(|one| one.in_words(&told))
            .collect(),
        order,
        flags_in_all,
        still_reading,
        any_players: store.has_players(school).await?,
        made_up: made_up::are_in(store, school).await?,
    }))
}

/// Something to look at, before it is known whether it is among those that are shown.
struct Found<'a> {
    player: Option<Uuid>,
    name: Cow<'a, str>,
    head: FlagHead,
    in_words: InWords,
}

/// Where the words of it are.
enum InWords {
    /// Here.
    Here(Flag),
    /// Among what is kept of the player, at this place.
    Kept(usize),
}

impl Found<'_> {
    fn here(player: Option<Uuid>, name: String, flag: Flag) -> Found<'static> {
        Found {
            player,
            name: name.into(),
            head: flag.head(),
            in_words: InWords::Here(flag),
        }
    }

    /// Puts it in words, by what is kept of players; none where it changed meanwhile.
    fn in_words(self, kept: &HashMap<Uuid, Vec<Flag>>) -> Option<TodayFlag> {
        let flag = match self.in_words {
            InWords::Here(flag) => flag,
            InWords::Kept(at) => kept.get(&self.player?)?.get(at)?.clone(),
        };
        (flag.head() == self.head).then_some(TodayFlag {
            player: self.player,
            name: self.name.into_owned(),
            flag,
        })
    }
}

/// What there is to look at of players on a day, by what is kept of them.
fn of_players(flagged: &[Flagged], today: NaiveDate) -> Vec<Found<'_>> {
    let mut flags = Vec::new();
    for of in flagged {
        let heads = of.flags.iter().enumerate();
        flags.extend(
            heads
                .filter(|(_, head)| head.stands(today))
                .map(|(at, head)| Found {
                    player: Some(of.player),
                    name: of.name.as_str().into(),
                    head: *head,
                    in_words: InWords::Kept(at),
                }),
        );
    }
    flags
}

/// Children whose guardian's consent is to be asked for.
async fn without_consent(
    coach: &Coach,
    now: DateTime<Utc>,
) -> Result<Vec<Found<'static>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let children = children_born_after(now.year());
    let without = store.without_consent(school, children).await?.into_iter();
    let flags = without.map(|(player, name, added)| {
        let flag = Flag {
            kind: FlagKind::Consent,
            said: Sentence::of("No guardian's consent is noted: no session can be kept."),
            since: added.date_naive(),
            seen: now.date_naive(),
        };
        Found::here(Some(player), name, flag)
    });
    Ok(flags.collect())
}

fn silent(device: &DeviceView, now: DateTime<Utc>) -> Found<'static> {
    let flag = Flag {
        kind: FlagKind::SilentDevice,
        said: Sentence::of("A session waits for it, and it says nothing."),
        since: device.heard_at.unwrap_or(now).date_naive(),
        seen: now.date_naive(),
    };
    Found::here(None, device.name.clone(), flag)
}
