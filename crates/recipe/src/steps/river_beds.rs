//! Beds along rivers.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Grid;
use terrain::line::{DVec2, LineIndex, Polyline};
use terrain::mask::smooth;

use super::products::RIVERS;
use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Cuts beds along the rivers that a river network before it has found, wider
/// and deeper as more land drains through them. Without such a step before it
/// does nothing.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct RiverBeds {
    /// Width of a river that drains 10 km².
    #[schemars(range(min = 0.01, max = 100_000), extend("x-unit" = "m", "x-slider" = [2.0, 200.0], "x-scale" = "log"))]
    pub width_m: f64,
    /// Depth of a river that drains 10 km².
    #[schemars(range(min = 0, max = 10_000), extend("x-unit" = "m", "x-slider" = [0.0, 30.0]))]
    pub depth_m: f64,
    /// Width of each bank, as a share of the river's width.
    #[schemars(range(min = 0, max = 20), extend("x-slider" = [0.0, 4.0]))]
    pub banks: f64,
    /// Only rivers of this order and higher: 1 has no tributaries.
    #[schemars(range(min = 1, max = 12), extend("x-slider" = [1, 6]))]
    pub least_order: u8,
    /// How much faster wider rivers drain more land: exponent of the area.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub widening: f64,
}

impl Default for RiverBeds {
    fn default() -> Self {
        Self {
            width_m: 40.0,
            depth_m: 6.0,
            banks: 1.0,
            least_order: 1,
            widening: 0.45,
        }
    }
}

impl RiverBeds {
    /// The area that width and depth are given for.
    const AREA_M2: f64 = 1e7;

    /// Width and depth as shares of those of the river that they are given
    /// for. Both grow with discharge, width with its root and depth a little
    /// slower (Leopold and Maddock 1953: exponents 0.5 and 0.4).
    fn size(&self, area_m2: f64) -> (f64, f64) {
        const DEPTH_TO_WIDTH: f64 = 0.4 / 0.5;
        let wide = (area_m2 / Self::AREA_M2).powf(self.widening);
        (wide, wide.powf(DEPTH_TO_WIDTH))
    }

    /// How much is cut beside a river, metres.
    fn cut_m(&self, distance_m: f64, area_m2: f64) -> f32 {
        let (wide, deep) = self.size(area_m2);
        let half = 0.5 * self.width_m * wide;
        let bank = self.banks * 2.0 * half;
        let beyond = (distance_m - half) / bank.max(1e-6);
        let full = self.depth_m * deep;
        // Three quarters down the banks, the rest within the water's width.
        let bed = 0.25 * (1.0 - (distance_m / half.max(1e-6)).powi(2)).max(0.0);
        let banks = 0.75 * (1.0 - f64::from(smooth(beyond as f32)));
        (full * (bed + banks)) as f32
    }
}

/// The lines of at least some rank.
pub(crate) fn ranked(lines: &[Polyline], least: u8) -> LineIndex {
    LineIndex::over(lines.iter().filter(|line| line.rank >= least))
}

impl Kind for RiverBeds {
    fn example(self) -> Option<Self> {
        Some(Self {
            width_m: 260.0,
            depth_m: 90.0,
            ..self
        })
    }

    fn example_after() -> &'static [&'static str] {
        &["rivers"]
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let below = site.below_here();
        let rivers = site.products().lines(RIVERS);
        let frame = site.frame();
        let lines = ranked(rivers, self.least_order);
        let largest = rivers.iter().flat_map(|river| &river.points);
        let largest = largest.map(|point| point.value).fold(0.0, f64::max);
        let reach_m = self.width_m * self.size(largest).0 * (0.5 + self.banks);
        let cut = Grid::by_rows(frame.cols, frame.rows, |r, row| {
            for (c, cut) in row.iter_mut().enumerate() {
                let nearest = lines.nearest(DVec2::new(frame.x_m(c), frame.y_m(r)));
                let nearest = nearest.filter(|near| near.distance_m <= reach_m);
                *cut = nearest.map_or(0.0, |near| self.cut_m(near.distance_m, near.value));
            }
        });
        Ok(below.zip_map(&cut, |height, cut| height - cut).into())
    }
}
