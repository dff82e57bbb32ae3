//! One operation of a strand.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::{smooth_highest, smooth_lowest};

use super::Mask;
use crate::steps::Operation;

/// One operation: what it makes, where, how much, and how it joins.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Unlike that of any other step in the recipe; never changes.
    #[schemars(length(min = 1, max = 200))]
    pub id: String,
    /// What the artist calls it.
    #[schemars(length(max = 200))]
    pub name: String,
    /// What the artist wants to remember about it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 10_000))]
    pub note: String,
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
    /// Over how much ‘highest’ and ‘lowest’ go over into one another, metres.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 400.0]))]
    pub blend_m: f32,
    /// The height that counts as white for ‘screen’ and ‘overlay’, metres.
    #[serde(default = "thousand", skip_serializing_if = "is_thousand")]
    #[schemars(range(min = 0.01, max = 20_000), extend("x-unit" = "m", "x-slider" = [100.0, 3000.0]))]
    pub full_m: f32,
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

fn is_zero(value: &f32) -> bool {
    *value == 0.0
}

fn thousand() -> f32 {
    1000.0
}

fn is_thousand(value: &f32) -> bool {
    *value == thousand()
}

impl Step {
    /// A step that does `operation` everywhere, in full.
    pub fn new(id: &str, name: &str, combine: Combine, operation: Operation) -> Self {
        Self {
            id: id.to_owned(),
            name: name.to_owned(),
            note: String::new(),
            on: true,
            amount: 1.0,
            combine,
            blend_m: 0.0,
            full_m: thousand(),
            mask: None,
            operation,
        }
    }

    /// The joint height of what was `below` and what was `made`.
    #[inline(always)]
    pub fn join(&self, below: f32, made: f32) -> f32 {
        self.combine.apply(below, made, self.blend_m, self.full_m)
    }
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
    /// Half of each.
    Average,
    /// As two slides in one light: high where either is high.
    Screen,
    /// Deepens what is low and raises what is high.
    Overlay,
    /// How far the two are apart.
    Difference,
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
            Combine::Average => "average",
            Combine::Screen => "screen",
            Combine::Overlay => "overlay",
            Combine::Difference => "difference",
        }
    }

    /// The joint value of what was `below` and what was `made`. `blend_m`
    /// rounds off the seam of the highest and the lowest. Screen and overlay
    /// are those of W3C Compositing and Blending Level 1, with `full_m` as
    /// white; heights beyond black and white go on along the formula.
    #[inline(always)]
    pub fn apply(self, below: f32, made: f32, blend_m: f32, full_m: f32) -> f32 {
        let screen = |a: f32, b: f32| a + b - a * b;
        match self {
            Combine::Replace => made,
            Combine::Add => below + made,
            Combine::Subtract => below - made,
            Combine::Multiply => below * made,
            Combine::Highest => smooth_highest(below, made, blend_m),
            Combine::Lowest => smooth_lowest(below, made, blend_m),
            Combine::Average => 0.5 * (below + made),
            Combine::Screen => full_m * screen(below / full_m, made / full_m),
            Combine::Overlay => {
                // Overlay is hard light with the layers exchanged.
                let (a, b) = (below / full_m, made / full_m);
                full_m
                    * match a <= 0.5 {
                        true => 2.0 * a * b,
                        false => screen(2.0 * a - 1.0, b),
                    }
            }
            Combine::Difference => (below - made).abs(),
        }
    }
}
