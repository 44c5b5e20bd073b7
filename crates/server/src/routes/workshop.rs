//! The whole workshop as one JSON archive, out and, into an empty one, in. Both are read and
//! written piece by piece: a logbook may hold millions of readings.

use std::collections::HashSet;
use std::fmt;

use axum::body::{Body, Bytes};
use axum::extract::{Query, State};
use axum::http::{HeaderName, StatusCode, header};
use axum::routing::get;
use axum::{Json, Router};
use futures::{TryStreamExt, stream};
use rumek_core::Extremes;
use rumek_core::formats::{
    ChargerDoc, LeadDoc, LogMappingDoc, PackDoc, PlanDoc, Problems, RecordDoc, RescueCaseDoc, RunDoc, RunReadingDoc,
    SourceDoc, from_value,
};
use rumek_store::{
    Chargers, Leads, LogMappings, Packs, Part, Plans, Records, Rescues, Runs, Stored, Supplies, Table, WorkshopReading,
};
use schemars::{JsonSchema, SchemaGenerator};
use serde::de::{DeserializeSeed, Deserializer, Error, IgnoredAny, MapAccess, SeqAccess, Visitor};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use tokio::sync::mpsc;
use tokio_util::io::{StreamReader, SyncIoBridge};
use uuid::Uuid;

use crate::app::App;
use crate::openapi::Description;
use crate::problem::Problem;
use crate::routes::clock;
use crate::routes::logs::Malformed;
use crate::routes::resources::Documents;
use crate::wire::{StoredDoc, moment, shown};

/// The name of the archive format, with its version.
const FORMAT: &str = "rumek.archive/1";
/// Readings handed on at a time.
const BATCH: usize = 5000;
/// Rows handed on at a time, bytes of their documents.
const AT_A_TIME: usize = 4 << 20;
/// What is drawn of runs is handed on after so many readings.
const OVERVIEWS_EVERY: usize = 500_000;
/// The lists that the links of a row lead to.
const LINKED: [&str; 5] = ["packs", "supplies", "chargers", "leads", "leads"];
/// So many bad rows are named.
const NAMED: usize = 200;

/// The requests of this file; an archive is long, and has no limit of time.
pub(crate) fn long_routes() -> Router<App> {
    Router::new().route("/archive", get(take_out).post(put_in))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let archive = archive_schema(api.generator());
    let put_in = api.schema::<PutInDoc>();
    let content = json!({ "application/json": { "schema": archive } });
    let out = json!({ "summary": "The whole workshop", "responses": { "200": { "description": "rumek.archive/1", "content": content } } });
    api.add_special("/api/archive", "get", out, &[503]);
    let taken = json!({
        "summary": "Put an archive into an empty workshop: all of it or nothing",
        "requestBody": { "required": true, "content": content },
        "responses": { "201": { "description": "What it brought", "content": { "application/json": { "schema": put_in } } } }
    });
    api.add_special("/api/archive", "post", taken, &[400, 409, 413, 415, 422, 503]);
}

/// The archive format; it is read and written piece by piece, so that no type holds all of it.
pub(crate) fn archive_schema(generator: &mut SchemaGenerator) -> Value {
    let mut list = |of: fn(&mut SchemaGenerator) -> schemars::Schema| json!({ "type": "array", "items": of(generator).to_value() });
    json!({
        "type": "object",
        "required": ["format"],
        "additionalProperties": false,
        "properties": {
            "format": { "const": FORMAT },
            "rumek": { "type": "string", "description": "Which Rumek wrote it." },
            "made_at": { "type": "string", "description": "RFC 3339, UTC." },
            "packs": list(SchemaGenerator::subschema_for::<StoredDoc<PackDoc>>),
            "supplies": list(SchemaGenerator::subschema_for::<StoredDoc<SourceDoc>>),
            "chargers": list(SchemaGenerator::subschema_for::<StoredDoc<ChargerDoc>>),
            "leads": list(SchemaGenerator::subschema_for::<StoredDoc<LeadDoc>>),
            "log_mappings": list(SchemaGenerator::subschema_for::<StoredDoc<LogMappingDoc>>),
            "plans": list(SchemaGenerator::subschema_for::<StoredDoc<PlanDoc>>),
            "records": list(SchemaGenerator::subschema_for::<StoredDoc<RecordDoc>>),
            "rescues": list(SchemaGenerator::subschema_for::<StoredDoc<RescueCaseDoc>>),
            "runs": list(SchemaGenerator::subschema_for::<StoredDoc<RunDoc>>),
            "readings": list(SchemaGenerator::subschema_for::<ArchivedReadingDoc<RunReadingDoc>>)
        }
    })
}

