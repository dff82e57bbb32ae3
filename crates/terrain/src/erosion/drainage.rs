//! Where water goes: filled hollows, one way down from each cell, and how much
//! land lies above each.

use rayon::prelude::*;

use super::radix_heap::{RadixHeap, sortable};
use crate::{Cancelled, Grid, Run};

/// The eight neighbours: column, row, and distance in cells.
pub(super) const NEIGHBOURS: [(i64, i64, f32); 8] = [
    (1, 0, 1.0),
    (0, 1, 1.0),
    (-1, 0, 1.0),
    (0, -1, 1.0),
    (1, 1, std::f32::consts::SQRT_2),
    (-1, 1, std::f32::consts::SQRT_2),
    (-1, -1, std::f32::consts::SQRT_2),
    (1, -1, std::f32::consts::SQRT_2),
];

/// A cell that water leaves the land from has itself as its receiver.
#[derive(Clone, Debug, PartialEq)]
pub struct Drainage {
    /// The land with every hollow filled to its brim, metres.
    pub filled: Grid,
    /// The neighbour that each cell drains to, row-major; itself at an outlet.
    pub receivers: Vec<u32>,
    /// All cells, each one after its receiver.
    pub order: Vec<u32>,
}

/// Fills hollows and routes water: Priority-Flood (Barnes, Lehman and Mulla
/// 2014, algorithm 2), outlets first. Each cell drains to its steepest lower
/// neighbour (D8: O'Callaghan and Mark 1984); where the filled land is level,
/// to the neighbour that it was flooded from.
///
/// Outlets are the cells at the border and all cells below `sea_level_m`.
/// Deterministic. The flood itself runs on one thread.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn drain(heights: &Grid, sea_level_m: f32, run: Run) -> Result<Drainage, Cancelled> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let n = cols * rows;
    const UNSEEN: u32 = u32::MAX;
    let mut filled = heights.values().to_vec();
    let mut receivers = vec![UNSEEN; n];
    let mut order = Vec::with_capacity(n);
    let mut heap = RadixHeap::new();
    for r in 0..rows {
        for c in 0..cols {
            let i = r * cols + c;
            let border = r == 0 || c == 0 || r + 1 == rows || c + 1 == cols;
            if border || filled[i] < sea_level_m {
                receivers[i] = i as u32;
                heap.push(sortable(filled[i]), i as u32);
            }
        }
    }
    run.check()?;
    let steps = NEIGHBOURS.map(|(dc, dr, _)| dr * cols as i64 + dc);
    // Cells of a hollow need no sorting: they all stand at its brim.
    let mut pool: Vec<u32> = Vec::new();
    let mut taken = 0_usize;
    loop {
        let i = match pool.pop() {
            Some(i) => i as usize,
            None => match heap.pop() {
                Some((_, i)) => i as usize,
                None => break,
            },
        };
        order.push(i as u32);
        taken += 1;
        if taken.is_multiple_of(1 << 16) {
            run.check()?;
        }
        let (c, r) = (i % cols, i / cols);
        let inside = c > 0 && r > 0 && c + 1 < cols && r + 1 < rows;
        for (k, (dc, dr, _)) in NEIGHBOURS.iter().enumerate() {
            let j = if inside {
                (i as i64 + steps[k]) as usize
            } else {
                let (nc, nr) = (c as i64 + dc, r as i64 + dr);
                if nc < 0 || nr < 0 || nc >= cols as i64 || nr >= rows as i64 {
                    continue;
                }
                nr as usize * cols + nc as usize
            };
            if receivers[j] != UNSEEN {
                continue;
            }
            receivers[j] = i as u32;
            if filled[j] <= filled[i] {
                filled[j] = filled[i];
                pool.push(j as u32);
            } else {
                heap.push(sortable(filled[j]), j as u32);
            }
        }
    }
    run.check()?;
    steepest(&filled, &mut receivers, cols, rows);
    Ok(Drainage {
        filled: Grid::from_vec(cols, rows, filled).expect("as many as before"),
        receivers,
        order,
    })
}

