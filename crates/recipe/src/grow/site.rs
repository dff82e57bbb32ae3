//! What a step sees of the world while it grows.

use std::sync::Arc;

use terrain::grid::{Pyramid, refined, seamless};
use terrain::shape::{blur_halvings, blur_margin, blurred};
use terrain::{Extent, Frame, Grid, Run};

use super::cache::Kept;
use super::grower::Growth;
use super::key::Key;
use super::{GrowError, Products, State, Strata};
use crate::document::{Mask, Product, Strand};

/// Where one step grows: the cells asked for, and what lies below.
pub struct Site<'a> {
    growth: &'a Growth<'a>,
    strand: &'a Strand,
    step: usize,
    mask: Option<&'a Grid>,
    below: &'a State,
    frame: &'a Frame,
    run: Run<'a>,
}

impl<'a> Site<'a> {
    /// The step number `step` of `strand`, with its mask on the cells of `frame`.
    pub(crate) fn new(
        growth: &'a Growth<'a>,
        (strand, step): (&'a Strand, usize),
        mask: Option<&'a Grid>,
        below: &'a State,
        frame: &'a Frame,
        run: Run<'a>,
    ) -> Self {
        Self {
            growth,
            strand,
            step,
            mask,
            below,
            frame,
            run,
        }
    }

    /// The mask of the step itself.
    pub(super) fn mask(&self) -> Option<&'a Mask> {
        self.strand.steps[self.step].mask.as_ref()
    }

    /// The same, taken on the cells to make.
    pub(super) fn mask_here(&self) -> Option<&Grid> {
        self.mask
    }

    /// The cells to make.
    pub fn frame(&self) -> &Frame {
        self.frame
    }

    /// The land's size.
    pub fn extent(&self) -> Extent {
        self.growth.recipe.extent.into()
    }

    /// Height of the sea, metres.
    pub fn sea_level_m(&self) -> f64 {
        self.growth.recipe.sea_level_m
    }

