//! Versions of the format: a recipe of any earlier one opens for ever.
//!
//! A change of the format that older documents do not fit adds a function here,
//! which makes a document of one version one of the next, and a recipe of the older
//! version to the tests.

use serde_json::Value;

use super::error::Place;
use super::{Recipe, RecipeError};

/// Makes a document of one version one of the next.
type Step = fn(&mut Value);

/// From version 1 to 2, from 2 to 3 …
const STEPS: [Step; Recipe::VERSION as usize - 1] = [];

/// A document as the newest version has it.
///
/// # Errors
/// When it was written by a newer version of the program.
pub(super) fn brought_up(document: Value) -> Result<Value, RecipeError> {
    brought_up_by(&STEPS, document)
}

fn brought_up_by(steps: &[Step], mut document: Value) -> Result<Value, RecipeError> {
    let newest = steps.len() as u64 + 1;
    // Without a version it is refused, in words, when it is read.
    let Some(version) = document.get("version").and_then(Value::as_u64) else {
        return Ok(document);
    };
    if version > newest {
        let reason = format!(
            "it was written by a newer version of the program; this one reads up to {newest}"
        );
        let place = Place::at(&document, &["version"]);
        return Err(RecipeError::unfit(
            place,
            "version",
            &version.to_string(),
            reason,
        ));
    }
    let first = usize::try_from(version.saturating_sub(1)).unwrap_or(0);
    for (step, next) in steps.iter().zip(2_u64..).skip(first) {
        step(&mut document);
        document["version"] = next.into();
    }
    Ok(document)
}

#[cfg(test)]
mod tests {
    use serde_json::{Value, json};

    use super::{Step, brought_up_by};

    /// Two changes of a format that never was.
    const STEPS: [Step; 2] = [
        |document| document["names"] = json!([document["name"].take()]),
        |document| document["count"] = json!(document["names"].as_array().map_or(0, Vec::len)),
    ];

    #[test]
    fn each_version_goes_through_all_that_came_after() {
        let brought = |document: Value| brought_up_by(&STEPS, document).expect("it is known");
        let third = json!({ "version": 3, "name": null, "names": ["Tor"], "count": 1 });
        assert_eq!(brought(json!({ "version": 1, "name": "Tor" })), third);
        assert_eq!(
            brought(json!({ "version": 2, "name": null, "names": ["Tor"] })),
            third
        );
        assert_eq!(brought(third.clone()), third);
    }

    #[test]
    fn a_newer_version_says_so() {
        let newer = brought_up_by(&STEPS, json!({ "version": 4 })).expect_err("refused");
        assert!(
            newer.to_string().contains("newer version of the program"),
            "{newer}"
        );
    }
}
