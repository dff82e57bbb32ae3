//! How much of the sky a place sees.

use super::looks::{Look, looks};
use crate::Grid;

/// Bearings in which the horizon is looked for.
const BEARINGS: usize = 16;
/// Each look is this much farther away than the one before.
const FARTHER: f64 = 1.3;
/// How far pictures and maps of the land look for their horizon, metres: what stands
/// farther off takes little of the sky.
pub const SKY_REACH_M: f64 = 1500.0;

/// Share of the sky that each cell sees past land within `reach_m`, 0 to 1: 1
/// on a plain.
///
/// The mean over sixteen bearings of cos² of the horizon's angle (sky view
/// factor of level ground, Dozier and Frew 1990). The horizon is looked for at
/// distances that grow by three tenths from one to the next, between the two
/// cells nearest to each place. `wide` has `margin` cells around the result.
pub fn sky_seen(wide: &Grid, margin: usize, reach_m: f64, cell_m: f64) -> Grid {
    let (cols, rows) = (wide.cols() - 2 * margin, wide.rows() - 2 * margin);
    let rays: Vec<Vec<Look>> = (0..BEARINGS)
        .map(|k| {
            // Half a step off the axes, so that no bearing is favoured.
            let turn = (k as f64 + 0.5) / BEARINGS as f64;
            let (south, east) = (turn * std::f64::consts::TAU).sin_cos();
            looks(east, south, reach_m, cell_m, FARTHER)
        })
        .collect();
    Grid::by_rows(cols, rows, |r, out| {
        let here = &wide.row(r + margin)[margin..margin + cols];
        let mut steepest = vec![0.0_f32; cols];
        for ray in &rays {
            steepest.fill(0.0);
            for look in ray {
                if let Some(seen) = look.seen_from(r, wide, margin) {
                    seen.raise(&mut steepest, here, 0.0, (1.0 / look.distance_m) as f32);
                }
            }
            add_open(out, &steepest);
        }
        for out in out.iter_mut() {
            *out *= 1.0 / BEARINGS as f32;
        }
    })
}

#[multiversion::multiversion(targets = "simd")]
fn add_open(out: &mut [f32], steepest: &[f32]) {
    let steepest = &steepest[..out.len()];
    for (out, s) in out.iter_mut().zip(steepest) {
        // cos²(atan s)
        *out += 1.0 / (1.0 + s * s);
    }
}
