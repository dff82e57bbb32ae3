//! What a step lays on the land: noise, an imported image, another strand.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::Unfit;

/// Where a pattern comes from.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum ImageSource {
    /// An imported file.
    #[default]
    Image,
    /// Another strand, as it looks over the whole land.
    Strand,
}

/// The value of mid-grey, which is neutral, as a share of white (common
/// practice).
pub(super) const MID_GREY: f32 = 0.5;

/// Refuses a source that names nothing.
pub(super) fn check_named(asset: Option<&str>, strand: Option<&str>) -> Result<(), Unfit> {
    match (asset, strand) {
        (Some(""), _) => Err((
            "asset",
            "empty".to_owned(),
            "import an image first".to_owned(),
        )),
        (_, Some("")) => Err((
            "strand",
            "empty".to_owned(),
            "choose a strand first".to_owned(),
        )),
        _ => Ok(()),
    }
}
