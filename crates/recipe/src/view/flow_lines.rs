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
