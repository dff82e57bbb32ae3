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
    for_each_gradient(heights, cell_m, |east, north, out| {
        for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
            *out = bearing(-e, -n);
        }
    })
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
    if east == 0.0 && north == 0.0 {
        return FLAT;
    }
    // Angle from the nearer of the two axes, then unfolded by quadrant.
    let acute = match north == 0.0 {
        true => std::f32::consts::FRAC_PI_2,
        false => arctangent((east / north).abs()),
    };
    let angle = acute.to_degrees();
    let turned = match (east >= 0.0, north >= 0.0) {
        (true, true) => angle,
        (true, false) => 180.0 - angle,
        (false, false) => 180.0 + angle,
        (false, true) => 360.0 - angle,
    };
    if turned >= 360.0 {
        turned - 360.0
    } else {
        turned
    }
}
