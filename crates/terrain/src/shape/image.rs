//! An image laid on the land.

use super::{Locator, Placement};
use crate::grid::{Beyond, Pyramid};
use crate::{Cancelled, Frame, Grid, Run};

/// An image on a rectangle of the land, and what is around it.
pub struct PlacedImage<'a> {
    /// The image; its values are taken as they are.
    pub image: &'a Pyramid,
    /// Where it lies.
    pub placement: Placement,
    /// What is beyond its edge; nothing (`None` in the result of
    /// [`PlacedImage::at`], 0 in a grid) when absent.
    pub beyond: Option<Beyond>,
}

impl PlacedImage<'_> {
    /// The image at a place, as seen on cells of `cell_m`.
    pub fn at(&self, x_m: f64, y_m: f64, cell_m: f64) -> Option<f32> {
        self.located(&self.placement.locator(), (x_m, y_m), self.pixels(cell_m))
    }

    fn located(&self, locator: &Locator, (x_m, y_m): (f64, f64), pixels: f64) -> Option<f32> {
        let (along, across) = locator.uv(x_m, y_m);
        // Row 0 of an image is its north edge.
        let (u, v) = (0.5 * (along + 1.0), 0.5 * (1.0 - across));
        let outside = !(0.0..=1.0).contains(&u) || !(0.0..=1.0).contains(&v);
        let beyond = match (self.beyond, outside) {
            (Some(beyond), _) => beyond,
            (None, true) => return None,
            (None, false) => Beyond::Edge,
        };
        Some(self.image.at(u, v, pixels, beyond))
    }

    /// Pixels of the image in a cell, along the axis that has more of them.
    fn pixels(&self, cell_m: f64) -> f64 {
        let grid = self.image.image();
        let along = grid.cols() as f64 / self.placement.width_m;
        let across = grid.rows() as f64 / self.placement.depth_m;
        cell_m * along.max(across)
    }

    /// `value` of the image at the places that `place(col, row)` gives, on cells
    /// of `frame`; 0 where there is no image. Local.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill_at(
        &self,
        frame: &Frame,
        place: impl Fn(usize, usize) -> (f64, f64) + Sync,
        value: impl Fn(f32) -> f32 + Sync,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let (locator, pixels) = (self.placement.locator(), self.pixels(frame.cell_m));
        let grid = Grid::by_rows(frame.cols, frame.rows, |r, out| {
            if run.check().is_err() {
                return;
            }
            for (c, out) in out.iter_mut().enumerate() {
                let seen = self.located(&locator, place(c, r), pixels);
                *out = seen.map_or(0.0, &value);
            }
        });
        run.check()?;
        Ok(grid)
    }
}
