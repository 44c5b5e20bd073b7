//! The connection: made lazily, so that a server starts and answers while the database is away.

use std::time::Duration;

use sea_orm::{ConnectOptions, ConnectionTrait, DatabaseConnection, TransactionTrait};
use sea_orm_migration::MigratorTrait;
use tokio::sync::mpsc;

use crate::changes::{self, Hint};
use crate::entity::Shelf;
use crate::error::StoreError;
use crate::log::Logs;
use crate::look_up::{self, Entry, Search};
use crate::migration::{self, Migrator};
use crate::readings::Readings;
use crate::repository::Repository;
use crate::rows::{Change, Stored};
use crate::standings::Standings;
use crate::workshop::{self, Part};

/// Whoever shapes the database holds this lock.
const MIGRATING: i64 = 7_346_535;
/// What takes longer than this is given up, so that no request leaves a query behind; what is long by its nature says so.
const STATEMENT: &str = "20s";
const LOCK: &str = "10s";
/// A client that stalls in the middle of something long lets go of what it holds.
const IDLE_IN_TRANSACTION: &str = "120s";

/// A pool of connections.
#[derive(Clone, Debug)]
pub struct Database {
    connection: DatabaseConnection,
}

impl Database {
    /// Prepares a pool for a `postgres://` address; connects when first asked.
    ///
    /// # Errors
    /// [`StoreError::Failed`] where the address cannot be read.
    pub async fn connect(url: &str) -> Result<Self, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(10)
            .acquire_timeout(Duration::from_secs(3))
            .connect_timeout(Duration::from_secs(3))
            .connect_lazy(true)
            .sqlx_logging(false)
            .map_sqlx_postgres_opts(|options| {
                options.options([
                    ("statement_timeout", STATEMENT),
                    ("lock_timeout", LOCK),
                    ("idle_in_transaction_session_timeout", IDLE_IN_TRANSACTION),
                ])
            });
        let connection = sea_orm::Database::connect(options).await.map_err(StoreError::Failed)?;
        Ok(Self { connection })
    }

    /// Brings the database to this version's shape.
    ///
    /// # Errors
    /// [`StoreError::Newer`] where a newer version shaped it: nothing is changed then. [`StoreError::Unavailable`] or
    /// [`StoreError::Failed`].
    pub async fn migrate(&self) -> Result<(), StoreError> {
        let failed = |error| StoreError::of(error, "table");
        let transaction = self.connection.begin().await.map_err(failed)?;
        // One server at a time; each step may take as long as it needs.
        let alone = format!(
            "SET LOCAL statement_timeout = 0; SET LOCAL lock_timeout = 0; SELECT pg_advisory_xact_lock({MIGRATING})"
        );
        transaction.execute_unprepared(&alone).await.map_err(failed)?;
        if migration::is_newer(&transaction).await.map_err(failed)? {
            return Err(StoreError::Newer);
        }
        Migrator::up(&transaction, None).await.map_err(failed)?;
        transaction.commit().await.map_err(failed)
    }

    /// Whether the database answers.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] where it does not.
    pub async fn ping(&self) -> Result<(), StoreError> {
        self.connection.execute_unprepared("SELECT 1").await.map(|_| ()).map_err(StoreError::Unavailable)
    }

    /// The repository of one shelf.
    #[must_use]
    pub fn shelf<E: Shelf>(&self) -> Repository<E> {
        Repository::new(self.connection.clone())
    }

    /// The readings of runs.
    #[must_use]
    pub fn readings(&self) -> Readings {
        Readings::new(self.connection.clone())
    }

    /// Whole logs.
    #[must_use]
    pub fn logs(&self) -> Logs {
        Logs::new(self.connection.clone())
    }

    /// What packs are worth.
    #[must_use]
    pub fn standings(&self) -> Standings {
        Standings::new(self.connection.clone())
    }

    /// Looks runs up: those going on first, then the newest, at most 500.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn look_up(&self, search: Search) -> Result<Vec<Entry>, StoreError> {
        look_up::look_up(&self.connection, search).await
    }

    /// Sends everything there is, as it stands at one moment, [`Part::End`] last.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn take_out(&self, parts: mpsc::Sender<Part>) -> Result<(), StoreError> {
        workshop::take_out(&self.connection, parts).await
    }

    /// Keeps everything that comes, in an empty database and in one transaction; where
    /// [`Part::End`] never comes, nothing is kept and this is false.
    ///
    /// # Errors
    /// [`StoreError::NotEmpty`], [`StoreError::Refused`], [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn put_in(&self, parts: mpsc::Receiver<Part>) -> Result<bool, StoreError> {
        workshop::put_in(&self.connection, parts).await
    }

    /// Tells every change that any server makes, until dropped. While the database is away it goes
    /// on trying; once it is back it tells that anything may have changed.
    pub async fn listen(&self, tell: impl Fn(Hint)) {
        changes::listen(&self.connection, tell).await;
    }

    /// Saves a row of each of two shelves together, or neither.
    ///
    /// # Errors
    /// As [`Repository::update`], for whichever cannot be saved.
    pub async fn update_both<A: Shelf, B: Shelf>(
        &self,
        one: Change,
        other: Change,
    ) -> Result<(Stored, Stored), StoreError> {
        let transaction = self.connection.begin().await.map_err(|error| StoreError::of(error, A::ONE))?;
        let one = self.shelf::<A>().update_with(&transaction, one).await?;
        let other = self.shelf::<B>().update_with(&transaction, other).await?;
        transaction.commit().await.map_err(|error| StoreError::of(error, A::ONE))?;
        Ok((one, other))
    }

    /// Closes every connection.
    pub async fn close(self) {
        if let Err(error) = self.connection.close().await {
            tracing::warn!(%error, "closing the database");
        }
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use rumek_testkit::TestDatabase;
    use sea_orm::{DbBackend, Statement};

    use super::*;

    #[tokio::test]
    async fn what_goes_on_waits_or_idles_too_long_is_given_up() {
        let test = TestDatabase::fresh(|url| async move {
            Database::connect(&url).await?.migrate().await?;
            Ok(())
        });
        let test = test.await.unwrap();
        let database = Database::connect(test.url()).await.unwrap();
        let plain = sea_orm::Database::connect(test.url()).await.unwrap();
        let limit_of = async |connection: &DatabaseConnection, name: &str| {
            let ask = format!("SELECT current_setting('{name}') AS limit");
            let row = connection.query_one_raw(Statement::from_string(DbBackend::Postgres, ask)).await;
            row.unwrap().unwrap().try_get::<String>("", "limit").unwrap()
        };
        assert_eq!(limit_of(&plain, "statement_timeout").await, "0", "it is this pool that has limits");
        for (name, limit) in
            [("statement_timeout", "20s"), ("lock_timeout", "10s"), ("idle_in_transaction_session_timeout", "2min")]
        {
            assert_eq!(limit_of(&database.connection, name).await, limit, "{name}");
        }
    }
}
