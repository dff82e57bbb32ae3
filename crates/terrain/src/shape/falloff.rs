//! Letting the land sink away towards the border.

use crate::noise::FractalNoise;
use crate::smooth::smooth;
use crate::{Cancelled, Extent, Frame, Grid, Run};

/// Which borders the land sinks towards.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "FallOffOutline")
)]
pub enum Outline {
    /// All four sides.
    #[default]
    Frame,
    /// West and east.
    WestEast,
    /// North and south.
    NorthSouth,
    /// An oval that touches all four sides.
    Oval,
}

/// How much of the land is left, from 1 inside to 0 at the border, with an
/// outline broken up by noise: a plain one looks artificial (common practice).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FallOff {
    /// Which borders.
    pub outline: Outline,
    /// Over what distance the land sinks, metres.
    pub width_m: f64,
    /// How far the outline is moved in and out, metres.
    pub ragged_m: f64,
    /// Size of the largest bays and headlands, metres.
    pub ragged_feature_m: f64,
    /// Which of the endless outlines.
    pub seed: u32,
}

/// Layered noise hardly ever comes near its bounds; this brings most of it
/// into the range that is used, and the clamp takes care of the rest.
const NOISE_REACH: f64 = 1.1;

impl FallOff {
    /// The share of the land left in each cell of `frame`. Exactly 0 on and
    /// beyond the border, whatever the noise does. Local.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn weight(&self, extent: Extent, frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let ragged = FractalNoise {
            feature_m: self.ragged_feature_m,
            octaves: 6.0,
            gain: 0.55,
            seed: self.seed,
            ..FractalNoise::default()
        };
        let mut weight = ragged.fill(frame, run)?;
        weight.for_each_row(|r, row| {
            let y_m = frame.y_m(r);
            for (c, value) in row.iter_mut().enumerate() {
                let inside_m = self.outline.inside_m(extent, frame.x_m(c), y_m);
                // Noise only ever takes land away: none is left at the border.
                let bite = (0.5 + NOISE_REACH * f64::from(*value)).clamp(0.0, 1.0);
                let bite_m = self.ragged_m * bite;
                *value = smooth((inside_m - bite_m) / self.width_m) as f32;
            }
        });
        Ok(weight)
    }
}

impl Outline {
    /// Distance to the border, metres; negative outside.
    fn inside_m(self, extent: Extent, x_m: f64, y_m: f64) -> f64 {
        let across = x_m.min(extent.width_m - x_m);
        let along = y_m.min(extent.depth_m - y_m);
        match self {
            Outline::Frame => across.min(along),
            Outline::WestEast => across,
            Outline::NorthSouth => along,
            Outline::Oval => {
                let u = 2.0 * x_m / extent.width_m - 1.0;
                let v = 2.0 * y_m / extent.depth_m - 1.0;
                (1.0 - u.hypot(v)) * 0.5 * extent.width_m.min(extent.depth_m)
            }
        }
    }
}
