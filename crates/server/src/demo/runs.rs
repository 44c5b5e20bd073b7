//! The Tern Point club's logbook: charges computed by the core as they really went, read with
//! seeded noise, and one that is under way when the demo starts.

use rumek_core::formats::{CurvePoint, PlanDoc, ResultDoc, RunDoc, from_value};
use rumek_store::{Database, Draft, Links, NewReading, Origin, Runs, StoreError};
use serde_json::{Value, json};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use super::item::Item;

/// A charge as it really went, beside the plan it was begun with.
struct Past {
    plan: &'static str,
    days_ago: i64,
    /// What is left of the pack's capacity, and its resistance against the plan's.
    health: f64,
    resistance: f64,
    /// The supply gave this share of what it should.
    supply: f64,
    note: &'static str,
    end: &'static str,
}

const USUAL: Past = Past { plan: "", days_ago: 0, health: 1.0, resistance: 1.0, supply: 1.0, note: "", end: "done" };

const PASTS: &[Past] = &[
    Past { plan: "Tow-plane before the tow", days_ago: 122, health: 1.0, ..USUAL },
    Past { plan: "Tow-plane before the tow", days_ago: 87, health: 0.97, resistance: 1.1, ..USUAL },
    Past { plan: "Tow-plane before the tow", days_ago: 45, health: 0.94, resistance: 1.25, ..USUAL },
    Past {
        plan: "Tow-plane before the tow",
        days_ago: 9,
        health: 0.9,
        resistance: 1.5,
        note: "Warm day; landed hard twice.",
        ..USUAL
    },
    Past { plan: "Mount battery while observing", days_ago: 31, ..USUAL },
    Past { plan: "Mount battery while observing", days_ago: 17, note: "Clear until two.", ..USUAL },
    Past { plan: "Siren back to float", days_ago: 64, ..USUAL },
    Past { plan: "Siren back to float", days_ago: 12, health: 0.85, resistance: 1.6, ..USUAL },
    Past { plan: "Slope glider from the field battery", days_ago: 26, ..USUAL },
    Past {
        plan: "Slope glider from the field battery",
        days_ago: 5,
        supply: 0.7,
        note: "Field battery was low.",
        end: "by_hand",
        ..USUAL
    },
    Past { plan: "Headlamp on the one-cell board", days_ago: 20, ..USUAL },
    Past { plan: "Winch on the hall charger", days_ago: 3, note: "Filled for the club day.", ..USUAL },
];

/// The one under way: its plan, and how long it has been going on, min.
const UNDER_WAY: (&str, i64) = ("Slope glider to storage", 6);
/// When somebody has looked at it, as shares of that.
const LOOKS_UNDER_WAY: [f64; 3] = [0.15, 0.5, 0.95];
/// When somebody looked, as shares of the charge.
const LOOKS: [f64; 7] = [0.02, 0.2, 0.4, 0.6, 0.8, 0.92, 1.0];

/// Numbers that look random and are the same every time.
struct Noise(u64);

impl Noise {
    /// From −1 to 1.
    fn next(&mut self) -> f64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 33) as f64 / f64::from(1u32 << 30)) - 1.0
    }

    fn meter(&mut self, value: f64) -> f64 {
        ((value * (1.0 + 0.0015 * self.next()) + 0.003 * self.next()) * 1000.0).round() / 1000.0
    }
}

