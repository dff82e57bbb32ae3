//! Shaping the land: edge fall-off, warp, response curves.

mod curve;
mod falloff;
mod warp;

pub use curve::{Curve, CurveError};
pub use falloff::{FallOff, Outline};
pub use warp::Warp;
