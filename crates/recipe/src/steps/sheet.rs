//! What a newcomer needs to know about kinds of step.

use serde::Serialize;

use crate::document::{Combine, Product};

/// What a kind of step cannot begin without.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Needs {
    /// An imported file.
    File,
    /// Another strand.
    Strand,
    /// Another strand, or an imported file.
    StrandOrFile,
}

/// What kinds of step are for, in the order of work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Group {
    /// Making shape.
    Make,
    /// Detail on what is there.
    Detail,
    /// The artist's own hand.
    Hand,
    /// Borders of the land.
    Bound,
    /// Pushing places about.
    Move,
    /// Bending heights.
    Values,
    /// Wearing the land down.
    Erode,
}

impl Group {
    /// Its name in requests.
    pub fn name(self) -> &'static str {
        match self {
            Group::Make => "make",
            Group::Detail => "detail",
            Group::Hand => "hand",
            Group::Bound => "bound",
            Group::Move => "move",
            Group::Values => "values",
            Group::Erode => "erode",
        }
    }

    /// All groups.
    pub const ALL: [Self; 7] = [
        Self::Make,
        Self::Detail,
        Self::Hand,
        Self::Bound,
        Self::Move,
        Self::Values,
        Self::Erode,
    ];

    /// Its name on screen.
    pub fn title(self) -> &'static str {
        match self {
            Group::Make => "Shapes",
            Group::Detail => "Detail",
            Group::Hand => "By hand",
            Group::Bound => "Borders",
            Group::Move => "Distort",
            Group::Values => "Adjust heights",
            Group::Erode => "Erosion",
        }
    }
}

/// What a newcomer needs to know about a kind of step.
#[derive(Clone, Debug, Serialize)]
pub struct KindSheet {
    /// Its name in a recipe.
    pub kind: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// Other words for it, so that a search finds it.
    pub also_called: &'static [&'static str],
    /// What it is for.
    pub group: Group,
    /// What it leaves beside its heights.
    pub products: &'static [Product],
    /// What it usually does with what is there already.
    pub combine: Combine,
    /// Parameters to begin with.
    pub defaults: serde_json::Value,
    /// What it cannot begin without.
    pub needs: Option<Needs>,
    /// Parameters to begin with when it takes in another strand.
    pub on_strand: serde_json::Value,
    /// Parameters whose effect is seen in a small picture; none when nothing can be
    /// shown of it alone.
    pub example: Option<serde_json::Value>,
    /// Height of the sea in the example, metres.
    pub example_sea_m: f64,
    /// Kinds of step on the land of the example before it.
    pub example_after: &'static [&'static str],
    /// JSON Schema of the parameters; its description says what the kind is for.
    pub schema: serde_json::Value,
}
