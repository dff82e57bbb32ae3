//! Work of many parts, each on top of those before it.

use std::sync::Arc;

use serde::Serialize;
use terrain::{Frame, Grid};

use super::cache::Kept;
use super::{GrowError, Site, State};

/// Of long work the land is kept after each so many parts.
const KEPT_EVERY: usize = 64;

impl Site<'_> {
    /// The land below this step on `frame` after all `parts`, which `work` lays on it one
    /// by one. The land after the last part, and after the one before it, is kept: one part
    /// more, or the last one changed, costs as much after thousands as after none.
    pub(crate) fn in_order<P: Serialize>(
        &self,
        parts: &[P],
        frame: &Frame,
        mut work: impl FnMut(usize, &Grid, &mut Grid) -> Result<(), GrowError>,
    ) -> Result<Arc<Grid>, GrowError> {
        let keys = self.key().with(&"in order").chain(parts);
        let below = self.below_on(frame)?;
        let known =
            keys.iter()
                .enumerate()
                .rev()
                .find_map(|(done, key)| match self.kept(key.on(frame)) {
                    Some(Kept::State(state)) => Some((done + 1, state.heights.clone())),
                    _ => None,
                });
        let (done, mut land) = known.unwrap_or((0, below.clone()));
        for (part, key) in keys.iter().enumerate().skip(done) {
            self.run().check()?;
            work(part, &below, Arc::make_mut(&mut land))?;
            let left = parts.len() - 1 - part;
            if left <= 1 || part % KEPT_EVERY == 0 {
                let state = State {
                    heights: land.clone(),
                    ..State::bare(*frame)
                };
                self.keep(key.on(frame), Kept::State(Arc::new(state)));
            }
            self.run().report((part + 1) as f32 / parts.len() as f32);
        }
        Ok(land)
    }
}
