//! What is said over a live session. Pictures are binary, see `pictures`.

use std::borrow::Cow;
use std::sync::Arc;

use json_patch::{Patch, PatchOperation};
use recipe::document::LAND;
use recipe::view::{Shading, TraceView, View, Watched};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::people::Person;
use crate::bulk::patch_filled;
use crate::document::Document;
use crate::error::ApiError;

/// The current revision of a landscape.
#[derive(Clone, Debug)]
pub(crate) struct Head {
    /// Counts the moves of the head.
    pub(crate) version: i64,
    pub(crate) revision: i64,
    pub(crate) parent: Option<i64>,
    pub(crate) document: Arc<Document>,
    pub(crate) undo: Option<String>,
    pub(crate) redo: Option<String>,
    pub(crate) mark: Option<Uuid>,
    pub(crate) author: String,
}

impl Head {
    /// All of it, for those who know nothing yet; `apart` from its long lists of
    /// points, which have names and are fetched by these.
    pub(crate) fn whole(&self, apart: bool) -> WholeHead<'_> {
        let recipe = match apart || self.document.lists.is_empty() {
            true => Cow::Borrowed(&self.document.light),
            false => Cow::Owned(self.document.whole()),
        };
        WholeHead {
            version: self.version,
            revision: self.revision,
            parent: self.parent,
            recipe,
            undo: self.undo.as_deref(),
            redo: self.redo.as_deref(),
            mark: self.mark,
            author: &self.author,
        }
    }
}

/// How much of a head is wanted at once.
#[derive(Clone, Copy, Debug, Default, Deserialize, IntoParams)]
pub(crate) struct Wanted {
    /// Long lists of points apart: their names stand in their places.
    #[serde(default)]
    pub(crate) apart: bool,
}

/// The current revision of a landscape.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[schema(as = Head)]
pub(crate) struct WholeHead<'h> {
    /// Counts the moves of the head, undo and redo included: of two heads the one
    /// with the higher count is the newer.
    version: i64,
    /// Its number; those of a landscape are counted from 1.
    revision: i64,
    /// The revision before it.
    parent: Option<i64>,
    /// The document.
    #[schema(value_type = crate::routes::RecipeDocument)]
    recipe: Cow<'h, Value>,
    /// What undo would take back.
    undo: Option<&'h str>,
    /// What redo would bring back.
    redo: Option<&'h str>,
    /// How the edit that made it was marked.
    mark: Option<Uuid>,
    /// Who made it, as far as they said: whose edit undo would take back.
    author: &'h str,
}

/// How the head of a landscape moved.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(crate) struct HeadMove {
    /// Counts the moves of the head. Whoever is not at the one before looks at the
    /// whole.
    pub(crate) version: i64,
    /// The revision that it was at.
    pub(crate) base: i64,
    /// The one that it is at now.
    pub(crate) revision: i64,
    /// The revision before that one.
    pub(crate) parent: Option<i64>,
    /// JSON Patch (RFC 6902) of the document, from the one to the other.
    #[schema(value_type = Vec<Object>)]
    pub(crate) patch: Vec<PatchOperation>,
    /// What undo would take back.
    pub(crate) undo: Option<String>,
    /// What redo would bring back.
    pub(crate) redo: Option<String>,
    /// How the edit that it is was marked.
    pub(crate) mark: Option<Uuid>,
    /// Who made the revision, as far as they said: whose edit undo would take back.
    pub(crate) author: String,
}

impl HeadMove {
    /// As it is told to someone who wants long lists `apart`, or in their places.
    /// `to` is the document that it leads to.
    pub(crate) fn told(self, to: &Document, apart: bool) -> Result<Self, ApiError> {
        if apart {
            return Ok(self);
        }
        let patch = patch_filled(Patch(self.patch), &to.lists)?.0;
        Ok(Self { patch, ..self })
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
    /// Send the whole head: a move of it was missed.
    Whole,
    /// Stop growing; what has been shown stays.
    Stop,
    /// Who this is, and where they look; others are told.
    Here {
        /// What they call themselves; may be empty.
        name: String,
        /// The place they look at, metres east and north.
        at: Option<[f64; 2]>,
    },
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
    /// A revision that is looked at instead of the head.
    #[serde(default)]
    pub(crate) at: Option<i64>,
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
            at: None,
        }
    }
}

/// What the service says to a viewer, apart from pictures.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[serde(tag = "type", rename_all = "snake_case")]
pub(crate) enum ToViewer<'h> {
    /// The head, whole: the first one, or after a gap.
    Head(WholeHead<'h>),
    /// The head has moved by one.
    Moved(HeadMove),
    /// An unfinished edit was of an older head and is not shown.
    Outdated {
        /// The revision of the head.
        revision: i64,
    },
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
        /// The nearest value that would be allowed there.
        fits: Option<f64>,
    },
    /// Growing was stopped, as the viewer asked.
    Stopped,
    /// Who else looks at this landscape.
    People {
        /// All but the viewer who is told.
        people: Vec<Person>,
    },
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
