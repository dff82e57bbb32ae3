//! Between which values noise lies, so that a height can say what it gives.
//!
//! What is possible says little: eight octaves that are all at their highest in one place
//! are never seen. What is found is told by looking.

use super::FractalNoise;
use crate::{Extent, Frame, Run};

/// Places looked at along each side of a square.
const SIDE: usize = 128;
/// From place to place, in sizes of the largest forms: far enough for each to be a new one,
/// and no whole number, or every place would be the same one of its cell.
const APART: f64 = 3.618_034;
/// The share of places below the low value, and above the high one.
const LEFT_OUT: f64 = 0.01;
/// Values are never said to lie closer together than this.
const LEAST: f32 = 1e-6;

impl FractalNoise {
    /// The value that one place in a hundred lies below, and the one that one in a hundred
    /// lies above, in full detail. They are those of the kind of noise and not of this
    /// variant: its seed, time and stretch make no difference.
    pub fn spread(&self) -> (f32, f32) {
        let any = Self {
            seed: 1,
            time: 0.0,
            stretch: 1.0,
            ..*self
        };
        let apart_m = APART * self.feature_m;
        let side_m = apart_m * SIDE as f64;
        let square = Extent {
            width_m: side_m,
            depth_m: side_m,
        };
        let frame = Frame::with_cells(square, SIDE);
        // A grid of such cells would carry nothing: the places are looked at one by one.
        let plan = any.plan(0.0);
        let found = any.scattered(&plan, &frame, Run::to_the_end(), |c, r| {
            (frame.x_m(c), frame.y_m(r))
        });
        let mut values = found.expect("nobody stops it").into_values();
        let out = (LEFT_OUT * values.len() as f64) as usize;
        values.sort_unstable_by(f32::total_cmp);
        let (low, high) = (values[out], values[values.len() - 1 - out]);
        (low, high.max(low + LEAST))
    }
}
