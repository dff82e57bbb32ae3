//! Reading a file, whatever its format.

use crate::{
    Heightfield, Heights, Limits, Picture, ReadError, ascii_grid, exr_image, geotiff, jpeg,
    png_image,
};

/// Reads a heightfield, whichever of the formats it is in.
///
/// # Errors
/// [`ReadError`] says what is wrong with the file.
pub fn read_heightfield(bytes: &[u8], limits: Limits) -> Result<Heightfield, ReadError> {
    let heightfield = match bytes {
        [b'I', b'I', 42 | 43, 0, ..] | [b'M', b'M', 0, 42 | 43, ..] => {
            geotiff::read(bytes, limits)?
        }
        [0x89, b'P', b'N', b'G', ..] => png_image::read(bytes, limits)?,
        [0x76, 0x2f, 0x31, 0x01, ..] => exr_image::read(bytes, limits)?,
        _ if ascii_grid::looks_like_one(bytes) => ascii_grid::read(bytes, limits)?,
        _ => return Err(ReadError::UnknownFormat),
    };
    heightfield
        .values
        .check_finite()
        .map_err(ReadError::NotFinite)?;
    Ok(heightfield)
}

/// Reads heights: a heightfield, or a picture in colour, of which one channel is meant.
///
/// # Errors
/// [`ReadError`] says what is wrong with the file.
pub fn read_heights(bytes: &[u8], limits: Limits) -> Result<Heights, ReadError> {
    match read_heightfield(bytes, limits) {
        Ok(field) => Ok(Heights {
            channels: vec![field.values],
            units: field.units,
            cell_m: field.cell_m,
            georeference: field.georeference,
            format: field.format,
        }),
        Err(refused @ (ReadError::WrongKind { .. } | ReadError::UnknownFormat)) => {
            let format = match bytes {
                [0x89, b'P', b'N', b'G', ..] => "PNG",
                [0xff, 0xd8, 0xff, ..] => "JPEG",
                [0x76, 0x2f, 0x31, 0x01, ..] => "OpenEXR file",
                _ => return Err(refused),
            };
            let Picture { channels, units } = read_picture(bytes, limits)?;
            Ok(Heights {
                channels,
                units,
                cell_m: None,
                georeference: None,
                format,
            })
        }
        Err(error) => Err(error),
    }
}

/// Reads a picture: PNG, JPEG or OpenEXR in grey or colour, or any heightfield.
///
/// # Errors
/// [`ReadError`] says what is wrong with the file.
pub fn read_picture(bytes: &[u8], limits: Limits) -> Result<Picture, ReadError> {
    match bytes {
        [0x89, b'P', b'N', b'G', ..] => png_image::read_picture(bytes, limits),
        [0xff, 0xd8, 0xff, ..] => jpeg::read(bytes, limits),
        [0x76, 0x2f, 0x31, 0x01, ..] => exr_image::read_picture(bytes, limits),
        _ => read_heightfield(bytes, limits).map(|heightfield| Picture {
            channels: vec![heightfield.values],
            units: heightfield.units,
        }),
    }
}
