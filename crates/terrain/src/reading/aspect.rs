//! Which way the land faces.

use super::horn::for_each_gradient;
use super::slope::arctangent;
use crate::Grid;

/// The aspect of level ground, which faces nowhere.
pub const FLAT: f32 = -1.0;

/// The compass bearing that each cell faces (downhill), degrees from 0 to
/// 360: 0 north, 90 east. Level ground is [`FLAT`].
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn aspect_deg(heights: &Grid, cell_m: f64) -> Grid {
    for_each_gradient(heights, cell_m, bearing_row)
}

#[multiversion::multiversion(targets = "simd")]
fn bearing_row(east: &[f32], north: &[f32], out: &mut [f32]) {
    for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
        *out = bearing(-e, -n);
    }
}

/// Angle between what each cell faces and the bearing `towards_deg`, degrees
/// from 0 (faces it) to 180 (turned away). Level ground stands between: 90.
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn facing_deg(heights: &Grid, cell_m: f64, towards_deg: f64) -> Grid {
    let towards = towards_deg.rem_euclid(360.0) as f32;
    aspect_deg(heights, cell_m).map(|aspect| {
        let apart = (aspect - towards).abs();
        if aspect == FLAT {
            90.0
        } else {
            apart.min(360.0 - apart)
        }
    })
}

/// Compass bearing of a vector, degrees.
#[inline(always)]
fn bearing(east: f32, north: f32) -> f32 {
    // Angle from the nearer of the two axes, then unfolded by quadrant; all by
    // choosing, without branches, so that it runs in SIMD lanes.
    let ratio = if north == 0.0 {
        f32::INFINITY
    } else {
        (east / north).abs()
    };
    let angle = arctangent(ratio).to_degrees();
    let from_north = if north >= 0.0 { angle } else { 180.0 - angle };
    let turned = if east >= 0.0 {
        from_north
    } else {
        360.0 - from_north
    };
    let turned = if turned >= 360.0 {
        turned - 360.0
    } else {
        turned
    };
    if east == 0.0 && north == 0.0 {
        FLAT
    } else {
        turned
    }
}
