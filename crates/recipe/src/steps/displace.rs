//! Displacement by a texture.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::grid::Beyond;
use terrain::noise::{Basis, CellDistance, CellFeature, Character, FractalNoise};
use terrain::shape::{PlacedImage, Placement, displaced_along_normal, displacement_margin};
use terrain::{Frame, Grid};

use super::pattern::{MID_GREY, check_named};
use super::{Kind, Made, Unfit};
use crate::grow::{GrowError, Site};

/// Moves the surface by a texture: what is lighter than mid-grey rises, what
/// is darker sinks. Along the normal, rock detail stands out from a cliff and
/// is not stretched down it; where the surface folds over itself a heightfield
/// keeps the highest part.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Displace {
    /// The texture.
    pub texture: DisplaceTexture,
    /// The imported file.
    #[schemars(length(max = 200), extend("x-editor" = "asset", "x-when" = ["texture", "image"]))]
    pub asset: String,
    /// The value of white in the file: 255 for 8 bits, 65535 for 16.
    #[schemars(range(min = 0.000_001, max = 1_000_000), extend("x-slider" = [1.0, 65535.0], "x-when" = ["texture", "image"], "x-more" = true))]
    pub white: f64,
    /// How layers join.
    #[schemars(extend("x-when" = ["texture", "noise", "cells"]))]
    pub character: Character,
    /// Farthest that the surface moves, up or down.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 200.0]))]
    pub amount_m: f64,
    /// Size of the largest forms, or of one repeat of an image.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [10.0, 3000.0], "x-scale" = "log"))]
    pub feature_m: f64,
    /// How many layers.
    #[schemars(range(min = 0.1, max = 16), extend("x-slider" = [1.0, 12.0], "x-when" = ["texture", "noise", "cells"]))]
    pub octaves: f64,
    /// Which way the surface moves.
    pub direction: DisplaceDirection,
    /// How far the texture has changed over time.
    #[schemars(range(min = -100_000, max = 100_000), extend("x-slider" = [0.0, 4.0], "x-when" = ["texture", "noise", "cells"], "x-more" = true))]
    pub time: f64,
    /// Which of the endless variants.
    #[schemars(extend("x-slider" = [0, 99], "x-when" = ["texture", "noise", "cells"]))]
    pub seed: u32,
}

/// What moves the surface.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum DisplaceTexture {
    /// Layered gradient noise.
    #[default]
    Noise,
    /// Layered cells: plates and blocks.
    Cells,
    /// An imported image, repeated.
    Image,
}

/// Which way a surface moves.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum DisplaceDirection {
    /// Straight up and down.
    #[default]
    Vertical,
    /// At right angles to the surface.
    Normal,
}

impl Default for Displace {
    fn default() -> Self {
        Self {
            texture: DisplaceTexture::Noise,
            asset: String::new(),
            white: 255.0,
            character: Character::Ridged,
            amount_m: 40.0,
            feature_m: 300.0,
            octaves: 6.0,
            direction: DisplaceDirection::Normal,
            time: 0.0,
            seed: 1,
        }
    }
}

impl Displace {
    /// The texture on `frame`, −1 to 1.
    fn texture(&self, site: &Site, frame: &Frame) -> Result<Grid, GrowError> {
        let basis = match self.texture {
            DisplaceTexture::Noise => Basis::Gradient,
            DisplaceTexture::Cells => Basis::Cellular {
                feature: CellFeature::Border,
                distance: CellDistance::Straight,
                complement: false,
            },
            DisplaceTexture::Image => return self.image(site, frame),
        };
        let noise = FractalNoise {
            basis,
            character: self.character,
            feature_m: self.feature_m,
            octaves: self.octaves,
            time: self.time,
            seed: self.seed,
            ..FractalNoise::default()
        };
        Ok(noise.fill(frame, site.run())?)
    }

    fn image(&self, site: &Site, frame: &Frame) -> Result<Grid, GrowError> {
        /// Share of a repeat over which its edges are made to meet.
        const SEAM: f64 = 0.1;
        let image = site.image(&self.asset, [0.0; 4], SEAM)?;
        let grid = image.image();
        let placed = PlacedImage {
            placement: Placement {
                x_m: 0.0,
                y_m: 0.0,
                width_m: self.feature_m,
                depth_m: self.feature_m * grid.rows() as f64 / grid.cols() as f64,
                turn_deg: 0.0,
            },
            image: &image,
            beyond: Some(Beyond::Repeat),
        };
        let (middle, scale) = (MID_GREY * self.white as f32, 2.0 / self.white as f32);
        let place = |c: usize, r: usize| (frame.x_m(c), frame.y_m(r));
        let value = |value: f32| ((value - middle) * scale).clamp(-1.0, 1.0);
        Ok(placed.fill_at(frame, place, value, site.run())?)
    }
}

impl Kind for Displace {
    fn example(self) -> Option<Self> {
        Some(Self {
            amount_m: 110.0,
            ..self
        })
    }

    fn asset(&self) -> Option<&str> {
        (self.texture == DisplaceTexture::Image).then_some(&self.asset)
    }

    fn margin(&self, cell_m: f64) -> usize {
        match self.direction {
            DisplaceDirection::Vertical => 0,
            DisplaceDirection::Normal => displacement_margin(self.amount_m, cell_m),
        }
    }

    fn check(&self) -> Result<(), Unfit> {
        check_named(self.asset(), None)
    }

    fn displaces(&self) -> bool {
        true
    }

    fn octaves(&self) -> Option<(f64, f64, f64)> {
        let layered = self.texture != DisplaceTexture::Image;
        layered.then_some((self.feature_m, self.octaves, 2.0))
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        let amount = self.amount_m as f32;
        let frame = site.frame();
        if self.direction == DisplaceDirection::Vertical {
            let texture = self.texture(site, frame)?;
            return Ok(site
                .below_here()
                .zip_map(&texture, |height, texture| height + amount * texture)
                .into());
        }
        let (below, wide) = site.below();
        let distance = self.texture(site, wide)?.map(|texture| amount * texture);
        let farthest = self.amount_m;
        let run = site.run();
        Ok(displaced_along_normal(below, wide, &distance, farthest, frame, run)?.into())
    }
}
