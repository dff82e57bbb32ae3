//! How much sun a place gets.

use super::Sun;
use super::looks::{Look, looks};
use crate::Grid;
use crate::grid::without_apron;
use crate::reading::for_each_gradient;

/// Each look for what stands in the way is this much farther than the last: every
/// cell as far as fifty of them, where the edge of a shadow is sharpest.
const FARTHER: f64 = 1.02;
/// A shadow's edge fades over this share of a cell, as height.
const SOFT_CELLS: f64 = 0.5;

/// How much of the sun's light falls on each cell, 0 to 1: the cosine of the
/// angle at which it falls (Lambert 1760), nothing in the shadow of land
/// within `reach_m`. `wide` has `margin` cells around the result, one at least.
pub fn sunlight(wide: &Grid, margin: usize, reach_m: f64, cell_m: f64, sun: Sun) -> Grid {
    let (cols, rows) = (wide.cols() - 2 * margin, wide.rows() - 2 * margin);
    let [east, north, up] = sun.direction();
    if up <= 0.0 {
        return Grid::filled(cols, rows, 0.0);
    }
    let near = without_apron(wide, margin - 1);
    let facing = for_each_gradient(&near, cell_m, |slope_east, slope_north, out| {
        for (out, (e, n)) in out.iter_mut().zip(slope_east.iter().zip(slope_north)) {
            let length = (1.0 + e * e + n * n).sqrt();
            *out = ((up - e * east - n * north) / length).max(0.0);
        }
    });
    let (lowest, highest) = wide.range();
    let looks = towards(sun, highest - lowest, reach_m, cell_m);
    let soft = (1.0 / (SOFT_CELLS * cell_m)) as f32;
    Grid::by_rows(cols, rows, |r, out| {
        let here = &near.row(r + 1)[1..cols + 1];
        let mut above = vec![0.0_f32; cols];
        for (look, ray_m) in &looks {
            if let Some(seen) = look.seen_from(r, wide, margin) {
                seen.raise(&mut above, here, *ray_m, 1.0);
            }
        }
        for ((out, above), facing) in out.iter_mut().zip(&above).zip(facing.row(r)) {
            *out = facing * (1.0 - above * soft).clamp(0.0, 1.0);
        }
    })
}

/// Looks towards the sun, and how high its ray is there above where it arrives; no
/// farther than land that is `relief_m` high can be in its way.
fn towards(sun: Sun, relief_m: f32, reach_m: f64, cell_m: f64) -> Vec<(Look, f32)> {
    let [east, north, up] = sun.direction().map(f64::from);
    let level = east.hypot(north);
    // It stands overhead.
    if level < 1e-6 {
        return Vec::new();
    }
    let rise = up / level;
    looks(
        east,
        -north,
        reach_m.min(f64::from(relief_m) / rise),
        cell_m,
        FARTHER,
    )
    .into_iter()
    .map(|look| {
        let ray_m = (look.distance_m * rise) as f32;
        (look, ray_m)
    })
    .collect()
}
