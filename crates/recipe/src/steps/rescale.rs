//! One range of heights onto another.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Kind, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Stretches or flattens heights: what was at one pair of levels comes to
/// another. Given levels, not the land's own lowest and highest, so that the
/// result is the same at any resolution.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Rescale {
    /// This height …
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 2500.0]))]
    pub from_low_m: f64,
    /// … and this one …
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 2500.0]))]
    pub from_high_m: f64,
    /// … come to here …
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 2500.0]))]
    pub to_low_m: f64,
    /// … and here.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 2500.0]))]
    pub to_high_m: f64,
    /// Cut off what lies beyond the two levels.
    pub clip: bool,
}

impl Default for Rescale {
    fn default() -> Self {
        Self {
            from_low_m: 0.0,
            from_high_m: 1000.0,
            to_low_m: 0.0,
            to_high_m: 1000.0,
            clip: false,
        }
    }
}

impl Kind for Rescale {
    fn example(self) -> Option<Self> {
        Some(Self {
            to_high_m: 450.0,
            ..self
        })
    }

    fn check(&self) -> Result<(), Unfit> {
        match self.from_low_m == self.from_high_m {
            true => Err((
                "from_high_m",
                self.from_high_m.to_string(),
                "it must differ from ‘from_low_m’".to_owned(),
            )),
            false => Ok(()),
        }
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let scale = (self.to_high_m - self.to_low_m) / (self.from_high_m - self.from_low_m);
        let (scale, from, to) = (scale as f32, self.from_low_m as f32, self.to_low_m as f32);
        let ends = (self.to_low_m as f32, self.to_high_m as f32);
        let (low, high) = (ends.0.min(ends.1), ends.0.max(ends.1));
        let clip = self.clip;
        Ok(site
            .below_here()
            .map(|height| {
                let scaled = to + (height - from) * scale;
                if clip {
                    scaled.clamp(low, high)
                } else {
                    scaled
                }
            })
            .into())
    }
}
