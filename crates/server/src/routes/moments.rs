//! Earlier states: listing them, naming them, going back to them.

use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use recipe::changes::changes;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::edits::told;
use crate::documents::sound_label;
use crate::error::ApiError;
use crate::extract::{Json, Path, Query};
use crate::live::{HeadMove, Wanted};
use crate::state::AppState;
use crate::store::{MomentRow, RevisionRow};

/// Revisions that are listed; older ones are kept, and can be named.
const MOST_LISTED: i64 = 300;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(revisions))
        .routes(routes!(moments, name))
        .routes(routes!(forget))
        .routes(routes!(return_to))
        .routes(routes!(changed))
}

/// One edit of a landscape.
#[derive(Serialize, ToSchema)]
struct Revision {
    /// Its number.
    revision: i64,
    /// The revision that it changed.
    parent: Option<i64>,
    /// What the artist did.
    label: String,
    /// Who that was, as far as they said.
    author: String,
    /// When.
    created_at: DateTime<Utc>,
}

/// A revision with a name.
#[derive(Serialize, ToSchema)]
struct NamedMoment {
    /// Its id.
    id: Uuid,
    /// The revision.
    revision: i64,
    /// Its name.
    name: String,
    /// When it was named.
    created_at: DateTime<Utc>,
}

/// A name for a revision.
#[derive(Deserialize, ToSchema)]
struct NewMoment {
    /// The revision.
    revision: i64,
    /// Its name.
    name: String,
}

/// A revision to go back to.
#[derive(Deserialize, ToSchema)]
struct ReturnTo {
    /// The revision.
    revision: i64,
    /// Who wants to.
    #[serde(default)]
    author: String,
}

/// List the revisions of a landscape, newest first.
#[utoipa::path(get, operation_id = "list_revisions", path = "/api/landscapes/{id}/revisions", params(("id" = Uuid, Path)),
    responses((status = OK, body = Vec<Revision>)))]
async fn revisions(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<axum::Json<Vec<Revision>>, ApiError> {
    let revision = |row: RevisionRow| Revision {
        revision: row.number,
        parent: row.parent,
        label: row.label,
        author: row.author,
        created_at: row.created_at,
    };
    let rows = state.store.revisions(id, MOST_LISTED).await?;
    match rows.is_empty() {
        true => Err(ApiError::NotFound("landscape")),
        false => Ok(axum::Json(rows.into_iter().map(revision).collect())),
    }
}

/// List the named moments of a landscape, newest first.
#[utoipa::path(get, operation_id = "list_moments", path = "/api/landscapes/{id}/moments", params(("id" = Uuid, Path)),
    responses((status = OK, body = Vec<NamedMoment>)))]
async fn moments(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<axum::Json<Vec<NamedMoment>>, ApiError> {
    let moment = |row: MomentRow| NamedMoment {
        id: row.id,
        revision: row.revision,
        name: row.name,
        created_at: row.created_at,
    };
    let rows = state.store.moments(id).await?;
    Ok(axum::Json(rows.into_iter().map(moment).collect()))
}

/// Name a revision.
#[utoipa::path(post, operation_id = "name_moment", path = "/api/landscapes/{id}/moments", params(("id" = Uuid, Path)),
    request_body = NewMoment, responses((status = CREATED, body = Uuid)))]
async fn name(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(new): Json<NewMoment>,
) -> Result<(StatusCode, axum::Json<Uuid>), ApiError> {
    let name = sound_label(&new.name)?;
    if name.is_empty() {
        return Err(ApiError::BadRequest("a moment needs a name".to_owned()));
    }
    let moment = state.store.name_moment(id, new.revision, name).await?;
    let moment = moment.ok_or(ApiError::NotFound("revision of this landscape"))?;
    Ok((StatusCode::CREATED, axum::Json(moment)))
}

/// Take the name of a moment away; its revision stays.
#[utoipa::path(delete, operation_id = "forget_moment", path = "/api/landscapes/{id}/moments/{moment}",
    params(("id" = Uuid, Path), ("moment" = Uuid, Path)), responses((status = NO_CONTENT)))]
async fn forget(
    State(state): State<AppState>,
    Path((id, moment)): Path<(Uuid, Uuid)>,
) -> Result<StatusCode, ApiError> {
    match state.store.forget_moment(id, moment).await? {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(ApiError::NotFound("moment")),
    }
}

/// Two revisions.
#[derive(Deserialize, IntoParams)]
struct Between {
    /// The earlier one.
    from: i64,
    /// The later one.
    to: i64,
}

/// What changed from one revision to another, in words.
#[utoipa::path(get, operation_id = "list_changes", path = "/api/landscapes/{id}/changes",
    params(("id" = Uuid, Path), Between), responses((status = OK, body = Vec<String>)))]
async fn changed(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(Between { from, to }): Query<Between>,
) -> Result<axum::Json<Vec<String>>, ApiError> {
    let missing = || ApiError::NotFound("revision of this landscape");
    let from = state.documents.at(id, from).await?.ok_or_else(missing)?;
    let to = state.documents.at(id, to).await?.ok_or_else(missing)?;
    let words = changes(&from.recipe, &to.recipe);
    Ok(axum::Json(words.iter().map(ToString::to_string).collect()))
}

/// Go back to an earlier revision, as an edit that can be undone.
#[utoipa::path(post, operation_id = "return_to_revision", path = "/api/landscapes/{id}/return", params(("id" = Uuid, Path), Wanted),
    request_body = ReturnTo, responses((status = OK, body = HeadMove)))]
async fn return_to(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wanted): Query<Wanted>,
    Json(to): Json<ReturnTo>,
) -> Result<axum::Json<HeadMove>, ApiError> {
    let label = format!("Return to revision {}", to.revision);
    let moved = state
        .documents
        .return_to(id, to.revision, &label, sound_label(&to.author)?)
        .await?;
    told(&state, id, moved, wanted).await
}
