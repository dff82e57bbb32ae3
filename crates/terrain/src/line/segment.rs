//! The nearest place of a segment.

use glam::DVec2;

/// A place on a segment.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OnSegment {
    /// How far along it is, from 0 at its beginning to 1 at its end.
    pub share: f64,
    /// Square of how far it is from the place that was asked for, m².
    pub distance2_m2: f64,
}

/// The place of the segment from `a` to `b` that is nearest to `p`. A segment without
/// length is its beginning.
pub fn nearest_on_segment(a: DVec2, b: DVec2, p: DVec2) -> OnSegment {
    let (along, away) = (b - a, p - a);
    let length2 = along.length_squared();
    let share = match length2 > 0.0 {
        true => (away.dot(along) / length2).clamp(0.0, 1.0),
        false => 0.0,
    };
    OnSegment {
        share,
        distance2_m2: (away - share * along).length_squared(),
    }
}
