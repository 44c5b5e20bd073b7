//! What the Tern Point club knows of its packs: three years of one pack's tests, one that fades, one that leaks, one left
//! full.

use rumek_core::formats::{RECORD_FORMAT, RecordDoc, RecordKind};
use rumek_store::{Database, Draft, Links, Origin, Records, StoreError};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

const TOW_PLANE: u128 = 0x0196_0000_0000_7000_8000_0000_0000_0001;
const SLOPE_GLIDER: u128 = TOW_PLANE + 1;
const MOUNT: u128 = TOW_PLANE + 2;
const DEW_HEATER: u128 = TOW_PLANE + 3;
const HEADLAMP: u128 = TOW_PLANE + 10;
const SECOND_GLIDER: u128 = TOW_PLANE + 12;
const OLD_TOW_PLANE: u128 = TOW_PLANE + 13;

/// A capacity test: days ago, Ah, A, °C, mΩ.
type Test = (u128, f64, f64, f64, f64, f64);

const TESTS: &[Test] = &[
    (TOW_PLANE, 1080.0, 4.04, 2.0, 21.0, 38.2),
    (TOW_PLANE, 985.0, 3.87, 4.0, 12.0, 52.0),
    (TOW_PLANE, 890.0, 3.72, 2.0, 5.0, 66.0),
    (TOW_PLANE, 770.0, 3.94, 0.8, 24.0, 40.1),
    (TOW_PLANE, 640.0, 3.79, 4.0, 16.0, 51.5),
    (TOW_PLANE, 520.0, 3.86, 2.0, 28.0, 38.0),
    (TOW_PLANE, 395.0, 3.66, 2.0, 11.0, 63.0),
    (TOW_PLANE, 270.0, 3.78, 2.0, 26.0, 42.8),
    (TOW_PLANE, 140.0, 3.71, 2.0, 22.0, 48.6),
    (OLD_TOW_PLANE, 900.0, 3.62, 2.0, 22.0, 31.0),
    (OLD_TOW_PLANE, 600.0, 3.31, 2.0, 20.0, 37.0),
    (OLD_TOW_PLANE, 330.0, 2.98, 2.0, 21.0, 44.0),
    (OLD_TOW_PLANE, 60.0, 2.66, 2.0, 23.0, 52.0),
    (MOUNT, 420.0, 20.3, 10.0, 22.0, 14.0),
    (MOUNT, 95.0, 19.9, 10.0, 15.0, 17.0),
    (DEW_HEATER, 120.0, 6.4, 1.4, 19.0, 160.0),
    (HEADLAMP, 400.0, 3.31, 0.68, 21.0, 62.0),
    (SLOPE_GLIDER, 200.0, 2.14, 1.1, 20.0, 24.0),
    (SECOND_GLIDER, 210.0, 2.12, 1.1, 20.0, 25.0),
];

/// A rest reading: days ago, each cell.
const RESTS: &[(u128, f64, &[f64])] = &[
    // A cell of it leaks.
    (SECOND_GLIDER, 49.0, &[3.846, 3.848, 3.845]),
    (SECOND_GLIDER, 28.0, &[3.843, 3.805, 3.842]),
    (SECOND_GLIDER, 6.0, &[3.841, 3.758, 3.840]),
    (OLD_TOW_PLANE, 40.0, &[3.852, 3.849, 3.851, 3.850, 3.853, 3.848]),
    (MOUNT, 2.0, &[3.318, 3.319, 3.318, 3.320]),
    (DEW_HEATER, 12.0, &[3.61, 3.60, 3.61]),
];

/// Writes them.
///
/// # Errors
/// Whatever the store reports.
pub(super) async fn fill(database: &Database, now: OffsetDateTime) -> Result<(), StoreError> {
    let at = |days: f64| (now - Duration::seconds_f64(days * 86_400.0)).format(&Rfc3339).unwrap_or_default();
    let record = |kind: RecordKind, days: f64| RecordDoc {
        format: Some(RECORD_FORMAT.to_owned()),
        kind: Some(kind),
        at: Some(at(days)),
        ..RecordDoc::default()
    };
    let tests = TESTS.iter().map(|(pack, days, ah, amps, warm_c, mohm)| {
        let test = RecordDoc {
            capacity_ah: Some(*ah),
            current_a: Some(*amps),
            temperature_c: Some(*warm_c),
            resistance_mohm: Some(*mohm),
            whole: Some(true),
            ..record(RecordKind::Test, *days)
        };
        (*pack, test)
    });
    let rests = RESTS.iter().map(|(pack, days, cells)| {
        let rest = RecordDoc { cell_voltages_v: Some(cells.to_vec()), ..record(RecordKind::Rest, *days) };
        (*pack, rest)
    });
    // Flown now and then; put away full after the last charge.
    let flights = (0..36).map(|n| {
        let flight = RecordDoc { charge_ah: Some(3.0), ..record(RecordKind::Discharge, 1070.0 - 29.0 * f64::from(n)) };
        (TOW_PLANE, flight)
    });
    let full = RecordDoc { charge_ah: Some(1.6), end_soc: Some(1.0), ..record(RecordKind::Charge, 4.2) };
    let all = tests.chain(rests).chain(flights).chain([(SLOPE_GLIDER, full)]);
    for (n, (pack, record)) in all.enumerate() {
        let document = serde_json::to_value(&record).map_err(|error| StoreError::Refused(error.to_string()))?;
        let links = Links { pack: Some(Origin { id: Uuid::from_u128(pack), version: 1 }), ..Links::default() };
        let id = Uuid::from_u128(TOW_PLANE + 0x1000 + n as u128);
        database.shelf::<Records>().create(id, Draft { document, links }).await?;
    }
    Ok(())
}
