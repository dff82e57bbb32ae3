//! The ESRI ASCII grid: a header of names and numbers, then rows from north
//! to south.

use std::fmt::Write as _;
use std::io::Write;

use terrain::{Frame, Grid};

use crate::heightfield::refuse_gaps;
use crate::{Heightfield, Limits, ReadError, Units, WriteError};

const FORMAT: &str = "ESRI ASCII grid";

/// Whether the file begins as an ASCII grid does.
pub(crate) fn looks_like_one(bytes: &[u8]) -> bool {
    let start = bytes
        .iter()
        .position(|b| !b.is_ascii_whitespace())
        .unwrap_or(0);
    bytes[start..]
        .get(..5)
        .is_some_and(|word| word.eq_ignore_ascii_case(b"ncols"))
}

#[derive(Default)]
struct Header {
    cols: Option<u64>,
    rows: Option<u64>,
    cell: Option<f64>,
    no_data: Option<f64>,
}

pub(crate) fn read(bytes: &[u8], limits: Limits) -> Result<Heightfield, ReadError> {
    let text = std::str::from_utf8(bytes).map_err(|error| ReadError::damaged(FORMAT, error))?;
    let mut words = text.split_ascii_whitespace().peekable();
    let mut header = Header::default();
    while words
        .peek()
        .is_some_and(|word| word.starts_with(|c: char| c.is_ascii_alphabetic()))
    {
        let Some((name, value)) = words.next().zip(words.next()) else {
            break;
        };
        // A grid of NaN begins with a word, but not with a name.
        if name.eq_ignore_ascii_case("nan") {
            return Err(ReadError::damaged(
                FORMAT,
                "the first height is not a number",
            ));
        }
        header.take(name, value)?;
    }
    let (Some(cols), Some(rows)) = (header.cols, header.rows) else {
        return Err(ReadError::damaged(
            FORMAT,
            "the header lacks ncols or nrows",
        ));
    };
    limits.admit(cols, rows)?;
    let wanted = (cols * rows) as usize;
    // The file's length bounds what is taken: two bytes a number at least.
    let mut values = Vec::with_capacity(wanted.min(bytes.len() / 2 + 1));
    for word in words {
        let value: f32 = word
            .parse()
            .map_err(|_| ReadError::damaged(FORMAT, format!("‘{word}’ is not a number")))?;
        values.push(value);
    }
    let values = Grid::from_vec(cols as usize, rows as usize, values)
        .map_err(|error| ReadError::damaged(FORMAT, error))?;
    refuse_gaps(&values, header.no_data)?;
    Ok(Heightfield {
        values,
        units: Units::Metres,
        cell_m: header.cell.map(|cell| (cell, cell)),
        georeference: None,
        format: FORMAT,
    })
}

impl Header {
    fn take(&mut self, name: &str, value: &str) -> Result<(), ReadError> {
        let wrong = || ReadError::damaged(FORMAT, format!("{name} is ‘{value}’, not a number"));
        let whole = || value.parse().map_err(|_| wrong());
        let number = || value.parse::<f64>().map_err(|_| wrong());
        match name.to_ascii_lowercase().as_str() {
            "ncols" => self.cols = Some(whole()?),
            "nrows" => self.rows = Some(whole()?),
            "cellsize" => {
                let cell = number()?;
                if !(cell.is_finite() && cell > 0.0) {
                    return Err(ReadError::damaged(FORMAT, "cellsize must be above 0"));
                }
                self.cell = Some(cell);
            }
            "nodata_value" => self.no_data = Some(number()?),
            "xllcorner" | "yllcorner" | "xllcenter" | "yllcenter" => {
                number()?;
            }
            other => {
                return Err(ReadError::damaged(
                    FORMAT,
                    format!("unknown header ‘{other}’"),
                ));
            }
        }
        Ok(())
    }
}

/// Writes values as text; those of `frame` say how large a cell is and where it lies, in the
/// land's own metres.
///
/// # Errors
/// [`WriteError`].
pub fn write_ascii_grid(
    mut out: impl Write,
    values: &Grid,
    frame: &Frame,
) -> Result<(), WriteError> {
    let ([west, south], _) = frame.corners_m();
    writeln!(out, "ncols {}", values.cols())?;
    writeln!(out, "nrows {}", values.rows())?;
    writeln!(out, "xllcorner {west}")?;
    writeln!(out, "yllcorner {south}")?;
    writeln!(out, "cellsize {}", frame.cell_m)?;
    for row in 0..values.rows() {
        let mut line = String::with_capacity(10 * values.cols());
        for value in values.row(row) {
            // As few digits as bring the very value back.
            write!(line, "{value} ").expect("memory takes all");
        }
        writeln!(out, "{}", line.trim_end())?;
    }
    Ok(())
}
