//! The store against a real PostgreSQL.
#![allow(clippy::unwrap_used, clippy::panic)]

use rumek_store::{
    Chargers, Database, Draft, Leads, Links, Listing, Origin, Packs, Plans, Records, StoreError, Stored, Supplies,
    Unknown, Worth,
};
use rumek_testkit::TestDatabase;
use sea_orm::{ConnectionTrait, DbBackend, Statement, TransactionTrait};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

async fn database() -> (Database, TestDatabase) {
    let test =
        TestDatabase::fresh(|url| async move { Ok(Database::connect(&url).await?.migrate().await?) }).await.unwrap();
    (Database::connect(test.url()).await.unwrap(), test)
}

fn draft(document: Value) -> Draft {
    Draft { document, links: Links::default() }
}

#[tokio::test]
async fn a_document_comes_back_as_given_and_its_version_rises() {
    let (database, _guard) = database().await;
    let packs = database.shelf::<Packs>();
    let document = json!({"name": "Tow-plane", "chemistry": "lipo", "series": 6, "capacity_ah": 4.1, "notes": "öäü"});
    let id = Uuid::now_v7();
    let first = packs.create(id, draft(document.clone())).await.unwrap();
    assert_eq!((first.version, &first.document), (1, &document));
    let second = packs.update(id, 1, draft(json!({"chemistry": "lfp"}))).await.unwrap();
    assert_eq!(second.version, 2);
    assert!(second.updated_at >= first.updated_at);
}

#[tokio::test]
async fn of_two_writers_the_later_sees_what_stands() {
    let (database, _guard) = database().await;
    let packs = database.shelf::<Packs>();
    let id = Uuid::now_v7();
    packs.create(id, draft(json!({"chemistry": "lipo"}))).await.unwrap();
    packs.update(id, 1, draft(json!({"chemistry": "lfp"}))).await.unwrap();
    match packs.update(id, 1, draft(json!({"chemistry": "lto"}))).await {
        Err(StoreError::Conflict(stands)) => assert_eq!(stands.document, json!({"chemistry": "lfp"})),
        other => panic!("{other:?}"),
    }
    assert!(matches!(packs.create(id, draft(json!({"chemistry": "lto"}))).await, Err(StoreError::Exists("pack"))));
    assert!(matches!(packs.get(Uuid::now_v7()).await, Err(StoreError::NotFound("pack"))));
}

#[tokio::test]
async fn archived_rows_leave_the_list_and_come_back() {
    let (database, _guard) = database().await;
    let gear = database.shelf::<Supplies>();
    let id = Uuid::now_v7();
    gear.create(id, draft(json!({"kind": "bench_supply"}))).await.unwrap();
    gear.put_away(id, 1, Listing::Archived).await.unwrap();
    assert!(gear.list(Listing::Active).await.unwrap().is_empty());
    assert_eq!(gear.list(Listing::Archived).await.unwrap().len(), 1);
    gear.put_away(id, 2, Listing::Active).await.unwrap();
    assert_eq!(gear.list(Listing::Active).await.unwrap()[0].version, 3);
}

#[tokio::test]
async fn the_database_holds_its_own_rules() {
    let (database, _guard) = database().await;
    let packs = database.shelf::<Packs>();
    for wrong in [
        json!({"chemistry": "lipo", "capacity_ah": -1}),
        json!({"series": 6}),
        json!([1]),
        json!({"chemistry": "lipo", "series": "x"}),
    ] {
        let result = packs.create(Uuid::now_v7(), draft(wrong.clone())).await;
        assert!(matches!(result, Err(StoreError::Refused(_))), "{wrong}: {result:?}");
    }
    let plans = database.shelf::<Plans>();
    let origin = Some(Origin { id: Uuid::now_v7(), version: 1 });
    let dangling =
        Draft { document: json!({"format": "rumek.plan/1"}), links: Links { pack: origin, ..Links::default() } };
    assert!(matches!(plans.create(Uuid::now_v7(), dangling).await, Err(StoreError::Refused(_))));
}

#[tokio::test]
async fn a_plan_remembers_where_its_values_came_from() {
    let (database, _guard) = database().await;
    let pack = database.shelf::<Packs>().create(Uuid::now_v7(), draft(json!({"chemistry": "lipo"}))).await.unwrap();
    let lead = json!({"awg": 16, "length_m": 0.5});
    let lead = database.shelf::<Leads>().create(Uuid::now_v7(), draft(lead)).await.unwrap();
    let charger = json!({"kind": "hobby_charger"});
    let charger = database.shelf::<Chargers>().create(Uuid::now_v7(), draft(charger)).await.unwrap();
    let origin = |row: &Stored| Some(Origin { id: row.id, version: row.version });
    let links =
        Links { pack: origin(&pack), source: None, charger: origin(&charger), input: None, output: origin(&lead) };
    let plan = Draft { document: json!({"format": "rumek.plan/1"}), links };
    let stored = database.shelf::<Plans>().create(Uuid::now_v7(), plan).await.unwrap();
    assert_eq!(stored.links, links);
}