/// A reading with everything that is known of it.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct ArchivedReadingDoc<T> {
    /// Whose.
    pub run_id: Uuid,
    /// From 1, in the order of arrival.
    pub n: i32,
    /// The id it was sent with; null where a log was read in.
    pub client_id: Option<Uuid>,
    /// When it was taken, RFC 3339 UTC.
    pub taken_at: String,
    /// When it arrived, RFC 3339 UTC.
    pub received_at: String,
    /// The taker's clock minus the server's, ms.
    pub clock_offset_ms: i64,
    /// When it was taken back, RFC 3339 UTC; it is kept, and not counted.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub struck_at: Option<String>,
    /// The reading.
    pub reading: T,
}

/// What an archive brought.
#[derive(Clone, Debug, Default, Serialize, JsonSchema)]
struct PutInDoc {
    /// Rows of every kind.
    pub rows: usize,
    /// Readings.
    pub readings: usize,
    /// Rows and readings that cannot be kept and were passed over, as was asked.
    pub left_out: usize,
    /// What is wrong with the first of those.
    pub problems: Vec<rumek_core::formats::Problem>,
}

/// What is done with rows that cannot be kept; without a word the archive is refused.
#[derive(Clone, Copy, Debug, Deserialize)]
struct PutInQuery {
    malformed: Option<Malformed>,
}

/// Everything there is, as it stands at one moment.
async fn take_out(State(app): State<App>) -> Result<([(HeaderName, String); 2], Body), Problem> {
    let (parts, mut taken) = mpsc::channel(4);
    let taking = tokio::spawn(async move { app.database.take_out(parts).await });
    let Some(first) = taken.recv().await else {
        let failed = taking.await.map_err(|error| Problem::failed(&error))?;
        return Err(failed.err().map_or_else(|| Problem::failed(&"an archive without a beginning"), Problem::from));
    };
    let now = OffsetDateTime::now_utc();
    let head = format!(
        "{{\"format\":\"{FORMAT}\",\"rumek\":\"{}\",\"made_at\":\"{}\"",
        env!("CARGO_PKG_VERSION"),
        shown(now.truncate_to_second())
    );
    let mut writer = Writer::default();
    let head = head + &writer.write(first).map_err(|error| Problem::failed(&error))?;
    let rest = stream::unfold((taken, writer, false), |(mut taken, mut writer, over)| async move {
        if over {
            return None;
        }
        match taken.recv().await {
            Some(part) => {
                let over = part == Part::End;
                let text = writer.write(part).map(Bytes::from).map_err(std::io::Error::other);
                Some((text, (taken, writer, over)))
            }
            // Broken off: whoever saves this is told by the connection that it is not whole.
            None => Some((Err(std::io::Error::other("the database went away")), (taken, writer, true))),
        }
    });
    let whole = stream::once(async move { Ok(Bytes::from(head)) });
    let name = format!("rumek-{}.json", now.date());
    let headers = [
        (header::CONTENT_TYPE, "application/json".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}\"")),
    ];
    Ok((headers, Body::from_stream(futures::StreamExt::chain(whole, rest))))
}

/// Writes the parts of an archive as they come.
#[derive(Default)]
struct Writer {
    /// The list that is being written, and whether anything stands in it.
    list: Option<(&'static str, bool)>,
}

impl Writer {
    fn write(&mut self, part: Part) -> serde_json::Result<String> {
        let mut text = String::new();
        match part {
            Part::Rows(table, rows) => {
                self.open(&mut text, table.name());
                for row in rows {
                    self.add(&mut text, &serde_json::to_string(&StoredDoc::<Value>::from(row))?);
                }
            }
            Part::Readings(readings) => {
                self.open(&mut text, "readings");
                for reading in readings {
                    self.add(&mut text, &serde_json::to_string(&ArchivedReadingDoc::from(reading))?);
                }
            }
            // What is drawn from them is worked out again where they are put in.
            Part::Overview(..) => {}
            Part::End => {
                self.open(&mut text, "readings");
                text.push_str("]}\n");
            }
        }
        Ok(text)
    }

