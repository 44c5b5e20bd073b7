//! What one changes, others hear of.

use std::time::Duration;

use axum::body::{Body, BodyDataStream};
use axum::http::Request;
use futures::StreamExt;
use rumek_server::api::router;
use rumek_server::app::App;
use rumek_store::{Database, Draft, Hint, Links, Packs};
use serde_json::json;
use tower::ServiceExt;
use uuid::Uuid;

use crate::Api;

async fn open(app: App) -> BodyDataStream {
    let request = Request::get("/api/changes").header("host", "127.0.0.1:7341").body(Body::empty()).unwrap();
    let response = router(app).oneshot(request).await.unwrap();
    assert_eq!(response.headers()["content-type"], "text/event-stream");
    response.into_body().into_data_stream()
}

async fn next(events: &mut BodyDataStream) -> String {
    let chunk = tokio::time::timeout(Duration::from_secs(30), events.next()).await.expect("an event");
    String::from_utf8(chunk.unwrap().unwrap().to_vec()).unwrap()
}

#[tokio::test(start_paused = true)]
async fn a_silent_stream_comments_and_ends_with_the_service() {
    let app = App::new(Database::connect("postgres://nobody@127.0.0.1:1/none").await.unwrap(), 7341);
    let mut events = open(app.clone()).await;
    assert_eq!(next(&mut events).await, "data: everything\n\n");
    let silent = tokio::time::Instant::now();
    assert!(next(&mut events).await.starts_with(':'));
    assert!((14..=16).contains(&silent.elapsed().as_secs()), "{:?}", silent.elapsed());
    app.hints.send(Hint::Table("packs".to_owned())).unwrap();
    assert_eq!(next(&mut events).await, "data: packs\n\n");
    app.closing.cancel();
    assert!(events.next().await.is_none());
}

#[tokio::test]
async fn what_another_server_writes_is_told_and_so_is_a_lost_connection() {
    let api = Api::start().await;
    let here = Database::connect(api.database.url()).await.unwrap();
    let (tell, mut told) = tokio::sync::mpsc::unbounded_channel();
    let listening = tokio::spawn(async move { here.listen(|hint| drop(tell.send(hint))).await });
    let mut hear =
        async || tokio::time::timeout(Duration::from_secs(20), told.recv()).await.expect("a hint").expect("it listens");
    assert_eq!(hear().await, Hint::Everything);
    let there = Database::connect(api.database.url()).await.unwrap();
    let draft = Draft { document: json!({"chemistry": "lipo"}), links: Links::default() };
    there.shelf::<Packs>().create(Uuid::now_v7(), draft).await.unwrap();
    assert_eq!(hear().await, Hint::Table("packs".to_owned()));
    let run = api.post("/api/runs", &json!({"document": {"format": "rumek.run/1"}})).await.json()["id"].clone();
    assert_eq!(hear().await, Hint::Table("runs".to_owned()));
    let run: Uuid = run.as_str().unwrap().parse().unwrap();
    let sent = json!({"taken_at": "2026-11-25T09:00:00Z", "reading": {"terminal_v": 22.9}});
    assert_eq!(api.put(&format!("/api/runs/{run}/readings/{}", Uuid::now_v7()), &sent).await.status, 201);
    assert_eq!(hear().await, Hint::Readings(run));
    // What is written into a run that is not there is not written.
    assert_eq!(api.put(&format!("/api/runs/{}/readings/{}", Uuid::now_v7(), Uuid::now_v7()), &sent).await.status, 404);
    api.database.lose().await.unwrap();
    api.database.bring_back().await.unwrap();
    assert_eq!(hear().await, Hint::Everything, "what was missed is not known");
    listening.abort();
}
