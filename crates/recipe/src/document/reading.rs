//! Measures that masks take of the land.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::light::sight_margin;
use terrain::reading::{Bend, position_margin, roughness_margin};
use terrain::shape::{blur_halvings, blur_margin};

use super::{Product, Stroke};
use crate::grow::Size;

/// A measure taken of the land as it is where a mask is used.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum Reading {
    /// Height above the datum, metres.
    Height,
    /// Steepness, degrees.
    Slope,
    /// Angle between what the land faces and a bearing, degrees.
    Facing {
        /// The compass bearing.
        #[schemars(range(min = 0, max = 360), extend("x-unit" = "°"))]
        bearing_deg: f64,
    },
    /// How the land bends, per kilometre: above 0 on crests, below in hollows.
    Curvature {
        /// Which way it is measured.
        bend: Bend,
        /// Forms smaller than this are smoothed away first.
        #[schemars(range(min = 0, max = 5_000), extend("x-unit" = "m", "x-slider" = [0.0, 300.0]))]
        scale_m: f64,
    },
    /// Height above the land around, metres: above 0 on crests.
    Position {
        /// How far around.
        #[schemars(range(min = 0.1, max = 5_000), extend("x-unit" = "m", "x-slider" = [10.0, 600.0]))]
        scale_m: f64,
    },
    /// How uneven the land is, metres.
    Roughness {
        /// On which scale.
        #[schemars(range(min = 0.1, max = 2_000), extend("x-unit" = "m", "x-slider" = [10.0, 300.0]))]
        scale_m: f64,
    },
    /// How shut in a place is by the land around: 0 on a plain, to 1.
    Occlusion {
        /// How far land counts.
        #[schemars(range(min = 0.1, max = 5_000), extend("x-unit" = "m", "x-slider" = [20.0, 2_000.0]))]
        reach_m: f64,
    },
    /// How much sun falls on a place, 0 to 1, cast shadows included.
    Sunlight {
        /// Bearing of the sun.
        #[schemars(range(min = 0, max = 360), extend("x-unit" = "°"))]
        bearing_deg: f64,
        /// Its height above the horizon.
        #[schemars(range(min = 1, max = 90), extend("x-unit" = "°"))]
        altitude_deg: f64,
    },
    /// How much sun falls on a place through a day, as a share of the most
    /// that any could get.
    SunDay {
        /// Degrees north of the equator.
        #[schemars(range(min = -89, max = 89), extend("x-unit" = "°"))]
        latitude_deg: f64,
        /// Day of the year: 172 is midsummer in the north, 355 midwinter.
        #[schemars(range(min = 1, max = 365))]
        day: u32,
    },
    /// Land that drains through a place, in hectares, shared between ways (D∞).
    Area,
    /// Wetness index: the logarithm of the land that drains through each metre
    /// of contour over the slope. About 4 on dry crests to 15 on wet flats.
    Wetness,
    /// Distance to the sea or to standing water, metres.
    Water,
    /// Distance to where another mask holds, metres.
    Near {
        /// The mask's name.
        #[schemars(length(max = 200))]
        mask: String,
    },
    /// Metres east of the west edge.
    East,
    /// Metres north of the south edge.
    North,
    /// Distance to a point, metres.
    Point {
        /// Metres east.
        #[schemars(range(min = -10_000_000, max = 10_000_000))]
        x_m: f64,
        /// Metres north.
        #[schemars(range(min = -10_000_000, max = 10_000_000))]
        y_m: f64,
    },
    /// Distance to a drawn line, metres.
    Line {
        /// Its points.
        #[schemars(length(max = 20_000), inner(inner(range(min = -10_000_000, max = 10_000_000))))]
        points: Vec<[f64; 2]>,
    },
    /// Layered noise from −1 to 1, to break things up.
    Noise {
        /// Size of the largest patches.
        #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m"))]
        feature_m: f64,
        /// Random seed.
        seed: u32,
    },
    /// An imported picture over the whole land: 0 is black and 1 white, or the
    /// lowest and the highest value of a file in metres.
    Image {
        /// The imported file.
        #[schemars(length(max = 200))]
        asset: String,
        /// Which of its channels: 0 red or grey, 1 green, 2 blue, 3 alpha.
        #[serde(default, skip_serializing_if = "is_first")]
        #[schemars(range(min = 0, max = 3))]
        channel: u8,
        /// The channel as a share of itself and those before it: so that covers
        /// laid one over the other, the first channel lowest, come out with the
        /// weights of the picture.
        #[serde(default, skip_serializing_if = "is_false")]
        of_rest: bool,
    },
    /// What was painted by hand, 0 to 1.
    Painted {
        /// Strokes, the oldest first.
        #[schemars(length(max = 20_000))]
        strokes: Vec<Stroke>,
    },
    /// A mask that has a name, taken here, 0 to 1.
    Named {
        /// Its name.
        #[schemars(length(max = 200))]
        mask: String,
    },
    /// What a step left behind.
    Trace(Product),
    /// Depth of the sea, or of water that a step has left, metres; 0 on dry land.
    WaterDepth,
    /// Distance to the nearest river, metres.
    River {
        /// Only rivers of this order and higher: 1 has no tributaries.
        #[schemars(range(min = 1, max = 12))]
        least_order: u8,
    },
}

