//! A sheet of variants to choose from.

use rayon::prelude::*;
use serde_json::Value;
use terrain::{Grid, Run};

use super::{View, picture};
use crate::document::{Recipe, RecipeError};
use crate::grow::{Assets, GrowError, Grower};
use crate::steps::Group;

/// A parameter of a step and the values that it takes in turn.
#[derive(Clone, Debug, PartialEq)]
pub struct Sweep {
    /// The step's id.
    pub step: String,
    /// The parameter's name.
    pub parameter: String,
    /// Its values.
    pub values: Vec<Value>,
}

/// One variant of a recipe.
#[derive(Clone, Debug, PartialEq)]
pub struct Variant {
    /// The value of each sweep.
    pub values: Vec<Value>,
    /// The recipe with them.
    pub recipe: Recipe,
}

/// Why there is no such sheet.
#[derive(Debug, thiserror::Error)]
pub enum SheetError {
    /// There is no such step or parameter.
    #[error("step ‘{step}’ has no parameter ‘{parameter}’")]
    NoParameter {
        /// The step's id.
        step: String,
        /// The parameter's name.
        parameter: String,
    },
    /// A value is not allowed.
    #[error(transparent)]
    Recipe(#[from] RecipeError),
}

/// Every combination of the sweeps' values: the first sweep goes from left to
/// right, the second from top to bottom.
///
/// # Errors
/// [`SheetError`] names the parameter that is not there or the value that is
/// not allowed.
pub fn variants(recipe: &Recipe, sweeps: &[Sweep]) -> Result<Vec<Variant>, SheetError> {
    let mut variants = vec![(Vec::new(), document(recipe))];
    for sweep in sweeps.iter().rev() {
        let path = path_of(recipe, sweep)?;
        variants = variants
            .into_iter()
            .flat_map(|(values, document)| {
                let path = &path;
                sweep.values.iter().map(move |value| {
                    let mut document = document.clone();
                    if let Some(place) = document.pointer_mut(path) {
                        *place = value.clone();
                    }
                    let values = std::iter::once(value.clone()).chain(values.clone());
                    (values.collect(), document)
                })
            })
            .collect();
    }
    variants
        .into_iter()
        .map(|(values, document)| {
            let recipe = Recipe::from_value(document)?;
            Ok(Variant { values, recipe })
        })
        .collect()
}

fn document(recipe: &Recipe) -> Value {
    serde_json::to_value(recipe).expect("a recipe is plain data")
}

fn path_of(recipe: &Recipe, sweep: &Sweep) -> Result<String, SheetError> {
    let missing = || SheetError::NoParameter {
        step: sweep.step.clone(),
        parameter: sweep.parameter.clone(),
    };
    let (strand, step) = recipe.place_of(&sweep.step).ok_or_else(missing)?;
    let at = recipe.strands.iter().position(|s| s.name == strand.name);
    let at = at.ok_or_else(missing)?;
    let kind = strand.steps[step].operation.key();
    let escaped = sweep.parameter.replace('~', "~0").replace('/', "~1");
    let path = format!("/strands/{at}/steps/{step}/do/{kind}/{escaped}");
    match document(recipe).pointer(&path) {
        Some(_) => Ok(path),
        None => Err(missing()),
    }
}

/// The recipe without its erosion, which takes far longer than all the rest.
pub fn shape_only(recipe: &Recipe) -> Recipe {
    let mut recipe = recipe.clone();
    for step in recipe.strands.iter_mut().flat_map(|s| &mut s.steps) {
        step.on &= step.operation.group() != Group::Erode;
    }
    recipe
}

/// Pictures of `variants`, all under the same light, in their order.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn sheet(
    grower: &Grower,
    variants: &[Variant],
    assets: &dyn Assets,
    view: &View,
    run: Run,
) -> Result<Vec<Grid<[u8; 3]>>, GrowError> {
    variants
        .par_iter()
        .map(|variant| {
            let picture = picture(grower, &variant.recipe, assets, view, run.quietly())?;
            Ok(picture.colour)
        })
        .collect()
}
