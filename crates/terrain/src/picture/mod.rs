//! The land as a picture: hillshade, baked light, normal maps.

mod hillshade;
mod light;
mod lit;
mod normal_map;

pub use hillshade::hillshade;
pub use light::{Sun, cast_shadow, sky_view};
pub use lit::{Lighting, lit};
pub use normal_map::normal_map;
