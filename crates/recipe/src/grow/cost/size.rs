//! How many cells a frame has, however many: counted in floats, which no margin
//! makes overflow.

use terrain::{Extent, Frame};

/// How large a frame is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Size {
    /// Side of a cell, metres.
    pub(crate) cell_m: f64,
    /// Columns.
    pub(crate) cols: f64,
    /// Rows.
    pub(crate) rows: f64,
}

impl Size {
    pub(crate) fn of(frame: &Frame) -> Self {
        Self {
            cell_m: frame.cell_m,
            cols: frame.cols as f64,
            rows: frame.rows as f64,
        }
    }

    /// The size of [`Frame::covering`].
    pub(crate) fn covering(extent: Extent, cell_m: f64) -> Self {
        let count = |length_m: f64| (length_m / cell_m).ceil().max(1.0);
        Self {
            cell_m,
            cols: count(extent.width_m),
            rows: count(extent.depth_m),
        }
    }

    pub(crate) fn grown(self, margin: usize) -> Self {
        let both = 2.0 * margin as f64;
        Self {
            cols: self.cols + both,
            rows: self.rows + both,
            ..self
        }
    }

    /// The size of [`Frame::coarser`], or a little more.
    pub(crate) fn coarser(self, halvings: u32) -> Self {
        let side = f64::from(halvings).exp2();
        let count = |cells: f64| (cells / side).ceil() + 5.0;
        Self {
            cell_m: self.cell_m * side,
            cols: count(self.cols),
            rows: count(self.rows),
        }
    }

    /// Whether another size, of such cells too, is no larger.
    pub(crate) fn holds(self, other: Self) -> bool {
        self.cols >= other.cols && self.rows >= other.rows
    }

    /// The size of what holds both, of cells of one size; else it stays.
    pub(crate) fn joined(self, other: Self) -> Self {
        if self.cell_m != other.cell_m {
            return self;
        }
        Self {
            cols: self.cols.max(other.cols),
            rows: self.rows.max(other.rows),
            ..self
        }
    }

    pub(crate) fn cells(self) -> f64 {
        self.cols * self.rows
    }

    /// Stands for the size where sizes are looked up.
    pub(super) fn key(self) -> [u64; 3] {
        [self.cell_m, self.cols, self.rows].map(f64::to_bits)
    }
}
