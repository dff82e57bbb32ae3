//! How a texture is laid over the land.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::ground::Laying;

/// How a texture is laid over the land.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Texture {
    /// Side of one repeat.
    #[schemars(range(min = 0.01, max = 100_000), extend("x-unit" = "m", "x-slider" = [1.0, 200.0], "x-scale" = "log"))]
    pub size_m: f64,
    /// Turned by this much.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [-180.0, 180.0]))]
    pub turn_deg: f64,
    /// Broken up so that repeats do not show: patches of the texture, each from
    /// elsewhere in it.
    pub broken_up: bool,
    /// Steep faces are textured from the side instead of stretched.
    pub from_the_side: bool,
    /// How far the material's colour is replaced by the cover's own: at 1 only
    /// its grain is left.
    #[schemars(range(min = 0, max = 1))]
    pub tint: f32,
    /// Hue turned by this much.
    #[schemars(range(min = -180, max = 180), extend("x-unit" = "°"))]
    pub hue_deg: f32,
    /// Saturation, 1 leaves it.
    #[schemars(range(min = 0, max = 4), extend("x-slider" = [0.0, 2.0]))]
    pub saturation: f32,
    /// Lightness, 1 leaves it.
    #[schemars(range(min = 0, max = 4), extend("x-slider" = [0.0, 2.0]))]
    pub lightness: f32,
}

impl Default for Texture {
    fn default() -> Self {
        Self {
            size_m: 12.0,
            turn_deg: 0.0,
            broken_up: true,
            from_the_side: true,
            tint: 0.0,
            hue_deg: 0.0,
            saturation: 1.0,
            lightness: 1.0,
        }
    }
}

impl Texture {
    pub(super) fn is_default(&self) -> bool {
        *self == Self::default()
    }

    /// How a material lies with it.
    pub fn laying(&self) -> Laying {
        Laying {
            size_m: self.size_m,
            turn_rad: self.turn_deg.to_radians(),
            broken_up: self.broken_up,
            from_the_side: self.from_the_side,
        }
    }
}
