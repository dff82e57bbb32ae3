//! A row-major grid of values.

use rayon::prelude::*;

/// Why a grid could not be made of what was given.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum GridError {
    /// The number of values does not fit the size.
    #[error("a grid of {cols} × {rows} cells needs {} values, got {got}", cols * rows)]
    WrongLength {
        /// Columns asked for.
        cols: usize,
        /// Rows asked for.
        rows: usize,
        /// Values given.
        got: usize,
    },
    /// A value is NaN or infinite.
    #[error(
        "{count} of {total} values are not finite numbers, the first at column {col}, row {row}"
    )]
    NotFinite {
        /// How many values are not finite.
        count: usize,
        /// How many values there are.
        total: usize,
        /// Column of the first one.
        col: usize,
        /// Row of the first one.
        row: usize,
    },
}

/// Values in rows from north to south, each row from west to east.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Grid<T = f32> {
    cols: usize,
    rows: usize,
    values: Vec<T>,
}

impl<T> Grid<T> {
    /// Takes `values` as a grid of `cols` × `rows`.
    ///
    /// # Errors
    /// [`GridError::WrongLength`] when there are more or fewer values.
    pub fn from_vec(cols: usize, rows: usize, values: Vec<T>) -> Result<Self, GridError> {
        if cols.checked_mul(rows) != Some(values.len()) {
            return Err(GridError::WrongLength {
                cols,
                rows,
                got: values.len(),
            });
        }
        Ok(Self { cols, rows, values })
    }

    /// Number of columns.
    pub fn cols(&self) -> usize {
        self.cols
    }

    /// Number of rows.
    pub fn rows(&self) -> usize {
        self.rows
    }

    /// All values, row by row.
    pub fn values(&self) -> &[T] {
        &self.values
    }

    /// All values, row by row, to change in place.
    pub fn values_mut(&mut self) -> &mut [T] {
        &mut self.values
    }

    /// The grid as its bare values.
    pub fn into_values(self) -> Vec<T> {
        self.values
    }

    /// Row `row`, from west to east.
    pub fn row(&self, row: usize) -> &[T] {
        &self.values[row * self.cols..(row + 1) * self.cols]
    }
}

impl<T: Copy + Send + Sync> Grid<T> {
    /// A grid with `value` in every cell.
    pub fn filled(cols: usize, rows: usize, value: T) -> Self {
        Self {
            cols,
            rows,
            values: vec![value; cols * rows],
        }
    }

    /// The value in column `col` of row `row`.
    pub fn at(&self, col: usize, row: usize) -> T {
        self.values[row * self.cols + col]
    }

    /// A grid whose rows are written by `write(row, values)`, in parallel.
    pub fn by_rows(cols: usize, rows: usize, write: impl Fn(usize, &mut [T]) + Sync) -> Self
    where
        T: Default,
    {
        let mut grid = Self::filled(cols, rows, T::default());
        grid.for_each_row(write);
        grid
    }

    /// Rewrites each row with `write(row, values)`, in parallel.
    pub fn for_each_row(&mut self, write: impl Fn(usize, &mut [T]) + Sync) {
        if self.cols > 0 {
            self.values
                .par_chunks_mut(self.cols)
                .enumerate()
                .for_each(|(row, values)| write(row, values));
        }
    }

    /// A grid of `f` of each value.
    pub fn map<U>(&self, f: impl Fn(T) -> U + Sync) -> Grid<U>
    where
        U: Copy + Send + Sync + Default,
    {
        Grid::by_rows(self.cols, self.rows, |row, out| {
            for (out, &value) in out.iter_mut().zip(self.row(row)) {
                *out = f(value);
            }
        })
    }

    /// A grid of `f` of the values of two grids of one size.
    ///
    /// # Panics
    /// When the sizes differ.
    pub fn zip_map<U, V>(&self, other: &Grid<U>, f: impl Fn(T, U) -> V + Sync) -> Grid<V>
    where
        U: Copy + Send + Sync,
        V: Copy + Send + Sync + Default,
    {
        assert_eq!(
            (self.cols, self.rows),
            (other.cols, other.rows),
            "grids differ in size"
        );
        Grid::by_rows(self.cols, self.rows, |row, out| {
            let pairs = self.row(row).iter().zip(other.row(row));
            for (out, (&a, &b)) in out.iter_mut().zip(pairs) {
                *out = f(a, b);
            }
        })
    }