/// The cells on which masks and readings are taken.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Cells {
    /// Side of a cell, metres.
    pub(crate) cell_m: f64,
    /// The land's longer side, metres.
    pub(crate) land_m: f64,
}

impl Cells {
    /// How far is looked for what shuts out light: never farther than the land is
    /// long, or a small land would need a large one around it.
    pub(crate) fn within_land(self, reach_m: f64) -> f64 {
        reach_m.min(self.land_m)
    }
}

fn is_first(channel: &u8) -> bool {
    *channel == 0
}

fn is_false(value: &bool) -> bool {
    !*value
}

impl Reading {
    /// How far land casts shadows that sunlight is aware of, metres.
    pub(crate) const SHADOW_REACH_M: f64 = 3_000.0;

    /// Cells needed around the place that is read.
    pub(crate) fn margin(&self, on: Cells) -> usize {
        let cell_m = on.cell_m;
        if self.scale_halvings(cell_m) > 0 {
            return 0;
        }
        match self {
            Reading::Slope | Reading::Facing { .. } => 1,
            Reading::Curvature { scale_m, .. } => 1 + blur_margin(*scale_m, cell_m),
            Reading::Position { scale_m } => position_margin(*scale_m, cell_m),
            Reading::Roughness { scale_m } => roughness_margin(*scale_m, cell_m),
            Reading::Occlusion { reach_m } => sight_margin(on.within_land(*reach_m), cell_m),
            Reading::Sunlight { .. } | Reading::SunDay { .. } => {
                sight_margin(on.within_land(Self::SHADOW_REACH_M), cell_m)
            }
            _ => 0,
        }
    }

    /// How many times coarser by two the land is on which it is taken, for
    /// readings that smooth the land over many cells first.
    pub(crate) fn scale_halvings(&self, cell_m: f64) -> u32 {
        match self {
            Reading::Curvature { scale_m, .. }
            | Reading::Position { scale_m }
            | Reading::Roughness { scale_m } => blur_halvings(*scale_m, cell_m),
            _ => 0,
        }
    }

    /// How often it looks at each of `size` cells, about.
    pub(crate) fn passes(&self, size: Size) -> f64 {
        match self {
            // Sixteen bearings, and a look for each third that is farther.
            Reading::Occlusion { .. } => 150.0,
            Reading::Sunlight { .. } => 40.0,
            // The same for every hour of the day.
            Reading::SunDay { .. } => 24.0 * 40.0,
            Reading::Noise { .. } => 12.0,
            Reading::Line { .. } | Reading::River { .. } => 60.0,
            Reading::Painted { strokes } => {
                let looks = strokes.iter().map(|stroke| {
                    let radius = 0.5 * stroke.size_m / size.cell_m + 1.0;
                    // The cells that one segment may reach, and its row of looks.
                    let reached = (2.0 * radius).min(size.cols) * (2.0 * radius).min(size.rows);
                    stroke.points.len() as f64 * (reached + size.rows)
                });
                1.0 + looks.sum::<f64>() / size.cells()
            }
            _ => 2.0,
        }
    }

    /// Whether it depends on the land as a whole and not only on what is near.
    pub(crate) fn needs_whole(&self) -> bool {
        matches!(
            self,
            Reading::Area | Reading::Wetness | Reading::Water | Reading::Near { .. }
        )
    }

    /// Whether it goes from 0 to 1 as masks do, and is one without a range.
    pub(crate) fn is_share(&self) -> bool {
        matches!(
            self,
            Reading::Painted { .. }
                | Reading::Named { .. }
                | Reading::Image { .. }
                | Reading::Occlusion { .. }
                | Reading::Sunlight { .. }
                | Reading::SunDay { .. }
        )
    }

    /// The mask that it refers to by name.
    pub fn refers_to(&self) -> Option<&str> {
        match self {
            Reading::Named { mask } | Reading::Near { mask } => Some(mask),
            _ => None,
        }
    }

    /// The imported file that it reads.
    pub fn asset(&self) -> Option<&str> {
        match self {
            Reading::Image { asset, .. } if !asset.is_empty() => Some(asset),
            _ => None,
        }
    }
}
