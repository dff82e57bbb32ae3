//! The land as it is drawn: heights, readings under the pointer, lit colour.

use terrain::erosion::Ledger;
use terrain::grid::without_apron;
use terrain::ground::Colour;
use terrain::picture::{Light, Lighting, light, lit};
use terrain::reading::slope_deg;
use terrain::{Frame, Grid, Run};

use super::mask_place::mask_on;
use super::trace_colours::STONE;
use super::{Histogram, TraceView};
use crate::document::{LAND, Recipe};
use crate::grow::{Assets, Ground, GrowError, Grower, KnownOfWhole, Land, Part};

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
#[derive(Clone)]
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
    /// What its ground has looked at of the land as a whole.
    pub known: KnownOfWhole,
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

impl Picture {
    /// Lays a picture of a part of the land on this one. Histograms, covers and ledgers,
    /// which are of the whole, stay.
    ///
    /// # Panics
    /// When `part` reaches beyond this picture, or does not begin with a block.
    pub(super) fn take_over(&mut self, part: &Self) {
        let (col, row) = self.frame.offset_of(&part.frame).expect("a part of it");
        assert!(
            col % BLOCK == 0 && row % BLOCK == 0,
            "it begins with a block"
        );
        self.heights.lay(&part.heights, col, row);
        self.bounds.lay(&part.bounds, col / BLOCK, row / BLOCK);
        self.slope.lay(&part.slope, col, row);
        self.ground.lay(&part.ground, col, row);
        self.second.lay(&part.second, col, row);
        self.second_share.lay(&part.second_share, col, row);
        self.colour.lay(&part.colour, col, row);
        self.sunlit.lay(&part.sunlit, col, row);
        if let (Some(mask), Some(part)) = (&mut self.mask, &part.mask) {
            mask.lay(part, col, row);
        }
    }
}

/// How the land is looked at.
#[derive(Clone, Debug, PartialEq)]
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
    let light = light(wide, frame.cell_m, lighting);
    run.check()?;
    let mask = match &view.watched {
        None => None,
        Some(watched) => mask_on(grower, recipe, assets, &frame, &watched.id, run)?,
    };
    let sight = Sight {
        frame,
        wide,
        ground: &ground,
        albedo: &albedo,
        light: &light,
        lighting,
    };
    Ok(Picture {
        mask,
        ledgers: land.ledgers().to_vec(),
        known: land.known_of_whole(),
        ..sight.picture()
    })
}

/// What is looked at, ready to be drawn.
pub(super) struct Sight<'a> {
    /// The cells that are drawn.
    pub(super) frame: Frame,
    /// Heights with an apron of one cell.
    pub(super) wide: &'a Grid,
    pub(super) ground: &'a Ground<'a>,
    pub(super) albedo: &'a Grid<Colour>,
    pub(super) light: &'a Light,
    pub(super) lighting: Lighting,
}

impl Sight<'_> {
    /// Draws it, without masks and ledgers.
    pub(super) fn picture(self) -> Picture {
        let frame = self.frame;
        let heights = without_apron(self.wide, Land::MARGIN);
        let slope = slope_deg(self.wide, frame.cell_m);
        let strongest = self.ground.weights.strongest();
        let dominant = strongest.map(|strongest| strongest.first);
        Picture {
            frame,
            bounds: heights.ranges_of_blocks(BLOCK),
            height_histogram: Histogram::of(&heights, heights.range()),
            slope_histogram: Histogram::of(&slope, (0.0, 90.0)),
            colour: lit(&heights, self.albedo, self.light, self.lighting),
            heights,
            slope: slope.map(|slope| (slope * 2.0).round() as u8),
            covers: CoverSeen::all(self.ground, &dominant),
            ground: dominant,
            second: strongest.map(|strongest| strongest.second),
            second_share: strongest.map(|strongest| strongest.share),
            sunlit: self.light.sun.map(|v| (v * 255.0).round() as u8),
            mask: None,
            ledgers: Vec::new(),
            known: KnownOfWhole::default(),
        }
    }
}
