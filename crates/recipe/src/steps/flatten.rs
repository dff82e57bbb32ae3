//! Gentle ground made level.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::mask::smooth;
use terrain::reading::slope_deg;
use terrain::shape::near_blur_margin;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Levels what is gentle already and leaves what is steep: valley floors and
/// terraces become clean, with a soft transition.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Flatten {
    /// Ground up to this slope is levelled in full.
    #[schemars(range(min = 0, max = 89), extend("x-unit" = "°", "x-slider" = [0.0, 30.0]))]
    pub slope_deg: f64,
    /// Over how many degrees more it is levelled less and less.
    #[schemars(range(min = 0.01, max = 89), extend("x-unit" = "°", "x-slider" = [1.0, 20.0]))]
    pub soft_deg: f64,
    /// Forms smaller than this go.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [10.0, 500.0]))]
    pub radius_m: f64,
}

impl Default for Flatten {
    fn default() -> Self {
        Self {
            slope_deg: 5.0,
            soft_deg: 5.0,
            radius_m: 60.0,
        }
    }
}

impl Kind for Flatten {
    fn example(self) -> Option<Self> {
        Some(Self {
            slope_deg: 14.0,
            radius_m: 150.0,
            ..self
        })
    }

    fn margin(&self, cell_m: f64) -> usize {
        // One more for the slope of the smoothed land.
        near_blur_margin(self.radius_m, cell_m) + 1
    }

    fn blurs_m(&self) -> f64 {
        self.radius_m
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let frame = site.frame();
        let near = site.blurred_below(self.radius_m, 1)?;
        // The slope of the land at large: small bumps do not make a flat steep.
        let slope = slope_deg(&near, frame.cell_m);
        let level = near.cropped(1, 1, frame.cols, frame.rows);
        let (full, soft) = (self.slope_deg as f32, self.soft_deg as f32);
        let below = site.below_here();
        let change = level.zip_map(&below, |level, height| level - height);
        let change = change.zip_map(&slope, |change, slope| {
            change * (1.0 - smooth((slope - full) / soft))
        });
        Ok(below
            .zip_map(&change, |height, change| height + change)
            .into())
    }
}
