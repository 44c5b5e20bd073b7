//! The real binary, ended gently and otherwise.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::io::{Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command};
use std::time::Duration;

use rumek_store::{Database, Listing, Plans};
use rumek_testkit::{TestDatabase, free_port};

struct Server {
    child: Child,
    port: u16,
}

impl Server {
    async fn start(url: &str) -> Self {
        let port = free_port().unwrap();
        let child = Command::new(env!("CARGO_BIN_EXE_rumek"))
            .args(["serve", "--port", &port.to_string()])
            .env("RUMEK_DATABASE_URL", url)
            .spawn()
            .unwrap();
        let server = Self { child, port };
        for _ in 0..200 {
            if server.request("GET", "/readyz", "").is_some_and(|answer| answer.starts_with("HTTP/1.1 200")) {
                return server;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("the server does not become ready");
    }

    fn request(&self, method: &str, path: &str, body: &str) -> Option<String> {
        let mut stream = TcpStream::connect(("127.0.0.1", self.port)).ok()?;
        let (port, length) = (self.port, body.len());
        write!(
            stream,
            "{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nContent-Type: application/json\r\nContent-Length: {length}\r\nConnection: close\r\n\r\n{body}"
        )
        .ok()?;
        let mut answer = String::new();
        stream.read_to_string(&mut answer).ok()?;
        Some(answer)
    }

    fn signal(&mut self, name: &str) -> std::process::ExitStatus {
        assert!(Command::new("kill").args([name, &self.child.id().to_string()]).status().unwrap().success());
        self.child.wait().unwrap()
    }
}

async fn database() -> TestDatabase {
    TestDatabase::fresh(|url| async move { Ok(Database::connect(&url).await?.migrate().await?) }).await.unwrap()
}

const PLAN: &str = r#"{"document": {"format": "rumek.plan/1", "name": "Tow-plane"}}"#;

#[tokio::test]
async fn what_was_acknowledged_survives_a_killed_server() {
    let database = database().await;
    let mut server = Server::start(database.url()).await;
    let answer = server.request("POST", "/api/plans", PLAN).unwrap();
    assert!(answer.starts_with("HTTP/1.1 201"), "{answer}");
    server.signal("-KILL");
    let rows = Database::connect(database.url()).await.unwrap().shelf::<Plans>().list(Listing::Active).await.unwrap();
    assert_eq!(rows[0].document["name"], "Tow-plane");
    let mut again = Server::start(database.url()).await;
    assert!(again.request("GET", "/api/plans", "").unwrap().contains("Tow-plane"));
    again.signal("-KILL");
}

#[tokio::test]
async fn an_acknowledged_reading_survives_a_killed_server() {
    let database = database().await;
    let mut server = Server::start(database.url()).await;
    let id = "01a20000-0000-7000-8000-000000000001";
    let run = format!(r#"{{"id": "{id}", "document": {{"format": "rumek.run/1", "name": "Tow-plane"}}}}"#);
    assert!(server.request("POST", "/api/runs", &run).unwrap().starts_with("HTTP/1.1 201"));
    let reading = r#"{"taken_at": "2026-11-25T09:05:00Z", "reading": {"terminal_v": 22.9}}"#;
    let path = format!("/api/runs/{id}/readings/01a20000-0000-7000-8000-000000000002");
    assert!(server.request("PUT", &path, reading).unwrap().starts_with("HTTP/1.1 201"));
    server.signal("-KILL");
    let mut again = Server::start(database.url()).await;
    assert!(again.request("PUT", &path, reading).unwrap().starts_with("HTTP/1.1 200"), "it is there already");
    again.signal("-KILL");
}

#[tokio::test]
async fn asked_to_end_it_ends_by_itself() {
    let database = database().await;
    for name in ["-TERM", "-INT"] {
        let mut server = Server::start(database.url()).await;
        assert!(server.signal(name).success(), "{name}");
    }
}

#[tokio::test]
async fn a_busy_port_is_said() {
    let database = database().await;
    let mut first = Server::start(database.url()).await;
    let second = Command::new(env!("CARGO_BIN_EXE_rumek"))
        .args(["serve", "--port", &first.port.to_string(), "--database-url", database.url()])
        .output()
        .unwrap();
    assert!(!second.status.success());
    assert!(String::from_utf8_lossy(&second.stderr).contains("is busy"));
    first.signal("-TERM");
}
