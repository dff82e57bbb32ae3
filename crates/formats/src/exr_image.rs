//! OpenEXR: values as they are, as half or whole floats, deflated; one channel or three.

use std::io::{Cursor, Seek, Write};

use exr::meta::MetaData;
use exr::meta::attribute::{AttributeValue, Text};
use exr::prelude::{
    AnyChannel, AnyChannels, Compression, Encoding, FlatSamples, Image, Layer, LayerAttributes,
    ReadChannels, ReadLayers, WritableImage,
};
use half::f16;
use terrain::Grid;
use terrain::ground::Colour;

use crate::error::side;
use crate::heightfield::Picture;
use crate::{Heightfield, Limits, ReadError, Units, WriteError};

const FORMAT: &str = "OpenEXR file";
/// Side of a cell, metres, as an attribute of our own beside the standard ones.
const CELL: &str = "cellMetres";
/// What one channel alone is called, as is usual for grey.
const GREY: &str = "Y";
/// How many channels of red, green, blue and alpha a file of others may have beside them.
const MOST_CHANNELS: usize = 16;

/// How many bits a value has.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum ExrFloats {
    /// 16 bits: eleven binary digits, up to 65,504.
    Half,
    /// 32 bits.
    #[default]
    Whole,
}

impl ExrFloats {
    fn of(self, values: impl Iterator<Item = f32>) -> FlatSamples {
        match self {
            Self::Half => FlatSamples::F16(values.map(f16::from_f32).collect()),
            Self::Whole => FlatSamples::F32(values.collect()),
        }
    }
}

/// Writes one channel, called Y; the size of a cell is an attribute of its own.
///
/// # Errors
/// [`WriteError`].
pub fn write_exr(
    out: impl Write + Seek,
    values: &Grid,
    cell_m: f64,
    floats: ExrFloats,
) -> Result<(), WriteError> {
    let samples = floats.of(values.values().iter().copied());
    let size = (values.cols(), values.rows());
    write_channels(out, size, cell_m, vec![AnyChannel::new(GREY, samples)])
}

/// Writes colour in linear light, as renderers take it: red, green and blue with the
/// primaries of sRGB, which are those that OpenEXR takes when a file does not say.
///
/// # Errors
/// [`WriteError`].
pub fn write_exr_colour(
    out: impl Write + Seek,
    colours: &Grid<Colour>,
    cell_m: f64,
    floats: ExrFloats,
) -> Result<(), WriteError> {
    let channel = |name: &str, of: fn(&Colour) -> f32| {
        AnyChannel::new(name, floats.of(colours.values().iter().map(of)))
    };
    let channels = vec![
        channel("R", |colour| colour.r),
        channel("G", |colour| colour.g),
        channel("B", |colour| colour.b),
    ];
    write_channels(out, (colours.cols(), colours.rows()), cell_m, channels)
}

fn write_channels(
    out: impl Write + Seek,
    (cols, rows): (usize, usize),
    cell_m: f64,
    channels: Vec<AnyChannel<FlatSamples>>,
) -> Result<(), WriteError> {
    // The format counts in 32 bits.
    side(cols)?;
    side(rows)?;
    let mut attributes = LayerAttributes::default();
    let cell = (Text::from(CELL), AttributeValue::F64(cell_m));
    attributes.other.extend([cell]);
    let encoding = Encoding {
        compression: Compression::ZIP16,
        ..Encoding::FAST_LOSSLESS
    };
    let channels = AnyChannels::sort(channels.into());
    let layer = Layer::new((cols, rows), attributes, encoding, channels);
    let written = Image::from_layer(layer).write().to_buffered(out);
    written.map_err(|error| match error {
        exr::error::Error::Io(error) => WriteError::Io(error),
        other => WriteError::Encode(other.to_string()),
    })
}

/// What there is of a file: its channels by name, and the size of a cell if it says so.
struct Content {
    channels: Vec<(String, Grid)>,
    cell_m: Option<f64>,
}

fn decode(bytes: &[u8], limits: Limits) -> Result<Content, ReadError> {
    let damaged = |error: exr::error::Error| ReadError::damaged(FORMAT, error);
    let meta = MetaData::read_from_buffered(Cursor::new(bytes), false).map_err(damaged)?;
    let mut channels = 0;
    for header in &meta.headers {
        let exr::prelude::Vec2(cols, rows) = header.layer_size;
        limits.admit(cols as u64, rows as u64)?;
        channels += header.channels.list.len();
    }
    if meta.headers.len() != 1 || !(1..=MOST_CHANNELS).contains(&channels) {
        return Err(ReadError::WrongKind {
            format: FORMAT,
            found: format!("{channels} channels in {} layers", meta.headers.len()),
            expected: "one layer of a few channels",
        });
    }
    let image = exr::prelude::read()
        .no_deep_data()
        .largest_resolution_level()
        .all_channels()
        .first_valid_layer()
        .all_attributes()
        .from_buffered(Cursor::new(bytes))
        .map_err(damaged)?;
    let layer = image.layer_data;
    let (cols, rows) = (layer.size.width(), layer.size.height());
    let cell_m = match layer.attributes.other.get(&Text::from(CELL)) {
        Some(AttributeValue::F64(cell_m)) if cell_m.is_finite() && *cell_m > 0.0 => Some(*cell_m),
        _ => None,
    };
    let channels = layer.channel_data.list.into_iter().map(|channel| {
        let values = channel.sample_data.values_as_f32().collect();
        let grid = Grid::from_vec(cols, rows, values);
        let grid = grid.map_err(|error| ReadError::damaged(FORMAT, error))?;
        Ok((channel.name.to_string(), grid))
    });
    Ok(Content {
        channels: channels.collect::<Result<_, _>>()?,
        cell_m,
    })
}

/// Reads heights: the one channel that there is, in metres.
pub(crate) fn read(bytes: &[u8], limits: Limits) -> Result<Heightfield, ReadError> {
    let Content {
        mut channels,
        cell_m,
    } = decode(bytes, limits)?;
    if channels.len() != 1 {
        let names: Vec<&str> = channels.iter().map(|(name, _)| name.as_str()).collect();
        return Err(ReadError::WrongKind {
            format: FORMAT,
            found: format!("the channels {}", names.join(", ")),
            expected: "one channel",
        });
    }
    Ok(Heightfield {
        values: channels.remove(0).1,
        units: Units::Metres,
        cell_m: cell_m.map(|cell_m| (cell_m, cell_m)),
        georeference: None,
        format: FORMAT,
    })
}

/// Reads a picture: red, green and blue, with alpha when there is one; or one channel.
pub(crate) fn read_picture(bytes: &[u8], limits: Limits) -> Result<Picture, ReadError> {
    let mut channels = decode(bytes, limits)?.channels;
    if channels.len() > 1 {
        let wanted = ["R", "G", "B", "A"];
        let place = |name: &str| wanted.iter().position(|wanted| *wanted == name);
        channels.retain(|(name, _)| place(name).is_some());
        channels.sort_by_key(|(name, _)| place(name));
        if channels.len() < 3 {
            return Err(ReadError::WrongKind {
                format: FORMAT,
                found: "other channels".to_owned(),
                expected: "red, green and blue, or one channel",
            });
        }
    }
    Ok(Picture {
        channels: channels.into_iter().map(|(_, grid)| grid).collect(),
        units: Units::Metres,
    })
}
