//! Moving the surface along its normal.

use rayon::prelude::*;

use crate::{Cancelled, Frame, Grid, Run};

/// Cells around the result that [`displaced_along_normal`] needs, when no
/// point moves farther than `farthest_m`.
pub fn displacement_margin(farthest_m: f64, cell_m: f64) -> usize {
    // One for the normal, one for the far corner of a quad.
    (farthest_m.abs() / cell_m).ceil() as usize + 2
}

/// A point of the moved surface: offset from its own cell in cells, height.
#[derive(Clone, Copy, Default)]
struct Moved {
    east: f32,
    south: f32,
    height: f32,
}

/// `wide`, standing on `wide_frame`, with each point moved along the surface
/// normal by `distance_m` (metres, on `wide_frame`; never more than
/// `farthest_m`), seen on `frame`.
///
/// A heightfield has one height at each place: where the moved surface folds
/// over itself the highest part shows, and where it is torn open the land
/// below shows. Local when `wide` has [`displacement_margin`] cells around.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn displaced_along_normal(
    wide: &Grid,
    wide_frame: &Frame,
    distance_m: &Grid,
    farthest_m: f64,
    frame: &Frame,
    run: Run,
) -> Result<Grid, Cancelled> {
    let (cols, rows) = (wide.cols(), wide.rows());
    let cell_m = frame.cell_m as f32;
    let moved: Grid<(f32, f32, f32)> = Grid::by_rows(cols, rows, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            let at = |c: usize, r: usize| wide.at(c.min(cols - 1), r.min(rows - 1));
            let slope = 0.5 / cell_m;
            let east = (at(c + 1, r) - at(c.saturating_sub(1), r)) * slope;
            let south = (at(c, r + 1) - at(c, r.saturating_sub(1))) * slope;
            let length = (1.0 + east * east + south * south).sqrt();
            let by = distance_m.at(c, r) / length;
            let in_cells = by / cell_m;
            *out = (-east * in_cells, -south * in_cells, wide.at(c, r) + by);
        }
    });
    run.check()?;
    let (col0, row0) = wide_frame
        .offset_of(frame)
        .expect("wide reaches around the frame");
    let reach = (farthest_m.abs() / frame.cell_m).ceil() as usize + 1;
    let at = |c: usize, r: usize| {
        let (east, south, height) = moved.at(c, r);
        Moved {
            east,
            south,
            height,
        }
    };
    let mut out = Grid::filled(frame.cols, frame.rows, f32::NEG_INFINITY);
    out.values_mut()
        .par_chunks_mut(frame.cols.max(1))
        .enumerate()
        .for_each(|(r, out)| {
            if run.check().is_err() {
                return;
            }
            let row = row0 + r;
            // Every quad that may have come to lie over this row.
            for qr in row.saturating_sub(reach + 1)..(row + reach + 1).min(rows - 1) {
                for qc in 0..cols - 1 {
                    let corners = [
                        (at(qc, qr), 0.0, 0.0),
                        (at(qc + 1, qr), 1.0, 0.0),
                        (at(qc, qr + 1), 0.0, 1.0),
                        (at(qc + 1, qr + 1), 1.0, 1.0),
                    ]
                    .map(|(m, dx, dy): (Moved, f32, f32)| (m.east + dx, m.south + dy, m.height));
                    // This row as counted from the quad's own.
                    let y = row as f32 - qr as f32;
                    lay_triangle([corners[0], corners[1], corners[2]], y, qc, col0, out);
                    lay_triangle([corners[1], corners[3], corners[2]], y, qc, col0, out);
                }
            }
            for (c, out) in out.iter_mut().enumerate() {
                if *out == f32::NEG_INFINITY {
                    *out = wide.at(col0 + c, row);
                }
            }
        });
    run.check()?;
    Ok(out)
}

/// Raises the cells of one row that a triangle covers. Coordinates are cells,
/// counted from the quad's corner (`quad` columns from the wide grid's edge),
/// so that a window has the bits of the whole.
fn lay_triangle(
    [a, b, c]: [(f32, f32, f32); 3],
    y: f32,
    quad: usize,
    col0: usize,
    out: &mut [f32],
) {
    if y < a.1.min(b.1).min(c.1) || y > a.1.max(b.1).max(c.1) {
        return;
    }
    let area = (b.0 - a.0) * (c.1 - a.1) - (c.0 - a.0) * (b.1 - a.1);
    if area == 0.0 {
        return;
    }
    let first = a.0.min(b.0).min(c.0).ceil() as i64;
    let last = a.0.max(b.0).max(c.0).floor() as i64;
    let shift = quad as i64 - col0 as i64;
    let last = last.min(out.len() as i64 - 1 - shift);
    for i in first.max(-shift)..=last {
        let x = i as f32;
        let wa = ((b.0 - x) * (c.1 - y) - (c.0 - x) * (b.1 - y)) / area;
        let wb = ((c.0 - x) * (a.1 - y) - (a.0 - x) * (c.1 - y)) / area;
        let wc = 1.0 - wa - wb;
        /// Rounding must not open cracks between neighbours.
        const EDGE: f32 = -1e-5;
        if wa >= EDGE && wb >= EDGE && wc >= EDGE {
            let height = wa * a.2 + wb * b.2 + wc * c.2;
            let cell = &mut out[(i + shift) as usize];
            *cell = cell.max(height);
        }
    }
}
