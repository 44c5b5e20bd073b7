//! What each pack is worth, as it was last worked out, and the shelf sorted by it.

use sea_orm::{ConnectionTrait, DatabaseConnection, DbBackend, FromQueryResult, QueryResult, Statement};
use serde_json::{Value, json};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;

use crate::error::StoreError;
use crate::rows::{Links, Stored};

/// What the shelf is sorted by.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SortBy {
    /// What needs the person most, first.
    Need,
    /// Its name.
    Name,
    /// What holds least of its label, first.
    Health,
    /// What was used last, first.
    Used,
}

impl SortBy {
    const fn order(self) -> &'static str {
        match self {
            Self::Need => "s.rank NULLS LAST, s.due NULLS LAST, lower(p.name), p.id",
            Self::Name => "lower(p.name) NULLS LAST, p.id",
            Self::Health => "s.health NULLS LAST, lower(p.name), p.id",
            Self::Used => "s.used DESC NULLS LAST, lower(p.name), p.id",
        }
    }
}

/// Which packs are looked for.
#[derive(Clone, Debug, PartialEq)]
pub struct Shelved {
    /// How they are sorted.
    pub sort: SortBy,
    /// Every one of these words stands in its name, its notes, its tags or its chemistry.
    pub words: Vec<String>,
    /// With this tag.
    pub tag: Option<String>,
    /// Passed over.
    pub offset: u32,
    /// So many at most.
    pub limit: u32,
}

/// A page of the shelf.
#[derive(Clone, Debug, PartialEq)]
pub struct ShelfPage {
    /// Each pack with its standing; none where it is yet to be worked out.
    pub packs: Vec<(Stored, Option<Value>)>,
    /// How many there are in all.
    pub total: i64,
    /// Packs of the whole shelf whose standing is yet to be worked out.
    pub waiting: i64,
}

/// A pack whose standing is yet to be worked out.
#[derive(Clone, Debug, PartialEq)]
pub struct Unknown {
    /// The pack.
    pub pack: Stored,
    /// How often what is known of it had changed when it was read.
    pub known: i64,
}

/// A standing to be kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Worth {
    /// Whose.
    pub pack: Uuid,
    /// How often what is known of the pack had changed when the pack was read.
    pub known: i64,
    /// The standing.
    pub document: Value,
    /// The lower, the sooner it is needed.
    pub rank: i16,
    /// When.
    pub due: Option<OffsetDateTime>,
    /// What it holds of its label.
    pub health: Option<f64>,
    /// When it was last used.
    pub used: Option<OffsetDateTime>,
    /// Until when this holds.
    pub holds_until: OffsetDateTime,
}

/// What is known of a pack that was put down by itself, and the runs it was in, without what was predicted.
#[derive(Clone, Debug, PartialEq)]
pub struct KnownOf {
    /// Its records, newest first.
    pub records: Vec<Stored>,
    /// Its ended runs, newest first; their documents without plan, result and list.
    pub runs: Vec<(Uuid, Value)>,
}

/// The standings of packs.
#[derive(Clone, Debug)]
pub struct Standings {
    connection: DatabaseConnection,
}

const ON_THE_SHELF: &str = "FROM packs p LEFT JOIN standings s ON s.pack_id = p.id WHERE p.archived_at IS NULL";
/// Asked only where words are looked for: of ten thousand packs that takes its time.
const WITH_WORDS: &str = "
  AND (SELECT bool_and(concat_ws(' ', p.document ->> 'name', p.document ->> 'notes', p.document ->> 'chemistry',
                                 p.document ->> 'tags') ILIKE '%' || word || '%')
       FROM unnest($1::text[]) AS word)";
const ANY_WORDS: &str = " AND $1::text[] IS NOT NULL";
const WITH_TAG: &str = " AND p.document -> 'tags' ? $2";
/// A pack's tags as a list, whatever stands in its document: one odd pack leaves the others their tags.
const TAGS: &str = "CASE WHEN jsonb_typeof(p.document -> 'tags') = 'array' THEN p.document -> 'tags' ELSE '[]' END";
const ANY_TAG: &str = " AND $2::text IS NULL";

impl Standings {
    pub(crate) fn new(connection: DatabaseConnection) -> Self {
        Self { connection }
    }

