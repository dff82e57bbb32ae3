//! One material layer of the ground.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::ground::{Blend, Colour, MaterialKind};

use super::{Mask, step::yes};

/// A layer of ground and where it lies.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Cover {
    /// Unlike that of any other cover in the recipe; never changes.
    pub id: String,
    /// What the artist calls it.
    pub name: String,
    /// A cover that is off is passed over.
    #[serde(default = "yes")]
    pub on: bool,
    /// Its colour in sRGB, as `#rrggbb`.
    #[schemars(regex(pattern = "^#[0-9a-fA-F]{6}$"), extend("format" = "color"))]
    pub colour: String,
    /// What it is made of; one plain colour when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub material: Option<CoverMaterial>,
    /// How the material's texture is laid and what is done to its colour.
    #[serde(default, skip_serializing_if = "Texture::is_default")]
    pub texture: Texture,
    /// How its colour lies on what is below.
    #[serde(default, skip_serializing_if = "is_normal")]
    pub blend: CoverBlend,
    /// How much of it, where its mask is full.
    #[serde(default = "full", skip_serializing_if = "is_full")]
    #[schemars(range(min = 0, max = 1))]
    pub opacity: f32,
    /// Over how much of their height two textures go over into one another, so
    /// that the higher one pokes through; 0 fades one into the other.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = 0, max = 2))]
    pub height_blend: f32,
    /// Lighter and darker patches.
    #[serde(default)]
    pub mottle: Mottle,
    /// Where it lies; everywhere when absent. The lowest cover that is on
    /// fills what the ones above leave free, whatever its mask.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mask: Option<Mask>,
}

fn full() -> f32 {
    1.0
}

fn is_full(value: &f32) -> bool {
    *value == 1.0
}

fn is_zero(value: &f32) -> bool {
    *value == 0.0
}

fn is_normal(blend: &CoverBlend) -> bool {
    *blend == CoverBlend::Normal
}

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
    fn is_default(&self) -> bool {
        *self == Self::default()
    }
}

/// A material that ships with the program.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum CoverMaterial {
    /// Massive rock with few cracks.
    Granite,
    /// Rock in thin layers.
    Slate,
    /// Pale rock with pits.
    Limestone,
    /// Angular stones.
    Scree,
    /// Rounded stones.
    Gravel,
    /// Fine sand with ripples.
    Sand,
    /// Bare earth.
    Soil,
    /// Straw and bents.
    DryGrass,
    /// Green grass.
    LushGrass,
    /// Cushions of moss.
    Moss,
    /// Snow that has thawed, frozen and gathered dust.
    OldSnow,
    /// New snow.
    FreshSnow,
    /// Mud at the water's edge.
    WetSilt,
}

impl From<CoverMaterial> for MaterialKind {
    fn from(material: CoverMaterial) -> Self {
        match material {
            CoverMaterial::Granite => Self::Granite,
            CoverMaterial::Slate => Self::Slate,
            CoverMaterial::Limestone => Self::Limestone,
            CoverMaterial::Scree => Self::Scree,
            CoverMaterial::Gravel => Self::Gravel,
            CoverMaterial::Sand => Self::Sand,
            CoverMaterial::Soil => Self::Soil,
            CoverMaterial::DryGrass => Self::DryGrass,
            CoverMaterial::LushGrass => Self::LushGrass,
            CoverMaterial::Moss => Self::Moss,
            CoverMaterial::OldSnow => Self::OldSnow,
            CoverMaterial::FreshSnow => Self::FreshSnow,
            CoverMaterial::WetSilt => Self::WetSilt,
        }
    }
}

/// How a cover's colour lies on what is below.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum CoverBlend {
    /// Covers it.
    #[default]
    Normal,
    /// Darkens it.
    Multiply,
    /// Lightens it.
    Screen,
    /// Deepens its darks and lightens its lights.
    Overlay,
    /// The same, gently.
    SoftLight,
}

impl From<CoverBlend> for Blend {
    fn from(blend: CoverBlend) -> Self {
        match blend {
            CoverBlend::Normal => Self::Normal,
            CoverBlend::Multiply => Self::Multiply,
            CoverBlend::Screen => Self::Screen,
            CoverBlend::Overlay => Self::Overlay,
            CoverBlend::SoftLight => Self::SoftLight,
        }
    }
}

/// Lighter and darker patches in a cover.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Mottle {
    /// How much lighter and darker, as a share.
    #[schemars(range(min = 0, max = 1))]
    pub amount: f32,
    /// Size of the largest patches.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m"))]
    pub feature_m: f64,
}

impl Default for Mottle {
    fn default() -> Self {
        Self {
            amount: 0.15,
            feature_m: 400.0,
        }
    }
}

impl Cover {
    /// The colour in linear light; `None` when it is not `#rrggbb`.
    pub fn linear_colour(&self) -> Option<Colour> {
        let digits = self.colour.strip_prefix('#')?;
        if digits.len() != 6 || !digits.bytes().all(|b| b.is_ascii_hexdigit()) {
            return None;
        }
        let bits = u32::from_str_radix(digits, 16).ok()?;
        Some(Colour::from_srgb8([
            (bits >> 16) as u8,
            (bits >> 8) as u8,
            bits as u8,
        ]))
    }
}
