//! What rivers cut, what slides, and where it all goes, in one step of time.

use std::ops::Range;

use rayon::prelude::*;

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

/// Sweeps of the implicit solution: in the first nothing is laid down, each of the
/// others lays down of what the one before carried (Yuan et al. 2019, section 2.2).
const SWEEPS: usize = 3;
/// Fall of what fills a hollow towards its brim, metres per metre: gravel and silt do
/// not come to rest quite level.
const FILL_FALL: f32 = 2e-3;

/// What fills the sea stands so far above it, metres: a shore that is just as high as
/// the sea would be a speckle of land and water.
pub(super) const ABOVE_SEA_M: f32 = 0.8;

/// The share of what rivers bring to the sea that is coarse enough to sink there; the
/// rest floats off (common practice: nine tenths of what rivers carry is fine).
const SINKS: f32 = 0.1;

/// Cells between two looks at whether to stop.
const LOOK_EVERY: usize = 1 << 16;

/// A node, in the order in which they are worked on: each one after its receiver.
#[derive(Clone, Copy, Default)]
struct Spot {
    /// The receiver's place in the order; its own at an outlet.
    receiver: u32,
    /// Height before, metres, and after it has risen.
    before: f32,
    risen: f32,
    /// Height to which a hollow or the sea stands here; its own height elsewhere.
    brim: f32,
    /// No river cuts below this: the sea, metres.
    base: f32,
    /// K·dt·Aᵐ over the distance to the receiver, to the power n.
    factor: f32,
    /// How far it may stand above the receiver, metres.
    stands: f32,
    /// One over the land that drains through it, in cells.
    per_area: f32,
}

impl Spot {
    /// Whether it lies under the sea.
    fn at_sea(&self) -> bool {
        self.base == f32::NEG_INFINITY
    }
}

impl Step<'_> {
    /// Cuts, slides, carries and lays down.
    pub(super) fn carry(&self, run: Run) -> Result<Carried, Cancelled> {
        let order = &self.drainage.order;
        let receivers = self.receivers_in_order(run)?;
        let groves = groves(&receivers);
        let area = self.areas_in_order(&receivers, &groves, run)?;
        let spots = self.spots(&receivers, &area, run)?;
        let mut after = vec![0.0_f32; spots.len()];
        let mut arrives = vec![0.0_f32; spots.len()];
        let parts = split(&groves, &mut after).zip(split(&groves, &mut arrives));
        let parts: Vec<_> = groves.iter().zip(parts).collect();
        let floats_off = parts.into_par_iter().map(|(grove, (after, arrives))| {
            let (first, spots) = (grove.start, &spots[grove.clone()]);
            self.sweep(Grove { first, spots }, after, arrives, run)
        });
        let floats_off: Vec<f64> = floats_off.collect::<Result<_, _>>()?;
        let floats_off: f64 = floats_off.iter().sum();
        let outlets = (0..spots.len()).filter(|&k| spots[k].receiver as usize == k);
        let carried_off = outlets.map(|k| f64::from(arrives[k])).sum::<f64>() + floats_off;
        let mut lowered = Grid::filled(self.heights.cols(), self.heights.rows(), 0.0);
        let mut area_by_cell = vec![0.0; spots.len()];
        for (k, (&cell, spot)) in order.iter().zip(&spots).enumerate() {
            lowered.values_mut()[cell as usize] = spot.risen - after[k];
            area_by_cell[cell as usize] = area[k];
        }
        Ok(Carried {
            lowered,
            carried_off,
            area: area_by_cell,
        })
    }

    /// Cuts what belongs together and sends down what that wears, as often as it takes;
    /// what floats off in the sea, metres summed over cells.
    fn sweep(
        &self,
        grove: Grove,
        after: &mut [f32],
        arrives: &mut [f32],
        run: Run,
    ) -> Result<f64, Cancelled> {
        let (deposition, takes) = (self.law.deposition as f32, self.law.sea_takes as f32);
        let sweeps = if deposition > 0.0 { SWEEPS } else { 1 };
        let mut floats_off = 0.0;
        for sweep in 0..sweeps {
            let lays = if sweep == 0 { 0.0 } else { deposition };
            let law = (lays, self.law.slope_exponent as f32);
            cut(grove, law, arrives, after, run)?;
            let how = (sweep + 1 == sweeps, takes);
            floats_off = send_down(grove, how, after, arrives, run)?;
        }
        Ok(floats_off)
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

    fn spots(&self, receivers: &[u32], area: &[f32], run: Run) -> Result<Vec<Spot>, Cancelled> {
        let (cell_m, years, law) = (self.cell_m, self.years, self.law);
        let scale = law.erodibility * years * (cell_m * cell_m).powf(law.area_exponent)
            / cell_m.powf(law.slope_exponent);
        let (scale, exponent) = (scale as f32, law.area_exponent as f32);
        let debris = (law.debris_m2 / (cell_m * cell_m)).powf(law.area_exponent) as f32;
        let steepness = law.slope_exponent as f32;
        let (cell, sea) = (cell_m as f32, law.sea_level_m as f32);
        let [before, filled, rises, gives, stands] = [
            self.heights,
            &self.drainage.filled,
            self.ground.rises,
            self.ground.gives,
            self.ground.stands,
        ]
        .map(Grid::values);
        let spot = |i: u32, receiver: u32, area: f32| {
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
            let firm = gives[i] <= FIRM || (below == i && before[i] >= sea);
            Spot {
                receiver,
                before: before[i],
                risen: match firm {
                    true => before[i],
                    false => before[i] + rises[i] * years as f32,
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
                        scale * gives[i] * cuts * raised(per_cell, steepness)
                    }
                },
                stands: match firm {
                    true => f32::INFINITY,
                    false => stands[i] * cell / per_cell,
                },
                per_area: 1.0 / area,
            }
        };
        let order = &self.drainage.order;
        let mut spots = vec![Spot::default(); order.len()];
        let parts = spots.par_chunks_mut(LOOK_EVERY).enumerate();
        parts.try_for_each(|(part, spots)| {
            run.check()?;
            for (k, made) in (part * LOOK_EVERY..).zip(spots) {
                *made = spot(order[k], receivers[k], area[k]);
            }
            Ok(())
        })?;
        Ok(spots)
    }
}

