//! Groves: what drains to one outlet, or to a few, where rivers cut, slopes slide, and all
//! of that goes down in one step of time.

use std::ops::Range;

use crate::{Cancelled, Run};

/// Sweeps of the implicit solution: in the first nothing is laid down, each of the
/// others lays down of what the one before carried (Yuan et al. 2019, section 2.2).
const SWEEPS: usize = 3;
/// The share of what rivers bring to the sea that is coarse enough to sink there; the
/// rest floats off (common practice: nine tenths of what rivers carry is fine).
const SINKS: f32 = 0.1;

/// Cells between two looks at whether to stop.
pub(super) const LOOK_EVERY: usize = 1 << 16;

/// A node, in the order in which they are worked on: each one after its receiver.
#[derive(Clone, Copy, Default)]
pub(super) struct Spot {
    /// The receiver's place in the order; its own at an outlet.
    pub(super) receiver: u32,
    /// Height before, metres, and after it has risen.
    pub(super) before: f32,
    pub(super) risen: f32,
    /// Height to which a hollow or the sea stands here; −∞ elsewhere.
    pub(super) brim: f32,
    /// No river cuts below this: the sea, metres.
    pub(super) base: f32,
    /// K·dt·Aᵐ over the distance to the receiver, to the power n.
    pub(super) factor: f32,
    /// How far it may stand above the receiver, metres.
    pub(super) most_above: f32,
    /// One over the land that drains through it, in cells.
    pub(super) per_area: f32,
}

impl Spot {
    /// Whether it lies under the sea.
    fn at_sea(&self) -> bool {
        self.base == f32::NEG_INFINITY
    }

    /// Where it stands above what lies `below` once a river that has `laid` so many metres
    /// down has cut, by the slope to the power `steepness`, and it has given way.
    #[inline(always)]
    fn cut_above(&self, below: f32, laid: f32, steepness: f32) -> f32 {
        // Standing water does not cut.
        let cuts = self.risen > below && self.factor > 0.0;
        let filled = self.risen + laid;
        let river = match cuts {
            true if steepness == 1.0 => (filled + self.factor * below) / (1.0 + self.factor),
            true => below + implicit_drop(filled - below, self.factor, steepness),
            false => self.risen,
        };
        river.min(below + self.most_above)
    }
}

/// What is the same for all groves.
#[derive(Clone, Copy)]
pub(super) struct GroveLaw {
    /// See [`AgeLaw`](super::AgeLaw).
    pub(super) deposition: f32,
    pub(super) slope_exponent: f32,
    pub(super) sea_takes: f32,
    /// What fills a hollow stands so far above its water, metres.
    pub(super) fill_rise: f32,
}

/// Nodes that belong together, in the order of work.
#[derive(Clone, Copy)]
pub(super) struct Grove<'a> {
    /// The place of the first of them in the order.
    pub(super) first: usize,
    pub(super) spots: &'a [Spot],
}

impl Grove<'_> {
    /// The place among its nodes of a node's receiver.
    #[inline(always)]
    fn receiver(&self, spot: &Spot) -> usize {
        spot.receiver as usize - self.first
    }

    /// Cuts what belongs together and sends down what that wears, as often as it takes: by
    /// how much each node was `lowered` against where it had risen to, metres. What leaves
    /// over the outlets and floats off in the sea, metres summed over cells.
    pub(super) fn sweep(
        self,
        law: GroveLaw,
        lowered: &mut [f32],
        run: Run,
    ) -> Result<f64, Cancelled> {
        let sweeps = if law.deposition > 0.0 { SWEEPS } else { 1 };
        let after = lowered;
        let mut arrives = vec![0.0_f32; self.spots.len()];
        let mut floats_off = 0.0;
        for sweep in 0..sweeps {
            let lays = if sweep == 0 { 0.0 } else { law.deposition };
            let mut levels = match sweep + 1 == sweeps {
                true => vec![f32::NEG_INFINITY; self.spots.len()],
                false => Vec::new(),
            };
            let rates = (lays, law.slope_exponent, law.fill_rise);
            cut(self, rates, &arrives, after, &mut levels, run)?;
            floats_off = send_down(self, &levels, law.sea_takes, after, &mut arrives, run)?;
        }
        let mut leaves = floats_off;
        for (k, spot) in self.spots.iter().enumerate() {
            if self.receiver(spot) == k {
                leaves += f64::from(arrives[k]);
            }
            after[k] = spot.risen - after[k];
        }
        Ok(leaves)
    }
}

/// Parts of the order of work that have nothing to do with each other: an outlet and all
/// that drains to it follow one another in it. The same whatever the number of threads.
pub(super) fn groves(receivers: &[u32]) -> Vec<Range<usize>> {
    /// Nodes of a grove at least: fewer are not worth a thread's while.
    const LEAST: usize = 1 << 11;
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
pub(super) fn split<'v>(
    groves: &[Range<usize>],
    mut values: &'v mut [f32],
) -> impl Iterator<Item = &'v mut [f32]> {
    groves.iter().map(move |grove| {
        let (part, rest) = std::mem::take(&mut values).split_at_mut(grove.len());
        values = rest;
        part
    })
}

/// Looks up from time to time whether to stop.
#[inline(always)]
pub(super) fn look_up(k: usize, run: Run) -> Result<(), Cancelled> {
    match k.is_multiple_of(LOOK_EVERY) {
        true => run.check(),
        false => Ok(()),
    }
}

/// `x` to the power `exponent`, which is 1 most of the time.
#[inline(always)]
pub(super) fn raised(x: f32, exponent: f32) -> f32 {
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
/// drains there, and cut by the slope to the power `steepness`. And how high what fills a
/// hollow may lie, where `levels` are asked for: `fill_rise` above the water that still stands
/// there. A hollow whose pass has been cut holds less than it did, or would be left as a knob.
fn cut(
    grove: Grove,
    (lays, steepness, fill_rise): (f32, f32, f32),
    arrives: &[f32],
    after: &mut [f32],
    levels: &mut [f32],
    run: Run,
) -> Result<(), Cancelled> {
    for (k, spot) in grove.spots.iter().enumerate() {
        look_up(k, run)?;
        let receiver = grove.receiver(spot);
        after[k] = match receiver == k {
            true => spot.before,
            false => {
                let laid = lays * arrives[k] * spot.per_area;
                spot.cut_above(after[receiver].max(spot.base), laid, steepness)
            }
        };
        if !levels.is_empty() {
            levels[k] = levels[receiver].max(after[k] + fill_rise);
        }
    }
    Ok(())
}

/// From the divides down: what `arrives` at each node, and what of it stays. In the last
/// sweep, in which there are `levels` up to which it may, standing water takes up what it can
/// hold; the sea `takes` a part of what comes, so that deltas have fronts and not cliffs.
/// Returns what floats off in the sea, metres summed over cells.
fn send_down(
    grove: Grove,
    levels: &[f32],
    takes: f32,
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
        if !levels.is_empty() && receiver != k && spot.brim > after[k] {
            after[k] = match spot.at_sea() {
                true => spot.brim.min(after[k] + takes * comes.max(0.0)),
                false => after[k].max(spot.brim.min(levels[k])),
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
