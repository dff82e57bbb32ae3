//! What a recipe may contain, for programs: the schema and the catalogue.

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
