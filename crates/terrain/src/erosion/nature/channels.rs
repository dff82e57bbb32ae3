//! Channels: whether they run down, which way, how dense they are and where they begin.

use std::f64::consts::TAU;

use super::super::drainage::Drainage;
use super::basins::distance;
use crate::Grid;

/// Measures of the channels of a piece of land.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Channels {
    /// Share of the steps along channels that lead uphill before hollows are filled, 0 to
    /// 1; a few hundredths on real elevation models.
    pub uphill: f64,
    /// How many times more often than the mean the most frequent of 16 directions is
    /// among channels.
    pub direction: Option<f64>,
    /// Length of channels over the land, km per km², where they begin with a tenth of a
    /// square kilometre (common practice on models of 10 to 100 m).
    pub density_per_km: f64,
    /// How far apart valleys join those that gather ten times as much; `None` where too few do.
    pub side_valleys: Option<Spacing>,
    /// The drainage area at which slopes stop growing and begin to fall with it, m²: where
    /// hillslopes end and channels begin (Montgomery and Foufoula-Georgiou 1993).
    pub bend_m2: Option<f64>,
}

/// How far apart things are along a line.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spacing {
    /// In the mean, metres.
    pub mean_m: f64,
    /// Standard deviation as a share of the mean: 0 when all are alike, 1 when they lie by
    /// chance (the exponential distribution of a Poisson process).
    pub spread: f64,
}

/// Channels for density begin where so much land drains through.
const SOURCE_M2: f64 = 1e5;
/// A channel has so many cells of drainage at least.
const CHANNEL_CELLS: f32 = 100.0;
/// For its direction, which is taken over so many steps, fewer do.
const DIRECTED_CELLS: f32 = 50.0;
const DIRECTED_STEPS: usize = 10;
const SECTORS: usize = 16;
/// Fewer steps along channels tell nothing of directions.
const LEAST_STEPS: usize = 500;

pub(super) fn channels_of(
    drainage: &Drainage,
    heights: &Grid,
    cell_m: f64,
    sea_level_m: f32,
) -> Channels {
    let area = drainage.area_cells();
    let (values, cols) = (heights.values(), heights.cols());
    let on_land = |i: usize| values[i] >= sea_level_m;
    let receiver = |i: usize| drainage.receivers[i] as usize;
    let (mut steps, mut uphill) = (0_usize, 0_usize);
    let mut sectors = [0_usize; SECTORS];
    let (mut length_m, mut land) = (0.0, 0_usize);
    let source = (SOURCE_M2 / (cell_m * cell_m)) as f32;
    for i in (0..values.len()).filter(|&i| on_land(i)) {
        land += 1;
        let to = receiver(i);
        if to == i {
            continue;
        }
        if area[i] >= source {
            length_m += cell_m * f64::from(distance(i, to, cols));
        }
        if area[i] >= CHANNEL_CELLS {
            steps += 1;
            uphill += usize::from(values[to] > values[i]);
        }
        if area[i] >= DIRECTED_CELLS {
            let end = (0..DIRECTED_STEPS).fold(i, |at, _| receiver(at));
            let along = |of: fn(usize, usize) -> usize| of(end, cols) as f64 - of(i, cols) as f64;
            let (east, south) = (along(|i, cols| i % cols), along(|i, cols| i / cols));
            // What has reached an outlet on the way has no direction of its own.
            if east.hypot(south) >= 0.5 * DIRECTED_STEPS as f64 && receiver(end) != end {
                let turn = (south.atan2(east) / TAU).rem_euclid(1.0);
                let sector = (turn * SECTORS as f64 + 0.5) as usize % SECTORS;
                sectors[sector] += 1;
            }
        }
    }
    let directed: usize = sectors.iter().sum();
    let most = sectors.iter().copied().max().unwrap_or(0);
    let land_km2 = land as f64 * cell_m * cell_m / 1e6;
    Channels {
        uphill: uphill as f64 / steps.max(1) as f64,
        direction: (directed >= LEAST_STEPS)
            .then(|| most as f64 * SECTORS as f64 / directed as f64),
        density_per_km: length_m / 1000.0 / land_km2.max(1e-9),
        side_valleys: side_valleys(drainage, &area, source, (values.len(), cols), cell_m),
        bend_m2: bend(drainage, &area, cell_m, on_land),
    }
}

