//! What a step sees of the world while it grows.

use std::sync::Arc;

use serde::Serialize;
use terrain::erosion::Eroded;
use terrain::{Extent, Frame, Grid, Run};

use super::cache::Kept;
use super::grower::Growth;
use super::key::Key;
use super::{GrowError, State};
use crate::document::Strand;

/// Where one step grows: the cells asked for, and what lies below.
pub struct Site<'a> {
    growth: &'a Growth<'a>,
    strand: &'a Strand,
    step: usize,
    below: &'a State,
    frame: &'a Frame,
}

impl<'a> Site<'a> {
    pub(crate) fn new(
        growth: &'a Growth<'a>,
        strand: &'a Strand,
        step: usize,
        below: &'a State,
        frame: &'a Frame,
    ) -> Self {
        Self {
            growth,
            strand,
            step,
            below,
            frame,
        }
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
        self.growth.run.quietly()
    }

    /// Heights below this step and where they stand: the frame asked for with
    /// at least the margin that the step said it needs.
    pub fn below(&self) -> (&Grid, &Frame) {
        (&self.below.heights, &self.below.frame)
    }

    /// Heights below this step on the cells asked for.
    pub fn below_here(&self) -> Grid {
        let (col, row) = self
            .below
            .frame
            .offset_of(self.frame)
            .expect("below reaches the frame");
        self.below
            .heights
            .cropped(col, row, self.frame.cols, self.frame.rows)
    }

    /// Heights below this step on any cells, such as those of a coarse grid.
    pub fn below_on(&self, frame: &Frame) -> Result<Arc<Grid>, GrowError> {
        Ok(self
            .growth
            .state(self.strand, self.step, frame)?
            .heights
            .clone())
    }

    /// Heights of another strand on the cells asked for.
    pub fn strand(&self, name: &str) -> Result<Grid, GrowError> {
        let strand = self.growth.strand(name)?;
        let state = self.growth.state(strand, strand.steps.len(), self.frame)?;
        Ok(Grid::clone(&state.heights))
    }

    /// The values of an imported file.
    pub fn asset(&self, id: &str) -> Result<Arc<Grid>, GrowError> {
        self.growth
            .assets
            .heightfield(id)
            .ok_or_else(|| GrowError::MissingAsset {
                step: self.strand.steps[self.step].name.clone(),
                asset: id.to_owned(),
            })
    }

    /// What `work` makes of all that lies below this step, its parameters and
    /// `part`: kept, and found again when it is asked for another time.
    pub(crate) fn remembered(
        &self,
        parameters: &impl Serialize,
        part: usize,
        work: impl FnOnce() -> Result<Eroded, GrowError>,
    ) -> Result<Arc<Eroded>, GrowError> {
        let below = Key::of_steps(self.growth.recipe, self.strand, self.step);
        let key = below.with(&("eroded", part)).with(parameters);
        if let Some(Kept::Eroded(eroded)) = self.growth.cache.get(key) {
            return Ok(eroded);
        }
        let eroded = Arc::new(work()?);
        self.growth.cache.put(key, Kept::Eroded(eroded.clone()));
        Ok(eroded)
    }
}
