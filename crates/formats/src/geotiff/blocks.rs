//! The blocks that a TIFF holds its values in: strips of rows, or square tiles.

use libdeflater::{CompressionLvl, Compressor};
use terrain::Grid;

use super::TiffLayout;

/// Side of a tile, cells: a multiple of 16, as TIFF 6.0 asks.
pub(super) const TILE: usize = 256;
/// Values of a strip, about.
const STRIP: usize = 1 << 16;

/// How a grid is cut into blocks, in the order in which they stand in the file.
pub(super) struct Blocks<'a> {
    grid: &'a Grid,
    layout: TiffLayout,
    /// Columns and rows of a block; tiles at the edges are filled up, strips are not.
    pub(super) cols: usize,
    pub(super) rows: usize,
}

impl<'a> Blocks<'a> {
    pub(super) fn of(grid: &'a Grid, layout: TiffLayout) -> Self {
        let (cols, rows) = match layout.tiled {
            true => (TILE, TILE),
            false => {
                let rows = (STRIP / grid.cols()).clamp(1, grid.rows());
                (grid.cols(), rows)
            }
        };
        Self {
            grid,
            layout,
            cols,
            rows,
        }
    }

    /// How many there are.
    pub(super) fn count(&self) -> usize {
        self.across() * self.grid.rows().div_ceil(self.rows)
    }

    fn across(&self) -> usize {
        self.grid.cols().div_ceil(self.cols)
    }

    /// The bytes of a block as the file has them.
    pub(super) fn bytes(&self, index: usize) -> Vec<u8> {
        let (first_col, first_row) = (
            index % self.across() * self.cols,
            index / self.across() * self.rows,
        );
        let rows = match self.layout.tiled {
            true => self.rows,
            false => self.rows.min(self.grid.rows() - first_row),
        };
        let mut bytes = vec![0; 4 * self.cols * rows];
        for (r, out) in bytes.chunks_exact_mut(4 * self.cols).enumerate() {
            // Beyond the grid a tile goes on as it is at the edge: that packs well.
            let row = self.grid.row((first_row + r).min(self.grid.rows() - 1));
            let here = &row[first_col..(first_col + self.cols).min(row.len())];
            let last = here[here.len() - 1];
            let values = here.iter().chain(std::iter::repeat(&last)).take(self.cols);
            match self.layout.packed {
                false => {
                    for (four, value) in out.as_chunks_mut().0.iter_mut().zip(values) {
                        *four = value.to_ne_bytes();
                    }
                }
                true => predicted(values.copied(), out),
            }
        }
        match self.layout.packed {
            false => bytes,
            true => deflated(&bytes),
        }
    }
}

/// One row through the predictor for floating-point numbers (Adobe TIFF technical
/// note 3, 2005): the highest bytes of all values first, then the next ones; of each byte
/// how much it differs from the one before.
fn predicted(values: impl Iterator<Item = f32>, out: &mut [u8]) {
    let cols = out.len() / 4;
    for (at, value) in values.enumerate() {
        for (plane, byte) in value.to_be_bytes().into_iter().enumerate() {
            out[plane * cols + at] = byte;
        }
    }
    let mut before = 0;
    for byte in out {
        let here = *byte;
        *byte = here.wrapping_sub(before);
        before = here;
    }
}

fn deflated(bytes: &[u8]) -> Vec<u8> {
    /// The fastest that packs at all.
    const LEVEL: i32 = 1;
    let level = CompressionLvl::new(LEVEL).expect("a level that there is");
    let mut deflating = Compressor::new(level);
    let mut packed = vec![0; deflating.zlib_compress_bound(bytes.len())];
    let length = deflating.zlib_compress(bytes, &mut packed);
    packed.truncate(length.expect("room for the most"));
    packed
}
