//! The land as it is drawn: heights, readings under the pointer, lit colour.

use terrain::erosion::Ledger;
use terrain::ground::Colour;
use terrain::picture::{Lighting, Sun, lit};
use terrain::reading::slope_deg;
use terrain::{Frame, Grid, Run};

use crate::document::{Mask, Recipe};
use crate::grow::{Assets, GrowError, Grower};

/// What the land's colour shows.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Shading {
    /// The ground's own colours.
    #[default]
    Ground,
    /// One stone grey, for looking at form alone.
    Relief,
}

/// A mask to be shown along with the land.
#[derive(Clone, Debug, PartialEq)]
pub struct Watched {
    /// The id of the step or cover whose mask it is.
    pub id: String,
}

/// One look at the land.
pub struct Picture {
    /// Where the cells stand.
    pub frame: Frame,
    /// Heights, metres.
    pub heights: Grid,
    /// Slope in half degrees.
    pub slope: Grid<u8>,
    /// Index of the cover with the greatest weight, among those that are on.
    pub ground: Grid<u8>,
    /// Lit colour, sRGB.
    pub colour: Grid<[u8; 3]>,
    /// The watched mask, 0 to 255.
    pub mask: Option<Grid<u8>>,
    /// Ledgers of the steps that move ground, by step id.
    pub ledgers: Vec<(String, Ledger)>,
    /// Each cover's id and its share of the land, bottom first.
    pub shares: Vec<(String, f64)>,
}

/// The grey of a land that is looked at for its form.
const STONE: Colour = Colour {
    r: 0.42,
    g: 0.41,
    b: 0.39,
};

/// Looks at the land with `cells` along its longer side.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn picture(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    cells: usize,
    shading: Shading,
    watched: Option<&Watched>,
    run: Run,
) -> Result<Picture, GrowError> {
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let land = grower.land(recipe, assets, &frame, run)?;
    let ground = land.ground(recipe, run)?;
    let albedo = match shading {
        Shading::Ground => ground.albedo(run)?,
        Shading::Relief => Grid::filled(frame.cols, frame.rows, STONE),
    };
    let lighting = Lighting {
        sun: Sun::from(recipe.sun),
        sea_level_m: recipe.sea_level_m as f32,
    };
    let wide = land.heights_with_apron();
    let colour = lit(wide, &albedo, frame.cell_m, lighting);
    run.check()?;
    let mask = match watched {
        None => None,
        Some(watched) => watched_mask(grower, recipe, assets, &frame, watched, run)?,
    };
    let ids = ground.covers.iter().map(|cover| cover.id.clone());
    Ok(Picture {
        frame,
        heights: land.heights(),
        slope: slope_deg(wide, frame.cell_m).map(|slope| (slope * 2.0).round() as u8),
        ground: ground.weights.dominant(),
        colour,
        mask: mask.map(|mask| mask.map(|v| (v * 255.0).round() as u8)),
        ledgers: land.state().ledgers.clone(),
        shares: ids.zip(ground.weights.shares()).collect(),
    })
}

/// A step's mask is taken of the land below the step, a cover's of the whole.
fn watched_mask(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    frame: &Frame,
    watched: &Watched,
    run: Run,
) -> Result<Option<Grid>, GrowError> {
    let everywhere = Mask { terms: Vec::new() };
    if let Some(cover) = recipe.covers.iter().find(|cover| cover.id == watched.id) {
        let land = grower.land(recipe, assets, frame, run)?;
        return land
            .mask(cover.mask.as_ref().unwrap_or(&everywhere), run)
            .map(Some);
    }
    let steps = recipe.strands.iter().flat_map(|strand| {
        strand
            .steps
            .iter()
            .enumerate()
            .map(move |(k, step)| (strand, k, step))
    });
    for (strand, k, step) in steps {
        if step.id == watched.id {
            let mut below = recipe.clone();
            below
                .strands
                .retain(|other| other.name != crate::document::LAND);
            let mut land = strand.clone();
            land.steps.truncate(k);
            land.name = crate::document::LAND.to_owned();
            below.strands.push(land);
            let land = grower.land(&below, assets, frame, run)?;
            return land
                .mask(step.mask.as_ref().unwrap_or(&everywhere), run)
                .map(Some);
        }
    }
    Ok(None)
}
