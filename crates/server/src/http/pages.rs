//! The web build, carried in the binary.

use axum::body::Body;
use axum::http::{HeaderValue, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;
use uuid::Uuid;

use crate::problem::Problem;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Build;

/// What index.html has in place of each response's nonce.
const NONCE_PLACEHOLDER: &str = "__RUMEK_NONCE__";

/// Whether the binary was built with its pages.
#[must_use]
pub(crate) fn present() -> bool {
    Build::get("index.html").is_some()
}

/// A file of the build, or the page itself for every address the page routes by itself.
pub(crate) async fn serve(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    match Build::get(path).filter(|_| path != "index.html") {
        Some(file) => {
            let kind = mime_guess::from_path(path).first_or_octet_stream();
            let kept = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
            let mut response = Body::from(file.data).into_response();
            let headers = response.headers_mut();
            if let Ok(kind) = HeaderValue::from_str(kind.as_ref()) {
                headers.insert(header::CONTENT_TYPE, kind);
            }
            headers.insert(header::CACHE_CONTROL, HeaderValue::from_static(kept));
            response
        }
        None if path.rsplit('/').next().is_some_and(|name| name.contains('.')) => {
            Problem::not_found("There is no such file.").into_response()
        }
        None => index(),
    }
}

fn index() -> Response {
    let Some(file) = Build::get("index.html") else {
        return Problem::not_found("This build carries no pages.").into_response();
    };
    let nonce = Uuid::new_v4().simple().to_string();
    let html = String::from_utf8_lossy(&file.data).replace(NONCE_PLACEHOLDER, &nonce);
    let policy = format!(
        "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; font-src 'self'; connect-src 'self'; \
         img-src 'self' blob:; worker-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    );
    (
        StatusCode::OK,
        [
            (header::CONTENT_TYPE, "text/html; charset=utf-8".to_owned()),
            (header::CACHE_CONTROL, "no-store".to_owned()),
            (header::CONTENT_SECURITY_POLICY, policy),
            (header::REFERRER_POLICY, "no-referrer".to_owned()),
        ],
        html,
    )
        .into_response()
}
