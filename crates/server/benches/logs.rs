//! Measures: how fast a long log comes in, from the file's bytes to PostgreSQL's disk, and how fast
//! its chart is answered.

#![allow(clippy::unwrap_used, missing_docs)]

use std::time::{Duration, Instant};

use axum::body::Body;
use axum::http::Request;
use http_body_util::BodyExt;
use rumek_server::api::router;
use rumek_server::app::App;
use rumek_store::Database;
use rumek_testkit::DurableCluster;
use serde_json::{Value, json};
use tower::ServiceExt;

const LINES: u32 = 1_000_000;
const CHART: usize = 800;

async fn ask(app: &App, method: &str, path: &str, media: &str, body: impl Into<Body>) -> Vec<u8> {
    let request = Request::builder().method(method).uri(path).header("host", "127.0.0.1:7341");
    let request = request.header("content-type", media).body(body.into()).unwrap();
    let answer = router(app.clone()).oneshot(request).await.unwrap();
    assert!(answer.status().is_success(), "{path}: {}", answer.status());
    answer.into_body().collect().await.unwrap().to_bytes().to_vec()
}

/// A pack charged for a day, a line every 86 ms.
fn log() -> String {
    let line = |k: u32| {
        let share = f64::from(k) / f64::from(LINES);
        let wobble = f64::from(k % 11) / 2000.0;
        let (volts, amps) = (21.6 + 3.5 * share + wobble, 2.6 - 2.4 * share + wobble);
        format!("{:.3};{volts:.3};{amps:.3};{:.1}\n", f64::from(k) * 0.086, 20.0 + 5.0 * share)
    };
    "Time (s);Voltage (V);Current (A);Temp (C)\n".to_owned() + &(0..LINES).map(line).collect::<String>()
}

#[tokio::main]
async fn main() {
    let cluster = DurableCluster::start().unwrap();
    let database = Database::connect(&cluster.url()).await.unwrap();
    database.migrate().await.unwrap();
    let app = App::new(database, 7341);
    let text = log();
    let head: String = text.lines().take(50).flat_map(|line| [line, "\n"]).collect();
    let look = json!({"text": head, "began_at": "2026-11-25T09:00:00Z"}).to_string();
    let look: Value =
        serde_json::from_slice(&ask(&app, "POST", "/api/logs/look", "application/json", look).await).unwrap();
    let mapping = json!({"document": look["look"]["mapping"]}).to_string();
    let mapping: Value =
        serde_json::from_slice(&ask(&app, "POST", "/api/log-mappings", "application/json", mapping).await).unwrap();
    let path =
        format!("/api/logs?malformed=refuse&began_at=2026-11-25T09:00:00Z&mapping={}", mapping["id"].as_str().unwrap());
    let mut run = String::new();
    for _ in 0..3 {
        let begun = Instant::now();
        let brought: Value = serde_json::from_slice(&ask(&app, "POST", &path, "text/csv", text.clone()).await).unwrap();
        let took = begun.elapsed();
        run = brought["run"]["id"].as_str().unwrap().to_owned();
        let rate = f64::from(LINES) / took.as_secs_f64();
        println!("{LINES} lines brought in: {:.2} s, {rate:.0} lines/s (aim 100000)", took.as_secs_f64());
    }
    let chart = format!("/api/runs/{run}/readings?at_most={CHART}");
    let mut took: Vec<Duration> = Vec::new();
    for _ in 0..30 {
        let begun = Instant::now();
        ask(&app, "GET", &chart, "application/json", Body::empty()).await;
        took.push(begun.elapsed());
    }
    took.sort();
    println!("their chart answered: median {:?}, slowest {:?} (aim 100 ms)", took[15], took[29]);
}
