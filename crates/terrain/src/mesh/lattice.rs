//! What is known of a land: heights where columns and rows cross.

use std::ops::RangeInclusive;

use super::axis::Axis;
use crate::{Extent, Frame, Grid};

/// Heights where columns and rows cross, with their places in metres.
///
/// Columns go from west to east, rows from north to south. Inside, they stand at the
/// centres of cells; the first and the last one stand on the edges of the land.
#[derive(Clone, Debug)]
pub struct Lattice {
    /// East of the origin, metres, one for each column.
    pub(super) east: Axis,
    /// South of the origin, metres, one for each row: below 0 all over the land.
    pub(super) south: Axis,
    /// Metres.
    pub(super) heights: Grid,
}

/// Nearer to the edge than this share of a cell, a column of centres is left out.
const APART: f64 = 0.01;

impl Lattice {
    /// The lattice of a land of this extent; `wide` are its heights on `frame` with one
    /// cell more on each side.
    ///
    /// # Panics
    /// When `wide` is not one cell larger on each side.
    pub fn of(wide: &Grid, frame: &Frame, extent: Extent) -> Self {
        assert_eq!(
            (wide.cols(), wide.rows()),
            (frame.cols + 2, frame.rows + 2),
            "one cell around the land"
        );
        let cell = frame.cell_m;
        let x_m = edge_to_edge((0..frame.cols).map(|c| frame.x_m(c)), extent.width_m, cell);
        // From the north: as distances from that edge, then turned.
        let from_north = (0..frame.rows).map(|r| frame.north_m - frame.y_m(r));
        let down = edge_to_edge(from_north, extent.depth_m, cell);
        let heights = Grid::by_rows(x_m.len(), down.len(), |row, out| {
            let at_row = down[row] / cell + 0.5;
            for (height, x) in out.iter_mut().zip(&x_m) {
                *height = between(wide, x / cell + 0.5, at_row);
            }
        });
        let south = down.iter().map(|down| rounded(down - extent.depth_m));
        Self {
            south: Axis::of(south.collect(), cell),
            east: Axis::of(x_m.into_iter().map(rounded).collect(), cell),
            heights,
        }
    }

    /// How many columns there are.
    pub fn cols(&self) -> usize {
        self.east.count()
    }

    /// How many rows there are.
    pub fn rows(&self) -> usize {
        self.south.count()
    }

    /// Triangles of a mesh that has every place.
    pub fn most_triangles(&self) -> usize {
        2 * (self.cols() - 1) * (self.rows() - 1)
    }

    /// The lowest and the highest place, metres.
    pub fn range_m(&self) -> (f32, f32) {
        self.heights.range()
    }

    /// The place where a column and a row cross: east, north, up, metres.
    pub fn place(&self, col: usize, row: usize) -> [f64; 3] {
        [
            self.east.at(col),
            -self.south.at(row),
            f64::from(self.heights.at(col, row)),
        ]
    }

    /// Where its columns stand, and its rows.
    pub(super) fn axes(&self) -> (&Axis, &Axis) {
        (&self.east, &self.south)
    }

    /// A part of it, its border included; neighbours share their border.
    pub fn part(&self, cols: RangeInclusive<usize>, rows: RangeInclusive<usize>) -> Self {
        let (width, depth) = (cols.clone().count(), rows.clone().count());
        Self {
            heights: self
                .heights
                .cropped(*cols.start(), *rows.start(), width, depth),
            east: self.east.part(cols),
            south: self.south.part(rows),
        }
    }
}

/// As files have it, so that what is measured is what is written.
fn rounded(at_m: f64) -> f64 {
    f64::from(at_m as f32)
}

/// The edge at 0, the centres between, and the edge at `length_m`.
fn edge_to_edge(centres: impl Iterator<Item = f64>, length_m: f64, cell_m: f64) -> Vec<f64> {
    let near = APART * cell_m;
    let inside = centres.filter(|at| (near..=length_m - near).contains(at));
    std::iter::once(0.0)
        .chain(inside)
        .chain([length_m])
        .collect()
}

/// The height at a fractional column and row of a grid; exact where they are whole.
fn between(grid: &Grid, col: f64, row: f64) -> f32 {
    let split = |at: f64, count: usize| {
        let first = (at.floor() as usize).min(count - 2);
        (first, (at - first as f64) as f32)
    };
    let (c, east) = split(col, grid.cols());
    let (r, south) = split(row, grid.rows());
    let along = |row: usize| {
        let (a, b) = (grid.at(c, row), grid.at(c + 1, row));
        if east == 0.0 { a } else { a + east * (b - a) }
    };
    let north = along(r);
    if south == 0.0 {
        north
    } else {
        north + south * (along(r + 1) - north)
    }
}
