//! How far it is to the nearest of some cells.

use rayon::prelude::*;

use crate::Grid;

/// Stands in for the distance where there is no such cell, in cells.
const NOWHERE: f32 = 1e12;

/// Distance from each cell's centre to that of the nearest cell where `is`
/// holds, metres; [`f32::INFINITY`] when it holds nowhere.
///
/// Exact: Felzenszwalb and Huttenlocher (2012), "Distance Transforms of
/// Sampled Functions": squared distances as lower envelopes of parabolas,
/// first along columns, then along rows. Distances up to 4096 cells are exact
/// to the last bit of their squares. Not local.
pub fn distance_m(values: &Grid, is: impl Fn(f32) -> bool + Sync, cell_m: f64) -> Grid {
    let (cols, rows) = (values.cols(), values.rows());
    let along = along_columns(values, is);
    let mut out = Grid::filled(cols, rows, 0.0);
    out.values_mut()
        .par_chunks_mut(cols.max(1))
        .zip(along.par_chunks(cols.max(1)))
        .for_each_init(
            || Envelope::new(cols),
            |envelope, (out, along)| {
                envelope.transform(along, out);
                for value in out.iter_mut() {
                    let squared = *value;
                    *value = match squared < NOWHERE {
                        true => squared.sqrt() * cell_m as f32,
                        false => f32::INFINITY,
                    };
                }
            },
        );
    out
}

/// Squared distance in cells to the nearest such cell of the same column: two
/// sweeps, each over whole rows.
fn along_columns(values: &Grid, is: impl Fn(f32) -> bool + Sync) -> Vec<f32> {
    /// Columns handled together: a few cache lines of each row.
    const STRIP: usize = 64;
    let (cols, rows) = (values.cols(), values.rows());
    let strips: Vec<(usize, Vec<f32>)> = (0..cols.div_ceil(STRIP))
        .into_par_iter()
        .map(|strip| {
            let first = strip * STRIP;
            let wide = STRIP.min(cols - first);
            let mut steps = vec![NOWHERE; wide * rows];
            let mut last = [NOWHERE; STRIP];
            for r in 0..rows {
                let row = &values.row(r)[first..first + wide];
                let steps = &mut steps[r * wide..(r + 1) * wide];
                for ((step, last), value) in steps.iter_mut().zip(&mut last).zip(row) {
                    *last = if is(*value) { 0.0 } else { *last + 1.0 };
                    *step = *last;
                }
            }
            let mut last = [NOWHERE; STRIP];
            for r in (0..rows).rev() {
                let steps = &mut steps[r * wide..(r + 1) * wide];
                for (step, last) in steps.iter_mut().zip(&mut last) {
                    *last = step.min(*last + 1.0);
                    *step = match *last < NOWHERE {
                        true => *last * *last,
                        false => NOWHERE,
                    };
                }
            }
            (first, steps)
        })
        .collect();
    let mut out = vec![0.0; cols * rows];
    for (first, steps) in strips {
        let wide = STRIP.min(cols - first);
        for (r, steps) in steps.chunks_exact(wide).enumerate() {
            let start = r * cols + first;
            out[start..start + wide].copy_from_slice(steps);
        }
    }
    out
}

/// The lower envelope of parabolas that stand on the cells of a row.
struct Envelope {
    /// Where each parabola stands, and from where on it is the lowest.
    stands: Vec<usize>,
    from: Vec<f32>,
}

impl Envelope {
    fn new(cells: usize) -> Self {
        Self {
            stands: vec![0; cells.max(1)],
            from: vec![0.0; cells + 1],
        }
    }

    fn transform(&mut self, heights: &[f32], out: &mut [f32]) {
        let n = heights.len();
        let (stands, from) = (&mut self.stands, &mut self.from);
        let mut count = 0;
        for (q, &height) in heights.iter().enumerate() {
            if height >= NOWHERE {
                continue;
            }
            let base = height + (q * q) as f32;
            loop {
                let Some(last) = (count > 0).then(|| stands[count - 1]) else {
                    (stands[0], from[0], count) = (q, f32::NEG_INFINITY, 1);
                    break;
                };
                let other = heights[last] + (last * last) as f32;
                let meet = (base - other) / (2.0 * (q - last) as f32);
                if meet > from[count - 1] {
                    (stands[count], from[count]) = (q, meet);
                    count += 1;
                    break;
                }
                count -= 1;
            }
        }
        if count == 0 {
            out.fill(NOWHERE);
            return;
        }
        let mut k = 0;
        for (q, out) in out.iter_mut().enumerate().take(n) {
            while k + 1 < count && from[k + 1] < q as f32 {
                k += 1;
            }
            let apart = q as f32 - stands[k] as f32;
            *out = apart * apart + heights[stands[k]];
        }
    }
}
