//! Strokes of the hand on the land, in metres.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::hand::{Brush, Deed, Level, Stroke};
use terrain::line::{DVec2, LinePoint, Polyline};
use terrain::mask::Range;

use super::stroke::course;

/// One stroke on the land. It is kept in metres, and is the same at any resolution.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct HandStroke {
    /// What it does.
    #[serde(rename = "do")]
    pub deed: HandDeed,
    /// Its course: metres east, metres north, and how hard the pen was
    /// pressed, 0 to 1.
    #[schemars(length(min = 1, max = 20_000), inner(inner(range(min = -10_000_000, max = 10_000_000))))]
    pub points: Vec<[f64; 3]>,
    /// Diameter of the brush.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m"))]
    pub size_m: f64,
    /// How much one stroke does where it is full.
    #[schemars(range(min = 0, max = 1))]
    pub strength: f64,
    /// Share of the brush's radius over which it fades.
    #[schemars(range(min = 0, max = 1))]
    pub softness: f64,
    /// What a pen does that is pressed harder.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub pressure: PenPressure,
    /// It does more wherever it comes by again.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub builds_up: bool,
    /// Only land of such heights is worked on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub between: Option<HeightBand>,
    /// Where else the stroke is made.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mirror: Option<Mirror>,
}

fn is_usual<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}

/// What a stroke on the land does.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum HandDeed {
    /// Raises the land.
    Raise {
        /// Where the brush is full.
        #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m"))]
        by_m: f64,
    },
    /// Lowers the land.
    Lower {
        /// Where the brush is full.
        #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m"))]
        by_m: f64,
    },
    /// Evens it out.
    Smooth {},
    /// Brings out crests and creases.
    Sharpen {},
    /// Makes it level.
    Flatten {
        /// With what.
        #[serde(default)]
        to: FlattenTo,
        /// The height, where it is a given one.
        #[serde(default, skip_serializing_if = "is_usual")]
        #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m"))]
        height_m: f64,
    },
    /// Lays noise on it.
    Roughen {
        /// From the lowest to the highest of it.
        #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m"))]
        by_m: f64,
        /// Size of its largest forms.
        #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m"))]
        feature_m: f64,
        /// Random seed.
        #[serde(default)]
        seed: u32,
    },
    /// Lets what is steep fall and rounds the rest, as years would.
    Weather {},
    /// Drags the land along.
    Push {},
    /// Brings back what was there before the first stroke.
    PaintBack {},
}

/// What a stroke makes the land level with.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum FlattenTo {
    /// The land where the stroke began.
    #[default]
    Began,
    /// A given height.
    Height,
    /// The plane that lies best in the land under the stroke.
    Plane,
}

/// What a pen does that is pressed harder.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum PenPressure {
    /// The brush is stronger.
    #[default]
    Strength,
    /// The brush is wider.
    Size,
    /// The brush is wider and stronger.
    Both,
    /// Nothing.
    Nothing,
}

/// Heights between which a stroke works.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct HeightBand {
    /// From here on.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m"))]
    pub from_m: f64,
    /// Up to here.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m"))]
    pub to_m: f64,
    /// Over how much it fades beyond both.
    #[serde(default)]
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m"))]
    pub soft_m: f64,
}

/// Where else a stroke is made.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum Mirror {
    /// On the other side of a line through a place.
    Line {
        /// From the west edge.
        #[schemars(range(min = -10_000_000, max = 10_000_000), extend("x-unit" = "m"))]
        x_m: f64,
        /// From the south edge.
        #[schemars(range(min = -10_000_000, max = 10_000_000), extend("x-unit" = "m"))]
        y_m: f64,
        /// Compass bearing of the line.
        #[schemars(range(min = 0, max = 360), extend("x-unit" = "°"))]
        bearing_deg: f64,
    },
    /// Turned about a place.
    Point {
        /// From the west edge.
        #[schemars(range(min = -10_000_000, max = 10_000_000), extend("x-unit" = "m"))]
        x_m: f64,
        /// From the south edge.
        #[schemars(range(min = -10_000_000, max = 10_000_000), extend("x-unit" = "m"))]
        y_m: f64,
        /// So many times in all.
        #[schemars(range(min = 2, max = 32))]
        times: u32,
    },
}

impl Mirror {
    /// The course, and its images.
    fn images(&self, course: Polyline) -> Vec<Polyline> {
        let moved = |turn: &dyn Fn(DVec2) -> DVec2| {
            let points = course.points.iter().map(|point| LinePoint {
                at: turn(point.at),
                ..*point
            });
            points.collect::<Polyline>()
        };
        let images: Vec<Polyline> = match *self {
            Mirror::Line {
                x_m,
                y_m,
                bearing_deg,
            } => {
                let on = DVec2::new(x_m, y_m);
                let (east, north) = bearing_deg.to_radians().sin_cos();
                let along = DVec2::new(east, north);
                vec![moved(&|at| {
                    let away = at - on;
                    on + 2.0 * away.dot(along) * along - away
                })]
            }
            Mirror::Point { x_m, y_m, times } => {
                let around = DVec2::new(x_m, y_m);
                let turns = (1..times).map(|turn| {
                    let angle = std::f64::consts::TAU * f64::from(turn) / f64::from(times);
                    let turned = DVec2::from_angle(angle);
                    moved(&|at| around + turned.rotate(at - around))
                });
                turns.collect()
            }
        };
        std::iter::once(course).chain(images).collect()
    }
}

impl From<HandDeed> for Deed {
    fn from(deed: HandDeed) -> Self {
        match deed {
            HandDeed::Raise { by_m } => Deed::Raise { by_m },
            HandDeed::Lower { by_m } => Deed::Raise { by_m: -by_m },
            HandDeed::Smooth {} => Deed::Smooth,
            HandDeed::Sharpen {} => Deed::Sharpen,
            HandDeed::Flatten { to, height_m } => Deed::Flatten(match to {
                FlattenTo::Began => Level::Began,
                FlattenTo::Height => Level::Height(height_m),
                FlattenTo::Plane => Level::Plane,
            }),
            HandDeed::Roughen {
                by_m,
                feature_m,
                seed,
            } => Deed::Roughen {
                by_m,
                feature_m,
                seed,
            },
            HandDeed::Weather {} => Deed::Weather,
            HandDeed::Push {} => Deed::Push,
            HandDeed::PaintBack {} => Deed::PaintBack,
        }
    }
}

impl From<&HandStroke> for Stroke {
    fn from(stroke: &HandStroke) -> Self {
        let drawn = course(&stroke.points);
        let pressed = stroke.pressure;
        Self {
            brush: Brush {
                courses: match stroke.mirror {
                    None => vec![drawn],
                    Some(mirror) => mirror.images(drawn),
                },
                radius_m: 0.5 * stroke.size_m,
                strength: stroke.strength,
                softness: stroke.softness,
                pressed_wider: matches!(pressed, PenPressure::Size | PenPressure::Both),
                pressed_stronger: matches!(pressed, PenPressure::Strength | PenPressure::Both),
                builds_up: stroke.builds_up,
            },
            deed: stroke.deed.into(),
            only: stroke.between.map(|band| Range {
                from: Some(band.from_m as f32),
                to: Some(band.to_m as f32),
                soft_from: band.soft_m as f32,
                soft_to: band.soft_m as f32,
            }),
        }
    }
}
