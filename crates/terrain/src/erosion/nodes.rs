//! Places inside the cells of a grid at which water is routed.
//!
//! On the centres of square cells eight directions decide where rivers go, and it
//! shows. So each cell has a node that stands off its centre by a hash of where the
//! cell is in the world (jittered points, Cook 1986, "Stochastic Sampling in Computer
//! Graphics"); slopes between nodes go in all directions. Land stays on the centres:
//! a node's height is that of the plane through its cell.

use rayon::prelude::*;

use super::neighbours::shifted;
use crate::noise::{hash, unit};
use crate::{Frame, Grid};

/// How far a node stands off at most, as a share of a cell along each axis. Farther,
/// and neighbours would change places.
const OFF: f32 = 0.4;

/// By how much a node that is nearer is preferred, per share of a cell. Each step to a
/// corner goes farther than one to a side: without this, ways would turn towards the
/// diagonals (found by the fourth harmonic of the aspect, which it takes from 0.03 to
/// below 0.01).
const NEARER: f32 = 0.2;

/// Where the nodes of a grid stand.
pub(super) struct Nodes {
    cols: usize,
    rows: usize,
    /// The column and the row of the first of them on the lattice, and what tells lattices
    /// apart: grids of other cells have other nodes.
    first: (i64, i64),
    salt: u32,
    /// One over the distance to the neighbours to the east, south, south-east and
    /// south-west, per cell; each pair of neighbours is there once.
    per_cell: [Vec<f32>; 4],
}

/// Neighbours to the east, south, south-east and south-west; the other four are these,
/// seen from the other end.
const HALF: [(i64, i64); 4] = [(1, 0), (0, 1), (1, 1), (-1, 1)];

/// All eight, in the order in which they are looked at: of two as steep ones the first is
/// taken.
const LOOKED_AT: [(i64, i64); 8] = [
    (1, 0),
    (-1, 0),
    (0, 1),
    (1, 1),
    (-1, 1),
    (0, -1),
    (-1, -1),
    (1, -1),
];

impl Nodes {
    /// The nodes of the cells of `frame`: the same in any window of its lattice.
    pub(super) fn of(frame: &Frame) -> Self {
        let (cols, rows) = (frame.cols, frame.rows);
        let salt = frame.cell_m.to_bits();
        let mut nodes = Self {
            cols,
            rows,
            first: (frame.col0, frame.row0),
            salt: (salt >> 32) as u32 ^ salt as u32,
            per_cell: Default::default(),
        };
        nodes.per_cell = nodes.nearness();
        nodes
    }

    /// One over the distance from each node to the ones a step away, per cell; 0 where there
    /// is none.
    fn nearness(&self) -> [Vec<f32>; 4] {
        let (cols, rows) = (self.cols, self.rows);
        HALF.map(|(dc, dr)| {
            let mut nearness = vec![0.0; cols * rows];
            let by_rows = nearness.par_chunks_mut(cols).enumerate();
            by_rows.for_each(|(r, row)| {
                let there = r + dr as usize;
                if there >= rows || (dc != 0 && cols < 2) {
                    return;
                }
                // From the first that has a neighbour, and as many as have one.
                let (from, count) = match dc {
                    -1 => (1, cols - 1),
                    0 => (0, cols),
                    _ => (0, cols - 1),
                };
                let first = from as i64 + dc;
                let offs = [(from as i64, r), (first, there)].map(|(c, r)| self.offs(c, r));
                nearness_row(offs, (dc as f32, dr as f32), &mut row[from..from + count]);
            });
            nearness
        })
    }

    /// How far the nodes of a row stand off their centres, from column `col` on.
    fn offs(&self, col: i64, row: usize) -> Offs {
        Offs {
            col: (self.first.0 + col) as i32,
            row: (self.first.1 + row as i64) as i32,
            salt: self.salt,
        }
    }

