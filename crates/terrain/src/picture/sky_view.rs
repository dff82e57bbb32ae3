//! How much sky a place sees.

use crate::Grid;
use crate::grid::halve;

/// Where the horizon is looked up: columns to the east, rows to the south.
const BEARINGS: [(i64, i64); 8] = [
    (1, 0),
    (1, 1),
    (0, 1),
    (-1, 1),
    (-1, 0),
    (-1, -1),
    (0, -1),
    (1, -1),
];
/// Looks one, two and three cells away on each halved grid.
const STEPS: i64 = 3;
const LEVELS: usize = 5;

/// Share of the sky that each cell sees, 0 to 1: 1 on a plain.
///
/// The horizon is looked up in eight directions at doubling distances, on a
/// grid halved as often, so that the cost does not grow with the reach. The
/// share follows from the horizon angles h as the mean of cos²h (Dozier and
/// Frew 1990, for level ground).
pub fn sky_view(heights: &Grid, cell_m: f64) -> Grid {
    let mut pyramid = vec![heights.clone()];
    while pyramid.len() < LEVELS && pyramid[pyramid.len() - 1].cols().min(heights.rows()) > 8 {
        pyramid.push(halve(&pyramid[pyramid.len() - 1]));
    }
    let (cols, rows) = (heights.cols(), heights.rows());
    Grid::by_rows(cols, rows, |r, out| {
        let here = heights.row(r);
        // Tangent of the horizon in each direction, a row of cells each.
        let mut steepest = vec![vec![0.0_f32; cols]; BEARINGS.len()];
        let mut spread = Vec::new();
        for (k, level) in pyramid.iter().enumerate() {
            let cell = cell_m as f32 * (1 << k) as f32;
            for away in -STEPS..=STEPS {
                let row = (r >> k) as i64 + away;
                if row < 0 || row >= level.rows() as i64 {
                    continue;
                }
                let pad = (STEPS as usize) << k;
                spread_out(level.row(row as usize), k, cols, pad, &mut spread);
                for ((dx, dy), steepest) in BEARINGS.iter().zip(&mut steepest) {
                    for step in 1..=STEPS {
                        if dy * step != away {
                            continue;
                        }
                        let first = (pad as i64 + ((dx * step) << k)) as usize;
                        let length = ((dx * dx + dy * dy) as f32).sqrt();
                        let per_m = 1.0 / (length * step as f32 * cell);
                        raise(steepest, &spread[first..first + cols], here, per_m);
                    }
                }
            }
        }
        share_of_sky(&steepest, out);
    })
}

/// A row of a grid that was halved `k` times, with as many values as the full
/// grid has and `pad` more on both sides; nothing rises beyond the grid.
fn spread_out(row: &[f32], k: usize, cols: usize, pad: usize, out: &mut Vec<f32>) {
    out.clear();
    out.resize(pad, f32::NEG_INFINITY);
    for value in row {
        out.extend(std::iter::repeat_n(*value, 1 << k));
    }
    // An odd last cell was halved with itself and reaches beyond the grid.
    out.resize(cols + 2 * pad, f32::NEG_INFINITY);
}

/// Raises the horizon to what is seen over there.
#[multiversion::multiversion(targets = "simd")]
fn raise(steepest: &mut [f32], there: &[f32], here: &[f32], per_m: f32) {
    for (steepest, (there, here)) in steepest.iter_mut().zip(there.iter().zip(here)) {
        *steepest = steepest.max((there - here) * per_m);
    }
}

#[multiversion::multiversion(targets = "simd")]
fn share_of_sky(steepest: &[Vec<f32>], out: &mut [f32]) {
    out.fill(0.0);
    for steepest in steepest {
        for (sum, tangent) in out.iter_mut().zip(steepest) {
            // cos²(atan s) = 1 / (1 + s²)
            *sum += 1.0 / (1.0 + tangent * tangent);
        }
    }
    for sum in out {
        *sum /= BEARINGS.len() as f32;
    }
}
