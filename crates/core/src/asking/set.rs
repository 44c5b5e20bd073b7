//! A plan with some of its fields set to other values.

use serde_json::{Map, Value};

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
