//! One error type: RFC 9457 problem documents for every failure, ours or the framework's.

use axum::body::Body;
use axum::extract::Request;
use axum::http::{HeaderValue, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use rumek_core::formats::{Problem as FieldProblem, Problems};
use rumek_store::StoreError;
use schemars::JsonSchema;
use serde::Serialize;

use crate::wire::StoredDoc;

const MEDIA_TYPE: &str = "application/problem+json";

/// What is said where a newer version has shaped the database, on pages and by the API.
pub(crate) const NEWER: &str = "A newer version of Rumek made this database, and this version does not understand it. \
    Start that version, or a newer one. Nothing has been read or changed.";

/// What went wrong, where, and what is allowed.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub(crate) struct Problem {
    /// A stable name of the kind of problem.
    #[serde(rename = "type")]
    pub kind: &'static str,
    /// The kind in words.
    pub title: &'static str,
    /// The HTTP status.
    pub status: u16,
    /// This very case in words.
    pub detail: String,
    /// Every field that is wrong; empty where it is not about fields.
    pub problems: Vec<FieldProblem>,
    /// What stands now, where somebody saved in between.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub current: Option<Box<StoredDoc<serde_json::Value>>>,
}

impl Problem {
    fn new(status: StatusCode, kind: &'static str, title: &'static str, detail: impl Into<String>) -> Self {
        Self { kind, title, status: status.as_u16(), detail: detail.into(), problems: Vec::new(), current: None }
    }

    /// The same problem, this very case in other words.
    pub(crate) fn saying(mut self, detail: impl Into<String>) -> Self {
        self.detail = detail.into();
        self
    }

    pub(crate) fn not_found(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::NOT_FOUND, "urn:rumek:not-found", "Not found", detail)
    }

    pub(crate) fn unavailable(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::SERVICE_UNAVAILABLE, "urn:rumek:unavailable", "Unavailable", detail)
    }

    pub(crate) fn misdirected(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::MISDIRECTED_REQUEST, "urn:rumek:wrong-host", "Wrong host", detail)
    }

    pub(crate) fn forbidden(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::FORBIDDEN, "urn:rumek:foreign-origin", "Foreign origin", detail)
    }

    pub(crate) fn unsupported(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::UNSUPPORTED_MEDIA_TYPE, "urn:rumek:content-type", "Wrong content type", detail)
    }

    pub(crate) fn too_large(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::PAYLOAD_TOO_LARGE, "urn:rumek:too-large", "Too large", detail)
    }

    /// Something failed here that is nobody's input.
    pub(crate) fn failed(cause: &impl std::fmt::Display) -> Self {
        tracing::error!(%cause, "failed");
        Self::of_status(StatusCode::INTERNAL_SERVER_ERROR)
    }

    pub(crate) fn conflict(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::CONFLICT, "urn:rumek:conflict", "Changed in between", detail)
    }

    /// A newer version has shaped the database.
    pub(crate) fn newer() -> Self {
        Self::new(StatusCode::SERVICE_UNAVAILABLE, "urn:rumek:newer", "A newer Rumek made this database", NEWER)
    }

    /// A reading that comes after its run has ended: it is asked about before it is kept.
    pub(crate) fn ended(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::CONFLICT, "urn:rumek:ended", "The run has ended", detail)
    }

    /// What a bare status of the framework means.
    fn of_status(status: StatusCode) -> Self {
        match status {
            StatusCode::NOT_FOUND => Self::not_found("There is nothing at this address."),
            StatusCode::METHOD_NOT_ALLOWED => {
                Self::new(status, "urn:rumek:method", "Wrong method", "This address does not take that method.")
            }
            StatusCode::PAYLOAD_TOO_LARGE => {
                Self::too_large(format!("A request may have at most {} kB.", crate::app::BODY_LIMIT / 1024))
            }
            StatusCode::UNSUPPORTED_MEDIA_TYPE => Self::unsupported("Send application/json."),
            StatusCode::SERVICE_UNAVAILABLE => Self::unavailable("It took too long; try again."),
            _ if status.is_client_error() => {
                Self::new(status, "urn:rumek:bad-request", "Bad request", "The request cannot be read.")
            }
            _ => Self::new(status, "urn:rumek:internal", "Internal error", "Something failed here; the log says what."),
        }
    }
}

