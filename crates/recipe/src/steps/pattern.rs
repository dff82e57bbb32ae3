//! What a step lays on the land: noise, an imported image, another strand.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use terrain::grid::{Beyond, Pyramid};
use terrain::shape::{PlacedImage, Placement, Warp};
use terrain::{Frame, Grid};

use super::Unfit;
use crate::grow::{GrowError, Site};

/// Where a pattern comes from.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum ImageSource {
    /// An imported file.
    #[default]
    Image,
    /// Another strand, as it looks over the whole land.
    Strand,
}

/// The value of mid-grey, which is neutral, as a share of white (common
/// practice).
pub(super) const MID_GREY: f32 = 0.5;

/// Cells along the longer side of a strand that is used as an image. Fixed, so
/// that the result does not depend on the resolution asked for.
pub(super) const STRAND_CELLS: usize = 512;

/// An image that is repeated over the land.
pub(super) struct Repeats<'i> {
    pub(super) image: &'i Pyramid,
    /// Size of a repeat from west to east, metres.
    pub(super) tile_m: f64,
    /// Turned clockwise.
    pub(super) turn_deg: f64,
    /// Whether every other repeat is mirrored.
    pub(super) mirror: bool,
    /// How places are pushed about, so that repeats do not show.
    pub(super) wander: Warp,
}

impl Repeats<'_> {
    /// What `value` makes of the image at each cell of `frame`.
    pub(super) fn laid(
        &self,
        site: &Site,
        frame: &Frame,
        value: impl Fn(f32) -> f32 + Sync,
    ) -> Result<Grid, GrowError> {
        let grid = self.image.image();
        let placed = PlacedImage {
            placement: Placement {
                x_m: 0.0,
                y_m: 0.0,
                width_m: self.tile_m,
                depth_m: self.tile_m * grid.rows() as f64 / grid.cols() as f64,
                turn_deg: self.turn_deg,
            },
            image: self.image,
            beyond: Some(match self.mirror {
                true => Beyond::Mirror,
                false => Beyond::Repeat,
            }),
        };
        if self.wander.distance_m == 0.0 {
            let place = |c: usize, r: usize| (frame.x_m(c), frame.y_m(r));
            return Ok(placed.fill_at(frame, place, value, site.run())?);
        }
        let (east, north) = self.wander.pushes(frame, site.run())?;
        let place = |c: usize, r: usize| {
            (
                frame.x_m(c) + f64::from(east.at(c, r)),
                frame.y_m(r) + f64::from(north.at(c, r)),
            )
        };
        Ok(placed.fill_at(frame, place, value, site.run())?)
    }
}

/// Refuses a source that names nothing.
pub(super) fn check_named(asset: Option<&str>, strand: Option<&str>) -> Result<(), Unfit> {
    match (asset, strand) {
        (Some(""), _) => Err((
            "asset",
            "empty".to_owned(),
            "import an image first".to_owned(),
        )),
        (_, Some("")) => Err((
            "strand",
            "empty".to_owned(),
            "choose a strand first".to_owned(),
        )),
        _ => Ok(()),
    }
}
