//! What has changed, told to open pages as it happens: hints to fetch again, never data.

use std::convert::Infallible;
use std::time::Duration;

use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::{Stream, StreamExt, stream};
use rumek_store::Hint;
use tokio_stream::wrappers::BroadcastStream;

use crate::app::App;

/// A comment is sent after so long a silence, so that a dead connection shows.
const SILENCE: Duration = Duration::from_secs(15);

fn event(hint: &Hint) -> Event {
    let event = Event::default();
    match hint {
        Hint::Table(name) => event.data(name),
        Hint::Readings(run) => event.data(format!("readings {run}")),
        Hint::Everything => event.data("everything"),
    }
}

/// Hints as they come, from "everything" on; ends when the server does.
pub(crate) async fn changes(State(app): State<App>) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    // Whoever comes too late for some is told that anything may have changed.
    let hints = BroadcastStream::new(app.hints.subscribe()).map(|hint| hint.unwrap_or(Hint::Everything));
    let all = stream::once(async { Hint::Everything }).chain(hints);
    let events = all.map(|hint| Ok(event(&hint))).take_until(app.closing.cancelled_owned());
    Sse::new(events).keep_alive(KeepAlive::new().interval(SILENCE))
}
