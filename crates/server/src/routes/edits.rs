//! Changing a landscape. An answer means that the change is committed.

use axum::Json;
use axum::extract::{Path, State};
use recipe::Recipe;
use serde::Deserialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::error::ApiError;
use crate::live::Head;
use crate::state::AppState;
use crate::store::Moved;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(edit))
        .routes(routes!(undo))
        .routes(routes!(redo))
}

/// One edit.
#[derive(Deserialize, ToSchema)]
struct Edit {
    /// The revision that it changes; refused when there is a newer one.
    base: i64,
    /// What the artist did, for the undo menu.
    label: String,
    /// JSON Patch (RFC 6902).
    #[schema(value_type = Vec<Object>)]
    patch: json_patch::Patch,
}

/// Change a landscape.
#[utoipa::path(post, operation_id = "edit_landscape", path = "/api/landscapes/{id}/edits", params(("id" = Uuid, Path)),
    request_body = Edit, responses((status = OK, body = Head)))]
async fn edit(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(edit): Json<Edit>,
) -> Result<Json<Head>, ApiError> {
    let before = state
        .store
        .recipe_at(id, edit.base)
        .await?
        .ok_or(ApiError::NotFound("revision of this landscape"))?;
    let mut document = serde_json::to_value(&before).expect("a recipe is plain data");
    json_patch::patch(&mut document, &edit.patch)?;
    let recipe = Recipe::from_value(document)?;
    let moved = state
        .store
        .append(id, edit.base, &edit.label, &recipe)
        .await?;
    tell(&state, id, moved, "change")
}

/// Take back the last edit.
#[utoipa::path(post, operation_id = "undo_landscape", path = "/api/landscapes/{id}/undo", params(("id" = Uuid, Path)),
    responses((status = OK, body = Head)))]
async fn undo(State(state): State<AppState>, Path(id): Path<Uuid>) -> Result<Json<Head>, ApiError> {
    let moved = state.store.undo(id).await?;
    tell(&state, id, moved, "undo")
}

/// Bring back the edit that was undone last.
#[utoipa::path(post, operation_id = "redo_landscape", path = "/api/landscapes/{id}/redo", params(("id" = Uuid, Path)),
    responses((status = OK, body = Head)))]
async fn redo(State(state): State<AppState>, Path(id): Path<Uuid>) -> Result<Json<Head>, ApiError> {
    let moved = state.store.redo(id).await?;
    tell(&state, id, moved, "redo")
}

/// Tells all viewers about a head that is committed, and answers with it.
pub(super) fn tell(
    state: &AppState,
    id: Uuid,
    moved: Moved,
    action: &'static str,
) -> Result<Json<Head>, ApiError> {
    match moved {
        Moved::To(row) => {
            let head = Head::from(*row);
            state.live.tell(id, head.clone());
            Ok(Json(head))
        }
        Moved::Missing => Err(ApiError::NotFound("landscape")),
        Moved::Stale(head) => Err(ApiError::Conflict { head }),
        Moved::Nothing => Err(ApiError::Nothing(action)),
    }
}
