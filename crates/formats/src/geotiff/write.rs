//! GeoTIFF out: values as 32-bit floats; and plain TIFF of whole steps.

use std::io::{Seek, Write};

use rayon::prelude::*;
use terrain::grid::Georeference;
use terrain::{Extent, Frame, Grid};
use tiff::encoder::colortype::{Gray8, Gray16};
use tiff::encoder::{DirectoryEncoder, TiffEncoder, TiffKind, TiffKindBig, TiffKindStandard};
use tiff::tags::{CompressionMethod, PhotometricInterpretation, Predictor, SampleFormat, Tag};

use super::blocks::Blocks;
use super::keys::{
    CITATION, LINEAR_UNITS, METRE, MODEL_TYPE, MODEL_USER_DEFINED, RASTER_PIXEL_IS_AREA,
    RASTER_TYPE,
};
use crate::error::side;
use crate::{Placed, WriteError};

/// What a land's own metres are called; the bar ends it.
const OWN_SYSTEM: &str = "Metres of the land|";
/// More bytes than these, and places in the file no longer fit into 32 bits. Packed values
/// may come out a little longer than they were.
const MOST_OF_CLASSIC: u64 = 4_000_000_000;
/// So many blocks are made ready at a time: some megabytes.
const AT_A_TIME: usize = 64;

/// How a GeoTIFF holds its values.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct TiffLayout {
    /// Deflated, after the predictor for floating-point numbers.
    pub packed: bool,
    /// In square tiles, from which a part is read without the rest; in strips of rows
    /// otherwise.
    pub tiled: bool,
    /// As BigTIFF, whatever the size; else only where the size asks for it.
    pub big: bool,
}

/// Writes grey values of 8 bits, as a plain TIFF.
///
/// # Errors
/// [`WriteError`].
pub fn write_tiff_grey8(out: impl Write + Seek, grid: &Grid<u8>) -> Result<(), WriteError> {
    let (cols, rows) = (side(grid.cols())?, side(grid.rows())?);
    let mut encoder = TiffEncoder::new(out)?;
    encoder.write_image::<Gray8>(cols, rows, grid.values())?;
    Ok(())
}

/// Writes grey values of 16 bits, as a plain TIFF.
///
/// # Errors
/// [`WriteError`].
pub fn write_tiff_grey16(out: impl Write + Seek, grid: &Grid<u16>) -> Result<(), WriteError> {
    let (cols, rows) = (side(grid.cols())?, side(grid.rows())?);
    let mut encoder = TiffEncoder::new(out)?;
    encoder.write_image::<Gray16>(cols, rows, grid.values())?;
    Ok(())
}

/// Writes values as 32-bit floats, with the cell size and place of `frame`: in the land's
/// own metres, or on earth when it is known where a land of this extent lies there.
///
/// # Errors
/// [`WriteError`].
pub fn write_geotiff(
    out: impl Write + Seek,
    values: &Grid,
    frame: &Frame,
    on_earth: Option<(&Georeference, Extent)>,
    layout: TiffLayout,
) -> Result<(), WriteError> {
    let bytes = 4 * values.values().len() as u64;
    if layout.big || bytes > MOST_OF_CLASSIC {
        write_kind::<_, TiffKindBig>(out, values, frame, on_earth, layout)
    } else {
        write_kind::<_, TiffKindStandard>(out, values, frame, on_earth, layout)
    }
}

fn write_kind<W: Write + Seek, K: TiffKind>(
    out: W,
    values: &Grid,
    frame: &Frame,
    on_earth: Option<(&Georeference, Extent)>,
    layout: TiffLayout,
) -> Result<(), WriteError> {
    let mut encoder = TiffEncoder::<W, K>::new_generic(out)?;
    let mut tags = encoder.image_directory()?;
    let size = (values.cols(), values.rows());
    write_kind_of_values(&mut tags, size, (32, SampleFormat::IEEEFP))?;
    match layout.packed {
        false => tags.write_tag(Tag::Compression, CompressionMethod::None)?,
        true => {
            tags.write_tag(Tag::Compression, CompressionMethod::Deflate)?;
            tags.write_tag(Tag::Predictor, Predictor::FloatingPoint)?;
        }
    }
    write_place(&mut tags, frame, on_earth)?;
    write_blocks(&mut tags, &Blocks::of(values, layout), layout)?;
    tags.finish()?;
    Ok(())
}

