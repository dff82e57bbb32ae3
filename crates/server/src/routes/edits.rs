//! Changing a landscape. An answer means that the change is committed.

use std::sync::Arc;

use axum::extract::State;
use recipe::document::Named;
use recipe::grow::TooCostly;
use recipe::{GrowError, Grower, Recipe};
use serde::Deserialize;
use terrain::Frame;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::document::Document;
use crate::documents::{NewEdit, sound_label};
use crate::error::ApiError;
use crate::extract::{Json, Path, Query};
use crate::live::{HeadMove, Wanted};
use crate::patching::difference;
use crate::state::AppState;

/// Cells along the longer side while one works.
const WORKING_CELLS: usize = 512;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(edit))
        .routes(routes!(undo))
        .routes(routes!(redo))
        .routes(routes!(rename))
}

/// One edit.
#[derive(Deserialize, ToSchema)]
struct Edit {
    /// The revision that it changes; refused when there is a newer one.
    base: i64,
    /// What the artist did, for the undo menu; told from what changes when absent.
    #[serde(default)]
    label: String,
    /// A number of the sender's own, by which the edit is known: sent again with the
    /// same one, it is not made twice.
    mark: Option<Uuid>,
    /// Who makes it, as far as they say.
    #[serde(default)]
    author: String,
    /// JSON Patch (RFC 6902). In the place of a list of points may stand the name of
    /// one that the landscape has, or that was laid ready.
    #[schema(value_type = Vec<Object>)]
    patch: json_patch::Patch,
}

/// Change a landscape.
#[utoipa::path(post, operation_id = "edit_landscape", path = "/api/landscapes/{id}/edits", params(("id" = Uuid, Path), Wanted),
    request_body = Edit, responses((status = OK, body = HeadMove)))]
async fn edit(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wanted): Query<Wanted>,
    Json(edit): Json<Edit>,
) -> Result<axum::Json<HeadMove>, ApiError> {
    let label = sound_label(&edit.label)?;
    let grower = state.grower.clone();
    let allowed = move |before: &Recipe, after: &Recipe| {
        still_grows(&grower, before, after).map_err(|refused| GrowError::from(refused).into())
    };
    let new = NewEdit {
        base: edit.base,
        label,
        mark: edit.mark,
        author: sound_label(&edit.author)?,
        patch: edit.patch,
    };
    let moved = state.documents.edit(id, new, allowed).await?;
    told(&state, id, moved, wanted).await
}

/// The answer to whoever moved the head.
pub(super) async fn told(
    state: &AppState,
    landscape: Uuid,
    moved: Arc<HeadMove>,
    wanted: Wanted,
) -> Result<axum::Json<HeadMove>, ApiError> {
    let to = state.documents.at(landscape, moved.revision).await?;
    let to = to.ok_or(ApiError::NotFound("revision of this landscape"))?;
    let told = move || Arc::unwrap_or_clone(moved).told(&to, wanted.apart);
    Ok(axum::Json(state.desk.run(told).await??))
}

/// Whether what comes of an edit can be grown while one works, so that nothing that
/// is kept is refused afterwards. What could not be grown before may always be
/// mended.
fn still_grows(grower: &Grower, before: &Recipe, after: &Recipe) -> Result<(), Box<TooCostly>> {
    let fits = |recipe: &Recipe| {
        let frame = Frame::with_cells(recipe.extent.into(), WORKING_CELLS);
        grower.takes(recipe, &frame).map(drop)
    };
    fits(after).or_else(|refused| match fits(before) {
        Ok(()) => Err(refused),
        Err(_) => Ok(()),
    })
}

/// Take back the last edit.
#[utoipa::path(post, operation_id = "undo_landscape", path = "/api/landscapes/{id}/undo", params(("id" = Uuid, Path), Wanted),
    responses((status = OK, body = HeadMove)))]
async fn undo(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wanted): Query<Wanted>,
) -> Result<axum::Json<HeadMove>, ApiError> {
    let moved = state.documents.undo(id).await?;
    told(&state, id, moved, wanted).await
}

/// Bring back the edit that was undone last.
#[utoipa::path(post, operation_id = "redo_landscape", path = "/api/landscapes/{id}/redo", params(("id" = Uuid, Path), Wanted),
    responses((status = OK, body = HeadMove)))]
async fn redo(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wanted): Query<Wanted>,
) -> Result<axum::Json<HeadMove>, ApiError> {
    let moved = state.documents.redo(id).await?;
    told(&state, id, moved, wanted).await
}

/// Another name for a mask or a strand.
#[derive(Deserialize, ToSchema)]
struct Renaming {
    /// What has the name.
    of: NameOf,
    /// Its name.
    from: String,
    /// The new one.
    to: String,
}

/// What has a name that others refer to.
#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum NameOf {
    /// A named mask.
    Mask,
    /// A strand.
    Strand,
}

/// The edit of the head that gives a mask or a strand another name wherever it is
/// referred to, as JSON Patch; nothing is changed yet.
#[utoipa::path(post, operation_id = "rename_in_landscape", path = "/api/landscapes/{id}/rename", params(("id" = Uuid, Path)),
    request_body = Renaming, responses((status = OK, body = Vec<Object>)))]
async fn rename(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(renaming): Json<Renaming>,
) -> Result<axum::Json<json_patch::Patch>, ApiError> {
    let head = state.documents.head(id).await?;
    let head = head.ok_or(ApiError::NotFound("landscape"))?;
    let what = match renaming.of {
        NameOf::Mask => Named::Mask,
        NameOf::Strand => Named::Strand,
    };
    let before = &head.document.recipe;
    let after = before.renamed(what, &renaming.from, sound_label(&renaming.to)?)?;
    let after = Document::written(&after)?;
    Ok(axum::Json(difference(&head.document.light, &after.light)))
}
