//! Detail brought out.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::near_blur_margin;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Brings out crests and creases: what is smaller than the radius is made
/// stronger.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Sharpen {
    /// Forms smaller than this are made stronger.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 500.0]))]
    pub radius_m: f64,
    /// How much stronger: 1 doubles them.
    #[schemars(range(min = 0, max = 10), extend("x-slider" = [0.0, 2.0]))]
    pub strength: f64,
}

impl Default for Sharpen {
    fn default() -> Self {
        Self {
            radius_m: 100.0,
            strength: 0.5,
        }
    }
}

impl Kind for Sharpen {
    fn margin(&self, cell_m: f64) -> usize {
        near_blur_margin(self.radius_m, cell_m)
    }

    fn blurs_m(&self) -> f64 {
        self.radius_m
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let soft = site.blurred_below(self.radius_m, 0)?;
        let strength = self.strength as f32;
        Ok(site
            .below_here()
            .zip_map(&soft, |height, soft| height + strength * (height - soft))
            .into())
    }
}
