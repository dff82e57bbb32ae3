//! One step of time for the whole of a grid: what each node is like, and what the groves make
//! of that.

use std::ops::Range;

use rayon::prelude::*;

use super::floors::Bank;
use super::grove::{Grove, GroveLaw, LOOK_EVERY, Spot, groves, look_up, raised, split};
use super::{AgeLaw, FIRM, Ground};
use crate::erosion::drainage::{Drainage, FlowDirections};
use crate::erosion::nodes::Nodes;
use crate::{Cancelled, Grid, Run};

/// What one step has moved.
pub(super) struct Carried {
    /// By how much each cell was lowered against where it had risen to, metres; below
    /// 0 where sediment was laid down.
    pub(super) lowered: Grid,
    /// Sediment that left over the outlets, metres summed over cells.
    pub(super) carried_off: f64,
    /// Land that drains through each cell, itself included, in cells.
    pub(super) area: Vec<f32>,
}

/// One step of time on the nodes of one grid.
pub(super) struct Step<'a> {
    /// Heights of the nodes, metres.
    pub(super) heights: &'a Grid,
    /// Where their water goes.
    pub(super) drainage: &'a Drainage,
    pub(super) nodes: &'a Nodes,
    pub(super) ground: Ground<'a>,
    pub(super) law: AgeLaw,
    pub(super) cell_m: f64,
    pub(super) years: f64,
}

/// Fall of what fills a hollow towards its brim, metres per metre: gravel and silt do
/// not come to rest quite level.
const FILL_FALL: f32 = 2e-3;

/// So many nodes are made ready at a time: the first grids have a few thousand, for all threads.
const TOGETHER: usize = 1 << 11;

/// What fills the sea stands so far above it, metres: a shore that is just as high as
/// the sea would be a speckle of land and water.
pub(super) const ABOVE_SEA_M: f32 = 0.8;

