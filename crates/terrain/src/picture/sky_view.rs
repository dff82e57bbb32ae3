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
/// The horizon is looked for so far away at least, metres: what stands farther off
/// takes little of the sky.
const REACH_M: f64 = 1500.0;

/// Share of the sky that each cell sees, 0 to 1: 1 on a plain.
///
/// The horizon is looked up in eight directions at doubling distances, on a
/// grid halved as often, between its cells, so that the cost hardly grows with the
/// reach. The share follows from the horizon angles h as the mean of cos²h (Dozier
/// and Frew 1990, for level ground). Beyond the grid nothing rises.
pub fn sky_view(heights: &Grid, cell_m: f64) -> Grid {
    let mut pyramid = vec![heights.clone()];
    let mut reach_m = STEPS as f64 * cell_m;
    loop {
        let last = &pyramid[pyramid.len() - 1];
        if reach_m >= REACH_M || last.cols().min(last.rows()) <= 8 {
            break;
        }
        pyramid.push(halve(last));
        reach_m *= 2.0;
    }
    let (cols, rows) = (heights.cols(), heights.rows());
    Grid::by_rows(cols, rows, |r, out| {
        let here = heights.row(r);
        // Tangent of the horizon in each direction, a row of cells each.
        let mut steepest = vec![vec![0.0_f32; cols]; BEARINGS.len()];
        let (mut between, mut spread) = (Vec::new(), Vec::new());
        let mut eye = vec![0.0_f32; cols];
        for (k, level) in pyramid.iter().enumerate() {
            let side = 1 << k;
            let cell = cell_m as f32 * side as f32;
            // Halved grids raise the floor of a valley; whoever stands on it is
            // raised along, or it would hide the sky from itself.
            row_between(level, r, k, 0, &mut between);
            spread_out(&between, k, cols, &mut spread);
            let raised = &spread[padding(k)..padding(k) + cols];
            for (eye, (here, raised)) in eye.iter_mut().zip(here.iter().zip(raised)) {
                *eye = here.max(*raised);
            }
            for away in -STEPS..=STEPS {
                row_between(level, r, k, away, &mut between);
                spread_out(&between, k, cols, &mut spread);
                for ((dx, dy), steepest) in BEARINGS.iter().zip(&mut steepest) {
                    for step in 1..=STEPS {
                        if dy * step != away {
                            continue;
                        }
                        let first = (padding(k) as i64 + dx * step * side as i64) as usize;
                        let length = ((dx * dx + dy * dy) as f32).sqrt();
                        let per_m = 1.0 / (length * step as f32 * cell);
                        raise(steepest, &spread[first..first + cols], &eye, per_m);
                    }
                }
            }
        }
        share_of_sky(&steepest, out);
    })
}

/// What a grid that was halved `k` times has `away` of its rows from the full
/// grid's row `r`, between its rows. Beyond the grid its edge goes on, which from
/// farther away takes no more of the sky than the edge itself.
fn row_between(level: &Grid, r: usize, k: usize, away: i64, out: &mut Vec<f32>) {
    let place = (r as f32 + 0.5) / (1 << k) as f32 - 0.5;
    let part = place - place.floor();
    let row = |r: i64| level.row(r.clamp(0, level.rows() as i64 - 1) as usize);
    let first = place.floor() as i64 + away;
    let (a, b) = (row(first), row(first + 1));
    out.clear();
    out.extend(a.iter().zip(b).map(|(a, b)| a + part * (b - a)));
}

/// Cells of the full grid to the left of its first one in a row spread out.
fn padding(k: usize) -> usize {
    ((STEPS as usize) << k) + (1 << k) / 2
}

/// A row of a grid that was halved `k` times, between its cells, at each cell of
/// the full grid and on both sides of it as far as the horizon is looked up.
fn spread_out(row: &[f32], k: usize, cols: usize, out: &mut Vec<f32>) {
    let side = 1 << k;
    let at = |c: i64| row[c.clamp(0, row.len() as i64 - 1) as usize];
    out.clear();
    let mut c = -STEPS - i64::from(k > 0);
    while out.len() < cols + padding(k) + side * STEPS as usize {
        let (a, b) = (at(c), at(c + 1));
        match k {
            0 => out.push(a),
            _ => out.extend((0..side).map(|i| a + (i as f32 + 0.5) / side as f32 * (b - a))),
        }
        c += 1;
    }
}

/// Raises the horizon to what is seen over there.
#[multiversion::multiversion(targets = "simd")]
fn raise(steepest: &mut [f32], there: &[f32], eye: &[f32], per_m: f32) {
    for (steepest, (there, eye)) in steepest.iter_mut().zip(there.iter().zip(eye)) {
        *steepest = steepest.max((there - eye) * per_m);
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
