//! How much the land around shuts a place in.

use crate::Grid;

/// Bearings in which the horizon is looked for.
const BEARINGS: usize = 16;
/// Each look is this much farther away than the one before.
const FARTHER: f64 = 1.3;

/// Cells that [`sky_seen`] needs around the place.
pub fn sky_margin(reach_m: f64, cell_m: f64) -> usize {
    // One more for the second of the cells that a place lies between.
    (reach_m / cell_m).ceil() as usize + 1
}

/// Share of the sky that each cell sees past land within `reach_m`, 0 to 1: 1
/// on a plain.
///
/// The mean over sixteen bearings of cos² of the horizon's angle (sky view
/// factor of level ground, Dozier and Frew 1990). The horizon is looked for at
/// distances that grow by three tenths from one to the next, between the two
/// cells nearest to each place. `wide` has the margin of [`sky_margin`]; the result
/// does not. Local.
pub fn sky_seen(wide: &Grid, reach_m: f64, cell_m: f64) -> Grid {
    let margin = sky_margin(reach_m, cell_m);
    let (cols, rows) = (wide.cols() - 2 * margin, wide.rows() - 2 * margin);
    let rays: Vec<Vec<Look>> = (0..BEARINGS)
        .map(|k| ray(k as f64 / BEARINGS as f64, reach_m, cell_m, margin))
        .collect();
    Grid::by_rows(cols, rows, |r, out| {
        let here = &wide.row(r + margin)[margin..margin + cols];
        let mut steepest = vec![0.0_f32; cols];
        for ray in &rays {
            steepest.fill(0.0);
            for look in ray {
                let [a, b] = look.cells.map(|(cols, rows)| {
                    let row = wide.row((r as i64 + margin as i64 + rows) as usize);
                    let start = (margin as i64 + cols) as usize;
                    &row[start..start + here.len()]
                });
                raise(&mut steepest, here, a, b, look.turned, look.per_m);
            }
            add_open(out, &steepest);
        }
        for out in out.iter_mut() {
            *out *= 1.0 / BEARINGS as f32;
        }
    })
}

/// A place at which the horizon is looked for.
struct Look {
    /// The two cells on either side of it, as columns and rows from here.
    cells: [(i64, i64); 2],
    /// How far it is from the first to the second, 0 to 1.
    turned: f32,
    /// One over its distance, per metre.
    per_m: f32,
}

/// Looks along a bearing, given as a share of the full circle.
fn ray(turn: f64, reach_m: f64, cell_m: f64, margin: usize) -> Vec<Look> {
    // Half a step off the axes, so that no bearing is favoured.
    let angle = (turn + 0.5 / BEARINGS as f64) * std::f64::consts::TAU;
    let (east, south) = (angle.cos(), angle.sin());
    let longer = east.abs().max(south.abs());
    let mut looks = Vec::new();
    let mut step = 1_i64;
    // Whole cells along the longer axis, between two along the other.
    while step as f64 / longer * cell_m <= reach_m && step < margin as i64 {
        let along = |axis: f64| axis / longer * step as f64;
        let (cols, rows) = (along(east), along(south));
        let (c, r) = (cols.floor() as i64, rows.floor() as i64);
        let (cells, turned) = match east.abs() >= south.abs() {
            true => {
                let cols = cols.round() as i64;
                ([(cols, r), (cols, r + 1)], rows - r as f64)
            }
            false => {
                let rows = rows.round() as i64;
                ([(c, rows), (c + 1, rows)], cols - c as f64)
            }
        };
        looks.push(Look {
            cells,
            turned: turned as f32,
            per_m: (longer / (step as f64 * cell_m)) as f32,
        });
        step = ((step as f64 * FARTHER) as i64).max(step + 1);
    }
    looks
}

#[multiversion::multiversion(targets = "simd")]
fn raise(steepest: &mut [f32], here: &[f32], a: &[f32], b: &[f32], turned: f32, per_m: f32) {
    let n = steepest.len();
    let (here, a, b) = (&here[..n], &a[..n], &b[..n]);
    for i in 0..n {
        let there = a[i] + turned * (b[i] - a[i]);
        steepest[i] = steepest[i].max((there - here[i]) * per_m);
    }
}

#[multiversion::multiversion(targets = "simd")]
fn add_open(out: &mut [f32], steepest: &[f32]) {
    let steepest = &steepest[..out.len()];
    for (out, s) in out.iter_mut().zip(steepest) {
        // cos²(atan s)
        *out += 1.0 / (1.0 + s * s);
    }
}
