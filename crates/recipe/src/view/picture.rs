//! The land as it is drawn: heights, readings under the pointer, lit colour.

use terrain::erosion::Ledger;
use terrain::ground::Colour;
use terrain::picture::{light, lit};
use terrain::reading::slope_deg;
use terrain::{Frame, Grid, Run};

use super::mask_place::mask_on;
use super::trace_colours::STONE;
use super::{Histogram, TraceView};
use crate::document::{LAND, Recipe};
use crate::grow::{Assets, Ground, GrowError, Grower, Part};

/// Cells along each side of a block whose lowest and highest height a picture tells.
pub const BLOCK: usize = 8;

/// What the land's colour shows.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Shading {
    /// The ground's own colours.
    #[default]
    Ground,
    /// One stone grey, for looking at form alone.
    Relief,
    /// What steps left behind.
    Trace(TraceView),
}

/// A mask to be shown along with the land.
#[derive(Clone, Debug, PartialEq)]
pub struct Watched {
    /// Whose mask it is, as [`MaskPlace::of`](super::MaskPlace::of) reads it.
    pub id: String,
}

/// One look at the land.
pub struct Picture {
    /// Where the cells stand.
    pub frame: Frame,
    /// Heights, metres.
    pub heights: Grid,
    /// The lowest and the highest height in each block of [`BLOCK`] by `BLOCK` cells.
    pub bounds: Grid<[f32; 2]>,
    /// Slope in half degrees.
    pub slope: Grid<u8>,
    /// Index of the cover with the greatest weight, among those that are on.
    pub ground: Grid<u8>,
    /// Index of the cover with the next weight.
    pub second: Grid<u8>,
    /// What that one has of both together, 0 to 255.
    pub second_share: Grid<u8>,
    /// Lit colour, sRGB.
    pub colour: Grid<[u8; 3]>,
    /// Light of the sun on each cell, 0 to 255: the cosine of its angle to the
    /// surface, cast shadows taken off.
    pub sunlit: Grid<u8>,
    /// The watched mask, 0 to 255.
    pub mask: Option<Grid<u8>>,
    /// Ledgers of the steps that move ground, by step id.
    pub ledgers: Vec<(String, Ledger)>,
    /// How often heights occur, from the lowest to the highest.
    pub height_histogram: Histogram,
    /// How often slopes occur, from level to upright.
    pub slope_histogram: Histogram,
    /// The covers that are on, bottom first.
    pub covers: Vec<CoverSeen>,
}

/// A cover, as it is on the land.
#[derive(Clone, Debug, PartialEq)]
pub struct CoverSeen {
    /// Its id.
    pub id: String,
    /// Its share of the land, 0 to 1.
    pub share: f64,
    /// The mean colour of the ground where there is most of it, in linear light
    /// and without light on it.
    pub colour: Colour,
}

impl CoverSeen {
    fn all(ground: &Ground, dominant: &Grid<u8>) -> Vec<Self> {
        // In doubles: of millions of cells, each weighs as much as the first.
        let mut sums = vec![([0.0_f64; 3], 0.0_f64); ground.covers.len().max(1)];
        for (colour, index) in ground.albedo.values().iter().zip(dominant.values()) {
            let (sum, count) = &mut sums[usize::from(*index)];
            for (sum, part) in sum.iter_mut().zip([colour.r, colour.g, colour.b]) {
                *sum += f64::from(part);
            }
            *count += 1.0;
        }
        let covers = ground.covers.iter().zip(ground.weights.shares()).zip(sums);
        covers
            .map(|((cover, share), (sum, count))| Self {
                id: cover.id.clone(),
                share,
                colour: {
                    let [r, g, b] = sum.map(|sum| (sum / count.max(1.0)) as f32);
                    Colour { r, g, b }
                },
            })
            .collect()
    }
}

/// How the land is looked at.
#[derive(Clone, Debug)]
pub struct View {
    /// Cells along the longer side.
    pub cells: usize,
    /// What the colour shows.
    pub shading: Shading,
    /// A mask to be shown along with the land.
    pub watched: Option<Watched>,
    /// The strand that is looked at.
    pub strand: String,
    /// A step that is looked at alone, as if the others of its strand were off,
    /// or a cover, as if there were no others.
    pub solo: Option<String>,
}

impl View {
    /// The land, with `cells` along its longer side.
    pub fn of_land(cells: usize) -> Self {
        Self {
            cells,
            shading: Shading::Ground,
            watched: None,
            strand: LAND.to_owned(),
            solo: None,
        }
    }
}

/// Looks at the land.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn picture(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    view: &View,
    run: Run,
) -> Result<Picture, GrowError> {
    let alone = view.solo.as_ref().and_then(|id| {
        let cover = || Some((view.strand.clone(), recipe.with_only_cover(id)?));
        recipe.with_only(id).or_else(cover)
    });
    let (strand, recipe) = match (&alone, recipe.strand(&view.strand)) {
        (Some((strand, alone)), _) => (strand.as_str(), alone),
        // A strand that was renamed or removed meanwhile.
        (None, None) => (LAND, recipe),
        (None, Some(_)) => (view.strand.as_str(), recipe),
    };
    let frame = Frame::with_cells(recipe.extent.into(), view.cells);
    let steps = usize::MAX;
    let land = grower.part(recipe, Part { strand, steps }, assets, &frame, run)?;
    let ground = land.ground(recipe, run)?;
    let albedo = match view.shading {
        Shading::Ground => ground.albedo.clone(),
        Shading::Relief => Grid::filled(frame.cols, frame.rows, STONE),
        Shading::Trace(view) => view.albedo(&land),
    };
    let lighting = recipe.lighting();
    let wide = land.heights_with_apron();
    let heights = land.heights();
    let light = light(wide, frame.cell_m, lighting);
    let colour = lit(&heights, &albedo, &light, lighting);
    run.check()?;
    let mask = match &view.watched {
        None => None,
        Some(watched) => mask_on(grower, recipe, assets, &frame, &watched.id, run)?,
    };
    let slope = slope_deg(wide, frame.cell_m);
    let strongest = ground.weights.strongest();
    let dominant = strongest.map(|strongest| strongest.first);
    Ok(Picture {
        frame,
        bounds: heights.ranges_of_blocks(BLOCK),
        height_histogram: Histogram::of(&heights, heights.range()),
        slope_histogram: Histogram::of(&slope, (0.0, 90.0)),
        heights,
        slope: slope.map(|slope| (slope * 2.0).round() as u8),
        covers: CoverSeen::all(&ground, &dominant),
        ground: dominant,
        second: strongest.map(|strongest| strongest.second),
        second_share: strongest.map(|strongest| strongest.share),
        colour,
        sunlit: light.sun.map(|v| (v * 255.0).round() as u8),
        mask,
        ledgers: land.ledgers().to_vec(),
    })
}
