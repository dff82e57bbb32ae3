//! The classic shaded relief of maps.

use super::Sun;
use crate::Grid;
use crate::reading::for_each_gradient;

/// Shaded relief: 1 in the dark, 255 facing the sun (Horn 1981); the same
/// scale as `gdaldem hillshade`.
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn hillshade(heights: &Grid, cell_m: f64, sun: Sun, exaggeration: f32) -> Grid<u8> {
    let [east_light, north_light, up_light] = sun.direction();
    for_each_gradient(heights, cell_m, |east, north, out| {
        for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
            let (e, n) = (e * exaggeration, n * exaggeration);
            // The surface normal is (−e, −n, 1), not yet of length one.
            let facing = up_light - e * east_light - n * north_light;
            let cosine = facing / (1.0 + e * e + n * n).sqrt();
            *out = (1.0 + 254.0 * cosine.max(0.0)).round() as u8;
        }
    })
}
