//! Likely mistakes in a recipe and in what grows from it.
//!
//! One file for each thing that is looked for. A finding names the step, says
//! why it matters, and offers a way out as one edit.

mod by_hand;
mod clipped;
mod coast;
mod gentle;
mod hard_mask;
mod idle;
mod octaves;
mod rim;
mod unlike;
mod unused;

use serde::Serialize;
use serde_json::{Value, json};
use terrain::{Frame, Grid, Run};

use crate::document::{LAND, Recipe, Step};
use crate::grow::{Assets, GrowError, Grower};

/// Something that is likely not meant.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Finding {
    /// What was looked for, one word.
    pub rule: &'static str,
    /// The step that it is about.
    pub step: Option<String>,
    /// What was found, with its measure.
    pub finding: String,
    /// Why it matters.
    pub why: &'static str,
    /// A way out, as one edit.
    pub fix: Option<Fix>,
}

/// An edit that takes care of a finding.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Fix {
    /// What it does, for a button.
    pub label: String,
    /// JSON Patch (RFC 6902) of the recipe.
    pub patch: Vec<Value>,
}

/// What the rules look at.
pub(crate) struct Looked<'a> {
    pub(crate) recipe: &'a Recipe,
    /// The cell size that the artist works at, metres.
    pub(crate) cell_m: f64,
    /// The land after each of its steps, first one first, on `frame`.
    pub(crate) stages: Vec<Grid>,
    pub(crate) frame: Frame,
}

/// Cells along the longer side on which the land is looked at.
const CELLS: usize = 256;

/// Looks for likely mistakes. `cells` is what the artist works at, along the
/// longer side.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn survey(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    cells: usize,
    run: Run,
) -> Result<Vec<Finding>, GrowError> {
    let extent = recipe.extent.into();
    let frame = Frame::with_cells(extent, CELLS);
    let stages = grower.stages(recipe, LAND, assets, &frame, run)?;
    let looked = Looked {
        recipe,
        cell_m: Frame::with_cells(extent, cells).cell_m,
        stages: stages
            .iter()
            .map(|state| Grid::clone(&state.cropped(&frame).heights))
            .collect(),
        frame,
    };
    let rules = [
        clipped::look,
        octaves::look,
        rim::look,
        hard_mask::look,
        unused::look,
        gentle::look,
        idle::look,
        coast::look,
        unlike::look,
        by_hand::look,
    ];
    Ok(rules.iter().flat_map(|look| look(&looked)).collect())
}

impl Looked<'_> {
    /// All steps that are on, with their JSON Pointer in the recipe.
    pub(crate) fn steps(&self) -> impl Iterator<Item = (String, &Step)> {
        let strands = self.recipe.strands.iter().enumerate();
        strands.flat_map(|(s, strand)| {
            let steps = strand.steps.iter().enumerate();
            steps
                .filter(|(_, step)| step.on)
                .map(move |(k, step)| (format!("/strands/{s}/steps/{k}"), step))
        })
    }

    /// The pointer of the land's steps, and the steps.
    pub(crate) fn land(&self) -> (String, &[Step]) {
        let at = self.recipe.strands.iter().position(|s| s.name == LAND);
        match at {
            Some(at) => (
                format!("/strands/{at}/steps"),
                &self.recipe.strands[at].steps,
            ),
            None => (String::new(), &[]),
        }
    }

    /// The land as it is in the end.
    pub(crate) fn heights(&self) -> &Grid {
        &self.stages[self.stages.len() - 1]
    }
}

/// A fix that puts `value` in the place of another.
fn replace(label: &str, path: String, value: Value) -> Option<Fix> {
    // `add` sets a field of an object whether or not it is there already.
    let patch = vec![json!({ "op": "add", "path": path, "value": value })];
    let label = label.to_owned();
    Some(Fix { label, patch })
}

/// “12 %”, with one digit below ten.
fn percent(share: f64) -> String {
    match share < 0.1 {
        true => format!("{:.1} %", 100.0 * share),
        false => format!("{:.0} %", 100.0 * share),
    }
}
