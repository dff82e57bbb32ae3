//! Landscapes to begin with, and small pictures: of them, of landscapes, of the kinds
//! of step and of materials.

use std::sync::Arc;

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use recipe::document::LandExtent;
use recipe::lands::{LANDS, Land};
use recipe::presets::PRESETS;
use recipe::view::{View, picture};
use recipe::{Assets, GrowError, Grower, Recipe};
use serde::{Deserialize, Serialize};
use terrain::ground::{Material, MaterialKind};
use terrain::{Cancel, Run};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::state::AppState;

/// Cells along the longer side of the pictures.
const PRESET_CELLS: usize = 320;
const LAND_CELLS: usize = 192;
const LANDSCAPE_CELLS: usize = 160;
const KIND_CELLS: usize = 144;
const MATERIAL_SIDE: usize = 128;
/// Depth against width of the pictures of kinds of country.
const LAND_PROPORTION: f64 = 0.625;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(preset_picture))
        .routes(routes!(lands))
        .routes(routes!(land_picture))
        .routes(routes!(landscape_picture))
        .routes(routes!(kind_picture))
        .routes(routes!(material_picture))
}

/// A landscape to begin with.
#[derive(Serialize, ToSchema)]
struct PresetEntry {
    /// Its name in requests.
    key: &'static str,
    /// Whether it is an example of one job, and not a whole piece of country.
    example: bool,
    /// Its name on screen.
    title: &'static str,
    /// What kind of country it is.
    about: &'static str,
}

/// List the landscapes to begin with.
#[utoipa::path(get, operation_id = "list_presets", path = "/api/presets", responses((status = OK, body = Vec<PresetEntry>)))]
async fn list() -> Json<Vec<PresetEntry>> {
    let entry = |preset: &recipe::presets::Preset| PresetEntry {
        key: preset.key,
        example: preset.example,
        title: preset.title,
        about: preset.about,
    };
    Json(PRESETS.iter().map(entry).collect())
}

/// A picture of a preset.
#[utoipa::path(get, operation_id = "preset_picture", path = "/api/presets/{key}/picture.png",
    params(("key" = String, Path)), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn preset_picture(
    State(state): State<AppState>,
    Path(key): Path<String>,
) -> Result<Response, ApiError> {
    let preset = PRESETS.iter().find(|preset| preset.key == key);
    let recipe = preset.ok_or(ApiError::NotFound("preset"))?.recipe();
    shown(
        &state,
        &format!("preset-{key}"),
        recipe.into(),
        PRESET_CELLS,
    )
    .await
}

/// A kind of country to begin with.
#[derive(Serialize, ToSchema)]
struct LandEntry {
    /// Its name in requests.
    key: &'static str,
    /// Its name on screen.
    title: &'static str,
    /// What it is like.
    about: &'static str,
    /// The side of a piece that shows it well, metres.
    side_m: f64,
}

/// List the kinds of country to begin with.
#[utoipa::path(get, operation_id = "list_lands", path = "/api/lands", responses((status = OK, body = Vec<LandEntry>)))]
async fn lands() -> Json<Vec<LandEntry>> {
    let entry = |land: &Land| LandEntry {
        key: land.key,
        title: land.title(),
        about: land.about(),
        side_m: land.side_m,
    };
    Json(LANDS.iter().map(entry).collect())
}

/// A picture of a kind of country.
#[utoipa::path(get, operation_id = "land_picture", path = "/api/lands/{key}/picture.png",
    params(("key" = String, Path)), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn land_picture(
    State(state): State<AppState>,
    Path(key): Path<String>,
) -> Result<Response, ApiError> {
    let land = LANDS.iter().find(|land| land.key == key);
    let land = land.ok_or(ApiError::NotFound("kind of country"))?;
    let extent = LandExtent {
        width_m: land.side_m,
        depth_m: land.side_m * LAND_PROPORTION,
    };
    let recipe = land.recipe(land.title(), extent);
    shown(&state, &format!("land-{key}"), recipe.into(), LAND_CELLS).await
}

