//! Domain warp of what is there already.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Pushes the land about sideways, so that regular patterns turn natural.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Warp {
    /// The farthest push.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 1500.0]))]
    pub distance_m: f64,
    /// Size of the largest swings.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0]))]
    pub feature_m: f64,
    /// Layers of ever finer swings.
    #[schemars(range(min = 0.1, max = 12), extend("x-slider" = [1.0, 6.0]))]
    pub octaves: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

impl Default for Warp {
    fn default() -> Self {
        Self {
            distance_m: 300.0,
            feature_m: 2000.0,
            octaves: 3.0,
            seed: 1,
        }
    }
}

impl Warp {
    fn warp(&self) -> shape::Warp {
        shape::Warp {
            distance_m: self.distance_m,
            feature_m: self.feature_m,
            octaves: self.octaves,
            seed: self.seed,
        }
    }
}

impl Kind for Warp {
    fn margin(&self, cell_m: f64) -> usize {
        self.warp().margin(cell_m)
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (below, wide) = site.below();
        Ok(self
            .warp()
            .apply(below, wide, site.frame(), site.run())?
            .into())
    }
}
