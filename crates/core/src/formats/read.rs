//! Reading a JSON value into a document while collecting every problem with its pointer.
//!
//! `serde` stops at the first mistake; somebody mending a file wants all of them at once.

use crate::codes::Code;
use schemars::JsonSchema;
use serde::Serialize;
use serde_json::Value;

/// One thing wrong with a document.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, JsonSchema, thiserror::Error)]
#[error("{pointer}: {message}; allowed: {allowed}")]
#[schemars(rename = "FieldProblem")]
pub struct Problem {
    /// JSON pointer (RFC 6901) of the field; empty for the document itself.
    pub pointer: String,
    /// What is wrong with it.
    pub message: String,
    /// What would be right.
    pub allowed: String,
    /// Whether nothing is wrong but that it was not said yet.
    #[serde(skip)]
    pub missing: bool,
}

/// Everything wrong with a document; never empty when returned as an error.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, JsonSchema, thiserror::Error)]
#[error("{}", .problems.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"))]
pub struct Problems {
    /// In the order of the document.
    pub problems: Vec<Problem>,
    /// Whether what came was no JSON at all: nothing of it could be read.
    #[serde(skip)]
    pub unreadable: bool,
}

impl Problems {
    /// Records one problem.
    pub fn add(&mut self, pointer: impl Into<String>, message: impl Into<String>, allowed: impl Into<String>) {
        self.problems.push(Problem {
            pointer: pointer.into(),
            message: message.into(),
            allowed: allowed.into(),
            missing: false,
        });
    }

    /// Records that something was not said yet.
    pub fn lacks(&mut self, pointer: impl Into<String>, message: impl Into<String>, allowed: impl Into<String>) {
        self.add(pointer, message, allowed);
        if let Some(last) = self.problems.last_mut() {
            last.missing = true;
        }
    }

    /// Whether nothing is wrong with the document but that something was not said yet.
    #[must_use]
    pub fn only_missing(&self) -> bool {
        !self.unreadable && !self.problems.is_empty() && self.problems.iter().all(|problem| problem.missing)
    }

    /// The same problems, of a document that stands at `at` in a larger one.
    #[must_use]
    pub fn under(mut self, at: &str) -> Self {
        for problem in &mut self.problems {
            problem.pointer.insert_str(0, at);
        }
        self
    }

    /// Takes over the problems of a part that stands at `at`.
    pub(crate) fn extend_at(&mut self, at: &str, part: Result<(), Self>) {
        if let Err(wrong) = part {
            self.problems.extend(wrong.under(at).problems);
        }
    }

    /// `Ok(value)` when nothing was recorded, else all problems.
    pub fn into_result<T>(self, value: T) -> Result<T, Self> {
        if self.problems.is_empty() { Ok(value) } else { Err(self) }
    }
}

/// A shape that can be read out of a JSON value.
pub trait Read: Sized {
    /// Reads `value`, found at JSON pointer `at`; records problems and returns `None` where there are any.
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self>;
}

/// Reads a whole document from bytes.
///
/// # Errors
/// Every syntax or shape problem, each with its JSON pointer.
pub fn from_bytes<T: Read>(bytes: &[u8]) -> Result<T, Problems> {
    let mut problems = Problems::default();
    match serde_json::from_slice::<Value>(bytes) {
        Ok(value) => from_value(&value),
        Err(error) => {
            problems.add("", format!("this is not JSON: {error}"), "one JSON object in UTF-8");
            problems.unreadable = true;
            Err(problems)
        }
    }
}

/// Reads a whole document from a JSON value.
///
/// # Errors
/// Every shape problem, each with its JSON pointer.
pub fn from_value<T: Read>(value: &Value) -> Result<T, Problems> {
    let mut problems = Problems::default();
    if !shallower(value, DEEPEST) {
        problems.add("", "it holds lists within lists, more than 64 deep", "a document as Rumek writes it");
        return Err(problems);
    }
    match T::read(value, "", &mut problems) {
        Some(document) if problems.problems.is_empty() => Ok(document),
        _ => Err(problems),
    }
}

/// No document is deeper; what is kept of one stands some levels deeper in an archive, which has bounds as well.
const DEEPEST: usize = 64;

/// Whether a value has at most so many levels.
fn shallower(value: &Value, levels: usize) -> bool {
    match value {
        Value::Array(items) => levels > 0 && items.iter().all(|item| shallower(item, levels - 1)),
        Value::Object(fields) => levels > 0 && fields.values().all(|field| shallower(field, levels - 1)),
        _ => true,
    }
}

/// What a JSON value is, in words for a message.
fn kind_of(value: &Value) -> &'static str {
    match value {
        Value::Null => "null",
        Value::Bool(_) => "true or false",
        Value::Number(_) => "a number",
        Value::String(_) => "text",
        Value::Array(_) => "a list",
        Value::Object(_) => "an object",
    }
}

pub(crate) fn wrong_kind(value: &Value, at: &str, wanted: &str, problems: &mut Problems) {
    problems.add(at, format!("this is {}", kind_of(value)), wanted);
}

