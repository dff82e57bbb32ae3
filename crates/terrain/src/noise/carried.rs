//! What a grid can carry.

use crate::smooth::smooth;

/// Features are gone when they are as small as 2 cells (Nyquist) and there in full from
/// 4 cells on.
const FADE_CELLS: (f64, f64) = (2.0, 4.0);

/// How much of features of `cells` cells a grid carries, 0 to 1. Whatever makes detail
/// fades it by this towards its mean: so a coarse grid shows the blurred fine one and
/// nothing that flickers from one resolution to the next.
pub fn carried(cells: f64) -> f32 {
    smooth((cells - FADE_CELLS.0) / (FADE_CELLS.1 - FADE_CELLS.0)) as f32
}
