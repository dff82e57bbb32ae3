//! One grid seen at another cell size.
//!
//! Going finer is bicubic (Catmull and Rom 1974), going coarser averages over
//! the area of the new cell. Both are separable; the taps of a cell depend on
//! its place in the lattice alone, so a window has the bits of the whole.

use super::{Extent, Frame, Grid};

/// The weights that make one new cell out of a run of old ones.
struct Taps {
    first: i64,
    weights: Vec<f32>,
}

/// Weights of the cubic through four samples at fraction `t` between the
/// middle two (Catmull and Rom 1974).
fn cubic_weights(t: f32) -> [f32; 4] {
    let (t2, t3) = (t * t, t * t * t);
    [
        -0.5 * t3 + t2 - 0.5 * t,
        1.5 * t3 - 2.5 * t2 + 1.0,
        -1.5 * t3 + 2.0 * t2 + 0.5 * t,
        0.5 * t3 - 0.5 * t2,
    ]
}

fn cubic_taps(position: f64) -> Taps {
    let base = position.floor();
    let weights = cubic_weights((position - base) as f32);
    Taps {
        first: base as i64 - 1,
        weights: weights.to_vec(),
    }
}

/// `position` is the centre in old cells, `ratio` the new cell in old cells.
fn area_taps(position: f64, ratio: f64) -> Taps {
    let (start, end) = (position + 0.5 - ratio / 2.0, position + 0.5 + ratio / 2.0);
    // Slivers below this share of a cell are rounding, not area.
    const SLIVER: f64 = 1e-6;
    let first = (start + SLIVER).floor() as i64;
    let last = (end - SLIVER).ceil() as i64;
    let weights = (first..last.max(first + 1))
        .map(|i| ((end.min((i + 1) as f64) - start.max(i as f64)) / ratio) as f32)
        .collect();
    Taps { first, weights }
}

fn taps_along(count: usize, ratio: f64, position: impl Fn(usize) -> f64) -> Vec<Taps> {
    (0..count)
        .map(|i| match ratio > 1.0 {
            true => area_taps(position(i), ratio),
            false => cubic_taps(position(i)),
        })
        .collect()
}

fn clamped(index: i64, count: usize) -> usize {
    index.clamp(0, count as i64 - 1) as usize
}

/// `grid`, whose cells stand on `from`, seen on the cells of `to`.
///
/// Finer cells are interpolated, coarser ones averaged. Beyond the edge of
/// `from` the outermost cells go on.
///
/// # Panics
/// When `grid` does not have the size of `from`.
pub fn resample(grid: &Grid, from: &Frame, to: &Frame) -> Grid {
    assert_eq!(
        (grid.cols(), grid.rows()),
        (from.cols, from.rows),
        "grid does not fit its frame"
    );
    if let Some((col, row)) = from.offset_of(to) {
        return grid.cropped(col, row, to.cols, to.rows);
    }
    if from.shares_lattice_with(to) {
        return shifted(grid, from, to);
    }
    let ratio = to.cell_m / from.cell_m;
    let across = taps_along(to.cols, ratio, |c| from.col_at(to.x_m(c)));
    let down = taps_along(to.rows, ratio, |r| from.row_at(to.y_m(r)));
    weighted(grid, &across, &down)
}

/// `grid`, stretched over the whole of `extent`, seen on the cells of `to`.
///
/// This is for grids from files, whose cells need not be square on the land.
pub fn stretch(grid: &Grid, extent: Extent, to: &Frame) -> Grid {
    let per_m_x = grid.cols() as f64 / extent.width_m;
    let (per_m_y, rows) = (grid.rows() as f64 / extent.depth_m, grid.rows() as f64);
    let across = taps_along(to.cols, per_m_x * to.cell_m, |c| to.x_m(c) * per_m_x - 0.5);
    let down = taps_along(to.rows, per_m_y * to.cell_m, |r| {
        rows - to.y_m(r) * per_m_y - 0.5
    });
    weighted(grid, &across, &down)
}

