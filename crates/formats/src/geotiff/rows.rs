//! GeoTIFF in, some rows at a time: what is done with a large file can begin before all of it
//! is there, and takes the memory of a few rows.

use std::io::{Read, Seek, SeekFrom};
use std::ops::Range;

use libdeflater::Decompressor;
use rayon::prelude::*;
use terrain::Grid;
use terrain::grid::Georeference;
use tiff::ColorType;
use tiff::decoder::{ChunkType, Decoder, DecodingResult};
use tiff::tags::{ByteOrder, CompressionMethod, Tag};

use super::read::{FORMAT, cell_m, georeference, no_data, opened};
use crate::heightfield::refuse_gaps;
use crate::{Limits, ReadError};

/// A file of one band of 32-bit floats in strips of rows, read from the north.
pub struct TiffRows<R: Read + Seek> {
    decoder: Decoder<R>,
    cols: usize,
    rows: usize,
    /// Rows of every strip but the last.
    strip: usize,
    /// The next strip.
    next: usize,
    /// Where strips stand whose packing is known here: they are read past the decoder, many
    /// at once.
    stands: Option<Stands>,
    /// What marks cells without data.
    no_data: Option<f64>,
    /// Size of a cell from west to east and from south to north, metres, if the file says.
    pub cell_m: Option<(f64, f64)>,
    /// Where it lies on earth, if the file says.
    pub georeference: Option<Georeference>,
}

/// Where strips stand in the file, and how they are packed.
struct Stands {
    offsets: Vec<u64>,
    lengths: Vec<u64>,
    packing: Packing,
}

/// How the values of a strip became bytes.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Packing {
    /// As this machine has them.
    None,
    /// Deflated.
    Deflated,
    /// Deflated, after the predictor for floating-point numbers.
    Predicted,
}

/// Values that are read at one go, about.
const AT_ONCE: usize = 1 << 18;

impl<R: Read + Seek> TiffRows<R> {
    /// Opens a file. Nothing when it is not of this kind, and must be read as a whole.
    ///
    /// # Errors
    /// [`ReadError`] when it is too large or damaged.
    pub fn open(file: R, limits: Limits) -> Result<Option<Self>, ReadError> {
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
        let stands = stands(&mut decoder, (cols as usize, rows as usize), strip);
        let no_data = no_data(&mut decoder);
        let cell_m = cell_m(&mut decoder, rows);
        let georeference = georeference(&mut decoder, (cols, rows));
        Ok(Some(Self {
            decoder,
            cols: cols as usize,
            rows: rows as usize,
            strip,
            next: 0,
            stands,
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
        let values = match &self.stands {
            Some(stands) => {
                let size = (self.strip, self.cols, count);
                stands.read(self.decoder.inner(), some.clone(), size)?
            }
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

/// Where the strips of a file stand, when they are packed in a way that is known here.
fn stands(
    decoder: &mut Decoder<impl Read + Seek>,
    (cols, rows): (usize, usize),
    strip: usize,
) -> Option<Stands> {
    let native =
        (decoder.byte_order() == ByteOrder::LittleEndian) == cfg!(target_endian = "little");
    let number = |decoder: &mut Decoder<_>, tag| decoder.get_tag_u32(tag).unwrap_or(1);
    let compression = number(decoder, Tag::Compression);
    let predictor = number(decoder, Tag::Predictor);
    let is = |method: CompressionMethod| compression == u32::from(method.to_u16());
    let deflated = is(CompressionMethod::Deflate) || is(CompressionMethod::OldDeflate);
    let packing = match predictor {
        1 if is(CompressionMethod::None) && native => Packing::None,
        1 if deflated && native => Packing::Deflated,
        // Its bytes are in one order whatever that of the file.
        3 if deflated => Packing::Predicted,
        _ => return None,
    };
    let offsets = decoder.get_tag_u64_vec(Tag::StripOffsets).ok()?;
    let lengths = decoder.get_tag_u64_vec(Tag::StripByteCounts).ok()?;
    let count = rows.div_ceil(strip);
    // What deflates to more than it was, and a little, is damaged.
    let most = (8 * strip * cols + 1024) as u64;
    let sound = offsets.len() == count
        && lengths.len() == count
        && lengths.iter().all(|length| *length <= most);
    sound.then_some(Stands {
        offsets,
        lengths,
        packing,
    })
}

impl Stands {
    /// The values of some strips of so many rows and columns, `count` values in all; those
    /// that follow one another in the file are read at one go.
    fn read(
        &self,
        file: &mut (impl Read + Seek),
        some: Range<usize>,
        (strip, cols, count): (usize, usize, usize),
    ) -> Result<Vec<f32>, ReadError> {
        let short = |error: std::io::Error| ReadError::damaged(FORMAT, error);
        let damaged = || ReadError::damaged(FORMAT, "a strip of another length");
        let mut values = vec![0.0_f32; count];
        let plain = self.packing == Packing::None;
        let full = 4 * strip * cols;
        let length = |at: usize| match plain {
            true => (full as u64).min(4 * (count - (at - some.start) * strip * cols) as u64),
            false => self.lengths[at],
        };
        let all: u64 = some.clone().map(length).sum();
        let mut packed = vec![0; if plain { 0 } else { all as usize }];
        let bytes: &mut [u8] = match plain {
            true => bytemuck::cast_slice_mut(&mut values),
            false => &mut packed,
        };
        let (mut first, mut done) = (some.start, 0);
        while first < some.end {
            let mut end = first + 1;
            let mut along = length(first);
            while end < some.end && self.offsets[end] == self.offsets[first] + along {
                along += length(end);
                end += 1;
            }
            file.seek(SeekFrom::Start(self.offsets[first]))
                .map_err(short)?;
            let part = bytes.get_mut(done..done + along as usize);
            file.read_exact(part.ok_or_else(damaged)?).map_err(short)?;
            done += along as usize;
            first = end;
        }
        if plain {
            return Ok(values);
        }
        let mut from = 0;
        let parts: Vec<&[u8]> = some
            .map(|at| {
                let part = &packed[from..from + self.lengths[at] as usize];
                from += part.len();
                part
            })
            .collect();
        let strips = values.par_chunks_mut(strip * cols).zip(parts);
        strips.try_for_each_init(
            || (Decompressor::new(), vec![0; 4 * cols]),
            |(inflating, row), (strip, packed)| {
                // A whole strip at once, which `libdeflate` does twice as fast as what
                // inflates a stream.
                let out: &mut [u8] = bytemuck::cast_slice_mut(strip);
                let (full, length) = (out.len(), inflating.zlib_decompress(packed, out));
                if length != Ok(full) {
                    return Err(damaged());
                }
                if self.packing == Packing::Predicted {
                    for values in strip.chunks_exact_mut(cols) {
                        row.copy_from_slice(bytemuck::cast_slice(values));
                        unpredicted(row, values);
                    }
                }
                Ok(())
            },
        )?;
        Ok(values)
    }
}

/// One row back through the predictor for floating-point numbers: see `blocks`.
fn unpredicted(row: &mut [u8], values: &mut [f32]) {
    let mut before = 0_u8;
    for byte in row.iter_mut() {
        before = before.wrapping_add(*byte);
        *byte = before;
    }
    let (high, low) = row.split_at(row.len() / 2);
    let ((a, b), (c, d)) = (high.split_at(values.len()), low.split_at(values.len()));
    let bytes = a.iter().zip(b).zip(c.iter().zip(d));
    for (value, ((a, b), (c, d))) in values.iter_mut().zip(bytes) {
        *value = f32::from_be_bytes([*a, *b, *c, *d]);
    }
}
