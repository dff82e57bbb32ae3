//! Raw steps of 16 bits, the lower byte first, rows from the north: no header, so how many
//! there are in a row must be known from elsewhere.

use std::io::Write;

use terrain::Grid;

use crate::png_image::write_grey16;
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

/// Whether a file of this name is a raw one, by its ending.
pub fn is_raw16(name: &str) -> bool {
    let ending = name.rsplit_once('.').map(|(_, ending)| ending);
    ending.is_some_and(|ending| {
        ["raw", "r16"]
            .iter()
            .any(|raw| ending.eq_ignore_ascii_case(raw))
    })
}

/// Steps of 16 bits as a file that says itself how many there are in a row: a PNG. Where
/// nobody knows it (`cols`), there are as many rows as steps in each.
///
/// # Errors
/// [`ReadError`] when they are no whole rows, or no square.
pub fn raw16_as_png(
    bytes: &[u8],
    cols: Option<usize>,
    limits: Limits,
) -> Result<Vec<u8>, ReadError> {
    let steps = bytes.len() / 2;
    let side = cols.unwrap_or(steps.isqrt());
    let rows = cols.map_or(side, |cols| steps.checked_div(cols).unwrap_or(0));
    let whole = (side.checked_mul(rows)).is_some_and(|cells| cells > 0 && 2 * cells == bytes.len());
    if !whole {
        let unlike = match cols {
            Some(cols) => format!("no whole rows of {cols} steps"),
            None => "no square".to_owned(),
        };
        return Err(ReadError::WrongKind {
            format: FORMAT,
            found: format!("{} bytes, which are {unlike}", bytes.len()),
            expected: "2 for each step; say how many steps are in a row",
        });
    }
    let read = read_raw16(bytes, (side, rows), limits)?;
    let mut png = Vec::new();
    write_grey16(&mut png, &read.values.map(|step| step as u16))
        .map_err(|error| ReadError::damaged(FORMAT, error))?;
    Ok(png)
}
