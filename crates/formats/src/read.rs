//! Reading a file, whatever its format.

use crate::{Heightfield, Limits, Picture, ReadError, ascii_grid, geotiff, jpeg, png_image};

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
        _ if ascii_grid::looks_like_one(bytes) => ascii_grid::read(bytes, limits)?,
        _ => return Err(ReadError::UnknownFormat),
    };
    heightfield
        .values
        .check_finite()
        .map_err(ReadError::NotFinite)?;
    Ok(heightfield)
}

/// Reads a picture: PNG or JPEG in grey or colour, or any heightfield.
///
/// # Errors
/// [`ReadError`] says what is wrong with the file.
pub fn read_picture(bytes: &[u8], limits: Limits) -> Result<Picture, ReadError> {
    match bytes {
        [0x89, b'P', b'N', b'G', ..] => png_image::read_picture(bytes, limits),
        [0xff, 0xd8, 0xff, ..] => jpeg::read(bytes, limits),
        _ => read_heightfield(bytes, limits).map(|heightfield| Picture {
            channels: vec![heightfield.values],
            units: heightfield.units,
        }),
    }
}