#[tokio::test]
async fn an_absent_database_is_unavailable_not_broken() {
    let database = Database::connect("postgres://nobody@127.0.0.1:1/none").await.unwrap();
    assert!(matches!(database.shelf::<Packs>().list(Listing::Active).await, Err(StoreError::Unavailable(_))));
}

/// A pack's standing, worked out when what is known of it had changed so often.
fn worth(unknown: &Unknown) -> Worth {
    Worth {
        pack: unknown.pack.id,
        known: unknown.known,
        document: json!({}),
        rank: 5,
        due: None,
        health: None,
        used: None,
        holds_until: OffsetDateTime::now_utc() + time::Duration::DAY,
    }
}

fn rest_of(pack: Uuid) -> Draft {
    let document = json!({"format": "rumek.record/1", "kind": "rest", "at": "2026-05-01T10:00:00Z", "voltage_v": 11.5});
    Draft { document, links: Links { pack: Some(Origin { id: pack, version: 1 }), ..Links::default() } }
}

#[tokio::test]
async fn a_standing_is_kept_only_while_what_it_follows_from_is_as_it_was_read() {
    let (database, _guard) = database().await;
    let standings = database.standings();
    for change in ["record", "record put away", "pack"] {
        let pack = database.shelf::<Packs>().create(Uuid::now_v7(), draft(json!({"chemistry": "lipo"}))).await.unwrap();
        let records = database.shelf::<Records>();
        let first = records.create(Uuid::now_v7(), rest_of(pack.id)).await.unwrap();
        let read = standings.unknown(10).await.unwrap().remove(0);
        match change {
            "record" => drop(records.create(Uuid::now_v7(), rest_of(pack.id)).await.unwrap()),
            "pack" => {
                drop(database.shelf::<Packs>().update(pack.id, 1, draft(json!({"chemistry": "lfp"}))).await.unwrap())
            }
            _ => drop(records.put_away(first.id, 1, Listing::Archived).await.unwrap()),
        }
        assert_eq!(standings.keep(&[worth(&read)]).await.unwrap(), 0, "{change}");
        let read = standings.unknown(10).await.unwrap().remove(0);
        assert_eq!(standings.keep(&[worth(&read)]).await.unwrap(), 1, "{change}");
        assert_eq!(standings.unknown(10).await.unwrap(), [], "{change}");
        records.create(Uuid::now_v7(), rest_of(pack.id)).await.unwrap();
        let read = standings.unknown(10).await.unwrap().remove(0);
        standings.keep(&[worth(&read)]).await.unwrap();
    }
}

#[tokio::test]
async fn a_standing_is_not_kept_while_what_it_follows_from_is_being_changed() {
    let (database, guard) = database().await;
    let pack = database.shelf::<Packs>().create(Uuid::now_v7(), draft(json!({"chemistry": "lipo"}))).await.unwrap();
    let other = sea_orm::Database::connect(guard.url()).await.unwrap();
    let change = other.begin().await.unwrap();
    let insert = "INSERT INTO records (id, document, pack_id, pack_version) \
                  VALUES ($1, '{\"format\": \"rumek.record/1\", \"kind\": \"note\"}', $2, 1)";
    let insert = Statement::from_sql_and_values(DbBackend::Postgres, insert, [Uuid::now_v7().into(), pack.id.into()]);
    change.execute_raw(insert).await.unwrap();
    let read = database.standings().unknown(10).await.unwrap().remove(0);
    // Not waited for either: this would never come back.
    assert_eq!(database.standings().keep(&[worth(&read)]).await.unwrap(), 0);
    change.commit().await.unwrap();
    assert_eq!(database.standings().keep(&[worth(&read)]).await.unwrap(), 0);
    assert_eq!(database.standings().unknown(10).await.unwrap().len(), 1);
}

#[tokio::test]
async fn a_database_that_a_newer_version_shaped_is_not_touched() {
    let (database, guard) = database().await;
    database.migrate().await.unwrap();
    let other = sea_orm::Database::connect(guard.url()).await.unwrap();
    let later = "INSERT INTO seaql_migrations (version, applied_at) VALUES ('m20990101_000001_later', 0)";
    other.execute_unprepared(later).await.unwrap();
    assert!(matches!(database.migrate().await, Err(StoreError::Newer)));
}

#[tokio::test]
async fn two_servers_that_shape_a_database_at_once_do_it_once() {
    let test = TestDatabase::fresh(|_| async { Ok(()) }).await.unwrap();
    let servers = [Database::connect(test.url()).await.unwrap(), Database::connect(test.url()).await.unwrap()];
    let (one, other) = tokio::join!(servers[0].migrate(), servers[1].migrate());
    one.and(other).unwrap();
}
