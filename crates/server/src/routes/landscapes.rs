//! The shelf: making, listing, deleting landscapes.

use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use chrono::{DateTime, TimeDelta, Utc};
use recipe::Recipe;
use recipe::document::{LandExtent, Starter};
use recipe::lands::LANDS;
use recipe::presets::PRESETS;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use terrain::grid::Georeference;
use terrain::{Cancel, Run};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::RecipeDocument;
use super::presets::land_png;
use crate::admission::Class;
use crate::document::Document;
use crate::documents::sound_label;
use crate::error::ApiError;
use crate::extract::{Json, Path, Query, long_json};
use crate::live::{Wanted, WholeHead};
use crate::state::AppState;
use crate::store::DAYS_KEPT;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(show, tag, delete))
        .routes(routes!(bring_back))
        .routes(routes!(preview))
        .routes(routes!(bulk))
        .routes(routes!(lay_ready))
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
    steps: i32,
    /// When it was last worked on.
    updated_at: DateTime<Utc>,
    /// When somebody last looked at it.
    opened_at: Option<DateTime<Utc>>,
    /// When it was deleted; it can be brought back until `gone_at`.
    deleted_at: Option<DateTime<Utc>>,
    /// When it is gone for good.
    gone_at: Option<DateTime<Utc>>,
    /// What it is tagged with.
    tags: Vec<String>,
    /// Why it cannot be opened, when that is known: it was made by a newer version
    /// of the program, or is damaged.
    fault: Option<String>,
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
    /// A kind of country.
    Land {
        /// Which, by its key.
        key: String,
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
        /// Which channel of a picture in colour: 0 red, 1 green, 2 blue.
        #[serde(default)]
        channel: u32,
        /// Height of the file's zero, metres.
        #[serde(default)]
        lift_m: f64,
        /// The land sinks into the sea towards its border.
        #[serde(default)]
        sinks: bool,
        /// A first ground is laid: rock, grass and snow.
        #[serde(default)]
        ground: bool,
        /// Where it lies on earth.
        #[serde(default)]
        #[schema(value_type = Option<Object>)]
        georeference: Option<Georeference>,
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

/// Which landscapes are listed.
#[derive(Deserialize, IntoParams)]
struct Listed {
    /// Those that were deleted and can be brought back, instead of those that are there.
    #[serde(default)]
    deleted: bool,
}

/// List all landscapes, the one worked on last first.
#[utoipa::path(get, operation_id = "list_landscape", path = "/api/landscapes", params(Listed),
    responses((status = OK, body = Vec<ShelfEntry>)))]
async fn list(
    State(state): State<AppState>,
    Query(Listed { deleted }): Query<Listed>,
) -> Result<axum::Json<Vec<ShelfEntry>>, ApiError> {
    let rows = state.store.landscapes(deleted).await?;
    let mut shelf = Vec::with_capacity(rows.len());
    for row in rows {
        shelf.push(ShelfEntry {
            id: row.id,
            revision: row.revision,
            width_m: row.width_m,
            depth_m: row.depth_m,
            steps: row.steps,
            updated_at: row.updated_at,
            opened_at: row.opened_at,
            gone_at: row
                .deleted_at
                .map(|at| at + TimeDelta::days(DAYS_KEPT.into())),
            deleted_at: row.deleted_at,
            tags: row.tags,
            fault: state.documents.fault_of(row.id, row.revision).await,
            name: row.name,
        });
    }
    Ok(axum::Json(shelf))
}

/// Make a landscape.
#[utoipa::path(post, operation_id = "create_landscape", path = "/api/landscapes", request_body = NewLandscape,
    responses((status = CREATED, body = Created)))]
async fn create(
    State(state): State<AppState>,
    Json(new): Json<NewLandscape>,
) -> Result<(StatusCode, axum::Json<Created>), ApiError> {
    let (label, recipe) = begun(&state, new).await?;
    // What was put together here must hold to the same rules as any other: it is
    // read again before it is kept.
    let id = state.documents.create(label, recipe).await?;
    Ok((StatusCode::CREATED, axum::Json(Created { id })))
}

/// Cells along the longer side of the picture of a landscape that is not made yet.
const PREVIEW_CELLS: usize = 320;

/// A picture of what would be made; nothing is kept.
#[utoipa::path(post, operation_id = "preview_landscape", path = "/api/preview.png", request_body = NewLandscape,
    responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn preview(
    State(state): State<AppState>,
    Json(new): Json<NewLandscape>,
) -> Result<Response, ApiError> {
    let (_, recipe) = begun(&state, new).await?;
    let written = move || Document::written(&recipe);
    let recipe = state.desk.run(written).await??.recipe;
    let assets = state.assets.of(&recipe).await?;
    let need = state.need(Class::Study, &recipe, PREVIEW_CELLS).await?;
    let grower = state.grower.clone();
    let draw = move |cancel: &Cancel| {
        land_png(&grower, &recipe, &assets, PREVIEW_CELLS, Run::until(cancel))
    };
    let png = state.compute.run(need, draw).await??;
    Ok(([(header::CONTENT_TYPE, "image/png")], png).into_response())
}