    /// Goes on with a list, the one before closed.
    fn open(&mut self, text: &mut String, name: &'static str) {
        match self.list {
            Some((open, _)) if open == name => return,
            Some(_) => text.push(']'),
            None => {}
        }
        text.push_str(&format!(",\n\"{name}\":["));
        self.list = Some((name, false));
    }

    fn add(&mut self, text: &mut String, item: &str) {
        if let Some((_, some)) = &mut self.list {
            text.push_str(if *some { ",\n" } else { "\n" });
            *some = true;
        }
        text.push_str(item);
    }
}

impl From<WorkshopReading> for ArchivedReadingDoc<Value> {
    fn from(row: WorkshopReading) -> Self {
        Self {
            run_id: row.run_id,
            n: row.n,
            client_id: row.client_id,
            taken_at: shown(row.taken_at),
            received_at: shown(row.received_at),
            clock_offset_ms: row.clock_offset_ms,
            struck_at: row.struck_at.map(shown),
            reading: row.document,
        }
    }
}

/// Puts an archive into an empty workshop: all of it or nothing.
async fn put_in(
    State(app): State<App>,
    Query(query): Query<PutInQuery>,
    body: Body,
) -> Result<(StatusCode, Json<PutInDoc>), Problem> {
    let skips = query.malformed == Some(Malformed::Skip);
    let bytes = StreamReader::new(body.into_data_stream().map_err(std::io::Error::other));
    let (parts, arriving) = mpsc::channel(4);
    let reading = tokio::task::spawn_blocking(move || {
        let mut intake = Intake {
            parts,
            problems: Problems::default(),
            told: Problems::default(),
            skips,
            left_out: HashSet::new(),
            counts: PutInDoc::default(),
        };
        let mut source = std::io::BufReader::new(SyncIoBridge::new(Box::pin(bytes)));
        let mut json = serde_json::Deserializer::from_reader(&mut source);
        let read = Whole(&mut intake).deserialize(&mut json).and_then(|()| json.end());
        if !intake.skips {
            intake.problems.problems.append(&mut intake.told.problems);
        }
        if let Err(error) = read
            && intake.problems.problems.is_empty()
        {
            intake.problems.add("", format!("the archive cannot be read: {error}"), "an archive taken out of Rumek");
        }
        // A browser listens only once it has sent everything; one that has gone away breaks off here.
        let _ = std::io::copy(&mut source, &mut std::io::sink());
        if intake.problems.problems.is_empty() && intake.parts.blocking_send(Part::End).is_err() {
            return Ok(intake.counts);
        }
        intake.counts.problems = intake.told.problems;
        intake.problems.into_result(intake.counts)
    });
    let kept = app.database.put_in(arriving).await;
    let read = reading.await.map_err(|error| Problem::failed(&error))?;
    kept?;
    Ok((StatusCode::CREATED, Json(read?)))
}

/// What is read of an archive, handed on as it is read.
struct Intake {
    parts: mpsc::Sender<Part>,
    /// Why it cannot be read on.
    problems: Problems,
    /// What is wrong with single rows, the first of them.
    told: Problems,
    /// Whether such rows are passed over.
    skips: bool,
    left_out: HashSet<(&'static str, Uuid)>,
    counts: PutInDoc,
}

impl Intake {
    fn send<E: Error>(&self, part: Part) -> Result<(), E> {
        // Whoever takes them has failed and says so itself.
        self.parts.blocking_send(part).map_err(|_| E::custom("it could not be kept"))
    }

    /// A row, or what is wrong with it; it is left out where the person says so.
    fn row(&mut self, table: Table, k: usize, row: StoredDoc<Value>) -> Option<Stored> {
        let at = format!("/{}/{k}", table.name());
        let id = row.id;
        let problems = check(table, &row.document).map_err(|wrong| wrong.under(&format!("{at}/document")));
        let stored = Stored::try_from(row).map_err(|field| {
            let mut problems = Problems::default();
            problems.add(format!("{at}/{field}"), "this is no time", "RFC 3339");
            problems
        });
        match problems.and(stored) {
            Ok(mut row) => {
                for (link, list) in row.links.each().into_iter().zip(LINKED) {
                    if link.is_some_and(|origin| self.left_out.contains(&(list, origin.id))) {
                        *link = None;
                    }
                }
                Some(row)
            }
            Err(wrong) => {
                self.wrong(wrong);
                self.left_out.insert((table.name(), id));
                None
            }
        }
    }

