//! Whole logs: a run and all of its readings in one transaction, and few of them to draw many.

use sea_orm::sqlx::{self, PgConnection, Postgres, Transaction};
use sea_orm::{
    ColumnTrait, DatabaseConnection, DbBackend, DbErr, EntityTrait, QueryFilter, QueryOrder, RuntimeErr, Statement,
};
use serde_json::Value;
use time::OffsetDateTime;
use tokio::sync::mpsc;
use uuid::Uuid;

use crate::copy::{AS_LONG_AS_IT_COMES, COPY_READINGS, CopyRows};
use crate::entity::run;
use crate::entity::run_reading::{Column, Entity};
use crate::error::StoreError;
use crate::readings::StoredReading;
use crate::repository::Repository;
use crate::rows::{Draft, Stored};

/// One line of a log.
#[derive(Clone, Debug, PartialEq)]
pub struct LoggedReading {
    /// When it was taken.
    pub taken_at: OffsetDateTime,
    /// The reading, as JSON.
    pub document: String,
}

/// What becomes of a log once all of its lines are there.
#[derive(Clone, Debug, PartialEq)]
pub struct LogEnd {
    /// The run as it is kept.
    pub document: Value,
    /// For each level, finest first, which lines it keeps, counted from 0.
    pub overview: Vec<Vec<usize>>,
    /// What its lines come to, and of how many.
    pub sums: Option<(usize, Value)>,
}

/// Each reading by its key: right after a log has come in the planner knows nothing of it, and left to
/// itself may look through every line for every one that is kept.
const OVERVIEW: &str = "
SELECT r.* FROM run_overviews o
CROSS JOIN LATERAL (SELECT * FROM run_readings WHERE run_id = o.run_id AND n = o.n LIMIT 1) r
WHERE o.run_id = $1 AND o.level = $2 AND o.n > $3 AND o.n <= $4
ORDER BY o.n";

/// Whole logs.
#[derive(Debug)]
pub struct Logs {
    connection: DatabaseConnection,
}

pub(crate) fn failed(error: sqlx::Error) -> StoreError {
    StoreError::of(DbErr::Exec(RuntimeErr::SqlxError(error.into())), "run")
}

impl Logs {
    pub(crate) fn new(connection: DatabaseConnection) -> Self {
        Self { connection }
    }

    /// Keeps a run with the lines that come, all of them or nothing: when no more come, `end` says
    /// what is kept, or that nothing is.
    ///
    /// # Errors
    /// [`StoreError::Exists`] where the run does, [`StoreError::Refused`], [`StoreError::Unavailable`]
    /// or [`StoreError::Failed`].
    pub async fn bring_in(
        &self,
        id: Uuid,
        draft: Draft,
        mut lines: mpsc::Receiver<Vec<LoggedReading>>,
        end: impl FnOnce() -> Option<LogEnd>,
    ) -> Result<Option<Stored>, StoreError> {
        let mut transaction = self.connection.get_postgres_connection_pool().begin().await.map_err(failed)?;
        sqlx::query(AS_LONG_AS_IT_COMES).execute(&mut *transaction).await.map_err(failed)?;
        let pack = draft.links.pack;
        sqlx::query("INSERT INTO runs (id, document, pack_id, pack_version) VALUES ($1, $2, $3, $4)")
            .bind(id)
            .bind(draft.document)
            .bind(pack.map(|origin| origin.id))
            .bind(pack.map(|origin| origin.version))
            .execute(&mut *transaction)
            .await
            .map_err(failed)?;
        copy_lines(&mut transaction, id, &mut lines).await?;
        let Some(kept) = end() else {
            transaction.rollback().await.map_err(failed)?;
            return Ok(None);
        };
        copy_overview(&mut transaction, id, &kept.overview).await?;
        if let Some((readings, sums)) = &kept.sums {
            keep_sums(&mut *transaction, id, *readings, sums).await?;
        }
        sqlx::query("UPDATE runs SET document = $2 WHERE id = $1")
            .bind(id)
            .bind(kept.document)
            .execute(&mut *transaction)
            .await
            .map_err(failed)?;
        transaction.commit().await.map_err(failed)?;
        Repository::<run::Entity>::new(self.connection.clone()).get(id).await.map(Some)
    }

