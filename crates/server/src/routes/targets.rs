//! What other programs take: those that ship with the product, and one's own.

use axum::extract::State;
use axum::http::StatusCode;
use deliver::Target;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::error::ApiError;
use crate::extract::{Json, Path};
use crate::state::AppState;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, keep))
        .routes(routes!(discard))
}

/// More of one's own are refused.
const MOST: i64 = 200;

/// A target that can be chosen.
#[derive(Serialize, ToSchema)]
struct KnownTarget {
    /// Its id, when it is not one that ships with the product.
    id: Option<Uuid>,
    /// What it takes.
    target: Target,
}

/// All targets: those that ship with the product, then one's own.
#[utoipa::path(get, operation_id = "list_targets", path = "/api/targets",
    responses((status = OK, body = Vec<KnownTarget>)))]
async fn list(State(state): State<AppState>) -> Result<axum::Json<Vec<KnownTarget>>, ApiError> {
    let shipped = Target::shipped().into_iter();
    let shipped = shipped.map(|target| KnownTarget { id: None, target });
    let own = state.store.targets().await?.into_iter();
    let own = own.map(|row| KnownTarget {
        id: Some(row.id),
        target: row.target.0,
    });
    Ok(axum::Json(shipped.chain(own).collect()))
}

/// Keep a target of one's own, in the place of one of its name.
#[utoipa::path(post, operation_id = "keep_target", path = "/api/targets",
    request_body = Target, responses((status = CREATED, body = KnownTarget)))]
async fn keep(
    State(state): State<AppState>,
    Json(target): Json<Target>,
) -> Result<(StatusCode, axum::Json<KnownTarget>), ApiError> {
    target.check().map_err(ApiError::BadRequest)?;
    let shipped = Target::shipped();
    if shipped.iter().any(|ships| ships.key() == target.key()) {
        let detail = format!(
            "‘{}’ ships with the product: take another name",
            target.name
        );
        return Err(ApiError::BadRequest(detail));
    }
    let kept = state
        .store
        .keep_target(Uuid::now_v7(), &target, MOST)
        .await?;
    let id = kept.ok_or_else(|| {
        ApiError::TooLarge(format!(
            "{MOST} targets are kept already; take one away first"
        ))
    })?;
    let id = Some(id);
    Ok((StatusCode::CREATED, axum::Json(KnownTarget { id, target })))
}

/// Take a target of one's own away.
#[utoipa::path(delete, operation_id = "discard_target", path = "/api/targets/{id}", params(("id" = Uuid, Path)),
    responses((status = NO_CONTENT)))]
async fn discard(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, ApiError> {
    match state.store.drop_target(id).await? {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(ApiError::NotFound("target of one's own")),
    }
}
