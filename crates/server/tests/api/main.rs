//! The service over HTTP, on a real PostgreSQL.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

mod archives;
mod chain;
mod changes;
mod contract;
mod doors;
mod logs;
mod marks;
mod pages;
mod poisoned;
mod rescues;
mod runs;
mod shelf;
mod shelves;

use std::sync::atomic::Ordering;

use axum::Router;
use axum::body::Body;
use axum::http::{HeaderMap, Request, StatusCode};
use http_body_util::BodyExt;
use rumek_server::api::router;
use rumek_server::app::App;
use rumek_store::Database;
use rumek_testkit::TestDatabase;
use serde_json::Value;
use tower::ServiceExt;

struct Api {
    router: Router,
    database: TestDatabase,
}

struct Answer {
    status: StatusCode,
    headers: HeaderMap,
    bytes: Vec<u8>,
}

impl Answer {
    fn json(&self) -> Value {
        serde_json::from_slice(&self.bytes).unwrap_or_else(|error| panic!("{error}: {self:?}"))
    }

    /// The problem document, whose status is the answer's own.
    fn problem(&self) -> Value {
        assert_eq!(self.headers["content-type"], "application/problem+json", "{self:?}");
        let problem = self.json();
        assert_eq!(problem["status"], self.status.as_u16());
        assert!(problem["type"].as_str().unwrap().starts_with("urn:rumek:"));
        problem
    }
}

impl std::fmt::Debug for Answer {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{} {:?} {}", self.status, self.headers, String::from_utf8_lossy(&self.bytes))
    }
}

impl Api {
    async fn start() -> Self {
        let database = TestDatabase::fresh(|url| async move { Ok(Database::connect(&url).await?.migrate().await?) })
            .await
            .unwrap();
        let pool = Database::connect(database.url()).await.unwrap();
        let app = App::new(pool, 7341);
        app.migrated.store(true, Ordering::Relaxed);
        let router = router(app);
        Self { router, database }
    }

    /// Sends a request whose headers are as our own page's, but for those given.
    async fn send(&self, method: &str, path: &str, headers: &[(&str, &str)], body: impl Into<Body>) -> Answer {
        let mut request = Request::builder().method(method).uri(path);
        let own = [("host", "127.0.0.1:7341"), ("content-type", "application/json")];
        let kept = own.iter().filter(|(name, _)| !headers.iter().any(|(given, _)| given == name));
        for (name, value) in kept.chain(headers).filter(|(_, value)| !value.is_empty()) {
            request = request.header(*name, *value);
        }
        let response = self.router.clone().oneshot(request.body(body.into()).unwrap()).await.unwrap();
        let (parts, body) = response.into_parts();
        let bytes = body.collect().await.unwrap().to_bytes().to_vec();
        Answer { status: parts.status, headers: parts.headers, bytes }
    }

    async fn get(&self, path: &str) -> Answer {
        self.send("GET", path, &[], Body::empty()).await
    }

    async fn post(&self, path: &str, body: &Value) -> Answer {
        self.send("POST", path, &[], body.to_string()).await
    }

    async fn post_csv(&self, path: &str, text: impl Into<Body>) -> Answer {
        self.send("POST", path, &[("content-type", "text/csv")], text).await
    }

    async fn put(&self, path: &str, body: &Value) -> Answer {
        self.send("PUT", path, &[], body.to_string()).await
    }
}

/// A plan that answers.
fn plan() -> Value {
    serde_json::json!({
        "format": "rumek.plan/1", "name": "Tow-plane",
        "pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 4.0},
        "source": {"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5}
    })
}
