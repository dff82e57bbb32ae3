//! Materials: tiling textures, grown by recipes of our own or imported.

mod kinds;
mod levels;
mod maps;
mod tiling;

pub use kinds::MaterialKind;
pub use levels::{Material, Texel};
pub use maps::DEPTH_SHARE;
