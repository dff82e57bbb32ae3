//! What a mesh will look like, beside the land in full: seen by one camera, before anything
//! is exported.

use recipe::{Assets, GrowError, Grower, Recipe};
use terrain::light::Sun;
use terrain::mesh::{Camera, Drawn, Goal, Lattice, Mesh, pictured, refined};
use terrain::{Frame, Grid, Run};

use super::making::{goal, solid_of};
use super::{Detail, MeshOrder};
use crate::DeliverError;

/// Cells along the longer side of the land that is drawn: more triangles than that are too
/// small to be seen.
const CELLS: usize = 512;

/// Draws the land as it was ordered with `cells` along its longer side, or in full.
///
/// A share of all triangles is that share of those that are drawn; more triangles than there
/// are cells to draw are drawn as all of them.
///
/// # Errors
/// [`DeliverError`].
pub fn picture(
    grower: &Grower,
    (recipe, assets, cells): (&Recipe, &dyn Assets, usize),
    order: Option<&MeshOrder>,
    (camera, size): (&Camera, [usize; 2]),
    run: Run,
) -> Result<Grid<[u8; 3]>, DeliverError> {
    let extent = recipe.extent.into();
    let frame = Frame::with_cells(extent, cells.min(CELLS));
    let land = grower.land(recipe, assets, &frame, run)?;
    let lattice = Lattice::of(land.heights_with_apron(), &frame, extent);
    let stopped = |cancelled| DeliverError::from(GrowError::from(cancelled));
    let mesh = match order {
        None => lattice.whole(),
        Some(order) => {
            let mesh = ordered(order, &lattice, extent.longest_m(), run).map_err(stopped)?;
            let cliffs = order.cliffs.as_ref();
            let parted = cliffs.map(|cliffs| cliffs.part((recipe, &land, &lattice), &mesh, run));
            match parted.transpose()?.flatten() {
                Some(parted) => parted.land.joined(&parted.cliffs),
                None => mesh,
            }
        }
    };
    let drawn = Drawn {
        size,
        smooth: order.is_none_or(|order| order.smooth),
        edges: order.is_some(),
        sun: Sun::from(recipe.sun),
    };
    pictured(&mesh, extent, camera, &drawn, run).map_err(stopped)
}

fn ordered(
    order: &MeshOrder,
    lattice: &Lattice,
    longest_m: f64,
    run: Run,
) -> Result<Mesh, terrain::Cancelled> {
    let goal: Goal = goal(order, lattice, 0, lattice.most_triangles());
    let whole = goal.most_triangles >= lattice.most_triangles()
        && !matches!(order.detail, Detail::Within(_));
    let mesh = match whole {
        true => lattice.whole(),
        false => refined(lattice, goal, run)?,
    };
    let lowest_m = f64::from(lattice.range_m().0);
    Ok(solid_of(order, &mesh, (lowest_m, longest_m)).unwrap_or(mesh))
}
