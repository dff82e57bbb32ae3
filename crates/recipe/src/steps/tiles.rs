//! A tile, repeated over the land.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::Warp;

use super::pattern::{ImageSource, MID_GREY, Repeats, STRAND_CELLS, check_named};
use super::{Kind, Needs, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Repeats an image or a strand over the land. Its edges can be made to meet,
/// and the repeats pushed about so that they do not show.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Tiles {
    /// What is repeated.
    pub source: ImageSource,
    /// The imported file.
    #[schemars(length(max = 200), extend("x-editor" = "asset", "x-when" = ["source", "image"]))]
    pub asset: String,
    /// The strand.
    #[schemars(length(max = 200), extend("x-editor" = "strand", "x-when" = ["source", "strand"]))]
    pub strand: String,
    /// The value of white in the file: 255 for 8 bits, 65535 for 16.
    #[schemars(range(min = 0.000_001, max = 1_000_000), extend("x-slider" = [1.0, 65535.0], "x-when" = ["source", "image"], "x-more" = true))]
    pub white: f64,
    /// From black to white; mid-grey is level. For a strand, a factor on its
    /// heights in hundredths.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 500.0]))]
    pub height_m: f64,
    /// Size of a repeat, from west to east.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-scale" = "log"))]
    pub tile_m: f64,
    /// Share of a repeat over which opposite edges are blended.
    #[schemars(range(min = 0, max = 0.5), extend("x-slider" = [0.0, 0.5]))]
    pub seamless: f64,
    /// Turned clockwise.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [-180.0, 180.0]))]
    pub turn_deg: f64,
    /// Mirror every other repeat.
    #[schemars(extend("x-more" = true))]
    pub mirror: bool,
    /// How far places are pushed about, so that repeats do not show.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 1500.0]))]
    pub wander_m: f64,
    /// Size of those swings.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-more" = true))]
    pub wander_feature_m: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

impl Default for Tiles {
    fn default() -> Self {
        Self {
            source: ImageSource::Image,
            asset: String::new(),
            strand: String::new(),
            white: 255.0,
            height_m: 100.0,
            tile_m: 1500.0,
            seamless: 0.15,
            turn_deg: 0.0,
            mirror: false,
            wander_m: 150.0,
            wander_feature_m: 2000.0,
            seed: 1,
        }
    }
}

impl Kind for Tiles {
    fn needs(&self) -> Option<Needs> {
        Some(Needs::StrandOrFile)
    }

    fn taking_in(self) -> Self {
        Self {
            source: ImageSource::Strand,
            ..self
        }
    }

    fn example(self) -> Option<Self> {
        let height_m = 60.0;
        Some(Self {
            height_m,
            ..self.taking_in()
        })
    }

    fn asset(&self) -> Option<&str> {
        (self.source == ImageSource::Image).then_some(&self.asset)
    }

    fn takes_in(&self) -> Option<&str> {
        (self.source == ImageSource::Strand).then_some(&self.strand)
    }

    fn takes_in_on(&self) -> Option<usize> {
        Some(STRAND_CELLS)
    }

    fn check(&self) -> Result<(), Unfit> {
        check_named(self.asset(), self.takes_in())
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (image, scale, middle) = match self.source {
            ImageSource::Image => {
                let image = site.image(&self.asset, [0.0; 4], self.seamless)?;
                (
                    image,
                    (self.height_m / self.white) as f32,
                    MID_GREY * self.white as f32,
                )
            }
            ImageSource::Strand => {
                let image = site.strand_image(&self.strand, STRAND_CELLS, self.seamless)?;
                (image, 0.01 * self.height_m as f32, 0.0)
            }
        };
        let repeats = Repeats {
            image: &image,
            tile_m: self.tile_m,
            turn_deg: self.turn_deg,
            mirror: self.mirror,
            wander: Warp {
                distance_m: self.wander_m,
                feature_m: self.wander_feature_m,
                octaves: 3.0,
                seed: self.seed,
            },
        };
        let value = |value: f32| (value - middle) * scale;
        Ok(repeats.laid(site, site.frame(), value)?.into())
    }
}
