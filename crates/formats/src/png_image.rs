//! PNG: grey pictures in, pictures out.

use std::io::{Cursor, Write};

use png::{BitDepth, ColorType};
use terrain::Grid;

use crate::heightfield::{Picture, deal};
use crate::png_rows::encoder;
use crate::{Heightfield, Limits, PixelKind, ReadError, Units, WriteError};

const FORMAT: &str = "PNG";

pub(crate) fn read(bytes: &[u8], limits: Limits) -> Result<Heightfield, ReadError> {
    let mut picture = decode(
        bytes,
        limits,
        png::Transformations::IDENTITY,
        |kind, depth| {
            kind == ColorType::Grayscale && matches!(depth, BitDepth::Eight | BitDepth::Sixteen)
        },
    )?;
    Ok(Heightfield {
        values: picture.channels.remove(0),
        units: picture.units,
        cell_m: None,
        georeference: None,
        format: FORMAT,
    })
}

/// Reads grey or colour, with alpha or without; palettes are looked up.
pub(crate) fn read_picture(bytes: &[u8], limits: Limits) -> Result<Picture, ReadError> {
    decode(bytes, limits, png::Transformations::EXPAND, |_, depth| {
        matches!(depth, BitDepth::Eight | BitDepth::Sixteen)
    })
}

fn decode(
    bytes: &[u8],
    limits: Limits,
    transformations: png::Transformations,
    fits: impl Fn(ColorType, BitDepth) -> bool,
) -> Result<Picture, ReadError> {
    let damaged = |error: png::DecodingError| ReadError::damaged(FORMAT, error);
    let mut decoder = png::Decoder::new_with_limits(
        Cursor::new(bytes),
        png::Limits {
            bytes: limits.bytes(),
        },
    );
    decoder.set_transformations(transformations);
    let header = decoder.read_header_info().map_err(damaged)?;
    let (cols, rows) = (header.width, header.height);
    limits.admit(cols.into(), rows.into())?;
    let mut reader = decoder.read_info().map_err(damaged)?;
    let (kind, depth) = reader.output_color_type();
    if !fits(kind, depth) {
        return Err(ReadError::WrongKind {
            format: FORMAT,
            found: format!("{kind:?} values of {} bits", depth as u8),
            expected: "grey values of 8 or 16 bits",
        });
    }
    let (cols, rows) = (cols as usize, rows as usize);
    let mut channels = vec![Vec::with_capacity(cols * rows); kind.samples()];
    let white = match depth {
        BitDepth::Sixteen => 65_535,
        _ => 255,
    };
    let mut take = |bytes: &[u8]| match depth {
        BitDepth::Sixteen => {
            let pairs = bytes.chunks_exact(2);
            deal(
                &mut channels,
                pairs.map(|pair| f32::from(u16::from_be_bytes([pair[0], pair[1]]))),
            );
        }
        _ => deal(&mut channels, bytes.iter().map(|&v| f32::from(v))),
    };
    match reader.info().interlaced {
        // Row by row: a small file may hold a picture of gigabytes, and must not be
        // in memory twice.
        false => {
            while let Some(row) = reader.next_row().map_err(damaged)? {
                take(row.data());
            }
        }
        true => {
            let size = reader.output_buffer_size().ok_or(ReadError::TooLarge {
                cols: cols as u64,
                rows: rows as u64,
                limit: limits.cells,
            })?;
            let mut buffer = vec![0; size];
            reader.next_frame(&mut buffer).map_err(damaged)?;
            take(&buffer);
        }
    }
    let grid = |values| Grid::from_vec(cols, rows, values);
    let channels: Result<_, _> = channels.into_iter().map(grid).collect();
    Ok(Picture {
        channels: channels.map_err(|error| ReadError::damaged(FORMAT, error))?,
        units: Units::Steps { white },
    })
}

fn write(
    out: impl Write,
    size: (usize, usize),
    kind: PixelKind,
    bytes: &[u8],
) -> Result<(), WriteError> {
    let mut writer = encoder(out, kind, size)?.write_header()?;
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
    write(out, size, PixelKind::Grey8, grid.values())
}

/// Writes grey values of 16 bits.
///
/// # Errors
/// [`WriteError`].
pub fn write_grey16(out: impl Write, grid: &Grid<u16>) -> Result<(), WriteError> {
    let bytes: Vec<u8> = grid.values().iter().flat_map(|v| v.to_be_bytes()).collect();
    write(out, (grid.cols(), grid.rows()), PixelKind::Grey16, &bytes)
}

/// Writes red, green and blue of 8 bits each.
///
/// # Errors
/// [`WriteError`].
pub fn write_rgb8(out: impl Write, grid: &Grid<[u8; 3]>) -> Result<(), WriteError> {
    let size = (grid.cols(), grid.rows());
    write(out, size, PixelKind::Rgb8, grid.values().as_flattened())
}

/// Writes red, green, blue and alpha of 8 bits each.
///
/// # Errors
/// [`WriteError`].
pub fn write_rgba8(out: impl Write, grid: &Grid<[u8; 4]>) -> Result<(), WriteError> {
    let size = (grid.cols(), grid.rows());
    write(out, size, PixelKind::Rgba8, grid.values().as_flattened())
}
