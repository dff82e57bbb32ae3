//! Open file formats, in and out.
//!
//! | format | in | out |
//! |---|---|---|
//! | GeoTIFF | u8, u16, i16, f32; one band | float32, with cell size and place |
//! | PNG | grey, 8 and 16 bits | grey 8 and 16 bits, RGB, RGBA |
//! | ESRI ASCII grid | yes | no |
//!
//! Values are taken as they stand in the file, never through a display gamma.
//! What comes from outside is checked before memory is taken for it: size,
//! kind, and that every value is a finite number.

mod ascii_grid;
mod error;
mod geotiff;
mod heightfield;
mod limits;
mod png_image;

pub use error::{ReadError, WriteError};
pub use geotiff::write_geotiff;
pub use heightfield::{Heightfield, Units, read_heightfield};
pub use limits::Limits;
pub use png_image::{write_grey8, write_grey16, write_rgb8, write_rgba8};
