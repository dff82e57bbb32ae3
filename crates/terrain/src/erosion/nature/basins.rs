//! The laws that drainage basins obey in nature, measured.

use super::super::drainage::{Drainage, drain};
use super::slope;
use crate::{Cancelled, Grid, Run};

/// Measures of a piece of land. `None` where it has too few rivers to tell.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Geomorphology {
    /// Exponent h in L ∝ Aʰ, with L the longest way to a place and A the land
    /// that drains to it; 0.5 to 0.65 in nature (Hack 1957).
    pub hack: Option<f64>,
    /// How many times more streams there are of each lower order; 3 to 5
    /// (Horton 1945, with the orders of Strahler 1957).
    pub bifurcation: Option<f64>,
    /// How many times longer streams are of each higher order; 1.5 to 3.5
    /// (Horton 1945).
    pub length: Option<f64>,
    /// Mean height as a share of the way from the lowest to the highest:
    /// about 0.6 for young land, 0.35 for old (Strahler 1952).
    pub hypsometric: f64,
    /// Exponent θ in S ∝ A^−θ along streams; 0.4 to 0.7 (Tucker and Whipple
    /// 2002).
    pub concavity: Option<f64>,
}

/// Streams begin where this share of the land drains through, but never with
/// fewer cells than the other.
const STREAM_SHARE: f64 = 4e-4;
const STREAM_CELLS: f64 = 30.0;
/// Orders with fewer streams than this are left out: they tell little.
const LEAST_STREAMS: usize = 2;

/// Networks that leave the land with an order of more than this below the
/// highest are left out: a rill that runs straight into the sea is no basin.
const LOWER_ORDERS: u8 = 1;

/// Measures `heights` on cells of `cell_m`; what is below `sea_level_m` is sea.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn geomorphology(
    heights: &Grid,
    cell_m: f64,
    sea_level_m: f32,
    run: Run,
) -> Result<Geomorphology, Cancelled> {
    let drainage = drain(heights, sea_level_m, run)?;
    Ok(geomorphology_of(&drainage, heights, cell_m, sea_level_m))
}

/// The same with the drainage known.
pub(super) fn geomorphology_of(
    drainage: &Drainage,
    heights: &Grid,
    cell_m: f64,
    sea_level_m: f32,
) -> Geomorphology {
    let area = drainage.area_cells();
    let least = (STREAM_SHARE * heights.values().len() as f64).max(STREAM_CELLS) as f32;
    let order = drainage.strahler(&area, least);
    let basins = in_large_basins(drainage, &order);
    let streams = Streams::of(drainage, &order, &basins, heights.cols());
    let land: Vec<f64> = heights
        .values()
        .iter()
        .filter(|height| **height >= sea_level_m)
        .map(|height| f64::from(*height))
        .collect();
    let low = land.iter().copied().fold(f64::INFINITY, f64::min);
    let high = land.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let mean = land.iter().sum::<f64>() / land.len().max(1) as f64;
    let streamy = |i: usize| order[i] > 0 && basins[i];
    let hack = (0..area.len())
        .filter(|&i| streamy(i))
        .map(|i| (f64::from(area[i]).ln(), f64::from(streams.way[i]).ln()));
    let orders = |values: &[(f64, f64)]| slope(values.iter().copied());
    let (counts, lengths) = streams.by_order();
    Geomorphology {
        hack: slope(hack),
        bifurcation: orders(&counts).map(|slope| (-slope).exp()),
        length: orders(&lengths).map(f64::exp),
        hypsometric: match high > low {
            true => (mean - low) / (high - low),
            false => 0.5,
        },
        concavity: concavity(drainage, &area, least, &streamy, heights.cols(), cell_m),
    }
}

/// Whether each cell drains through a network that leaves the land with one of
/// the highest orders.
fn in_large_basins(drainage: &Drainage, order: &[u8]) -> Vec<bool> {
    // The order with which the water of each cell leaves the land: that of
    // the last cell before an outlet.
    let mut leaves = vec![0_u8; order.len()];
    for &i in &drainage.order {
        let i = i as usize;
        let receiver = drainage.receivers[i] as usize;
        let mouth = drainage.receivers[receiver] as usize == receiver;
        leaves[i] = match mouth {
            true => order[i],
            false => leaves[receiver],
        };
    }
    let highest = leaves.iter().copied().max().unwrap_or(0);
    let least = highest.saturating_sub(LOWER_ORDERS).max(1);
    leaves.into_iter().map(|order| order >= least).collect()
}

