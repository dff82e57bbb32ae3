//! Turning about a point.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::Move;

use super::moves::Moves;

/// Turns the land about a point, most in the middle.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Twirl {
    /// The point, from the west edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "x"))]
    pub x_m: f64,
    /// The point, from the south edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "y"))]
    pub y_m: f64,
    /// Nothing beyond this moves.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0]))]
    pub radius_m: f64,
    /// How far the middle turns, clockwise.
    #[schemars(range(min = -3600, max = 3600), extend("x-unit" = "°", "x-slider" = [-360.0, 360.0]))]
    pub angle_deg: f64,
}

impl Default for Twirl {
    fn default() -> Self {
        Self {
            x_m: 4000.0,
            y_m: 4000.0,
            radius_m: 3000.0,
            angle_deg: 120.0,
        }
    }
}

impl Moves for Twirl {
    fn movement(&self) -> Move {
        Move::Twirl {
            centre_m: (self.x_m, self.y_m),
            radius_m: self.radius_m,
            angle_deg: self.angle_deg,
        }
    }
}
