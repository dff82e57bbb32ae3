//! The description of the service for programs.

use serde_json::Value;
use utoipa::openapi::{Info, RefOr, Schema};
use utoipa::{OpenApi, PartialSchema, ToSchema};

/// Types that only the live session speaks of.
#[derive(OpenApi)]
#[openapi(components(schemas(
    crate::live::WholeHead,
    crate::live::HeadMove,
    crate::live::FromViewer,
    crate::live::ToViewer,
    crate::live::PictureHeader,
    crate::error::Problem,
)))]
struct LiveTypes;

/// Stands for the recipe's own schema, which is put in its place.
pub(crate) struct RecipeDocument;

impl PartialSchema for RecipeDocument {
    fn schema() -> RefOr<Schema> {
        utoipa::openapi::Object::new().into()
    }
}

impl ToSchema for RecipeDocument {
    fn name() -> std::borrow::Cow<'static, str> {
        "Recipe".into()
    }
}

/// Stands for the core sample's own schema, likewise.
pub(crate) struct CoreSampleDocument;

impl PartialSchema for CoreSampleDocument {
    fn schema() -> RefOr<Schema> {
        utoipa::openapi::Object::new().into()
    }
}

impl ToSchema for CoreSampleDocument {
    fn name() -> std::borrow::Cow<'static, str> {
        "CoreSample".into()
    }
}

/// The OpenAPI description, with the recipe's schema among its components.
pub fn openapi_json() -> String {
    let (_, mut api) = super::api().split_for_parts();
    api.info = Info::new("Morphogen", env!("CARGO_PKG_VERSION"));
    api.merge(LiveTypes::openapi());
    let mut api = serde_json::to_value(api).expect("plain data");
    let schemas = api
        .pointer_mut("/components/schemas")
        .and_then(Value::as_object_mut)
        .expect("the service has components");
    for (name, mut schema) in [
        ("Recipe", recipe::recipe_schema()),
        ("CoreSample", recipe::core_sample_schema()),
    ] {
        let own = schema.as_object_mut().expect("a schema is an object");
        if let Some(Value::Object(definitions)) = own.remove("$defs") {
            schemas.extend(definitions);
        }
        schemas.insert(name.to_owned(), schema);
    }
    let text = serde_json::to_string_pretty(&api).expect("plain data");
    text.replace("#/$defs/", "#/components/schemas/") + "\n"
}
