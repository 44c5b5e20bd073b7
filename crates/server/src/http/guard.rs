//! Who may ask: the one person at this machine, from our own pages.
//!
//! A page of some other site must neither read nor write here (it could name us by any host name
//! it controls), so `Host`, `Origin`, `Sec-Fetch-Site` and the content type are all checked.

use axum::extract::{Request, State};
use std::sync::atomic::Ordering;

use axum::http::{HeaderMap, HeaderValue, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{Html, IntoResponse, Response};

use crate::app::App;
use crate::problem::{NEWER, Problem};

/// What decides who may ask is said once: of two, somebody else may go by the other.
const ONCE: [&str; 4] = ["host", "origin", "sec-fetch-site", "content-type"];

/// Refuses what does not come from our own pages.
pub(crate) async fn check(State(app): State<App>, request: Request, next: Next) -> Response {
    let mut response = match refuse(&request, app.port) {
        Some(problem) => problem.into_response(),
        None if app.newer.load(Ordering::Relaxed) && request.uri().path() != "/healthz" => newer(&request),
        None => next.run(request).await,
    };
    response.headers_mut().insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    response
}

/// In the place of everything: a newer version has shaped the database.
fn newer(request: &Request) -> Response {
    if request.uri().path().starts_with("/api") || request.uri().path() == "/readyz" {
        return Problem::newer().into_response();
    }
    let page = format!(
        "<!doctype html><html lang=\"en\"><title>Rumek</title><h1>Rumek cannot start</h1><p>{NEWER}</p></html>"
    );
    (StatusCode::SERVICE_UNAVAILABLE, Html(page)).into_response()
}

fn refuse(request: &Request, port: u16) -> Option<Problem> {
    let headers = request.headers();
    if let Some(name) = ONCE.iter().find(|name| headers.get_all(**name).iter().nth(1).is_some()) {
        return Some(Problem::forbidden(format!("{name} is said twice.")));
    }
    let ours = ["127.0.0.1", "localhost", "[::1]"].map(|name| format!("{name}:{port}"));
    let host = text(headers, "host");
    if !host.is_some_and(|host| ours.iter().any(|name| name.eq_ignore_ascii_case(host))) {
        return Some(Problem::misdirected(format!("Rumek answers only at http://127.0.0.1:{port}/.")));
    }
    if headers.contains_key(header::ORIGIN) {
        let origin = text(headers, "origin").and_then(|origin| origin.strip_prefix("http://"));
        if origin != host {
            return Some(Problem::forbidden("The request comes from another site's page."));
        }
    }
    if !request.uri().path().starts_with("/api") {
        return None;
    }
    if let Some(site) = headers.get("sec-fetch-site")
        && !matches!(site.to_str(), Ok("same-origin" | "none"))
    {
        return Some(Problem::forbidden("The request comes from another site's page."));
    }
    let writes = !matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    let media =
        text(headers, "content-type").map(|value| value.split(';').next().unwrap_or_default().trim().to_lowercase());
    if writes
        && !matches!(
            media.as_deref(),
            Some("application/json" | "text/csv" | "image/jpeg" | "image/png" | "image/webp")
        )
    {
        return Some(Problem::unsupported("Send application/json, text/csv or a picture."));
    }
    None
}

fn text<'a>(headers: &'a HeaderMap, name: &str) -> Option<&'a str> {
    headers.get(name).and_then(|value| value.to_str().ok())
}