impl Step<'_> {
    /// Cuts, slides, carries and lays down.
    pub(super) fn carry(&self, run: Run) -> Result<Carried, Cancelled> {
        let order = &self.drainage.order;
        let receivers = self.receivers_in_order(run)?;
        let groves = groves(&receivers);
        let area = self.areas_in_order(&receivers, &groves, run)?;
        // By how much each is lowered, and before that how far inside a floor it lies: there
        // is never room for both in the cells of the finest grids.
        let mut lowered_in_order = vec![0.0_f32; order.len()];
        if self.law.floors_m > 0.0
            && let Some(inside) = self.floors(&receivers, &area, run)?
        {
            for (lowered, &cell) in lowered_in_order.iter_mut().zip(order) {
                *lowered = inside.values()[cell as usize];
            }
        }
        let parts: Vec<_> = groves
            .iter()
            .zip(split(&groves, &mut lowered_in_order))
            .collect();
        let law = self.grove_law();
        // What is known of each node is large: there is no more of it at a time than of the
        // groves that are worked on.
        let carried_off = parts.into_par_iter().map(|(grove, lowered)| {
            let spots = self.spots(grove, &receivers, &area, lowered, run)?;
            let first = grove.start;
            Grove {
                first,
                spots: &spots,
            }
            .sweep(law, lowered, run)
        });
        let carried_off: Vec<f64> = carried_off.collect::<Result<_, _>>()?;
        drop(receivers);
        let mut lowered = Grid::filled(self.heights.cols(), self.heights.rows(), 0.0);
        let mut area_by_cell = vec![0.0; order.len()];
        for ((&cell, by), area) in order.iter().zip(lowered_in_order).zip(area) {
            lowered.values_mut()[cell as usize] = by;
            area_by_cell[cell as usize] = area;
        }
        Ok(Carried {
            lowered,
            carried_off: carried_off.iter().sum(),
            area: area_by_cell,
        })
    }

    fn grove_law(&self) -> GroveLaw {
        GroveLaw {
            deposition: self.law.deposition as f32,
            slope_exponent: self.law.slope_exponent as f32,
            sea_takes: self.law.sea_takes as f32,
            fill_rise: FILL_FALL * self.cell_m as f32,
        }
    }

    /// How much land drains through each node, in cells, in the order of work.
    fn areas_in_order(
        &self,
        receivers: &[u32],
        groves: &[Range<usize>],
        run: Run,
    ) -> Result<Vec<f32>, Cancelled> {
        if self.law.directions == FlowDirections::Spread {
            let area = self.drainage.area_by(FlowDirections::Spread);
            let order = self.drainage.order.iter();
            return Ok(order.map(|&cell| area[cell as usize]).collect());
        }
        let mut area = vec![1.0_f32; receivers.len()];
        let parts: Vec<_> = groves.iter().zip(split(groves, &mut area)).collect();
        parts.into_par_iter().try_for_each(|(grove, area)| {
            // Upstream first, so that what comes is complete.
            for k in (0..area.len()).rev() {
                look_up(k, run)?;
                let receiver = receivers[grove.start + k] as usize - grove.start;
                if receiver != k {
                    area[receiver] += area[k];
                }
            }
            Ok(())
        })?;
        Ok(area)
    }

    /// The receiver of each node, both counted in the order of work: neighbours in it
    /// are neighbours in memory too, or each look would wait for it.
    fn receivers_in_order(&self, run: Run) -> Result<Vec<u32>, Cancelled> {
        let order = &self.drainage.order;
        let mut place = vec![0_u32; order.len()];
        for (&cell, k) in order.iter().zip(0..) {
            look_up(k as usize, run)?;
            place[cell as usize] = k;
        }
        let mut receivers = vec![0; order.len()];
        let parts = receivers
            .par_chunks_mut(LOOK_EVERY)
            .zip(order.par_chunks(LOOK_EVERY));
        parts.try_for_each(|(receivers, cells)| {
            run.check()?;
            for (receiver, &cell) in receivers.iter_mut().zip(cells) {
                *receiver = place[self.drainage.receivers[cell as usize] as usize];
            }
            Ok(())
        })?;
        Ok(receivers)
    }

    /// The nodes of a grove, which lie so far `inside` the floors of rivers, in cells.
    fn spots(
        &self,
        grove: &Range<usize>,
        receivers: &[u32],
        area: &[f32],
        inside: &[f32],
        run: Run,
    ) -> Result<Vec<Spot>, Cancelled> {
        let (cell_m, years, law) = (self.cell_m, self.years, self.law);
        let scale = law.erodibility * years * (cell_m * cell_m).powf(law.area_exponent)
            / cell_m.powf(law.slope_exponent);
        let (scale, exponent) = (scale as f32, law.area_exponent as f32);
        let debris = (law.debris_m2 / (cell_m * cell_m)).powf(law.area_exponent) as f32;
        let steepness = law.slope_exponent as f32;
        let (cell, sea) = (cell_m as f32, law.sea_level_m as f32);
        let [before, filled, uplift, erodibility, critical_slope] = [
            self.heights,
            &self.drainage.filled,
            self.ground.uplift,
            self.ground.erodibility,
            self.ground.critical_slope,
        ]
        .map(Grid::values);
        let spot = |i: u32, receiver: u32, area: f32, inside: f32| {
            let i = i as usize;
            let below = self.drainage.receivers[i] as usize;
            let per_cell = match below == i {
                true => 1.0,
                false => self.nodes.between(i, below),
            };
            let under_water = filled[i] > before[i] || before[i] < sea;
            let brim = match before[i] < sea {
                true => sea + ABOVE_SEA_M,
                false => filled[i] + FILL_FALL * cell,
            };
            let firm = erodibility[i] <= FIRM || (below == i && before[i] >= sea);
            Spot {
                receiver,
                before: before[i],
                risen: match firm {
                    true => before[i],
                    false => before[i] + uplift[i] * years as f32,
                },
                brim: match under_water && !firm {
                    true => brim,
                    false => f32::NEG_INFINITY,
                },
                base: match before[i] < sea {
                    true => f32::NEG_INFINITY,
                    false => sea,
                },
                factor: match before[i] < sea || firm {
                    true => 0.0,
                    false => {
                        let cuts = area.powf(exponent) + debris;
                        scale * erodibility[i] * cuts * raised(per_cell, steepness)
                    }
                },
                most_above: match firm {
                    true => f32::INFINITY,
                    false if inside > 0.0 && before[i] >= sea => Bank {
                        inside_cells: inside,
                        height: before[i] - before[below],
                        way: cell / per_cell,
                        most_above: critical_slope[i] * cell / per_cell,
                        erodibility: erodibility[i],
                        cell,
                    }
                    .planed(),
                    false => critical_slope[i] * cell / per_cell,
                },
                per_area: 1.0 / area,
            }
        };
        let order = &self.drainage.order;
        let mut spots = vec![Spot::default(); grove.len()];
        let parts = spots.par_chunks_mut(TOGETHER).enumerate();
        parts.try_for_each(|(part, spots)| {
            run.check()?;
            for (k, made) in (grove.start + part * TOGETHER..).zip(spots) {
                *made = spot(order[k], receivers[k], area[k], inside[k - grove.start]);
            }
            Ok(())
        })?;
        Ok(spots)
    }
}
