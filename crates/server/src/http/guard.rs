//! Who may ask: the one person at this machine, from our own pages.
//!
//! A page of some other site must neither read nor write here (it could name us by any host name
//! it controls), so `Host`, `Origin`, `Sec-Fetch-Site` and the content type are all checked.

use axum::extract::{Request, State};
use axum::http::{HeaderMap, Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use crate::app::App;
use crate::problem::Problem;

/// Refuses what does not come from our own pages.
pub(crate) async fn check(State(app): State<App>, request: Request, next: Next) -> Response {
    match refuse(&request, app.port) {
        Some(problem) => problem.into_response(),
        None => next.run(request).await,
    }
}

fn refuse(request: &Request, port: u16) -> Option<Problem> {
    let headers = request.headers();
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
