//! How far it is to the nearest of many lines.

use glam::DVec2;
use rstar::{AABB, PointDistance, RTree, RTreeObject};

use super::{LinePoint, Polyline, nearest_on_segment};

/// The nearest place on a line.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Nearest {
    /// How far it is, metres.
    pub distance_m: f64,
    /// The value of the line there.
    pub value: f64,
}

/// Lines, sorted so that the nearest one is found fast, however far it is. Exact at
/// any place and the same for any window: nothing is drawn into cells.
#[derive(Clone, Debug)]
pub struct LineIndex {
    segments: RTree<Segment>,
}

#[derive(Clone, Copy, Debug, PartialEq)]
struct Segment([LinePoint; 2]);

impl RTreeObject for Segment {
    type Envelope = AABB<[f64; 2]>;

    fn envelope(&self) -> Self::Envelope {
        let [a, b] = self.0;
        AABB::from_corners(a.at.to_array(), b.at.to_array())
    }
}

impl PointDistance for Segment {
    fn distance_2(&self, place: &[f64; 2]) -> f64 {
        let [a, b] = self.0;
        nearest_on_segment(a.at, b.at, DVec2::from_array(*place)).distance2_m2
    }
}

impl LineIndex {
    /// Sorts `lines`.
    pub fn over<'l>(lines: impl IntoIterator<Item = &'l Polyline>) -> Self {
        let segments = lines.into_iter().flat_map(Polyline::segments);
        Self {
            segments: RTree::bulk_load(segments.map(Segment).collect()),
        }
    }

    /// The nearest place on any line; `None` without lines.
    pub fn nearest(&self, place: DVec2) -> Option<Nearest> {
        let Segment([a, b]) = *self.segments.nearest_neighbor(place.to_array())?;
        let on = nearest_on_segment(a.at, b.at, place);
        Some(Nearest {
            distance_m: on.distance2_m2.sqrt(),
            value: a.value + on.share * (b.value - a.value),
        })
    }
}
