//! Another strand, taken in.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Kind, Made};
use crate::grow::{GrowError, Site};

/// Lays in a piece that was built on its own, in another strand.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TakeIn {
    /// The strand's name.
    #[schemars(extend("x-editor" = "strand"))]
    pub strand: String,
}

impl Kind for TakeIn {
    fn takes_in(&self) -> Option<&str> {
        Some(&self.strand)
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        Ok(site.strand(&self.strand)?.into())
    }
}
