//! Everything at once: a whole workshop taken out as it stands at one moment, and put into an
//! empty database in one transaction.

use sea_orm::sea_query::ExprTrait;
use sea_orm::sqlx::{self, AssertSqlSafe, PgConnection, Postgres, Transaction};
use sea_orm::{
    AccessMode, ColumnTrait, Condition, DatabaseConnection, DatabaseTransaction, EntityTrait, IsolationLevel,
    QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use serde_json::{Value, json};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use tokio::sync::mpsc;
use uuid::Uuid;

use crate::copy::{AS_LONG_AS_IT_COMES, COPY_READINGS, CopyRows};
use crate::entity::run_reading::{Column, Entity, Model};
use crate::entity::{Shelf, charger, lead, log_mapping, pack, plan, record, rescue, run, supply};
use crate::error::StoreError;
use crate::log::{copy_overview, failed};
use crate::rows::{Origin, Stored};

/// Readings taken out at a time.
const PAGE: u64 = 5000;

/// A table of documents.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Table {
    /// `packs`
    Packs,
    /// `gear`
    Supplies,
    /// `chargers`
    Chargers,
    /// `leads`
    Leads,
    /// `plans`
    Plans,
    /// `rescues`
    Rescues,
    /// `runs`
    Runs,
    /// `log_mappings`
    LogMappings,
    /// `records`
    Records,
}

impl Table {
    /// Every table, those referred to before those that refer to them.
    pub const ALL: [Self; 9] = [
        Self::Packs,
        Self::Supplies,
        Self::Chargers,
        Self::Leads,
        Self::LogMappings,
        Self::Plans,
        Self::Rescues,
        Self::Records,
        Self::Runs,
    ];

    /// Its name in the database and in an archive.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Packs => "packs",
            Self::Supplies => "supplies",
            Self::Chargers => "chargers",
            Self::Leads => "leads",
            Self::Plans => "plans",
            Self::Rescues => "rescues",
            Self::Runs => "runs",
            Self::LogMappings => "log_mappings",
            Self::Records => "records",
        }
    }

    fn links(self) -> &'static [&'static str] {
        match self {
            Self::Plans => &["pack", "source", "charger", "input", "output"],
            Self::Rescues | Self::Runs | Self::Records => &["pack"],
            Self::Packs | Self::Supplies | Self::Chargers | Self::Leads | Self::LogMappings => &[],
        }
    }
}

/// A reading with everything that is known of it.
#[derive(Clone, Debug, PartialEq)]
pub struct WorkshopReading {
    /// Whose.
    pub run_id: Uuid,
    /// From 1, in the order of arrival.
    pub n: i32,
    /// Who sent it; absent where a log was read in.
    pub client_id: Option<Uuid>,
    /// By the clock of whoever took it.
    pub taken_at: OffsetDateTime,
    /// By the database's clock.
    pub received_at: OffsetDateTime,
    /// The taker's clock minus the server's, ms.
    pub clock_offset_ms: i64,
    /// When it was taken back.
    pub struck_at: Option<OffsetDateTime>,
    /// The reading as given.
    pub document: Value,
}

/// A part of a workshop, on its way out or in.
#[derive(Clone, Debug, PartialEq)]
pub enum Part {
    /// Some rows of a table; more of them may follow.
    Rows(Table, Vec<Stored>),
    /// Readings of the runs sent before, in the order of their runs and numbers.
    Readings(Vec<WorkshopReading>),
    /// For a run, what each level of its overview keeps.
    Overview(Uuid, Vec<Vec<usize>>),
    /// It is complete.
    End,
}

impl From<Model> for WorkshopReading {
    fn from(row: Model) -> Self {
        Self {
            run_id: row.run_id,
            n: row.n,
            client_id: row.client_id,
            taken_at: row.taken_at,
            received_at: row.received_at,
            clock_offset_ms: row.clock_offset_ms,
            struck_at: row.struck_at,
            document: row.document,
        }
    }
}

/// Rows fetched at a time of tables whose documents hold pictures, whole results, or neither.
const ROWS_WITH_PICTURES: u64 = 8;
const ROWS_WITH_RESULTS: u64 = 64;
const ROWS: u64 = 256;

