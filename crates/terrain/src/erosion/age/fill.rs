//! Valley fill: in the end rivers have more to carry than they can, raise their beds, and bury
//! what lies lower beside them. Floors reach into side valleys, and hills stand in them like
//! islands.

use super::grove::look_up;
use super::{AgeLaw, Aging, FIRM};
use crate::erosion::neighbours::around;
use crate::{Cancelled, Grid, Run};

/// Fill deepens with the drainage area to this power, as the depth of rivers themselves does
/// (Leopold and Maddock 1953: 0.3 to 0.4 of the discharge, from memory).
const DEEPENS: f32 = 0.3;
/// Streams of less land raise nothing, km².
pub(super) const LEAST_KM2: f32 = 0.05;
/// Steeper rivers carry on all that comes: debris flows run through beds that fall by more
/// than some 0.2 (common practice).
const STEEP: f32 = 0.25;
/// The fall of a river is that over so many metres: from cell to cell it is chance.
const FALL_OVER_M: f32 = 150.0;
/// From an outlet up, beds are raised by so much more from metre to metre at most.
const RAMP: f32 = 0.015;
/// What lies beside a river rises by so much away from it, metres per metre, and so do fans
/// that it builds where so many km² drain; those of more land are flatter, with the area to this
/// power (Blair and McPherson 1994: fans fall by 0.03 and more, rivers' plains by less than
/// 0.01, from memory).
const FALL: f32 = 0.02;
const FAN_KM2: f32 = 0.15;
const FLATTENS: f32 = -0.4;
/// Behind what has been raised a bed falls by this share of what it fell by before (common
/// practice for check dams: a half to two thirds).
const DAMMED: f32 = 0.6;
/// Where the fill of one valley spills over into another it falls by so much, or by so many
/// times the fall of its river, if that is more.
const SPILL: f32 = 0.03;
const SPILL_FALLS: f32 = 1.5;
/// Looks at all that is filled, there and back, for where it spills.
const ROUNDS: usize = 2;

impl Aging {
    /// Fills valleys, each up to the bed that its river has raised by [`AgeLaw::fill_m`] at
    /// 1 km², and cuts into them again: by how much each cell was raised, metres. Outlets, the
    /// sea and ground that `gives` nothing stay.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop; the land is then unspecified.
    ///
    /// # Panics
    /// Before the first step: where the water goes is not known.
    pub fn fill_valleys(
        &mut self,
        erodibility: &Grid,
        law: AgeLaw,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let Raised { mut levels, falls } = self.raised(erodibility, law, run)?;
        let cell = self.frame.cell_m as f32;
        spill(&mut levels, &self.heights, &falls, cell, run)?;
        let mut levels = smooth(&levels, &self.heights);
        if law.terraces > 0.0 {
            levels = self.cut_again(&levels, &falls, law, run)?;
        }
        let laid = levels.zip_map(&self.heights, |level, height| level - height);
        self.heights = levels;
        Ok(laid)
    }

    /// From the outlets up: each bed is raised, and what lies beside it up to there.
    fn raised(&self, erodibility: &Grid, law: AgeLaw, run: Run) -> Result<Raised, Cancelled> {
        let (drainage, area) = self.drainage.as_ref().expect("a step has gone by");
        let (heights, erodibility) = (self.heights.values(), erodibility.values());
        let (cell, sea) = (self.frame.cell_m as f32, law.sea_level_m as f32);
        let (depth, least) = (law.fill_m as f32, LEAST_KM2.powf(DEEPENS));
        let mut raised = vec![0.0_f32; heights.len()];
        let mut falls = raised.clone();
        for (k, &i) in drainage.order.iter().enumerate() {
            look_up(k, run)?;
            let i = i as usize;
            let below = drainage.receivers[i] as usize;
            if below == i || heights[i] < sea || erodibility[i] <= FIRM {
                continue;
            }
            let area_km2 = area[i] * cell * cell * 1e-6;
            // Most of the land: a hillside above a bed that has not risen.
            if area_km2 <= LEAST_KM2 && raised[below] == 0.0 {
                continue;
            }
            let way = cell / self.nodes.between(i, below);
            falls[i] = falls[below];
            let (mut bed, mut beside) = (0.0_f32, FALL);
            if area_km2 > LEAST_KM2 {
                let fall = ((heights[i] - heights[below]) / way).max(0.0);
                let share = (way / FALL_OVER_M).min(1.0);
                falls[i] += share * (fall - falls[below]);
                let carries_on = (falls[i] / STEEP).powi(2).min(1.0);
                bed = depth * (area_km2.powf(DEEPENS) - least) * (1.0 - carries_on);
                bed = bed.min(raised[below] + RAMP * way);
                let fan = FALL * (area_km2 / FAN_KM2).powf(FLATTENS);
                beside = beside.min(fan).min(DAMMED * falls[i]);
            }
            // What lies low beside a river is buried with it, but no deeper.
            let level = heights[below].max(sea) + raised[below];
            let buried = raised[below].min(level + beside * way - heights[i]);
            let by = bed.max(buried);
            raised[i] = by.max(0.0);
        }
        let mut levels = self.heights.clone();
        for (level, by) in levels.values_mut().iter_mut().zip(raised) {
            *level += by;
        }
        Ok(Raised { levels, falls })
    }
}

/// Beds and what lies beside them.
struct Raised {
    /// How high each cell is now, metres.
    levels: Grid,
    /// The fall of the river that each drains to, metres per metre.
    falls: Vec<f32>,
}

/// Lowers what stands as a wall where the fill of two valleys meets: over a divide that it has
/// buried, the higher one runs down into the other. Nothing comes to lie below `heights`.
fn spill(
    levels: &mut Grid,
    heights: &Grid,
    falls: &[f32],
    cell_m: f32,
    run: Run,
) -> Result<(), Cancelled> {
    let size = (heights.cols(), heights.rows());
    let heights = heights.values();
    let levels = levels.values_mut();
    let mut lower = |i: usize| {
        if levels[i] <= heights[i] {
            return;
        }
        let rise = SPILL.max(SPILL_FALLS * falls[i]) * cell_m;
        let mut most = levels[i];
        for (there, distance) in around(i, size) {
            most = most.min(levels[there] + rise * distance);
        }
        levels[i] = most.max(heights[i]);
    };
    for _ in 0..ROUNDS {
        run.check()?;
        (0..heights.len()).for_each(&mut lower);
        run.check()?;
        (0..heights.len()).rev().for_each(&mut lower);
    }
    Ok(())
}

/// What is filled becomes as high as the fill around it: what the ways of water draw on level
/// ground would be seen.
fn smooth(levels: &Grid, heights: &Grid) -> Grid {
    let size @ (cols, rows) = (heights.cols(), heights.rows());
    let (levels, heights) = (levels.values(), heights.values());
    let filled = |i: usize| levels[i] > heights[i];
    Grid::by_rows(cols, rows, |r, row| {
        for (i, smoothed) in (r * cols..).zip(row) {
            *smoothed = levels[i];
            if filled(i) {
                let near = around(i, size).filter(|&(there, _)| filled(there));
                let higher: f32 = near.map(|(there, _)| levels[there] - levels[i]).sum();
                *smoothed = (levels[i] + higher / 9.0).max(heights[i]);
            }
        }
    })
}
