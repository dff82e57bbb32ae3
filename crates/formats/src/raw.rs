//! Raw steps of 16 bits, the lower byte first, rows from the north: no header, so how many
//! there are in a row must be known from elsewhere.

use std::io::Write;

use terrain::Grid;

use crate::{Heightfield, Limits, ReadError, Units, WriteError};

const FORMAT: &str = "raw 16-bit grid";

/// Writes steps of 16 bits.
///
/// # Errors
/// [`WriteError`].
pub fn write_raw16(mut out: impl Write, grid: &Grid<u16>) -> Result<(), WriteError> {
    let mut bytes = Vec::with_capacity(2 * grid.cols());
    for row in 0..grid.rows() {
        bytes.clear();
        bytes.extend(grid.row(row).iter().flat_map(|step| step.to_le_bytes()));
        out.write_all(&bytes)?;
    }
    Ok(())
}

/// Reads steps of 16 bits, in rows of `cols`.
///
/// # Errors
/// [`ReadError`] when there are more or fewer than are said to be.
pub fn read_raw16(
    bytes: &[u8],
    (cols, rows): (usize, usize),
    limits: Limits,
) -> Result<Heightfield, ReadError> {
    limits.admit(cols as u64, rows as u64)?;
    let (steps, odd) = bytes.as_chunks::<2>();
    if steps.len() != cols * rows || !odd.is_empty() {
        let reason = format!(
            "it has {} bytes; {cols} × {rows} steps take {}",
            bytes.len(),
            2 * cols * rows
        );
        return Err(ReadError::damaged(FORMAT, reason));
    }
    let values = steps
        .iter()
        .map(|step| f32::from(u16::from_le_bytes(*step)));
    let values = Grid::from_vec(cols, rows, values.collect());
    Ok(Heightfield {
        values: values.map_err(|error| ReadError::damaged(FORMAT, error))?,
        units: Units::Steps { white: 65_535 },
        cell_m: None,
        georeference: None,
        format: FORMAT,
    })
}
