//! How far it is to the nearest of many lines.

/// A point of a line, with a value that is interpolated along it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct LinePoint {
    /// Metres east of the west edge.
    pub x_m: f64,
    /// Metres north of the south edge.
    pub y_m: f64,
    /// Anything, such as the width there.
    pub value: f64,
}

/// The nearest place on a line.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Nearest {
    /// How far it is, metres.
    pub distance_m: f64,
    /// The value of the line there.
    pub value: f64,
}

/// Lines, sorted so that the nearest one is found fast. Exact at any place and
/// the same for any window: nothing is drawn into cells.
#[derive(Clone, Debug)]
pub struct Lines {
    segments: Vec<[LinePoint; 2]>,
    west_m: f64,
    south_m: f64,
    bucket_m: f64,
    cols: usize,
    rows: usize,
    /// For each bucket the segments whose bounding box touches it.
    buckets: Vec<Vec<u32>>,
}

/// Buckets along the longer side of what the lines cover.
const BUCKETS: f64 = 128.0;

impl Lines {
    /// Sorts `lines`, each a run of points.
    pub fn new<'a>(lines: impl IntoIterator<Item = &'a [LinePoint]>) -> Self {
        let segments: Vec<[LinePoint; 2]> = lines
            .into_iter()
            .flat_map(|line| line.windows(2).map(|pair| [pair[0], pair[1]]))
            .collect();
        let ends = || segments.iter().flatten();
        let low = |of: fn(&LinePoint) -> f64| ends().map(of).fold(f64::INFINITY, f64::min);
        let high = |of: fn(&LinePoint) -> f64| ends().map(of).fold(f64::NEG_INFINITY, f64::max);
        let (west_m, south_m) = (low(|p| p.x_m), low(|p| p.y_m));
        let (width, depth) = (high(|p| p.x_m) - west_m, high(|p| p.y_m) - south_m);
        let bucket_m = (width.max(depth) / BUCKETS).max(1e-6);
        let count = |side: f64| (side.max(0.0) / bucket_m) as usize + 1;
        let mut lines = Self {
            west_m,
            south_m,
            bucket_m,
            cols: count(width),
            rows: count(depth),
            buckets: Vec::new(),
            segments: Vec::new(),
        };
        lines.buckets = vec![Vec::new(); lines.cols * lines.rows];
        for (k, [a, b]) in segments.iter().enumerate() {
            let (ca, ra) = lines.bucket(a.x_m, a.y_m);
            let (cb, rb) = lines.bucket(b.x_m, b.y_m);
            for row in ra.min(rb)..=ra.max(rb) {
                for col in ca.min(cb)..=ca.max(cb) {
                    lines.buckets[row * lines.cols + col].push(k as u32);
                }
            }
        }
        lines.segments = segments;
        lines
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.segments.is_empty()
    }

    /// The bucket at a place, or the nearest one to it.
    fn bucket(&self, x_m: f64, y_m: f64) -> (usize, usize) {
        let along = |at: f64, count: usize| (at / self.bucket_m).clamp(0.0, (count - 1) as f64);
        (
            along(x_m - self.west_m, self.cols) as usize,
            along(y_m - self.south_m, self.rows) as usize,
        )
    }

    /// The nearest place on any line; `None` without lines, or when it is not
    /// within `reach_m`.
    pub fn nearest(&self, x_m: f64, y_m: f64, reach_m: f64) -> Option<Nearest> {
        if self.is_empty() {
            return None;
        }
        let (col, row) = self.bucket(x_m, y_m);
        // How far the place itself is outside of the buckets.
        let outside = |at: f64, count: usize| {
            let most = count as f64 * self.bucket_m;
            (at - most).max(-at).max(0.0)
        };
        let apart =
            outside(x_m - self.west_m, self.cols).max(outside(y_m - self.south_m, self.rows));
        let mut best: Option<Nearest> = None;
        for ring in 0..self.cols.max(self.rows) {
            // What is in this ring of buckets is at least so far away.
            let least = (ring as f64 - 1.0) * self.bucket_m;
            let known = best.map_or(reach_m, |best| best.distance_m.min(reach_m));
            if least.max(apart) > known {
                break;
            }
            self.for_each_in_ring(col, row, ring, |segment| {
                let found = to_segment(&self.segments[segment as usize], x_m, y_m);
                if best.is_none_or(|best| found.distance_m < best.distance_m) {
                    best = Some(found);
                }
            });
        }
        best.filter(|best| best.distance_m <= reach_m)
    }

    fn for_each_in_ring(&self, col: usize, row: usize, ring: usize, mut visit: impl FnMut(u32)) {
        let (col, row, ring) = (col as i64, row as i64, ring as i64);
        let mut bucket = |c: i64, r: i64| {
            if c >= 0 && r >= 0 && c < self.cols as i64 && r < self.rows as i64 {
                let bucket = &self.buckets[r as usize * self.cols + c as usize];
                bucket.iter().for_each(|&segment| visit(segment));
            }
        };
        for r in row - ring..=row + ring {
            if (r - row).abs() == ring {
                (col - ring..=col + ring).for_each(|c| bucket(c, r));
            } else {
                bucket(col - ring, r);
                bucket(col + ring, r);
            }
        }
    }
}

fn to_segment([a, b]: &[LinePoint; 2], x_m: f64, y_m: f64) -> Nearest {
    let (dx, dy) = (b.x_m - a.x_m, b.y_m - a.y_m);
    let length2 = dx * dx + dy * dy;
    let along = (x_m - a.x_m) * dx + (y_m - a.y_m) * dy;
    let t = match length2 > 0.0 {
        true => (along / length2).clamp(0.0, 1.0),
        false => 0.0,
    };
    let (px, py) = (a.x_m + t * dx, a.y_m + t * dy);
    Nearest {
        distance_m: (x_m - px).hypot(y_m - py),
        value: a.value + t * (b.value - a.value),
    }
}