/// Which revision is shown.
#[derive(Deserialize, IntoParams)]
struct Shown {
    /// The revision: what it shows never changes.
    revision: i64,
}

/// A small picture of a landscape at one of its revisions.
#[utoipa::path(get, operation_id = "landscape_picture", path = "/api/landscapes/{id}/picture.png",
    params(("id" = Uuid, Path), Shown), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn landscape_picture(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(Shown { revision }): Query<Shown>,
) -> Result<Response, ApiError> {
    let document = state.documents.at(id, revision).await?;
    let document = document.ok_or(ApiError::NotFound("revision of this landscape"))?;
    let name = format!("landscape-{id}-{revision}");
    shown(&state, &name, document.recipe.clone(), LANDSCAPE_CELLS).await
}

/// A picture of what a kind of step does.
#[utoipa::path(get, operation_id = "kind_picture", path = "/api/kinds/{kind}/picture.png",
    params(("kind" = String, Path)), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn kind_picture(
    State(state): State<AppState>,
    Path(kind): Path<String>,
) -> Result<Response, ApiError> {
    kind_drawn(&state, &kind).await
}

/// Draws the pictures of all kinds of step, one after the other, beside whatever is asked
/// for: the list of them opens with its pictures.
pub(crate) async fn draw_kinds(state: AppState) {
    for sheet in recipe::steps::kind_sheets() {
        if sheet.example.is_some() {
            // What cannot be drawn is said to whoever asks for it.
            let _ = kind_drawn(&state, sheet.kind).await;
        }
    }
}

async fn kind_drawn(state: &AppState, kind: &str) -> Result<Response, ApiError> {
    let recipe = recipe::steps::example(kind).ok_or(ApiError::NotFound("kind of step"))?;
    shown(state, &format!("kind-{kind}"), recipe.into(), KIND_CELLS).await
}

/// A small picture of a material that ships.
#[utoipa::path(get, operation_id = "material_picture", path = "/api/materials/{name}/picture.png",
    params(("name" = String, Path)), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn material_picture(
    State(state): State<AppState>,
    Path(name): Path<String>,
) -> Result<Response, ApiError> {
    let mut kinds = MaterialKind::ALL.into_iter();
    let kind = kinds.find(|kind| kind.name() == name);
    let kind = kind.ok_or(ApiError::NotFound("material"))?;
    let draw = move |_: &Cancel| {
        let mut png = Vec::new();
        let texture = Material::grown(kind, MATERIAL_SIDE).albedo_map();
        formats::write_rgb8(&mut png, &texture).expect("it fits into memory");
        Ok(png)
    };
    let name = format!("material-{name}");
    let drawn = state
        .gallery
        .get_or_draw(&name, &state.compute, draw)
        .await?;
    Ok(lasting(drawn))
}

/// The picture of a recipe that never changes: drawn once, then kept.
async fn shown(
    state: &AppState,
    name: &str,
    recipe: Arc<Recipe>,
    cells: usize,
) -> Result<Response, ApiError> {
    let drawn = {
        let assets = state.assets.of(&recipe).await?;
        let grower = state.grower.clone();
        let draw =
            move |cancel: &Cancel| land_png(&grower, &recipe, &assets, cells, Run::until(cancel));
        state
            .gallery
            .get_or_draw(name, &state.compute, draw)
            .await?
    };
    Ok(lasting(drawn))
}

/// The land with `cells` along its longer side, from above, as PNG.
pub(super) fn land_png(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    cells: usize,
    run: Run,
) -> Result<Vec<u8>, GrowError> {
    let picture = picture(grower, recipe, assets, &View::of_land(cells), run)?;
    let mut png = Vec::new();
    formats::write_rgb8(&mut png, &picture.colour).expect("it fits into memory");
    Ok(png)
}

/// A picture that browsers may keep for a day.
pub(super) fn lasting(png: Bytes) -> Response {
    let headers = [
        (header::CONTENT_TYPE, "image/png"),
        (header::CACHE_CONTROL, "public, max-age=86400"),
    ];
    (headers, png).into_response()
}
