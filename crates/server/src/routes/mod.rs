//! What can be asked for over HTTP.

mod assets;
mod catalogue;
mod edits;
mod exports;
mod ground;
mod landscapes;
mod live;
mod moments;
mod openapi;
mod presets;
mod studies;
mod web;

use std::net::SocketAddr;

use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::middleware::from_fn_with_state;
use tower_http::trace::TraceLayer;
use utoipa_axum::router::OpenApiRouter;

use crate::guard;
use crate::state::AppState;

pub use openapi::openapi_json;
pub(crate) use openapi::{CoreSampleDocument, RecipeDocument};

/// Bodies other than imported files: recipes and patches.
const BODY_BYTES: usize = 4 << 20;

fn api() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .merge(landscapes::router())
        .merge(edits::router())
        .merge(moments::router())
        .merge(studies::router())
        .merge(presets::router())
        .merge(exports::router())
        .merge(catalogue::router())
        .merge(ground::router())
        .layer(DefaultBodyLimit::max(BODY_BYTES))
        // After the layer above, because it sets a limit of its own.
        .merge(assets::router())
}

/// The whole service, as it listens on `address`.
pub(crate) fn router(state: AppState, address: SocketAddr) -> Router {
    let (api, _) = api().split_for_parts();
    api.merge(live::router())
        .fallback(web::file)
        .layer(from_fn_with_state(address, guard::same_origin))
        .layer(TraceLayer::new_for_http())
        .with_state(state)
}
