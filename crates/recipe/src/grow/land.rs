//! The grown land and what can be taken from it.

use std::sync::Arc;

use terrain::erosion::Ledger;
use terrain::{Frame, Grid, Run};

use super::grower::Growth;
use super::masked::mask_on;
use super::{Ground, GrowError, State};
use crate::document::{Cover, Mask, Recipe, Trace};

/// The land at the end of its strand.
pub struct Land<'a> {
    growth: Growth<'a>,
    /// With as much around the land as the masks of its covers need.
    state: Arc<State>,
    /// The land as a whole, when a cover's mask needs it.
    whole: Option<Arc<State>>,
    /// Heights with [`Land::MARGIN`] around the land.
    near: Grid,
    frame: Frame,
}

impl<'a> Land<'a> {
    /// Cells known around the land, for readings that look at neighbours.
    pub(crate) const MARGIN: usize = 1;

    pub(super) fn new(
        growth: Growth<'a>,
        state: Arc<State>,
        whole: Option<Arc<State>>,
        frame: Frame,
    ) -> Self {
        let near = frame.grown(Self::MARGIN);
        let (col, row) = state.frame.offset_of(&near).expect("the margin was grown");
        let near = state.heights.cropped(col, row, near.cols, near.rows);
        Self {
            growth,
            state,
            whole,
            near,
            frame,
        }
    }

    /// Where the land stands.
    pub fn frame(&self) -> &Frame {
        &self.frame
    }

    /// Heights with an apron of one cell, metres.
    pub fn heights_with_apron(&self) -> &Grid {
        &self.near
    }

    /// Heights, metres.
    pub fn heights(&self) -> Grid {
        terrain::grid::without_apron(&self.near, Self::MARGIN)
    }

    /// A by-product of the land's steps, if any of them left it.
    pub fn trace(&self, trace: Trace) -> Option<Grid> {
        let field = self.state.traces.get(&trace)?;
        let (col, row) = self.state.frame.offset_of(&self.frame)?;
        Some(field.cropped(col, row, self.frame.cols, self.frame.rows))
    }

    /// Ledgers of the steps that move ground, by step id.
    pub fn ledgers(&self) -> &[(String, Ledger)] {
        &self.state.ledgers
    }

    /// A mask of one of the recipe's covers, taken of this land, 0 to 1.
    ///
    /// # Errors
    /// [`GrowError::Cancelled`].
    pub fn mask(&self, mask: &Mask, run: Run) -> Result<Grid, GrowError> {
        let growth = Growth { run, ..self.growth };
        mask_on(
            mask,
            &growth.beneath(&self.state, self.whole.clone()),
            &self.frame,
        )
    }

    /// What the land is made of, by the covers that are on.
    ///
    /// # Errors
    /// [`GrowError::Cancelled`].
    pub fn ground<'r>(&self, recipe: &'r Recipe, run: Run) -> Result<Ground<'r>, GrowError> {
        let covers: Vec<&Cover> = recipe.covers.iter().filter(|cover| cover.on).collect();
        let everywhere = Mask::everywhere();
        let masks = covers
            .iter()
            .map(|cover| self.mask(cover.mask.as_ref().unwrap_or(&everywhere), run))
            .collect::<Result<Vec<_>, _>>()?;
        Ground::lay(covers, masks, &self.near, self.frame, run)
    }
}
