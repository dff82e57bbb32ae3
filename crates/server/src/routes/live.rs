//! Live sessions, over a WebSocket.

use axum::Router;
use axum::extract::{State, WebSocketUpgrade};
use axum::response::Response;
use axum::routing::get;
use uuid::Uuid;

use crate::extract::{Path, Query};
use crate::live::{Wanted, attend};
use crate::state::AppState;

/// Words of viewers are small: looks and patches.
const MESSAGE_BYTES: usize = 1 << 20;

pub(super) fn router() -> Router<AppState> {
    Router::new().route("/api/landscapes/{id}/live", get(live))
}

async fn live(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wanted): Query<Wanted>,
    upgrade: WebSocketUpgrade,
) -> Response {
    // That the shelf does not know when it was opened is no reason to keep it closed.
    if let Err(source) = state.store.opened(id).await {
        tracing::warn!(%source, "it is not noted that a landscape was opened");
    }
    upgrade
        .max_message_size(MESSAGE_BYTES)
        .on_upgrade(move |socket| attend(socket, state, id, wanted))
}
