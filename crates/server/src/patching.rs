//! Edits as patches (RFC 6902), each within bounds: a few operations must not make a
//! document that fills the memory.

use json_patch::{Patch, PatchOperation};
use serde_json::Value;

/// The largest document, about as many bytes as its JSON has.
pub(crate) const MOST_BYTES: usize = 8 << 20;
/// The most operations of one patch.
const MOST_OPERATIONS: usize = 20_000;
/// The most that the operations of one patch may copy and compare together.
const MOST_MOVED: usize = 8 * MOST_BYTES;
/// Lists in lists in lists …
const DEEPEST: usize = 96;

/// Why a patch was not applied.
#[derive(Debug, thiserror::Error)]
pub(crate) enum PatchFault {
    /// It does not fit the document.
    #[error("the edit does not fit the recipe: {0}")]
    Unfit(#[from] json_patch::PatchError),
    /// It is too large, or makes something too large.
    #[error("the edit is too large: {0}")]
    TooLarge(&'static str),
}

/// The document with all of the patch done; the patch is done in full or not at all.
pub(crate) fn patched(document: &Value, patch: &Patch) -> Result<Value, PatchFault> {
    if patch.0.len() > MOST_OPERATIONS {
        return Err(PatchFault::TooLarge("it has more than 20,000 operations"));
    }
    let mut document = document.clone();
    let (mut size, _) = measure(&document)?;
    let mut moved = 0;
    for operation in &patch.0 {
        let (added, depth) = match operation {
            PatchOperation::Add(add) => measure(&add.value)?,
            PatchOperation::Replace(replace) => measure(&replace.value)?,
            PatchOperation::Copy(copy) => measured_at(&document, &copy.from)?,
            PatchOperation::Move(by) => (0, measured_at(&document, &by.from)?.1),
            PatchOperation::Test(test) => {
                moved += measure(&test.value)?.0;
                (0, 0)
            }
            PatchOperation::Remove(_) => (0, 0),
        };
        size += added;
        moved += added;
        if size > MOST_BYTES || moved > MOST_MOVED {
            return Err(PatchFault::TooLarge("a recipe has at most 8 MiB"));
        }
        if depth + operation.path().tokens().count() > DEEPEST {
            return Err(PatchFault::TooLarge("it nests lists too deeply"));
        }
        json_patch::patch(&mut document, std::slice::from_ref(operation))?;
    }
    Ok(document)
}

/// The operations that make `after` of `before`.
pub(crate) fn difference(before: &Value, after: &Value) -> Patch {
    json_patch::diff(before, after)
}

fn measured_at(
    document: &Value,
    from: &json_patch::jsonptr::Pointer,
) -> Result<(usize, usize), PatchFault> {
    // What is not there is refused by the operation itself.
    document.pointer(from.as_str()).map_or(Ok((0, 0)), measure)
}

/// About how many bytes a value has as JSON, and how deep it nests.
fn measure(value: &Value) -> Result<(usize, usize), PatchFault> {
    fn at(value: &Value, depth: usize, size: &mut usize, deepest: &mut usize) -> bool {
        *deepest = (*deepest).max(depth);
        if depth > DEEPEST {
            return false;
        }
        *size += match value {
            Value::Null | Value::Bool(_) => 4,
            Value::Number(_) => 8,
            Value::String(text) => text.len() + 2,
            Value::Array(items) => 2 + items.len(),
            Value::Object(fields) => 2 + fields.keys().map(|key| key.len() + 4).sum::<usize>(),
        };
        match value {
            Value::Array(items) => items.iter().all(|item| at(item, depth + 1, size, deepest)),
            Value::Object(fields) => fields
                .values()
                .all(|item| at(item, depth + 1, size, deepest)),
            _ => true,
        }
    }
    let (mut size, mut deepest) = (0, 0);
    match at(value, 0, &mut size, &mut deepest) {
        true => Ok((size, deepest)),
        false => Err(PatchFault::TooLarge("it nests lists too deeply")),
    }
}

#[cfg(test)]
mod tests {
    use serde_json::{Value, json};

    use super::{PatchFault, patched};

    fn patch(operations: &Value) -> json_patch::Patch {
        serde_json::from_value(operations.clone()).expect("a patch")
    }

    /// An array copied into itself doubles each time: 1.2 KB would make gigabytes.
    #[test]
    fn copies_of_copies_are_bounded_in_size_and_in_depth() {
        let wide: Vec<Value> = (0..40)
            .map(|_| json!({ "op": "copy", "from": "/a", "path": "/a/-" }))
            .collect();
        let wide = patched(&json!({ "a": [1, 2, 3] }), &patch(&json!(wide)));
        assert!(matches!(wide, Err(PatchFault::TooLarge(_))));
        let deep: Vec<Value> = (0..40)
            .map(|_| json!({ "op": "copy", "from": "/a", "path": "/a/0" }))
            .collect();
        let deep = patched(&json!({ "a": [1] }), &patch(&json!(deep)));
        assert!(matches!(deep, Err(PatchFault::TooLarge(_))));
    }

    #[test]
    fn a_patch_is_done_in_full_or_not_at_all() {
        let before = json!({ "a": [1, 2] });
        let good = json!([{ "op": "add", "path": "/a/1", "value": 9 }]);
        let after = patched(&before, &patch(&good)).expect("it fits");
        assert_eq!(after, json!({ "a": [1, 9, 2] }));
        let bad = json!([{ "op": "remove", "path": "/a" }, { "op": "remove", "path": "/b" }]);
        assert!(matches!(
            patched(&before, &patch(&bad)),
            Err(PatchFault::Unfit(_))
        ));
    }
}