/// Some rows of values, as a file has them.
#[derive(Clone, Debug, PartialEq)]
pub enum Band {
    /// 32-bit floats.
    Floats(Vec<f32>),
    /// Whole steps from 0 to 255.
    Bytes(Vec<u8>),
}

impl Band {
    fn bytes(&self) -> &[u8] {
        match self {
            Self::Floats(values) => bytemuck::cast_slice(values),
            Self::Bytes(values) => values,
        }
    }

    fn values(&self) -> usize {
        match self {
            Self::Floats(values) => values.len(),
            Self::Bytes(values) => values.len(),
        }
    }
}

/// Writes bands of whole rows as they come, from the north; all of one kind and of one height
/// but for the last, which may have fewer rows. Not deflated.
///
/// # Errors
/// [`WriteError`]; also when the bands are not all of the rows, or not of one kind.
pub fn write_geotiff_bands(
    out: impl Write + Seek,
    frame: &Frame,
    on_earth: Option<(&Georeference, Extent)>,
    bands: impl IntoIterator<Item = Band>,
) -> Result<(), WriteError> {
    match 4 * frame.cells() as u64 > MOST_OF_CLASSIC {
        true => write_bands::<_, TiffKindBig>(out, frame, on_earth, bands),
        false => write_bands::<_, TiffKindStandard>(out, frame, on_earth, bands),
    }
}

fn write_bands<W: Write + Seek, K: TiffKind>(
    out: W,
    frame: &Frame,
    on_earth: Option<(&Georeference, Extent)>,
    bands: impl IntoIterator<Item = Band>,
) -> Result<(), WriteError> {
    let wrong = |what: &str| WriteError::Encode(what.to_owned());
    let mut encoder = TiffEncoder::<W, K>::new_generic(out)?;
    let mut tags = encoder.image_directory()?;
    let mut bands = bands.into_iter();
    let first = bands.next().ok_or_else(|| wrong("no rows"))?;
    let (kind, rows_of_band) = (
        std::mem::discriminant(&first),
        (first.values() / frame.cols).max(1),
    );
    let sample = match &first {
        Band::Floats(_) => (32, SampleFormat::IEEEFP),
        Band::Bytes(_) => (8, SampleFormat::Uint),
    };
    write_kind_of_values(&mut tags, (frame.cols, frame.rows), sample)?;
    tags.write_tag(Tag::Compression, CompressionMethod::None)?;
    write_place(&mut tags, frame, on_earth)?;
    let (mut offsets, mut lengths, mut rows) = (Vec::new(), Vec::new(), 0);
    for band in std::iter::once(first).chain(bands) {
        if std::mem::discriminant(&band) != kind || rows % rows_of_band != 0 {
            return Err(wrong("bands of several kinds or heights"));
        }
        rows += band.values() / frame.cols;
        offsets.push(K::convert_offset(tags.write_data(band.bytes())?)?);
        lengths.push(K::convert_offset(band.bytes().len() as u64)?);
    }
    if rows != frame.rows {
        return Err(wrong("fewer or more rows than there are"));
    }
    tags.write_tag(Tag::RowsPerStrip, rows_of_band as u32)?;
    tags.write_tag(Tag::StripOffsets, K::convert_slice(&offsets))?;
    tags.write_tag(Tag::StripByteCounts, K::convert_slice(&lengths))?;
    tags.finish()?;
    Ok(())
}

