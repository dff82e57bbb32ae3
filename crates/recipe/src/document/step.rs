//! One operation of a strand.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::Mask;
use crate::steps::Operation;

/// One operation: what it makes, where, how much, and how it joins.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Unlike that of any other step in the recipe; never changes.
    pub id: String,
    /// What the artist calls it.
    pub name: String,
    /// A step that is off is passed over.
    #[serde(default = "yes")]
    pub on: bool,
    /// How much of it: 0 nothing, 1 in full.
    #[serde(default = "full")]
    #[schemars(range(min = -10, max = 10), extend("x-slider" = [0.0, 1.0]))]
    pub amount: f32,
    /// How it joins what is there already.
    #[serde(default)]
    pub combine: Combine,
    /// Where it takes effect; everywhere when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mask: Option<Mask>,
    /// What it makes.
    #[serde(rename = "do")]
    pub operation: Operation,
}

pub(super) fn yes() -> bool {
    true
}

fn full() -> f32 {
    1.0
}

/// How what a step makes joins what is there already.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Combine {
    /// Takes its place.
    #[default]
    Replace,
    /// Is laid on top.
    Add,
    /// Is taken away.
    Subtract,
    /// Scales it.
    Multiply,
    /// The higher of the two.
    Highest,
    /// The lower of the two.
    Lowest,
}

impl Combine {
    /// Its name in a recipe.
    pub fn name(self) -> &'static str {
        match self {
            Combine::Replace => "replace",
            Combine::Add => "add",
            Combine::Subtract => "subtract",
            Combine::Multiply => "multiply",
            Combine::Highest => "highest",
            Combine::Lowest => "lowest",
        }
    }

    /// The joint value of what was `below` and what was `made`.
    #[inline(always)]
    pub fn apply(self, below: f32, made: f32) -> f32 {
        match self {
            Combine::Replace => made,
            Combine::Add => below + made,
            Combine::Subtract => below - made,
            Combine::Multiply => below * made,
            Combine::Highest => below.max(made),
            Combine::Lowest => below.min(made),
        }
    }
}

/// A by-product of a step, a field of its own.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Trace {
    /// Ground worn away, metres.
    Wear,
    /// Ground laid down, metres.
    Deposit,
    /// Running water, m²/s.
    Flow,
}
