//! Layered gradient noise.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::noise::{Character, FractalNoise};

use super::{Kind, Made};
use crate::grow::{GrowError, Site};

/// Large forms first, then finer and finer ones on top.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Noise {
    /// What each layer looks like.
    pub character: NoiseCharacter,
    /// Size of the largest forms.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [50.0, 12_000.0], "x-scale" = "log"))]
    pub feature_m: f64,
    /// From the lowest possible point to the highest.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 2500.0]))]
    pub height_m: f64,
    /// Raises or lowers all of it.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-1000.0, 1000.0]))]
    pub offset_m: f64,
    /// How many layers. Ones too fine for the grid fade out by themselves.
    #[schemars(range(min = 0.1, max = 16), extend("x-slider" = [1.0, 12.0]))]
    pub octaves: f64,
    /// How many times finer each layer is than the one before.
    #[schemars(range(min = 1.1, max = 6), extend("x-slider" = [1.5, 3.0]))]
    pub lacunarity: f64,
    /// How strong each layer is, as a share of the one before.
    #[schemars(range(min = 0, max = 1), extend("x-slider" = [0.2, 0.8]))]
    pub gain: f64,
    /// How far places are pushed about before the noise is read, so that
    /// straight forms bend.
    #[schemars(range(min = 0, max = 100_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0]))]
    pub warp_m: f64,
    /// Which of the endless variants.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

/// What each layer of noise looks like.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum NoiseCharacter {
    /// Rolling: hills and hollows alike.
    #[default]
    Fractal,
    /// Sharp crests, smooth valleys.
    Ridged,
    /// Rounded domes with sharp creases between.
    Billow,
}

impl From<NoiseCharacter> for Character {
    fn from(character: NoiseCharacter) -> Self {
        match character {
            NoiseCharacter::Fractal => Self::Fractal,
            NoiseCharacter::Ridged => Self::Ridged,
            NoiseCharacter::Billow => Self::Billow,
        }
    }
}

impl Default for Noise {
    fn default() -> Self {
        Self {
            character: NoiseCharacter::Fractal,
            feature_m: 3000.0,
            height_m: 600.0,
            offset_m: 0.0,
            octaves: 8.0,
            lacunarity: 2.0,
            gain: 0.5,
            warp_m: 0.0,
            seed: 1,
        }
    }
}

impl Kind for Noise {
    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        let noise = FractalNoise {
            character: self.character.into(),
            feature_m: self.feature_m,
            octaves: self.octaves,
            lacunarity: self.lacunarity,
            gain: self.gain,
            seed: self.seed,
            ..FractalNoise::default()
        };
        let frame = site.frame();
        let bare = if self.warp_m > 0.0 {
            let warp = terrain::shape::Warp {
                distance_m: self.warp_m,
                // Swings about as wide as the forms that they bend.
                feature_m: self.feature_m,
                octaves: 2.0,
                seed: self.seed,
            };
            let (east, north) = warp.pushes(frame, site.run())?;
            noise.fill_warped(frame, &east, &north, site.run())?
        } else {
            noise.fill(frame, site.run())?
        };
        let (half, offset) = (0.5 * self.height_m as f32, self.offset_m as f32);
        // Rolling noise swings about zero; crests and domes stand on it.
        let floor = match self.character {
            NoiseCharacter::Fractal => 0.0,
            NoiseCharacter::Ridged | NoiseCharacter::Billow => 1.0,
        };
        Ok(bare.map(|v| (v + floor) * half + offset).into())
    }
}
