//! High and low exchanged.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Turns the land upside down about a level: valleys become ridges.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Invert {
    /// What stands at this level stays.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 1500.0]))]
    pub about_m: f64,
}

impl Default for Invert {
    fn default() -> Self {
        Self { about_m: 300.0 }
    }
}

impl Kind for Invert {
    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let twice = 2.0 * self.about_m as f32;
        Ok(site.below_here().map(|height| twice - height).into())
    }
}
