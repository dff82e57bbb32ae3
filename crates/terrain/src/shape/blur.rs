//! Gaussian blur, and sharpening by it.

use std::borrow::Cow;

use crate::grid::{halve, refined, resample, with_edge_repeated};
use crate::{Frame, Grid};

/// A blur wider than this many cells (its standard deviation) is taken on a
/// coarser grid: what it leaves is so smooth that no eye and hardly a float tells
/// them apart, and its cost does not grow with its radius.
const WIDEST_CELLS: f64 = 16.0;

/// How many times coarser by two the grid is on which a blur of `radius_m` is
/// taken for cells of `cell_m`: 0 for all but wide ones.
pub fn blur_halvings(radius_m: f64, cell_m: f64) -> u32 {
    match radius_m > WIDEST_CELLS * cell_m {
        true => (radius_m / (WIDEST_CELLS * cell_m)).log2().ceil() as u32,
        false => 0,
    }
}

/// Cells on either side that a blur of `radius_m` needs on its own grid: none when
/// it is so wide that it is taken on a coarser one.
pub fn near_blur_margin(radius_m: f64, cell_m: f64) -> usize {
    match blur_halvings(radius_m, cell_m) {
        0 => blur_margin(radius_m, cell_m),
        _ => 0,
    }
}

/// The mean of the eight cells around each one, those beside it four times the corners
/// (Patra and Karttunen 2006); at the edge its own cells stand in for those beyond.
pub fn mean_around(heights: &Grid) -> Grid {
    let (cols, rows) = (heights.cols(), heights.rows());
    Grid::by_rows(cols, rows, |r, row| {
        let near = [r.saturating_sub(1), r, (r + 1).min(rows - 1)];
        let [above, here, below] = near.map(|r| heights.row(r));
        for (c, mean) in row.iter_mut().enumerate() {
            let (w, e) = (c.saturating_sub(1), (c + 1).min(cols - 1));
            let beside = here[w] + here[e] + above[c] + below[c];
            let corners = above[w] + above[e] + below[w] + below[e];
            *mean = (4.0 * beside + corners) / 20.0;
        }
    })
}

/// `grid`, blurred as by [`blurred`], its outermost cells repeated beyond its edge.
/// Not local: wide blurs are taken of the grid's own halves.
pub fn blurred_to_the_edge(grid: &Grid, radius_m: f64, cell_m: f64) -> Grid {
    let halvings = blur_halvings(radius_m, cell_m);
    let coarse_m = cell_m * f64::from(halvings).exp2();
    let halved = (0..halvings).fold(Cow::Borrowed(grid), |grid, _| Cow::Owned(halve(&grid)));
    let wide = with_edge_repeated(&halved, blur_margin(radius_m, coarse_m));
    let soft = blurred(&wide, radius_m, coarse_m);
    if halvings == 0 {
        return soft;
    }
    let frame = Frame {
        north_m: 0.0,
        cell_m,
        col0: 0,
        row0: 0,
        cols: grid.cols(),
        rows: grid.rows(),
    };
    let coarse = Frame {
        cell_m: coarse_m,
        cols: soft.cols(),
        rows: soft.rows(),
        ..frame
    };
    let around = resample(&soft, &coarse, &frame.coarser(halvings));
    refined(&around, halvings, &frame)
}

/// Cells on either side whose weight is not negligible, for a blur of
/// `radius_m` (the standard deviation) on cells of `cell_m`.
pub fn blur_margin(radius_m: f64, cell_m: f64) -> usize {
    /// Weights beyond this many standard deviations sum to 0.3 %.
    const REACH: f64 = 3.0;
    (REACH * radius_m / cell_m).ceil() as usize
}

/// `wide`, blurred with a Gaussian whose standard deviation is `radius_m`, and
/// without the margin of [`blur_margin`] cells that it must have. Local.
pub fn blurred(wide: &Grid, radius_m: f64, cell_m: f64) -> Grid {
    let margin = blur_margin(radius_m, cell_m);
    let weights = weights(radius_m / cell_m, margin);
    let (cols, rows) = (wide.cols() - 2 * margin, wide.rows() - 2 * margin);
    let across = Grid::by_rows(cols, wide.rows(), |r, out| {
        let row = wide.row(r);
        for (i, weight) in weights.iter().enumerate() {
            add_scaled(out, &row[i..i + cols], *weight);
        }
    });
    Grid::by_rows(cols, rows, |r, out| {
        for (i, weight) in weights.iter().enumerate() {
            add_scaled(out, across.row(r + i), *weight);
        }
    })
}

/// A Gaussian averaged over each cell, so that a blur much narrower than a
/// cell fades to none.
fn weights(sigma: f64, margin: usize) -> Vec<f32> {
    if margin == 0 {
        return vec![1.0];
    }
    let margin = margin as i64;
    let below = |x: f64| 0.5 * (1.0 + error_function(x / (sigma * std::f64::consts::SQRT_2)));
    let share = |i: i64| below(i as f64 + 0.5) - below(i as f64 - 0.5);
    let raw: Vec<f64> = (-margin..=margin).map(share).collect();
    let sum: f64 = raw.iter().sum();
    raw.iter().map(|w| (w / sum) as f32).collect()
}

/// The error function within 1.5·10⁻⁷ (Abramowitz and Stegun 1964, 7.1.26).
fn error_function(x: f64) -> f64 {
    let t = 1.0 / (1.0 + 0.327_591_1 * x.abs());
    let factors = [
        1.061_405_429,
        -1.453_152_027,
        1.421_413_741,
        -0.284_496_736,
        0.254_829_592,
    ];
    let sum = factors.iter().fold(0.0, |sum, factor| (sum + factor) * t);
    (1.0 - sum * (-x * x).exp()).copysign(x)
}

#[multiversion::multiversion(targets = "simd")]
fn add_scaled(out: &mut [f32], row: &[f32], weight: f32) {
    for (out, value) in out.iter_mut().zip(row) {
        *out += weight * value;
    }
}
