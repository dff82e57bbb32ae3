//! Imported files, as growth sees them.

use std::sync::Arc;

use terrain::Grid;

/// Where growth finds imported heightfields.
pub trait Assets: Sync {
    /// The values of the asset called `id`, as they stand in its file. The
    /// same `id` always means the same values.
    fn heightfield(&self, id: &str) -> Option<Arc<Grid>>;
}

/// No assets at all.
#[derive(Clone, Copy, Debug, Default)]
pub struct NoAssets;

impl Assets for NoAssets {
    fn heightfield(&self, _id: &str) -> Option<Arc<Grid>> {
        None
    }
}