fn weighted(grid: &Grid, across: &[Taps], down: &[Taps]) -> Grid {
    let narrowed = Grid::by_rows(across.len(), grid.rows(), |r, out| {
        let row = grid.row(r);
        for (out, taps) in out.iter_mut().zip(across) {
            *out = taps
                .weights
                .iter()
                .enumerate()
                .fold(0.0, |sum, (i, weight)| {
                    sum + weight * row[clamped(taps.first + i as i64, row.len())]
                });
        }
    });
    Grid::by_rows(across.len(), down.len(), |r, out| {
        for (i, weight) in down[r].weights.iter().enumerate() {
            let row = narrowed.row(clamped(down[r].first + i as i64, grid.rows()));
            for (out, value) in out.iter_mut().zip(row) {
                *out += weight * value;
            }
        }
    })
}

/// Another window of the same lattice: no arithmetic, so no bit changes.
fn shifted(grid: &Grid, from: &Frame, to: &Frame) -> Grid {
    let (east, south) = (to.col0 - from.col0, to.row0 - from.row0);
    Grid::by_rows(to.cols, to.rows, |r, out| {
        let row = grid.row(clamped(r as i64 + south, from.rows));
        for (c, out) in out.iter_mut().enumerate() {
            *out = row[clamped(c as i64 + east, from.cols)];
        }
    })
}

/// A grid that stands on `frame.coarser(halvings)`, seen on the cells of `frame`:
/// bicubic, with places counted in whole numbers, so that a window has the bits of
/// the whole.
pub fn refined(coarse: &Grid, halvings: u32, frame: &Frame) -> Grid {
    let from = frame.coarser(halvings);
    let side = 1_i64 << halvings;
    let taps = |first: i64, from: i64, count: usize| -> Vec<Taps> {
        let at = |i: usize| (first + i as i64 - from * side) as f64;
        let place = |i: usize| (at(i) + 0.5) / side as f64 - 0.5;
        (0..count).map(|i| cubic_taps(place(i))).collect()
    };
    let across = taps(frame.col0, from.col0, frame.cols);
    let down = taps(frame.row0, from.row0, frame.rows);
    weighted(coarse, &across, &down)
}

/// Every two by two cells averaged into one; an odd edge is repeated.
pub fn halve(grid: &Grid) -> Grid {
    let (cols, rows) = (grid.cols(), grid.rows());
    Grid::by_rows(cols.div_ceil(2), rows.div_ceil(2), |r, out| {
        let (a, b) = (grid.row(2 * r), grid.row((2 * r + 1).min(rows - 1)));
        for (c, out) in out.iter_mut().enumerate() {
            let (west, east) = (2 * c, (2 * c + 1).min(cols - 1));
            *out = 0.25 * (a[west] + a[east] + b[west] + b[east]);
        }
    })
}

/// Reads a grid between its cell centres.
pub struct Sampler<'a> {
    grid: &'a Grid,
    frame: &'a Frame,
}

impl<'a> Sampler<'a> {
    /// Reads `grid`, whose cells stand on `frame`.
    pub fn new(grid: &'a Grid, frame: &'a Frame) -> Self {
        Self { grid, frame }
    }

    /// Bicubic value at a place in metres; the edge goes on beyond the grid.
    pub fn bicubic(&self, x_m: f64, y_m: f64) -> f32 {
        let place = (self.frame.col_at(x_m), self.frame.row_at(y_m));
        bicubic(self.grid, place, clamped)
    }
}

/// Bicubic value at a column and row between cell centres (Catmull and Rom 1974).
/// `inside` takes indices beyond the grid to cells of it.
pub(super) fn bicubic(
    grid: &Grid,
    (u, v): (f64, f64),
    inside: impl Fn(i64, usize) -> usize,
) -> f32 {
    let (col, row) = (u.floor(), v.floor());
    let across = cubic_weights((u - col) as f32);
    let down = cubic_weights((v - row) as f32);
    let mut sum = 0.0;
    for (j, wy) in down.iter().enumerate() {
        let values = grid.row(inside(row as i64 - 1 + j as i64, grid.rows()));
        let mut line = 0.0;
        for (i, wx) in across.iter().enumerate() {
            line += wx * values[inside(col as i64 - 1 + i as i64, values.len())];
        }
        sum += wy * line;
    }
    sum
}
