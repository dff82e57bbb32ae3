//! GeoTIFF in: one band of heights, with cell size and place when the file says them.

use std::io::{Cursor, Read, Seek};

use terrain::Grid;
use terrain::grid::Georeference;
use tiff::decoder::{Decoder, DecodingResult};
use tiff::tags::Tag;

use super::keys::{
    MODEL_GEOGRAPHIC, MODEL_TYPE, MODEL_USER_DEFINED, RASTER_PIXEL_IS_AREA, RASTER_PIXEL_IS_POINT,
    RASTER_TYPE,
};
use crate::heightfield::refuse_gaps;
use crate::{Heightfield, Limits, ReadError, Units};

pub(super) const FORMAT: &str = "GeoTIFF";

/// Length of a degree of latitude, metres (WGS 84, mean over the meridian).
const DEGREE_M: f64 = 111_132.0;

/// More keys, numbers or letters than these are no coordinate system.
const MOST_KEYS: usize = 1_000;
const MOST_LETTERS: usize = 4_000;

pub(crate) fn read(bytes: &[u8], limits: Limits) -> Result<Heightfield, ReadError> {
    let damaged = |error: tiff::TiffError| ReadError::damaged(FORMAT, error);
    let mut decoder = opened(Cursor::new(bytes), limits)?;
    let (cols, rows) = decoder.dimensions().map_err(damaged)?;
    limits.admit(cols.into(), rows.into())?;
    let kind = decoder.colortype().map_err(damaged)?;
    let expected = "one band of u8, u16, i16 or f32";
    if !matches!(kind, tiff::ColorType::Gray(8 | 16 | 32)) {
        return Err(ReadError::WrongKind {
            format: FORMAT,
            found: format!("{kind:?}"),
            expected,
        });
    }
    let (values, white): (Vec<f32>, _) = match decoder.read_image().map_err(damaged)? {
        DecodingResult::U8(values) => (values.into_iter().map(f32::from).collect(), Some(255)),
        DecodingResult::U16(values) => (values.into_iter().map(f32::from).collect(), Some(65_535)),
        DecodingResult::I16(values) => (values.into_iter().map(f32::from).collect(), None),
        DecodingResult::F32(values) => (values, None),
        _ => {
            let found = format!("{kind:?} in another number type");
            return Err(ReadError::WrongKind {
                format: FORMAT,
                found,
                expected,
            });
        }
    };
    let values = Grid::from_vec(cols as usize, rows as usize, values)
        .map_err(|error| ReadError::damaged(FORMAT, error))?;
    refuse_gaps(&values, no_data(&mut decoder))?;
    let cell_m = cell_m(&mut decoder, rows);
    // Without a place on earth, whole numbers are the steps of a picture.
    let units = match (white, cell_m) {
        (Some(white), None) => Units::Steps { white },
        _ => Units::Metres,
    };
    Ok(Heightfield {
        values,
        units,
        cell_m,
        georeference: georeference(&mut decoder, (cols, rows)),
        format: FORMAT,
    })
}

/// Opens a file, which may take no more memory than it is allowed.
pub(super) fn opened<R: Read + Seek>(file: R, limits: Limits) -> Result<Decoder<R>, ReadError> {
    let mut bounds = tiff::decoder::Limits::default();
    bounds.decoding_buffer_size = limits.bytes();
    bounds.intermediate_buffer_size = limits.bytes();
    bounds.ifd_value_size = limits.bytes();
    let decoder = Decoder::new(file).map_err(|error| ReadError::damaged(FORMAT, error))?;
    Ok(decoder.with_limits(bounds))
}

/// The value that marks cells without data, if there is one.
pub(super) fn no_data(decoder: &mut Decoder<impl Read + Seek>) -> Option<f64> {
    let text = decoder.get_tag_ascii_string(Tag::GdalNodata).ok()?;
    text.trim_matches(['\0', ' ']).parse().ok()
}

/// The size of a cell, when the file says a sensible one.
pub(super) fn cell_m(decoder: &mut Decoder<impl Read + Seek>, rows: u32) -> Option<(f64, f64)> {
    let scale = decoder.get_tag_f64_vec(Tag::ModelPixelScaleTag).ok()?;
    let &[x, y, ..] = scale.as_slice() else {
        return None;
    };
    let sound = |v: f64| v.is_finite() && v > 0.0;
    if !sound(x) || !sound(y) {
        return None;
    }
    let keys = decoder
        .get_tag_u16_vec(Tag::GeoKeyDirectoryTag)
        .unwrap_or_default();
    let geographic = keys
        .chunks_exact(4)
        .any(|key| key == [MODEL_TYPE, 0, 1, MODEL_GEOGRAPHIC]);
    if !geographic {
        return Some((x, y));
    }
    let north = decoder
        .get_tag_f64_vec(Tag::ModelTiepointTag)
        .ok()?
        .get(4)
        .copied()?;
    let latitude = north - y * f64::from(rows) / 2.0;
    Some((x * DEGREE_M * latitude.to_radians().cos(), y * DEGREE_M))
}

/// Where the file lies on earth, when it says so in a way that can be kept.
pub(super) fn georeference(
    decoder: &mut Decoder<impl Read + Seek>,
    (cols, rows): (u32, u32),
) -> Option<Georeference> {
    let mut directory = decoder.get_tag_u16_vec(Tag::GeoKeyDirectoryTag).ok()?;
    let scale = decoder.get_tag_f64_vec(Tag::ModelPixelScaleTag).ok()?;
    let tie = decoder.get_tag_f64_vec(Tag::ModelTiepointTag).ok()?;
    let (&[x, y, ..], &[col, row, _, east, north, _]) = (scale.as_slice(), tie.as_slice()) else {
        return None;
    };
    let doubles = decoder.get_tag_f64_vec(Tag::GeoDoubleParamsTag);
    let ascii = decoder.get_tag_ascii_string(Tag::GeoAsciiParamsTag);
    let (mut west, mut top) = (east - col * x, north + row * y);
    let kinds = directory.chunks_exact_mut(4).skip(1);
    for key in kinds.filter(|key| key[0] == RASTER_TYPE && key[3] == RASTER_PIXEL_IS_POINT) {
        // Places are those of the middles of cells; ours are of their edges.
        key[3] = RASTER_PIXEL_IS_AREA;
        (west, top) = (west - 0.5 * x, top + 0.5 * y);
    }
    // A system of the file's own, such as ours, says nothing of the earth.
    let named = directory
        .chunks_exact(4)
        .skip(1)
        .any(|key| key[0] == MODEL_TYPE && key[3] != MODEL_USER_DEFINED);
    let found = Georeference {
        west,
        south: top - y * f64::from(rows),
        east: west + x * f64::from(cols),
        north: top,
        directory,
        doubles: doubles.unwrap_or_default(),
        ascii: ascii.unwrap_or_default().trim_end_matches('\0').to_owned(),
    };
    let small = found.directory.len() <= MOST_KEYS
        && found.doubles.len() <= MOST_KEYS
        && found.ascii.len() <= MOST_LETTERS;
    (named && small && found.is_sound()).then_some(found)
}
