//! Gaussian blur, and sharpening by it.

use crate::Grid;

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
    /// Points on which the mean over a cell is taken.
    const POINTS: i32 = 8;
    if margin == 0 {
        return vec![1.0];
    }
    let at = |x: f64| (-0.5 * (x / sigma).powi(2)).exp();
    let mean = |i: i64| -> f64 {
        (0..POINTS)
            .map(|k| at(i as f64 + (f64::from(k) + 0.5) / f64::from(POINTS) - 0.5))
            .sum()
    };
    let margin = margin as i64;
    let raw: Vec<f64> = (-margin..=margin).map(mean).collect();
    let sum: f64 = raw.iter().sum();
    raw.iter().map(|w| (w / sum) as f32).collect()
}

#[multiversion::multiversion(targets = "simd")]
fn add_scaled(out: &mut [f32], row: &[f32], weight: f32) {
    for (out, value) in out.iter_mut().zip(row) {
        *out += weight * value;
    }
}
