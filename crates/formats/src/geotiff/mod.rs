//! GeoTIFF (OGC 19-008r4): one band of heights, with cell size and place.

mod blocks;
mod keys;
mod read;
mod rows;
mod write;

pub(crate) use read::read;
pub use rows::TiffRows;
pub use write::{
    Band, TiffLayout, write_geotiff, write_geotiff_bands, write_tiff_grey8, write_tiff_grey16,
};
