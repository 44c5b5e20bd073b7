//! A plan with some of its fields set to other values.

use serde_json::{Map, Value, json};

use crate::formats::{PlanDoc, from_value};

/// A field by its JSON pointer, and what it is set to.
pub(crate) type Setting = (String, Value);

/// The plan with these fields set; `None` where one of them does not fit.
pub(crate) fn with(plan: &PlanDoc, settings: &[Setting]) -> Option<PlanDoc> {
    let mut whole = serde_json::to_value(plan).ok()?;
    for (pointer, value) in settings {
        place(&mut whole, pointer, value)?;
    }
    from_value(&whole).ok()
}

/// What limits nothing in the place of a source that nobody said: the wall before a charger, else a strong bench supply.
pub(crate) fn strong_source(plan: &PlanDoc) -> Setting {
    let source = if plan.charger.is_some() {
        json!({ "kind": "mains" })
    } else {
        json!({ "kind": "bench_supply", "max_voltage_v": 120.0, "max_current_a": 500.0 })
    };
    ("/source".to_owned(), source)
}

fn place(whole: &mut Value, pointer: &str, value: &Value) -> Option<()> {
    let mut at = whole;
    let mut fields = pointer.trim_start_matches('/').split('/').peekable();
    while let Some(field) = fields.next() {
        if at.is_null() {
            *at = Value::Object(Map::new());
        }
        let object = at.as_object_mut()?;
        if fields.peek().is_none() {
            object.insert(field.to_owned(), value.clone());
            return Some(());
        }
        at = object.entry(field).or_insert(Value::Null);
    }
    None
}
