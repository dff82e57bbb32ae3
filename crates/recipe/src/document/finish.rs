//! What is done to the ground as a whole, once its covers lie.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Mask, step::yes};

/// What is done to the ground as a whole, once its covers lie.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Finish {
    /// Colours that water carries downhill.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schemars(length(max = 16))]
    pub washes: Vec<Wash>,
    /// Darkens what is shut in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hollows: Option<Hollows>,
    /// Wets the ground near water.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shore: Option<Shore>,
}

impl Finish {
    pub(super) fn is_empty(&self) -> bool {
        *self == Self::default()
    }
}

/// A colour that water carries downhill from where it is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Wash {
    /// Unlike that of any other part of the recipe; never changes.
    #[schemars(length(min = 1, max = 200))]
    pub id: String,
    /// What the artist calls it.
    #[schemars(length(max = 200))]
    pub name: String,
    /// A wash that is off is passed over.
    #[serde(default = "yes")]
    pub on: bool,
    /// Its colour in sRGB, as `#rrggbb`.
    #[schemars(regex(pattern = "^#[0-9a-fA-F]{6}$"), extend("format" = "color"))]
    pub colour: String,
    /// Where the colour comes from.
    pub mask: Mask,
    /// How far it is carried: over this much all but a third of it stays behind.
    #[schemars(range(min = 1, max = 50_000), extend("x-unit" = "m", "x-slider" = [20.0, 3_000.0], "x-scale" = "log"))]
    pub distance_m: f64,
    /// How strongly it colours the ground.
    #[schemars(range(min = 0, max = 1))]
    pub amount: f32,
}

/// Darkens what is shut in.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Hollows {
    /// How much.
    #[schemars(range(min = 0, max = 1))]
    pub amount: f32,
    /// How far land counts.
    #[schemars(range(min = 0.1, max = 5_000), extend("x-unit" = "m", "x-slider" = [20.0, 2_000.0]))]
    pub reach_m: f64,
}

/// Wets the ground near water: wet ground is darker and smoother.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Shore {
    /// How wet at the water's edge.
    #[schemars(range(min = 0, max = 1))]
    pub amount: f32,
    /// How far from the water it ends.
    #[schemars(range(min = 0.1, max = 5_000), extend("x-unit" = "m", "x-slider" = [5.0, 300.0]))]
    pub reach_m: f64,
}