    /// Makes of each value `f` of itself and of the other's, in place.
    ///
    /// # Panics
    /// When the sizes differ.
    pub fn zip_in_place<U>(&mut self, other: &Grid<U>, f: impl Fn(T, U) -> T + Sync)
    where
        U: Copy + Send + Sync,
    {
        assert_eq!(
            (self.cols, self.rows),
            (other.cols, other.rows),
            "grids differ in size"
        );
        self.for_each_row(|row, values| {
            for (value, &there) in values.iter_mut().zip(other.row(row)) {
                *value = f(*value, there);
            }
        });
    }

    /// The part of `cols` × `rows` cells that begins at (`col`, `row`).
    ///
    /// # Panics
    /// When the part reaches beyond the grid.
    pub fn cropped(&self, col: usize, row: usize, cols: usize, rows: usize) -> Self {
        assert!(
            col + cols <= self.cols && row + rows <= self.rows,
            "crop beyond the grid"
        );
        let mut values = Vec::with_capacity(cols * rows);
        for r in row..row + rows {
            values.extend_from_slice(&self.row(r)[col..col + cols]);
        }
        Self { cols, rows, values }
    }

    /// Lays `part` over the cells that begin at (`col`, `row`).
    ///
    /// # Panics
    /// When the part reaches beyond the grid.
    pub fn lay(&mut self, part: &Self, col: usize, row: usize) {
        assert!(
            col + part.cols <= self.cols && row + part.rows <= self.rows,
            "a part beyond the grid"
        );
        for (r, line) in part.values.chunks_exact(part.cols).enumerate() {
            let first = (row + r) * self.cols + col;
            self.values[first..first + part.cols].copy_from_slice(line);
        }
    }
}

impl Grid<f32> {
    /// Lowest and highest value of each block of `side` by `side` cells; the last ones
    /// may be smaller.
    pub fn ranges_of_blocks(&self, side: usize) -> Grid<[f32; 2]> {
        let (cols, rows) = (self.cols().div_ceil(side), self.rows().div_ceil(side));
        Grid::by_rows(cols, rows, |block, out| {
            out.fill([f32::INFINITY, f32::NEG_INFINITY]);
            for r in block * side..((block + 1) * side).min(self.rows()) {
                for ([low, high], part) in out.iter_mut().zip(self.row(r).chunks(side)) {
                    for &value in part {
                        *low = low.min(value);
                        *high = high.max(value);
                    }
                }
            }
        })
    }

    /// Lowest and highest value; `(0, 0)` for an empty grid.
    pub fn range(&self) -> (f32, f32) {
        if self.values.is_empty() {
            return (0.0, 0.0);
        }
        self.values
            .par_chunks(1 << 16)
            .map(|part| {
                part.iter()
                    .fold((f32::INFINITY, f32::NEG_INFINITY), |(low, high), &v| {
                        (low.min(v), high.max(v))
                    })
            })
            .reduce(
                || (f32::INFINITY, f32::NEG_INFINITY),
                |a, b| (a.0.min(b.0), a.1.max(b.1)),
            )
    }

    /// Sum of all values in `f64`, added in a fixed order for any thread count.
    pub fn sum(&self) -> f64 {
        if self.cols == 0 {
            return 0.0;
        }
        let rows: Vec<f64> = self
            .values
            .par_chunks(self.cols)
            .map(|row| row.iter().map(|&v| f64::from(v)).sum())
            .collect();
        rows.iter().sum()
    }

    /// Refuses NaN and infinities.
    ///
    /// # Errors
    /// [`GridError::NotFinite`] with the place of the first one.
    pub fn check_finite(&self) -> Result<(), GridError> {
        let count = self.values.par_iter().filter(|v| !v.is_finite()).count();
        if count == 0 {
            return Ok(());
        }
        let first = self.values.iter().position(|v| !v.is_finite()).unwrap_or(0);
        Err(GridError::NotFinite {
            count,
            total: self.values.len(),
            col: first % self.cols,
            row: first / self.cols,
        })
    }
}