/// Sends every row of a table, a page at a time, so that no table is ever held whole; `false` where nobody takes them.
async fn send_rows<E: Shelf>(
    from: &DatabaseTransaction,
    (table, at_a_time): (Table, u64),
    parts: &mpsc::Sender<Part>,
) -> Result<bool, StoreError> {
    let mut last: Option<(OffsetDateTime, Uuid)> = None;
    loop {
        let after = match last {
            Some((at, id)) => Condition::any().add(E::CREATED_AT.gt(at)).add(E::CREATED_AT.eq(at).and(E::ID.gt(id))),
            None => Condition::all(),
        };
        let page = E::find().filter(after).order_by_asc(E::CREATED_AT).order_by_asc(E::ID).limit(at_a_time);
        let page = page.all(from).await.map_err(|error| StoreError::of(error, E::ONE))?;
        let rows: Vec<Stored> = page.into_iter().map(E::stored).collect();
        let whole = rows.len() as u64 == at_a_time;
        last = rows.last().map(|row| (row.created_at, row.id));
        if parts.send(Part::Rows(table, rows)).await.is_err() {
            return Ok(false);
        }
        if !whole {
            return Ok(true);
        }
    }
}

/// Sends everything there is; ends early where nobody takes it.
pub(crate) async fn take_out(connection: &DatabaseConnection, parts: mpsc::Sender<Part>) -> Result<(), StoreError> {
    let failed = |error| StoreError::of(error, "row");
    let config = (Some(IsolationLevel::RepeatableRead), Some(AccessMode::ReadOnly));
    let from = connection.begin_with_config(config.0, config.1).await.map_err(failed)?;
    for table in Table::ALL {
        let taken = match table {
            Table::Packs => send_rows::<pack::Entity>(&from, (table, ROWS), &parts).await?,
            Table::Supplies => send_rows::<supply::Entity>(&from, (table, ROWS), &parts).await?,
            Table::Chargers => send_rows::<charger::Entity>(&from, (table, ROWS), &parts).await?,
            Table::Leads => send_rows::<lead::Entity>(&from, (table, ROWS), &parts).await?,
            Table::Plans => send_rows::<plan::Entity>(&from, (table, ROWS), &parts).await?,
            Table::Rescues => send_rows::<rescue::Entity>(&from, (table, ROWS_WITH_PICTURES), &parts).await?,
            Table::Runs => send_rows::<run::Entity>(&from, (table, ROWS_WITH_RESULTS), &parts).await?,
            Table::LogMappings => send_rows::<log_mapping::Entity>(&from, (table, ROWS), &parts).await?,
            Table::Records => send_rows::<record::Entity>(&from, (table, ROWS_WITH_PICTURES), &parts).await?,
        };
        if !taken {
            return Ok(());
        }
    }
    let mut last: Option<(Uuid, i32)> = None;
    loop {
        let after = match last {
            Some((run, n)) => {
                Condition::any().add(Column::RunId.gt(run)).add(Column::RunId.eq(run).and(Column::N.gt(n)))
            }
            None => Condition::all(),
        };
        let page = Entity::find()
            .filter(after)
            .order_by_asc(Column::RunId)
            .order_by_asc(Column::N)
            .limit(PAGE)
            .all(&from)
            .await
            .map_err(failed)?;
        last = page.last().map(|row| (row.run_id, row.n));
        if page.is_empty() {
            break;
        }
        let page = page.into_iter().map(WorkshopReading::from).collect();
        if parts.send(Part::Readings(page)).await.is_err() {
            return Ok(());
        }
    }
    // Nobody taking it any more is no failure of the database's.
    let _ = parts.send(Part::End).await;
    Ok(())
}

