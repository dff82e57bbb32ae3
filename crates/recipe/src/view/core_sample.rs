//! The explanation of one place: what each step did there, and why the ground
//! is what it is.

use schemars::JsonSchema;
use serde::Serialize;
use terrain::reading::slope_deg;
use terrain::{Frame, Run};

use super::LedgerSums;
use crate::document::{LAND, Mask, Recipe};
use crate::grow::{Assets, GrowError, Grower, Part};

/// What is known of one place.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct CoreSample {
    /// Metres east of the west edge, at the centre of the cell looked at.
    pub x_m: f64,
    /// Metres north of the south edge.
    pub y_m: f64,
    /// Side of the cell, metres.
    pub cell_m: f64,
    /// Height of the land, metres.
    pub height_m: f32,
    /// Slope, degrees.
    pub slope_deg: f32,
    /// What each step of the land did here, first one first.
    pub steps: Vec<CoreStep>,
    /// The covers, bottom first, and how much of each is here.
    pub ground: Vec<CoreGround>,
}

/// What one step did at a place.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct CoreStep {
    /// The step's id.
    pub step: String,
    /// Its name.
    pub name: String,
    /// Whether it is on.
    pub on: bool,
    /// Metres that it added here.
    pub change_m: f32,
    /// Height after it, metres.
    pub height_m: f32,
    /// Its mask here, 0 to 1; none means everywhere.
    pub mask: Option<f32>,
    /// What it left here.
    pub traces: Vec<CoreTrace>,
    /// Where its ground went, over the whole land; none for steps that move
    /// none.
    pub ledger: Option<LedgerSums>,
}

/// The value of a field that a step has left.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct CoreTrace {
    /// Its name in a recipe.
    pub trace: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// The unit of its value; empty for a share.
    pub unit: &'static str,
    /// Its value.
    pub value: f32,
}

/// How much of a cover is at a place.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct CoreGround {
    /// The cover's id.
    pub cover: String,
    /// Its name.
    pub name: String,
    /// Its mask here, 0 to 1.
    pub mask: f32,
    /// Its share of the ground here, 0 to 1.
    pub weight: f32,
}

/// Explains the place (`x_m`, `y_m`) on a grid of `cells` along the longer
/// side; `None` beyond the land.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn core_sample(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    cells: usize,
    (x_m, y_m): (f64, f64),
    run: Run,
) -> Result<Option<CoreSample>, GrowError> {
    let whole = Frame::with_cells(recipe.extent.into(), cells);
    let (col, row) = (whole.col_at(x_m).round(), whole.row_at(y_m).round());
    let inside = |at: f64, count: usize| at >= 0.0 && at < count as f64;
    if !inside(col, whole.cols) || !inside(row, whole.rows) {
        return Ok(None);
    }
    let spot = whole.window(col as usize, row as usize, 1, 1);
    let strand = recipe
        .strand(LAND)
        .ok_or_else(|| GrowError::NoStrand(LAND.to_owned()))?;
    let stages = grower.stages(recipe, LAND, assets, &spot, run)?;
    let here: Vec<_> = stages.iter().map(|state| state.cropped(&spot)).collect();
    let steps = strand.steps.iter().enumerate().map(|(k, step)| {
        let (before, after) = (&here[k], &here[k + 1]);
        let mask = match &step.mask {
            None => None,
            Some(mask) => {
                let part = Part {
                    strand: LAND,
                    steps: k,
                };
                let mask = grower.mask_of_part(recipe, part, mask, assets, &spot, run)?;
                Some(mask.at(0, 0))
            }
        };
        let left = step.operation.products().iter().filter(|_| step.on);
        let height_m = after.heights.at(0, 0);
        Ok(CoreStep {
            step: step.id.clone(),
            name: step.name.clone(),
            on: step.on,
            change_m: height_m - before.heights.at(0, 0),
            height_m,
            mask,
            ledger: {
                let mut ledgers = after.ledgers.iter().filter(|_| step.on);
                let own = ledgers.find(|(id, _)| *id == step.id);
                own.map(|(_, ledger)| ledger.into())
            },
            traces: left
                .filter_map(|product| {
                    let value = after.field(*product)?.grid().at(0, 0);
                    let declared = product.declared();
                    Some(CoreTrace {
                        trace: declared.name,
                        title: declared.title,
                        unit: product.field()?.measure.unit,
                        value,
                    })
                })
                .collect(),
        })
    });
    let steps = steps.collect::<Result<_, GrowError>>()?;
    let land = grower.land(recipe, assets, &spot, run)?;
    let ground = land.ground(recipe, run)?;
    let everywhere = Mask::everywhere();
    let covers = ground.covers.iter().enumerate().map(|(i, cover)| {
        let mask = cover.mask.as_ref().unwrap_or(&everywhere);
        Ok(CoreGround {
            cover: cover.id.clone(),
            name: cover.name.clone(),
            mask: land.mask(mask, run)?.at(0, 0),
            weight: ground.weights.layers()[i].at(0, 0),
        })
    });
    Ok(Some(CoreSample {
        x_m: spot.x_m(0),
        y_m: spot.y_m(0),
        cell_m: spot.cell_m,
        height_m: land.heights().at(0, 0),
        slope_deg: slope_deg(land.heights_with_apron(), spot.cell_m).at(0, 0),
        steps,
        ground: covers.collect::<Result<_, GrowError>>()?,
    }))
}
