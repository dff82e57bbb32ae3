//! A point that a drawn course goes through.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::line::{CoursePoint, DVec2};

/// A point that a drawn course goes through.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct DrawnPoint {
    /// From the west edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m"))]
    pub x_m: f64,
    /// From the south edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m"))]
    pub y_m: f64,
    /// How wide it is here, against the course's width.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    #[schemars(range(min = 0, max = 100))]
    pub wide: f64,
    /// How high or deep it is here, against the course's height.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    #[schemars(range(min = 0, max = 100))]
    pub high: f64,
    /// How steep its walls or banks are here, against the course's.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    #[schemars(range(min = 0.01, max = 100))]
    pub steep: f64,
}

fn one() -> f64 {
    1.0
}

fn is_one(value: &f64) -> bool {
    *value == one()
}

impl From<DrawnPoint> for CoursePoint {
    fn from(point: DrawnPoint) -> Self {
        Self {
            at: DVec2::new(point.x_m, point.y_m),
            wide: point.wide,
            high: point.high,
            steep: point.steep,
        }
    }
}
