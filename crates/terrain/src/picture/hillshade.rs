//! The classic shaded relief of maps.

use crate::Grid;
use crate::light::Sun;
use crate::reading::for_each_gradient;

/// Shaded relief: 1 in the dark, 255 facing the sun (Horn 1981); the same
/// scale as `gdaldem hillshade`.
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn hillshade(heights: &Grid, cell_m: f64, sun: Sun, exaggeration: f32) -> Grid<u8> {
    let light = sun.direction();
    for_each_gradient(heights, cell_m, |east, north, out| {
        shade_row(light, exaggeration, east, north, out);
    })
}

#[multiversion::multiversion(targets = "simd")]
fn shade_row(
    [east_light, north_light, up_light]: [f32; 3],
    exaggeration: f32,
    east: &[f32],
    north: &[f32],
    out: &mut [u8],
) {
    for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
        let (e, n) = (e * exaggeration, n * exaggeration);
        // The surface normal is (−e, −n, 1), not yet of length one.
        let facing = up_light - e * east_light - n * north_light;
        let cosine = facing / (1.0 + e * e + n * n).sqrt();
        // Never below 1, so that half a step more and cutting off rounds.
        *out = (1.5 + 254.0 * cosine.max(0.0)) as u8;
    }
}
