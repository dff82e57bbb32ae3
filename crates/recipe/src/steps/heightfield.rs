//! An imported heightfield.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::grid::stretch;

use super::{Kind, Made, Unfit};
use crate::grow::{GrowError, Site};

/// Heights from a file, stretched over the whole land. Values are taken as
/// they stand in the file, never through a display gamma.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Heightfield {
    /// The imported file.
    #[schemars(extend("x-editor" = "asset"))]
    pub asset: String,
    /// Metres for each unit in the file: 1 for elevation models in metres.
    #[schemars(range(min = -10_000, max = 10_000), extend("x-unit" = "m", "x-slider" = [0.0, 4.0]))]
    pub scale: f64,
    /// Raises or lowers all of it.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-1000.0, 1000.0]))]
    pub lift_m: f64,
}

impl Kind for Heightfield {
    fn asset(&self) -> Option<&str> {
        Some(&self.asset)
    }

    fn check(&self) -> Result<(), Unfit> {
        match self.asset.is_empty() {
            true => Err((
                "asset",
                "empty".to_owned(),
                "import a heightfield first".to_owned(),
            )),
            false => Ok(()),
        }
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        let values = site.asset(&self.asset)?;
        let (scale, lift) = (self.scale as f32, self.lift_m as f32);
        Ok(stretch(&values, site.extent(), site.frame())
            .map(|value| value * scale + lift)
            .into())
    }
}
