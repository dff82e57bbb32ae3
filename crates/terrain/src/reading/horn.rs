//! The gradient of the land from eight neighbours (Horn 1981, "Hill shading
//! and the reflectance map").

use crate::Grid;

/// Calls `write(east, north, out)` for each row: the rise per metre towards
/// east and towards north in each of its cells.
///
/// `heights` has an apron of one cell; the grid made here does not.
pub fn for_each_gradient<T>(
    heights: &Grid,
    cell_m: f64,
    write: impl Fn(&[f32], &[f32], &mut [T]) + Sync,
) -> Grid<T>
where
    T: Copy + Send + Sync + Default,
{
    let (cols, rows) = (heights.cols() - 2, heights.rows() - 2);
    let scale = (1.0 / (8.0 * cell_m)) as f32;
    Grid::by_rows(cols, rows, |r, out| {
        // A chunk that stays in the nearest cache.
        const CHUNK: usize = 512;
        let (mut east, mut north) = ([0.0; CHUNK], [0.0; CHUNK]);
        let (above, here, below) = (heights.row(r), heights.row(r + 1), heights.row(r + 2));
        for (i, out) in out.chunks_mut(CHUNK).enumerate() {
            let n = out.len();
            let part = i * CHUNK..i * CHUNK + n + 2;
            let rows = [&above[part.clone()], &here[part.clone()], &below[part]];
            gradient_row(rows, scale, &mut east[..n], &mut north[..n]);
            write(&east[..n], &north[..n], out);
        }
    })
}

#[multiversion::multiversion(targets = "simd")]
fn gradient_row(
    [above, here, below]: [&[f32]; 3],
    scale: f32,
    east: &mut [f32],
    north: &mut [f32],
) {
    let n = east.len();
    let north = &mut north[..n];
    let (a0, a1, a2) = (&above[..n], &above[1..n + 1], &above[2..n + 2]);
    let (h0, h2) = (&here[..n], &here[2..n + 2]);
    let (b0, b1, b2) = (&below[..n], &below[1..n + 1], &below[2..n + 2]);
    for i in 0..n {
        let west = a0[i] + 2.0 * h0[i] + b0[i];
        let eastern = a2[i] + 2.0 * h2[i] + b2[i];
        let northern = a0[i] + 2.0 * a1[i] + a2[i];
        let south = b0[i] + 2.0 * b1[i] + b2[i];
        east[i] = (eastern - west) * scale;
        north[i] = (northern - south) * scale;
    }
}
