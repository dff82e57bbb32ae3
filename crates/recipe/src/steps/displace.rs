//! Displacement by a texture.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::grid::Pyramid;
use terrain::noise::{Basis, CellDistance, CellFeature, Character, FractalNoise};
use terrain::shape::{Warp, displaced_along_normal, displacement_margin};
use terrain::{Frame, Grid};

use super::pattern::{MID_GREY, Repeats, STRAND_CELLS, check_named};
use super::{Kind, StepOutput, Unfit};
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
    /// The strand.
    #[schemars(length(max = 200), extend("x-editor" = "strand", "x-when" = ["texture", "strand"]))]
    pub strand: String,
    /// The value of white in the file: 255 for 8 bits, 65535 for 16.
    #[schemars(range(min = 0.000_001, max = 1_000_000), extend("x-slider" = [1.0, 65535.0], "x-when" = ["texture", "image"], "x-more" = true))]
    pub white: f64,
    /// How layers join.
    #[schemars(extend("x-when" = ["texture", "noise", "cells"]))]
    pub character: Character,
    /// Farthest that the surface moves, up or down.
    #[schemars(title = "Farthest", range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 200.0]))]
    pub amount_m: f64,
    /// Size of the largest forms, or of one repeat of an image or a strand.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [10.0, 3000.0], "x-scale" = "log"))]
    pub feature_m: f64,
    /// How many layers.
    #[schemars(range(min = 0.1, max = 16), extend("x-slider" = [1.0, 12.0], "x-when" = ["texture", "noise", "cells"]))]
    pub octaves: f64,
    /// Which way the surface moves.
    pub direction: DisplaceDirection,
    /// Share of a repeat over which opposite edges are blended.
    #[schemars(range(min = 0, max = 0.5), extend("x-slider" = [0.0, 0.5], "x-when" = ["texture", "image", "strand"]))]
    pub seamless: f64,
    /// Turned clockwise.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [-180.0, 180.0], "x-when" = ["texture", "image", "strand"]))]
    pub turn_deg: f64,
    /// Mirror every other repeat.
    #[schemars(extend("x-when" = ["texture", "image", "strand"], "x-more" = true))]
    pub mirror: bool,
    /// How far places are pushed about, so that repeats do not show.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 1500.0], "x-when" = ["texture", "image", "strand"]))]
    pub wander_m: f64,
    /// Size of those swings.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-when" = ["texture", "image", "strand"], "x-more" = true))]
    pub wander_feature_m: f64,
    /// How far the texture has changed over time.
    #[schemars(range(min = -100_000, max = 100_000), extend("x-slider" = [0.0, 4.0], "x-when" = ["texture", "noise", "cells"], "x-more" = true))]
    pub time: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
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
    /// Another strand, repeated: between its lowest and its highest point is neutral.
    Strand,
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
            strand: String::new(),
            white: 255.0,
            character: Character::Ridged,
            amount_m: 40.0,
            feature_m: 300.0,
            octaves: 6.0,
            direction: DisplaceDirection::Normal,
            seamless: 0.1,
            turn_deg: 0.0,
            mirror: false,
            wander_m: 0.0,
            wander_feature_m: 2000.0,
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
            DisplaceTexture::Image => {
                let image = site.image(&self.asset, [0.0; 4], self.seamless)?;
                let white = self.white as f32;
                return self.laid(site, frame, &image, (MID_GREY * white, 0.5 * white));
            }
            DisplaceTexture::Strand => {
                let image = site.strand_image(&self.strand, STRAND_CELLS, self.seamless)?;
                let (low, high) = image.image().range();
                let half = (0.5 * (high - low)).max(f32::MIN_POSITIVE);
                return self.laid(site, frame, &image, (0.5 * (low + high), half));
            }
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

    /// A repeated image, −1 to 1 from `half` below its `middle` to `half` above.
    fn laid(
        &self,
        site: &Site,
        frame: &Frame,
        image: &Pyramid,
        (middle, half): (f32, f32),
    ) -> Result<Grid, GrowError> {
        let repeats = Repeats {
            image,
            tile_m: self.feature_m,
            turn_deg: self.turn_deg,
            mirror: self.mirror,
            wander: Warp {
                distance_m: self.wander_m,
                feature_m: self.wander_feature_m,
                octaves: 3.0,
                seed: self.seed,
            },
        };
        repeats.laid(site, frame, |value| {
            ((value - middle) / half).clamp(-1.0, 1.0)
        })
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

    fn takes_in(&self) -> Option<&str> {
        (self.texture == DisplaceTexture::Strand).then_some(&self.strand)
    }

    fn takes_in_on(&self) -> Option<usize> {
        Some(STRAND_CELLS)
    }

    fn margin(&self, cell_m: f64) -> usize {
        match self.direction {
            DisplaceDirection::Vertical => 0,
            DisplaceDirection::Normal => displacement_margin(self.amount_m, cell_m),
        }
    }

    fn check(&self) -> Result<(), Unfit> {
        check_named(self.asset(), self.takes_in())
    }

    fn displaces(&self) -> bool {
        true
    }

    fn octaves(&self) -> Option<(f64, f64, f64)> {
        let layered = matches!(
            self.texture,
            DisplaceTexture::Noise | DisplaceTexture::Cells
        );
        layered.then_some((self.feature_m, self.octaves, 2.0))
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
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
