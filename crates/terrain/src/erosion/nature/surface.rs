//! What tells made land from real land, measured.

use super::super::drainage::{Drainage, drain};
use crate::reading::for_each_gradient;
use crate::{Cancelled, Grid, Run};

/// Measures of a surface by which made land gives itself away. Slopes depend on the
/// cells: compare land on cells of one size.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Likeness {
    /// Share of the land that lies in closed hollows, 0 to 1; below 0.06 where there are
    /// no lakes.
    pub hollows: f64,
    /// Mean slope, degrees.
    pub slope_mean_deg: f64,
    /// The slope that a hundredth of the land is steeper than, degrees.
    pub slope_steep_deg: f64,
    /// How strongly slopes favour the four directions of a grid: the fourth harmonic of
    /// the aspect, weighted by slope, 0 to 1.
    pub four_ways: f64,
    /// The same for the eight directions: the eighth harmonic.
    pub eight_ways: f64,
    /// Median slope in a strip along the border, as a share of that inside.
    pub border: f64,
    /// How far the distributions of slopes in that strip and inside are apart: the
    /// statistic of Kolmogorov and Smirnov, 0 to 1.
    pub border_apart: f64,
    /// Skewness of the Laplacian: below 0 where crests are sharper than valleys, far
    /// above 0 with spikes and moats.
    pub skew: f64,
}

/// A hollow counts from this depth on, metres.
const DEEP_M: f32 = 0.01;
/// The aspect of land that is gentler is left out, degrees.
const GENTLE_DEG: f64 = 3.0;
/// The strip along the border, as a share of the shorter side.
const STRIP: f64 = 1.0 / 80.0;
const LEAST_STRIP: usize = 4;

/// Measures `heights` on cells of `cell_m`; what is below `sea_level_m` is sea.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn likeness(
    heights: &Grid,
    cell_m: f64,
    sea_level_m: f32,
    run: Run,
) -> Result<Likeness, Cancelled> {
    let drainage = drain(heights, sea_level_m, run)?;
    Ok(likeness_of(&drainage, heights, cell_m, sea_level_m))
}

/// The same with the drainage known.
pub(super) fn likeness_of(
    drainage: &Drainage,
    heights: &Grid,
    cell_m: f64,
    sea_level_m: f32,
) -> Likeness {
    let (cols, rows) = (heights.cols() - 2, heights.rows() - 2);
    let gradients = for_each_gradient(heights, cell_m, |east, north, out| {
        for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
            *out = [e, n];
        }
    });
    let strip = ((cols.min(rows) as f64 * STRIP) as usize).max(LEAST_STRIP);
    let (mut slopes, mut inside, mut outside) = (Vec::new(), Vec::new(), Vec::new());
    let (mut hollow, mut weight) = (0_usize, 0.0);
    let mut harmonics = [[0.0_f64; 2]; 2];
    let mut bends = Vec::new();
    for r in 0..rows {
        for c in 0..cols {
            let here = heights.at(c + 1, r + 1);
            if here < sea_level_m {
                continue;
            }
            hollow += usize::from(drainage.filled.at(c + 1, r + 1) - here > DEEP_M);
            let [east, north] = gradients.at(c, r).map(f64::from);
            let slope = east.hypot(north).atan();
            let aspect = north.atan2(east);
            slopes.push(slope);
            let middle = (strip..cols.saturating_sub(strip)).contains(&c)
                && (strip..rows.saturating_sub(strip)).contains(&r);
            if middle { &mut inside } else { &mut outside }.push(slope);
            if slope.to_degrees() > GENTLE_DEG {
                weight += slope.sin();
                for (sum, fold) in harmonics.iter_mut().zip([4.0, 8.0]) {
                    let (sin, cos) = (fold * aspect).sin_cos();
                    sum[0] += slope.sin() * cos;
                    sum[1] += slope.sin() * sin;
                }
            }
            let around = heights.at(c, r + 1)
                + heights.at(c + 2, r + 1)
                + heights.at(c + 1, r)
                + heights.at(c + 1, r + 2);
            bends.push(f64::from(around - 4.0 * here));
        }
    }
    let land = slopes.len().max(1) as f64;
    let [four, eight] = harmonics.map(|[cos, sin]| cos.hypot(sin) / weight.max(1e-12));
    let apart = farthest_apart(&mut inside, &mut outside);
    Likeness {
        hollows: hollow as f64 / land,
        slope_mean_deg: (slopes.iter().sum::<f64>() / land).to_degrees(),
        slope_steep_deg: quantile(&mut slopes, 0.99).to_degrees(),
        four_ways: four,
        eight_ways: eight,
        border: quantile(&mut outside, 0.5) / quantile(&mut inside, 0.5).max(1e-9),
        border_apart: apart,
        skew: skewness(&bends),
    }
}

fn quantile(values: &mut [f64], share: f64) -> f64 {
    let last = match values.len() {
        0 => return 0.0,
        count => count - 1,
    };
    *values
        .select_nth_unstable_by((last as f64 * share) as usize, f64::total_cmp)
        .1
}

/// The greatest difference between the cumulative shares of two samples.
fn farthest_apart(a: &mut [f64], b: &mut [f64]) -> f64 {
    a.sort_unstable_by(f64::total_cmp);
    b.sort_unstable_by(f64::total_cmp);
    if a.is_empty() || b.is_empty() {
        return 0.0;
    }
    let share =
        |of: &[f64], value: f64| of.partition_point(|v| *v <= value) as f64 / of.len() as f64;
    let values = b
        .iter()
        .map(|&value| (share(a, value) - share(b, value)).abs());
    values.fold(0.0, f64::max)
}

fn skewness(values: &[f64]) -> f64 {
    let n = values.len().max(1) as f64;
    let mean = values.iter().sum::<f64>() / n;
    let moment = |power| values.iter().map(|v| (v - mean).powi(power)).sum::<f64>() / n;
    moment(3) / moment(2).powf(1.5).max(1e-30)
}
