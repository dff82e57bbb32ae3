//! Rock outcrops.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::mask::smooth;
use terrain::noise::{Basis, Character, FractalNoise, hash};
use terrain::shape::Warp;

use super::products::ROCK_BROWN;
use super::{Kind, StepOutput};
use crate::document::{Declared, Form, Measure, Product};
use crate::grow::{GrowError, Products, Site};

/// Lays strongly distorted rock into the land as cliffs, with their foot
/// blended in. Leaves a trace of where they are, so that later steps can spare
/// them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Outcrop {
    /// Size of the largest outcrops.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [50.0, 4000.0], "x-scale" = "log"))]
    pub feature_m: f64,
    /// How high they stand above the land.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 500.0]))]
    pub height_m: f64,
    /// Share of the land that they take, about.
    #[schemars(range(min = 0, max = 1))]
    pub share: f64,
    /// How upright their walls are.
    #[schemars(range(min = 0, max = 1))]
    pub steepness: f64,
    /// How strongly their outline is distorted.
    #[schemars(range(min = 0, max = 4), extend("x-slider" = [0.0, 1.5]))]
    pub distortion: f64,
    /// Height of the ledges in their walls.
    #[schemars(range(min = 0, max = 1))]
    pub ledges: f64,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

impl Default for Outcrop {
    fn default() -> Self {
        Self {
            feature_m: 900.0,
            height_m: 120.0,
            share: 0.2,
            steepness: 0.7,
            distortion: 0.6,
            ledges: 0.4,
            seed: 1,
        }
    }
}

/// Values of the noise that bounds outcrops lie within this on most places.
const USUAL_REACH: f32 = 0.5;
/// Width of a wall, in units of the noise, at steepness 0 and 1.
const WALL: (f32, f32) = (0.35, 0.03);
/// Share of the height that fine relief on top takes.
const RELIEF: f32 = 0.3;
/// Ledges from foot to top.
const LEDGES: f32 = 4.0;

/// Where outcrops stand.
pub const OUTCROP: Product = Product::of(&Declared {
    name: "outcrop",
    title: "Outcrop",
    about: "Where outcrops stand, 0 to 1.",
    form: Form::field(Measure::share(), ROCK_BROWN, 1.0),
});

impl Kind for Outcrop {
    fn products(&self) -> &'static [Product] {
        &[OUTCROP]
    }

    fn octaves(&self) -> Option<(f64, f64, f64)> {
        None
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let (frame, run) = (site.frame(), site.run());
        let body = FractalNoise {
            basis: Basis::Simplex,
            feature_m: self.feature_m,
            octaves: 6.0,
            gain: 0.5,
            seed: self.seed,
            ..FractalNoise::default()
        };
        let relief = FractalNoise {
            character: Character::Ridged,
            feature_m: 0.3 * self.feature_m,
            octaves: 7.0,
            seed: hash(1, 0, self.seed),
            ..FractalNoise::default()
        };
        let warp = Warp {
            distance_m: self.distortion * self.feature_m,
            feature_m: 0.7 * self.feature_m,
            octaves: 4.0,
            seed: hash(2, 0, self.seed),
        };
        let (east, north) = warp.pushes(frame, run)?;
        let body = body.fill_warped(frame, &east, &north, run)?;
        let relief = relief.fill_warped(frame, &east, &north, run)?;
        let level = USUAL_REACH * (1.0 - 2.0 * self.share as f32);
        let wall = WALL.0 + self.steepness as f32 * (WALL.1 - WALL.0);
        let outcrop = body.map(|body| smooth((body - level) / wall));
        let (height, ledges) = (self.height_m as f32, self.ledges as f32);
        let raised = outcrop.zip_map(&relief, |outcrop, relief| {
            // Ledges: a soft staircase from the foot to the top.
            let step = (outcrop * LEDGES).floor() / LEDGES;
            let within = smooth((outcrop - step) * LEDGES);
            let stepped = step + within / LEDGES;
            let risen = outcrop + ledges * (stepped - outcrop);
            height * (risen * (1.0 - RELIEF) + RELIEF * outcrop * 0.5 * (relief + 1.0))
        });
        Ok(StepOutput {
            heights: site
                .below_here()
                .zip_map(&raised, |below, raised| below + raised),
            products: Products::default().with(OUTCROP, outcrop),
            ledger: None,
        })
    }
}
