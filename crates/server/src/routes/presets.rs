//! Landscapes to begin with, and pictures of them and of the kinds of step.

use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::{IntoResponse, Response};
use recipe::Recipe;
use recipe::grow::NoAssets;
use recipe::presets::PRESETS;
use recipe::view::{View, picture};
use serde::Serialize;
use terrain::Run;
use terrain::ground::{Material, MaterialKind};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::error::ApiError;
use crate::state::AppState;

/// Cells along the longer side of the pictures.
const PRESET_CELLS: usize = 320;
const KIND_CELLS: usize = 144;
const MATERIAL_SIDE: usize = 128;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(preset_picture))
        .routes(routes!(kind_picture))
        .routes(routes!(material_picture))
}

/// A landscape to begin with.
#[derive(Serialize, ToSchema)]
struct PresetEntry {
    /// Its name in requests.
    key: &'static str,
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
    shown(&state, &format!("preset-{key}"), recipe, PRESET_CELLS).await
}

/// A picture of what a kind of step does.
#[utoipa::path(get, operation_id = "kind_picture", path = "/api/kinds/{kind}/picture.png",
    params(("kind" = String, Path)), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn kind_picture(
    State(state): State<AppState>,
    Path(kind): Path<String>,
) -> Result<Response, ApiError> {
    let recipe = recipe::steps::example(&kind).ok_or(ApiError::NotFound("kind of step"))?;
    shown(&state, &format!("kind-{kind}"), recipe, KIND_CELLS).await
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
    let draw = move || {
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
    recipe: Recipe,
    cells: usize,
) -> Result<Response, ApiError> {
    let drawn = {
        let grower = state.grower.clone();
        let draw = move || {
            let view = View::of_land(cells);
            let picture = picture(&grower, &recipe, &NoAssets, &view, Run::to_the_end())?;
            let mut png = Vec::new();
            formats::write_rgb8(&mut png, &picture.colour).expect("it fits into memory");
            Ok(png)
        };
        state
            .gallery
            .get_or_draw(name, &state.compute, draw)
            .await?
    };
    Ok(lasting(drawn))
}

/// A picture that browsers may keep for a day.
fn lasting(png: Vec<u8>) -> Response {
    let headers = [
        (header::CONTENT_TYPE, "image/png"),
        (header::CACHE_CONTROL, "public, max-age=86400"),
    ];
    (headers, png).into_response()
}