/// Says how many values there are, and of what kind.
fn write_kind_of_values<W: Write + Seek, K: TiffKind>(
    tags: &mut DirectoryEncoder<'_, W, K>,
    (cols, rows): (usize, usize),
    (bits, format): (u16, SampleFormat),
) -> Result<(), WriteError> {
    tags.write_tag(Tag::ImageWidth, side(cols)?)?;
    tags.write_tag(Tag::ImageLength, side(rows)?)?;
    tags.write_tag(Tag::BitsPerSample, bits)?;
    tags.write_tag(Tag::SamplesPerPixel, 1_u16)?;
    tags.write_tag(Tag::SampleFormat, &[format][..])?;
    tags.write_tag(
        Tag::PhotometricInterpretation,
        PhotometricInterpretation::BlackIsZero,
    )?;
    Ok(())
}

/// Writes the values, and where in the file they stand.
fn write_blocks<W: Write + Seek, K: TiffKind>(
    tags: &mut DirectoryEncoder<'_, W, K>,
    blocks: &Blocks,
    layout: TiffLayout,
) -> Result<(), WriteError> {
    let (mut offsets, mut lengths) = (Vec::new(), Vec::new());
    for first in (0..blocks.count()).step_by(AT_A_TIME) {
        let some = first..(first + AT_A_TIME).min(blocks.count());
        let ready: Vec<Vec<u8>> = some.into_par_iter().map(|at| blocks.bytes(at)).collect();
        for bytes in ready {
            offsets.push(K::convert_offset(tags.write_data(&bytes[..])?)?);
            lengths.push(K::convert_offset(bytes.len() as u64)?);
        }
    }
    let (at, long) = match layout.tiled {
        true => {
            tags.write_tag(Tag::TileWidth, blocks.cols as u32)?;
            tags.write_tag(Tag::TileLength, blocks.rows as u32)?;
            (Tag::TileOffsets, Tag::TileByteCounts)
        }
        false => {
            tags.write_tag(Tag::RowsPerStrip, blocks.rows as u32)?;
            (Tag::StripOffsets, Tag::StripByteCounts)
        }
    };
    tags.write_tag(at, K::convert_slice(&offsets))?;
    tags.write_tag(long, K::convert_slice(&lengths))?;
    Ok(())
}

/// Says where the cells lie, and in which system.
fn write_place<W: Write + Seek, K: TiffKind>(
    tags: &mut DirectoryEncoder<'_, W, K>,
    frame: &Frame,
    on_earth: Option<(&Georeference, Extent)>,
) -> Result<(), WriteError> {
    let Placed {
        west,
        north,
        cell: [x, y],
    } = Placed::of(frame, on_earth);
    tags.write_tag(Tag::ModelPixelScaleTag, &[x, y, 0.0][..])?;
    tags.write_tag(
        Tag::ModelTiepointTag,
        &[0.0, 0.0, 0.0, west, north, 0.0][..],
    )?;
    if let Some((place, _)) = on_earth {
        tags.write_tag(Tag::GeoKeyDirectoryTag, &place.directory[..])?;
        if !place.doubles.is_empty() {
            tags.write_tag(Tag::GeoDoubleParamsTag, &place.doubles[..])?;
        }
        if !place.ascii.is_empty() {
            tags.write_tag(Tag::GeoAsciiParamsTag, place.ascii.as_str())?;
        }
        return Ok(());
    }
    let ascii = Tag::GeoAsciiParamsTag.to_u16();
    let keys = [
        // Version 1.1.0, and how many keys follow.
        [1, 1, 0, 4],
        [MODEL_TYPE, 0, 1, MODEL_USER_DEFINED],
        [RASTER_TYPE, 0, 1, RASTER_PIXEL_IS_AREA],
        [CITATION, ascii, OWN_SYSTEM.len() as u16, 0],
        [LINEAR_UNITS, 0, 1, METRE],
    ];
    tags.write_tag(Tag::GeoKeyDirectoryTag, keys.as_flattened())?;
    tags.write_tag(Tag::GeoAsciiParamsTag, OWN_SYSTEM)?;
    Ok(())
}
