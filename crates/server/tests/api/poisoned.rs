//! No row spoils its neighbours: each field of every document in turn as nothing, as a figure at its edges and as
//! something of another kind. Whatever is taken, every other row answers as it did before.

use std::collections::BTreeSet;

use axum::http::StatusCode;
use rumek_server::demo;
use rumek_store::Database;
use serde_json::{Map, Value, json};

use crate::Api;

const SHELVES: [&str; 9] =
    ["packs", "supplies", "chargers", "leads", "plans", "rescues", "runs", "records", "log-mappings"];
/// Rows are looked at together, so many at a time.
const TOGETHER: usize = 60;

/// How deep fields are spoiled. Of a run only its own: its plan is checked as a plan is.
fn deepest(shelf: &str) -> usize {
    if shelf == "runs" { 2 } else { 4 }
}

fn poisons() -> [Value; 8] {
    [json!(null), json!(0), json!(-1), json!(1e300), json!(-1e300), json!(""), json!([null]), json!({})]
}

/// Every place of a document, by its schema and by what stands in it.
struct Places<'a> {
    schemas: &'a Value,
    deepest: usize,
    found: BTreeSet<String>,
}

impl Places<'_> {
    fn of_schema(&mut self, schema: &Value, at: &str, depth: usize) {
        if let Some(name) = schema["$ref"].as_str() {
            let name = name.rsplit('/').next().unwrap_or_default();
            return self.of_schema(&self.schemas[name].clone(), at, depth);
        }
        for either in ["anyOf", "oneOf", "allOf"] {
            for one in schema[either].as_array().into_iter().flatten() {
                self.of_schema(one, at, depth);
            }
        }
        if depth == self.deepest {
            return;
        }
        for (name, property) in schema["properties"].as_object().into_iter().flatten() {
            let at = format!("{at}/{name}");
            self.found.insert(at.clone());
            self.of_schema(property, &at, depth + 1);
        }
        if schema["items"].is_object() {
            let at = format!("{at}/0");
            self.found.insert(at.clone());
            self.of_schema(&schema["items"], &at, depth + 1);
        }
    }

    fn of_value(&mut self, value: &Value, at: &str, depth: usize) {
        if depth == self.deepest {
            return;
        }
        let inside: Vec<(String, &Value)> = match value {
            Value::Object(fields) => fields.iter().map(|(name, value)| (name.clone(), value)).collect(),
            Value::Array(items) => items.iter().take(1).map(|item| ("0".to_owned(), item)).collect(),
            _ => Vec::new(),
        };
        for (name, value) in inside {
            let at = format!("{at}/{name}");
            self.found.insert(at.clone());
            self.of_value(value, &at, depth + 1);
        }
    }
}

/// The document with another value at a place; what leads to it is made where it is missing.
fn poisoned(document: &Value, at: &str, value: &Value) -> Value {
    let mut document = document.clone();
    let mut here = &mut document;
    for name in at.split('/').skip(1) {
        if name == "0" {
            if !here.is_array() || here.as_array().is_some_and(Vec::is_empty) {
                *here = json!([null]);
            }
            here = &mut here[0];
        } else {
            if !here.is_object() {
                *here = Value::Object(Map::new());
            }
            here = here.as_object_mut().unwrap().entry(name).or_insert(Value::Null);
        }
    }
    *here = value.clone();
    document
}

/// What lists and pages say of the rows that were there before.
struct Before {
    ids: BTreeSet<String>,
    /// The pack that rows are put down for: what is known of it changes.
    of: Option<String>,
    packs: Vec<String>,
    said: Vec<Value>,
}

impl Before {
    async fn of(api: &Api, of: Option<&str>) -> Self {
        let of = of.map(str::to_owned);
        let mut before = Self { ids: BTreeSet::new(), of, packs: Vec::new(), said: Vec::new() };
        for shelf in SHELVES {
            let rows = api.get(&format!("/api/{shelf}")).await.json();
            let ids: Vec<String> =
                rows.as_array().unwrap().iter().map(|row| row["id"].as_str().unwrap().to_owned()).collect();
            if shelf == "packs" {
                before.packs.clone_from(&ids);
            }
            before.ids.extend(ids);
        }
        // The first look works the standings out.
        before.look(api).await;
        before.said = before.look(api).await;
        before
    }

    /// Every list, cut down to the rows of before, and every page of theirs.
    async fn look(&self, api: &Api) -> Vec<Value> {
        let mut said = Vec::new();
        for shelf in SHELVES {
            said.push(self.own(api.get(&format!("/api/{shelf}")).await.json(), &[]));
        }
        said.push(self.own(api.get("/api/shelf?limit=500").await.json()["packs"].take(), &["pack"]));
        said.push(self.own(api.get("/api/logbook").await.json(), &[]));
        for sort in ["name", "health", "used"] {
            let answer = api.get(&format!("/api/shelf?sort={sort}&search=e")).await;
            assert_eq!(answer.status, StatusCode::OK, "{answer:?}");
        }
        for pack in &self.packs {
            let page = api.get(&format!("/api/packs/{pack}/page")).await;
            assert_eq!(page.status, StatusCode::OK, "{page:?}");
        }
        said
    }

