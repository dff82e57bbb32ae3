//! What the ground is made of, and its colour.

mod blend;
pub(crate) mod break_up;
mod colour;
mod gradient;
mod laid;
mod material;
mod wash;
mod weights;

pub use blend::{Blend, height_blend};
pub use break_up::{Patch, faces, patches};
pub use colour::Colour;
pub use gradient::Gradient;
pub use laid::{Laid, Laying, Spot, SpotRow};
pub use material::{DEPTH_SHARE, Detail, GivenMaps, Material, MaterialKind, Texel};
pub use wash::CarriedPigment;
pub use weights::{Strongest, Unbalanced, Weights};
