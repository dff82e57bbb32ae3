//! What the ground is made of, and its colour.

mod blend;
mod colour;
mod laid;
mod material;
mod weights;

pub use blend::{Blend, height_blend};
pub use colour::Colour;
pub use laid::{Laying, Spot};
pub use material::{DEPTH_SHARE, Material, MaterialKind, Texel};
pub use weights::{Unbalanced, Weights};
