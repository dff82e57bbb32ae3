//! Does a document keep to all that its fields declare?
//!
//! Ranges, lengths, counts and choices stand once, at the fields; the JSON
//! Schema made from them is held against the document at every depth. What no
//! field declares and every one must keep to is looked at here: a number that
//! the program's floats can hold, and text that the database can.

use std::sync::LazyLock;

use jsonschema::error::ValidationErrorKind as Kind;
use jsonschema::{ValidationError, Validator};
use serde_json::Value;

use super::error::{Fault, Place};
use super::{Recipe, RecipeError};

static SCHEMA: LazyLock<Value> = LazyLock::new(|| schemars::schema_for!(Recipe).to_value());

static VALIDATOR: LazyLock<Validator> =
    LazyLock::new(|| jsonschema::validator_for(&SCHEMA).expect("the schema of recipes is sound"));

/// Finds the first value that does not keep to what its field declares.
pub(super) fn check(document: &Value) -> Result<(), RecipeError> {
    check_plain(document, document, &mut Vec::new())?;
    // Whether it does is told in no time; what is wrong is told with a copy of all that is
    // wrong for each choice that there would be.
    if VALIDATOR.is_valid(document) {
        return Ok(());
    }
    match VALIDATOR.validate(document) {
        Ok(()) => Ok(()),
        Err(error) => Err(fault_of(innermost(&error), document)),
    }
}

/// Finds the first list that is longer than its field declares. It comes before anything else
/// looks at a document: what is refused must cost no more than to read it.
pub(super) fn check_lengths(document: &Value) -> Result<(), RecipeError> {
    Lengths { document }.check(document, &SCHEMA, &mut Vec::new())
}

struct Lengths<'d> {
    document: &'d Value,
}

impl Lengths<'_> {
    fn check(
        &self,
        value: &Value,
        schema: &'static Value,
        path: &mut Vec<String>,
    ) -> Result<(), RecipeError> {
        let schema = referred(schema);
        if let Some(choices) = choices(schema) {
            let chosen = choices.iter().filter(|choice| may_be(value, choice));
            // A mistake that is in none of them is somebody else's to name.
            return chosen
                .take(1)
                .try_for_each(|choice| self.check(value, choice, path));
        }
        match value {
            Value::Array(items) => {
                let most = schema["maxItems"].as_u64().unwrap_or(u64::MAX);
                if items.len() as u64 > most {
                    let reason = format!("there may be at most {most} of them");
                    let (place, parameter) = (Place::at(self.document, path), last_of(path));
                    let shown = shown(Some(value));
                    return Err(RecipeError::unfit(place, &parameter, &shown, reason));
                }
                items.iter().enumerate().try_for_each(|(i, item)| {
                    path.push(i.to_string());
                    self.check(item, &schema["items"], path)?;
                    path.pop();
                    Ok(())
                })
            }
            Value::Object(fields) => fields.iter().try_for_each(|(name, field)| {
                path.push(name.clone());
                self.check(field, &schema["properties"][name], path)?;
                path.pop();
                Ok(())
            }),
            _ => Ok(()),
        }
    }
}