    /// A page of the shelf.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn page(&self, wanted: &Shelved) -> Result<ShelfPage, StoreError> {
        let words: Vec<String> = wanted
            .words
            .iter()
            .map(|word| word.replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_"))
            .collect();
        let values = || vec![words.clone().into(), wanted.tag.clone().into()];
        let with_words = if words.is_empty() { ANY_WORDS } else { WITH_WORDS };
        let with_tag = if wanted.tag.is_none() { ANY_TAG } else { WITH_TAG };
        let filter = format!("{ON_THE_SHELF}{with_words}{with_tag}");
        let count = format!("SELECT count(*) AS n {filter}");
        let count = Statement::from_sql_and_values(DbBackend::Postgres, count, values());
        let total = self.connection.query_one_raw(count).await.map_err(failed)?;
        let total: i64 = total.map(|row| row.try_get("", "n")).transpose().map_err(failed)?.unwrap_or(0);
        let mut page = values();
        page.extend([i64::from(wanted.limit).into(), i64::from(wanted.offset).into()]);
        let select = format!(
            "SELECT p.id, p.version, p.document, p.archived_at, p.created_at, p.updated_at, \
             CASE WHEN s.holds_until > now() THEN s.document END AS standing {filter} ORDER BY {} LIMIT $3 OFFSET $4",
            wanted.sort.order()
        );
        let rows = Statement::from_sql_and_values(DbBackend::Postgres, select, page);
        let rows = self.connection.query_all_raw(rows).await.map_err(failed)?;
        let packs = rows.iter().map(shelved).collect::<Result<_, _>>().map_err(failed)?;
        let waiting = "SELECT count(*) AS n FROM packs p LEFT JOIN standings s ON s.pack_id = p.id \
                       WHERE p.archived_at IS NULL AND (s.holds_until IS NULL OR s.holds_until <= now())";
        let waiting = self.connection.query_one_raw(Statement::from_string(DbBackend::Postgres, waiting)).await;
        let waiting = waiting.map_err(failed)?.map(|row| row.try_get("", "n")).transpose().map_err(failed)?;
        Ok(ShelfPage { packs, total, waiting: waiting.unwrap_or(0) })
    }

    /// Every tag in use with how many packs have it, the most used first.
    ///
    /// # Errors
    /// As [`Standings::page`].
    pub async fn tags(&self) -> Result<Vec<(String, i64)>, StoreError> {
        let select = format!(
            "SELECT tag, count(*) AS n FROM packs p, jsonb_array_elements_text({TAGS}) AS tag \
             WHERE p.archived_at IS NULL AND tag IS NOT NULL GROUP BY tag ORDER BY n DESC, tag LIMIT 100"
        );
        let rows = self.connection.query_all_raw(Statement::from_string(DbBackend::Postgres, select)).await;
        let tag = |row: &QueryResult| Ok((row.try_get("", "tag")?, row.try_get("", "n")?));
        rows.map_err(failed)?.iter().map(tag).collect::<Result<_, _>>().map_err(failed)
    }

    /// Packs whose standing is yet to be worked out, or no longer holds.
    ///
    /// # Errors
    /// As [`Standings::page`].
    pub async fn unknown(&self, at_most: u32) -> Result<Vec<Unknown>, StoreError> {
        let select = "SELECT p.id, p.version, p.document, p.archived_at, p.created_at, p.updated_at, NULL::jsonb AS standing, \
                      k.version AS known \
                      FROM packs p JOIN pack_knowledge k ON k.pack_id = p.id LEFT JOIN standings s ON s.pack_id = p.id \
                      WHERE p.archived_at IS NULL AND (s.holds_until IS NULL OR s.holds_until <= now()) LIMIT $1";
        let values = vec![i64::from(at_most).into()];
        let rows = Statement::from_sql_and_values(DbBackend::Postgres, select, values);
        let rows = self.connection.query_all_raw(rows).await.map_err(failed)?;
        let unknown = |row: &QueryResult| Ok(Unknown { pack: shelved(row)?.0, known: row.try_get("", "known")? });
        rows.iter().map(unknown).collect::<Result<_, _>>().map_err(failed)
    }

