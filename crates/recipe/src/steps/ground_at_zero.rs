//! The lowest point at zero.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Frame;

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Raises or lowers the whole land so that its lowest point is at a given
/// level. The lowest point is looked for on a grid of 256 cells, whatever the
/// resolution asked for, so that the land stands equally high at any; finer
/// detail may go a little below.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct GroundAtZero {
    /// Where the lowest point comes to.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-500.0, 500.0]))]
    pub level_m: f64,
}

/// Cells along the longer side on which the lowest point is looked for.
const LOOKED_AT: usize = 256;

impl Kind for GroundAtZero {
    /// That the land is lifted is seen by its coast.
    fn example_sea_m() -> f64 {
        260.0
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let looked_at = Frame::with_cells(site.extent(), LOOKED_AT);
        let (lowest, _) = site.below_on(&looked_at)?.range();
        let lift = self.level_m as f32 - lowest;
        Ok(site.below_here().map(|height| height + lift).into())
    }
}
