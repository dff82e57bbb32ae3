//! Work of the hand on the land: strokes of a brush, in order, in metres.
//!
//! A stroke changes what its brush covers, and may look at the land around to do so. Each
//! is worked on all the cells that it touches, or not at all: so a window of the land has
//! the bits of the whole, given as much around as [`Strokes::needed`] says.

mod brush;
mod deed;
mod grab;
mod stroke;

pub use brush::Brush;
pub use deed::{Deed, Level};
pub use stroke::{Stroke, Strokes};
