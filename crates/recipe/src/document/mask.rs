//! Masks: small expressions of readings.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::mask::Range;
use terrain::shape::blur_margin;

use super::Trace;

/// Where something takes effect: terms, joined one after the other.
///
/// Readings are always of the land as it is at that step, so a mask cannot
/// be stale.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Mask {
    /// The terms, first one first; none means everywhere.
    pub terms: Vec<Term>,
    /// Blurred over this much, so that its edge does not show.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 300.0]))]
    pub blur_m: f64,
}

fn is_zero(value: &f64) -> bool {
    *value == 0.0
}

/// One reading, and the range of it that counts.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Term {
    /// What is read.
    pub of: Reading,
    /// Full from here on; open when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub from: Option<f32>,
    /// Full up to here; open when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to: Option<f32>,
    /// Over how much it rises before `from`.
    #[serde(default)]
    #[schemars(range(min = 0, max = 1_000_000))]
    pub soft_from: f32,
    /// Over how much it fades after `to`.
    #[serde(default)]
    #[schemars(range(min = 0, max = 1_000_000))]
    pub soft_to: f32,
    /// Where it would not count, and the other way round.
    #[serde(default)]
    pub invert: bool,
    /// How it joins the terms before it.
    #[serde(default)]
    pub join: Joined,
}

impl Term {
    pub(crate) fn range(&self) -> Range {
        Range {
            from: self.from,
            to: self.to,
            soft_from: self.soft_from,
            soft_to: self.soft_to,
        }
    }
}

/// A measure taken of the land.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum Reading {
    /// Height above the datum, metres.
    Height,
    /// Steepness, degrees.
    Slope,
    /// Angle between what the land faces and a bearing, degrees.
    Facing {
        /// The compass bearing.
        #[schemars(range(min = 0, max = 360), extend("x-unit" = "°"))]
        bearing_deg: f64,
    },
    /// Layered noise from −1 to 1, to break things up.
    Noise {
        /// Size of the largest patches.
        #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m"))]
        feature_m: f64,
        /// Which of the endless variants.
        seed: u32,
    },
    /// What a step left behind.
    Trace(Trace),
    /// Distance to the nearest river, metres.
    River {
        /// Only rivers of this order and higher: 1 has no tributaries.
        #[schemars(range(min = 1, max = 12))]
        least_order: u8,
    },
}

impl Reading {
    /// Cells needed around the place that is read.
    pub(crate) fn margin(self) -> usize {
        match self {
            Reading::Slope | Reading::Facing { .. } => 1,
            Reading::Height | Reading::Noise { .. } | Reading::Trace(_) | Reading::River { .. } => {
                0
            }
        }
    }
}

impl Mask {
    /// A mask that holds everywhere.
    pub fn everywhere() -> Self {
        Self::of(Vec::new())
    }

    /// A mask of `terms`, not blurred.
    pub fn of(terms: Vec<Term>) -> Self {
        Self { terms, blur_m: 0.0 }
    }

    /// Cells of `cell_m` needed around the place where the mask is taken.
    pub(crate) fn margin(&self, cell_m: f64) -> usize {
        let terms = self.terms.iter().map(|term| term.of.margin());
        terms.max().unwrap_or(0) + blur_margin(self.blur_m, cell_m)
    }

    /// Whether its edges follow every small form of the land.
    pub(crate) fn is_hard(&self) -> bool {
        self.blur_m == 0.0 && !self.terms.is_empty()
    }
}

/// How a term joins the ones before it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Joined {
    /// Both must hold.
    #[default]
    Multiply,
    /// The sum, at most 1.
    Add,
    /// Is taken away, at least 0.
    Subtract,
    /// The higher of the two.
    Highest,
    /// The lower of the two.
    Lowest,
    /// Either may hold.
    Screen,
}

impl From<Joined> for terrain::mask::Combine {
    fn from(joined: Joined) -> Self {
        match joined {
            Joined::Multiply => Self::Multiply,
            Joined::Add => Self::Add,
            Joined::Subtract => Self::Subtract,
            Joined::Highest => Self::Highest,
            Joined::Lowest => Self::Lowest,
            Joined::Screen => Self::Screen,
        }
    }
}
