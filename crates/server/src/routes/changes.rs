//! What has changed, told to open pages as it happens: hints to fetch again, never data.

use std::convert::Infallible;
use std::time::Duration;

use axum::Router;
use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use axum::routing::get;
use futures::{Stream, StreamExt, stream};
use rumek_store::Hint;
use serde_json::json;
use tokio_stream::wrappers::BroadcastStream;

use crate::app::App;
use crate::openapi::{Description, text};

/// A comment is sent after so long a silence, so that a dead connection shows.
const SILENCE: Duration = Duration::from_secs(15);

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/changes", get(changes))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let operation = json!({
        "summary": "Hints of what has changed, as server-sent events",
        "responses": { "200": { "description": "Names of tables, `readings` with a run's id, or `everything`", "content": { "text/event-stream": { "schema": text() } } } }
    });
    api.add_special("/api/changes", "get", operation, &[]);
}

fn event(hint: &Hint) -> Event {
    let event = Event::default();
    match hint {
        Hint::Table(name) => event.data(name),
        Hint::Readings(run) => event.data(format!("readings {run}")),
        Hint::Everything => event.data("everything"),
    }
}

/// Hints as they come, from "everything" on; ends when the server does.
async fn changes(State(app): State<App>) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    // Whoever comes too late for some is told that anything may have changed.
    let hints = BroadcastStream::new(app.hints.subscribe()).map(|hint| hint.unwrap_or(Hint::Everything));
    let all = stream::once(async { Hint::Everything }).chain(hints);
    let events = all.map(|hint| Ok(event(&hint))).take_until(app.closing.cancelled_owned());
    Sse::new(events).keep_alive(KeepAlive::new().interval(SILENCE))
}
