//! What the database itself keeps apart, whatever a query asks.

use tally_core::school::access::Role;
use tally_core::school::audited::Audited;
use tally_store::base::columns::columns;
use tally_store::base::signed_in::SignedIn;
use tally_store::base::tables::{OfAPlayer, Seen, TABLES, Table, archived, secret};
use tally_store::school::groups::Group;
use tally_store::school::privacy::AuditFilter;
use tally_store::testing::{
    TestDatabase, change_as_application, count_forgetfully, founded, player,
};
use tally_store::{Store, StoreError};
use uuid::Uuid;

#[tokio::test(flavor = "multi_thread")]
async fn a_query_that_forgets_its_school_sees_its_own_and_one_without_a_school_nothing() {
    let database = TestDatabase::create().await;
    let all = Store::open(&database.url).await.unwrap();
    let (north, south) = (founded(&all, "north").await, founded(&all, "south").await);
    let (of_north, of_south) = (all.for_person(&north), all.for_person(&south));
    of_north
        .add_player(north.school_id, &player("Wren"))
        .await
        .unwrap();
    for table in ["school", "coach", "player"] {
        assert_eq!(
            count_forgetfully(&of_north, table).await.unwrap(),
            1,
            "{table}"
        );
        assert_eq!(count_forgetfully(&all, table).await.unwrap(), 0, "{table}");
    }
    assert_eq!(count_forgetfully(&of_south, "player").await.unwrap(), 0);
    // Nor can anything be written into another school.
    let wrong = of_south.add_player(north.school_id, &player("Lark")).await;
    assert!(wrong.is_err());
    assert_eq!(count_forgetfully(&of_north, "player").await.unwrap(), 1);
    for table in secret().chain(["__diesel_schema_migrations"]) {
        assert!(
            count_forgetfully(&of_north, table).await.is_err(),
            "{table} can be read"
        );
    }
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_noted_stays_as_it_was_noted() {
    let database = TestDatabase::create().await;
    let all = Store::open(&database.url).await.unwrap();
    let owner = founded(&all, "north").await;
    let (school, of_north) = (owner.school_id, all.for_person(&owner));
    of_north
        .note(school, owner.coach_id, Audited::Archive, None, "out")
        .await
        .unwrap();
    for change in ["UPDATE audit SET about = ''", "DELETE FROM audit"] {
        let done = change_as_application(&of_north, change).await;
        assert!(done.is_err(), "{change}");
    }
    let noted = of_north.audit(school, AuditFilter::default(), 10).await;
    let [row] = &noted.unwrap()[..] else {
        panic!("one was noted");
    };
    assert_eq!((row.act, row.about.as_str()), (Audited::Archive, "out"));
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_coach_sees_their_own_players_and_those_shared_with_them() {
    let database = TestDatabase::create().await;
    let all = Store::open(&database.url).await.unwrap();
    let owner = founded(&all, "north").await;
    let school = owner.school_id;
    let mut coaches = Vec::new();
    for name in ["maren", "runa"] {
        let id = Uuid::now_v7();
        all.add_person(school, id, Role::Coach, name, name)
            .await
            .unwrap();
        coaches.push(SignedIn {
            coach_id: id,
            role: Role::Coach,
            ..owner.clone()
        });
    }
    let [maren, runa] = [0, 1].map(|i| all.for_person(&coaches[i]));
    let wren = player("Wren");
    maren.add_player(school, &wren).await.unwrap();
    let seen = async |store: &Store| count_forgetfully(store, "player").await.unwrap();
    assert_eq!(seen(&maren).await, 1);
    assert_eq!(seen(&runa).await, 0);
    assert_eq!(seen(&all.for_person(&owner)).await, 1);
    let with = [coaches[1].coach_id];
    let by = all.for_school(school);
    by.save_sharing(school, wren.id, coaches[0].coach_id, &with)
        .await
        .unwrap();
    assert_eq!(seen(&runa).await, 1);
    by.save_sharing(school, wren.id, coaches[1].coach_id, &[])
        .await
        .unwrap();
    assert_eq!((seen(&maren).await, seen(&runa).await), (0, 1));
    assert!(
        by.save_sharing(school, wren.id, Uuid::now_v7(), &[])
            .await
            .is_err()
    );
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn the_list_of_tables_is_what_the_database_holds() {
    let database = TestDatabase::create().await;
    let listed = |told: fn(&Table) -> String| {
        let mut all: Vec<String> = TABLES.iter().map(told).collect();
        all.sort();
        all
    };
    let held = database
        .ask(
            "SELECT relname::text FROM pg_class WHERE relkind IN ('r', 'p') AND NOT relispartition
             AND relnamespace = 'public'::regnamespace
             AND relname <> '__diesel_schema_migrations' ORDER BY 1",
        )
        .await
        .unwrap();
    assert_eq!(held, listed(|table| table.name.to_owned()));

    let keys = database
        .ask(
            "SELECT c.relname || ': ' || (SELECT string_agg(a.attname, ', ' ORDER BY place)
                FROM unnest(k.conkey) WITH ORDINALITY AS u (n, place)
                JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = u.n)
             FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid
             WHERE k.contype = 'p' AND NOT c.relispartition AND c.relnamespace = 'public'::regnamespace
               AND c.relname <> '__diesel_schema_migrations' ORDER BY 1",
        )
        .await
        .unwrap();
    let key = |table: &Table| {
        let school = (table.seen != Seen::NoSchool).then_some("school_id");
        let columns: Vec<&str> = school
            .into_iter()
            .chain(table.key.iter().copied())
            .collect();
        format!("{}: {}", table.name, columns.join(", "))
    };
    assert_eq!(keys, listed(key));

    // Row-level security is on wherever there is a policy, and each policy is the one listed.
    let policies = database
        .ask(
            "SELECT c.relname || ': ' || coalesce((SELECT string_agg(polname, ', ' ORDER BY polname)
                FROM pg_policy p WHERE p.polrelid = c.oid AND c.relrowsecurity), '')
             FROM pg_class c WHERE relkind IN ('r', 'p') AND NOT relispartition AND relnamespace = 'public'::regnamespace
               AND relname <> '__diesel_schema_migrations' ORDER BY 1",
        )
        .await
        .unwrap();
    let policy = |table: &Table| format!("{}: {}", table.name, table.seen.policies().join(", "));
    assert_eq!(policies, listed(policy));
    let wrong = database
        .ask(
            "SELECT c.relname || ' ' || polname FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid
             WHERE (polname = 'own_school') <> polpermissive
                OR pg_get_expr(polqual, polrelid) NOT LIKE
                    CASE polname WHEN 'own_school' THEN '%school_id = %tally_school()%'
                                 WHEN 'seen_player' THEN '%tally_coach()%player_id IN%'
                                 ELSE '%coach_id = %tally_coach()%player_share%' END",
        )
        .await
        .unwrap();
    assert_eq!(wrong, Vec::<String>::new());

    // Whatever names a player is theirs: it goes with them, but for what must outlive them.
    let naming = database
        .ask(
            "SELECT relname::text FROM pg_class JOIN pg_attribute ON attrelid = pg_class.oid
             WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'p')
               AND NOT relispartition AND attname = 'player_id' ORDER BY 1",
        )
        .await
        .unwrap();
    let own: Vec<&str> = TABLES
        .iter()
        .filter(|table| table.of_a_player == OfAPlayer::Own || table.name == "audit")
        .map(|table| table.name)
        .collect();
    for table in &naming {
        assert!(
            own.contains(&table.as_str()),
            "{table} would be forgotten by an erasure"
        );
    }
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn what_belongs_to_a_player_is_seen_by_those_who_see_the_player() {
    let database = TestDatabase::create().await;
    let all = Store::open(&database.url).await.unwrap();
    let owner = founded(&all, "north").await;
    let school = owner.school_id;
    let mut coaches = Vec::new();
    for name in ["maren", "runa"] {
        let id = Uuid::now_v7();
        let added = all.add_person(school, id, Role::Coach, name, name).await;
        added.unwrap();
        coaches.push(SignedIn {
            coach_id: id,
            role: Role::Coach,
            ..owner.clone()
        });
    }
    let [maren, runa] = [0, 1].map(|i| all.for_person(&coaches[i]));
    let wren = player("Wren");
    maren.add_player(school, &wren).await.unwrap();
    let coach = coaches[0].coach_id;
    database
        .run(&format!(
            "INSERT INTO player_group (school_id, id, name) VALUES ('{school}', gen_random_uuid(), 'Juniors')"
        ))
        .await
        .unwrap();
    for (table, columns, values) in [
        ("bag_club", "id, club", "gen_random_uuid(), 'driver'"),
        (
            "target_window",
            "club, launch_from_deg, launch_to_deg, spin_from_rpm, spin_to_rpm",
            "'driver', 10, 12, 2000, 3000",
        ),
        (
            "import",
            "id, coach_id, file_name",
            "gen_random_uuid(), '{coach}', 'a.csv'",
        ),
        (
            "session",
            "id, purpose, club, place, altitude_m, temperature_c, humidity_pct, started_at, zone, ball",
            "gen_random_uuid(), 'benchmark', 'driver', 'Barn', 0, 15, 50, now(), 'UTC', 'premium'",
        ),
        (
            "goal",
            "club, quantity, value",
            "'driver', 'club_speed', 50",
        ),
        (
            "benchmark",
            "id, coach_id, name, club, held_on, setting, figures",
            "gen_random_uuid(), '{coach}', 'Spring', 'driver', now()::date, '{}', '[]'",
        ),
        (
            "page",
            "id, coach_id, body",
            "gen_random_uuid(), '{coach}', '{}'",
        ),
        (
            "next_choice",
            "item, coach_id, pinned",
            "'speed driver', '{coach}', true",
        ),
        (
            "decision",
            "id, coach_id, words, verdict, address",
            "gen_random_uuid(), '{coach}', 'Keep it', '', ''",
        ),
        ("comparison", "key, told, p", "repeat('a', 64), '[]', 0.5"),
        (
            "player_link",
            "id, coach_id, token_sha256, decisions, sessions, until",
            "gen_random_uuid(), '{coach}', '\\x00', true, true, now() + interval '1 day'",
        ),
        (
            "board",
            "session_id, coach_id, id, code, units, until",
            "(SELECT id FROM session), '{coach}', gen_random_uuid(), 'kq47wz', 'mph_yd', now() + interval '1 day'",
        ),
        (
            "player_group_member",
            "group_id",
            "(SELECT id FROM player_group)",
        ),
        (
            "implement",
            "id, name, kind",
            "gen_random_uuid(), 'light', 'lighter'",
        ),
        (
            "programme",
            "id, coach_id, body",
            "gen_random_uuid(), '{coach}', '{}'",
        ),
        (
            "programme_act",
            "id, programme_id, coach_id, act",
            "gen_random_uuid(), (SELECT id FROM programme), '{coach}', '{}'",
        ),
        (
            "calendar_feed",
            "id, coach_id, token_sha256",
            "gen_random_uuid(), '{coach}', '\\x00'",
        ),
    ] {
        let values = values.replace("{coach}", &coach.to_string());
        database
            .run(&format!(
                "INSERT INTO {table} (school_id, player_id, {columns}) VALUES ('{school}', '{}', {values})",
                wren.id
            ))
            .await
            .unwrap();
    }
    for table in TABLES
        .iter()
        .filter(|table| table.seen == Seen::OfSeenPlayers)
    {
        let seen = async |store: &Store| count_forgetfully(store, table.name).await.unwrap();
        assert_eq!(seen(&maren).await, 1, "{} of her own", table.name);
        assert_eq!(seen(&runa).await, 0, "{} of another's player", table.name);
        assert_eq!(
            seen(&all.for_person(&owner)).await,
            1,
            "{} by the owner",
            table.name
        );
    }
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_group_is_changed_and_dropped_for_oneself_alone_and_by_those_who_see_somebody_in_it() {
    let database = TestDatabase::create().await;
    let all = Store::open(&database.url).await.unwrap();
    let owner = founded(&all, "north").await;
    let school = owner.school_id;
    let (of_maren, of_runa) = (Uuid::now_v7(), Uuid::now_v7());
    let (wren, finch) = (player("Wren"), player("Finch"));
    let mut stores = Vec::new();
    for (id, name, player) in [(of_maren, "maren", &wren), (of_runa, "runa", &finch)] {
        let added = all.add_person(school, id, Role::Coach, name, name).await;
        added.unwrap();
        let store = all.for_person(&SignedIn {
            coach_id: id,
            role: Role::Coach,
            ..owner.clone()
        });
        store.add_player(school, player).await.unwrap();
        stores.push(store);
    }
    let [maren, runa] = [&stores[0], &stores[1]];
    let group = |players: &[Uuid]| Group {
        id: school,
        name: "Juniors".into(),
        players: players.to_vec(),
    };
    maren.save_group(school, &group(&[wren.id])).await.unwrap();
    // Whoever sees nobody in it neither sees it nor changes it nor drops it.
    assert_eq!(runa.groups(school).await.unwrap(), []);
    let stolen = runa.save_group(school, &group(&[finch.id])).await;
    assert!(matches!(stolen, Err(StoreError::NotFound(_))), "{stolen:?}");
    runa.drop_group(school, school).await.unwrap();
    assert_eq!(maren.groups(school).await.unwrap(), [group(&[wren.id])]);
    let unseen = maren.save_group(school, &group(&[finch.id])).await;
    assert!(matches!(unseen, Err(StoreError::NotFound(_))), "{unseen:?}");
    // The owner puts both in: each sees their own, and drops it for themselves.
    let head = all.for_person(&owner);
    head.save_group(school, &group(&[wren.id, finch.id]))
        .await
        .unwrap();
    assert_eq!(runa.groups(school).await.unwrap(), [group(&[finch.id])]);
    maren.drop_group(school, school).await.unwrap();
    assert_eq!(maren.groups(school).await.unwrap(), []);
    assert_eq!(runa.groups(school).await.unwrap(), [group(&[finch.id])]);
    runa.drop_group(school, school).await.unwrap();
    assert_eq!(head.groups(school).await.unwrap(), []);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn every_key_begins_with_its_school() {
    let database = TestDatabase::create().await;
    // Primary keys, unique ones and those that lead to another table: so a school's rows
    // can be put on one machine of several.
    let elsewhere = database
        .ask(
            "SELECT format('%s on %s', k.conname, c.relname) FROM pg_constraint k
             JOIN pg_class c ON c.oid = k.conrelid
             JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.conkey[1]
             WHERE k.contype IN ('p', 'u', 'f') AND c.relnamespace = 'public'::regnamespace
               AND a.attname <> 'school_id' AND c.relname NOT IN ('__diesel_schema_migrations', 'wrong_try')
             UNION ALL
             SELECT format('%s on %s', i.relname, c.relname) FROM pg_index x
             JOIN pg_class c ON c.oid = x.indrelid JOIN pg_class i ON i.oid = x.indexrelid
             JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = x.indkey[0]
             WHERE x.indisunique AND c.relnamespace = 'public'::regnamespace
               AND a.attname <> 'school_id' AND c.relname NOT IN ('__diesel_schema_migrations', 'wrong_try')",
        )
        .await
        .unwrap();
    assert_eq!(elsewhere, Vec::<String>::new());
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn every_column_that_an_archive_holds_has_a_rule_for_what_comes_in() {
    let database = TestDatabase::create().await;
    Store::open(&database.url).await.unwrap();
    for (table, home) in archived() {
        let all = format!(
            "SELECT column_name || (CASE is_nullable WHEN 'YES' THEN ' or none' ELSE '' END)
             FROM information_schema.columns
             WHERE table_schema = 'public' AND table_name = '{}' ORDER BY 1",
            table.name
        );
        let there: Vec<String> = database
            .ask(&all)
            .await
            .unwrap()
            .into_iter()
            .filter(|column| {
                let name = column.split(' ').next().unwrap_or_default();
                name != "school_id" && !home.contains(&name)
            })
            .collect();
        let mut ruled: Vec<String> = columns(table)
            .iter()
            .map(|column| {
                format!(
                    "{}{}",
                    column.name,
                    if column.empty { " or none" } else { "" }
                )
            })
            .collect();
        ruled.sort();
        assert_eq!(ruled, there, "{}", table.name);
    }
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn no_row_can_belong_to_two_players() {
    let database = TestDatabase::create().await;
    Store::open(&database.url).await.unwrap();
    let belongs = |table: &str| {
        let known = TABLES.iter().find(|known| known.name == table);
        known.is_some_and(|known| known.of_a_player.condition().is_some())
    };
    // Each foreign key to what belongs to a player: whose table, to which, by what.
    let keys = database
        .ask(
            "SELECT c.relname || ' ' || t.relname || ' ' || coalesce((SELECT string_agg(a.attname, ',')
                FROM unnest(k.conkey) u (n)
                JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = u.n
                WHERE a.attname <> 'school_id'), '')
             FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid
             JOIN pg_class t ON t.oid = k.confrelid
             WHERE k.contype = 'f' AND k.conparentid = 0 ORDER BY 1",
        )
        .await
        .unwrap();
    let keys: Vec<Vec<&str>> = keys.iter().map(|key| key.split(' ').collect()).collect();
    let mut pairs = 0;
    for (i, one) in keys.iter().enumerate() {
        for other in &keys[i + 1..] {
            if one[0] != other[0] || !belongs(one[1]) || !belongs(other[1]) {
                continue;
            }
            pairs += 1;
            let [by, too] = [one, other].map(|key| key[2].split(',').collect::<Vec<_>>());
            assert!(
                by.iter().any(|column| too.contains(column)),
                "a row of {} may lead to a {} and a {} of two players",
                one[0],
                one[1],
                other[1]
            );
        }
    }
    assert!(pairs >= 5, "{pairs}");
    database.remove().await.unwrap();
}
