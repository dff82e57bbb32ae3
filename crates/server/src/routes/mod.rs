//! What can be asked for over HTTP.

mod assets;
mod catalogue;
mod edits;
mod exports;
mod ground;
mod health;
mod landscapes;
mod live;
mod masks;
mod mesh_pictures;
mod moments;
mod openapi;
mod presets;
mod studies;
mod targets;
mod web;

use std::net::SocketAddr;
use std::sync::Arc;

use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderName, StatusCode};
use axum::middleware::from_fn_with_state;
use axum::response::Response;
use recipe::Recipe;
use tower_http::compression::CompressionLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};
use tower_http::timeout::RequestBodyTimeoutLayer;
use tower_http::trace::TraceLayer;
use utoipa_axum::router::OpenApiRouter;
use uuid::Uuid;

use crate::error::{ApiError, problem};
use crate::guard;
use crate::state::AppState;

pub use openapi::openapi_json;
pub(crate) use openapi::{CoreSampleDocument, RecipeDocument};
pub(crate) use presets::draw_kinds;
pub use web::has_page;

/// Bodies other than imported files: recipes and patches.
const BODY_BYTES: usize = 4 << 20;
/// By this name a request is known in the log and in its answer.
const REQUEST_ID: HeaderName = HeaderName::from_static("x-request-id");

fn api() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .merge(landscapes::router())
        .merge(edits::router())
        .merge(moments::router())
        .merge(masks::router())
        .merge(studies::router())
        .merge(presets::router())
        .merge(exports::router())
        .merge(targets::router())
        .merge(mesh_pictures::router())
        .merge(catalogue::router())
        .merge(ground::router())
        .layer(DefaultBodyLimit::max(BODY_BYTES))
        // After the layer above, because it sets a limit of its own.
        .merge(assets::router())
}

/// The recipe of a landscape as it is now.
async fn head_of(state: &AppState, id: Uuid) -> Result<Arc<Recipe>, ApiError> {
    let head = state.documents.head(id).await?;
    let head = head.ok_or(ApiError::NotFound("landscape"))?;
    Ok(head.document.recipe.clone())
}

/// The whole service, as it listens on `address`.
pub(crate) fn router(state: AppState, address: SocketAddr) -> Router {
    let (api, _) = api().split_for_parts();
    let body_silent = state.limits.body_silent;
    api.merge(live::router())
        .merge(health::router())
        .method_not_allowed_fallback(not_allowed)
        .fallback(web::file)
        .layer(CompressionLayer::new())
        .layer(from_fn_with_state(address, guard::same_origin))
        .layer(RequestBodyTimeoutLayer::new(body_silent))
        .layer(
            TraceLayer::new_for_http().make_span_with(|request: &axum::extract::Request| {
                let id = request
                    .headers()
                    .get(REQUEST_ID)
                    .and_then(|id| id.to_str().ok());
                let (method, path) = (request.method(), request.uri().path());
                tracing::info_span!("request", id, %method, path)
            }),
        )
        .layer(PropagateRequestIdLayer::new(REQUEST_ID))
        .layer(SetRequestIdLayer::new(REQUEST_ID, MakeRequestUuid))
        .with_state(state)
}

async fn not_allowed() -> Response {
    let detail = "this cannot be done here".to_owned();
    problem(StatusCode::METHOD_NOT_ALLOWED, detail)
}
