//! What handlers take out of a request; what cannot be taken is answered as a
//! problem document like every other refusal.

use axum::body::Bytes;
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::header;
use axum::response::{IntoResponse, Response};
use serde::de::DeserializeOwned;

use crate::error::ApiError;
use crate::state::AppState;

/// A longer body is read at the desk: a document of megabytes would keep a thread that
/// answers others for a while.
const LONG: usize = 32 << 10;

/// A body in JSON.
pub(crate) struct Json<T>(pub(crate) T);

impl<T: DeserializeOwned + Send + 'static> FromRequest<AppState> for Json<T> {
    type Rejection = ApiError;

    async fn from_request(request: Request, state: &AppState) -> Result<Self, ApiError> {
        let kind = request.headers().get(header::CONTENT_TYPE).cloned();
        let body = Bytes::from_request(request, state).await?;
        if body.len() < LONG {
            // Reads the kind of the body too.
            let mut short = Request::new(body.into());
            short
                .headers_mut()
                .extend(kind.map(|kind| (header::CONTENT_TYPE, kind)));
            let axum::Json(read) = axum::Json::<T>::from_request(short, state).await?;
            return Ok(Self(read));
        }
        let read = move || axum::Json::<T>::from_bytes(&body).map(|axum::Json(read)| read);
        Ok(Self(state.desk.run(read).await??))
    }
}

/// An answer in JSON that may be long, put together and written at the desk.
pub(crate) async fn long_json(
    state: &AppState,
    written: impl FnOnce() -> serde_json::Result<Vec<u8>> + Send + 'static,
) -> Result<Response, ApiError> {
    let written = move || written().expect("plain data");
    let kind = [(header::CONTENT_TYPE, "application/json")];
    Ok((kind, state.desk.run(written).await?).into_response())
}

/// Parts of the path.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Path), rejection(ApiError))]
pub(crate) struct Path<T>(pub(crate) T);

/// What stands behind the question mark.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Query), rejection(ApiError))]
pub(crate) struct Query<T>(pub(crate) T);
