//! What the ground is made of, and its colour.

mod colour;
mod weights;

pub use colour::{Colour, albedo};
pub use weights::{Unbalanced, Weights};
