//! Edge fall-off.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::{self, Outline};

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Lets the land sink towards the border, with a coast broken up by noise.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct FallOff {
    /// Which borders the land sinks towards.
    pub outline: Outline,
    /// Over what distance it sinks.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [50.0, 4000.0]))]
    pub width_m: f64,
    /// How deep bays cut in. Without any the coast looks artificial.
    #[schemars(range(min = 0, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 4000.0]))]
    pub ragged_m: f64,
    /// Size of the largest bays and headlands.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 6000.0]))]
    pub ragged_feature_m: f64,
    /// What the land sinks to.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-300.0, 300.0]))]
    pub level_m: f64,
    /// Which of the endless coasts.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

impl Default for FallOff {
    fn default() -> Self {
        Self {
            outline: Outline::Frame,
            width_m: 1200.0,
            ragged_m: 1200.0,
            ragged_feature_m: 2000.0,
            level_m: -60.0,
            seed: 1,
        }
    }
}

impl Kind for FallOff {
    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let fall_off = shape::FallOff {
            outline: self.outline,
            width_m: self.width_m,
            ragged_m: self.ragged_m,
            ragged_feature_m: self.ragged_feature_m,
            seed: self.seed,
        };
        let left = fall_off.weight(site.extent(), site.frame(), site.run())?;
        let level = self.level_m as f32;
        let below = site.below_here();
        Ok(below
            .zip_map(&left, |height, left| level + left * (height - level))
            .into())
    }
}
