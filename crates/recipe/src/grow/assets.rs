//! Imported files, as growth sees them.

use std::sync::Arc;

use terrain::grid::stretch;
use terrain::{Extent, Frame, Grid};

/// An imported heightfield or picture.
#[derive(Clone, Debug, PartialEq)]
pub struct Image {
    /// One to four grids of one size with values as they stand in the file:
    /// heights or grey; grey and alpha; red, green and blue; these and alpha.
    pub channels: Vec<Arc<Grid>>,
    /// The value of white; none when the values are metres.
    pub white: Option<f32>,
}

impl Image {
    /// An image of `channels` of one size.
    pub fn of(channels: Vec<Grid>, white: Option<f32>) -> Self {
        Self {
            channels: channels.into_iter().map(Arc::new).collect(),
            white,
        }
    }

    /// Channels that are not alpha.
    pub fn colours(&self) -> usize {
        match self.channels.len() {
            0..=2 => 1,
            _ => 3,
        }
    }

    /// The values of a channel that count as 0 and as 1: black and white, or
    /// the lowest and the highest where there is no white.
    pub(crate) fn ends(&self, channel: usize) -> (f32, f32) {
        match self.white {
            Some(white) => (0.0, white),
            None => self.channels[channel].range(),
        }
    }

    /// The mean of a channel, from black (0) to white (1).
    pub fn mean_share(&self, channel: usize) -> f64 {
        let share = self.share(channel);
        share.sum() / share.values().len() as f64
    }

    /// A channel from black (0) to white (255), with at most `cells` along its longer side.
    pub fn small(&self, channel: usize, cells: usize) -> Grid<u8> {
        let share = self.share(channel);
        let extent = Extent {
            width_m: share.cols() as f64,
            depth_m: share.rows() as f64,
        };
        let cells = cells.min(share.cols().max(share.rows()));
        let small = stretch(&share, extent, &Frame::with_cells(extent, cells));
        small.map(|share| (share.clamp(0.0, 1.0) * 255.0).round() as u8)
    }

    /// A channel from 0 to 1.
    pub(crate) fn share(&self, channel: usize) -> Grid {
        let share = between(self.ends(channel));
        self.channels[channel].map(share)
    }
}

/// How far a value is from the first of two ends to the second.
pub(crate) fn between((low, high): (f32, f32)) -> impl Fn(f32) -> f32 {
    let scale = 1.0 / (high - low).max(f32::MIN_POSITIVE);
    move |value| (value - low) * scale
}

/// Where growth finds imported files.
pub trait Assets: Sync {
    /// The asset called `id`. The same `id` always means the same values.
    fn image(&self, id: &str) -> Option<Arc<Image>>;

    /// A channel of the asset called `id`, as it stands in its file; the last one when there
    /// are fewer.
    fn channel(&self, id: &str, channel: usize) -> Option<Arc<Grid>> {
        let image = self.image(id)?;
        image
            .channels
            .get(channel)
            .or(image.channels.last())
            .cloned()
    }
}

/// No assets at all.
#[derive(Clone, Copy, Debug, Default)]
pub struct NoAssets;

impl Assets for NoAssets {
    fn image(&self, _id: &str) -> Option<Arc<Image>> {
        None
    }
}