    /// One over the distance between the nodes of two neighbours, per cell.
    #[inline(always)]
    pub(super) fn between(&self, from: usize, to: usize) -> f32 {
        let (first, second) = (from.min(to), from.max(to));
        let k = match second - first {
            1 => 0,
            ahead if ahead == self.cols => 1,
            ahead if ahead == self.cols + 1 => 2,
            _ => 3,
        };
        self.per_cell[k][first]
    }

    /// The steepest lower neighbour of each node of `heights`; the cell itself where
    /// there is none, and where `outlets` says so.
    pub(super) fn steepest(&self, heights: &Grid, outlets: &[bool]) -> Vec<u32> {
        let (cols, rows) = (self.cols, self.rows);
        let mut receivers = vec![0; cols * rows];
        let by_rows = receivers.par_chunks_mut(cols).enumerate();
        by_rows.for_each(|(r, row)| {
            let inside = 0 < r && r + 1 < rows && cols > 2;
            let at_ends = if inside {
                vec![0, cols - 1]
            } else {
                (0..cols).collect()
            };
            for c in at_ends {
                row[c] = self.steepest_at(heights.values(), r * cols + c);
            }
            if inside {
                let near = [r - 1, r, r + 1].map(|r| heights.row(r));
                let per_cell = self.per_cell.each_ref();
                let [before, here] = [r - 1, r].map(|r| per_cell.map(|of| &of[r * cols..][..cols]));
                steepest_row(near, before, here, (r * cols) as u32, row);
            }
            for (c, receiver) in row.iter_mut().enumerate() {
                if outlets[r * cols + c] {
                    *receiver = (r * cols + c) as u32;
                }
            }
        });
        receivers
    }

    /// The same of one node, which may be on the border.
    fn steepest_at(&self, heights: &[f32], i: usize) -> u32 {
        let (cols, rows) = (self.cols, self.rows);
        let (c, r) = ((i % cols) as i64, (i / cols) as i64);
        let (mut best, mut receiver) = (0.0_f32, i);
        for (dc, dr) in LOOKED_AT {
            let (nc, nr) = (c + dc, r + dr);
            if nc < 0 || nr < 0 || nc >= cols as i64 || nr >= rows as i64 {
                continue;
            }
            let j = nr as usize * cols + nc as usize;
            let slope = preferred(heights[i] - heights[j], self.between(i, j));
            if slope > best {
                (best, receiver) = (slope, j);
            }
        }
        receiver as u32
    }

    /// The heights of the nodes of `heights`.
    ///
    /// The plane through a cell has along each axis the gentler of the slopes to both
    /// sides, and none where they differ in sign (minmod, Roe 1986): a plane comes out
    /// exactly, and what is lowest along an axis stays so, or a valley would be closed
    /// by its own sides.
    pub(super) fn heights(&self, heights: &Grid) -> Grid {
        let (cols, rows) = (self.cols, self.rows);
        Grid::by_rows(cols, rows, |r, out| {
            let near = [r.saturating_sub(1), r, (r + 1).min(rows - 1)].map(|r| heights.row(r));
            heights_row(near, self.offs(0, r), out);
        })
    }
}

/// Where the nodes of a row stand, from one column on.
#[derive(Clone, Copy)]
struct Offs {
    col: i32,
    row: i32,
    salt: u32,
}

impl Offs {
    /// How far the node `c` columns on stands off its centre to the east and to the south, in
    /// cells.
    #[inline(always)]
    fn at(self, c: usize) -> [f32; 2] {
        [0, 1].map(|axis| {
            let col = self.col.wrapping_add(c as i32);
            let bits = hash(col, self.row, self.salt.wrapping_add(axis));
            OFF * (2.0 * unit(bits) - 1.0)
        })
    }
}

