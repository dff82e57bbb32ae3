//! How much of the land around a frame its steps, masks and covers look at.

use super::Land;
use super::named::NamedMasks;
use crate::document::{Cells, Hollows, Reading, Recipe, Step};

/// Cells around that `step` needs of what is below it, when its mask needs `mask`.
/// Rounded up to a power of two, so that dragging a parameter that changes it seldom
/// regrows what is below.
pub(super) fn margin_below(step: &Step, mask: usize, cell_m: f64) -> usize {
    if !step.on {
        return 0;
    }
    match step.operation.margin(cell_m).max(mask) {
        0 => 0,
        margin => margin.checked_next_power_of_two().unwrap_or(usize::MAX),
    }
}

/// Cells around the whole land that masks taken of all of it need.
pub(super) fn whole_margin(recipe: &Recipe, masks: &NamedMasks, on: Cells) -> usize {
    let washed = recipe.finish.washes.iter().map(|wash| &wash.mask);
    masks.widest(washed, on).max(masks.widest_named(on))
}

/// Cells around that the ground's masks and colours read.
pub(super) fn ground_margin(recipe: &Recipe, masks: &NamedMasks, on: Cells) -> usize {
    let readings = recipe.ground_readings();
    let readings = readings.map(|reading| masks.reading_margin(reading, on));
    let hollows = recipe.finish.hollows;
    let hollows = hollows.map(|Hollows { reach_m, .. }| Reading::Occlusion { reach_m }.margin(on));
    let all = readings.chain(hollows).max().unwrap_or(0);
    masks
        .widest(recipe.ground_masks(), on)
        .max(all)
        .max(Land::MARGIN)
}

/// Whether some part of the ground depends on the land as a whole.
pub(super) fn ground_needs_whole(recipe: &Recipe, masks: &NamedMasks) -> bool {
    recipe.ground_masks().any(|mask| masks.needs_whole(mask))
        || recipe
            .ground_readings()
            .any(|reading| masks.reading_needs_whole(reading))
        || recipe.finish.washes.iter().any(|wash| wash.on)
        || recipe.finish.shore.is_some()
}
