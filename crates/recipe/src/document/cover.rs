//! One material layer of the ground.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::ground::Colour;

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
    /// Lighter and darker patches.
    #[serde(default)]
    pub mottle: Mottle,
    /// Where it lies; everywhere when absent. The lowest cover that is on
    /// fills what the ones above leave free, whatever its mask.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mask: Option<Mask>,
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
