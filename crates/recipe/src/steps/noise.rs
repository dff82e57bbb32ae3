//! Layered noise.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::noise::{Basis, CellDistance, CellFeature, Character, FractalNoise};

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// Large forms first, then finer and finer ones on top.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Noise {
    /// What each layer is made of.
    pub basis: NoiseBasis,
    /// Which distance to the strewn points is taken.
    #[schemars(extend("x-when" = ["basis", "cellular"]))]
    pub cell_feature: CellFeature,
    /// How that distance is measured.
    #[schemars(extend("x-when" = ["basis", "cellular"], "x-more" = true))]
    pub cell_distance: CellDistance,
    /// Upside down: domes instead of pits, creases instead of ridges.
    pub complement: bool,
    /// How layers join.
    pub character: Character,
    /// Size of the largest forms.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [50.0, 12_000.0], "x-scale" = "log", "x-of-land" = 0.25))]
    pub feature_m: f64,
    /// From the low places to the high ones: one in a hundred is lower, one higher. Rolling
    /// noise goes half of it down and half of it up, all others stand on the ground.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 2000.0], "x-of-land" = 0.025))]
    pub height_m: f64,
    /// Raises or lowers all of it.
    #[schemars(range(min = -40_000, max = 40_000), extend("x-unit" = "m", "x-slider" = [-1000.0, 1000.0]))]
    pub offset_m: f64,
    /// How many layers. Ones too fine for the grid fade out by themselves.
    #[schemars(range(min = 0.1, max = 16), extend("x-slider" = [1.0, 12.0]))]
    pub octaves: f64,
    /// How many times finer each layer is than the one before.
    #[schemars(range(min = 1.1, max = 6), extend("x-slider" = [1.5, 3.0], "x-more" = true))]
    pub lacunarity: f64,
    /// How strong each layer is, as a share of the one before.
    #[schemars(range(min = 0, max = 1), extend("x-slider" = [0.2, 0.8]))]
    pub gain: f64,
    /// How much ground there is for finer layers to stand on: low values keep
    /// detail to the heights.
    #[schemars(range(min = 0, max = 4), extend("x-slider" = [0.2, 1.5], "x-when" = ["character", "hybrid", "heterogeneous"]))]
    pub footing: f64,
    /// How far places are pushed about before the noise is read, so that
    /// straight forms bend.
    #[schemars(range(min = 0, max = 100_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0], "x-of-land" = 0.0167))]
    pub warp_m: f64,
    /// How strongly slopes weaken finer layers: flanks turn smooth, flats and
    /// crests keep their detail.
    #[schemars(range(min = 0, max = 100), extend("x-slider" = [0.0, 4.0], "x-more" = true))]
    pub slope_damping: f64,
    /// How many times longer forms are in one direction than across it.
    #[schemars(range(min = 0.05, max = 20), extend("x-slider" = [1.0, 6.0], "x-more" = true))]
    pub stretch: f64,
    /// The direction that forms are stretched in.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [0.0, 180.0], "x-more" = true))]
    pub bearing_deg: f64,
    /// How far the noise has changed over time; every whole number is
    /// another noise, and the way between them is smooth.
    #[schemars(range(min = -100_000, max = 100_000), extend("x-slider" = [0.0, 4.0], "x-more" = true))]
    pub time: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

/// What each layer is made of.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum NoiseBasis {
    /// Soft hills.
    #[default]
    Gradient,
    /// Blunt and blotchy.
    Value,
    /// Soft hills without preference for the axes.
    Simplex,
    /// Distances to strewn points: pits, domes, cracked plates.
    Cellular,
}

impl Default for Noise {
    fn default() -> Self {
        Self {
            basis: NoiseBasis::Gradient,
            cell_feature: CellFeature::Nearest,
            cell_distance: CellDistance::Straight,
            complement: false,
            character: Character::Fractal,
            feature_m: 3000.0,
            height_m: 300.0,
            offset_m: 0.0,
            octaves: 8.0,
            lacunarity: 2.0,
            gain: 0.5,
            footing: 0.7,
            warp_m: 200.0,
            slope_damping: 0.0,
            stretch: 1.0,
            bearing_deg: 0.0,
            time: 0.0,
            seed: 1,
        }
    }
}

impl Noise {
    fn basis(&self) -> Basis {
        match self.basis {
            NoiseBasis::Gradient => Basis::Gradient,
            NoiseBasis::Value => Basis::Value,
            NoiseBasis::Simplex => Basis::Simplex,
            NoiseBasis::Cellular => Basis::Cellular {
                feature: self.cell_feature,
                distance: self.cell_distance,
                complement: self.complement,
            },
        }
    }

    fn layered(&self) -> FractalNoise {
        FractalNoise {
            basis: self.basis(),
            character: self.character,
            feature_m: self.feature_m,
            octaves: self.octaves,
            lacunarity: self.lacunarity,
            gain: self.gain,
            offset: self.footing,
            slope_damping: self.slope_damping,
            stretch: self.stretch,
            bearing_deg: self.bearing_deg,
            time: self.time,
            seed: self.seed,
        }
    }
}

/// How bare noise becomes heights.
struct Measure {
    /// The value that stands at the offset.
    zero: f32,
    /// Metres for each unit.
    unit_m: f32,
}

impl Noise {
    /// How the heights of this noise are told from its values, so that they are as high as
    /// was said.
    fn measure(&self) -> Measure {
        let (low, high) = self.spread();
        Measure {
            zero: match self.character {
                Character::Fractal => 0.5 * (low + high),
                _ => low,
            },
            unit_m: self.height_m as f32 / (high - low),
        }
    }

    /// Whether the values themselves are turned upside down; cells are, each for itself.
    fn overturned(&self) -> bool {
        self.complement && self.basis != NoiseBasis::Cellular
    }

    fn spread(&self) -> (f32, f32) {
        let (low, high) = self.layered().spread();
        match self.overturned() {
            true => (-high, -low),
            false => (low, high),
        }
    }

    /// The height and offset that make of this noise what version 1 of the format did,
    /// where each unit of it was `unit_m`; nothing when it is none that could be grown.
    pub(crate) fn as_it_was(&self, unit_m: f64) -> Option<(f64, f64)> {
        // Whatever has more layers, or such forms, is refused.
        let can_be = (0.0..=16.0).contains(&self.octaves)
            && (1e-3..=1e7).contains(&self.feature_m)
            && (0.0..=10.0).contains(&self.lacunarity);
        if !can_be {
            return None;
        }
        let (low, high) = self.spread();
        let [low, high] = [low, high].map(f64::from);
        let stood = match self.character {
            Character::Fractal => 0.5 * (low + high),
            _ => 1.0 + low,
        };
        Some(((high - low) * unit_m, self.offset_m + stood * unit_m))
    }
}

impl Kind for Noise {
    fn octaves(&self) -> Option<(f64, f64, f64)> {
        Some((self.feature_m, self.octaves, self.lacunarity))
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let noise = self.layered();
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
        let Measure { zero, unit_m } = self.measure();
        let offset = self.offset_m as f32;
        let sign = if self.overturned() { -1.0 } else { 1.0 };
        Ok(bare.map(|v| (sign * v - zero) * unit_m + offset).into())
    }
}
