//! Who may ask, and how much.

use axum::body::Body;
use axum::http::Request;
use rstest::rstest;
use tower::ServiceExt;

use crate::{Api, plan};

const HOST: &str = "127.0.0.1:7341";

#[rstest]
#[case::ours(&[], 200)]
#[case::by_name(&[("host", "localhost:7341"), ("origin", "http://localhost:7341")], 200)]
#[case::by_six(&[("host", "[::1]:7341")], 200)]
#[case::our_page(&[("origin", "http://127.0.0.1:7341"), ("sec-fetch-site", "same-origin")], 200)]
#[case::typed_in(&[("sec-fetch-site", "none")], 200)]
#[case::other_host(&[("host", "tern-point.example:7341")], 421)]
#[case::other_port(&[("host", "127.0.0.1:80")], 421)]
#[case::no_host(&[("host", "")], 421)]
#[case::other_page(&[("origin", "http://tern-point.example")], 403)]
#[case::other_name_of_ours(&[("origin", "http://localhost:7341")], 403)]
#[case::secure_origin(&[("origin", "https://127.0.0.1:7341")], 403)]
#[case::no_origin_to_speak_of(&[("origin", "null")], 403)]
#[case::cross_site(&[("sec-fetch-site", "cross-site")], 403)]
#[case::same_site(&[("sec-fetch-site", "same-site")], 403)]
#[case::a_form(&[("content-type", "application/x-www-form-urlencoded")], 415)]
#[case::plain_text(&[("content-type", "text/plain")], 415)]
#[case::no_type(&[("content-type", "")], 415)]
#[case::two_hosts(&[("host", HOST), ("host", HOST)], 403)]
#[case::two_origins(&[("origin", "http://127.0.0.1:7341"), ("origin", "http://127.0.0.1:7341")], 403)]
#[case::two_sites(&[("sec-fetch-site", "same-origin"), ("sec-fetch-site", "cross-site")], 403)]
#[case::two_types(&[("content-type", "application/json"), ("content-type", "text/plain")], 403)]
#[case::with_charset(&[("content-type", "application/json; charset=utf-8")], 200)]
#[tokio::test]
async fn only_our_own_pages_may_write(#[case] headers: &[(&str, &str)], #[case] status: u16) {
    let api = Api::start().await;
    let answer = api.send("POST", "/api/plan", headers, plan().to_string()).await;
    assert_eq!(answer.status, status, "{answer:?}");
    assert!(answer.headers.keys().all(|name| !name.as_str().starts_with("access-control")));
    assert_eq!(answer.headers["x-content-type-options"], "nosniff");
    if status != 200 {
        answer.problem();
    }
}

#[tokio::test]
async fn other_sites_may_not_read_either_but_a_link_may_lead_here() {
    let api = Api::start().await;
    let cross = [("host", HOST), ("sec-fetch-site", "cross-site")];
    assert_eq!(api.send("GET", "/api/packs", &cross, Body::empty()).await.status, 403);
    assert_eq!(api.send("GET", "/plan", &cross, Body::empty()).await.status, 200);
    for path in ["/api/archive", "/api/changes", "/api/logbook"] {
        assert_eq!(api.send("GET", path, &cross, Body::empty()).await.status, 403, "{path}");
    }
    for path in ["/api/archive", "/api/logs?mapping=x&malformed=skip"] {
        assert_eq!(api.send("POST", path, &cross, "{}").await.status, 403, "{path}");
        assert_eq!(api.send("POST", path, &[("content-type", "text/plain")], "{}").await.status, 415, "{path}");
    }
    let foreign = [("host", "tern-point.example")];
    assert_eq!(api.send("GET", "/plan", &foreign, Body::empty()).await.status, 421);
}

#[tokio::test]
async fn a_body_too_large_and_a_wrong_method_are_problems_too() {
    let api = Api::start().await;
    let large = api.send("POST", "/api/plan", &[], vec![b' '; 300 * 1024]).await;
    assert_eq!(large.problem()["status"], 413);
    assert_eq!(api.send("DELETE", "/api/plan", &[], Body::empty()).await.problem()["status"], 405);
}

#[tokio::test(start_paused = true)]
async fn a_body_that_never_comes_is_given_up() {
    let database = rumek_store::Database::connect("postgres://nobody@127.0.0.1:1/none").await.unwrap();
    let app = rumek_server::app::App::new(database, 7341);
    let silence = Body::from_stream(futures::stream::pending::<Result<Vec<u8>, std::io::Error>>());
    let request = Request::post("/api/plan").header("host", HOST).header("content-type", "application/json");
    let response = rumek_server::api::router(app).oneshot(request.body(silence).unwrap()).await.unwrap();
    assert_eq!(response.status(), 503);
}

#[tokio::test]
async fn every_answer_carries_a_request_id() {
    let api = Api::start().await;
    let own = api.get("/healthz").await;
    assert_eq!(own.headers["x-request-id"].len(), 36);
    let given = api.send("GET", "/healthz", &[("x-request-id", "tow-7")], Body::empty()).await;
    assert_eq!(given.headers["x-request-id"], "tow-7");
}

#[tokio::test]
async fn a_database_of_a_newer_version_is_neither_read_nor_written() {
    let api = Api::start().await;
    let store = rumek_store::Database::connect(api.database.url()).await.unwrap();
    let app = rumek_server::app::App::new(store, 7341);
    app.newer.store(true, std::sync::atomic::Ordering::Relaxed);
    let router = rumek_server::api::router(app);
    for (method, path, status) in [
        ("GET", "/api/packs", 503),
        ("POST", "/api/packs", 503),
        ("GET", "/readyz", 503),
        ("GET", "/bench", 503),
        ("GET", "/healthz", 200),
    ] {
        let request = Request::builder().method(method).uri(path).header("host", HOST);
        let request = request.header("content-type", "application/json").body(Body::from("{}")).unwrap();
        let response = router.clone().oneshot(request).await.unwrap();
        assert_eq!(response.status(), status, "{path}");
        if status == 503 {
            let body = axum::body::to_bytes(response.into_body(), 10_000).await.unwrap();
            assert!(String::from_utf8_lossy(&body).contains("A newer version of Rumek"), "{path}");
        }
    }
}
