//! What a cover is made of.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::ground::MaterialKind;

/// What a cover is made of.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum CoverMaterial {
    /// Maps of a material that were imported.
    Images(ImageSet),
    /// One that ships with the program.
    #[serde(untagged)]
    Shipped(MaterialKind),
}

/// Imported maps of one material, by the ids of their files. All of them show
/// the same square, which tiles; the ones that are absent follow from the others.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct ImageSet {
    /// Colour, sRGB.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200))]
    pub albedo: String,
    /// Surface directions, green towards the top of the picture.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200))]
    pub normal: String,
    /// Roughness.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200))]
    pub roughness: String,
    /// How open each place is to light.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200))]
    pub occlusion: String,
    /// Height.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200))]
    pub height: String,
}

impl ImageSet {
    /// The ids of the files that are named.
    pub fn assets(&self) -> impl Iterator<Item = &str> {
        let all = [
            &self.albedo,
            &self.normal,
            &self.roughness,
            &self.occlusion,
            &self.height,
        ];
        all.into_iter()
            .map(String::as_str)
            .filter(|id| !id.is_empty())
    }
}

impl CoverMaterial {
    /// The material that ships with the program, if it is one.
    pub fn kind(&self) -> Option<MaterialKind> {
        match self {
            CoverMaterial::Images(_) => None,
            CoverMaterial::Shipped(kind) => Some(*kind),
        }
    }
}
