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
    corners: [[f64; 3]; 3],
    mut take: impl FnMut(usize, Range<usize>),
) {
    // What lies on an edge must be found from one side at least, whatever the rounding.
    const SLACK: f64 = 1e-9;
    let [low, high] = spread(corners.map(|corner| corner[1]));
    let slack = SLACK * (1.0 + high.abs());
    // Rows count from the north.
    for row in along_south.first_from(-high - slack)..along_south.count() {
        let y = -along_south.at(row);
        if y < low - slack {
            break;
        }
        let (mut west, mut east) = (f64::INFINITY, f64::NEG_INFINITY);
        for (a, b) in [(0, 1), (1, 2), (2, 0)] {
            let (a, b) = (corners[a], corners[b]);
            let [south, north] = spread([a[1], b[1], a[1]]);
            if y < south - slack || y > north + slack {
                continue;
            }
            if north == south {
                west = west.min(a[0]).min(b[0]);
                east = east.max(a[0]).max(b[0]);
            } else {
                let share = ((y - a[1]) / (b[1] - a[1])).clamp(0.0, 1.0);
                let x = a[0] + share * (b[0] - a[0]);
                (west, east) = (west.min(x), east.max(x));
            }
        }
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

/// The least and the greatest of three.
fn spread(values: [f64; 3]) -> [f64; 2] {
    [
        values[0].min(values[1]).min(values[2]),
        values[0].max(values[1]).max(values[2]),
    ]
}
