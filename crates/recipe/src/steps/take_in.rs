//! Another strand, taken in.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Kind, Made, pattern::check_named};
use crate::document::Trace;
use crate::grow::{GrowError, Site};

/// Lays in a piece that was built on its own, in another strand: its heights,
/// or a trace that one of its steps left.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TakeIn {
    /// The strand’s name.
    #[schemars(extend("x-editor" = "strand"))]
    pub strand: String,
    /// A trace of it instead of its heights.
    #[schemars(extend("x-more" = true))]
    pub trace: TakeInField,
    /// A factor on what is taken in.
    #[schemars(range(min = -10_000, max = 10_000), extend("x-slider" = [-2.0, 2.0]))]
    pub scale: f64,
}

/// What is taken in of a strand.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum TakeInField {
    /// Its heights.
    #[default]
    Heights,
    /// Ground worn away, metres.
    Wear,
    /// Ground laid down, metres.
    Deposit,
    /// Running water, m²/s.
    Flow,
    /// Where outcrops stand, 0 to 1.
    Outcrop,
    /// Where copies were strewn, 0 to 1.
    Strewn,
    /// Land that drains through a place, m².
    Drainage,
    /// Depth of snow, metres.
    Snow,
    /// Depth of water, metres.
    Depth,
    /// Sediment in the water, metres of ground.
    Suspended,
}

impl TakeInField {
    /// The trace, unless it is the heights.
    pub(crate) fn trace(self) -> Option<Trace> {
        match self {
            TakeInField::Heights => None,
            TakeInField::Wear => Some(Trace::Wear),
            TakeInField::Deposit => Some(Trace::Deposit),
            TakeInField::Flow => Some(Trace::Flow),
            TakeInField::Outcrop => Some(Trace::Outcrop),
            TakeInField::Strewn => Some(Trace::Strewn),
            TakeInField::Drainage => Some(Trace::Drainage),
            TakeInField::Snow => Some(Trace::Snow),
            TakeInField::Depth => Some(Trace::Depth),
            TakeInField::Suspended => Some(Trace::Suspended),
        }
    }
}

impl Default for TakeIn {
    fn default() -> Self {
        Self {
            strand: String::new(),
            trace: TakeInField::Heights,
            scale: 1.0,
        }
    }
}

impl Kind for TakeIn {
    fn takes_in(&self) -> Option<&str> {
        Some(&self.strand)
    }

    fn takes_trace(&self) -> Option<Trace> {
        self.trace.trace()
    }

    fn check(&self) -> Result<(), super::Unfit> {
        check_named(None, Some(&self.strand))
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        let scale = self.scale as f32;
        Ok(site
            .strand(&self.strand, self.trace.trace())?
            .map(|value| value * scale)
            .into())
    }
}
