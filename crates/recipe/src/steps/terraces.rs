//! Land in steps.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::noise::{FractalNoise, hash};
use terrain::shape;

use super::{Kind, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Cuts the land into terraces: level treads and steep risers, even or not,
/// tilted by noise so that they do not look like contour lines.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Terraces {
    /// How the steps are given.
    pub by: TerracesBy,
    /// Height of a step.
    #[schemars(range(min = 0.01, max = 20_000), extend("x-unit" = "m", "x-slider" = [5.0, 400.0], "x-when" = ["by", "height"]))]
    pub step_m: f64,
    /// How many steps between the two levels.
    #[schemars(range(min = 1, max = 1000), extend("x-slider" = [2, 30], "x-when" = ["by", "count"]))]
    pub count: u32,
    /// The lowest step begins here.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 1500.0]))]
    pub low_m: f64,
    /// The highest one ends here.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0], "x-when" = ["by", "count"]))]
    pub high_m: f64,
    /// 0 leaves the slope as it is, 1 gives upright risers.
    #[schemars(range(min = 0, max = 1))]
    pub sharpness: f64,
    /// How much steps differ in height.
    #[schemars(range(min = 0, max = 1))]
    pub unevenness: f64,
    /// How far steps are raised and lowered from place to place.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 300.0]))]
    pub tilt_m: f64,
    /// Size of those swings.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0]))]
    pub tilt_feature_m: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

/// How the steps are given.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum TerracesBy {
    /// By the height of one.
    #[default]
    Height,
    /// By how many there are between two levels.
    Count,
}

impl Default for Terraces {
    fn default() -> Self {
        Self {
            by: TerracesBy::Height,
            step_m: 80.0,
            count: 8,
            low_m: 0.0,
            high_m: 1000.0,
            sharpness: 0.6,
            unevenness: 0.5,
            tilt_m: 60.0,
            tilt_feature_m: 2500.0,
            seed: 1,
        }
    }
}

impl Kind for Terraces {
    fn check(&self) -> Result<(), Unfit> {
        match self.by == TerracesBy::Height || self.low_m < self.high_m {
            true => Ok(()),
            false => {
                let reason = format!("it must be below ‘high_m’, which is {}", self.high_m);
                Err(("low_m", self.low_m.to_string(), reason))
            }
        }
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let step_m = match self.by {
            TerracesBy::Height => self.step_m,
            TerracesBy::Count => (self.high_m - self.low_m) / f64::from(self.count),
        };
        let terraces = shape::Terraces {
            step_m: step_m as f32,
            sharpness: self.sharpness as f32,
            unevenness: self.unevenness as f32,
            seed: self.seed,
        };
        let tilt = FractalNoise {
            feature_m: self.tilt_feature_m,
            octaves: 4.0,
            seed: hash(0, 1, self.seed),
            ..FractalNoise::default()
        };
        let tilt = tilt.fill(site.frame(), site.run())?;
        let (low, tilt_m) = (self.low_m as f32, self.tilt_m as f32);
        let top = match self.by {
            TerracesBy::Height => f32::INFINITY,
            TerracesBy::Count => self.high_m as f32,
        };
        Ok(site
            .below_here()
            .zip_map(&tilt, |height, tilt| {
                let lift = low + tilt_m * tilt;
                match height >= lift && height < top + tilt_m * tilt {
                    true => lift + terraces.at(height - lift),
                    false => height,
                }
            })
            .into())
    }
}
