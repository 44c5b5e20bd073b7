//! The routes, and what every request passes through.

use std::sync::atomic::Ordering;
use std::time::Duration;

use axum::extract::{DefaultBodyLimit, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use axum::{Json, Router, middleware};
use serde_json::Value;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::limit::RequestBodyLimitLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};
use tower_http::timeout::{RequestBodyTimeoutLayer, TimeoutLayer};
use tower_http::trace::TraceLayer;

use crate::app::{App, BODY_LIMIT};
use crate::http::{guard, pages};
use crate::openapi::Description;
use crate::problem::{self, Problem};
use crate::routes::{
    changes, compute, drawn, formats, logbook, logs, photos, rescues, resources, runs, shelf, state, workshop,
};

/// The largest log or archive, bytes.
const LONG_LIMIT: usize = 2 << 30;
const TIMEOUT: Duration = Duration::from_secs(15);
/// A body of which nothing has come for so long is given up.
const STALLED: Duration = Duration::from_secs(30);

/// The whole service.
pub fn router(app: App) -> Router {
    let api = Router::new()
        .merge(compute::routes())
        .merge(resources::routes())
        .merge(rescues::routes())
        .merge(logs::routes())
        .merge(logbook::routes())
        .merge(changes::routes())
        .merge(state::routes())
        .merge(drawn::routes())
        .merge(runs::routes())
        .merge(shelf::routes())
        .merge(photos::routes())
        .merge(formats::routes())
        .route("/openapi.json", get(async || Json(document())))
        .fallback(async || Problem::not_found("There is nothing at this address."));
    // What is long because there is much of it has no limit of time; each row arrives or is sent by itself.
    let long = Router::new()
        .merge(logs::long_routes())
        .merge(shelf::long_routes())
        .merge(runs::long_routes())
        .merge(workshop::long_routes())
        .layer(RequestBodyLimitLayer::new(LONG_LIMIT))
        // Whoever stops sending lets go of what they hold.
        .layer(RequestBodyTimeoutLayer::new(STALLED));
    let pages = Router::new().fallback(pages::serve).layer(CompressionLayer::new());
    Router::new()
        .nest("/api", api)
        .route("/healthz", get(async || "ok"))
        .route("/readyz", get(ready))
        .fallback_service(pages)
        .layer(DefaultBodyLimit::max(BODY_LIMIT))
        .layer(TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, TIMEOUT))
        .nest("/api", long)
        // One request that fails must not take its connection with it, nor leave its sender without an answer.
        .layer(CatchPanicLayer::custom(problem::panicked))
        .layer(middleware::from_fn(problem::translate))
        .layer(middleware::from_fn_with_state(app.clone(), guard::check))
        // At the level of errors, so that whatever is logged carries its request's id.
        .layer(TraceLayer::new_for_http().make_span_with(|request: &axum::http::Request<_>| {
            let id = request.headers().get("x-request-id").and_then(|id| id.to_str().ok()).unwrap_or("-");
            tracing::error_span!("request", method = %request.method(), path = request.uri().path(), id)
        }))
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid))
        .with_state(app)
}

/// The OpenAPI document: what every file of routes says of its own.
#[must_use]
pub fn document() -> Value {
    let mut api = Description::new();
    let of_routes = [
        compute::describe,
        resources::describe,
        rescues::describe,
        logs::describe,
        logbook::describe,
        changes::describe,
        state::describe,
        drawn::describe,
        runs::describe,
        shelf::describe,
        photos::describe,
        workshop::describe,
    ];
    for describe in of_routes {
        describe(&mut api);
    }
    api.finish()
}

/// Ready once the database answers and has this version's shape.
async fn ready(State(app): State<App>) -> Response {
    if app.newer.load(Ordering::Relaxed) {
        return Problem::newer().into_response();
    }
    if !app.migrated.load(Ordering::Relaxed) {
        return Problem::unavailable("The database has not answered yet.").into_response();
    }
    match app.database.ping().await {
        Ok(()) => "ready".into_response(),
        Err(error) => Problem::from(error).into_response(),
    }
}
