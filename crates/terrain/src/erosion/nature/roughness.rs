//! How rough land is from scale to scale.

use super::slope;
use crate::Grid;

/// Lags of the variogram, cells.
const LAGS: [usize; 6] = [1, 2, 4, 8, 16, 32];

/// Exponent β of the power spectrum of the land, P ∝ k^−β in two dimensions, from its
/// variogram: γ(d) ∝ d^2H and β = 2H + 2 (Mandelbrot's relation for fractal surfaces; Huang
/// and Turcotte 1989). `None` where there is too little land.
pub(super) fn spectrum_slope(heights: &Grid, sea_level_m: f32) -> Option<f64> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let lags = LAGS.iter().filter(|&&lag| 4 * lag < cols.min(rows));
    let points = lags.filter_map(|&lag| {
        let (mut sum, mut count) = (0.0, 0_usize);
        let mut look = |a: f32, b: f32| {
            if a >= sea_level_m && b >= sea_level_m {
                sum += f64::from(a - b).powi(2);
                count += 1;
            }
        };
        for r in 0..rows {
            for c in 0..cols {
                let here = heights.at(c, r);
                if c + lag < cols {
                    look(here, heights.at(c + lag, r));
                }
                if r + lag < rows {
                    look(here, heights.at(c, r + lag));
                }
            }
        }
        let mean = sum / count.max(1) as f64;
        (mean > 0.0).then(|| ((lag as f64).ln(), mean.ln()))
    });
    slope(points).map(|twice_hurst| twice_hurst + 2.0)
}
