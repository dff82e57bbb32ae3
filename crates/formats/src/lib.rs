//! Open file formats, in and out.
//!
//! | format | in | out |
//! |---|---|---|
//! | GeoTIFF | u8, u16, i16, f32; one band | float32, with cell size and place; plain TIFF of 8 and 16 bits |
//! | PNG | grey, 8 and 16 bits; as pictures in colour too | grey 8 and 16 bits, RGB, RGBA; row by row |
//! | JPEG | as pictures | no |
//! | ESRI ASCII grid | yes | no |
//! | OBJ with MTL, glTF 2.0 (GLB), PLY, STL | no | triangles |
//!
//! Values are taken as they stand in the file, never through a display gamma.
//! What comes from outside is checked before memory is taken for it: size,
//! kind, and that every value is a finite number.

mod ascii_grid;
mod error;
mod geotiff;
mod heightfield;
mod jpeg;
mod limits;
pub mod model;
mod placed;
mod png_image;
mod png_rows;
mod read;

pub use error::{ReadError, WriteError};
pub use geotiff::{write_geotiff, write_tiff_grey8, write_tiff_grey16};
pub use heightfield::{Heightfield, Heights, Picture, Units};
pub use limits::Limits;
pub use placed::Placed;
pub use png_image::{write_grey8, write_grey16, write_rgb8, write_rgba8};
pub use png_rows::{PixelKind, PngRows};
pub use read::{read_heightfield, read_heights, read_picture};
