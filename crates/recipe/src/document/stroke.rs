//! Strokes of a brush, in metres.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::hand::Brush;
use terrain::line::{DVec2, LinePoint, Polyline};
use terrain::mask::Coat;

/// One stroke of a brush. It is kept as it was drawn, in metres, and holds at
/// any resolution.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Stroke {
    /// Its course: metres east, metres north, and how hard the pen was
    /// pressed, 0 to 1.
    #[schemars(length(min = 1, max = 20_000), inner(inner(range(min = -10_000_000, max = 10_000_000))))]
    pub points: Vec<[f64; 3]>,
    /// Diameter of the brush.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m"))]
    pub size_m: f64,
    /// How much one stroke adds where it is full.
    #[schemars(range(min = 0, max = 1))]
    pub strength: f64,
    /// Share of the brush's radius over which it fades.
    #[schemars(range(min = 0, max = 1))]
    pub softness: f64,
    /// Takes away instead of adding.
    #[serde(default)]
    pub erase: bool,
}

impl From<&Stroke> for Coat {
    fn from(stroke: &Stroke) -> Self {
        Self {
            brush: Brush {
                courses: vec![course(&stroke.points)],
                radius_m: 0.5 * stroke.size_m,
                strength: stroke.strength,
                softness: stroke.softness,
                pressed_wider: false,
                pressed_stronger: true,
                builds_up: false,
            },
            erase: stroke.erase,
        }
    }
}

/// A course through places with the pressure at each.
pub(super) fn course(points: &[[f64; 3]]) -> Polyline {
    let points = points.iter().map(|&[x_m, y_m, pressure]| LinePoint {
        at: DVec2::new(x_m, y_m),
        value: pressure,
    });
    points.collect()
}