/// Keeps everything that comes, in an empty database; all of it or, where the end never comes, nothing.
pub(crate) async fn put_in(
    connection: &DatabaseConnection,
    mut parts: mpsc::Receiver<Part>,
) -> Result<bool, StoreError> {
    let mut into = connection.get_postgres_connection_pool().begin().await.map_err(failed)?;
    sqlx::query(AS_LONG_AS_IT_COMES).execute(&mut *into).await.map_err(failed)?;
    let names = Table::ALL.map(Table::name);
    let lock = format!("LOCK TABLE {} IN SHARE ROW EXCLUSIVE MODE", names.join(", "));
    sqlx::query(AssertSqlSafe(lock)).execute(&mut *into).await.map_err(failed)?;
    for name in names {
        let some = format!("SELECT EXISTS (SELECT 1 FROM {name})");
        let some: bool = sqlx::query_scalar(AssertSqlSafe(some)).fetch_one(&mut *into).await.map_err(failed)?;
        if some {
            return Err(StoreError::NotEmpty);
        }
    }
    let mut next = parts.recv().await;
    while let Some(part) = next {
        next = match part {
            Part::Rows(table, rows) => {
                insert_rows(&mut into, table, rows).await?;
                parts.recv().await
            }
            Part::Readings(readings) => copy_readings(&mut into, readings, &mut parts).await?,
            Part::Overview(run, levels) => {
                copy_overview(&mut into, run, &levels).await?;
                parts.recv().await
            }
            Part::End => {
                into.commit().await.map_err(failed)?;
                return Ok(true);
            }
        };
    }
    into.rollback().await.map_err(failed)?;
    Ok(false)
}

async fn insert_rows(into: &mut Transaction<'_, Postgres>, table: Table, rows: Vec<Stored>) -> Result<(), StoreError> {
    let links: Vec<String> =
        table.links().iter().flat_map(|of| [format!("{of}_id"), format!("{of}_version")]).collect();
    let typed = table.links().iter().map(|of| format!(", {of}_id uuid, {of}_version integer")).collect::<String>();
    let also = links.iter().map(|column| format!(", {column}")).collect::<String>();
    let columns = format!("id, version, document, archived_at, created_at, updated_at{also}");
    let statement = format!(
        "INSERT INTO {} ({columns}) SELECT {columns} FROM jsonb_to_recordset($1) AS t(id uuid, version integer, \
         document jsonb, archived_at timestamptz, created_at timestamptz, updated_at timestamptz{typed})",
        table.name()
    );
    let rows: Vec<Value> = rows.into_iter().map(as_record).collect();
    sqlx::query(AssertSqlSafe(statement)).bind(Value::from(rows)).execute(&mut **into).await.map_err(failed)?;
    Ok(())
}

fn as_record(row: Stored) -> Value {
    let stamp = |at: OffsetDateTime| at.format(&Rfc3339).unwrap_or_default();
    let links = [
        ("pack", row.links.pack),
        ("source", row.links.source),
        ("charger", row.links.charger),
        ("input", row.links.input),
        ("output", row.links.output),
    ];
    let mut record = json!({
        "id": row.id, "version": row.version, "document": row.document, "archived_at": row.archived_at.map(stamp),
        "created_at": stamp(row.created_at), "updated_at": stamp(row.updated_at)
    });
    for (of, origin) in links {
        record[format!("{of}_id")] = json!(origin.map(|Origin { id, .. }| id));
        record[format!("{of}_version")] = json!(origin.map(|Origin { version, .. }| version));
    }
    record
}

/// Copies readings as long as nothing else comes; what comes then is given back.
async fn copy_readings(
    into: &mut Transaction<'_, Postgres>,
    first: Vec<WorkshopReading>,
    parts: &mut mpsc::Receiver<Part>,
) -> Result<Option<Part>, StoreError> {
    let connection: &mut PgConnection = into;
    let mut copy = connection.copy_in_raw(COPY_READINGS).await.map_err(failed)?;
    let mut rows = CopyRows::default();
    let mut batch = first;
    let next = loop {
        for one in batch {
            let times = (one.taken_at, one.received_at, one.struck_at);
            rows.reading(one.run_id, one.n, one.client_id, times, one.clock_offset_ms, &one.document.to_string());
        }
        copy.send(rows.take()).await.map_err(failed)?;
        match parts.recv().await {
            Some(Part::Readings(more)) => batch = more,
            other => break other,
        }
    };
    copy.send(rows.end()).await.map_err(failed)?;
    copy.finish().await.map_err(failed)?;
    Ok(next)
}
