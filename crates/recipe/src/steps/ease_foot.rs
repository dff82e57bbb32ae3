//! The foot of a shape, eased into the plain.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::ease_foot;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Eases only the foot of a shape, so that it sits in the land and does not
/// stand on it: slopes begin gently at a level and go over into the flank.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct EaseFoot {
    /// The level that the foot comes from.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 1500.0]))]
    pub level_m: f64,
    /// How far up it is eased.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 600.0]))]
    pub reach_m: f64,
}

impl Default for EaseFoot {
    fn default() -> Self {
        Self {
            level_m: 0.0,
            reach_m: 150.0,
        }
    }
}

impl Kind for EaseFoot {
    fn example(self) -> Option<Self> {
        Some(Self {
            level_m: 200.0,
            reach_m: 600.0,
        })
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (level, reach) = (self.level_m as f32, self.reach_m as f32);
        Ok(site
            .below_here()
            .map(|height| match height > level {
                true => ease_foot(height, level, reach),
                false => height,
            })
            .into())
    }
}
