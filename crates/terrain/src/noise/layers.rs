//! How octaves add up at one place.
//!
//! The sum, the ridged form and the two multifractals follow Musgrave, in
//! Ebert et al., "Texturing and Modeling: A Procedural Approach" (3rd ed.
//! 2003, ch. 16). Ours differ in two ways: octaves which the grid cannot carry
//! fade out towards their mean, and in the multifractals a layer never counts
//! below zero, so that the result has a bound that can be stated.

use super::Basis;
use super::lattice::Scale;

/// How layers of noise join.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "NoiseCharacter")
)]
pub enum Character {
    /// Rolling: hills and hollows alike.
    #[default]
    Fractal,
    /// Sharp crests, smooth valleys.
    Ridged,
    /// Rounded domes with sharp creases between.
    Billow,
    /// Rough heights over smooth lowlands.
    Hybrid,
    /// The rougher the higher.
    Heterogeneous,
}

/// One layer, ready to be evaluated.
#[derive(Clone, Copy, Debug)]
pub(super) struct Octave {
    /// From metres to the layer's lattice; turns and shifts differ, so that the layers'
    /// lattices do not coincide.
    pub(super) scale: Scale,
    pub(super) seed: u32,
    pub(super) time: f64,
    /// Amplitude as a share of the first layer's.
    pub(super) amplitude: f32,
    /// Amplitude as a share of the sum of all.
    pub(super) share: f32,
    /// 1 where the grid carries the layer, 0 where it is too fine.
    pub(super) presence: f32,
    /// From a slope per lattice cell to its share in the slope of the sum, per
    /// cell of the first layer.
    pub(super) steepness: f32,
    /// Cosine and sine of the angle by which the lattice is turned.
    pub(super) turn: (f32, f32),
}

/// What is the same for every place.
#[derive(Clone, Copy, Debug)]
pub(super) struct Rule {
    pub(super) character: Character,
    /// What is added to each layer of a multifractal.
    pub(super) offset: f32,
    /// How strongly slopes damp finer layers.
    pub(super) damping: f32,
    /// Means that folded layers and crests fade to.
    pub(super) mean_fold: f32,
    pub(super) mean_crest: f32,
    /// Brings a multifractal's highest possible value to 1.
    pub(super) to_range: f32,
}

/// The sum so far at one place.
#[derive(Clone, Copy, Debug)]
pub(super) struct Sum {
    pub(super) value: f32,
    /// How much the next layer counts.
    pub(super) weight: f32,
    /// Slope of the layers so far.
    pub(super) dx: f32,
    pub(super) dy: f32,
}

impl Sum {
    pub(super) const EMPTY: Self = Self {
        value: 0.0,
        weight: 1.0,
        dx: 0.0,
        dy: 0.0,
    };
}

/// How strongly a crest carries the next finer layer (Musgrave's "gain").
const CREST_CARRIES: f32 = 2.0;

impl Rule {
    pub(super) fn new(
        character: Character,
        basis: Basis,
        offset: f64,
        damping: f64,
        octaves: &[Octave],
    ) -> Self {
        let (mean_fold, mean_crest) = basis.mean_fold_and_crest();
        let (mut sum, mut product) = (0.0, 1.0);
        for (i, octave) in octaves.iter().enumerate() {
            let highest = (1.0 + offset) * f64::from(octave.amplitude);
            sum += highest;
            product *= if i == 0 { highest } else { 1.0 + highest };
        }
        let highest = match character {
            Character::Hybrid => sum,
            Character::Heterogeneous => product,
            Character::Fractal | Character::Ridged | Character::Billow => 1.0,
        };
        Self {
            character,
            offset: offset as f32,
            damping: damping as f32,
            mean_fold,
            mean_crest,
            to_range: if highest > 0.0 {
                (1.0 / highest) as f32
            } else {
                0.0
            },
        }
    }

    /// The damping that the slope so far puts on the next layer.
    #[inline(always)]
    pub(super) fn damped(
        &self,
        octave: &Octave,
        noise: f32,
        slope: (f32, f32),
        sum: &mut Sum,
    ) -> f32 {
        let share = 1.0 / (1.0 + self.damping * (sum.dx * sum.dx + sum.dy * sum.dy));
        let steepness = octave.steepness * share;
        // Slopes add up along the axes of the land, not of the lattice.
        let (cos, sin) = octave.turn;
        sum.dx += steepness * (cos * slope.0 - sin * slope.1);
        sum.dy += steepness * (sin * slope.0 + cos * slope.1);
        share * noise
    }

    /// Adds one layer's bare `noise`. `first` is whether it is the first layer.
    #[inline(always)]
    pub(super) fn add(
        &self,
        character: Character,
        first: bool,
        octave: &Octave,
        noise: f32,
        sum: &mut Sum,
    ) {
        let faded = |value: f32, mean: f32| mean + octave.presence * (value - mean);
        let standing = || (octave.presence * noise + self.offset).max(0.0) * octave.amplitude;
        match character {
            Character::Fractal => sum.value += octave.share * (octave.presence * noise),
            Character::Billow => sum.value += octave.share * faded(noise.abs(), self.mean_fold),
            Character::Ridged => {
                let crest = 1.0 - noise.abs();
                let signal = sum.weight * faded(crest * crest, self.mean_crest);
                sum.value += octave.share * signal;
                sum.weight = (CREST_CARRIES * signal).min(1.0);
            }
            // Each layer weighted by the ones below it (hybrid multifractal).
            Character::Hybrid => {
                let signal = sum.weight.min(1.0) * standing();
                sum.value += signal;
                sum.weight = signal;
            }
            // Each layer scaled by the height so far (heterogeneous terrain).
            Character::Heterogeneous => {
                let height = if first { 1.0 } else { sum.value };
                sum.value += standing() * height;
            }
        }
    }

    #[inline(always)]
    pub(super) fn finish(&self, value: f32) -> f32 {
        match self.character {
            Character::Fractal => value,
            Character::Billow | Character::Ridged => 2.0 * value - 1.0,
            Character::Hybrid | Character::Heterogeneous => {
                2.0 * (value * self.to_range).min(1.0) - 1.0
            }
        }
    }
}
