//! Importing files.

use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{DefaultBodyLimit, State};
use axum::http::StatusCode;
use formats::Units;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::documents::sound_label;
use crate::error::ApiError;
use crate::extract::Query;
use crate::state::AppState;

/// The largest file: an 8192² grid of floats, and some air.
const FILE_BYTES: usize = 320 << 20;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(import))
        .routes(routes!(import_picture))
        .layer(DefaultBodyLimit::max(FILE_BYTES))
}

#[derive(Deserialize, IntoParams)]
struct Name {
    /// The file's name.
    name: String,
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
}

/// Import a heightfield: GeoTIFF, PNG or ESRI ASCII grid.
#[utoipa::path(post, operation_id = "import_asset", path = "/api/assets", params(Name),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = CREATED, body = Imported)))]
async fn import(
    State(state): State<AppState>,
    Query(name): Query<Name>,
    body: Result<Bytes, BytesRejection>,
) -> Result<(StatusCode, Json<Imported>), ApiError> {
    let (id, heightfield) = state.assets.import(sound_label(&name.name)?, body?).await?;
    let (low, high) = heightfield.values.range();
    let (cols, rows) = (heightfield.values.cols(), heightfield.values.rows());
    let imported = Imported {
        id,
        format: heightfield.format.to_owned(),
        cols,
        rows,
        low,
        high,
        width_m: heightfield.cell_m.map(|(x, _)| x * cols as f64),
        depth_m: heightfield.cell_m.map(|(_, y)| y * rows as f64),
        white: match heightfield.units {
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
    };
    Ok((StatusCode::CREATED, Json(imported)))
}
