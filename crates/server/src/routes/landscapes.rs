//! The shelf: making, listing, deleting landscapes.

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use recipe::Recipe;
use recipe::document::{LandExtent, Starter};
use recipe::presets::PRESETS;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::RecipeDocument;
use crate::error::ApiError;
use crate::live::Head;
use crate::state::AppState;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(show, delete))
}

/// A landscape on the shelf.
#[derive(Serialize, ToSchema)]
struct ShelfEntry {
    /// Its id.
    id: Uuid,
    /// Its name.
    name: String,
    /// The current revision.
    revision: i64,
    /// From west to east, metres.
    width_m: f64,
    /// From south to north, metres.
    depth_m: f64,
    /// How many steps grow it.
    steps: usize,
    /// When it was last worked on.
    updated_at: DateTime<Utc>,
}

/// What to make a landscape from.
#[derive(Deserialize, ToSchema)]
struct NewLandscape {
    /// What it is called.
    name: String,
    /// What it begins with.
    start: Start,
}

/// What a landscape begins with.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum Start {
    /// A level plain.
    Flat {
        /// From west to east, metres.
        width_m: f64,
        /// From south to north, metres.
        depth_m: f64,
    },
    /// An imported heightfield.
    Heightfield {
        /// The imported file.
        asset: String,
        /// From west to east, metres.
        width_m: f64,
        /// From south to north, metres.
        depth_m: f64,
        /// Metres for each unit in the file.
        scale: f64,
    },
    /// A recipe from a file.
    #[schema(value_type = RecipeDocument)]
    Recipe(Value),
    /// Another landscape, as it is now.
    CopyOf(Uuid),
    /// A landscape as it was at one of its revisions.
    Branch {
        /// The landscape.
        landscape: Uuid,
        /// The revision.
        revision: i64,
    },
    /// A landscape to begin with, by its key.
    Preset(String),
}

/// What was made.
#[derive(Serialize, ToSchema)]
struct Created {
    /// Its id.
    id: Uuid,
}

/// List all landscapes, the one worked on last first.
#[utoipa::path(get, operation_id = "list_landscape", path = "/api/landscapes", responses((status = OK, body = Vec<ShelfEntry>)))]
async fn list(State(state): State<AppState>) -> Result<Json<Vec<ShelfEntry>>, ApiError> {
    let rows = state.store.landscapes().await?;
    let entry = |row: crate::store::LandscapeRow| ShelfEntry {
        id: row.id,
        revision: row.revision,
        width_m: row.recipe.extent.width_m,
        depth_m: row.recipe.extent.depth_m,
        steps: row
            .recipe
            .strands
            .iter()
            .map(|strand| strand.steps.len())
            .sum(),
        updated_at: row.updated_at,
        name: row.recipe.0.name,
    };
    Ok(Json(rows.into_iter().map(entry).collect()))
}

/// Make a landscape.
#[utoipa::path(post, operation_id = "create_landscape", path = "/api/landscapes", request_body = NewLandscape,
    responses((status = CREATED, body = Created)))]
async fn create(
    State(state): State<AppState>,
    Json(new): Json<NewLandscape>,
) -> Result<(StatusCode, Json<Created>), ApiError> {
    let name = new.name.trim();
    if name.is_empty() {
        return Err(ApiError::BadRequest("a landscape needs a name".to_owned()));
    }
    let (label, recipe) = match new.start {
        Start::Flat { width_m, depth_m } => {
            ("New", Recipe::flat(name, LandExtent { width_m, depth_m }))
        }
        Start::Heightfield {
            asset,
            width_m,
            depth_m,
            scale,
        } => {
            let extent = LandExtent { width_m, depth_m };
            let range = state
                .assets
                .range(&asset)
                .await?
                .ok_or(ApiError::NotFound("asset"))?;
            (
                "Import",
                Starter {
                    name,
                    extent,
                    asset: &asset,
                    scale,
                    range,
                }
                .recipe(),
            )
        }
        Start::Recipe(document) => (
            "Import",
            Recipe {
                name: name.to_owned(),
                ..Recipe::from_value(document)?
            },
        ),
        Start::CopyOf(other) => {
            let head = state
                .store
                .head(other)
                .await?
                .ok_or(ApiError::NotFound("landscape"))?;
            (
                "Copy",
                Recipe {
                    name: name.to_owned(),
                    ..head.recipe.0
                },
            )
        }
        Start::Branch {
            landscape,
            revision,
        } => {
            let earlier = state.store.recipe_at(landscape, revision).await?;
            let earlier = earlier.ok_or(ApiError::NotFound("revision of this landscape"))?;
            let name = name.to_owned();
            ("Branch", Recipe { name, ..earlier })
        }
        Start::Preset(key) => {
            let preset = PRESETS.iter().find(|preset| preset.key == key);
            let preset = preset.ok_or(ApiError::NotFound("preset"))?.recipe();
            let name = name.to_owned();
            ("New", Recipe { name, ..preset })
        }
    };
    // What was put together here must hold to the same rules as any other.
    let document = serde_json::to_value(&recipe).expect("a recipe is plain data");
    let recipe = Recipe::from_value(document)?;
    let id = state.store.create_landscape(label, &recipe).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// The current revision of a landscape.
#[utoipa::path(get, operation_id = "show_landscape", path = "/api/landscapes/{id}", params(("id" = Uuid, Path)),
    responses((status = OK, body = Head)))]
async fn show(State(state): State<AppState>, Path(id): Path<Uuid>) -> Result<Json<Head>, ApiError> {
    let head = state
        .store
        .head(id)
        .await?
        .ok_or(ApiError::NotFound("landscape"))?;
    Ok(Json(head.into()))
}

/// Delete a landscape and all its revisions.
#[utoipa::path(delete, operation_id = "delete_landscape", path = "/api/landscapes/{id}", params(("id" = Uuid, Path)),
    responses((status = NO_CONTENT)))]
async fn delete(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, ApiError> {
    match state.store.delete_landscape(id).await? {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(ApiError::NotFound("landscape")),
    }
}
