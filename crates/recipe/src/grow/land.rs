//! The grown land and what can be taken from it.

use std::sync::Arc;

use terrain::erosion::Ledger;
use terrain::{Frame, Grid, Run};

use super::ground::Place;
use super::grower::Growth;
use super::masked::mask_on;
use super::readings::{Beneath, LookedAt, Taken};
use super::{Ground, GrowError};
use crate::document::{Cover, Mask, Product, Recipe};

/// The land at the end of its strand.
pub struct Land<'a> {
    growth: Growth<'a>,
    /// With as much around the land as the masks of its covers need, and as a
    /// whole when one of them needs that.
    looked_at: LookedAt<'a>,
    /// Heights with [`Land::MARGIN`] around the land.
    near: Grid,
    frame: Frame,
    /// What was taken of the land as a whole.
    taken: Arc<Taken>,
}

/// What was taken of a land as a whole: its drainage, and distances over all of it.
#[derive(Clone, Default)]
pub struct KnownOfWhole(Arc<Taken>);

impl<'a> Land<'a> {
    /// Cells known around the land, for readings that look at neighbours.
    pub(crate) const MARGIN: usize = 1;

    pub(super) fn new(growth: Growth<'a>, looked_at: LookedAt<'a>, frame: Frame) -> Self {
        let near = frame.grown(Self::MARGIN);
        let state = &looked_at.state;
        let (col, row) = state.frame.offset_of(&near).expect("the margin was grown");
        let near = state.heights.cropped(col, row, near.cols, near.rows);
        Self {
            growth,
            looked_at,
            near,
            frame,
            taken: Arc::default(),
        }
    }

    /// What has been taken of it as a whole up to now.
    pub fn known_of_whole(&self) -> KnownOfWhole {
        KnownOfWhole(self.taken.clone())
    }

    /// The same land as if water ran and things lay on it as on another one, on the same
    /// cells.
    pub fn as_if(self, known: &KnownOfWhole) -> Self {
        let taken = known.0.clone();
        Self { taken, ..self }
    }

    /// Where the land stands.
    pub fn frame(&self) -> &Frame {
        &self.frame
    }

    /// Cells around a place that its ground looks at.
    pub(crate) fn ground_margin(&self) -> usize {
        self.growth.ground_margin(&self.frame)
    }

    /// Heights with an apron of one cell, metres.
    pub fn heights_with_apron(&self) -> &Grid {
        &self.near
    }

    /// Heights, metres.
    pub fn heights(&self) -> Grid {
        terrain::grid::without_apron(&self.near, Self::MARGIN)
    }

    /// A field that the land's steps have left, if any of them did.
    pub fn product(&self, product: Product) -> Option<Grid> {
        let field = self.looked_at.state.field(product)?;
        let at = self.looked_at.state.frame.offset_of(&self.frame)?;
        Some(field.cropped(at, &self.frame).into_grid())
    }

    /// Ledgers of the steps that move ground, by step id.
    pub fn ledgers(&self) -> &[(String, Ledger)] {
        &self.looked_at.state.ledgers
    }

    /// A mask of one of the recipe's covers, taken of this land, 0 to 1.
    ///
    /// # Errors
    /// [`GrowError::Cancelled`].
    pub fn mask(&self, mask: &Mask, run: Run) -> Result<Grid, GrowError> {
        mask_on(mask, &self.beneath(run), &self.frame)
    }

    /// What the land is made of, by the covers that are on.
    ///
    /// # Errors
    /// [`GrowError::Cancelled`].
    pub fn ground<'r>(&self, recipe: &'r Recipe, run: Run) -> Result<Ground<'r>, GrowError> {
        self.ground_in(recipe, &self.frame, run)
    }

    /// What a part of the land is made of: bit for bit that part of
    /// [`Land::ground`], in the memory of the part alone.
    ///
    /// # Errors
    /// [`GrowError::Cancelled`].
    ///
    /// # Panics
    /// When `window` reaches beyond the land.
    pub fn ground_in<'r>(
        &self,
        recipe: &'r Recipe,
        window: &Frame,
        run: Run,
    ) -> Result<Ground<'r>, GrowError> {
        let beneath = self.beneath(run);
        let covers: Vec<&Cover> = recipe.covers.iter().filter(|cover| cover.on).collect();
        let everywhere = Mask::everywhere();
        let masks = covers
            .iter()
            .map(|cover| {
                let mask = cover.mask.as_ref().unwrap_or(&everywhere);
                mask_on(mask, &beneath, window)
            })
            .collect::<Result<Vec<_>, _>>()?;
        let place = Place {
            beneath,
            near: self.heights_around(window),
            frame: *window,
        };
        Ground::lay(covers, masks, &recipe.finish, &place)
    }

    /// Heights of a part of the land with an apron of one cell.
    ///
    /// # Panics
    /// When `window` reaches beyond the land.
    pub fn heights_around(&self, window: &Frame) -> Grid {
        let near = window.grown(Self::MARGIN);
        let offset = self.frame.grown(Self::MARGIN).offset_of(&near);
        let (col, row) = offset.expect("a part of the land");
        self.near.cropped(col, row, near.cols, near.rows)
    }

    fn beneath<'s>(&'s self, run: Run<'s>) -> Beneath<'s> {
        let beneath = self.growth.running(run).beneath(self.looked_at.clone());
        beneath.knowing(self.taken.clone())
    }
}