impl From<Problems> for Problem {
    fn from(wrong: Problems) -> Self {
        let status = if wrong.unreadable { StatusCode::BAD_REQUEST } else { StatusCode::UNPROCESSABLE_ENTITY };
        let n = wrong.problems.len();
        let detail = format!("{n} {} of the document cannot be used.", if n == 1 { "field" } else { "fields" });
        let mut problem = Self::new(status, "urn:rumek:document", "The document has problems", detail);
        problem.problems = wrong.problems;
        problem
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        let said = error.to_string();
        match error {
            StoreError::NotFound(one) => Self::not_found(format!("There is no such {one}.")),
            StoreError::Conflict(stands) => {
                let mut problem = Self::conflict("It was saved elsewhere in between; what stands now is enclosed.");
                problem.current = Some(Box::new(StoredDoc::from(*stands)));
                problem
            }
            StoreError::Exists(one) => Self::conflict(format!("A {one} with this id exists already.")),
            StoreError::NotEmpty => {
                Self::conflict("An archive is read into an empty workshop only; this one has something in it.")
            }
            StoreError::Refused(_) => {
                Self::new(StatusCode::UNPROCESSABLE_ENTITY, "urn:rumek:refused", "Refused by the database", said)
            }
            StoreError::Newer => Self::newer(),
            StoreError::Unavailable(cause) => {
                tracing::warn!(%cause, "the database is away");
                Self::unavailable(
                    "The database cannot be reached. Plans are still computed; saving will work again once it is back.",
                )
            }
            StoreError::Failed(cause) => {
                tracing::error!(%cause, "the database failed");
                Self::of_status(StatusCode::INTERNAL_SERVER_ERROR)
            }
        }
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let body = serde_json::to_vec(&self).unwrap_or_default();
        (status, [(header::CONTENT_TYPE, HeaderValue::from_static(MEDIA_TYPE))], body).into_response()
    }
}

/// What is answered where the answering itself broke.
pub(crate) fn panicked(cause: Box<dyn std::any::Any + Send>) -> Response {
    let said = cause.downcast_ref::<String>().map(String::as_str).or(cause.downcast_ref::<&str>().copied());
    Problem::failed(&said.unwrap_or("a panic without a word")).into_response()
}

/// Turns the framework's own failures into problem documents.
pub(crate) async fn translate(request: Request, next: Next) -> Response {
    let response = next.run(request).await;
    let status = response.status();
    let ours = response.headers().get(header::CONTENT_TYPE).is_some_and(|value| value == MEDIA_TYPE);
    if ours || !(status.is_client_error() || status.is_server_error()) {
        return response;
    }
    let (mut parts, _) = response.into_parts();
    let (problem, body) = Problem::of_status(status).into_response().into_parts();
    parts.headers.remove(header::CONTENT_LENGTH);
    parts.headers.extend(problem.headers);
    Response::from_parts(parts, Body::new(body))
}

#[cfg(test)]
#[allow(clippy::unwrap_used, clippy::panic)]
mod tests {
    use axum::Router;
    use axum::routing::get;
    use http_body_util::BodyExt;
    use tower::ServiceExt;
    use tower_http::catch_panic::CatchPanicLayer;

    use super::*;

    #[tokio::test]
    async fn a_panic_is_answered_as_a_problem() {
        let broken = get(|| async {
            if true {
                panic!("broken here");
            }
        });
        let service = Router::new().route("/", broken).layer(CatchPanicLayer::custom(panicked));
        let answer = service.oneshot(Request::builder().uri("/").body(Body::empty()).unwrap()).await.unwrap();
        assert_eq!(
            (answer.status(), &answer.headers()[header::CONTENT_TYPE]),
            (StatusCode::INTERNAL_SERVER_ERROR, &HeaderValue::from_static(MEDIA_TYPE))
        );
        let body = answer.into_body().collect().await.unwrap().to_bytes();
        let problem: serde_json::Value = serde_json::from_slice(&body).unwrap();
        assert_eq!(problem["status"], 500);
        assert!(!problem.to_string().contains("broken here"), "{problem}");
    }
}
