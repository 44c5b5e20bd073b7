//! Looking runs up: by words, pack, gear, date and how they ended.

use sea_orm::{ConnectionTrait, DatabaseConnection, DbBackend, QueryResult, Statement};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;

use crate::error::StoreError;
use crate::rows::{Links, Origin, Stored};

/// More are never listed at once; the newest are.
const MOST: u32 = 500;

/// Which runs are looked for; what is absent does not matter.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Search {
    /// Every one of these words stands in its name, its note or the name of its pack.
    pub text: Option<String>,
    /// Of this pack.
    pub pack: Option<Uuid>,
    /// With a supply or a charger of this name.
    pub gear: Option<String>,
    /// Begun not before.
    pub from: Option<OffsetDateTime>,
    /// Begun before.
    pub until: Option<OffsetDateTime>,
    /// How it ended, as the document says; `going_on` where it has not.
    pub outcome: Option<String>,
}

/// A run as the logbook lists it.
#[derive(Clone, Debug, PartialEq)]
pub struct Entry {
    /// The run; its document without what was predicted, which is most of it.
    pub run: Stored,
    /// How many readings it has.
    pub readings: i32,
}

const LOOK_UP: &str = "
SELECT r.id, r.version, r.pack_id, r.pack_version, r.archived_at, r.created_at, r.updated_at,
       r.document - 'result' - 'preflight' AS document,
       coalesce((SELECT max(n) FROM run_readings WHERE run_id = r.id), 0) AS readings
FROM runs r
WHERE r.archived_at IS NULL
  AND (SELECT coalesce(bool_and(concat_ws(' ', r.document ->> 'name', r.document ->> 'note', r.document #>> '{plan,pack,name}')
                                ILIKE '%' || word || '%'), true)
       FROM unnest($1::text[]) AS word)
  AND ($2::uuid IS NULL OR r.pack_id = $2)
  AND ($3::text IS NULL OR r.document #>> '{plan,source,name}' = $3 OR r.document #>> '{plan,charger,name}' = $3)
  AND ($4::text IS NULL OR r.document ->> 'started_at' >= $4)
  AND ($5::text IS NULL OR r.document ->> 'started_at' < $5)
  AND ($6::text IS NULL OR ($6 = 'going_on' AND NOT r.ended) OR (r.ended AND r.document ->> 'end' = $6))
ORDER BY r.ended, r.document ->> 'started_at' DESC NULLS FIRST
LIMIT $7";

/// Looks runs up: those going on first, then the newest.
pub(crate) async fn look_up(connection: &DatabaseConnection, search: Search) -> Result<Vec<Entry>, StoreError> {
    let stamp = |at: Option<OffsetDateTime>| at.and_then(|at| at.to_offset(time::UtcOffset::UTC).format(&Rfc3339).ok());
    let words: Vec<String> = search
        .text
        .unwrap_or_default()
        .split_whitespace()
        .map(|word| word.replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_"))
        .collect();
    let values = vec![
        words.into(),
        search.pack.into(),
        search.gear.into(),
        stamp(search.from).into(),
        stamp(search.until).into(),
        search.outcome.into(),
        i64::from(MOST).into(),
    ];
    let statement = Statement::from_sql_and_values(DbBackend::Postgres, LOOK_UP, values);
    let failed = |error| StoreError::of(error, "run");
    let rows = connection.query_all_raw(statement).await.map_err(failed)?;
    rows.iter().map(entry).collect::<Result<_, _>>().map_err(failed)
}

fn entry(row: &QueryResult) -> Result<Entry, sea_orm::DbErr> {
    let pack = Origin::from_columns(row.try_get("", "pack_id")?, row.try_get("", "pack_version")?);
    Ok(Entry {
        run: Stored {
            id: row.try_get("", "id")?,
            version: row.try_get("", "version")?,
            created_at: row.try_get("", "created_at")?,
            updated_at: row.try_get("", "updated_at")?,
            archived_at: row.try_get("", "archived_at")?,
            links: Links { pack, ..Links::default() },
            document: row.try_get("", "document")?,
        },
        readings: row.try_get("", "readings")?,
    })
}
