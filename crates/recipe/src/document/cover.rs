//! One material layer of the ground.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::ground::{Blend, Colour};

use super::{Broken, CoverMaterial, Mask, Reading, Texture, step::yes};

/// A layer of ground and where it lies.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Cover {
    /// Unlike that of any other cover in the recipe; never changes.
    #[schemars(length(min = 1, max = 200))]
    pub id: String,
    /// What the artist calls it.
    #[schemars(length(max = 200))]
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
    pub blend: Blend,
    /// How much of it, where its mask is full.
    #[serde(default = "full", skip_serializing_if = "is_full")]
    #[schemars(range(min = 0, max = 1))]
    pub opacity: f32,
    /// Over how much of their height two textures go over into one another, so
    /// that the higher one pokes through; 0 fades one into the other.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = 0, max = 2))]
    pub height_blend: f32,
    /// Its own colour by a reading of the land, instead of one all over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gradient: Option<CoverGradient>,
    /// Patches of another colour.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub patches: Option<TintPatches>,
    /// Lighter and darker patches.
    #[serde(default)]
    pub mottle: Mottle,
    /// How far the material's highest stands above its lowest, for maps of
    /// displacement and of surface directions; 0 leaves it smooth.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = 0, max = 100), extend("x-unit" = "m", "x-slider" = [0.0, 4.0]))]
    pub displacement_m: f32,
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

fn is_normal(blend: &Blend) -> bool {
    *blend == Blend::Normal
}

/// Colours that follow a reading of the land.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CoverGradient {
    /// What is read.
    pub by: Reading,
    /// The reading that has the first colour.
    #[schemars(range(min = -1_000_000_000, max = 1_000_000_000))]
    pub from: f32,
    /// The reading that has the last colour.
    #[schemars(range(min = -1_000_000_000, max = 1_000_000_000))]
    pub to: f32,
    /// The colours.
    #[schemars(length(min = 1, max = 32))]
    pub stops: Vec<ColourStop>,
    /// Shifts the colours by noise, so that they do not follow the reading like
    /// lines on a map.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub broken: Option<Broken>,
}

/// A colour of a gradient and where it is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ColourStop {
    /// Where, from 0 to 1.
    #[schemars(range(min = 0, max = 1))]
    pub at: f32,
    /// The colour in sRGB, as `#rrggbb`.
    #[schemars(regex(pattern = "^#[0-9a-fA-F]{6}$"), extend("format" = "color"))]
    pub colour: String,
}

/// Patches of another colour, broken up by noise.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct TintPatches {
    /// Their colour in sRGB, as `#rrggbb`.
    #[schemars(regex(pattern = "^#[0-9a-fA-F]{6}$"), extend("format" = "color"))]
    pub colour: String,
    /// How much of it where a patch is full.
    #[schemars(range(min = 0, max = 1))]
    pub amount: f32,
    /// Size of the largest patches.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [5.0, 2_000.0]))]
    pub feature_m: f64,
    /// Random seed.
    pub seed: u32,
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
    /// A cover of plain grey, everywhere.
    pub(crate) fn bare(id: &str, name: &str) -> Self {
        Self {
            id: id.to_owned(),
            name: name.to_owned(),
            on: true,
            colour: "#9a9a98".to_owned(),
            material: None,
            texture: Texture::default(),
            blend: Blend::Normal,
            opacity: 1.0,
            height_blend: 0.0,
            gradient: None,
            patches: None,
            mottle: Mottle {
                amount: 0.0,
                ..Mottle::default()
            },
            displacement_m: 0.0,
            mask: None,
        }
    }

    /// The colour in linear light; `None` when it is not `#rrggbb`.
    pub fn linear_colour(&self) -> Option<Colour> {
        linear_colour(&self.colour)
    }
}

/// A colour written as `#rrggbb`, in linear light.
pub(crate) fn linear_colour(written: &str) -> Option<Colour> {
    let digits = written.strip_prefix('#')?;
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