impl Read for f64 {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let number = value.as_f64().filter(|n| n.is_finite());
        if number.is_none() {
            wrong_kind(value, at, "a number", problems);
        }
        number
    }
}

impl Read for u32 {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let number = value.as_u64().and_then(|n| Self::try_from(n).ok());
        if number.is_none() {
            wrong_kind(value, at, "a whole number", problems);
        }
        number
    }
}

impl Read for bool {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let answer = value.as_bool();
        if answer.is_none() {
            wrong_kind(value, at, "true or false", problems);
        }
        answer
    }
}

impl Read for String {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let text = value.as_str().map(str::to_owned);
        if text.is_none() {
            wrong_kind(value, at, "text", problems);
        }
        text
    }
}

impl Read for Value {
    fn read(value: &Value, _at: &str, _problems: &mut Problems) -> Option<Self> {
        Some(value.clone())
    }
}

impl<T: Read> Read for Option<T> {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        match value {
            Value::Null => Some(None),
            given => T::read(given, at, problems).map(Some),
        }
    }
}

impl<T: Read> Read for Vec<T> {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let Some(items) = value.as_array() else {
            wrong_kind(value, at, "a list", problems);
            return None;
        };
        let before = problems.problems.len();
        let read: Vec<T> =
            items.iter().enumerate().filter_map(|(n, item)| T::read(item, &format!("{at}/{n}"), problems)).collect();
        (problems.problems.len() == before).then_some(read)
    }
}

/// A range written as a list of two numbers, low first.
impl Read for [f64; 2] {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let pair = value.as_array().and_then(|items| match items.as_slice() {
            [low, high] => Some([low.as_f64()?, high.as_f64()?]),
            _ => None,
        });
        if pair.is_none_or(|[low, high]| low > high) {
            wrong_kind(value, at, "two numbers, the lower first", problems);
            return None;
        }
        pair
    }
}

/// Escapes a member name for use in a JSON pointer.
pub(crate) fn escape(name: &str) -> String {
    name.replace('~', "~0").replace('/', "~1")
}

/// A field's name without the mark Rust needs where it is a keyword.
pub(crate) const fn plain(name: &'static str) -> &'static str {
    match name.as_bytes() {
        [b'r', b'#', ..] => name.split_at(2).1,
        _ => name,
    }
}

/// Declares flat documents: structs whose fields are all `Option`s, each with a reader that
/// collects every problem and names unknown fields.
macro_rules! document {
    ($($(#[$meta:meta])* pub struct $name:ident { $($(#[$field_meta:meta])* pub $field:ident : $inner:ty,)* })*) => {$(
        $(#[$meta])*
        #[derive(Clone, Debug, Default, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
        #[serde(deny_unknown_fields)]
        pub struct $name {
            $($(#[$field_meta])*
            #[serde(default, skip_serializing_if = "Option::is_none")]
            pub $field: Option<$inner>,)*
        }

        impl $crate::formats::read::Read for $name {
            fn read(
                value: &serde_json::Value,
                at: &str,
                problems: &mut $crate::formats::read::Problems,
            ) -> Option<Self> {
                const FIELDS: &[&str] = &[$($crate::formats::read::plain(stringify!($field))),*];
                let Some(object) = value.as_object() else {
                    $crate::formats::read::wrong_kind(value, at, "an object", problems);
                    return None;
                };
                let before = problems.problems.len();
                for name in object.keys().filter(|name| !FIELDS.contains(&name.as_str())) {
                    problems.add(
                        format!("{at}/{}", $crate::formats::read::escape(name)),
                        format!("there is no field \"{name}\" here"),
                        FIELDS.join(", "),
                    );
                }
                let mut document = Self::default();
                $(if let Some(given) = object.get($crate::formats::read::plain(stringify!($field))) {
                    let pointer = format!("{at}/{}", $crate::formats::read::plain(stringify!($field)));
                    document.$field = <Option<$inner> as $crate::formats::read::Read>::read(given, &pointer, problems).flatten();
                })*
                (problems.problems.len() == before).then_some(document)
            }
        }
    )*};
}

pub(crate) use document;

impl Read for std::collections::BTreeMap<String, f64> {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let Some(object) = value.as_object() else {
            wrong_kind(value, at, "an object of numbers", problems);
            return None;
        };
        object
            .iter()
            .map(|(name, value)| {
                let number = f64::read(value, &format!("{at}/{}", escape(name)), problems)?;
                Some((name.clone(), number))
            })
            .collect()
    }
}

impl<T: Code> Read for T {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let found = value.as_str().and_then(|text| T::ALL.iter().copied().find(|value| value.code() == text));
        if found.is_none() {
            problems.add(
                at,
                match value.as_str() {
                    Some(text) => format!("\"{text}\" is not known here"),
                    None => "this is not one of the codes".to_owned(),
                },
                T::ALL.iter().map(|value| value.code()).collect::<Vec<_>>().join(", "),
            );
        }
        found
    }
}
