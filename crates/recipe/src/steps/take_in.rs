//! Another strand, taken in.

use std::borrow::Cow;

use schemars::{JsonSchema, Schema, SchemaGenerator};
use serde::de::IntoDeserializer;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use serde_json::{Value, json};

use super::pattern::check_named;
use super::{Kind, Needs, StepOutput};
use crate::document::Product;
use crate::grow::{GrowError, Site};

/// Lays in a piece that was built on its own, in another strand: its heights,
/// or a field that one of its steps left.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TakeIn {
    /// The strand’s name.
    #[schemars(length(max = 200), extend("x-editor" = "strand"))]
    pub strand: String,
    /// A field that it left instead of its heights.
    #[schemars(extend("x-more" = true))]
    pub trace: TakeInField,
    /// A factor on what is taken in.
    #[schemars(range(min = -10_000, max = 10_000), extend("x-slider" = [-2.0, 2.0]))]
    pub scale: f64,
}

/// What is taken in of a strand: its heights, or a field that was left.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum TakeInField {
    /// Its heights.
    #[default]
    Heights,
    /// A field that one of its steps has left.
    Product(Product),
}

/// How the heights are called.
const HEIGHTS: &str = "heights";

impl TakeInField {
    fn product(self) -> Option<Product> {
        match self {
            Self::Heights => None,
            Self::Product(product) => Some(product),
        }
    }
}

impl Serialize for TakeInField {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.product().map_or(HEIGHTS, Product::name))
    }
}

impl<'de> Deserialize<'de> for TakeInField {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let name = Cow::<str>::deserialize(deserializer)?;
        match &*name {
            HEIGHTS => Ok(Self::Heights),
            _ => Product::deserialize(name.into_deserializer()).map(Self::Product),
        }
    }
}

impl JsonSchema for TakeInField {
    fn schema_name() -> Cow<'static, str> {
        "TakeInField".into()
    }

    fn json_schema(generator: &mut SchemaGenerator) -> Schema {
        let mut all = Product::json_schema(generator);
        let heights = json!({ "const": HEIGHTS, "description": "Its heights." });
        if let Some(Value::Array(names)) = all.get_mut("oneOf") {
            names.insert(0, heights);
        }
        all.insert(
            "description".to_owned(),
            json!("What is taken in of a strand."),
        );
        all
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
    fn needs(&self) -> Option<Needs> {
        Some(Needs::Strand)
    }

    fn takes_in(&self) -> Option<&str> {
        Some(&self.strand)
    }

    fn takes_product(&self) -> Option<Product> {
        self.trace.product()
    }

    fn check(&self) -> Result<(), super::Unfit> {
        check_named(None, Some(&self.strand))
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let scale = self.scale as f32;
        Ok(site
            .strand(&self.strand, self.trace.product())?
            .map(|value| value * scale)
            .into())
    }
}
