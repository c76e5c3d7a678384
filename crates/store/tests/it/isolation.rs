//! What the database itself keeps apart, whatever a query asks.

use tally_core::school::access::Role;
use tally_core::school::audited::Audited;
use tally_store::Store;
use tally_store::base::signed_in::SignedIn;
use tally_store::school::privacy::AuditFilter;
use tally_store::testing::{
    TestDatabase, change_as_application, count_forgetfully, founded, player,
};
use uuid::Uuid;

/// Tables that hold no school's data.
const NO_SCHOOL_S: [&str; 2] = ["__diesel_schema_migrations", "wrong_try"];
/// Tables that only the database's own user reads.
const SECRETS: [&str; 4] = [
    "credential",
    "web_session",
    "wrong_try",
    "__diesel_schema_migrations",
];

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
    for table in SECRETS {
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
async fn every_table_is_kept_apart_and_every_key_begins_with_its_school() {
    let database = TestDatabase::create().await;
    Store::open(&database.url).await.unwrap();
    let tables = database
        .ask("SELECT relname::text FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace")
        .await
        .unwrap();
    let open = database
        .ask(
            "SELECT relname::text FROM pg_class c WHERE relkind = 'r'
             AND relnamespace = 'public'::regnamespace
             AND NOT (relrowsecurity AND EXISTS (SELECT FROM pg_policy p
                WHERE p.polrelid = c.oid AND p.polname = 'own_school' AND p.polpermissive))
             ORDER BY 1",
        )
        .await
        .unwrap();
    assert!(tables.len() > 20);
    assert_eq!(open, NO_SCHOOL_S);
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