/// Writes the logbook.
///
/// # Errors
/// Whatever the store reports; a plan that is not among the demo's.
pub(super) async fn fill(database: &Database, plans: &[Item], now: OffsetDateTime) -> Result<(), StoreError> {
    for (k, past) in PASTS.iter().enumerate() {
        let began = now - Duration::days(past.days_ago) - Duration::minutes(37 * k as i64 % 400);
        let (item, planned, really) = computed(plans, past)?;
        let end_s = really.end.after_s * if past.end == "by_hand" { 0.7 } else { 1.0 };
        let ended = began + Duration::seconds_f64(end_s);
        let mut document = frozen(item, &planned, began)?;
        document["ended_at"] = json!(stamp(ended));
        document["end"] = json!(past.end);
        document["charge_ah"] =
            json!((really.delivered.charge_ah * end_s / really.end.after_s * 100.0).round() / 100.0);
        if !past.note.is_empty() {
            document["note"] = json!(past.note);
        }
        write(database, k as u128, item, document, &drawn(&really.curve), began, (end_s, &LOOKS)).await?;
    }
    prove(database, plans, now).await?;
    let (name, minutes) = UNDER_WAY;
    let began = now - Duration::minutes(minutes);
    let past = Past { plan: name, ..USUAL };
    let (item, planned, really) = computed(plans, &past)?;
    let document = frozen(item, &planned, began)?;
    write(
        database,
        PASTS.len() as u128,
        item,
        document,
        &drawn(&really.curve),
        began,
        (60.0 * minutes as f64, &LOOKS_UNDER_WAY),
    )
    .await
}

/// The one that was a whole discharge: of which plan's pack, and how many days ago.
const PROVED: (&str, i64) = ("Mount battery while observing", 230);

/// Its cells, each read at every look.
const CELLS: u32 = 4;

/// Writes the capacity test that was followed as a run.
async fn prove(database: &Database, plans: &[Item], now: OffsetDateTime) -> Result<(), StoreError> {
    let (name, days_ago) = PROVED;
    let refused = |why: String| StoreError::Refused(format!("the demo's test of {name}: {why}"));
    let item = plans.iter().find(|item| item.document["name"] == name);
    let item = item.ok_or_else(|| refused("no such plan".to_owned()))?;
    let mut pack = item.document["pack"].clone();
    pack["start"] = json!({ "soc": 1.0 });
    pack["goal"] = json!({ "kind": "full" });
    let began = now - Duration::days(days_ago) - Duration::hours(3);
    let document = json!({
        "format": "rumek.run/1",
        "name": "Mount battery: capacity test",
        "plan": { "format": "rumek.plan/1", "pack": pack },
        "discharge": { "by": "electronic_load", "current_a": 10.0 },
        "started_at": stamp(began),
    });
    let run = from_value::<RunDoc>(&document).map_err(|wrong| refused(format!("{wrong:?}")))?;
    let begun = rumek_core::begin_run(&run, None).map_err(|wrong| refused(format!("{wrong:?}")))?;
    let answer = begun.result.clone().unwrap_or_default();
    let answer: ResultDoc = serde_json::from_value(answer).map_err(|wrong| refused(wrong.to_string()))?;
    let phase = answer.discharge.and_then(|told| told.phase).ok_or_else(|| refused("it is stopped".to_owned()))?;
    let mut document = as_json(&begun)?;
    document["ended_at"] = json!(stamp(began + Duration::seconds_f64(phase.to_s)));
    document["end"] = json!("done");
    document["charge_ah"] = json!(-(phase.charge_ah * 100.0).round() / 100.0);
    let mut curve: Vec<(f64, f64, f64)> = phase.curve.iter().map(|p| (p.t_s, p.pack_v, -p.current_a)).collect();
    if let Some(last) = curve.last_mut() {
        last.1 = phase.end_v;
    }
    write(database, PASTS.len() as u128 + 1, item, document, &curve, began, (phase.to_s, &LOOKS)).await
}

/// The demo's plan of that name, what was planned, and how it really went.
fn computed<'a>(plans: &'a [Item], past: &Past) -> Result<(&'a Item, ResultDoc, ResultDoc), StoreError> {
    let refused = |why: String| StoreError::Refused(format!("the demo's run of {}: {why}", past.plan));
    let item = plans
        .iter()
        .find(|item| item.document["name"] == past.plan)
        .ok_or_else(|| refused("no such plan".to_owned()))?;
    let plan = from_value::<PlanDoc>(&item.document).map_err(|wrong| refused(format!("{wrong:?}")))?;
    let planned = rumek_core::answer(&plan).map_err(|wrong| refused(format!("{wrong:?}")))?;
    if planned.settings.is_none() {
        return Err(refused("its settings are withheld".to_owned()));
    }
    let mut real = planned.resolved.clone();
    if let Some(pack) = &mut real.pack {
        pack.health = pack.health.map(|health| health * past.health);
        pack.resistance_mohm = pack.resistance_mohm.map(|mohm| mohm * past.resistance);
    }
    if past.supply < 1.0 {
        let amps = planned.settings.as_ref().map(|settings| settings.current_a * past.supply);
        real.settings.get_or_insert_with(Default::default).current_a = amps;
    }
    let really = rumek_core::answer(&real).map_err(|wrong| refused(format!("{wrong:?}")))?;
    Ok((item, planned, really))
}

