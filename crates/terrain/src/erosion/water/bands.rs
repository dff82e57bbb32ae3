//! Fields that are changed in place, a band of rows at a time.
//!
//! Each row becomes what it and the rows beside it make of it. A second copy of the field
//! would do for that, and weigh as much as the field; a band remembers two rows, and the
//! rows beside it are put aside before any band changes.

use rayon::prelude::*;

/// Rows of a band of a field of so many rows: bands enough for all threads, and few rows put
/// aside. What is made does not depend on it.
pub(super) fn rows_of_a_band(rows: usize) -> usize {
    (rows / 16).clamp(4, 64)
}

/// The bands of a field that no row beside is needed of; its ghost rows are in none.
pub(super) fn bands(
    field: &mut [f32],
    wide: usize,
    of_a_band: usize,
) -> impl IndexedParallelIterator<Item = &mut [f32]> {
    let end = field.len() - wide;
    field[wide..end].par_chunks_mut(wide * of_a_band)
}

/// The rows to the north and to the south of each band of a field, as they were.
pub(super) struct Beside {
    rows: Vec<f32>,
    wide: usize,
    of_a_band: usize,
}

impl Beside {
    /// Puts them aside; `field` has one ghost row on either side, in no band.
    pub(super) fn of(field: &[f32], wide: usize, of_a_band: usize) -> Self {
        let rows = field.len() / wide - 2;
        let row = |r: usize| &field[r * wide..(r + 1) * wide];
        let bands = (0..rows).step_by(of_a_band);
        let beside = bands.flat_map(|first| {
            let end = (first + of_a_band).min(rows);
            [row(first), row(end + 1)].concat()
        });
        Self {
            rows: beside.collect(),
            wide,
            of_a_band,
        }
    }

    /// The bands of `field`, of which these rows are.
    pub(super) fn bands<'a>(
        &'a self,
        field: &'a mut [f32],
    ) -> impl IndexedParallelIterator<Item = Band<'a>> {
        let wide = self.wide;
        bands(field, wide, self.of_a_band)
            .zip(self.rows.par_chunks(2 * wide))
            .map(move |(rows, beside)| {
                let (north, south) = beside.split_at(wide);
                Band {
                    rows,
                    above: vec![0.0; wide],
                    here: north.to_vec(),
                    south,
                }
            })
    }
}

/// A band of rows that is changed from north to south.
pub(super) struct Band<'a> {
    rows: &'a mut [f32],
    /// What was above the row that is changed, and in it; before the first one what is to the
    /// north of the band.
    above: Vec<f32>,
    here: Vec<f32>,
    /// What is to the south of the band.
    south: &'a [f32],
}

impl Band<'_> {
    /// How many rows it has.
    pub(super) fn len(&self) -> usize {
        self.rows.len() / self.here.len()
    }

    /// The row `k`, to be changed, and what was above it, in it and below it. Rows must be
    /// asked for one after the other.
    pub(super) fn row(&mut self, k: usize) -> ([&[f32]; 3], &mut [f32]) {
        let wide = self.here.len();
        let (row, below) = self.rows[k * wide..].split_at_mut(wide);
        std::mem::swap(&mut self.above, &mut self.here);
        self.here.copy_from_slice(row);
        let below = below.get(..wide).unwrap_or(self.south);
        ([&self.above, &self.here, below], row)
    }
}
