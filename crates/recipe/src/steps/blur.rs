//! Detail taken away.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::near_blur_margin;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Smooths the land: forms smaller than the radius go.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Blur {
    /// Forms smaller than this go.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 500.0]))]
    pub radius_m: f64,
}

impl Default for Blur {
    fn default() -> Self {
        Self { radius_m: 60.0 }
    }
}

impl Kind for Blur {
    fn margin(&self, cell_m: f64) -> usize {
        near_blur_margin(self.radius_m, cell_m)
    }

    fn blurs_m(&self) -> f64 {
        self.radius_m
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        Ok(site.blurred_below(self.radius_m, 0)?.into())
    }
}