    /// Names what is wrong; where bad rows are passed over, the rest goes in.
    fn wrong(&mut self, wrong: Problems) {
        self.counts.left_out += 1;
        let room = NAMED.saturating_sub(self.told.problems.len());
        self.told.problems.extend(wrong.problems.into_iter().take(room));
    }

    /// Whether reading on makes sense.
    fn goes_on(&self) -> bool {
        self.skips || self.counts.left_out == 0
    }

    fn flush<E: Error>(&mut self, table: Table, rows: &mut Vec<Stored>) -> Result<(), E> {
        self.counts.rows += rows.len();
        self.send(Part::Rows(table, std::mem::take(rows)))
    }
}

fn check(table: Table, document: &Value) -> Result<(), Problems> {
    match table {
        Table::Packs => Packs::check(document),
        Table::Supplies => Supplies::check(document),
        Table::Chargers => Chargers::check(document),
        Table::Leads => Leads::check(document),
        Table::Plans => Plans::check(document),
        Table::Rescues => Rescues::check(document),
        Table::Records => Records::check(document),
        Table::Runs => Runs::check(document),
        Table::LogMappings => LogMappings::check(document),
    }
}

/// The archive itself.
struct Whole<'a>(&'a mut Intake);

impl<'de> DeserializeSeed<'de> for Whole<'_> {
    type Value = ();

    fn deserialize<D: Deserializer<'de>>(self, from: D) -> Result<(), D::Error> {
        from.deserialize_map(self)
    }
}

impl<'de> Visitor<'de> for Whole<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "an object with format {FORMAT}")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<(), A::Error> {
        let (mut said, mut runs) = (false, false);
        while let Some(key) = map.next_key::<String>()? {
            match key.as_str() {
                "format" => {
                    let format = map.next_value::<String>()?;
                    said = format == FORMAT;
                    if !said {
                        return Err(A::Error::custom(format_args!("its format is {format}, not {FORMAT}")));
                    }
                }
                "rumek" | "made_at" => {
                    map.next_value::<IgnoredAny>()?;
                }
                // Each reading goes to its run as it arrives.
                "readings" if !runs => {
                    return Err(A::Error::custom("no list “runs” stands before its list “readings”"));
                }
                "readings" => map.next_value_seed(Readings(self.0))?,
                // Older archives call the supplies so.
                name => match Table::ALL
                    .into_iter()
                    .find(|table| table.name() == name || (name == "gear" && *table == Table::Supplies))
                {
                    Some(table) => {
                        runs = runs || table == Table::Runs;
                        map.next_value_seed(Rows(self.0, table))?;
                    }
                    None => return Err(A::Error::custom(format_args!("“{name}” is not known here"))),
                },
            }
        }
        if said { Ok(()) } else { Err(A::Error::custom("its format is not said")) }
    }
}

/// The rows of a table, one after the other.
struct Rows<'a>(&'a mut Intake, Table);

impl<'de> DeserializeSeed<'de> for Rows<'_> {
    type Value = ();

    fn deserialize<D: Deserializer<'de>>(self, from: D) -> Result<(), D::Error> {
        from.deserialize_seq(self)
    }
}

impl<'de> Visitor<'de> for Rows<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a list of rows")
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut seq: A) -> Result<(), A::Error> {
        let Self(intake, table) = self;
        let (mut rows, mut bytes, mut k) = (Vec::new(), 0, 0);
        while let Some(row) = seq.next_element::<StoredDoc<Value>>()? {
            bytes += row.document.to_string().len();
            rows.extend(intake.row(table, k, row));
            k += 1;
            if !intake.goes_on() && intake.told.problems.len() >= NAMED {
                break;
            }
            if bytes >= AT_A_TIME && intake.goes_on() {
                intake.flush(table, &mut rows)?;
                bytes = 0;
            }
        }
        if !intake.goes_on() {
            return Err(A::Error::custom("documents have problems"));
        }
        intake.flush(table, &mut rows)
    }
}

