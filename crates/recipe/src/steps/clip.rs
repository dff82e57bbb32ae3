//! Heights cut off.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::{smooth_highest, smooth_lowest};

use super::{Kind, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Cuts off what is below one level or above another, with an edge as soft as
/// wanted.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Clip {
    /// Nothing is lower than this.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 1500.0]))]
    pub low_m: f64,
    /// Nothing is higher than this.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0]))]
    pub high_m: f64,
    /// Over how much the cut is rounded off.
    #[schemars(range(min = 0, max = 10_000), extend("x-unit" = "m", "x-slider" = [0.0, 400.0]))]
    pub soft_m: f64,
}

impl Default for Clip {
    fn default() -> Self {
        Self {
            low_m: 0.0,
            high_m: 2000.0,
            soft_m: 0.0,
        }
    }
}

impl Kind for Clip {
    fn example(self) -> Option<Self> {
        Some(Self {
            high_m: 620.0,
            ..self
        })
    }

    fn check(&self) -> Result<(), Unfit> {
        match self.low_m <= self.high_m {
            true => Ok(()),
            false => {
                let reason = format!("it must not be above ‘high_m’, which is {}", self.high_m);
                Err(("low_m", self.low_m.to_string(), reason))
            }
        }
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (low, high, soft) = (self.low_m as f32, self.high_m as f32, self.soft_m as f32);
        Ok(site
            .below_here()
            .map(|height| smooth_highest(smooth_lowest(height, high, soft), low, soft))
            .into())
    }
}
