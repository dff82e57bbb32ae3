//! Cutting the land to a drawn outline.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::line::{DVec2, Polygon, TooFewPoints};
use terrain::mask::smooth;
use terrain::noise::FractalNoise;

use super::{Kind, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Keeps the land inside a drawn outline and lets it sink outside, with an
/// edge broken up by noise.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Cut {
    /// The outline's corners, in order.
    #[schemars(length(min = 3, max = 256), extend("x-editor" = "outline"))]
    pub points: Vec<OutlinePoint>,
    /// Over what distance the land sinks, inwards from the outline.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [10.0, 3000.0]))]
    pub width_m: f64,
    /// How far the outline is moved in and out.
    #[schemars(range(min = 0, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 2000.0]))]
    pub ragged_m: f64,
    /// Size of the largest bays and headlands.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 6000.0]))]
    pub ragged_feature_m: f64,
    /// What the land sinks to.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-300.0, 300.0]))]
    pub level_m: f64,
    /// Keep what is outside, and let the inside sink.
    #[schemars(extend("x-more" = true))]
    pub outside: bool,
    /// Which of the endless edges.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

/// A corner of an outline.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct OutlinePoint {
    /// From the west edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m"))]
    pub x_m: f64,
    /// From the south edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m"))]
    pub y_m: f64,
}

impl Default for Cut {
    fn default() -> Self {
        let point = |x_m, y_m| OutlinePoint { x_m, y_m };
        Self {
            points: vec![
                point(1500.0, 1500.0),
                point(6500.0, 1200.0),
                point(7000.0, 5000.0),
                point(4200.0, 6800.0),
                point(1200.0, 5600.0),
            ],
            width_m: 600.0,
            ragged_m: 500.0,
            ragged_feature_m: 1600.0,
            level_m: -60.0,
            outside: false,
            seed: 1,
        }
    }
}

impl Cut {
    fn polygon(&self) -> Result<Polygon, TooFewPoints> {
        let points = self
            .points
            .iter()
            .map(|point| DVec2::new(point.x_m, point.y_m));
        Polygon::through(points.collect())
    }
}

impl Kind for Cut {
    fn check(&self) -> Result<(), Unfit> {
        /// More corners than anyone draws by hand.
        const MOST: usize = 256;
        let got = self.points.len();
        if got > MOST {
            let reason = format!("an outline has at most {MOST} points");
            return Err(("points", format!("{got} points"), reason));
        }
        self.polygon()
            .map(drop)
            .map_err(|error| ("points", format!("{got} points"), error.to_string()))
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let below = site.below_here();
        let Ok(polygon) = self.polygon() else {
            // Checked with the document; an unchecked one cuts nothing.
            return Ok(below.into());
        };
        let ragged = FractalNoise {
            feature_m: self.ragged_feature_m,
            octaves: 7.0,
            gain: 0.55,
            seed: self.seed,
            ..FractalNoise::default()
        };
        let inside = polygon.fill(site.frame(), site.run())?;
        let ragged = ragged.fill(site.frame(), site.run())?;
        let (width, reach) = (self.width_m as f32, self.ragged_m as f32);
        let side = if self.outside { -1.0 } else { 1.0 };
        let left = inside.zip_map(&ragged, |inside, ragged| {
            smooth((side * inside + reach * ragged) / width)
        });
        let level = self.level_m as f32;
        Ok(below
            .zip_map(&left, |height, left| level + left * (height - level))
            .into())
    }
}
