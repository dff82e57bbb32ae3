//! Measures taken of the land.
//!
//! Kernels take heights with an apron (of one cell, or of as many as their
//! `…_margin` says) and give a grid without it, so that a window has the bits
//! of the whole.

mod aspect;
mod curvature;
mod distance;
mod horn;
mod relief;
mod slope;

pub use aspect::{FLAT, aspect_deg, facing_deg};
pub use curvature::{Bend, curvature_per_km, slope_of_quadratic_deg};
pub use distance::distance_m;
pub use horn::for_each_gradient;
pub use relief::{
    position_index_m, position_m, position_margin, range_of_nine_m, roughness_m, roughness_margin,
    ruggedness_m,
};
pub use slope::slope_deg;
