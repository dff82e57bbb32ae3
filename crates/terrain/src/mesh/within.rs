//! Which places of a lattice lie within a triangle seen from above.

use std::ops::Range;

use super::axis::Axis;

/// The plane through three places: height over each place of the plan.
#[derive(Clone, Copy)]
pub(super) struct Plane {
    from: [f64; 3],
    east: f64,
    north: f64,
}

impl Plane {
    /// The plane through the corners of a triangle that has an area seen from above.
    pub(super) fn through([a, b, c]: [[f64; 3]; 3]) -> Self {
        let (ab, ac) = (minus(b, a), minus(c, a));
        let area = ab[0] * ac[1] - ab[1] * ac[0];
        Self {
            from: a,
            east: (ab[2] * ac[1] - ab[1] * ac[2]) / area,
            north: (ab[0] * ac[2] - ab[2] * ac[0]) / area,
        }
    }

    /// Its height, metres.
    pub(super) fn at(&self, x_m: f64, y_m: f64) -> f64 {
        self.from[2] + self.east * (x_m - self.from[0]) + self.north * (y_m - self.from[1])
    }
}

pub(super) fn minus(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
}

/// Calls `take` with each row of a lattice that crosses a triangle, and the columns that
/// lie in it there, its border included.
pub(super) fn rows_within(
    (along_east, along_south): (&Axis, &Axis),
    mut corners: [[f64; 3]; 3],
    mut take: impl FnMut(usize, Range<usize>),
) {
    // What lies on an edge must be found from one side at least, whatever the rounding.
    const SLACK: f64 = 1e-9;
    // Rows count from the north, and so do the corners.
    corners.sort_unstable_by(|a, b| b[1].total_cmp(&a[1]));
    let [north, middle, south] = corners;
    let long = Edge::between(north, south);
    let (above, below) = (Edge::between(north, middle), Edge::between(middle, south));
    let slack = SLACK * (1.0 + north[1].abs());
    for row in along_south.first_from(-north[1] - slack)..along_south.count() {
        let y = -along_south.at(row);
        if y < south[1] - slack {
            break;
        }
        let short = if y > middle[1] {
            above.at(y)
        } else if y < middle[1] {
            below.at(y)
        } else {
            middle[0]
        };
        let [west, east] = spread([long.at(y), short]);
        let slack = SLACK * (1.0 + east.abs());
        let begin = along_east.first_from(west - slack);
        let mut end = begin;
        while end < along_east.count() && along_east.at(end) <= east + slack {
            end += 1;
        }
        if begin < end {
            take(row, begin..end);
        }
    }
}

/// An edge of a triangle, seen from above, from its northern end to its southern one.
struct Edge {
    north: [f64; 2],
    east_for_north: f64,
    /// Its western and its eastern end: no rounding leads beyond them.
    reach: [f64; 2],
}

impl Edge {
    fn between([x, y, _]: [f64; 3], [to_x, to_y, _]: [f64; 3]) -> Self {
        let down = to_y - y;
        Self {
            north: [x, y],
            // One along a row is met at its northern end alone.
            east_for_north: if down < 0.0 { (to_x - x) / down } else { 0.0 },
            reach: spread([x, to_x]),
        }
    }

    /// Where it is at `y_m`, east, metres.
    fn at(&self, y_m: f64) -> f64 {
        let x = self.north[0] + (y_m - self.north[1]) * self.east_for_north;
        x.clamp(self.reach[0], self.reach[1])
    }
}

/// The lesser and the greater of two.
fn spread([a, b]: [f64; 2]) -> [f64; 2] {
    [a.min(b), a.max(b)]
}
