//! Surface directions as a picture.

use crate::Grid;
use crate::reading::for_each_gradient;

/// The surface normal of each cell as 8-bit x, y, z: 0 is −1 and 255 is 1;
/// x east, y north (the convention of OpenGL: green is up), z out of the land.
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn normal_map(heights: &Grid, cell_m: f64) -> Grid<[u8; 3]> {
    for_each_gradient(heights, cell_m, |east, north, out| {
        for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
            let scale = 1.0 / (1.0 + e * e + n * n).sqrt();
            let byte = |v: f32| ((v * scale * 0.5 + 0.5) * 255.0).round() as u8;
            *out = [byte(-e), byte(-n), byte(1.0)];
        }
    })
}
