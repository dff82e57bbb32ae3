//! Where water goes: filled hollows, one way down from each cell, and how much
//! land lies above each.

use rayon::prelude::*;

use super::basins::{Basins, downstream_first, turn_out};
use super::neighbours::NEIGHBOURS;
use super::nodes::Nodes;
use super::radix_heap::sortable;
use crate::grid::on_border;
use crate::{Cancelled, Grid, Run};

/// Which way water goes on from each place.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "RiversDirections")
)]
pub enum FlowDirections {
    /// Down the steepest way: sharp valleys.
    #[default]
    Steepest,
    /// Over all that is lower: broader, softer valleys.
    Spread,
}

/// How strongly steeper ways are favoured when water spreads (Freeman 1991).
const FREEMAN: f32 = 1.1;

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

/// Fills hollows and routes water. Each cell drains to its steepest lower
/// neighbour (D8: O'Callaghan and Mark 1984). Pits are resolved by
/// Priority-Flood (Barnes, Lehman and Mulla 2014), run over basins and their
/// passes instead of cells (Cordonnier, Bovy and Braun 2019): a hollow fills
/// to its lowest pass, and what arrives at its pit goes on over that pass.
///
/// Outlets are the cells at the border and all cells below `sea_level_m`.
/// Deterministic for any number of threads.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn drain(heights: &Grid, sea_level_m: f32, run: Run) -> Result<Drainage, Cancelled> {
    let size = (heights.cols(), heights.rows());
    let values = heights.values();
    let outlet = |i: usize| on_border(i, size) || values[i] < sea_level_m;
    run.check()?;
    let receivers = steepest(heights, sea_level_m);
    routed(heights, receivers, outlet, run)
}

/// The same on nodes off the centres of the cells, whose heights `heights` are. Water
/// leaves over `outlets` alone, not over the rest of the border; in the sea it runs on
/// down the floor, to where that is deepest.
pub(super) fn drain_nodes(
    heights: &Grid,
    nodes: &Nodes,
    outlets: &[bool],
    sea_level_m: f32,
    run: Run,
) -> Result<Drainage, Cancelled> {
    let values = heights.values();
    run.check()?;
    let receivers = nodes.steepest(heights, outlets);
    let ends = |i: usize| outlets[i] || values[i] < sea_level_m;
    routed(heights, receivers, ends, run)
}

/// Pits overflow, and all cells are put in order.
fn routed(
    heights: &Grid,
    mut receivers: Vec<u32>,
    outlet: impl Fn(usize) -> bool,
    run: Run,
) -> Result<Drainage, Cancelled> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let values = heights.values();
    run.check()?;
    let basins = Basins::of(&receivers, outlet);
    run.check()?;
    let overflows = basins.overflows(values, cols);
    run.check()?;
    for overflow in overflows.iter().flatten() {
        turn_out(&mut receivers, overflow.over);
    }
    let levels: Vec<f32> = overflows
        .iter()
        .map(|overflow| overflow.map_or(f32::NEG_INFINITY, |overflow| overflow.level))
        .collect();
    let filled = Grid::by_rows(cols, rows, |r, row| {
        let cells = heights.row(r).iter().zip(&basins.of[r * cols..]);
        for (value, (height, basin)) in row.iter_mut().zip(cells) {
            *value = height.max(levels[*basin as usize]);
        }
    });
    run.check()?;
    // What all cells have a number in is large.
    drop(basins);
    Ok(Drainage {
        filled,
        order: downstream_first(&receivers, cols),
        receivers,
    })
}

/// The steepest lower neighbour of each cell; the cell itself where there is
/// none, and at outlets.
fn steepest(heights: &Grid, sea_level_m: f32) -> Vec<u32> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let mut receivers = vec![0; cols * rows];
    receivers
        .par_chunks_mut(cols)
        .enumerate()
        .for_each(|(r, row)| {
            let start = (r * cols) as u32;
            for (receiver, i) in row.iter_mut().zip(start..) {
                *receiver = i;
            }
            if r == 0 || r + 1 == rows {
                return;
            }
            let [above, here, below] = [r - 1, r, r + 1].map(|r| heights.row(r));
            for c in 1..cols.max(1) - 1 {
                if here[c] < sea_level_m {
                    continue;
                }
                let around = [
                    here[c + 1],
                    below[c],
                    here[c - 1],
                    above[c],
                    below[c + 1],
                    below[c - 1],
                    above[c - 1],
                    above[c + 1],
                ];
                let (mut best, mut way) = (0.0, 0);
                for ((there, (dc, dr, distance)), k) in around.iter().zip(NEIGHBOURS).zip(0..) {
                    let slope = (here[c] - there) * (1.0 / distance);
                    debug_assert_eq!(
                        *there,
                        heights.at((c as i64 + dc) as usize, (r as i64 + dr) as usize),
                        "{k}"
                    );
                    if slope > best {
                        (best, way) = (slope, dr * cols as i64 + dc);
                    }
                }
                row[c] = (i64::from(row[c]) + way) as u32;
            }
        });
    receivers
}

impl Drainage {
    /// The land that drains through each cell, itself included, in cells.
    pub fn area_by(&self, directions: FlowDirections) -> Vec<f32> {
        match directions {
            FlowDirections::Steepest => self.area_cells(),
            FlowDirections::Spread => self.spread_area_cells(FREEMAN),
        }
    }

    /// The land that drains through each cell down the steepest way, itself
    /// included, in cells.
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
        for i in self.highest_first() {
            let i = i as usize;
            let receiver = self.receivers[i] as usize;
            if receiver == i || on_border(i, (cols, rows)) {
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

    /// All cells, each before all that are lower, and where the water is level
    /// before its receiver.
    pub(crate) fn highest_first(&self) -> Vec<u32> {
        let filled = self.filled.values();
        let mut order = self.order.clone();
        order.par_sort_by_key(|&i| sortable(filled[i as usize]));
        order.reverse();
        order
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
