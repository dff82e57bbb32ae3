//! Coarse grids first, for the valleys; finer ones on top, for detail.

use crate::{Extent, Frame};

/// One grid of a cascade.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Level {
    /// Side of a cell, metres.
    pub cell_m: f64,
    /// Time steps on this grid.
    pub iterations: usize,
}

impl Level {
    /// A grid counts as fine enough from this share of its cell on.
    pub const SLACK: f64 = 0.999;

    /// How many of its cells make `length_m`.
    pub fn cells_in(&self, length_m: f64) -> usize {
        (length_m / self.cell_m).round() as usize
    }

    /// The grid itself, over the land and the country `beyond_m` around it.
    pub fn frame(&self, extent: Extent, beyond_m: f64) -> Frame {
        Frame::covering(extent, self.cell_m).grown(self.cells_in(beyond_m))
    }
}

/// The grids of a cascade. Their cell sizes depend on the schedule and the land alone,
/// never on the resolution asked for: a preview and a final share their
/// coarse levels, and so their valleys.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Schedule {
    /// Cell size of the first grid, metres, about: such that halves of it make the
    /// longer side of the land; each next one is half of it.
    pub coarsest_cell_m: f64,
    /// Time steps on the first grid.
    pub iterations: usize,
}

impl Schedule {
    /// Each finer grid takes this share of the steps of the one before: the
    /// valleys are there already, and a step costs four times as much.
    const FEWER: f64 = 0.55;
    /// No level does less than this; fewer steps would leave no trace.
    const LEAST: usize = 4;

    /// Side of a cell of the first grid, metres.
    pub fn first_cell_m(&self, extent: Extent) -> f64 {
        let longest_m = extent.longest_m();
        let halves = (longest_m / self.coarsest_cell_m).log2().round();
        longest_m / halves.max(0.0).exp2()
    }

    /// The grids to run for a result on cells of `cell_m` over `extent`: the first one
    /// always, then halves of it while they are not finer than asked for. The first one
    /// is the longer side halved as often as comes nearest to what was asked for, so that
    /// pictures of 256, 512 or 1024 cells have a grid of their own as the last: no detail
    /// lies on top that no process has seen.
    pub fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        let first_m = self.first_cell_m(extent);
        let at = |k: i32| Level {
            cell_m: first_m / 2f64.powi(k),
            iterations: ((self.iterations as f64 * Self::FEWER.powi(k)).round() as usize)
                .max(Self::LEAST),
        };
        let mut levels = vec![at(0)];
        for k in 1.. {
            let level = at(k);
            if level.cell_m < cell_m * Level::SLACK {
                break;
            }
            levels.push(level);
        }
        levels
    }
}