    /// What the first so many readings of a run come to, as it was kept; none where nothing was.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn sums(&self, run_id: Uuid) -> Result<Option<(usize, Value)>, StoreError> {
        let row: Option<(i32, Value)> = sqlx::query_as("SELECT readings, document FROM run_sums WHERE run_id = $1")
            .bind(run_id)
            .fetch_optional(self.connection.get_postgres_connection_pool())
            .await
            .map_err(failed)?;
        Ok(row.map(|(readings, document)| (usize::try_from(readings).unwrap_or(0), document)))
    }

    /// Keeps what the first so many readings of a run come to.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn keep_sums(&self, run_id: Uuid, readings: usize, sums: &Value) -> Result<(), StoreError> {
        keep_sums(self.connection.get_postgres_connection_pool(), run_id, readings, sums).await
    }

    /// How many readings a run has.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn count(&self, run_id: Uuid) -> Result<usize, StoreError> {
        // They are numbered without gaps.
        let last: Option<i32> = sqlx::query_scalar("SELECT max(n) FROM run_readings WHERE run_id = $1")
            .bind(run_id)
            .fetch_one(self.connection.get_postgres_connection_pool())
            .await
            .map_err(failed)?;
        Ok(usize::try_from(last.unwrap_or(0)).unwrap_or(0))
    }

    /// How many readings of a run, from the first, its overview is drawn from; 0 without one.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn covered(&self, run_id: Uuid) -> Result<usize, StoreError> {
        let last: Option<i32> = sqlx::query_scalar("SELECT max(n) FROM run_overviews WHERE run_id = $1 AND level = 0")
            .bind(run_id)
            .fetch_one(self.connection.get_postgres_connection_pool())
            .await
            .map_err(failed)?;
        Ok(usize::try_from(last.unwrap_or(0)).unwrap_or(0))
    }

    /// How many of a log's first so many readings were taken before a moment: a log is in the order of
    /// its times.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn taken_before(
        &self,
        run_id: Uuid,
        covered: usize,
        moment: OffsetDateTime,
    ) -> Result<usize, StoreError> {
        let (mut low, mut high) = (0, covered);
        while low < high {
            let middle = low + (high - low) / 2;
            let taken_at: OffsetDateTime =
                sqlx::query_scalar("SELECT taken_at FROM run_readings WHERE run_id = $1 AND n = $2")
                    .bind(run_id)
                    .bind(i32::try_from(middle + 1).unwrap_or(i32::MAX))
                    .fetch_one(self.connection.get_postgres_connection_pool())
                    .await
                    .map_err(failed)?;
            if taken_at < moment { low = middle + 1 } else { high = middle }
        }
        Ok(low)
    }

    /// Of the readings after the first so many up to another, those that a level of the overview keeps,
    /// in their order.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn overview(
        &self,
        run_id: Uuid,
        level: usize,
        first: usize,
        end: usize,
    ) -> Result<Vec<StoredReading>, StoreError> {
        let level = i16::try_from(level).unwrap_or(i16::MAX);
        let [first, end] = [first, end].map(|count| i32::try_from(count).unwrap_or(i32::MAX));
        let values = [run_id.into(), level.into(), first.into(), end.into()];
        let statement = Statement::from_sql_and_values(DbBackend::Postgres, OVERVIEW, values);
        let rows = Entity::find().from_raw_sql(statement).all(&self.connection).await;
        let rows = rows.map_err(|error| StoreError::of(error, "reading"))?;
        Ok(rows.into_iter().map(StoredReading::from).collect())
    }

    /// At most `most` readings after the first so many, in the order of their arrival.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn page(&self, run_id: Uuid, count: usize, most: usize) -> Result<Vec<StoredReading>, StoreError> {
        let from = i32::try_from(count).unwrap_or(i32::MAX);
        let to = from.saturating_add(i32::try_from(most).unwrap_or(i32::MAX));
        let rows = Entity::find()
            .filter(Column::RunId.eq(run_id))
            .filter(Column::N.gt(from))
            .filter(Column::N.lte(to))
            .order_by_asc(Column::N)
            .all(&self.connection)
            .await
            .map_err(|error| StoreError::of(error, "reading"))?;
        Ok(rows.into_iter().map(StoredReading::from).collect())
    }
}

async fn keep_sums<'e>(
    executor: impl sqlx::Executor<'e, Database = Postgres>,
    run_id: Uuid,
    readings: usize,
    sums: &Value,
) -> Result<(), StoreError> {
    let statement = "INSERT INTO run_sums (run_id, readings, document) VALUES ($1, $2, $3)
         ON CONFLICT (run_id) DO UPDATE SET readings = EXCLUDED.readings, document = EXCLUDED.document";
    sqlx::query(statement)
        .bind(run_id)
        .bind(i32::try_from(readings).unwrap_or(i32::MAX))
        .bind(sums)
        .execute(executor)
        .await
        .map_err(failed)?;
    Ok(())
}

async fn copy_lines(
    transaction: &mut Transaction<'_, Postgres>,
    run_id: Uuid,
    lines: &mut mpsc::Receiver<Vec<LoggedReading>>,
) -> Result<(), StoreError> {
    let received_at = OffsetDateTime::now_utc();
    let connection: &mut PgConnection = transaction;
    let mut copy = connection.copy_in_raw(COPY_READINGS).await.map_err(failed)?;
    let mut rows = CopyRows::default();
    let mut n = 0;
    while let Some(batch) = lines.recv().await {
        for line in batch {
            n += 1;
            let LoggedReading { taken_at, document } = line;
            rows.reading(run_id, n, None, (taken_at, received_at, None), 0, &document);
        }
        copy.send(rows.take()).await.map_err(failed)?;
    }
    copy.send(rows.end()).await.map_err(failed)?;
    copy.finish().await.map_err(failed)?;
    Ok(())
}

pub(crate) async fn copy_overview(
    transaction: &mut Transaction<'_, Postgres>,
    run_id: Uuid,
    overview: &[Vec<usize>],
) -> Result<(), StoreError> {
    let connection: &mut PgConnection = transaction;
    let statement = "COPY run_overviews (run_id, level, n) FROM STDIN (FORMAT binary)";
    let mut copy = connection.copy_in_raw(statement).await.map_err(failed)?;
    let mut rows = CopyRows::default();
    for (level, kept) in overview.iter().enumerate() {
        for k in kept {
            let n = i32::try_from(k + 1).unwrap_or(i32::MAX);
            rows.row(3).uuid(run_id).smallint(i16::try_from(level).unwrap_or(i16::MAX)).integer(n);
        }
        copy.send(rows.take()).await.map_err(failed)?;
    }
    copy.send(rows.end()).await.map_err(failed)?;
    copy.finish().await.map_err(failed)?;
    Ok(())
}
