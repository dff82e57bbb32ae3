//! Masks: small expressions of readings.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::mask::Combine;
use terrain::mask::{Range, grow_margin};
use terrain::shape::{blur_halvings, blur_margin};

use super::{Cells, Reading};

/// Where something takes effect: terms, joined one after the other.
///
/// Readings are always of the land as it is at that step, so a mask cannot
/// be stale.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Mask {
    /// The terms, first one first; none means everywhere.
    #[schemars(length(max = 64))]
    pub terms: Vec<Term>,
    /// Blurred over this much, so that its edge does not show.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 300.0]))]
    pub blur_m: f64,
    /// Grown by this much on all sides, or shrunk.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = -2_000, max = 2_000), extend("x-unit" = "m", "x-slider" = [-200.0, 200.0]))]
    pub grow_m: f64,
    /// Pushes values apart around the middle: 1 leaves them.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    #[schemars(range(min = 0, max = 20), extend("x-slider" = [0.0, 4.0]))]
    pub contrast: f32,
    /// Raises or lowers all values.
    #[serde(default, skip_serializing_if = "is_none")]
    #[schemars(range(min = -1, max = 1))]
    pub brightness: f32,
    /// Tears its soft edges by noise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ragged: Option<Broken>,
    /// Breaks holes into it by noise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub breakup: Option<Broken>,
}

/// Noise that breaks up a mask.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Broken {
    /// How much of it.
    #[schemars(range(min = 0, max = 1))]
    pub amount: f32,
    /// Size of the largest patches.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [5.0, 2_000.0]))]
    pub feature_m: f64,
    /// Random seed.
    pub seed: u32,
}

/// A mask with a name, to be used in many places. Wherever it is used it is
/// taken of the land as it is there.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct NamedMask {
    /// The name that readings know it by.
    #[schemars(length(max = 200))]
    pub name: String,
    /// What it says.
    pub mask: Mask,
}

fn is_zero(value: &f64) -> bool {
    *value == 0.0
}

fn is_none(value: &f32) -> bool {
    *value == 0.0
}

fn one() -> f32 {
    1.0
}

fn is_one(value: &f32) -> bool {
    *value == 1.0
}

/// One reading, and the range of it that counts.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Term {
    /// What is read.
    pub of: Reading,
    /// Full from here on; open when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(range(min = -1_000_000_000, max = 1_000_000_000))]
    pub from: Option<f32>,
    /// Full up to here; open when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(range(min = -1_000_000_000, max = 1_000_000_000))]
    pub to: Option<f32>,
    /// Over how much it rises before `from`.
    #[serde(default)]
    #[schemars(range(min = 0, max = 1_000_000))]
    pub soft_from: f32,
    /// Over how much it fades after `to`.
    #[serde(default)]
    #[schemars(range(min = 0, max = 1_000_000))]
    pub soft_to: f32,
    /// Bends how much counts: pairs from 0 to 1, before and after, from low to
    /// high. A straight line when empty.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schemars(length(max = 32), inner(inner(range(min = -10, max = 10))))]
    pub curve: Vec<[f32; 2]>,
    /// How much the term counts at all: at 0 it holds everywhere where it
    /// would multiply, and nowhere where it would add.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    #[schemars(range(min = 0, max = 1))]
    pub weight: f32,
    /// Where it would not count, and the other way round.
    #[serde(default)]
    pub invert: bool,
    /// How it joins the terms before it.
    #[serde(default)]
    pub join: Combine,
}

impl Term {
    /// All of a reading, whatever its value.
    pub fn of(reading: Reading) -> Self {
        Self {
            of: reading,
            from: None,
            to: None,
            soft_from: 0.0,
            soft_to: 0.0,
            curve: Vec::new(),
            weight: 1.0,
            invert: false,
            join: Combine::Multiply,
        }
    }

    pub(crate) fn range(&self) -> Range {
        Range {
            from: self.from,
            to: self.to,
            soft_from: self.soft_from,
            soft_to: self.soft_to,
        }
    }
}

impl Mask {
    /// A mask that holds everywhere.
    pub fn everywhere() -> Self {
        Self::of(Vec::new())
    }

    /// A mask of `terms` as they are.
    pub fn of(terms: Vec<Term>) -> Self {
        Self {
            terms,
            blur_m: 0.0,
            grow_m: 0.0,
            contrast: 1.0,
            brightness: 0.0,
            ragged: None,
            breakup: None,
        }
    }

    /// Cells needed around the place where the mask is taken, when its terms need
    /// `terms`. A mask that is blurred widely is taken of the land on coarser
    /// cells, and needs none of these.
    pub(crate) fn margin_around(&self, terms: usize, on: Cells) -> usize {
        match blur_halvings(self.blur_m, on.cell_m) {
            0 => terms
                .saturating_add(blur_margin(self.blur_m, on.cell_m))
                .saturating_add(grow_margin(self.grow_on(on), on.cell_m)),
            _ => 0,
        }
    }

    /// By how much it is grown: never by more than the land is long.
    pub(crate) fn grow_on(&self, on: Cells) -> f64 {
        self.grow_m.clamp(-on.land_m, on.land_m)
    }

    /// Whether it refers to masks by name.
    pub(crate) fn refers(&self) -> bool {
        self.terms.iter().any(|term| term.of.refers_to().is_some())
    }

    /// Whether its edges follow every small form of the land.
    pub(crate) fn is_hard(&self) -> bool {
        self.blur_m == 0.0 && !self.terms.is_empty()
    }
}
