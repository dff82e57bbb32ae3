//! The land as a picture: hillshade, baked light, normal maps.

mod hillshade;
mod light;
mod lit;
mod normal_map;
mod sky_view;

pub use hillshade::hillshade;
pub use light::{Sun, cast_shadow};
pub use lit::{Light, Lighting, light, lit};
pub use normal_map::normal_map;
pub use sky_view::sky_view;
