//! Importing files.

use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{DefaultBodyLimit, State};
use axum::http::StatusCode;
use axum::response::Response;
use formats::Units;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use terrain::Cancel;
use terrain::grid::Georeference;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::presets::lasting;
use crate::documents::sound_label;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::state::AppState;

/// The largest file: an 8192² grid of floats, and some air.
const FILE_BYTES: usize = 320 << 20;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(import))
        .routes(routes!(show))
        .routes(routes!(asset_picture))
        .routes(routes!(import_picture))
        .layer(DefaultBodyLimit::max(FILE_BYTES))
}

#[derive(Deserialize, IntoParams)]
struct Name {
    /// The file's name.
    name: String,
}

#[derive(Deserialize, IntoParams)]
struct HeightsFile {
    /// The file's name.
    name: String,
    /// How many steps are in a row of a raw file; without it there are as many rows.
    cols: Option<usize>,
}

/// An imported heightfield.
#[derive(Serialize, ToSchema)]
struct Imported {
    /// Its id, by which recipes name it.
    id: String,
    /// The name of its format.
    format: String,
    /// Columns.
    cols: usize,
    /// Rows.
    rows: usize,
    /// 1 grey, 2 with alpha, 3 red, green and blue, 4 with alpha.
    channels: usize,
    /// Lowest value in the file.
    low: f32,
    /// Highest value in the file.
    high: f32,
    /// From west to east, metres, when the file says.
    width_m: Option<f64>,
    /// From south to north, metres, when the file says.
    depth_m: Option<f64>,
    /// The value of white, when the file is a picture and not in metres.
    white: Option<u32>,
    /// What the coordinate system is called that it lies in on earth, when it says.
    place: Option<String>,
    /// That place, as recipes keep it.
    #[schema(value_type = Option<Object>)]
    georeference: Option<Value>,
}

/// An imported file.
#[derive(Serialize, ToSchema)]
struct ImportedFile {
    /// The name that it came with.
    name: String,
}

/// What an imported file was called.
#[utoipa::path(get, operation_id = "show_asset", path = "/api/assets/{id}", params(("id" = String, Path)),
    responses((status = OK, body = ImportedFile)))]
async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Json<ImportedFile>, ApiError> {
    let name = state.store.asset_name(&id).await?;
    let name = name.ok_or(ApiError::NotFound("imported file"))?;
    Ok(Json(ImportedFile { name }))
}

/// Import heights: GeoTIFF, OpenEXR, PNG, JPEG, ESRI ASCII grid, or raw steps of 16 bits.
#[utoipa::path(post, operation_id = "import_asset", path = "/api/assets", params(HeightsFile),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = CREATED, body = Imported)))]
async fn import(
    State(state): State<AppState>,
    Query(file): Query<HeightsFile>,
    body: Result<Bytes, BytesRejection>,
) -> Result<(StatusCode, Json<Imported>), ApiError> {
    let name = sound_label(&file.name)?;
    let (id, heights) = state.assets.import(name, body?, file.cols).await?;
    let (low, high) = heights.channels[0].range();
    let (cols, rows) = (heights.channels[0].cols(), heights.channels[0].rows());
    let imported = Imported {
        id,
        format: heights.format.to_owned(),
        cols,
        rows,
        channels: heights.channels.len(),
        low,
        high,
        width_m: heights.cell_m.map(|(x, _)| x * cols as f64),
        depth_m: heights.cell_m.map(|(_, y)| y * rows as f64),
        place: heights.georeference.as_ref().map(Georeference::name),
        georeference: heights
            .georeference
            .map(|place| serde_json::to_value(place).expect("plain data")),
        white: match heights.units {
            Units::Metres => None,
            Units::Steps { white } => Some(white),
        },
    };
    Ok((StatusCode::CREATED, Json(imported)))
}

/// An imported picture.
#[derive(Serialize, ToSchema)]
struct ImportedPicture {
    /// Its id, by which recipes name it.
    id: String,
    /// Columns.
    cols: usize,
    /// Rows.
    rows: usize,
    /// 1 grey, 2 with alpha, 3 red, green and blue, 4 with alpha.
    channels: usize,
    /// The mean of each channel, from black (0) to white (1).
    means: Vec<f64>,
}

/// Import a picture in grey or colour: PNG, JPEG or TIFF.
#[utoipa::path(post, operation_id = "import_picture", path = "/api/pictures", params(Name),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = CREATED, body = ImportedPicture)))]
async fn import_picture(
    State(state): State<AppState>,
    Query(name): Query<Name>,
    body: Result<Bytes, BytesRejection>,
) -> Result<(StatusCode, Json<ImportedPicture>), ApiError> {
    let (id, image) = state
        .assets
        .import_picture(sound_label(&name.name)?, body?)
        .await?;
    let imported = ImportedPicture {
        id,
        cols: image.channels[0].cols(),
        rows: image.channels[0].rows(),
        channels: image.channels.len(),
        means: (0..image.channels.len())
            .map(|channel| image.mean_share(channel))
            .collect(),
    };
    Ok((StatusCode::CREATED, Json(imported)))
}

/// Which channel of a picture is shown.
#[derive(Deserialize, IntoParams)]
struct Channel {
    /// Counted from 0.
    #[serde(default)]
    channel: usize,
}

/// Cells along the longer side of the small picture of a channel.
const SMALL_CELLS: usize = 160;

/// One channel of an imported file, small, from black to white.
#[utoipa::path(get, operation_id = "asset_picture", path = "/api/assets/{id}/picture.png",
    params(("id" = String, Path), Channel), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn asset_picture(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Query(Channel { channel }): Query<Channel>,
) -> Result<Response, ApiError> {
    let image = state.assets.load(&id).await?;
    let image = image.filter(|image| channel < image.channels.len());
    let image = image.ok_or(ApiError::NotFound("channel of an imported file"))?;
    let draw = move |_: &Cancel| {
        let mut png = Vec::new();
        let small = image.small(channel, SMALL_CELLS);
        formats::write_grey8(&mut png, &small).expect("it fits into memory");
        Ok(png)
    };
    let name = format!("asset-{id}-{channel}");
    let drawn = state
        .gallery
        .get_or_draw(&name, &state.compute, draw)
        .await?;
    Ok(lasting(drawn))
}
