//! How the service is, for those who look after it.

use axum::Router;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use serde_json::{Map, Value, json};

use crate::measures;
use crate::state::AppState;

pub(super) fn router() -> Router<AppState> {
    Router::new()
        .route("/healthz", get(health))
        .route("/metrics", get(measured))
}

/// Whether the database answers, and how much work waits.
async fn health(State(state): State<AppState>) -> Response {
    let database = state.store.answers().await;
    let waiting = state.compute.waiting().into_iter();
    let waiting: Map<String, Value> = waiting
        .map(|(class, count)| (class.name().to_owned(), count.into()))
        .collect();
    let status = match database {
        true => StatusCode::OK,
        false => StatusCode::SERVICE_UNAVAILABLE,
    };
    let body = json!({ "database": database, "waiting": waiting });
    (status, axum::Json(body)).into_response()
}

/// Measurements, in the text format of Prometheus.
async fn measured(State(state): State<AppState>) -> Response {
    let kind = [(header::CONTENT_TYPE, "text/plain; version=0.0.4")];
    (kind, measures::rendered(&state)).into_response()
}
