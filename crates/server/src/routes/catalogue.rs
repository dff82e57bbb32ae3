//! The kinds of step, for the editor.

use axum::Json;
use recipe::steps::KindSheet;
use serde_json::Value;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::state::AppState;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(catalogue))
}

/// A kind of step.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct Kind {
    /// Its name in a recipe.
    kind: String,
    /// Its name on screen.
    title: String,
    /// What it is for: `make`, `detail`, `bound`, `move`, `values`, `erode`.
    group: String,
    /// By-products that it leaves.
    traces: Vec<String>,
    /// How it usually joins what is there already.
    combine: String,
    /// Parameters to begin with.
    #[schema(value_type = Object)]
    defaults: Value,
    /// JSON Schema of the parameters.
    #[schema(value_type = Object)]
    schema: Value,
}

/// List the kinds of step, with the schemas of their parameters.
#[utoipa::path(get, operation_id = "list_kinds", path = "/api/kinds", responses((status = OK, body = Vec<Kind>)))]
async fn catalogue() -> Json<Vec<Kind>> {
    let kind = |sheet: KindSheet| Kind {
        kind: sheet.kind.to_owned(),
        title: sheet.title.to_owned(),
        group: sheet.group.name().to_owned(),
        traces: sheet.traces.iter().map(|t| t.name().to_owned()).collect(),
        combine: sheet.combine.name().to_owned(),
        defaults: sheet.defaults,
        schema: sheet.schema,
    };
    Json(recipe::catalogue().kinds.into_iter().map(kind).collect())
}
