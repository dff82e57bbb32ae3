//! Exporting files.

use axum::body::Body;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use deliver::Layer;
use serde::{Deserialize, Serialize};
use tokio_util::io::ReaderStream;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::error::ApiError;
use crate::exports::{self, NewMesh, Wanted};
use crate::extract::{Json, Path};
use crate::state::AppState;
use crate::store::{ExportState, ListedExport};

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(begin, list))
        .routes(routes!(show, stop))
        .routes(routes!(fetch))
}

/// What to export.
#[derive(Deserialize, ToSchema)]
struct NewExport {
    /// Cells along the longer side.
    cells: usize,
    /// Cells along each side of a tile, to cut maps into tiles that meet
    /// exactly; one file a map when absent.
    #[serde(default)]
    tile: Option<usize>,
    /// Names of layers; all when empty.
    #[serde(default)]
    layers: Vec<String>,
    /// How the land is put into triangles, when the layer `mesh` is among them.
    #[serde(default)]
    mesh: Option<NewMesh>,
    /// The revision to export; the newest when absent.
    #[serde(default)]
    revision: Option<i64>,
}

/// An export that has begun.
#[derive(Serialize, ToSchema)]
struct Begun {
    /// Its id.
    id: Uuid,
}

/// What became of an export.
#[derive(Serialize, ToSchema)]
struct ExportStatus {
    /// What became of it.
    state: ExportState,
    /// How far it is, 0 to 1.
    share: f32,
    /// What went wrong.
    message: Option<String>,
}

/// Begin to export a landscape as it is now, or as it was.
#[utoipa::path(post, operation_id = "begin_export", path = "/api/landscapes/{id}/exports", params(("id" = Uuid, Path)),
    request_body = NewExport, responses((status = ACCEPTED, body = Begun)))]
async fn begin(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(new): Json<NewExport>,
) -> Result<(StatusCode, axum::Json<Begun>), ApiError> {
    allow("cells", new.cells, 2..=16_384)?;
    if let Some(tile) = new.tile {
        allow("tile", tile, 16..=16_384)?;
    }
    let named = |name: &String| {
        Layer::named(name)
            .ok_or_else(|| ApiError::BadRequest(format!("there is no layer called ‘{name}’")))
    };
    let layers: Vec<Layer> = new.layers.iter().map(named).collect::<Result<_, _>>()?;
    let wanted = Wanted {
        revision: new.revision,
        layers,
        mesh: new.mesh,
        cells: new.cells,
        tile: new.tile,
    };
    let export = exports::begin(&state, id, wanted).await?;
    Ok((StatusCode::ACCEPTED, axum::Json(Begun { id: export })))
}

/// The newest exports of a landscape, the newest first.
#[utoipa::path(get, operation_id = "list_exports", path = "/api/landscapes/{id}/exports", params(("id" = Uuid, Path)),
    responses((status = OK, body = Vec<ListedExport>)))]
async fn list(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<axum::Json<Vec<ListedExport>>, ApiError> {
    const MOST: i64 = 12;
    Ok(axum::Json(state.store.exports_of(id, MOST).await?))
}

fn allow(
    name: &str,
    value: usize,
    allowed: std::ops::RangeInclusive<usize>,
) -> Result<(), ApiError> {
    if allowed.contains(&value) {
        return Ok(());
    }
    let (low, high) = (allowed.start(), allowed.end());
    let detail = format!("{name} is {value}, allowed is {low} to {high}");
    Err(ApiError::BadRequest(detail))
}

/// How far an export is.
#[utoipa::path(get, operation_id = "show_export", path = "/api/exports/{id}", params(("id" = Uuid, Path)),
    responses((status = OK, body = ExportStatus)))]
async fn show(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<axum::Json<ExportStatus>, ApiError> {
    let share = state.exports.share(id);
    let row = state
        .store
        .export(id)
        .await?
        .ok_or(ApiError::NotFound("export"))?;
    let share = match row.state {
        ExportState::Done | ExportState::Expired => 1.0,
        // Made by another service, it says now and then how far it is.
        _ => share.unwrap_or(row.share),
    };
    Ok(axum::Json(ExportStatus {
        state: row.state,
        share,
        message: row.message,
    }))
}

/// Stop an export.
#[utoipa::path(delete, operation_id = "stop_export", path = "/api/exports/{id}", params(("id" = Uuid, Path)),
    responses((status = NO_CONTENT)))]
async fn stop(State(state): State<AppState>, Path(id): Path<Uuid>) -> Result<StatusCode, ApiError> {
    match state.store.stop_export(id).await? {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(ApiError::NotFound("running export")),
    }
}

/// Fetch the files of an export that is done, as a zip archive.
#[utoipa::path(get, operation_id = "fetch_export", path = "/api/exports/{id}/file", params(("id" = Uuid, Path)),
    responses((status = OK, body = Vec<u8>, content_type = "application/zip")))]
async fn fetch(State(state): State<AppState>, Path(id): Path<Uuid>) -> Result<Response, ApiError> {
    let row = state
        .store
        .export(id)
        .await?
        .ok_or(ApiError::NotFound("export"))?;
    if row.state == ExportState::Expired {
        let kept = "export any more: newer ones have taken its place; please export again";
        return Err(ApiError::NotFound(kept));
    }
    if row.state != ExportState::Done {
        return Err(ApiError::NotFound("finished export"));
    }
    let file = match tokio::fs::File::open(state.exports.file(id)).await {
        Ok(file) => file,
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => {
            return Err(ApiError::NotFound(
                "export in the cache folder; please export again",
            ));
        }
        Err(error) => return Err(error.into()),
    };
    let head = state.documents.head(row.landscape).await?;
    let name = head.map(|head| head.document.recipe.name.clone());
    let mut headers = HeaderMap::new();
    headers.insert(
        header::CONTENT_TYPE,
        HeaderValue::from_static("application/zip"),
    );
    headers.insert(header::CONTENT_LENGTH, file.metadata().await?.len().into());
    let disposition = format!(
        "attachment; filename=\"{}.zip\"",
        plain_name(name.as_deref())
    );
    if let Ok(value) = HeaderValue::from_str(&disposition) {
        headers.insert(header::CONTENT_DISPOSITION, value);
    }
    Ok((headers, Body::from_stream(ReaderStream::new(file))).into_response())
}

/// A name that is safe as a file name anywhere.
fn plain_name(name: Option<&str>) -> String {
    let plain: String = name
        .unwrap_or_default()
        .chars()
        .map(|c| {
            if c.is_ascii_alphanumeric() {
                c.to_ascii_lowercase()
            } else {
                '-'
            }
        })
        .collect();
    let plain = plain.trim_matches('-');
    if plain.is_empty() {
        "landscape".to_owned()
    } else {
        plain.to_owned()
    }
}
