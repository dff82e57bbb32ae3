//! Masks that grow and shrink.

use crate::Grid;

/// Cells that [`grown`] needs around the place.
pub fn grow_margin(by_m: f64, cell_m: f64) -> usize {
    (by_m.abs() / cell_m).floor() as usize
}

/// A mask grown by `by_m` on all sides, or shrunk when that is below 0: each
/// cell takes the highest (the lowest) value within that distance. `wide` has
/// the margin of [`grow_margin`]; the result does not. Local.
pub fn grown(wide: &Grid, by_m: f64, cell_m: f64) -> Grid {
    match by_m >= 0.0 {
        true => highest_within(wide, by_m / cell_m),
        false => {
            let beyond = highest_within(&wide.map(|value| 1.0 - value), -by_m / cell_m);
            beyond.map(|value| 1.0 - value)
        }
    }
}

/// The highest value within `radius` cells.
fn highest_within(wide: &Grid, radius: f64) -> Grid {
    let margin = radius.floor() as usize;
    let (cols, rows) = (wide.cols() - 2 * margin, wide.rows() - 2 * margin);
    if margin == 0 {
        return wide.clone();
    }
    // Half the width of the disc at each distance from its middle row.
    let half = |dy: usize| (radius * radius - (dy * dy) as f64).sqrt().floor() as usize;
    Grid::by_rows(cols, rows, |r, out| {
        let middle = r + margin;
        let mut both = vec![0.0_f32; wide.cols()];
        for dy in 0..=margin {
            let (above, below) = (wide.row(middle - dy), wide.row(middle + dy));
            for ((both, above), below) in both.iter_mut().zip(above).zip(below) {
                *both = above.max(*below);
            }
            let half = half(dy);
            let (from, count) = (margin - half, cols + 2 * half);
            raise_by_window(out, &mut both[from..from + count], 2 * half + 1);
        }
    })
}

/// Raises `out` to the highest of each `width` values of `row` in turn. The
/// row is used up: windows of twice the width come from two of half.
fn raise_by_window(out: &mut [f32], row: &mut [f32], width: usize) {
    let mut have = 1;
    while 2 * have <= width {
        let n = row.len() - have;
        for i in 0..n {
            row[i] = row[i].max(row[i + have]);
        }
        have *= 2;
    }
    let rest = width - have;
    for (i, out) in out.iter_mut().enumerate() {
        *out = out.max(row[i]).max(row[i + rest]);
    }
}
