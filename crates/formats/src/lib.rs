//! Open file formats, in and out.
//!
//! | format | in | out |
//! |---|---|---|
//! | GeoTIFF | u8, u16, i16, f32; one band | float32, with cell size and place, deflated or not, in strips or tiles, BigTIFF; plain TIFF of 8 and 16 bits |
//! | OpenEXR | one channel; as pictures red, green, blue, alpha | half and whole floats: one channel, or colour in linear light |
//! | PNG | grey, 8 and 16 bits; as pictures in colour too | grey 8 and 16 bits, RGB, RGBA; row by row |
//! | JPEG | as pictures | no |
//! | ESRI ASCII grid | yes | yes |
//! | raw 16 bits, low byte first | where its size is known | yes |
//! | OBJ with MTL, glTF 2.0 (GLB), PLY, STL | no | triangles |
//!
//! Values are taken as they stand in the file, never through a display gamma.
//! What comes from outside is checked before memory is taken for it: size,
//! kind, and that every value is a finite number.

mod ascii_grid;
mod error;
mod exr_image;
mod geotiff;
mod heightfield;
mod jpeg;
mod limits;
pub mod model;
mod placed;
mod png_image;
mod png_rows;
mod raw;
mod read;
mod steps;

pub use ascii_grid::write_ascii_grid;
pub use error::{ReadError, WriteError};
pub use exr_image::{ExrFloats, write_exr, write_exr_colour};
pub use geotiff::{
    Band, TiffLayout, TiffRows, write_geotiff, write_geotiff_bands, write_tiff_grey8,
    write_tiff_grey16,
};
pub use heightfield::{Heightfield, Heights, Picture, Units};
pub use limits::Limits;
pub use placed::Placed;
pub use png_image::{write_grey8, write_grey16, write_rgb8, write_rgba8};
pub use png_rows::{PixelKind, PngRows};
pub use raw::{is_raw16, raw16_as_png, read_raw16, write_raw16};
pub use read::{read_heightfield, read_heights, read_picture};
pub use steps::Steps;
