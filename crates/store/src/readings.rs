//! Readings of runs: each kept once, in the order they arrive.

use sea_orm::sea_query::{Expr, LockType, OnConflict};
use sea_orm::{
    ActiveValue::Set, ColumnTrait, DatabaseConnection, DbErr, EntityTrait, QueryFilter, QuerySelect, TransactionTrait,
};
use serde_json::Value;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::entity::run_reading::{ActiveModel, Column, Entity, Model};
use crate::entity::{run, run_reading};
use crate::error::StoreError;

/// A reading as it is sent.
#[derive(Clone, Debug, PartialEq)]
pub struct NewReading {
    /// Made by whoever took it: the same again is the same reading.
    pub client_id: Uuid,
    /// By the clock of whoever took it.
    pub taken_at: OffsetDateTime,
    /// That clock minus the server's, as far as it was known, ms.
    pub clock_offset_ms: i64,
    /// The reading as given.
    pub document: Value,
}

/// A reading as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredReading {
    /// From 1, in the order of arrival.
    pub n: i32,
    /// Who sent it; absent where a log was read in.
    pub client_id: Option<Uuid>,
    /// By the clock of whoever took it.
    pub taken_at: OffsetDateTime,
    /// The taker's clock minus the server's, ms.
    pub clock_offset_ms: i64,
    /// By the database's clock.
    pub received_at: OffsetDateTime,
    /// When it was taken back; it is kept, and not counted.
    pub struck_at: Option<OffsetDateTime>,
    /// The reading as given.
    pub document: Value,
}

impl StoredReading {
    /// When it was taken, by the server's clock; none where the sender's clock makes that no time at all.
    #[must_use]
    pub fn at(&self) -> Option<OffsetDateTime> {
        self.taken_at.checked_sub(Duration::milliseconds(self.clock_offset_ms))
    }
}

/// What became of a reading that was sent.
#[derive(Clone, Debug, PartialEq)]
pub enum Kept {
    /// It is new.
    New(StoredReading),
    /// It was kept before.
    Before(StoredReading),
    /// Another reading is kept under its id.
    Different,
}

/// The readings.
#[derive(Debug)]
pub struct Readings {
    connection: DatabaseConnection,
}

impl From<Model> for StoredReading {
    fn from(row: Model) -> Self {
        Self {
            n: row.n,
            client_id: row.client_id,
            taken_at: row.taken_at,
            clock_offset_ms: row.clock_offset_ms,
            received_at: row.received_at,
            struck_at: row.struck_at,
            document: row.document,
        }
    }
}

fn failed(error: DbErr) -> StoreError {
    StoreError::of(error, "reading")
}

impl Readings {
    pub(crate) fn new(connection: DatabaseConnection) -> Self {
        Self { connection }
    }

    /// Keeps a reading, once however often it is sent. It is on disk when this returns.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without such a run, [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn put(&self, run_id: Uuid, reading: NewReading) -> Result<Kept, StoreError> {
        let transaction = self.connection.begin().await.map_err(failed)?;
        // One writer a run at a time, so that the numbers have no gaps.
        let locked = run::Entity::find()
            .filter(run::Column::Id.eq(run_id))
            .lock(LockType::Update)
            .one(&transaction)
            .await
            .map_err(failed)?;
        if locked.is_none() {
            return Err(StoreError::NotFound("run"));
        }
        let last: Option<Option<i32>> = Entity::find()
            .select_only()
            .column_as(Column::N.max(), "n")
            .filter(Column::RunId.eq(run_id))
            .into_tuple()
            .one(&transaction)
            .await
            .map_err(failed)?;
        let row = ActiveModel {
            run_id: Set(run_id),
            n: Set(last.flatten().unwrap_or(0) + 1),
            client_id: Set(Some(reading.client_id)),
            taken_at: Set(reading.taken_at),
            clock_offset_ms: Set(reading.clock_offset_ms),
            document: Set(reading.document.clone()),
            ..Default::default()
        };
        let written = Entity::insert(row)
            .on_conflict(
                OnConflict::column(Column::ClientId)
                    .target_and_where(Column::ClientId.is_not_null())
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&transaction)
            .await;
        match written {
            Ok(_) | Err(DbErr::RecordNotInserted) => {}
            Err(error) => return Err(failed(error)),
        }
        let kept = run_reading::Entity::find()
            .filter(Column::ClientId.eq(reading.client_id))
            .one(&transaction)
            .await
            .map_err(failed)?;
        let new = matches!(written, Ok(rows) if rows > 0);
        transaction.commit().await.map_err(failed)?;
        let Some(kept) = kept else { return Err(StoreError::NotFound("reading")) };
        let same = kept.run_id == run_id
            && kept.document == reading.document
            && kept.clock_offset_ms == reading.clock_offset_ms
            // The database keeps microseconds.
            && (kept.taken_at - reading.taken_at).abs() < Duration::microseconds(1);
        if !same {
            return Ok(Kept::Different);
        }
        Ok(if new { Kept::New(kept.into()) } else { Kept::Before(kept.into()) })
    }

    /// Takes a reading back, or lets it count again; as it is kept then. Struck twice it keeps its first time.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without such a reading of that run, [`StoreError::Unavailable`] or
    /// [`StoreError::Failed`].
    pub async fn strike(&self, run_id: Uuid, client_id: Uuid, struck: bool) -> Result<StoredReading, StoreError> {
        let at = if struck { Expr::cust("coalesce(struck_at, now())") } else { Expr::cust("NULL") };
        let rows = Entity::update_many()
            .col_expr(Column::StruckAt, at)
            .filter(Column::RunId.eq(run_id))
            .filter(Column::ClientId.eq(client_id))
            .exec_with_returning(&self.connection)
            .await
            .map_err(failed)?;
        rows.into_iter().next().map(StoredReading::from).ok_or(StoreError::NotFound("reading"))
    }
}
