//! Geo keys, and the values used here (OGC 19-008r4, annex B).

pub(super) const MODEL_TYPE: u16 = 1024;
pub(super) const MODEL_GEOGRAPHIC: u16 = 2;
pub(super) const MODEL_USER_DEFINED: u16 = 32767;
pub(super) const RASTER_TYPE: u16 = 1025;
pub(super) const RASTER_PIXEL_IS_AREA: u16 = 1;
pub(super) const RASTER_PIXEL_IS_POINT: u16 = 2;
pub(super) const CITATION: u16 = 1026;
pub(super) const LINEAR_UNITS: u16 = 3076;
pub(super) const METRE: u16 = 9001;
