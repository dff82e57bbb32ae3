//! What is said over a live session. Pictures are binary, see `pictures`.

use recipe::Recipe;
use recipe::document::LAND;
use recipe::view::{Shading, TraceView, View, Watched};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::store::HeadRow;

/// The current revision of a landscape.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(crate) struct Head {
    /// Its number.
    pub(crate) revision: i64,
    /// The revision before it.
    pub(crate) parent: Option<i64>,
    /// The document.
    #[schema(value_type = crate::routes::RecipeDocument)]
    pub(crate) recipe: Recipe,
    /// What undo would take back.
    pub(crate) undo: Option<String>,
    /// What redo would bring back.
    pub(crate) redo: Option<String>,
}

impl From<HeadRow> for Head {
    fn from(row: HeadRow) -> Self {
        Self {
            revision: row.revision,
            parent: row.parent,
            recipe: row.recipe.0,
            undo: row.parent.map(|_| row.label),
            redo: row.redo_to.and(row.redo_label),
        }
    }
}

/// What a viewer says.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(tag = "type", rename_all = "snake_case")]
pub(crate) enum FromViewer {
    /// How to look at the land from now on.
    Look(Look),
    /// An edit that is not finished, such as a slider being dragged.
    Preview {
        /// The revision that it changes.
        base: i64,
        /// JSON Patch (RFC 6902).
        #[schema(value_type = Vec<Object>)]
        patch: json_patch::Patch,
    },
    /// The unfinished edit is over, whatever became of it.
    PreviewEnd,
    /// Show the land as it was before the last edit.
    Before,
    /// Stop growing; what has been shown stays.
    Stop,
}

/// How a viewer looks at the land.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub(crate) struct Look {
    /// Cells along the longer side.
    pub(crate) cells: usize,
    /// Cells along the longer side once all else is shown and nothing changes;
    /// `cells` when fewer.
    #[serde(default)]
    pub(crate) cells_at_rest: usize,
    /// Only the form, in one grey.
    #[serde(default)]
    pub(crate) relief: bool,
    /// The step or cover whose mask is shown.
    #[serde(default)]
    pub(crate) watched: Option<String>,
    /// The strand that is looked at; the land when absent.
    #[serde(default)]
    pub(crate) strand: Option<String>,
    /// A step that is looked at alone.
    #[serde(default)]
    pub(crate) solo: Option<String>,
    /// What steps left behind, instead of the ground: `change` for wear and
    /// deposit together, or the name of a trace.
    #[serde(default)]
    pub(crate) trace: Option<String>,
    /// A revision to compare with.
    #[serde(default)]
    pub(crate) against: Option<i64>,
}

impl Look {
    /// More cells than a screen has are no use, and cost.
    pub(crate) const MOST_CELLS: usize = 2048;
    /// Cells of the first, quick picture.
    pub(crate) const FIRST_CELLS: usize = 128;

    /// What is to be drawn, on `cells` along the longer side.
    pub(crate) fn view(&self, cells: usize) -> View {
        View {
            cells,
            shading: match (
                self.trace.as_deref().and_then(TraceView::named),
                self.relief,
            ) {
                (Some(trace), _) => Shading::Trace(trace),
                (None, true) => Shading::Relief,
                (None, false) => Shading::Ground,
            },
            watched: self.watched.clone().map(|id| Watched { id }),
            strand: self.strand.clone().unwrap_or_else(|| LAND.to_owned()),
            solo: self.solo.clone(),
        }
    }
}

impl Default for Look {
    fn default() -> Self {
        Self {
            cells: 512,
            cells_at_rest: 0,
            relief: false,
            watched: None,
            strand: None,
            solo: None,
            trace: None,
            against: None,
        }
    }
}

/// What the service says to a viewer, apart from pictures.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[serde(tag = "type", rename_all = "snake_case")]
pub(crate) enum ToViewer {
    /// The landscape has a new head, or this is the first one.
    Head(Box<Head>),
    /// What each step changed.
    Bands {
        /// The revision that this is about.
        revision: i64,
        /// First step first.
        bands: Vec<BandMessage>,
    },
    /// Likely mistakes in the recipe and in what grew from it.
    Survey {
        /// The revision that this is about.
        revision: i64,
        /// What was found.
        findings: Vec<FindingMessage>,
    },
    /// How far growing is, 0 to 1.
    Progress {
        /// Cells along the longer side.
        cells: usize,
        /// Share done.
        share: f32,
    },
    /// An edit or a recipe that cannot be grown.
    Fault {
        /// What is wrong.
        detail: String,
        /// JSON Pointer to it in the recipe.
        pointer: Option<String>,
    },
    /// Growing was stopped, as the viewer asked.
    Stopped,
    /// The landscape was deleted.
    Gone,
}

/// Something that is likely not meant.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(crate) struct FindingMessage {
    /// What was looked for, one word.
    pub(crate) rule: String,
    /// The step that it is about.
    pub(crate) step: Option<String>,
    /// What was found.
    pub(crate) finding: String,
    /// Why it matters.
    pub(crate) why: String,
    /// A way out.
    pub(crate) fix: Option<FixMessage>,
}

/// An edit that takes care of a finding.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(crate) struct FixMessage {
    /// What it does, for a button.
    pub(crate) label: String,
    /// JSON Patch (RFC 6902) of the recipe.
    #[schema(value_type = Vec<Object>)]
    pub(crate) patch: Vec<serde_json::Value>,
}

impl From<recipe::survey::Finding> for FindingMessage {
    fn from(finding: recipe::survey::Finding) -> Self {
        Self {
            rule: finding.rule.to_owned(),
            step: finding.step,
            finding: finding.finding,
            why: finding.why.to_owned(),
            fix: finding.fix.map(|fix| FixMessage {
                label: fix.label,
                patch: fix.patch,
            }),
        }
    }
}

/// What one step changed.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(crate) struct BandMessage {
    /// The step's id.
    pub(crate) step: String,
    /// Root mean square of the change in height, metres.
    pub(crate) rms_m: f64,
    /// Shaded relief of the change: a PNG as a data URL.
    pub(crate) relief: String,
}