    /// What is known of a pack.
    ///
    /// # Errors
    /// As [`Standings::page`].
    pub async fn known_of(&self, pack: Uuid) -> Result<KnownOf, StoreError> {
        let records = "SELECT id, version, document - 'photo_jpeg' AS document, archived_at, created_at, updated_at, NULL::jsonb AS standing \
                       FROM records WHERE pack_id = $1 AND archived_at IS NULL";
        let runs = "SELECT id, jsonb_build_object('ended_at', document -> 'ended_at', 'started_at', document -> 'started_at', \
                    'charge_ah', document -> 'charge_ah', 'end', document -> 'end', 'name', document -> 'name', \
                    'rest_voltage_v', document -> 'rest_voltage_v', 'end_soc', document #> '{result,end,soc}', \
                    'run_down', jsonb_typeof(document #> '{result,discharge}') = 'object', \
                    'fitted', document -> 'fitted', \
                    'packs_in_parallel', document #> '{plan,pack,packs_in_parallel}') AS document \
                    FROM runs WHERE pack_id = $1 AND ended AND archived_at IS NULL";
        let ask = |select: &str| Statement::from_sql_and_values(DbBackend::Postgres, select, vec![pack.into()]);
        let records = self.connection.query_all_raw(ask(records)).await.map_err(failed)?;
        let records: Vec<(Stored, Option<Value>)> =
            records.iter().map(shelved).collect::<Result<_, _>>().map_err(failed)?;
        let runs = self.connection.query_all_raw(ask(runs)).await.map_err(failed)?;
        let run = |row: &QueryResult| Ok((row.try_get("", "id")?, row.try_get("", "document")?));
        let mut records: Vec<Stored> = records.into_iter().map(|(record, _)| record).collect();
        let mut runs: Vec<(Uuid, Value)> = runs.iter().map(run).collect::<Result<_, _>>().map_err(failed)?;
        // By their instants: as text two offsets would be told apart by their clocks. What has none comes last.
        records.sort_by_cached_key(|record| std::cmp::Reverse(instant(&record.document["at"])));
        runs.sort_by_cached_key(|(_, run)| std::cmp::Reverse(instant(&run["ended_at"])));
        Ok(KnownOf { records, runs })
    }

    /// Keeps standings, each unless what it follows from has changed since, or is being changed; how many were kept.
    ///
    /// # Errors
    /// As [`Standings::page`].
    pub async fn keep(&self, worths: &[Worth]) -> Result<u64, StoreError> {
        // All at once: each by itself would wait for the disk. A number that somebody is raising is passed over and not
        // waited for: two that wait for each other's packs would both fail.
        let insert = "INSERT INTO standings (pack_id, document, rank, due, health, used, holds_until) \
                      SELECT t.pack_id, t.document, t.rank, t.due, t.health, t.used, t.holds_until \
                      FROM jsonb_to_recordset($1) AS t(pack_id uuid, known bigint, document jsonb, rank smallint, \
                      due timestamptz, health double precision, used timestamptz, holds_until timestamptz) \
                      JOIN pack_knowledge k ON k.pack_id = t.pack_id AND k.version = t.known \
                      FOR SHARE OF k SKIP LOCKED \
                      ON CONFLICT (pack_id) DO UPDATE SET document = excluded.document, rank = excluded.rank, \
                      due = excluded.due, health = excluded.health, used = excluded.used, \
                      holds_until = excluded.holds_until";
        let stamp = |at: OffsetDateTime| at.format(&Rfc3339).unwrap_or_default();
        let rows: Vec<Value> = worths
            .iter()
            .map(|worth| {
                json!({ "pack_id": worth.pack, "known": worth.known, "document": worth.document, "rank": worth.rank,
                    "due": worth.due.map(stamp), "health": worth.health, "used": worth.used.map(stamp),
                    "holds_until": stamp(worth.holds_until) })
            })
            .collect();
        if rows.is_empty() {
            return Ok(0);
        }
        let statement = Statement::from_sql_and_values(DbBackend::Postgres, insert, vec![Value::from(rows).into()]);
        Ok(self.connection.execute_raw(statement).await.map_err(failed)?.rows_affected())
    }
}

fn instant(at: &Value) -> Option<OffsetDateTime> {
    at.as_str().and_then(|at| OffsetDateTime::parse(at, &Rfc3339).ok())
}

fn failed(error: sea_orm::DbErr) -> StoreError {
    StoreError::of(error, "pack")
}

#[derive(Debug, FromQueryResult)]
struct Row {
    id: Uuid,
    version: i32,
    document: Value,
    archived_at: Option<OffsetDateTime>,
    created_at: OffsetDateTime,
    updated_at: OffsetDateTime,
    standing: Option<Value>,
}

fn shelved(row: &QueryResult) -> Result<(Stored, Option<Value>), sea_orm::DbErr> {
    let Row { id, version, document, archived_at, created_at, updated_at, standing } = Row::from_query_result(row, "")?;
    Ok((Stored { id, version, created_at, updated_at, archived_at, links: Links::default(), document }, standing))
}