    /// Whether to stop, and where to report progress.
    pub fn run(&self) -> Run<'a> {
        self.run
    }

    /// Heights below this step and where they stand: the frame asked for with
    /// at least the margin that the step said it needs.
    pub fn below(&self) -> (&Grid, &Frame) {
        (&self.below.heights, &self.below.frame)
    }

    /// Heights below this step on the cells asked for.
    pub fn below_here(&self) -> Grid {
        self.below_within(0)
    }

    /// What the steps below this one have left.
    pub fn products(&self) -> &Products {
        &self.below.products
    }

    /// Heights below this step on any cells, such as those of a coarse grid.
    pub fn below_on(&self, frame: &Frame) -> Result<Arc<Grid>, GrowError> {
        // What the step was given need not be grown again.
        if let Some(heights) = self.below.heights_on(frame) {
            return Ok(heights);
        }
        let state = self.growth.state(self.strand, self.step, frame)?;
        Ok(state.heights.clone())
    }

    /// Heights below this step on the cells asked for and `margin` around, no
    /// more than the step said it needs.
    pub fn below_within(&self, margin: usize) -> Grid {
        let near = self.frame.grown(margin);
        let heights = self.below.heights_on(&near);
        let heights = heights.expect("below reaches the margin that the step asked for");
        Arc::unwrap_or_clone(heights)
    }

    /// The land below this step, blurred with a standard deviation of `radius_m`,
    /// on the cells asked for and `around`. A wide blur is taken of the land on
    /// coarser cells: what it costs does not grow with the radius.
    pub fn blurred_below(&self, radius_m: f64, around: usize) -> Result<Grid, GrowError> {
        let cell_m = self.frame.cell_m;
        let halvings = blur_halvings(radius_m, cell_m);
        if halvings == 0 {
            let wide = self.below_within(around + blur_margin(radius_m, cell_m));
            return Ok(blurred(&wide, radius_m, cell_m));
        }
        let near = self.frame.grown(around);
        let coarse = near.coarser(halvings);
        let margin = blur_margin(radius_m, coarse.cell_m);
        let wide = self.below_on(&coarse.grown(margin))?;
        let soft = blurred(&wide, radius_m, coarse.cell_m);
        Ok(refined(&soft, halvings, &near))
    }

    /// Heights of another strand, or a field that it left, on the cells asked for.
    pub fn strand(&self, name: &str, product: Option<Product>) -> Result<Grid, GrowError> {
        let strand = self.growth.strand(name)?;
        let state = self.growth.state(strand, strand.steps.len(), self.frame)?;
        let Some(product) = product else {
            return Ok(Grid::clone(&state.heights));
        };
        Ok(match state.field(product) {
            Some(field) => field.into_grid(),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        })
    }

    /// Heights of another strand on any cells.
    pub fn strand_on(&self, name: &str, frame: &Frame) -> Result<Arc<Grid>, GrowError> {
        let strand = self.growth.strand(name)?;
        let state = self.growth.state(strand, strand.steps.len(), frame)?;
        Ok(state.heights.clone())
    }

    /// The beds of rock below this step on any cells, if there are any.
    pub fn strata_below(&self, frame: &Frame) -> Result<Option<Strata>, GrowError> {
        let Some(strata) = self.below.products.strata() else {
            return Ok(None);
        };
        if let Some(at) = self.below.frame.offset_of(frame) {
            return Ok(Some(strata.cropped(at, frame)));
        }
        let state = self.growth.state(self.strand, self.step, frame)?;
        Ok(state.products.strata().cloned())
    }

    /// Another strand as an image of the whole land, `cells` along the longer
    /// side, with its edges made to meet over the share `seam`.
    pub fn strand_image(
        &self,
        name: &str,
        cells: usize,
        seam: f64,
    ) -> Result<Arc<Pyramid>, GrowError> {
        let strand = self.growth.strand(name)?;
        let steps = strand.steps.len();
        let key = self.growth.plan.key(strand, steps);
        self.growth
            .kept_image(key.with(&("image", cells, seam.to_bits())), || {
                let frame = Frame::with_cells(self.extent(), cells);
                let state = self.growth.state(strand, steps, &frame)?;
                Ok(joined(Grid::clone(&state.heights), seam))
            })
    }

    /// An imported file as an image, without the shares `crop` of it at the
    /// west, east, north and south, and with its edges made to meet over the
    /// share `seam`.
    pub fn image(&self, id: &str, crop: [f64; 4], seam: f64) -> Result<Arc<Pyramid>, GrowError> {
        self.channel_image(id, 0, crop, seam)
    }

    /// The same of one channel of a file in colour.
    pub fn channel_image(
        &self,
        id: &str,
        channel: usize,
        crop: [f64; 4],
        seam: f64,
    ) -> Result<Arc<Pyramid>, GrowError> {
        let bits = crop.map(f64::to_bits);
        let key = Key::of_asset(id).with(&("image", channel, bits, seam.to_bits()));
        self.growth.kept_image(key, || {
            let values = self.asset(id, channel)?;
            let [west, east, north, south] = crop;
            let span = |count: usize, before: f64, after: f64| {
                let first = ((before * count as f64).round() as usize).min(count - 1);
                let end = count - (after * count as f64).round() as usize;
                (first, end.max(first + 1) - first)
            };
            let (col, cols) = span(values.cols(), west, east);
            let (row, rows) = span(values.rows(), north, south);
            Ok(joined(values.cropped(col, row, cols, rows), seam))
        })
    }

    /// The values of a channel of an imported file.
    fn asset(&self, id: &str, channel: usize) -> Result<Arc<Grid>, GrowError> {
        self.growth
            .assets
            .channel(id, channel)
            .ok_or_else(|| GrowError::MissingAsset {
                step: self.strand.steps[self.step].name.clone(),
                asset: id.to_owned(),
            })
    }

    /// Whether one of the steps below needs the land as a whole, or takes in another strand,
    /// of which the same may be true.
    pub(super) fn processed_below(&self) -> bool {
        let (cell_m, extent) = (self.frame.cell_m, self.extent());
        let mut below = self.strand.steps[..self.step].iter();
        below.any(|step| {
            let operation = &step.operation;
            let taken_in = operation.takes_in().is_some();
            step.on && (taken_in || !operation.levels(cell_m, extent).is_empty())
        })
    }

    /// The name of all that lies below this step.
    pub(super) fn key(&self) -> Key {
        self.growth.plan.key(self.strand, self.step)
    }

    /// The name of a mask, and of all that it refers to.
    pub(super) fn key_of_mask(&self, mask: &Mask) -> Key {
        self.growth.plan.masks.key(mask)
    }

    /// The name of all that another strand is.
    pub(super) fn key_of_strand(&self, name: &str) -> Result<Key, GrowError> {
        let strand = self.growth.strand(name)?;
        Ok(self.growth.plan.key(strand, strand.steps.len()))
    }

    pub(super) fn kept(&self, key: Key) -> Option<Kept> {
        self.growth.cache.get(key)
    }

    pub(super) fn keep(&self, key: Key, kept: Kept) {
        self.growth.cache.put(key, kept);
    }

    pub(super) fn mask_of_below(&self, mask: &Mask, frame: &Frame) -> Result<Grid, GrowError> {
        self.growth.mask(self.strand, self.step, mask, frame)
    }
}

fn joined(image: Grid, seam: f64) -> Grid {
    match seam > 0.0 {
        true => seamless(&image, seam),
        false => image,
    }
}
