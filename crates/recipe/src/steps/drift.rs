//! Pushing along a bearing.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::Move;

use super::moves::Moves;

/// Pushes the land to and fro along one direction, as wind and ice do.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Drift {
    /// The farthest push.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 1500.0]))]
    pub distance_m: f64,
    /// The direction of the push.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [0.0, 360.0]))]
    pub bearing_deg: f64,
    /// Size of the largest swings.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-scale" = "log"))]
    pub feature_m: f64,
    /// Layers of ever finer swings.
    #[schemars(range(min = 0.1, max = 12), extend("x-slider" = [1.0, 6.0]))]
    pub octaves: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

impl Default for Drift {
    fn default() -> Self {
        Self {
            distance_m: 300.0,
            bearing_deg: 90.0,
            feature_m: 1500.0,
            octaves: 3.0,
            seed: 1,
        }
    }
}

impl Moves for Drift {
    fn movement(&self) -> Move {
        Move::Drift {
            distance_m: self.distance_m,
            bearing_deg: self.bearing_deg,
            feature_m: self.feature_m,
            octaves: self.octaves,
            seed: self.seed,
        }
    }
}
