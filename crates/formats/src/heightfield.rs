//! Heightfields and pictures, as they come from files.

use terrain::Grid;
use terrain::grid::Georeference;

use crate::ReadError;

/// What the numbers in a file mean.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Units {
    /// Metres, as elevation models have.
    Metres,
    /// Steps of a picture, from black up.
    Steps {
        /// The value of white.
        white: u32,
    },
}

impl Units {
    /// The value of white, if there is one.
    pub fn white(self) -> Option<f32> {
        match self {
            Units::Metres => None,
            Units::Steps { white } => Some(white as f32),
        }
    }
}

/// Heights read from a file.
#[derive(Clone, Debug, PartialEq)]
pub struct Heightfield {
    /// Values as they stand in the file.
    pub values: Grid,
    /// What they mean.
    pub units: Units,
    /// Size of a cell from west to east and from south to north, metres, if
    /// the file says. Degrees are turned into metres at the file's latitude.
    pub cell_m: Option<(f64, f64)>,
    /// Where it lies on earth, if the file says.
    pub georeference: Option<Georeference>,
    /// The name of the format.
    pub format: &'static str,
}

/// Heights from a file, or a picture in colour of which one channel is meant.
#[derive(Clone, Debug, PartialEq)]
pub struct Heights {
    /// One to four grids of one size, as [`Picture`] has them.
    pub channels: Vec<Grid>,
    /// What their values mean.
    pub units: Units,
    /// Size of a cell, as [`Heightfield`] has it.
    pub cell_m: Option<(f64, f64)>,
    /// Where it lies on earth, if the file says.
    pub georeference: Option<Georeference>,
    /// The name of the format.
    pub format: &'static str,
}

/// A picture from a file: one to four grids of one size.
#[derive(Clone, Debug, PartialEq)]
pub struct Picture {
    /// Grey; grey and alpha; red, green and blue; or these and alpha. Values as
    /// they stand in the file.
    pub channels: Vec<Grid>,
    /// What they mean.
    pub units: Units,
}

/// Values that stand side by side in each cell, as a grid for each channel.
pub(crate) fn split_channels(
    format: &'static str,
    (cols, rows): (usize, usize),
    count: usize,
    values: impl Iterator<Item = f32>,
) -> Result<Vec<Grid>, ReadError> {
    let mut channels = vec![Vec::with_capacity(cols * rows); count];
    deal(&mut channels, values);
    let grid = |values| Grid::from_vec(cols, rows, values);
    let channels: Result<_, _> = channels.into_iter().map(grid).collect();
    channels.map_err(|error| ReadError::damaged(format, error))
}

/// Deals values out to the channels in turn.
pub(crate) fn deal(channels: &mut [Vec<f32>], mut values: impl Iterator<Item = f32>) {
    'all: loop {
        for channel in channels.iter_mut() {
            match values.next() {
                Some(value) => channel.push(value),
                None => break 'all,
            }
        }
    }
}

/// Refuses cells that carry the value for “no data”.
pub(crate) fn refuse_gaps(values: &Grid, no_data: Option<f64>) -> Result<(), ReadError> {
    let Some(value) = no_data.filter(|value| value.is_finite()) else {
        return Ok(());
    };
    match values
        .values()
        .iter()
        .filter(|&&v| v == value as f32)
        .count()
    {
        0 => Ok(()),
        count => Err(ReadError::Gaps { count, value }),
    }
}
