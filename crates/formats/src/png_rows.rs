//! PNG, written a few rows at a time, so that the picture need not fit into
//! memory.

use std::io::Write;

use png::{BitDepth, ColorType, Encoder, StreamWriter};

use crate::WriteError;
use crate::error::side;

/// What a pixel is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum PixelKind {
    /// One byte.
    Grey8,
    /// Two bytes, the higher one first.
    Grey16,
    /// Red, green and blue, a byte each: numbers, such as directions.
    Rgb8,
    /// Colour as screens have it (sRGB), a byte each.
    Srgb8,
    /// Red, green, blue and alpha, a byte each.
    Rgba8,
}

impl PixelKind {
    /// Bytes of a pixel.
    pub fn bytes(self) -> usize {
        match self {
            PixelKind::Grey8 => 1,
            PixelKind::Grey16 => 2,
            PixelKind::Rgb8 | PixelKind::Srgb8 => 3,
            PixelKind::Rgba8 => 4,
        }
    }
}

/// What both ways of writing begin with.
pub(crate) fn encoder<'a, W: Write>(
    out: W,
    kind: PixelKind,
    (cols, rows): (usize, usize),
) -> Result<Encoder<'a, W>, WriteError> {
    let mut encoder = Encoder::new(out, side(cols)?, side(rows)?);
    let (colour, depth) = match kind {
        PixelKind::Grey8 => (ColorType::Grayscale, BitDepth::Eight),
        PixelKind::Grey16 => (ColorType::Grayscale, BitDepth::Sixteen),
        PixelKind::Rgb8 | PixelKind::Srgb8 => (ColorType::Rgb, BitDepth::Eight),
        PixelKind::Rgba8 => (ColorType::Rgba, BitDepth::Eight),
    };
    encoder.set_color(colour);
    encoder.set_depth(depth);
    if kind == PixelKind::Srgb8 {
        encoder.set_source_srgb(png::SrgbRenderingIntent::Perceptual);
    }
    encoder.set_compression(png::Compression::Fast);
    Ok(encoder)
}

/// A picture that is being written from its first row on.
pub struct PngRows<W: Write + 'static> {
    stream: StreamWriter<'static, W>,
}

impl<W: Write + 'static> PngRows<W> {
    /// Begins a picture.
    ///
    /// # Errors
    /// [`WriteError`].
    pub fn begin(out: W, kind: PixelKind, cols: usize, rows: usize) -> Result<Self, WriteError> {
        let stream = encoder(out, kind, (cols, rows))?
            .write_header()?
            .into_stream_writer()?;
        Ok(Self { stream })
    }

    /// Writes the bytes of one or more rows.
    ///
    /// # Errors
    /// [`WriteError`].
    pub fn push(&mut self, bytes: &[u8]) -> Result<(), WriteError> {
        self.stream.write_all(bytes)?;
        Ok(())
    }

    /// Ends the picture; all of its rows must have been written.
    ///
    /// # Errors
    /// [`WriteError`].
    pub fn finish(self) -> Result<(), WriteError> {
        self.stream.finish()?;
        Ok(())
    }
}
