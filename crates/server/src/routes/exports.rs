//! Exporting files.

use axum::body::Body;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use deliver::{Bounds, CHECK_CELLS, Checked, Wish};
use serde::{Deserialize, Serialize};
use terrain::Run;
use tokio_util::io::ReaderStream;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::admission::Class;
use crate::error::ApiError;
use crate::exports::{self, Wanted};
use crate::extract::{Json, Path};
use crate::state::AppState;
use crate::store::{ExportState, ListedExport};

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(begin, list))
        .routes(routes!(check))
        .routes(routes!(show, stop))
        .routes(routes!(fetch))
}

/// What to export.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewExport {
    /// What is wanted.
    wish: Wish,
    /// The revision to export; the newest when absent.
    #[serde(default)]
    revision: Option<i64>,
}

/// A wish, and what it is held against.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewCheck {
    /// What is wanted.
    wish: Wish,
    /// What the target takes; only what can be made is asked when absent.
    #[serde(default)]
    #[schema(required = false)]
    bounds: Bounds,
    /// The revision that is meant; the newest when absent.
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
    let NewExport { wish, revision } = new;
    let wanted = Wanted { revision, wish };
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

/// Hold what is wanted against what a target takes, before anything is exported.
#[utoipa::path(post, operation_id = "check_export", path = "/api/landscapes/{id}/exports/check", params(("id" = Uuid, Path)),
    request_body = NewCheck, responses((status = OK, body = Checked)))]
async fn check(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(new): Json<NewCheck>,
) -> Result<axum::Json<Checked>, ApiError> {
    let (_, document) = state.documents.at_or_head(id, new.revision).await?;
    let assets = state.assets.of(&document.recipe).await?;
    let grower = state.grower.allowing(state.grower.budget().of_export());
    let need = state
        .need(Class::Study, &document.recipe, CHECK_CELLS)
        .await?;
    let checked = state.compute.run(need, move |cancel| {
        let land = (&*document.recipe, &assets as &dyn recipe::Assets);
        let run = Run::until(cancel);
        deliver::check(&grower, land, &new.wish, &new.bounds, run)
    });
    Ok(axum::Json(checked.await??))
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
