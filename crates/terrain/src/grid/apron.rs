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

/// The same as [`with_apron`] for a grid that comes a few rows at a time, from the first one
/// on: bands of it with one more cell on every side.
pub struct ApronBands {
    cols: usize,
    /// Rows with their aprons that the next band begins with.
    held: Vec<f32>,
    /// Whether the row above the first one is among them, or was.
    begun: bool,
}

impl ApronBands {
    /// For rows of `cols` cells.
    pub fn of(cols: usize) -> Self {
        Self {
            cols,
            held: Vec::new(),
            begun: false,
        }
    }

    /// Takes whole rows; the band of all rows that can be told now, if there are any. With
    /// the `last` of them, that of all that are left.
    ///
    /// # Panics
    /// When these are no whole rows.
    pub fn take(&mut self, rows: &[f32], last: bool) -> Option<Grid> {
        let (cols, wide) = (self.cols, self.cols + 2);
        assert!(rows.len().is_multiple_of(cols), "whole rows");
        let line = |near: f32, next: f32| 2.0 * near - next;
        self.held.reserve(rows.len() / cols * wide + 2 * wide);
        for row in rows.chunks_exact(cols) {
            self.held.push(line(row[0], row[1.min(cols - 1)]));
            self.held.extend_from_slice(row);
            let (last, before) = (row[cols - 1], row[cols.saturating_sub(2)]);
            self.held.push(line(last, before));
        }
        let beyond = |near: &[f32], next: &[f32]| -> Vec<f32> {
            let pairs = near.iter().zip(next);
            pairs.map(|(near, next)| line(*near, *next)).collect()
        };
        if !self.begun {
            let count = self.held.len() / wide;
            if count < 2 && !(last && count == 1) {
                return None;
            }
            let second = 1.min(count - 1) * wide;
            let above = beyond(&self.held[..wide], &self.held[second..second + wide]);
            self.held.splice(0..0, above);
            self.begun = true;
        }
        let count = self.held.len() / wide;
        if last {
            // Of one row alone, that row is the one before as well.
            let (near, next) = (count - 1, (count - 2).max(1));
            let row = |at: usize| &self.held[at * wide..(at + 1) * wide];
            let below = beyond(row(near), row(next));
            self.held.extend(below);
        }
        let count = self.held.len() / wide;
        if count < 3 {
            return None;
        }
        let mut rest = Vec::new();
        if !last {
            rest.extend_from_slice(&self.held[(count - 2) * wide..]);
        }
        let band = std::mem::replace(&mut self.held, rest);
        Some(Grid::from_vec(wide, count, band).expect("whole rows"))
    }
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