/// What a schema refers to, or itself.
fn referred(schema: &'static Value) -> &'static Value {
    let named = schema["$ref"].as_str();
    let there = named.and_then(|named| SCHEMA.pointer(named.strip_prefix('#')?));
    there.unwrap_or(schema)
}

/// The choices of a schema that is one of several.
fn choices(schema: &'static Value) -> Option<&'static Vec<Value>> {
    schema["oneOf"].as_array().or(schema["anyOf"].as_array())
}

/// Whether a value says by its form that it is this choice: by its one field, or by the field
/// that names it.
fn may_be(value: &Value, choice: &'static Value) -> bool {
    let choice = referred(choice);
    let Value::Object(fields) = value else {
        return value.is_array() == (choice["type"] == "array");
    };
    let named = |(name, schema): (&String, &Value)| match schema.get("const") {
        Some(tag) => fields.get(name) == Some(tag),
        None => fields.contains_key(name),
    };
    let required = choice["required"].as_array().into_iter().flatten();
    let properties = &choice["properties"];
    let mut required = required.filter_map(Value::as_str);
    required.all(|name| named((&name.to_owned(), &properties[name])))
}

/// Text in a document must not have a zero character: PostgreSQL has none.
pub(super) fn is_storable(text: &str) -> bool {
    !text.contains('\0')
}

fn check_plain(document: &Value, value: &Value, path: &mut Vec<String>) -> Result<(), RecipeError> {
    match value {
        Value::Number(number) => {
            let value = number.as_f64().unwrap_or(f64::INFINITY);
            let most = f64::from(f32::MAX);
            if value.abs() <= most {
                return Ok(());
            }
            let (parameter, low, high) = (last_of(path), -most, most);
            let fault = Fault::OutOfRange {
                parameter,
                value,
                low,
                high,
            };
            Err(RecipeError {
                place: Place::at(document, path),
                fault,
            })
        }
        Value::String(text) if !is_storable(text) => {
            let reason = "it has a character that is not text (U+0000)".to_owned();
            let (place, parameter) = (Place::at(document, path), last_of(path));
            Err(RecipeError::unfit(place, &parameter, "text", reason))
        }
        Value::Array(items) => items.iter().enumerate().try_for_each(|(i, item)| {
            path.push(i.to_string());
            check_plain(document, item, path)?;
            path.pop();
            Ok(())
        }),
        Value::Object(fields) => fields.iter().try_for_each(|(name, field)| {
            path.push(name.clone());
            check_plain(document, field, path)?;
            path.pop();
            Ok(())
        }),
        _ => Ok(()),
    }
}

/// Of a choice that fits in no way, the way that goes wrong farthest inside: the
/// document was read before, so all others fail at once, by their type.
fn innermost<'e, 'v>(error: &'e ValidationError<'v>) -> &'e ValidationError<'v>
where
    'static: 'v,
{
    let depth = |error: &ValidationError| error.instance_path().as_str().matches('/').count();
    match error.kind() {
        Kind::AnyOf { context } | Kind::OneOfNotValid { context } => {
            let inner = context.iter().flatten().map(innermost);
            let of_value = |e: &ValidationError| {
                !matches!(e.kind(), Kind::Type { .. } | Kind::Required { .. })
            };
            inner
                .max_by_key(|inner| (depth(inner), of_value(inner)))
                .unwrap_or(error)
        }
        _ => error,
    }
}

fn fault_of(error: &ValidationError, document: &Value) -> RecipeError {
    let unescaped = |s: &str| s.replace("~1", "/").replace("~0", "~");
    let pointer = error.instance_path().as_str();
    let path: Vec<String> = pointer.split('/').skip(1).map(unescaped).collect();
    let place = Place::at(document, &path);
    let parameter = last_of(&path);
    let value = document.pointer(pointer);
    let unfit =
        |reason: String| RecipeError::unfit(place.clone(), &parameter, &shown(value), reason);
    match error.kind() {
        Kind::Minimum { .. } | Kind::Maximum { .. } => {
            let (low, high) = bounds(error);
            let value = value.and_then(Value::as_f64).unwrap_or(f64::NAN);
            let fault = Fault::OutOfRange {
                parameter,
                value,
                low,
                high,
            };
            RecipeError { place, fault }
        }
        Kind::MaxItems { limit } => unfit(format!("there may be at most {limit} of them")),
        Kind::MinItems { limit } => unfit(format!("there must be at least {limit} of them")),
        Kind::MaxLength { limit } => unfit(format!("it may have at most {limit} characters")),
        Kind::MinLength { limit } => unfit(format!("it must have at least {limit} characters")),
        Kind::Pattern { pattern } if pattern.contains("[0-9a-fA-F]{6}") => {
            unfit("a colour is written as #rrggbb".to_owned())
        }
        _ => unfit(error.to_string()),
    }
}

/// The range that a number's field declares, from the schema's own words.
fn bounds(error: &ValidationError) -> (f64, f64) {
    let at = error.schema_path().as_str();
    let field = at.rsplit_once('/').map_or("", |(field, _)| field);
    let bound = |key| SCHEMA.pointer(field)?.get(key)?.as_f64();
    (
        bound("minimum").unwrap_or(f64::NEG_INFINITY),
        bound("maximum").unwrap_or(f64::INFINITY),
    )
}

/// A value as it is named in a refusal, never long.
fn shown(value: Option<&Value>) -> String {
    const LONGEST: usize = 40;
    match value {
        Some(Value::Array(items)) => format!("a list of {}", items.len()),
        Some(Value::String(text)) if text.chars().count() > LONGEST => {
            format!(
                "{}… ({} characters)",
                text.chars().take(LONGEST).collect::<String>(),
                text.chars().count()
            )
        }
        Some(Value::String(text)) => text.clone(),
        Some(value) => value.to_string().chars().take(LONGEST).collect(),
        None => String::new(),
    }
}

fn last_of(path: &[String]) -> String {
    // The place in a list says little; the list's name does.
    let named = path
        .iter()
        .rev()
        .find(|part| part.parse::<usize>().is_err());
    named.cloned().unwrap_or_else(|| "recipe".to_owned())
}
