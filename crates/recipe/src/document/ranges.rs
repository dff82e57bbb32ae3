//! Are all numbers within the ranges that their fields declare?
//!
//! The ranges stand once, at the fields; here the schema made from them is
//! walked alongside the document.

use std::sync::LazyLock;

use serde_json::Value;

use super::error::{Fault, Place};
use super::{Recipe, RecipeError};

static SCHEMA: LazyLock<Value> = LazyLock::new(|| schemars::schema_for!(Recipe).to_value());

/// Finds the first number out of its range.
pub(super) fn check(document: &Value) -> Result<(), RecipeError> {
    walk(&SCHEMA, document, &mut Vec::new()).map_err(|found| RecipeError {
        place: Place::at(document, &found.path),
        fault: Fault::OutOfRange {
            parameter: found.path.last().cloned().unwrap_or_default(),
            value: found.value,
            low: found.low,
            high: found.high,
        },
    })
}

struct OutOfRange {
    path: Vec<String>,
    value: f64,
    low: f64,
    high: f64,
}

fn resolved(schema: &Value) -> &Value {
    let reference = schema.get("$ref").and_then(Value::as_str);
    match reference.and_then(|r| SCHEMA.pointer(r.trim_start_matches('#'))) {
        Some(target) => resolved(target),
        None => schema,
    }
}

fn walk(schema: &Value, value: &Value, path: &mut Vec<String>) -> Result<(), OutOfRange> {
    let schema = resolved(schema);
    for choices in ["anyOf", "oneOf"] {
        for choice in schema
            .get(choices)
            .and_then(Value::as_array)
            .into_iter()
            .flatten()
        {
            walk(choice, value, path)?;
        }
    }
    match value {
        Value::Number(number) => {
            let bound = |key| schema.get(key).and_then(Value::as_f64);
            let low = bound("minimum").unwrap_or(f64::NEG_INFINITY);
            let high = bound("maximum").unwrap_or(f64::INFINITY);
            let value = number.as_f64().unwrap_or(f64::NAN);
            if !(low..=high).contains(&value) {
                return Err(OutOfRange {
                    path: path.clone(),
                    value,
                    low,
                    high,
                });
            }
        }
        Value::Array(items) => {
            if let Some(schema) = schema.get("items") {
                for (i, item) in items.iter().enumerate() {
                    below(i.to_string(), schema, item, path)?;
                }
            }
        }
        Value::Object(fields) => {
            let properties = schema.get("properties").and_then(Value::as_object);
            for (name, schema) in properties.into_iter().flatten() {
                if let Some(field) = fields.get(name) {
                    below(name.clone(), schema, field, path)?;
                }
            }
        }
        Value::Null | Value::Bool(_) | Value::String(_) => {}
    }
    Ok(())
}

fn below(
    name: String,
    schema: &Value,
    value: &Value,
    path: &mut Vec<String>,
) -> Result<(), OutOfRange> {
    path.push(name);
    walk(schema, value, path)?;
    path.pop();
    Ok(())
}
