//! What the kinds of step that push places about have in common.

use terrain::shape::Move;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// A kind of step that sees the land below at other places.
pub(super) trait Moves {
    /// Which places.
    fn movement(&self) -> Move;
}

impl<T: Moves> Kind for T {
    fn margin(&self, cell_m: f64) -> usize {
        self.movement().margin(cell_m)
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (below, wide) = site.below();
        let moved = self
            .movement()
            .apply(below, wide, site.frame(), site.run())?;
        Ok(moved.into())
    }
}
