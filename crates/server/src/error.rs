//! One kind of error for all handlers, answered as a problem document.

use axum::Json;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use recipe::RecipeError;
use serde::Serialize;
use utoipa::ToSchema;

/// Why a request was not done. Refused means unchanged.
#[derive(Debug, thiserror::Error)]
pub(crate) enum ApiError {
    /// There is no such thing.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// Someone else was faster.
    #[error("the landscape has changed since; it is at revision {head} now")]
    Conflict { head: i64 },
    /// Nothing to undo or redo.
    #[error("there is nothing to {0}")]
    Nothing(&'static str),
    /// The recipe would not be valid.
    #[error(transparent)]
    Recipe(#[from] RecipeError),
    /// The patch does not fit the recipe.
    #[error("the edit does not fit the recipe: {0}")]
    Patch(#[from] json_patch::PatchError),
    /// The file cannot be taken.
    #[error(transparent)]
    File(#[from] formats::ReadError),
    /// A parameter of the request.
    #[error("{0}")]
    BadRequest(String),
    /// Too much at once.
    #[error("{0}")]
    TooLarge(String),
    /// Growing failed.
    #[error(transparent)]
    Grow(#[from] recipe::GrowError),
    /// The database; the client learns no details.
    #[error("the service could not do this just now; nothing was changed")]
    Database(#[from] sqlx::Error),
    /// The disk; the client learns no details.
    #[error("the service could not do this just now; nothing was changed")]
    Io(#[from] std::io::Error),
}

/// A problem document (RFC 9457).
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Problem {
    /// What kind of problem, in short.
    pub(crate) title: String,
    /// The HTTP status.
    pub(crate) status: u16,
    /// What happened, for people.
    pub(crate) detail: String,
    /// JSON Pointer to the faulty value in the recipe.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(crate) pointer: Option<String>,
}

impl ApiError {
    fn status(&self) -> StatusCode {
        match self {
            Self::NotFound(_) => StatusCode::NOT_FOUND,
            Self::Conflict { .. } | Self::Nothing(_) => StatusCode::CONFLICT,
            Self::Recipe(_) | Self::Patch(_) | Self::File(_) | Self::Grow(_) => {
                StatusCode::UNPROCESSABLE_ENTITY
            }
            Self::BadRequest(_) => StatusCode::BAD_REQUEST,
            Self::TooLarge(_) => StatusCode::PAYLOAD_TOO_LARGE,
            Self::Database(_) | Self::Io(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }
}

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let status = self.status();
        match &self {
            Self::Database(source) => tracing::error!(%source, "database"),
            Self::Io(source) => tracing::error!(%source, "disk"),
            _ => {}
        }
        let pointer = match &self {
            Self::Recipe(error) => Some(error.place.pointer.clone()),
            _ => None,
        };
        problem(status, self.to_string(), pointer)
    }
}

/// Answers with a problem document.
pub(crate) fn problem(status: StatusCode, detail: String, pointer: Option<String>) -> Response {
    let title = status.canonical_reason().unwrap_or("Problem").to_owned();
    let body = Problem {
        title,
        status: status.as_u16(),
        detail,
        pointer,
    };
    let mut response = (status, Json(body)).into_response();
    let kind = HeaderValue::from_static("application/problem+json");
    response.headers_mut().insert(header::CONTENT_TYPE, kind);
    response
}
