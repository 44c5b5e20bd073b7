//! What others have changed: every writing transaction announces itself, whichever server made it.

use std::time::Duration;

use sea_orm::DatabaseConnection;
use sea_orm::sqlx::postgres::PgListener;
use uuid::Uuid;

const CHANNEL: &str = "rumek_changes";
const AGAIN: Duration = Duration::from_secs(2);

/// Where something has changed: a hint to fetch it again, no more.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Hint {
    /// A row of a table.
    Table(String),
    /// A run has another reading.
    Readings(Uuid),
    /// Announcements may have been missed.
    Everything,
}

impl Hint {
    fn read(payload: &str) -> Self {
        match payload.strip_prefix("readings ").map(Uuid::parse_str) {
            Some(Ok(run)) => Self::Readings(run),
            Some(Err(_)) => Self::Everything,
            None => Self::Table(payload.to_owned()),
        }
    }
}

/// Tells every change until dropped; while the database is away it goes on trying, and once it is
/// back tells that anything may have changed.
pub(crate) async fn listen(connection: &DatabaseConnection, tell: impl Fn(Hint)) {
    loop {
        if let Err(error) = listen_once(connection, &tell).await {
            tracing::debug!(%error, "changes are not heard of; trying again");
        }
        tokio::time::sleep(AGAIN).await;
    }
}

async fn listen_once(connection: &DatabaseConnection, tell: &impl Fn(Hint)) -> Result<(), sea_orm::sqlx::Error> {
    let mut listener = PgListener::connect_with(connection.get_postgres_connection_pool()).await?;
    listener.ignore_pool_close_event(false);
    listener.listen(CHANNEL).await?;
    tell(Hint::Everything);
    loop {
        match listener.try_recv().await? {
            Some(notification) => tell(Hint::read(notification.payload())),
            // The connection was lost and made anew; what was announced in between is not known.
            None => tell(Hint::Everything),
        }
    }
}
