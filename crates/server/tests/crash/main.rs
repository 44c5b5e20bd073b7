//! The real binary, ended gently and otherwise.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::io::{Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command};
use std::time::{Duration, Instant};

use rumek_store::{Database, Listing, Plans};
use rumek_testkit::{DurableCluster, TestDatabase, free_port};

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
        request(self.port, method, path, body)
    }

    fn signal(&mut self, name: &str) -> std::process::ExitStatus {
        assert!(Command::new("kill").args([name, &self.child.id().to_string()]).status().unwrap().success());
        self.child.wait().unwrap()
    }
}

fn request(port: u16, method: &str, path: &str, body: &str) -> Option<String> {
    let mut stream = TcpStream::connect(("127.0.0.1", port)).ok()?;
    let length = body.len();
    write!(
            stream,
            "{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nContent-Type: application/json\r\nContent-Length: {length}\r\nConnection: close\r\n\r\n{body}"
        )
        .ok()?;
    let mut answer = String::new();
    stream.read_to_string(&mut answer).ok()?;
    Some(answer)
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

/// Sends readings one after the other until the server no longer answers; those acknowledged.
fn send_until_it_dies(port: u16, run: &str, from: u32) -> Vec<String> {
    let mut acknowledged = Vec::new();
    for k in from.. {
        let id = format!("01a20000-0000-7000-8000-0000000{k:05x}");
        let reading = r#"{"taken_at": "2026-11-25T09:05:00Z", "reading": {"terminal_v": 22.9}}"#;
        match request(port, "PUT", &format!("/api/runs/{run}/readings/{id}"), reading) {
            Some(answer) if answer.starts_with("HTTP/1.1 201") => acknowledged.push(id),
            _ => break,
        }
    }
    acknowledged
}

#[tokio::test]
async fn acknowledged_readings_survive_a_killed_server_and_a_killed_database() {
    let cluster = DurableCluster::start().unwrap();
    let run = "01a20000-0000-7000-8000-000000000001";
    let mut server = Server::start(&cluster.url()).await;
    let body = format!(r#"{{"id": "{run}", "document": {{"format": "rumek.run/1", "name": "Tow-plane"}}}}"#);
    assert!(server.request("POST", "/api/runs", &body).unwrap().starts_with("HTTP/1.1 201"));
    let mut acknowledged = Vec::new();
    for (round, database_too) in [false, true, true].into_iter().enumerate() {
        let (port, from) = (server.port, 0x1000 * (round as u32 + 1));
        let sending = std::thread::spawn(move || send_until_it_dies(port, run, from));
        tokio::time::sleep(Duration::from_millis(400)).await;
        if database_too {
            cluster.kill().unwrap();
        }
        server.signal("-KILL");
        let sent = sending.join().unwrap();
        acknowledged.extend(sent);
        if database_too {
            cluster.start_again().unwrap();
        }
        server = Server::start(&cluster.url()).await;
    }
    assert!(acknowledged.len() > 10, "{}", acknowledged.len());
    let kept = server.request("GET", &format!("/api/runs/{run}/readings"), "").unwrap();
    for id in &acknowledged {
        assert!(kept.contains(id.as_str()), "{id} was acknowledged and is not there");
    }
    server.signal("-KILL");
}

#[tokio::test]
async fn asked_to_end_it_ends_though_a_page_listens() {
    let database = database().await;
    let mut server = Server::start(database.url()).await;
    let mut page = TcpStream::connect(("127.0.0.1", server.port)).unwrap();
    write!(page, "GET /api/changes HTTP/1.1\r\nHost: 127.0.0.1:{}\r\n\r\n", server.port).unwrap();
    let mut heard = [0; 1024];
    while !String::from_utf8_lossy(&heard).contains("data: everything") {
        assert!(page.read(&mut heard).unwrap() > 0);
    }
    let asked = Instant::now();
    assert!(server.signal("-TERM").success());
    assert!(asked.elapsed() < Duration::from_secs(5), "{:?}", asked.elapsed());
    let mut rest = String::new();
    page.read_to_string(&mut rest).unwrap();
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
