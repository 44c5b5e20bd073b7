//! The routes, and what every request passes through.

use std::sync::atomic::Ordering;
use std::time::Duration;

use axum::extract::{DefaultBodyLimit, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post, put};
use axum::{Json, Router, middleware};
use rumek_store::{Chargers, Gear, Leads, LogMappings, Packs, Plans, Rescues, Runs};
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::limit::RequestBodyLimitLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};
use tower_http::timeout::TimeoutLayer;
use tower_http::trace::TraceLayer;

use crate::app::{App, BODY_LIMIT};
use crate::http::{guard, pages};
use crate::problem::Problem;
use crate::routes::{archive, changes, compute, drawn, logbook, logs, rescues, resources, runs, state};
use crate::{openapi, problem};

/// The largest log or archive, bytes.
const LONG_LIMIT: usize = 2 << 30;
const TIMEOUT: Duration = Duration::from_secs(15);

/// The whole service.
pub fn router(app: App) -> Router {
    let api = Router::new()
        .route("/plan", post(compute::plan))
        .route("/sizing", post(compute::sizing))
        .route("/rescue", post(compute::rescue))
        .route("/rescue/judge", post(compute::judge))
        .route("/run/preflight", post(compute::preflight))
        .route("/run/understand", post(compute::understand))
        .route("/quick-line", post(compute::quick_line))
        .route("/chemistries", get(compute::chemistries))
        .route("/version", get(compute::version))
        .nest("/packs", resources::routes::<Packs>())
        .nest("/gear", resources::routes::<Gear>())
        .nest("/chargers", resources::routes::<Chargers>())
        .nest("/leads", resources::routes::<Leads>())
        .nest("/plans", resources::routes::<Plans>())
        .nest("/rescues", resources::routes::<Rescues>())
        .route("/rescues/{id}/close", post(rescues::close))
        .nest("/log-mappings", resources::routes::<LogMappings>())
        .route("/logs/look", post(logs::look))
        .route("/logbook", get(logbook::look_up))
        .route("/changes", get(changes::changes))
        .nest("/runs", resources::routes::<Runs>())
        .route("/runs/{id}/state", get(state::state))
        .route("/runs/{id}/readings", get(drawn::list))
        .route("/runs/{id}/readings/{client_id}", put(runs::put))
        .route("/openapi.json", get(async || Json(openapi::document())))
        .route("/schema/{name}", get(openapi::schema))
        .fallback(async || Problem::not_found("There is nothing at this address."));
    // What is long because there is much of it has no limit of time; each row arrives or is sent by itself.
    let long = Router::new()
        .route("/api/logs", post(logs::bring_in))
        .route("/api/runs/{id}/log", get(runs::log))
        .route("/api/archive", get(archive::take_out).post(archive::put_in))
        .layer(RequestBodyLimitLayer::new(LONG_LIMIT));
    let pages = Router::new().fallback(pages::serve).layer(CompressionLayer::new());
    Router::new()
        .nest("/api", api)
        .route("/healthz", get(async || "ok"))
        .route("/readyz", get(ready))
        .fallback_service(pages)
        .layer(DefaultBodyLimit::max(BODY_LIMIT))
        .layer(TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, TIMEOUT))
        .merge(long)
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

/// Ready once the database answers and has this version's shape.
async fn ready(State(app): State<App>) -> Response {
    if !app.migrated.load(Ordering::Relaxed) {
        return Problem::unavailable("The database has not answered yet.").into_response();
    }
    match app.database.ping().await {
        Ok(()) => "ready".into_response(),
        Err(error) => Problem::from(error).into_response(),
    }
}
