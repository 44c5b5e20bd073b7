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
use crate::migration::Migrator;
use crate::readings::Readings;
use crate::repository::Repository;
use crate::rows::{Change, Stored};
use crate::standings::Standings;
use crate::workshop::{self, Part};

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
            .sqlx_logging(false);
        let connection = sea_orm::Database::connect(options).await.map_err(StoreError::Failed)?;
        Ok(Self { connection })
    }

    /// Brings the database to this version's shape.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn migrate(&self) -> Result<(), StoreError> {
        Migrator::up(&self.connection, None).await.map_err(|error| StoreError::of(error, "table"))
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
