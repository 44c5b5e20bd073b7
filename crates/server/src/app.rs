//! What every request may use.

use std::sync::Arc;
use std::sync::atomic::AtomicBool;

use rumek_store::{Database, Hint};
use tokio::sync::broadcast;
use tokio_util::sync::CancellationToken;

/// The largest request body, bytes.
pub const BODY_LIMIT: usize = 256 * 1024;
/// So many hints may wait for a page that is slow to take them.
const HINTS: usize = 256;

/// What every request may use.
#[derive(Clone)]
pub struct App {
    /// The store.
    pub database: Database,
    /// The port we are reached at; `Host` and `Origin` must name it.
    pub port: u16,
    /// Whether the database has this version's shape.
    pub migrated: Arc<AtomicBool>,
    /// Whether a newer version has shaped the database: nothing of it is served then.
    pub newer: Arc<AtomicBool>,
    /// What has changed, as the database tells it.
    pub hints: broadcast::Sender<Hint>,
    /// Cancelled when the service ends: streams end then.
    pub closing: CancellationToken,
}

impl App {
    /// A service on a database, not yet known to have this version's shape.
    #[must_use]
    pub fn new(database: Database, port: u16) -> Self {
        let hints = broadcast::Sender::new(HINTS);
        Self {
            database,
            port,
            migrated: Arc::default(),
            newer: Arc::default(),
            hints,
            closing: CancellationToken::new(),
        }
    }
}
