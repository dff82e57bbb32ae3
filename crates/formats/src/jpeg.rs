//! JPEG: pictures in.

use terrain::Grid;
use zune_jpeg::JpegDecoder;
use zune_jpeg::zune_core::bytestream::ZCursor;
use zune_jpeg::zune_core::colorspace::ColorSpace;
use zune_jpeg::zune_core::options::DecoderOptions;

use crate::heightfield::{Picture, split_channels};
use crate::{Limits, ReadError, Units};

const FORMAT: &str = "JPEG";

pub(crate) fn read(bytes: &[u8], limits: Limits) -> Result<Picture, ReadError> {
    let damaged = |error: zune_jpeg::errors::DecodeErrors| ReadError::damaged(FORMAT, error);
    let options = DecoderOptions::default().jpeg_set_out_colorspace(ColorSpace::RGB);
    let mut decoder = JpegDecoder::new_with_options(ZCursor::new(bytes), options);
    decoder.decode_headers().map_err(damaged)?;
    let (cols, rows) = decoder
        .dimensions()
        .ok_or(ReadError::TooSmall { cols: 0, rows: 0 })?;
    limits.admit(cols as u64, rows as u64)?;
    let pixels = decoder.decode().map_err(damaged)?;
    let values = pixels.iter().map(|&v| f32::from(v));
    let channels: Vec<Grid> = split_channels(FORMAT, (cols, rows), 3, values)?;
    Ok(Picture {
        channels,
        units: Units::Steps { white: 255 },
    })
}