/// The recipe that a new landscape begins with, and what is said of that.
async fn begun(state: &AppState, new: NewLandscape) -> Result<(&'static str, Recipe), ApiError> {
    let name = sound_label(&new.name)?;
    if name.is_empty() {
        return Err(ApiError::BadRequest("a landscape needs a name".to_owned()));
    }
    Ok(match new.start {
        Start::Flat { width_m, depth_m } => {
            ("New", Recipe::flat(name, LandExtent { width_m, depth_m }))
        }
        Start::Land {
            key,
            width_m,
            depth_m,
        } => {
            let land = LANDS.iter().find(|land| land.key == key);
            let land = land.ok_or(ApiError::NotFound("kind of country"))?;
            // Checked first, so that what is refused is the size and not what comes of it.
            let extent = LandExtent { width_m, depth_m };
            Recipe::from_value(serde_json::json!(Recipe::flat(name, extent)))?;
            ("New", land.recipe(name, extent))
        }
        Start::Heightfield {
            asset,
            width_m,
            depth_m,
            scale,
            channel,
            lift_m,
            sinks,
            ground,
            georeference,
        } => {
            let range = state.assets.range(&asset, channel).await?;
            let starter = Starter {
                name,
                extent: LandExtent { width_m, depth_m },
                asset: &asset,
                channel,
                scale,
                lift_m,
                sinks,
                ground,
                georeference,
                range: range.ok_or(ApiError::NotFound("asset"))?,
            };
            ("Import", starter.recipe())
        }
        Start::Recipe(document) => (
            "Import",
            Recipe {
                name: name.to_owned(),
                ..state.desk.run(|| Recipe::from_value(document)).await??
            },
        ),
        Start::CopyOf(other) => {
            let head = state.documents.head(other).await?;
            let head = head.ok_or(ApiError::NotFound("landscape"))?;
            (
                "Copy",
                Recipe {
                    name: name.to_owned(),
                    ..Recipe::clone(&head.document.recipe)
                },
            )
        }
        Start::Branch {
            landscape,
            revision,
        } => {
            let earlier = state.documents.at(landscape, revision).await?;
            let earlier = earlier.ok_or(ApiError::NotFound("revision of this landscape"))?;
            let (name, earlier) = (name.to_owned(), Recipe::clone(&earlier.recipe));
            ("Branch", Recipe { name, ..earlier })
        }
        Start::Preset(key) => {
            let preset = PRESETS.iter().find(|preset| preset.key == key);
            let preset = preset.ok_or(ApiError::NotFound("preset"))?.recipe();
            let name = name.to_owned();
            ("New", Recipe { name, ..preset })
        }
    })
}

/// The current revision of a landscape.
#[utoipa::path(get, operation_id = "show_landscape", path = "/api/landscapes/{id}", params(("id" = Uuid, Path), Wanted),
    responses((status = OK, body = WholeHead)))]
async fn show(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wanted): Query<Wanted>,
) -> Result<Response, ApiError> {
    let head = state.documents.head(id).await?;
    let head = head.ok_or(ApiError::NotFound("landscape"))?;
    long_json(&state, move || {
        serde_json::to_vec(&head.whole(wanted.apart))
    })
    .await
}

/// Lay a long list of points ready, for an edit that names it; the answer is its name,
/// which is the hash of what is in it.
#[utoipa::path(post, operation_id = "lay_bulk_ready", path = "/api/landscapes/{id}/bulk", params(("id" = Uuid, Path)),
    request_body = Vec<Vec<f64>>, responses((status = CREATED, body = String)))]
async fn lay_ready(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(points): Json<Vec<Vec<f64>>>,
) -> Result<(StatusCode, axum::Json<String>), ApiError> {
    let points = serde_json::to_value(points).expect("numbers are plain data");
    let name = state.documents.lay_ready(id, &points).await?;
    Ok((StatusCode::CREATED, axum::Json(name)))
}

/// A long list of points of a landscape, by its name.
#[utoipa::path(get, operation_id = "show_bulk", path = "/api/landscapes/{id}/bulk/{name}",
    params(("id" = Uuid, Path), ("name" = String, Path)),
    responses((status = OK, body = Vec<Vec<f64>>)))]
async fn bulk(
    State(state): State<AppState>,
    Path((id, name)): Path<(Uuid, String)>,
) -> Result<Response, ApiError> {
    let list = state.documents.list(id, name).await?;
    let lasting = [(header::CACHE_CONTROL, "public, max-age=31536000, immutable")];
    Ok((lasting, axum::Json(list)).into_response())
}

/// What a landscape is tagged with.
#[derive(Deserialize, ToSchema)]
struct Tags {
    /// The tags, each once.
    tags: Vec<String>,
}

/// Tag a landscape.
#[utoipa::path(put, operation_id = "tag_landscape", path = "/api/landscapes/{id}", params(("id" = Uuid, Path)),
    request_body = Tags, responses((status = NO_CONTENT)))]
async fn tag(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(Tags { tags }): Json<Tags>,
) -> Result<StatusCode, ApiError> {
    /// More would be no help to anybody.
    const MOST_TAGS: usize = 20;
    let mut sound = Vec::with_capacity(tags.len().min(MOST_TAGS));
    for tag in &tags {
        let tag = sound_label(tag)?.to_owned();
        if !tag.is_empty() && !sound.contains(&tag) {
            sound.push(tag);
        }
    }
    if sound.len() > MOST_TAGS {
        let detail = format!("a landscape has at most {MOST_TAGS} tags");
        return Err(ApiError::Unfit(detail));
    }
    match state.store.tag(id, &sound).await? {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(ApiError::NotFound("landscape")),
    }
}

/// Bring back a landscape that was deleted.
#[utoipa::path(post, operation_id = "bring_landscape_back", path = "/api/landscapes/{id}/bring-back",
    params(("id" = Uuid, Path)), responses((status = NO_CONTENT)))]
async fn bring_back(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, ApiError> {
    match state.store.bring_back(id).await? {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(ApiError::NotFound("deleted landscape")),
    }
}

/// Delete a landscape; it can be brought back for some time.
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
