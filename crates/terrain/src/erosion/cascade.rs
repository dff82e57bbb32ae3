//! Erosion from grid to finer grid.

use super::water::Water;
use super::{Country, Ledger, Level, Storm};
use crate::grid::resample;
use crate::{Cancelled, Frame, Grid, Run};

/// What erosion left behind on one grid, all levels up to it together.
#[derive(Clone, Debug, PartialEq)]
pub struct Eroded {
    /// Where the fields below stand.
    pub frame: Frame,
    /// Ground worn, metres.
    pub wear: Grid,
    /// Ground laid down, metres.
    pub deposit: Grid,
    /// Mean discharge, m²/s.
    pub flow: Grid,
    /// Water left standing, metres.
    pub depth: Grid,
    /// Sediment still in the water, metres of ground.
    pub suspended: Grid,
    /// Where the ground went, summed over the levels. Each level closes on
    /// its own grid; what is carried over to a finer grid is interpolated and
    /// is not in the balance.
    pub ledger: Ledger,
}

impl Eroded {
    /// Change of the ground's height, metres.
    pub fn change(&self) -> Grid {
        self.deposit
            .zip_map(&self.wear, |deposit, wear| deposit - wear)
    }
}

/// Lets it rain on dry land: `heights` on the cells of `frame`.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn begin(
    heights: &Grid,
    frame: Frame,
    level: Level,
    storm: Storm,
    country: Country,
    run: Run,
) -> Result<Eroded, Cancelled> {
    let mut water = Water::on(heights, None, frame.cell_m, storm, country);
    water.run(level.iterations, run)?;
    Ok(Eroded {
        frame,
        wear: water.wear(),
        deposit: water.deposit(),
        flow: water.flow(),
        depth: water.depth(),
        suspended: water.suspended(),
        ledger: water.ledger(),
    })
}

/// Goes on with `coarse` on the finer grid of `frame`; `heights` is the land
/// before any erosion, on that grid.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
#[allow(clippy::too_many_arguments)] // `begin`'s, and what it begins with
pub fn refine(
    coarse: &Eroded,
    heights: &Grid,
    frame: Frame,
    level: Level,
    storm: Storm,
    country: Country,
    run: Run,
) -> Result<Eroded, Cancelled> {
    let finer = |grid: &Grid| resample(grid, &coarse.frame, &frame);
    // Cubic interpolation may swing below zero beside a deep cut.
    let wear = finer(&coarse.wear).map(|v| v.max(0.0));
    let deposit = finer(&coarse.deposit).map(|v| v.max(0.0));
    let change = deposit.zip_map(&wear, |deposit, wear| deposit - wear);
    let eroded = heights.zip_map(&change, |height, change| height + change);
    let standing = (&finer(&coarse.depth), &finer(&coarse.flow));
    let mut water = Water::on(&eroded, Some(standing), frame.cell_m, storm, country);
    water.run(level.iterations, run)?;
    Ok(Eroded {
        frame,
        wear: wear.zip_map(&water.wear(), |a, b| a + b),
        deposit: deposit.zip_map(&water.deposit(), |a, b| a + b),
        flow: water.flow(),
        depth: water.depth(),
        suspended: water.suspended(),
        ledger: coarse.ledger.and(water.ledger()),
    })
}
