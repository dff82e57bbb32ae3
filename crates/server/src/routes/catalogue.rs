//! The kinds of step, for the editor.

use axum::Json;
use recipe::steps::KindSheet;
use serde_json::Value;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::state::AppState;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(catalogue))
        .routes(routes!(combinations))
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

/// Steps that are often used together.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct Combination {
    /// Its name in requests.
    key: &'static str,
    /// Its name on screen.
    title: &'static str,
    /// What it is for.
    about: &'static str,
    /// Traces that steps before it must have left.
    needs: Vec<&'static str>,
    /// The steps; whoever lays them in gives them ids of their own.
    #[schema(value_type = Vec<Object>)]
    steps: Value,
}

/// List steps that are often used together.
#[utoipa::path(get, operation_id = "list_combinations", path = "/api/combinations", responses((status = OK, body = Vec<Combination>)))]
async fn combinations() -> Json<Vec<Combination>> {
    let entry = |combination: &recipe::combinations::Combination| Combination {
        key: combination.key,
        title: combination.title,
        about: combination.about,
        needs: combination.needs().into_iter().map(|t| t.name()).collect(),
        steps: combination.document(),
    };
    Json(
        recipe::combinations::COMBINATIONS
            .iter()
            .map(entry)
            .collect(),
    )
}