/// Turns receivers to the steepest lower neighbour where there is one.
fn steepest(filled: &[f32], receivers: &mut [u32], cols: usize, rows: usize) {
    receivers
        .par_chunks_mut(cols)
        .enumerate()
        .for_each(|(r, row)| {
            if r == 0 || r + 1 == rows {
                return;
            }
            for (c, receiver) in row.iter_mut().enumerate().take(cols - 1).skip(1) {
                let i = r * cols + c;
                if *receiver == i as u32 {
                    continue;
                }
                let (here, mut best) = (filled[i], 0.0);
                for (dc, dr, distance) in NEIGHBOURS {
                    let j = (i as i64 + dr * cols as i64 + dc) as usize;
                    let slope = (here - filled[j]) / distance;
                    if slope > best {
                        (best, *receiver) = (slope, j as u32);
                    }
                }
            }
        });
}

impl Drainage {
    /// The land that drains through each cell, itself included, in cells.
    pub fn area_cells(&self) -> Vec<f32> {
        let mut area = vec![1.0_f32; self.order.len()];
        for &i in self.order.iter().rev() {
            let receiver = self.receivers[i as usize];
            if receiver != i {
                area[receiver as usize] += area[i as usize];
            }
        }
        area
    }

    /// The land that drains through each cell when water spreads over all
    /// lower neighbours in proportion to slope to the power `spread`
    /// (Freeman 1991 uses 1.1), in cells. A high power tends to one way.
    pub fn spread_area_cells(&self, spread: f32) -> Vec<f32> {
        let (cols, rows) = (self.filled.cols(), self.filled.rows());
        let filled = self.filled.values();
        let mut area = vec![1.0_f32; self.order.len()];
        for &i in self.order.iter().rev() {
            let i = i as usize;
            let receiver = self.receivers[i] as usize;
            let (c, r) = (i % cols, i / cols);
            let border = c == 0 || r == 0 || c + 1 == cols || r + 1 == rows;
            if receiver == i || border {
                if receiver != i {
                    area[receiver] += area[i];
                }
                continue;
            }
            let mut weights = [0.0; 8];
            let mut sum = 0.0;
            for (weight, (dc, dr, distance)) in weights.iter_mut().zip(NEIGHBOURS) {
                let j = (i as i64 + dr * cols as i64 + dc) as usize;
                let slope = (filled[i] - filled[j]) / distance;
                if slope > 0.0 {
                    *weight = slope.powf(spread);
                    sum += *weight;
                }
            }
            if sum == 0.0 {
                area[receiver] += area[i];
                continue;
            }
            for (weight, (dc, dr, _)) in weights.iter().zip(NEIGHBOURS) {
                if *weight > 0.0 {
                    let j = (i as i64 + dr * cols as i64 + dc) as usize;
                    area[j] += area[i] * weight / sum;
                }
            }
        }
        area
    }

    /// Strahler's (1957) stream order of each cell whose area is at least
    /// `least_cells`; 0 elsewhere.
    pub fn strahler(&self, area: &[f32], least_cells: f32) -> Vec<u8> {
        let n = self.order.len();
        let mut order = vec![0_u8; n];
        // The highest order that flows in, and how many of it.
        let mut inflow = vec![(0_u8, 0_u8); n];
        for &i in self.order.iter().rev() {
            let i = i as usize;
            if area[i] < least_cells {
                continue;
            }
            order[i] = match inflow[i] {
                (0, _) => 1,
                (highest, 1) => highest,
                (highest, _) => highest + 1,
            };
            let receiver = self.receivers[i] as usize;
            if receiver != i {
                let (highest, count) = inflow[receiver];
                inflow[receiver] = match order[i].cmp(&highest) {
                    std::cmp::Ordering::Greater => (order[i], 1),
                    std::cmp::Ordering::Equal => (highest, count.saturating_add(1)),
                    std::cmp::Ordering::Less => (highest, count),
                };
            }
        }
        order
    }
}
