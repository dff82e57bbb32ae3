//! Where in the world the cells of a grid stand.

/// The land's size in metres. Its south-west corner is the world's origin.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Extent {
    /// From west to east, metres.
    pub width_m: f64,
    /// From south to north, metres.
    pub depth_m: f64,
}

impl Extent {
    /// The longer of the two sides, metres.
    pub fn longest_m(&self) -> f64 {
        self.width_m.max(self.depth_m)
    }
}

/// A lattice of square cells: which cells a grid has and where they stand.
///
/// All windows of one lattice share its north-west corner and cell size and
/// count their columns and rows from there, so that a cell's position is
/// computed by the same arithmetic whichever window it is seen in.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Frame {
    /// The lattice's north edge, metres north of the origin.
    pub north_m: f64,
    /// The side of a cell, metres.
    pub cell_m: f64,
    /// First column, counted from the lattice's west edge (x = 0).
    pub col0: i64,
    /// First row, counted from the lattice's north edge.
    pub row0: i64,
    /// Number of columns.
    pub cols: usize,
    /// Number of rows.
    pub rows: usize,
}

impl Frame {
    /// The lattice of cells of `cell_m` that covers `extent`.
    ///
    /// It is anchored at the north-west corner; the last column and row reach
    /// past the extent by less than a cell. Frames whose cells differ by a
    /// factor of two nest exactly.
    pub fn covering(extent: Extent, cell_m: f64) -> Self {
        // A whole number of cells must not become one more by rounding.
        const SLACK: f64 = 1e-9;
        let count = |length_m: f64| ((length_m / cell_m - SLACK).ceil() as usize).max(1);
        Self {
            north_m: extent.depth_m,
            cell_m,
            col0: 0,
            row0: 0,
            cols: count(extent.width_m),
            rows: count(extent.depth_m),
        }
    }

    /// The lattice with `cells` cells along the longer side of `extent`.
    pub fn with_cells(extent: Extent, cells: usize) -> Self {
        Self::covering(extent, extent.longest_m() / cells as f64)
    }

    /// East position of the centre of column `col`, metres.
    pub fn x_m(&self, col: usize) -> f64 {
        ((self.col0 + col as i64) as f64 + 0.5) * self.cell_m
    }

    /// North position of the centre of row `row`, metres.
    pub fn y_m(&self, row: usize) -> f64 {
        self.north_m - ((self.row0 + row as i64) as f64 + 0.5) * self.cell_m
    }

    /// Fractional column of the east position `x_m`; whole at cell centres.
    pub fn col_at(&self, x_m: f64) -> f64 {
        x_m / self.cell_m - 0.5 - self.col0 as f64
    }

    /// Fractional row of the north position `y_m`; whole at cell centres.
    pub fn row_at(&self, y_m: f64) -> f64 {
        (self.north_m - y_m) / self.cell_m - 0.5 - self.row0 as f64
    }

    /// The same lattice seen through `margin` more cells on every side.
    pub fn grown(&self, margin: usize) -> Self {
        Self {
            col0: self.col0 - margin as i64,
            row0: self.row0 - margin as i64,
            cols: self.cols + 2 * margin,
            rows: self.rows + 2 * margin,
            ..*self
        }
    }

    /// The part of this frame that begins at (`col`, `row`).
    pub fn window(&self, col: usize, row: usize, cols: usize, rows: usize) -> Self {
        Self {
            col0: self.col0 + col as i64,
            row0: self.row0 + row as i64,
            cols,
            rows,
            ..*self
        }
    }

    /// Its south-west and its north-east corner, metres east and north.
    pub fn corners_m(&self) -> ([f64; 2], [f64; 2]) {
        let edge = |at: i64| at as f64 * self.cell_m;
        let (col1, row1) = (self.col0 + self.cols as i64, self.row0 + self.rows as i64);
        (
            [edge(self.col0), self.north_m - edge(row1)],
            [edge(col1), self.north_m - edge(self.row0)],
        )
    }

    /// The cells of this lattice whose centres lie within a box in metres, and `margin`
    /// around; it may be empty.
    pub fn within(
        &self,
        [west_m, east_m]: [f64; 2],
        [south_m, north_m]: [f64; 2],
        margin: usize,
    ) -> Self {
        let first = |cells: f64| (cells - 0.5).ceil() as i64 - margin as i64;
        let end = |cells: f64| (cells - 0.5).floor() as i64 + 1 + margin as i64;
        let (col0, row0) = (
            first(west_m / self.cell_m),
            first((self.north_m - north_m) / self.cell_m),
        );
        let (col1, row1) = (
            end(east_m / self.cell_m),
            end((self.north_m - south_m) / self.cell_m),
        );
        Self {
            col0,
            row0,
            cols: (col1 - col0).max(0) as usize,
            rows: (row1 - row0).max(0) as usize,
            ..*self
        }
    }

    /// The cells that both have, if any, of frames of one lattice.
    pub fn common(&self, other: &Self) -> Option<Self> {
        let (col0, row0) = (self.col0.max(other.col0), self.row0.max(other.row0));
        let col1 = (self.col0 + self.cols as i64).min(other.col0 + other.cols as i64);
        let row1 = (self.row0 + self.rows as i64).min(other.row0 + other.rows as i64);
        (col1 > col0 && row1 > row0).then(|| Self {
            col0,
            row0,
            cols: (col1 - col0) as usize,
            rows: (row1 - row0) as usize,
            ..*self
        })
    }

    /// The smallest frame that holds both, of frames of one lattice.
    pub fn joined(&self, other: &Self) -> Self {
        let (col0, row0) = (self.col0.min(other.col0), self.row0.min(other.row0));
        let col1 = (self.col0 + self.cols as i64).max(other.col0 + other.cols as i64);
        let row1 = (self.row0 + self.rows as i64).max(other.row0 + other.rows as i64);
        Self {
            col0,
            row0,
            cols: (col1 - col0) as usize,
            rows: (row1 - row0) as usize,
            ..*self
        }
    }

    /// The same places on a lattice that is `halvings` times coarser by two, with
    /// two cells more on every side for [`refined`](super::refined).
    pub fn coarser(&self, halvings: u32) -> Self {
        let side = 1_i64 << halvings;
        let first = |at: i64| at.div_euclid(side) - 2;
        let count = |at: i64, n: usize| {
            let last = (at + n as i64 - 1).div_euclid(side) + 2;
            (last - first(at) + 1) as usize
        };
        Self {
            cell_m: self.cell_m * side as f64,
            col0: first(self.col0),
            row0: first(self.row0),
            cols: count(self.col0, self.cols),
            rows: count(self.row0, self.rows),
            ..*self
        }
    }

    /// Number of cells.
    pub fn cells(&self) -> usize {
        self.cols * self.rows
    }

    /// Area of one cell, m².
    pub fn cell_area_m2(&self) -> f64 {
        self.cell_m * self.cell_m
    }

    /// Whether the cells of both are cells of one lattice.
    pub fn shares_lattice_with(&self, other: &Frame) -> bool {
        self.north_m == other.north_m && self.cell_m == other.cell_m
    }

    /// Where `inner` begins in this frame, when this frame holds all of it.
    pub fn offset_of(&self, inner: &Frame) -> Option<(usize, usize)> {
        if !self.shares_lattice_with(inner) {
            return None;
        }
        let col = usize::try_from(inner.col0 - self.col0).ok()?;
        let row = usize::try_from(inner.row0 - self.row0).ok()?;
        (col + inner.cols <= self.cols && row + inner.rows <= self.rows).then_some((col, row))
    }
}
