//! Drawing out along a flow.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::Move;

use super::moves::Moves;

/// Draws the land out along a swirling flow without sources or sinks: forms
/// turn into streaks and eddies, none is squeezed together.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Swirl {
    /// How far the flow carries.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0]))]
    pub distance_m: f64,
    /// Size of the largest swirls.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-scale" = "log"))]
    pub feature_m: f64,
    /// Layers of ever finer swings.
    #[schemars(range(min = 0.1, max = 12), extend("x-slider" = [1.0, 6.0]))]
    pub octaves: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

impl Default for Swirl {
    fn default() -> Self {
        Self {
            distance_m: 800.0,
            feature_m: 2500.0,
            octaves: 2.0,
            seed: 1,
        }
    }
}

impl Moves for Swirl {
    fn movement(&self) -> Move {
        Move::Swirl {
            distance_m: self.distance_m,
            feature_m: self.feature_m,
            octaves: self.octaves,
            seed: self.seed,
        }
    }
}
