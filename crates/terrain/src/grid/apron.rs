//! Extra cells around a grid, for kernels that look at neighbours.

use super::Grid;

/// A grid with one more cell on every side, continued in a straight line
/// from the two outermost cells (a single row or column is repeated).
///
/// This is for grids that come from a file and have nothing beyond their
/// edge; where the land can be grown beyond, grow it.
pub fn with_apron(grid: &Grid) -> Grid {
    let (cols, rows) = (grid.cols(), grid.rows());
    let line = |near: f32, next: f32| 2.0 * near - next;
    let widened = |row: &[f32], out: &mut [f32]| {
        out[1..=cols].copy_from_slice(row);
        out[0] = line(row[0], row[1.min(cols - 1)]);
        out[cols + 1] = line(row[cols - 1], row[cols.saturating_sub(2)]);
    };
    let mut out = Grid::by_rows(cols + 2, rows + 2, |r, out| {
        if (1..=rows).contains(&r) {
            widened(grid.row(r - 1), out);
        }
    });
    let wide = cols + 2;
    let values = out.values_mut();
    for c in 0..wide {
        let second = 2.min(rows);
        values[c] = line(values[wide + c], values[second * wide + c]);
        let (last, before) = (rows, rows.saturating_sub(1).max(1));
        values[(rows + 1) * wide + c] = line(values[last * wide + c], values[before * wide + c]);
    }
    out
}

/// The grid without `margin` cells on every side.
///
/// # Panics
/// When the grid is smaller than the two margins.
pub fn without_apron<T: Copy + Send + Sync>(grid: &Grid<T>, margin: usize) -> Grid<T> {
    grid.cropped(
        margin,
        margin,
        grid.cols() - 2 * margin,
        grid.rows() - 2 * margin,
    )
}

/// A grid with `margin` more cells on every side, which repeat the outermost.
pub fn with_edge_repeated(grid: &Grid, margin: usize) -> Grid {
    let (cols, rows) = (grid.cols(), grid.rows());
    let inside = |i: usize, count: usize| i.saturating_sub(margin).min(count - 1);
    Grid::by_rows(cols + 2 * margin, rows + 2 * margin, |r, out| {
        let row = grid.row(inside(r, rows));
        for (c, out) in out.iter_mut().enumerate() {
            *out = row[inside(c, cols)];
        }
    })
}
