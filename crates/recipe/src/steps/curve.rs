//! A response curve over heights.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape;

use super::{Kind, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Bends heights along a curve: flat valley floors, steep walls, plateaus.
/// The curve goes smoothly through its points and never swings beyond them.
/// Heights outside the first and last point keep their distance to them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Curve {
    /// Height before and after, from low to high.
    #[schemars(length(min = 2, max = 64), extend("x-editor" = "curve"))]
    pub points: Vec<CurvePoint>,
}

/// What one height becomes.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CurvePoint {
    /// A height before.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m"))]
    pub before_m: f32,
    /// The same place after.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m"))]
    pub after_m: f32,
}

impl Default for Curve {
    fn default() -> Self {
        let point = |before_m, after_m| CurvePoint { before_m, after_m };
        Self {
            points: vec![point(0.0, 0.0), point(500.0, 500.0), point(1000.0, 1000.0)],
        }
    }
}

impl Curve {
    fn curve(&self) -> Result<shape::Curve, shape::CurveError> {
        let points: Vec<(f32, f32)> = self
            .points
            .iter()
            .map(|point| (point.before_m, point.after_m))
            .collect();
        shape::Curve::through(&points)
    }
}

impl Kind for Curve {
    fn example(self) -> Option<Self> {
        let bent = [(0.0, 0.0), (350.0, 60.0), (560.0, 640.0), (1000.0, 860.0)];
        let point = |(before_m, after_m)| CurvePoint { before_m, after_m };
        Some(Self {
            points: bent.map(point).to_vec(),
        })
    }

    fn check(&self) -> Result<(), Unfit> {
        /// More points than anyone sets by hand.
        const MOST: usize = 64;
        if self.points.len() > MOST {
            let reason = format!("a curve has at most {MOST} points");
            return Err(("points", self.points.len().to_string(), reason));
        }
        self.curve().map(drop).map_err(|error| {
            (
                "points",
                format!("{} points", self.points.len()),
                error.to_string(),
            )
        })
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let Ok(curve) = self.curve() else {
            // Checked with the document; an unchecked one bends nothing.
            return Ok(site.below_here().into());
        };
        let (first, last) = (self.points[0], self.points[self.points.len() - 1]);
        Ok(site
            .below_here()
            .map(|height| {
                let beyond = (height - last.before_m).max(0.0) + (height - first.before_m).min(0.0);
                curve.at(height) + beyond
            })
            .into())
    }
}
