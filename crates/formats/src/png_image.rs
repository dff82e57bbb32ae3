//! PNG: grey pictures in, pictures out.

use std::io::{Cursor, Write};

use png::{BitDepth, ColorType};
use terrain::Grid;

use crate::{Heightfield, Limits, ReadError, Units, WriteError};

const FORMAT: &str = "PNG";

pub(crate) fn read(bytes: &[u8], limits: Limits) -> Result<Heightfield, ReadError> {
    let damaged = |error: png::DecodingError| ReadError::damaged(FORMAT, error);
    let mut decoder = png::Decoder::new_with_limits(
        Cursor::new(bytes),
        png::Limits {
            bytes: limits.bytes(),
        },
    );
    decoder.set_transformations(png::Transformations::IDENTITY);
    let header = decoder.read_header_info().map_err(damaged)?;
    let (cols, rows) = (header.width, header.height);
    limits.admit(cols.into(), rows.into())?;
    let mut reader = decoder.read_info().map_err(damaged)?;
    let (kind, depth) = reader.output_color_type();
    let expected = "grey values of 8 or 16 bits";
    let found = || format!("{kind:?} values of {} bits", depth as u8);
    let wide = match (kind, depth) {
        (ColorType::Grayscale, BitDepth::Eight) => false,
        (ColorType::Grayscale, BitDepth::Sixteen) => true,
        _ => {
            return Err(ReadError::WrongKind {
                format: FORMAT,
                found: found(),
                expected,
            });
        }
    };
    let size = reader.output_buffer_size().ok_or(ReadError::TooLarge {
        cols: cols.into(),
        rows: rows.into(),
        limit: limits.cells,
    })?;
    let mut buffer = vec![0; size];
    reader.next_frame(&mut buffer).map_err(damaged)?;
    let values = match wide {
        true => buffer
            .chunks_exact(2)
            .map(|pair| f32::from(u16::from_be_bytes([pair[0], pair[1]])))
            .collect(),
        false => buffer.iter().map(|&v| f32::from(v)).collect(),
    };
    let values = Grid::from_vec(cols as usize, rows as usize, values)
        .map_err(|error| ReadError::damaged(FORMAT, error))?;
    let white = if wide { 65_535 } else { 255 };
    Ok(Heightfield {
        values,
        units: Units::Steps { white },
        cell_m: None,
        format: FORMAT,
    })
}

fn write(
    out: impl Write,
    (cols, rows): (usize, usize),
    kind: ColorType,
    depth: BitDepth,
    bytes: &[u8],
) -> Result<(), WriteError> {
    let side =
        |n: usize| u32::try_from(n).map_err(|_| WriteError::Encode(format!("a side of {n} cells")));
    let mut encoder = png::Encoder::new(out, side(cols)?, side(rows)?);
    encoder.set_color(kind);
    encoder.set_depth(depth);
    encoder.set_compression(png::Compression::Fast);
    let mut writer = encoder.write_header()?;
    writer.write_image_data(bytes)?;
    writer.finish()?;
    Ok(())
}

/// Writes grey values of 8 bits.
///
/// # Errors
/// [`WriteError`].
pub fn write_grey8(out: impl Write, grid: &Grid<u8>) -> Result<(), WriteError> {
    let size = (grid.cols(), grid.rows());
    write(
        out,
        size,
        ColorType::Grayscale,
        BitDepth::Eight,
        grid.values(),
    )
}

/// Writes grey values of 16 bits.
///
/// # Errors
/// [`WriteError`].
pub fn write_grey16(out: impl Write, grid: &Grid<u16>) -> Result<(), WriteError> {
    let bytes: Vec<u8> = grid.values().iter().flat_map(|v| v.to_be_bytes()).collect();
    write(
        out,
        (grid.cols(), grid.rows()),
        ColorType::Grayscale,
        BitDepth::Sixteen,
        &bytes,
    )
}

/// Writes red, green and blue of 8 bits each.
///
/// # Errors
/// [`WriteError`].
pub fn write_rgb8(out: impl Write, grid: &Grid<[u8; 3]>) -> Result<(), WriteError> {
    let size = (grid.cols(), grid.rows());
    write(
        out,
        size,
        ColorType::Rgb,
        BitDepth::Eight,
        grid.values().as_flattened(),
    )
}

/// Writes red, green, blue and alpha of 8 bits each.
///
/// # Errors
/// [`WriteError`].
pub fn write_rgba8(out: impl Write, grid: &Grid<[u8; 4]>) -> Result<(), WriteError> {
    let size = (grid.cols(), grid.rows());
    write(
        out,
        size,
        ColorType::Rgba,
        BitDepth::Eight,
        grid.values().as_flattened(),
    )
}