/// Parts of the order of work that have nothing to do with each other: an outlet and all
/// that drains to it follow one another in it. The same whatever the number of threads.
fn groves(receivers: &[u32]) -> Vec<Range<usize>> {
    /// Nodes of a grove at least: fewer are not worth a thread's while.
    const LEAST: usize = 1 << 14;
    let mut groves = Vec::new();
    let mut start = 0;
    for (k, &receiver) in receivers.iter().enumerate() {
        if receiver as usize == k && k - start >= LEAST {
            groves.push(start..k);
            start = k;
        }
    }
    groves.push(start..receivers.len());
    groves
}

/// The groves' parts of `values`, which are in the order of work.
fn split<'v>(
    groves: &[Range<usize>],
    mut values: &'v mut [f32],
) -> impl Iterator<Item = &'v mut [f32]> {
    groves.iter().map(move |grove| {
        let (part, rest) = std::mem::take(&mut values).split_at_mut(grove.len());
        values = rest;
        part
    })
}

/// Nodes that belong together, in the order of work.
#[derive(Clone, Copy)]
struct Grove<'a> {
    /// The place of the first of them in the order.
    first: usize,
    spots: &'a [Spot],
}

impl Grove<'_> {
    /// The place among its nodes of a node's receiver.
    #[inline(always)]
    fn receiver(&self, spot: &Spot) -> usize {
        spot.receiver as usize - self.first
    }
}

/// Looks up from time to time whether to stop.
#[inline(always)]
fn look_up(k: usize, run: Run) -> Result<(), Cancelled> {
    match k.is_multiple_of(LOOK_EVERY) {
        true => run.check(),
        false => Ok(()),
    }
}

/// `x` to the power `exponent`, which is 1 most of the time.
#[inline(always)]
fn raised(x: f32, exponent: f32) -> f32 {
    match exponent == 1.0 {
        true => x,
        false => x.powf(exponent),
    }
}

/// The height above the receiver after the step, when it was `before`: x + f·xⁿ = before,
/// by Newton's iteration.
fn implicit_drop(before: f32, factor: f32, exponent: f32) -> f32 {
    /// The iteration stops at this change, metres.
    const CLOSE_M: f64 = 1e-4;
    const MOST: usize = 20;
    let [before, factor, exponent] = [before, factor, exponent].map(f64::from);
    let mut x = before;
    for _ in 0..MOST {
        let cut = factor * x.powf(exponent);
        let change = (x + cut - before) / (1.0 + exponent * cut / x.max(1e-12));
        x = (x - change).clamp(0.0, before);
        if change.abs() < CLOSE_M {
            break;
        }
    }
    x as f32
}

/// From the outlets up: where each node stands after rivers have cut and slopes have
/// given way, when they lay down the share `lays` of what `arrives` for each cell that
/// drains there, and cut by the slope to the power `steepness`.
fn cut(
    grove: Grove,
    (lays, steepness): (f32, f32),
    arrives: &[f32],
    after: &mut [f32],
    run: Run,
) -> Result<(), Cancelled> {
    for (k, spot) in grove.spots.iter().enumerate() {
        look_up(k, run)?;
        let receiver = grove.receiver(spot);
        if receiver == k {
            after[k] = spot.before;
            continue;
        }
        let below = after[receiver].max(spot.base);
        // Standing water does not cut.
        let cuts = spot.risen > below && spot.factor > 0.0;
        let river = match cuts {
            true => {
                let filled = spot.risen + lays * arrives[k] * spot.per_area;
                match steepness == 1.0 {
                    true => (filled + spot.factor * below) / (1.0 + spot.factor),
                    false => below + implicit_drop(filled - below, spot.factor, steepness),
                }
            }
            false => spot.risen,
        };
        after[k] = river.min(below + spot.stands);
    }
    Ok(())
}

/// From the divides down: what `arrives` at each node, and what of it stays. In the
/// `last` sweep standing water takes up what it can hold; the sea `takes` a part of what
/// comes, so that deltas have fronts and not cliffs. Returns what floats off in the
/// sea, metres summed over cells.
fn send_down(
    grove: Grove,
    (last, takes): (bool, f32),
    after: &mut [f32],
    arrives: &mut [f32],
    run: Run,
) -> Result<f64, Cancelled> {
    arrives.fill(0.0);
    let mut floats_off = 0.0;
    for (k, spot) in grove.spots.iter().enumerate().rev() {
        look_up(k, run)?;
        let receiver = grove.receiver(spot);
        let comes = arrives[k];
        if last && receiver != k && spot.brim > after[k] {
            after[k] = match spot.at_sea() {
                true => spot.brim.min(after[k] + takes * comes.max(0.0)),
                false => spot.brim,
            };
        }
        // No more is laid down than has come.
        after[k] = after[k].min(spot.risen + comes);
        let goes_on = comes + (spot.risen - after[k]);
        if receiver == k {
            arrives[k] = goes_on;
        } else if grove.spots[receiver].at_sea() && !spot.at_sea() {
            arrives[receiver] += SINKS * goes_on;
            floats_off += f64::from((1.0 - SINKS) * goes_on);
        } else {
            arrives[receiver] += goes_on;
        }
    }
    Ok(floats_off)
}
