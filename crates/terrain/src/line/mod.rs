//! Lines and outlines on the land, in metres: x east of the west edge, y north of the
//! south edge.

mod course;
mod index;
mod polygon;
mod segment;

pub use course::{Along, Course, CoursePoint, Drawn};
pub use glam::DVec2;
pub use index::{LineIndex, Nearest};
pub use polygon::{Polygon, TooFewPoints};
pub use segment::{OnSegment, nearest_on_segment};

/// A point of a line, with a value that is interpolated along it.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct LinePoint {
    /// Where it is, metres.
    pub at: DVec2,
    /// Anything, such as a width, the pressure of a pen, or the land that drains
    /// through the place.
    pub value: f64,
}

/// A course through points.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Polyline {
    /// How much it counts among its like: of a river Strahler's (1957) order, which
    /// is 1 without tributaries.
    pub rank: u8,
    /// At least one point; of rivers, downstream.
    pub points: Vec<LinePoint>,
}

impl LinePoint {
    /// A point without a value.
    pub fn plain(x_m: f64, y_m: f64) -> Self {
        Self {
            at: DVec2::new(x_m, y_m),
            value: 0.0,
        }
    }
}

impl Polyline {
    /// The segments of it; of a single point one without length.
    pub fn segments(&self) -> impl Iterator<Item = [LinePoint; 2]> {
        let alone = match self.points[..] {
            [point] => Some([point, point]),
            _ => None,
        };
        let pairs = self.points.windows(2).map(|pair| [pair[0], pair[1]]);
        alone.into_iter().chain(pairs)
    }
}

impl FromIterator<LinePoint> for Polyline {
    fn from_iter<T: IntoIterator<Item = LinePoint>>(points: T) -> Self {
        Self {
            rank: 0,
            points: points.into_iter().collect(),
        }
    }
}