    fn own(&self, rows: Value, inside: &[&str]) -> Value {
        let id = |row: &Value| inside.iter().fold(row, |row, name| &row[*name])["id"].as_str().map(str::to_owned);
        let rows = rows.as_array().unwrap_or_else(|| panic!("no list: {rows}"));
        let own = rows.iter().filter(|row| id(row).is_some_and(|id| self.ids.contains(&id)));
        let mut own: Vec<Value> = own.cloned().collect();
        own.sort_by_key(&id);
        own.iter_mut().filter(|row| !inside.is_empty() && id(row) == self.of).for_each(|row| {
            row["standing"].take();
        });
        Value::from(own)
    }
}

async fn sweep(shelf: &str) {
    let api = Api::start().await;
    demo::fill(&Database::connect(api.database.url()).await.unwrap()).await.unwrap();
    let contract = api.get("/api/openapi.json").await.json();
    let schemas = &contract["components"]["schemas"];
    let body =
        &contract["paths"][format!("/api/{shelf}")]["post"]["requestBody"]["content"]["application/json"]["schema"];
    let body = body["$ref"].as_str().map_or(body, |name| &schemas[name.rsplit('/').next().unwrap()]);
    let row = match api.get(&format!("/api/{shelf}")).await.json()[0].clone() {
        // The demo has read no logs of other instruments.
        Value::Null => json!({ "document": { "format": "rumek.log-mapping/1", "header": ["t", "V", "A"] } }),
        row => row,
    };
    let mut places = Places { schemas, deepest: deepest(shelf), found: BTreeSet::new() };
    places.of_schema(&body["properties"]["document"], "", 0);
    places.of_value(&row["document"], "", 0);
    assert!(places.found.len() > 5, "{shelf}: {:?}", places.found);

    let before = Before::of(&api, row["links"]["pack"]["id"].as_str()).await;
    let (mut taken, mut tried) = (Vec::new(), 0_usize);
    let mut in_all = 0_usize;
    for at in &places.found {
        for value in poisons() {
            let document = poisoned(&row["document"], at, &value);
            let answer =
                api.post(&format!("/api/{shelf}"), &json!({ "document": document, "links": row["links"] })).await;
            tried += 1;
            if answer.status != StatusCode::CREATED {
                assert!(answer.status.is_client_error(), "{shelf}{at} {value}: {answer:?}");
                continue;
            }
            let id = answer.json()["id"].as_str().unwrap().to_owned();
            if shelf == "runs" {
                for path in ["state", "readings", "log"] {
                    let answer = api.get(&format!("/api/runs/{id}/{path}")).await;
                    assert!(!answer.status.is_server_error(), "{shelf}{at} {value} {path}: {answer:?}");
                }
            }
            taken.push((format!("{at} {value}"), id));
            if taken.len() == TOGETHER {
                in_all += look_back(&api, &before, shelf, &mut taken).await;
            }
        }
    }
    in_all += look_back(&api, &before, shelf, &mut taken).await;
    assert!(in_all * 20 > tried, "{shelf}: {in_all} of {tried} were taken");
    // What was taken can be taken out again, and put into another workshop.
    let archive = api.get("/api/archive").await;
    assert_eq!(archive.status, StatusCode::OK, "{shelf}");
    let other = Api::start().await;
    let back = other.send("POST", "/api/archive", &[], archive.bytes).await;
    assert_eq!(back.status, StatusCode::CREATED, "{shelf}: {back:?}");
}

/// Looks at every row of before, and puts away what was taken meanwhile.
async fn look_back(api: &Api, before: &Before, shelf: &str, taken: &mut Vec<(String, String)>) -> usize {
    let poisoned: Vec<&str> = taken.iter().map(|(what, _)| what.as_str()).collect();
    let said = before.look(api).await;
    for (now, then) in said.iter().zip(&before.said) {
        assert!(now == then, "{shelf}: another row changed after {poisoned:?}\n{then}\n{now}");
    }
    let count = taken.len();
    for (_, id) in taken.drain(..) {
        api.post(&format!("/api/{shelf}/{id}/archive"), &json!({ "version": 1 })).await;
    }
    count
}

#[rstest::rstest]
#[tokio::test]
async fn a_row_with_any_field_spoiled_leaves_the_others_as_they_were(
    #[values("packs", "supplies", "chargers", "leads", "plans", "rescues", "runs", "records", "log-mappings")]
    shelf: &str,
) {
    sweep(shelf).await;
}
