//! How much sun a place gets.

use super::horn::for_each_gradient;
use crate::Grid;
use crate::picture::Sun;

/// Each look for what stands in the way is this much farther than the last.
const FARTHER: f64 = 1.15;

/// Cells that [`sunlight`] needs around the place.
pub fn sun_margin(reach_m: f64, cell_m: f64) -> usize {
    (reach_m / cell_m).ceil() as usize + 1
}

/// How much of the sun's light falls on each cell, 0 to 1: the cosine of the
/// angle at which it falls (Lambert 1760), nothing in the shadow of land
/// within `reach_m`. `wide` has the margin of [`sun_margin`]. Local.
pub fn sunlight(wide: &Grid, reach_m: f64, cell_m: f64, sun: Sun) -> Grid {
    let margin = sun_margin(reach_m, cell_m);
    let (cols, rows) = (wide.cols() - 2 * margin, wide.rows() - 2 * margin);
    let [east, north, up] = sun.direction();
    if up <= 0.0 {
        return Grid::filled(cols, rows, 0.0);
    }
    let near = wide.cropped(margin - 1, margin - 1, cols + 2, rows + 2);
    let facing = for_each_gradient(&near, cell_m, |slope_east, slope_north, out| {
        for (out, (e, n)) in out.iter_mut().zip(slope_east.iter().zip(slope_north)) {
            let length = (1.0 + e * e + n * n).sqrt();
            *out = ((up - e * east - n * north) / length).max(0.0);
        }
    });
    let level = f64::from(east).hypot(f64::from(north));
    let rise = f64::from(up) / level.max(1e-9);
    let looks: Vec<(i64, i64, f32)> =
        std::iter::successors(Some(1.5_f64), |d| Some((d * FARTHER).max(d + 0.5)))
            .take_while(|distance| distance * cell_m <= reach_m)
            .map(|distance| {
                let cols = (distance * f64::from(east) / level.max(1e-9)).round();
                let rows = (-distance * f64::from(north) / level.max(1e-9)).round();
                let metres = cols.hypot(rows) * cell_m;
                (cols as i64, rows as i64, (metres * rise) as f32)
            })
            .collect();
    // A shadow's edge fades over what half a degree of sun is worth nearby.
    let soft = 1.0 / (0.5 * cell_m as f32);
    let heights = &near;
    Grid::by_rows(cols, rows, |r, out| {
        let here = &heights.row(r + 1)[1..cols + 1];
        let mut above = vec![0.0_f32; cols];
        for (look_cols, look_rows, ray_m) in &looks {
            let row = wide.row((r as i64 + margin as i64 + look_rows) as usize);
            let start = (margin as i64 + look_cols) as usize;
            let there = &row[start..start + cols];
            for ((above, there), here) in above.iter_mut().zip(there).zip(here) {
                *above = above.max(there - here - ray_m);
            }
        }
        let facing = facing.row(r);
        for ((out, above), facing) in out.iter_mut().zip(&above).zip(facing) {
            *out = facing * (1.0 - above * soft).clamp(0.0, 1.0);
        }
    })
}

/// Where the sun stands through one day, every hour that it is up, at a
/// latitude (north above 0) and a day of the year (1 to 365).
///
/// Declination after Cooper (1969); hours are those of the sun itself.
pub fn suns_of_day(latitude_deg: f64, day: u32) -> Vec<Sun> {
    let turn = 360.0 * (284.0 + f64::from(day)) / 365.0;
    let declination = (23.45 * turn.to_radians().sin()).to_radians();
    let latitude = latitude_deg.to_radians();
    (0..24)
        .map(|hour| (15.0 * (f64::from(hour) - 12.0)).to_radians())
        .filter_map(|hour| {
            let up = latitude.sin() * declination.sin()
                + latitude.cos() * declination.cos() * hour.cos();
            let east = -declination.cos() * hour.sin();
            let north = latitude.cos() * declination.sin()
                - latitude.sin() * declination.cos() * hour.cos();
            (up > 0.0).then(|| Sun {
                bearing_deg: east.atan2(north).to_degrees().rem_euclid(360.0),
                altitude_deg: up.asin().to_degrees(),
            })
        })
        .collect()
}
