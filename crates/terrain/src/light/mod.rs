//! Sun and sky on the land: what reaches a place past the land around it.
//!
//! Baked pictures, occlusion maps and masks of light all ask here, so that they agree.
//!
//! Kernels take heights with `margin` more cells on every side than the result has. With
//! as many as [`sight_margin`] says, a window has the bits of the whole;
//! with fewer, nothing is known beyond the grid and nothing rises there.

mod looks;
mod shadow;
mod sky;
mod sun;

pub use looks::sight_margin;
pub use shadow::sunlight;
pub use sky::{SKY_REACH_M, sky_seen};
pub use sun::{Sun, suns_of_day};
