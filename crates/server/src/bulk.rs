//! What was drawn by hand: long lists of points, which are named by their content
//! and travel and are kept once, apart from the documents and patches that have them.

use std::collections::{BTreeSet, HashMap};
use std::sync::Arc;

use json_patch::{Patch, PatchOperation};
use serde_json::{Map, Value, json};

/// Lists of points shorter than this go with the document.
const LONG: usize = 64;
/// The field that holds a list of points, or in its place the list's name.
const FIELD: &str = "points";
/// Names begin so; the hash of the list's JSON follows.
const NAMED: &str = "blake3:";

/// Long lists by their names.
pub(crate) type Lists = HashMap<String, Arc<Value>>;

/// A name without its list.
#[derive(Debug, thiserror::Error)]
#[error("a list of points is not here: {0}")]
pub(crate) struct Unknown(pub(crate) String);

/// The name of a list.
pub(crate) fn name_of(list: &Value) -> String {
    format!("{NAMED}{}", blake3::hash(list.to_string().as_bytes()))
}

/// The value without its long lists, which are added to `lists`.
pub(crate) fn taken_apart(value: Value, lists: &mut Lists) -> Value {
    match value {
        Value::Array(items) => {
            let light = items.into_iter().map(|item| taken_apart(item, lists));
            Value::Array(light.collect())
        }
        Value::Object(fields) => {
            let light = fields.into_iter().map(|(key, field)| {
                let light = match &field {
                    Value::Array(points) if key == FIELD && points.len() >= LONG => {
                        let name = name_of(&field);
                        lists.entry(name.clone()).or_insert_with(|| field.into());
                        Value::String(name)
                    }
                    _ => taken_apart(field, lists),
                };
                (key, light)
            });
            Value::Object(light.collect::<Map<_, _>>())
        }
        other => other,
    }
}

/// The names of lists that a value has in the place of the lists.
pub(crate) fn names_in(value: &Value) -> BTreeSet<String> {
    fn look(value: &Value, found: &mut BTreeSet<String>) {
        match value {
            Value::Array(items) => items.iter().for_each(|item| look(item, found)),
            Value::Object(fields) => fields.iter().for_each(|(key, field)| {
                if let Some(name) = name_at(key, field) {
                    found.insert(name.to_owned());
                }
                look(field, found);
            }),
            _ => {}
        }
    }
    let mut found = BTreeSet::new();
    look(value, &mut found);
    found
}

fn name_at<'v>(key: &str, field: &'v Value) -> Option<&'v str> {
    let name = field.as_str().filter(|_| key == FIELD)?;
    name.starts_with(NAMED).then_some(name)
}

/// The value with its long lists where their names stand.
///
/// # Errors
/// [`Unknown`] when a list is not among `lists`.
pub(crate) fn filled(value: Value, lists: &Lists) -> Result<Value, Unknown> {
    Ok(match value {
        Value::Array(items) => {
            let items = items.into_iter().map(|item| filled(item, lists));
            Value::Array(items.collect::<Result<_, _>>()?)
        }
        Value::Object(fields) => {
            let fields = fields.into_iter().map(|(key, field)| {
                let whole = match name_at(&key, &field) {
                    None => filled(field, lists)?,
                    Some(name) => {
                        let list = lists.get(name).ok_or_else(|| Unknown(name.to_owned()))?;
                        Value::clone(list)
                    }
                };
                Ok((key, whole))
            });
            Value::Object(fields.collect::<Result<Map<_, _>, Unknown>>()?)
        }
        other => other,
    })
}

/// The patch without the long lists in what it adds; they are added to `lists`.
pub(crate) fn patch_apart(patch: Patch, lists: &mut Lists) -> Patch {
    let operations = patch.0.into_iter();
    let light = operations.map(|one| with_value(one, |value| Ok(taken_apart(value, lists))));
    Patch(
        light
            .collect::<Result<_, _>>()
            .expect("taking apart needs no list"),
    )
}

/// The patch with the lists where their names stand.
///
/// # Errors
/// [`Unknown`] when a list is not among `lists`.
pub(crate) fn patch_filled(patch: Patch, lists: &Lists) -> Result<Patch, Unknown> {
    let operations = patch.0.into_iter();
    let whole = operations.map(|one| with_value(one, |value| filled(value, lists)));
    Ok(Patch(whole.collect::<Result<_, _>>()?))
}

/// Changes the value of an operation. One that is a list of points itself is shown to
/// `change` within the field that it stands in.
fn with_value(
    mut operation: PatchOperation,
    change: impl FnOnce(Value) -> Result<Value, Unknown>,
) -> Result<PatchOperation, Unknown> {
    let is_list = {
        let last = operation.path().back();
        last.is_some_and(|token| token.decoded() == FIELD)
    };
    let place = match &mut operation {
        PatchOperation::Add(add) => &mut add.value,
        PatchOperation::Replace(replace) => &mut replace.value,
        PatchOperation::Test(test) => &mut test.value,
        _ => return Ok(operation),
    };
    let value = place.take();
    *place = match is_list {
        false => change(value)?,
        true => change(json!({ FIELD: value }))?[FIELD].take(),
    };
    Ok(operation)
}

/// Whether a patch changes single points within a list: then it needs the whole.
pub(crate) fn reaches_inside(patch: &Patch) -> bool {
    let inside = |pointer: &json_patch::jsonptr::Pointer| {
        let mut tokens = pointer.tokens();
        tokens.any(|token| token.decoded() == FIELD) && tokens.next().is_some()
    };
    patch.0.iter().any(|operation| {
        inside(operation.path())
            || match operation {
                PatchOperation::Copy(copy) => inside(&copy.from),
                PatchOperation::Move(by) => inside(&by.from),
                _ => false,
            }
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn equal_lists_are_named_once_and_short_ones_stay() {
        let long = json!({ "points": vec![[1.5, 2.5, 1.0]; 64], "size_m": 9 });
        let short = json!({ "points": [[0, 0, 1]] });
        let document = json!({ "strokes": [long, short, long] });
        let mut lists = Lists::new();
        let light = taken_apart(document.clone(), &mut lists);
        assert_eq!(lists.len(), 1);
        let (name, list) = lists.iter().next().expect("one");
        assert_eq!(list.as_ref(), &long["points"]);
        let place = json!({ "points": name, "size_m": 9 });
        assert_eq!(light, json!({ "strokes": [place, short, place] }));
        assert_eq!(names_in(&light), BTreeSet::from([name.clone()]));
        assert_eq!(filled(light.clone(), &lists).expect("known"), document);
        let unknown = filled(light, &Lists::new());
        assert_eq!(unknown.expect_err("not here").0, *name);
    }

    #[test]
    fn patches_go_apart_and_come_back() {
        let points = json!(vec![[1.5, 2.5, 1.0]; 70]);
        let patch: Patch = serde_json::from_value(json!([
            { "op": "add", "path": "/strokes/-", "value": { "points": points } },
            { "op": "replace", "path": "/strokes/0/points", "value": points },
            { "op": "remove", "path": "/strokes/1" },
        ]))
        .expect("a patch");
        let mut lists = Lists::new();
        let light = patch_apart(patch.clone(), &mut lists);
        assert_eq!(lists.len(), 1);
        let text = serde_json::to_string(&light).expect("a patch");
        assert!(text.len() < 400, "{text}");
        assert_eq!(patch_filled(light, &lists).expect("known"), patch);
        assert!(!reaches_inside(&patch));
        let inside = json!([{ "op": "remove", "path": "/strokes/0/points/3" }]);
        assert!(reaches_inside(
            &serde_json::from_value(inside).expect("a patch")
        ));
    }
}
