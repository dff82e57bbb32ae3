//! Where water would run over a land, as lines.

use terrain::erosion::{drain, river_lines};
use terrain::line::Polyline;
use terrain::{Frame, Run};

use crate::document::Recipe;
use crate::grow::{Assets, GrowError, Grower, Part};

/// A line begins where this share of the land drains through, but never with
/// fewer cells than the other.
const SOURCE_SHARE: f64 = 3e-4;
const SOURCE_CELLS: f64 = 24.0;

/// The flow lines of a part of a recipe, on a grid of `cells` along the longer
/// side: what drains to each place decides where lines begin and their order.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn flow_lines(
    grower: &Grower,
    recipe: &Recipe,
    part: Part,
    assets: &dyn Assets,
    cells: usize,
    run: Run,
) -> Result<Vec<Polyline>, GrowError> {
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let land = grower.part(recipe, part, assets, &frame, run)?;
    let drainage = drain(&land.heights(), recipe.sea_level_m as f32, run)?;
    let least = (SOURCE_SHARE * frame.cells() as f64).max(SOURCE_CELLS);
    let area = drainage.area_cells();
    Ok(river_lines(
        &drainage,
        &area,
        &frame,
        least * frame.cell_area_m2(),
    ))
}

/// The way that water takes from a place of a part of a recipe, down to the sea or the border
/// of the land, metres east and north; `None` when the place is not on the land. It is evened
/// out, so that a course can go through it.
///
/// # Errors
/// As [`flow_lines`].
pub fn way_of_water(
    grower: &Grower,
    recipe: &Recipe,
    part: Part,
    assets: &dyn Assets,
    (cells, (x_m, y_m)): (usize, (f64, f64)),
    run: Run,
) -> Result<Option<Vec<[f64; 2]>>, GrowError> {
    /// Cells between the points that are kept.
    const APART: usize = 6;
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let (col, row) = (frame.col_at(x_m).round(), frame.row_at(y_m).round());
    let inside = |at: f64, count: usize| (0.0..count as f64).contains(&at);
    if !inside(col, frame.cols) || !inside(row, frame.rows) {
        return Ok(None);
    }
    let land = grower.part(recipe, part, assets, &frame, run)?;
    let drainage = drain(&land.heights(), recipe.sea_level_m as f32, run)?;
    let first = row as usize * frame.cols + col as usize;
    let down = std::iter::successors(Some(first), |&cell| {
        let next = drainage.receivers[cell] as usize;
        (next != cell).then_some(next)
    });
    let way: Vec<[f64; 2]> = down
        .map(|cell| [frame.x_m(cell % frame.cols), frame.y_m(cell / frame.cols)])
        .collect();
    let last = way.len() - 1;
    let evened = |k: usize| {
        let reach = APART.min(k).min(last - k);
        let near = &way[k - reach..=k + reach];
        let mean = |axis: usize| near.iter().map(|at| at[axis]).sum::<f64>() / near.len() as f64;
        [mean(0), mean(1)]
    };
    let kept = (0..last).step_by(APART).chain(std::iter::once(last));
    Ok(Some(kept.map(evened).collect()))
}
