//! How much a file may ask for.

use crate::ReadError;

/// How much a file may ask for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Limits {
    /// Most cells.
    pub cells: u64,
}

impl Default for Limits {
    /// 8192 × 8192 cells: 256 MiB once read.
    fn default() -> Self {
        Self { cells: 8192 * 8192 }
    }
}

impl Limits {
    /// Checks a size that a file claims to have, before memory is taken.
    pub(crate) fn admit(&self, cols: u64, rows: u64) -> Result<(), ReadError> {
        if cols
            .checked_mul(rows)
            .is_none_or(|cells| cells > self.cells)
        {
            return Err(ReadError::TooLarge {
                cols,
                rows,
                limit: self.cells,
            });
        }
        if cols < 2 || rows < 2 {
            return Err(ReadError::TooSmall { cols, rows });
        }
        Ok(())
    }

    /// Bytes that a decoder may take.
    pub(crate) fn bytes(&self) -> usize {
        // Four channels of 32 bits: more than any kind that is read.
        usize::try_from(self.cells)
            .unwrap_or(usize::MAX / 16)
            .saturating_mul(16)
    }
}
