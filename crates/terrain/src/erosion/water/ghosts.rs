//! Fields with one ghost cell on every side, and rows of them with their
//! neighbours.

use crate::Grid;
use crate::grid::{with_edge_repeated, without_apron};

/// A field of `grid` with ghosts that repeat their neighbours: water falls off
/// the edge as over a weir of the edge's own height.
pub(super) fn with_ghosts(grid: &Grid) -> Vec<f32> {
    with_edge_repeated(grid, 1).into_values()
}

/// Writes `grid` into the cells of a field, not into its ghosts.
pub(super) fn put_inside(grid: &Grid, field: &mut [f32]) {
    let wide = grid.cols() + 2;
    for r in 0..grid.rows() {
        let start = (r + 1) * wide + 1;
        field[start..start + grid.cols()].copy_from_slice(grid.row(r));
    }
}

/// Gives each ghost the value of its neighbour.
pub(super) fn repeat_border(field: &mut [f32], cols: usize, rows: usize) {
    let wide = cols + 2;
    for row in field.chunks_exact_mut(wide) {
        row[0] = row[1];
        row[cols + 1] = row[cols];
    }
    field.copy_within(wide..2 * wide, 0);
    field.copy_within(rows * wide..(rows + 1) * wide, (rows + 1) * wide);
}

/// The cells of a field without their ghosts.
pub(super) fn without_ghosts(field: Vec<f32>, cols: usize, rows: usize) -> Grid {
    let field = Grid::from_vec(cols + 2, rows + 2, field).expect("made with ghosts");
    without_apron(&field, 1)
}

/// A row of a field and its four neighbours, all of the same length.
#[derive(Clone, Copy)]
pub(super) struct Around<'a> {
    pub(super) here: &'a [f32],
    pub(super) west: &'a [f32],
    pub(super) east: &'a [f32],
    pub(super) north: &'a [f32],
    pub(super) south: &'a [f32],
}

impl<'a> Around<'a> {
    pub(super) fn of(field: &'a [f32], row: usize, wide: usize) -> Self {
        Self::between([row - 1, row, row + 1].map(|r| &field[r * wide..(r + 1) * wide]))
    }

    /// The middle one of three rows with ghosts.
    pub(super) fn between([north, here, south]: [&'a [f32]; 3]) -> Self {
        let n = here.len() - 2;
        Self {
            here: &here[1..n + 1],
            west: &here[..n],
            east: &here[2..],
            north: &north[1..n + 1],
            south: &south[1..n + 1],
        }
    }

    /// The part of the row from `start` to before `end`.
    #[inline(always)]
    pub(super) fn part(self, start: usize, end: usize) -> Self {
        Self {
            here: &self.here[start..end],
            west: &self.west[start..end],
            east: &self.east[start..end],
            north: &self.north[start..end],
            south: &self.south[start..end],
        }
    }

    /// The same slices, known to be `n` long, so that indexing needs no check.
    #[inline(always)]
    pub(super) fn of_length(self, n: usize) -> Self {
        Self {
            here: &self.here[..n],
            west: &self.west[..n],
            east: &self.east[..n],
            north: &self.north[..n],
            south: &self.south[..n],
        }
    }
}
