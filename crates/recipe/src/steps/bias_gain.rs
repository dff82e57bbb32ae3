//! Heights bent without a drawn curve.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::{bias, gain};

use super::{Kind, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Bends heights between two levels: bias makes more high or more low ground,
/// gain steepens or flattens the middle (Schlick 1994). Beyond the levels
/// nothing changes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct BiasGain {
    /// Below ½ more low ground, above ½ more high ground.
    #[schemars(range(min = 0.01, max = 0.99))]
    pub bias: f64,
    /// Below ½ flats at both ends and a steep middle, above ½ a flat middle.
    #[schemars(range(min = 0.01, max = 0.99))]
    pub gain: f64,
    /// Bends between this level …
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 2500.0]))]
    pub low_m: f64,
    /// … and this one.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 2500.0]))]
    pub high_m: f64,
}

impl Default for BiasGain {
    fn default() -> Self {
        Self {
            bias: 0.35,
            gain: 0.5,
            low_m: 0.0,
            high_m: 1000.0,
        }
    }
}

impl Kind for BiasGain {
    fn check(&self) -> Result<(), Unfit> {
        match self.low_m < self.high_m {
            true => Ok(()),
            false => {
                let reason = format!("it must be below ‘high_m’, which is {}", self.high_m);
                Err(("low_m", self.low_m.to_string(), reason))
            }
        }
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (low, span) = (self.low_m as f32, (self.high_m - self.low_m) as f32);
        let (by_bias, by_gain) = (self.bias as f32, self.gain as f32);
        Ok(site
            .below_here()
            .map(|height| {
                let t = (height - low) / span;
                match (0.0..=1.0).contains(&t) {
                    true => low + span * gain(bias(t, by_bias), by_gain),
                    false => height,
                }
            })
            .into())
    }
}