/// One over the distance from each node of a row to the one that is so many columns and rows
/// away.
#[multiversion::multiversion(targets = "simd")]
fn nearness_row([here, there]: [Offs; 2], (dc, dr): (f32, f32), out: &mut [f32]) {
    for (c, nearness) in out.iter_mut().enumerate() {
        let (here, there) = (here.at(c), there.at(c));
        let east = dc + there[0] - here[0];
        let south = dr + there[1] - here[1];
        *nearness = 1.0 / (east * east + south * south).sqrt();
    }
}

/// The heights of the nodes of a row, from those of the rows around.
#[multiversion::multiversion(targets = "simd")]
fn heights_row([above, here, below]: [&[f32]; 3], offs: Offs, out: &mut [f32]) {
    let last = out.len() - 1;
    for c in [0, last] {
        let across = [here[c.saturating_sub(1)], here[(c + 1).min(last)]];
        out[c] = node(here[c], across, [above[c], below[c]], offs.at(c));
    }
    // Between the ends without a look at them, which lets several cells go at once.
    let n = last.saturating_sub(1);
    if n == 0 {
        return;
    }
    let [west, here, east] = shifted(here, n);
    let (above, below, out) = (&above[1..n + 1], &below[1..n + 1], &mut out[1..n + 1]);
    for c in 0..n {
        out[c] = node(
            here[c],
            [west[c], east[c]],
            [above[c], below[c]],
            offs.at(c + 1),
        );
    }
}

/// The height of a node from that of its cell and of those beside it.
#[inline(always)]
fn node(
    here: f32,
    [west, east]: [f32; 2],
    [north, south]: [f32; 2],
    [off_c, off_r]: [f32; 2],
) -> f32 {
    let across = gentler(here - west, east - here);
    let along = gentler(here - north, south - here);
    here + off_c * across + off_r * along
}

/// Of two slopes the gentler one; none where they differ in sign.
#[inline(always)]
fn gentler(a: f32, b: f32) -> f32 {
    let gentler = if a.abs() < b.abs() { a } else { b };
    if a * b > 0.0 { gentler } else { 0.0 }
}

/// A slope, made more of the nearer its end is.
#[inline(always)]
fn preferred(fall: f32, per_cell: f32) -> f32 {
    let slope = fall * per_cell;
    slope * (1.0 + NEARER * (per_cell - 1.0))
}

/// The steepest lower neighbours of the nodes of a row but its ends, from the heights of the
/// rows around and the distances of the row before and of its own. Without a look at the
/// border several go at once.
#[multiversion::multiversion(targets = "simd")]
fn steepest_row(
    [above, here, below]: [&[f32]; 3],
    [_, before_south, before_south_east, before_south_west]: [&[f32]; 4],
    [east, south, south_east, south_west]: [&[f32]; 4],
    first: u32,
    receivers: &mut [u32],
) {
    let (n, cols) = (receivers.len() - 2, receivers.len() as u32);
    let heights = [above, here, below].map(|row| shifted(row, n));
    // As [`LOOKED_AT`]; what lies to the west and north has the distance with it.
    let distances: [&[f32]; 8] = [
        &east[1..n + 1],
        &east[..n],
        &south[1..n + 1],
        &south_east[1..n + 1],
        &south_west[1..n + 1],
        &before_south[1..n + 1],
        &before_south_east[..n],
        &before_south_west[2..n + 2],
    ];
    let out = &mut receivers[1..n + 1];
    for (c, receiver) in out.iter_mut().enumerate() {
        let height = heights[1][1][c];
        let (mut best, mut way) = (0.0_f32, 0_u32);
        for ((dc, dr), distances) in LOOKED_AT.into_iter().zip(distances) {
            let there = heights[(dr + 1) as usize][(dc + 1) as usize][c];
            let slope = preferred(height - there, distances[c]);
            let step = (dr as u32).wrapping_mul(cols).wrapping_add(dc as u32);
            let steeper = slope > best;
            best = if steeper { slope } else { best };
            way = if steeper { step } else { way };
        }
        *receiver = (first + 1 + c as u32).wrapping_add(way);
    }
}
