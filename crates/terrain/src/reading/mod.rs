//! Measures taken of the land.
//!
//! Each kernel takes heights with an apron of one cell and gives a grid
//! without it, so that a window has the bits of the whole.

mod aspect;
mod horn;
mod nearest_line;
mod slope;

pub use aspect::{FLAT, aspect_deg, facing_deg};
pub use horn::for_each_gradient;
pub use nearest_line::{LinePoint, Lines, Nearest};
pub use slope::slope_deg;
