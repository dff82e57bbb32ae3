//! Pulling towards a point.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::Move;

use super::moves::Moves;

/// Pulls the land towards a point, or pushes it away.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Pull {
    /// The point, from the west edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "x"))]
    pub x_m: f64,
    /// The point, from the south edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "y"))]
    pub y_m: f64,
    /// Nothing beyond this moves.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0]))]
    pub radius_m: f64,
    /// How strongly: above 0 towards the point, below 0 away from it.
    #[schemars(range(min = -1, max = 1))]
    pub share: f64,
}

impl Default for Pull {
    fn default() -> Self {
        Self {
            x_m: 4000.0,
            y_m: 4000.0,
            radius_m: 3000.0,
            share: 0.5,
        }
    }
}

impl Moves for Pull {
    fn movement(&self) -> Move {
        Move::Pull {
            centre_m: (self.x_m, self.y_m),
            radius_m: self.radius_m,
            share: self.share,
        }
    }
}