/// The streams of a land.
struct Streams {
    /// Longest way from any source to each cell, in cells.
    way: Vec<f32>,
    /// Order and length in cells of every stream, from one meeting to the next.
    streams: Vec<(u8, f32)>,
}

impl Streams {
    fn of(drainage: &Drainage, order: &[u8], counts: &[bool], cols: usize) -> Self {
        let n = order.len();
        let mut way = vec![1.0_f32; n];
        // Length of the stream so far that each cell belongs to.
        let mut run = vec![0.0_f32; n];
        let mut streams = Vec::new();
        let is_outlet = |i: usize| drainage.receivers[i] as usize == i;
        for &i in drainage.order.iter().rev() {
            let i = i as usize;
            let receiver = drainage.receivers[i] as usize;
            let step = distance(i, receiver, cols);
            if receiver != i {
                way[receiver] = way[receiver].max(way[i] + step);
            }
            // What runs along the border or in the sea is no stream of the land.
            if order[i] == 0 || !counts[i] || receiver == i {
                continue;
            }
            run[i] += step;
            match order[receiver] == order[i] && !is_outlet(receiver) {
                true => run[receiver] = run[receiver].max(run[i]),
                false => streams.push((order[i], run[i])),
            }
        }
        Self { way, streams }
    }

    /// The logarithms of how many streams there are of each order, and of how
    /// long they are in the mean.
    fn by_order(&self) -> (Points, Points) {
        let highest = self.streams.iter().map(|(order, _)| *order).max();
        let (mut counts, mut lengths) = (Vec::new(), Vec::new());
        for order in 1..=highest.unwrap_or(0) {
            let of = self.streams.iter().filter(|stream| stream.0 == order);
            let (count, sum) = of.fold((0, 0.0), |(n, sum), stream| {
                (n + 1, sum + f64::from(stream.1))
            });
            if count >= LEAST_STREAMS {
                counts.push((f64::from(order), (count as f64).ln()));
                lengths.push((f64::from(order), (sum / count as f64).ln()));
            }
        }
        (counts, lengths)
    }
}

/// Places of a measure against another, both as logarithms or orders.
type Points = Vec<(f64, f64)>;

/// From a cell to its receiver, in cells.
pub(super) fn distance(i: usize, receiver: usize, cols: usize) -> f32 {
    match i % cols != receiver % cols && i / cols != receiver / cols {
        true => std::f32::consts::SQRT_2,
        false => 1.0,
    }
}

/// Mean slope in classes of drainage area, and the exponent that fits them.
fn concavity(
    drainage: &Drainage,
    area: &[f32],
    least: f32,
    streamy: &dyn Fn(usize) -> bool,
    cols: usize,
    cell_m: f64,
) -> Option<f64> {
    /// Classes in each tenfold of area, and the fewest cells that tell.
    const CLASSES: f64 = 5.0;
    const LEAST_CELLS: usize = 20;
    let mut classes: Vec<(f64, f64, usize)> = Vec::new();
    for (i, &receiver) in drainage.receivers.iter().enumerate() {
        let receiver = receiver as usize;
        if receiver == i || !streamy(i) {
            continue;
        }
        let heights = drainage.filled.values();
        let fall = f64::from(heights[i] - heights[receiver]);
        let slope = fall / (cell_m * f64::from(distance(i, receiver, cols)));
        let class = (CLASSES * f64::from(area[i] / least).log10()).floor() as usize;
        if classes.len() <= class {
            classes.resize(class + 1, (0.0, 0.0, 0));
        }
        let (sum_area, sum_slope, count) = &mut classes[class];
        *sum_area += f64::from(area[i]).ln();
        *sum_slope += slope;
        *count += 1;
    }
    let points = classes
        .iter()
        .filter(|(_, slope, count)| *count >= LEAST_CELLS && *slope > 0.0)
        .map(|(area, slope, count)| (area / *count as f64, (slope / *count as f64).ln()));
    slope(points).map(|slope| -slope)
}
