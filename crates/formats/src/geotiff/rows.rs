//! GeoTIFF in, some rows at a time: what is done with a large file can begin before all of it
//! is there, and takes the memory of a few rows.

use std::io::{Read, Seek, SeekFrom};

use terrain::Grid;
use terrain::grid::Georeference;
use tiff::ColorType;
use tiff::decoder::{ChunkType, Decoder, DecodingResult};
use tiff::tags::{CompressionMethod, Tag};

use super::read::{FORMAT, cell_m, georeference, no_data, opened};
use crate::heightfield::refuse_gaps;
use crate::{Limits, ReadError};

/// A file of one band of 32-bit floats in strips of rows, read from the north.
pub struct TiffRows<R: Read + Seek> {
    file: R,
    decoder: Decoder<R>,
    cols: usize,
    rows: usize,
    /// Rows of every strip but the last.
    strip: usize,
    /// The next strip.
    next: usize,
    /// Where strips stand that are neither packed nor of another byte order: they are read
    /// past the decoder, many at once.
    plain: Option<Vec<u64>>,
    /// What marks cells without data.
    no_data: Option<f64>,
    /// Size of a cell from west to east and from south to north, metres, if the file says.
    pub cell_m: Option<(f64, f64)>,
    /// Where it lies on earth, if the file says.
    pub georeference: Option<Georeference>,
}

/// Values that are read at one go, about.
const AT_ONCE: usize = 1 << 18;

impl<R: Read + Seek> TiffRows<R> {
    /// Opens a file; `again` opens the same one once more. Nothing when it is not of this
    /// kind, and must be read as a whole.
    ///
    /// # Errors
    /// [`ReadError`] when it is too large or damaged.
    pub fn open(file: R, again: R, limits: Limits) -> Result<Option<Self>, ReadError> {
        let damaged = |error: tiff::TiffError| ReadError::damaged(FORMAT, error);
        let mut decoder = opened(file, limits)?;
        let (cols, rows) = decoder.dimensions().map_err(damaged)?;
        limits.admit(cols.into(), rows.into())?;
        let floats = decoder.colortype().map_err(damaged)? == ColorType::Gray(32)
            && decoder
                .get_tag_u32(Tag::SampleFormat)
                .is_ok_and(|format| format == 3);
        if !floats || decoder.get_chunk_type() != ChunkType::Strip {
            return Ok(None);
        }
        let strip = decoder.chunk_dimensions().1.min(rows) as usize;
        if strip == 0 {
            return Ok(None);
        }
        let none = CompressionMethod::None.to_u16();
        let compression = decoder.get_tag_u32(Tag::Compression).unwrap_or(1);
        let native = (decoder.byte_order() == tiff::tags::ByteOrder::LittleEndian)
            == cfg!(target_endian = "little");
        let offsets = decoder
            .get_tag_u64_vec(Tag::StripOffsets)
            .map_err(damaged)?;
        let count = (rows as usize).div_ceil(strip);
        if offsets.len() != count {
            return Ok(None);
        }
        let plain = (compression == u32::from(none) && native).then_some(offsets);
        let no_data = no_data(&mut decoder);
        let cell_m = cell_m(&mut decoder, rows);
        let georeference = georeference(&mut decoder, (cols, rows));
        Ok(Some(Self {
            file: again,
            decoder,
            cols: cols as usize,
            rows: rows as usize,
            strip,
            next: 0,
            plain,
            no_data,
            cell_m,
            georeference,
        }))
    }

    /// Columns and rows.
    pub fn size(&self) -> (usize, usize) {
        (self.cols, self.rows)
    }

    /// The next rows, and whether they are the last; nothing when there are no more.
    ///
    /// # Errors
    /// [`ReadError`] when the file ends early or contradicts itself, and when a value is no
    /// number or marks a gap.
    pub fn next_rows(&mut self) -> Result<Option<(Vec<f32>, bool)>, ReadError> {
        let strips = self.rows.div_ceil(self.strip);
        if self.next == strips {
            return Ok(None);
        }
        let wanted = (AT_ONCE / (self.cols * self.strip)).clamp(1, strips - self.next);
        let some = self.next..self.next + wanted;
        let end = (some.end * self.strip).min(self.rows);
        let count = (end - some.start * self.strip) * self.cols;
        let values = match &self.plain {
            Some(offsets) => read_plain(
                &mut self.file,
                &offsets[some.clone()],
                self.strip * self.cols,
                count,
            )?,
            None => {
                let mut values = Vec::with_capacity(count);
                for strip in some.clone() {
                    let read = self.decoder.read_chunk(strip as u32);
                    match read.map_err(|error| ReadError::damaged(FORMAT, error))? {
                        DecodingResult::F32(strip) => values.extend(strip),
                        _ => return Err(ReadError::damaged(FORMAT, "a strip of other numbers")),
                    }
                }
                values
            }
        };
        self.next = some.end;
        let rows = count / self.cols;
        let values = Grid::from_vec(self.cols, rows, values)
            .map_err(|error| ReadError::damaged(FORMAT, error))?;
        refuse_gaps(&values, self.no_data)?;
        values.check_finite().map_err(ReadError::NotFinite)?;
        Ok(Some((values.into_values(), self.next == strips)))
    }
}

/// Strips as they stand in the file, each `strip` values long; those that follow one another
/// are read at one go.
fn read_plain(
    file: &mut (impl Read + Seek),
    offsets: &[u64],
    strip: usize,
    count: usize,
) -> Result<Vec<f32>, ReadError> {
    let short = |error: std::io::Error| ReadError::damaged(FORMAT, error);
    let mut values = vec![0.0_f32; count];
    let mut first = 0;
    while first < offsets.len() {
        let mut end = first + 1;
        let follows = |at: usize| offsets[at] == offsets[at - 1] + 4 * strip as u64;
        while end < offsets.len() && follows(end) {
            end += 1;
        }
        let part = first * strip..(end * strip).min(count);
        file.seek(SeekFrom::Start(offsets[first])).map_err(short)?;
        let bytes: &mut [u8] = bytemuck::cast_slice_mut(&mut values[part]);
        file.read_exact(bytes).map_err(short)?;
        first = end;
    }
    Ok(values)
}
