//! What a recipe may contain, for programs: the schema and the catalogue.

use schemars::JsonSchema;
use serde::Serialize;
use serde_json::Value;

use crate::document::{Mask, Recipe};
use crate::steps::{KindSheet, kind_sheets};
use crate::view::CoreSample;

/// JSON Schema (2020-12) of a recipe.
pub fn recipe_schema() -> Value {
    schemars::schema_for!(Recipe).to_value()
}

/// JSON Schema (2020-12) of a core sample.
pub fn core_sample_schema() -> Value {
    schemars::schema_for!(CoreSample).to_value()
}

/// Everything that an editor needs to draw its controls.
#[derive(Clone, Debug, Serialize)]
pub struct Catalogue {
    /// The kinds of step.
    pub kinds: Vec<KindSheet>,
    /// JSON Schema of a mask.
    pub mask: Value,
}

/// The kinds of step and the schema of masks.
pub fn catalogue() -> Catalogue {
    Catalogue {
        kinds: kind_sheets(),
        mask: schemars::schema_for!(Mask).to_value(),
    }
}

/// The words that a value of type `T` may be, in the order of its declaration: how
/// steps combine, how readings join, what covers may be made of.
pub fn words<T: JsonSchema>() -> Vec<String> {
    let schema = schemars::schema_for!(T).to_value();
    let of = |one: &Value| -> Vec<String> {
        let all = one["enum"].as_array().cloned().unwrap_or_default();
        let all = all.into_iter().chain(one.get("const").cloned());
        all.filter_map(|word| word.as_str().map(str::to_owned))
            .collect()
    };
    let variants = schema["oneOf"].as_array().cloned().unwrap_or_default();
    of(&schema)
        .into_iter()
        .chain(variants.iter().flat_map(of))
        .collect()
}
