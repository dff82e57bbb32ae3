//! Pushing places about, so that regular patterns turn natural.

use crate::grid::Sampler;
use crate::noise::{FractalNoise, hash};
use crate::{Cancelled, Frame, Grid, Run};

/// A push in x and y that changes smoothly from place to place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Warp {
    /// The farthest push along each axis, metres.
    pub distance_m: f64,
    /// Size of the largest swings, metres.
    pub feature_m: f64,
    /// Layers of ever finer swings.
    pub octaves: f64,
    /// Random seed.
    pub seed: u32,
}

impl Warp {
    fn push(&self, axis: i32, frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let noise = FractalNoise {
            feature_m: self.feature_m,
            octaves: self.octaves,
            seed: hash(axis, 0, self.seed),
            ..FractalNoise::default()
        };
        let distance_m = self.distance_m as f32;
        Ok(noise.fill(frame, run)?.map(|push| push * distance_m))
    }

    /// The push at each cell of `frame`: metres east and metres north. Local.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn pushes(&self, frame: &Frame, run: Run) -> Result<(Grid, Grid), Cancelled> {
        Ok((self.push(0, frame, run)?, self.push(1, frame, run)?))
    }

    /// The margin, in cells of `cell_m`, that [`Warp::apply`] needs.
    pub fn margin(&self, cell_m: f64) -> usize {
        // Two more for the cubic's neighbours.
        (self.distance_m.abs() / cell_m).ceil() as usize + 2
    }

    /// `heights`, standing on `wide`, seen at the pushed places of `frame`.
    /// Local when `wide` has at least [`Warp::margin`] cells around `frame`.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn apply(
        &self,
        heights: &Grid,
        wide: &Frame,
        frame: &Frame,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let (east, north) = self.pushes(frame, run)?;
        let sampler = Sampler::new(heights, wide);
        Ok(Grid::by_rows(frame.cols, frame.rows, |r, out| {
            for (c, out) in out.iter_mut().enumerate() {
                let x_m = frame.x_m(c) + f64::from(east.at(c, r));
                let y_m = frame.y_m(r) + f64::from(north.at(c, r));
                *out = sampler.bicubic(x_m, y_m);
            }
        }))
    }
}
