//! The land as a picture: hillshade, baked light, normal maps.

mod hillshade;
mod lit;
mod normal_map;
mod shared;

pub use hillshade::hillshade;
pub use lit::{Light, Lighting, light, lit};
pub use normal_map::normal_map;
pub use shared::shared_constants;