/// How far apart channels with a `source` of so many cells meet those with ten times as much,
/// from either side.
fn side_valleys(
    drainage: &Drainage,
    area: &[f32],
    source: f32,
    (cells, cols): (usize, usize),
    cell_m: f64,
) -> Option<Spacing> {
    const MAIN: f32 = 10.0;
    const LEAST_MEETINGS: usize = 30;
    let is_channel = |i: usize| area[i] >= source;
    // The greatest channel that comes to each cell, and how many do.
    let mut main: Vec<Option<usize>> = vec![None; cells];
    let mut channels = vec![0_u8; cells];
    for i in (0..cells).filter(|&i| is_channel(i)) {
        let to = drainage.receivers[i] as usize;
        if to != i {
            channels[to] += 1;
            if main[to].is_none_or(|other| area[i] > area[other]) {
                main[to] = Some(i);
            }
        }
    }
    // How far the last meeting is behind, along the greatest channel; none until the first.
    let mut since: Vec<Option<f64>> = vec![None; cells];
    let mut apart = Vec::new();
    for &i in drainage.order.iter().rev() {
        let i = i as usize;
        let Some(from) = main[i] else {
            continue;
        };
        let way_m = cell_m * f64::from(distance(from, i, cols));
        since[i] = since[from].map(|behind_m| behind_m + way_m);
        if channels[i] > 1 && area[from] >= MAIN * source {
            apart.extend(since[i]);
            since[i] = Some(0.0);
        }
    }
    if apart.len() < LEAST_MEETINGS {
        return None;
    }
    let count = apart.len() as f64;
    let mean_m = apart.iter().sum::<f64>() / count;
    let varies = apart.iter().map(|m| (m - mean_m).powi(2)).sum::<f64>() / count;
    Some(Spacing {
        mean_m,
        spread: varies.sqrt() / mean_m,
    })
}

/// The drainage area with the steepest slopes in the mean, m². `None` where they grow
/// gentler from the first cell on: the cells are too large to show hillslopes.
fn bend(
    drainage: &Drainage,
    area: &[f32],
    cell_m: f64,
    on_land: impl Fn(usize) -> bool,
) -> Option<f64> {
    /// Classes of area to each doubling, and the fewest cells that tell.
    const CLASSES: f64 = 2.0;
    const LEAST_CELLS: usize = 50;
    let (heights, cols) = (drainage.filled.values(), drainage.filled.cols());
    let mut classes: Vec<(f64, usize)> = Vec::new();
    for (i, &to) in drainage.receivers.iter().enumerate() {
        let to = to as usize;
        if to == i || !on_land(i) {
            continue;
        }
        let reach_m = cell_m * f64::from(distance(i, to, cols));
        let class = (CLASSES * f64::from(area[i]).log2()).floor() as usize;
        if classes.len() <= class {
            classes.resize(class + 1, (0.0, 0));
        }
        classes[class].0 += f64::from(heights[i] - heights[to]) / reach_m;
        classes[class].1 += 1;
    }
    let means = classes
        .iter()
        .enumerate()
        .filter(|(_, (_, count))| *count >= LEAST_CELLS)
        .map(|(class, (sum, count))| (class, sum / *count as f64));
    let (class, _) = means.max_by(|a, b| a.1.total_cmp(&b.1))?;
    let cells = ((class as f64 + 0.5) / CLASSES).exp2();
    (class > 0).then_some(cells * cell_m * cell_m)
}