/// Its readings, in the order of their runs and numbers.
struct Readings<'a>(&'a mut Intake);

impl<'de> DeserializeSeed<'de> for Readings<'_> {
    type Value = ();

    fn deserialize<D: Deserializer<'de>>(self, from: D) -> Result<(), D::Error> {
        from.deserialize_seq(self)
    }
}

impl<'de> Visitor<'de> for Readings<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a list of readings")
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut seq: A) -> Result<(), A::Error> {
        let mut batch = Vec::with_capacity(BATCH);
        let mut overviews = Vec::new();
        let mut run: Option<(Uuid, i32, Extremes)> = None;
        let (mut kept, mut k) = (0_usize, 0);
        while let Some(doc) = seq.next_element::<ArchivedReadingDoc<Value>>()? {
            let at = format!("/readings/{k}");
            k += 1;
            if self.0.left_out.contains(&(Table::Runs.name(), doc.run_id)) {
                self.0.counts.left_out += 1;
                continue;
            }
            let known = run.as_ref().filter(|(id, ..)| *id == doc.run_id).map_or(0, |(_, n, _)| *n);
            let read = reading_of(doc, known, self.0.skips).map_err(|wrong| wrong.under(&at));
            let (reading, mut row) = match read {
                Ok(read) => read,
                Err(wrong) => {
                    self.0.wrong(wrong);
                    if self.0.goes_on() {
                        continue;
                    }
                    return Err(A::Error::custom("a reading has problems"));
                }
            };
            if run.as_ref().is_none_or(|(id, ..)| *id != row.run_id) {
                let before = run.replace((row.run_id, 0, Extremes::default()));
                overviews.extend(before.map(|(id, _, extremes)| (id, extremes.finish())));
            }
            if let Some((_, n, extremes)) = &mut run {
                // One that was left out leaves no gap.
                *n += 1;
                row.n = *n;
                extremes.push(reading.at_pack());
            }
            self.0.counts.readings += 1;
            kept += 1;
            batch.push(row);
            if batch.len() == BATCH {
                self.0.send(Part::Readings(std::mem::take(&mut batch)))?;
            }
            // What is drawn of the runs so far is handed on before it grows large.
            if kept >= OVERVIEWS_EVERY && batch.is_empty() {
                kept = 0;
                for (id, levels) in overviews.drain(..) {
                    self.0.send(Part::Overview(id, levels))?;
                }
            }
        }
        self.0.send(Part::Readings(batch))?;
        overviews.extend(run.map(|(id, _, extremes)| (id, extremes.finish())));
        for (id, levels) in overviews {
            self.0.send(Part::Overview(id, levels))?;
        }
        Ok(())
    }
}

/// A reading as the door of single readings takes it: its times, its clock, its figures. It stands after `known` others
/// of its run.
fn reading_of(
    doc: ArchivedReadingDoc<Value>,
    known: i32,
    gaps: bool,
) -> Result<(RunReadingDoc, WorkshopReading), Problems> {
    let reading = from_value::<RunReadingDoc>(&doc.reading).map_err(|wrong| wrong.under("/reading"))?;
    let mut problems = Problems::default();
    if doc.n <= known || (doc.n != known + 1 && !gaps) {
        problems.add("/n", "the readings of a run are not in order", format!("{}", known + 1));
    }
    reading.bounds("/reading", &mut problems);
    match WorkshopReading::try_from(doc) {
        Ok(row) => {
            clock::check(&mut problems, row.taken_at, row.clock_offset_ms);
            problems.into_result((reading, row))
        }
        Err(field) => {
            problems.add(format!("/{field}"), "this is no time", "RFC 3339");
            Err(problems)
        }
    }
}

impl TryFrom<ArchivedReadingDoc<Value>> for WorkshopReading {
    type Error = &'static str;

    fn try_from(doc: ArchivedReadingDoc<Value>) -> Result<Self, &'static str> {
        Ok(Self {
            run_id: doc.run_id,
            n: doc.n,
            client_id: doc.client_id,
            taken_at: moment(&doc.taken_at, "taken_at")?,
            received_at: moment(&doc.received_at, "received_at")?,
            clock_offset_ms: doc.clock_offset_ms,
            struck_at: doc.struck_at.as_deref().map(|at| moment(at, "struck_at")).transpose()?,
            document: doc.reading,
        })
    }
}