fn frozen(item: &Item, planned: &ResultDoc, began: OffsetDateTime) -> Result<Value, StoreError> {
    Ok(json!({
        "format": "rumek.run/1",
        "name": item.document["name"],
        "plan": as_json(&planned.resolved)?,
        "result": as_json(planned)?,
        "core_version": env!("CARGO_PKG_VERSION"),
        "started_at": stamp(began),
    }))
}

fn as_json<T: serde::Serialize>(document: &T) -> Result<Value, StoreError> {
    serde_json::to_value(document).map_err(|error| StoreError::Refused(error.to_string()))
}

fn stamp(at: OffsetDateTime) -> String {
    at.format(&Rfc3339).unwrap_or_default()
}

/// Keeps a run and its readings up to `until_s`.
async fn write(
    database: &Database,
    number: u128,
    item: &Item,
    document: Value,
    really: &[(f64, f64, f64)],
    began: OffsetDateTime,
    (until_s, looks): (f64, &[f64]),
) -> Result<(), StoreError> {
    const FIRST: u128 = 0x0196_0000_0000_7000_8000_0000_0000_1000;
    let id = Uuid::from_u128(FIRST + 0x100 * number);
    let links = Links { pack: item.pack.map(|id| Origin { id, version: 1 }), ..Links::default() };
    let charger = document["plan"].get("charger").is_some_and(|charger| !charger.is_null());
    let run_down = document["discharge"].clone();
    let fed = if run_down.is_null() { "source_a" } else { "terminal_a" };
    database.shelf::<Runs>().create(id, Draft { document, links }).await?;
    let mut noise = Noise(number as u64 + 7);
    for (n, share) in looks.iter().enumerate() {
        let t_s = share * until_s;
        let (volts, amps) = at(really, t_s);
        let place = if charger { "charger_a" } else { fed };
        let mut reading = json!({ "terminal_v": noise.meter(volts), place: noise.meter(amps).max(0.0) });
        if !run_down.is_null() {
            let cells = (0..CELLS).map(|_| noise.meter(volts / f64::from(CELLS)));
            reading["cell_voltages_v"] = cells.collect();
        }
        let reading = NewReading {
            client_id: Uuid::from_u128(FIRST + 0x100 * number + 1 + n as u128),
            taken_at: began + Duration::seconds_f64(t_s),
            clock_offset_ms: 0,
            document: reading,
        };
        database.readings().put(id, reading).await?;
    }
    Ok(())
}

/// Time, volts and amps of a charge.
fn drawn(curve: &[CurvePoint]) -> Vec<(f64, f64, f64)> {
    curve.iter().map(|p| (p.t_s, p.pack_v, p.current_a)).collect()
}

/// Volts and amps of a curve at a time.
fn at(curve: &[(f64, f64, f64)], t_s: f64) -> (f64, f64) {
    let after = curve.partition_point(|p| p.0 < t_s);
    match (after.checked_sub(1).and_then(|n| curve.get(n)), curve.get(after)) {
        (Some(a), Some(b)) if b.0 > a.0 => {
            let share = (t_s - a.0) / (b.0 - a.0);
            (a.1 + share * (b.1 - a.1), a.2 + share * (b.2 - a.2))
        }
        (_, Some(p)) | (Some(p), None) => (p.1, p.2),
        (None, None) => (0.0, 0.0),
    }
}
