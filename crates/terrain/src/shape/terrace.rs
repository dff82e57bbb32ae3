//! Heights in steps.

use crate::noise::{hash, unit};

/// Steps of a given height, even or not, with soft or sharp edges.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Terraces {
    /// Mean height of a step, metres; above 0.
    pub step_m: f32,
    /// 0 leaves the slope as it is, 1 gives level treads and upright risers.
    pub sharpness: f32,
    /// How much the steps differ in height, 0 to 1.
    pub unevenness: f32,
    /// Which of the endless variants of uneven steps.
    pub seed: u32,
}

/// Uneven levels keep this share of a step's height between them.
const LEAST_GAP: f32 = 0.1;
/// Exponent of the riser at full sharpness.
const SHARPEST: f32 = 24.0;

impl Terraces {
    fn level(&self, k: i32) -> f32 {
        let off = unit(hash(k, 0, self.seed)) - 0.5;
        (k as f32 + off * self.unevenness * (1.0 - LEAST_GAP)) * self.step_m
    }

    /// What `height` becomes. Rises with height, and never moves a height
    /// across a level.
    pub fn at(&self, height: f32) -> f32 {
        let near = (height / self.step_m).floor() as i32;
        // An uneven level may have moved past the height.
        let mut k = near.saturating_sub(1);
        while k < near.saturating_add(1) && self.level(k + 1) <= height {
            k += 1;
        }
        let (low, high) = (self.level(k), self.level(k + 1));
        let t = ((height - low) / (high - low)).clamp(0.0, 1.0);
        let exponent = 1.0 + self.sharpness * self.sharpness * (SHARPEST - 1.0);
        low + (high - low) * t.powf(exponent)
    }
}
