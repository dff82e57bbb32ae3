//! Materials: tiling textures, grown by recipes of our own or imported.

mod detail;
mod given;
mod kinds;
mod levels;
mod maps;
mod tiling;

pub use detail::Detail;
pub use given::GivenMaps;
pub use kinds::MaterialKind;
pub(super) use levels::Sharp;
pub use levels::{Material, Texel};
pub use maps::DEPTH_SHARE;
