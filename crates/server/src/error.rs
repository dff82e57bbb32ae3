//! One kind of error for all handlers, answered as a problem document.

use axum::Json;
use axum::extract::rejection::{BytesRejection, JsonRejection, PathRejection, QueryRejection};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use deliver::DeliverError;
use recipe::{GrowError, RecipeError};
use serde::Serialize;
use utoipa::ToSchema;

use crate::bulk::Unknown;
use crate::compute::Panicked;
use crate::patching::PatchFault;

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
    /// The patch does not fit the recipe, or is too large.
    #[error(transparent)]
    Patch(#[from] PatchFault),
    /// It names a list of points that was not laid ready.
    #[error("{0}; nothing was changed. Please send it again")]
    UnknownList(#[from] Unknown),
    /// A recipe that was stored cannot be read.
    #[error("This landscape cannot be read: {0}. It is kept as it is.")]
    Unreadable(String),
    /// The file cannot be taken.
    #[error(transparent)]
    File(#[from] formats::ReadError),
    /// A parameter of the request.
    #[error("{0}")]
    BadRequest(String),
    /// A value that is understood and not allowed.
    #[error("{0}")]
    Unfit(String),
    /// The request could not be understood.
    #[error("{detail}")]
    Rejected {
        /// The HTTP status.
        status: StatusCode,
        /// Why.
        detail: String,
    },
    /// Too much at once.
    #[error("{0}")]
    TooLarge(String),
    /// Growing failed.
    #[error(transparent)]
    Grow(#[from] GrowError),
    /// A fault of the program.
    #[error(transparent)]
    Panicked(#[from] Panicked),
    /// The database; the client learns no details.
    #[error("{}", words(.0))]
    Database(#[from] sqlx::Error),
    /// The disk; the client learns no details.
    #[error("the service could not do this just now; nothing was changed")]
    Io(#[from] std::io::Error),
}

/// Seconds after which a client may try again when the database is away.
const RETRY_AFTER_S: u32 = 2;

fn words(error: &sqlx::Error) -> &'static str {
    match is_away(error) {
        true => "the database does not answer just now; nothing was changed. Please try again",
        false => "the service could not do this just now; nothing was changed",
    }
}

/// Whether the database cannot be reached, as against a fault of ours.
fn is_away(error: &sqlx::Error) -> bool {
    match error {
        sqlx::Error::PoolTimedOut
        | sqlx::Error::PoolClosed
        | sqlx::Error::WorkerCrashed
        | sqlx::Error::Tls(_)
        | sqlx::Error::Protocol(_)
        | sqlx::Error::Io(_) => true,
        sqlx::Error::Database(error) => error.code().is_some_and(|code| {
            // Connection exceptions, too many connections, shutting down, starting up,
            // taking no connections, not there.
            code.starts_with("08")
                || code.starts_with("57P")
                || matches!(code.as_ref(), "53300" | "55000" | "3D000")
        }),
        _ => false,
    }
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
    /// The nearest value that would be allowed there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(crate) fits: Option<f64>,
}

impl From<DeliverError> for ApiError {
    fn from(error: DeliverError) -> Self {
        match error {
            DeliverError::Grow(error) => error.into(),
            DeliverError::Order(why) => Self::BadRequest(why),
            error @ DeliverError::Write { .. } => {
                // Where on this machine is nobody else's business.
                tracing::error!(%error, "files cannot be written");
                Self::Unfit("its files could not be written".to_owned())
            }
        }
    }
}

impl ApiError {
    fn status(&self) -> StatusCode {
        match self {
            Self::NotFound(_) => StatusCode::NOT_FOUND,
            Self::Conflict { .. } | Self::Nothing(_) => StatusCode::CONFLICT,
            Self::Patch(PatchFault::TooLarge(_)) | Self::TooLarge(_) => {
                StatusCode::PAYLOAD_TOO_LARGE
            }
            Self::Recipe(_)
            | Self::Patch(_)
            | Self::Unreadable(_)
            | Self::File(_)
            | Self::Unfit(_)
            | Self::Grow(_) => StatusCode::UNPROCESSABLE_ENTITY,
            Self::UnknownList(_) => StatusCode::FAILED_DEPENDENCY,
            Self::BadRequest(_) => StatusCode::BAD_REQUEST,
            Self::Rejected { status, .. } => *status,
            Self::Database(error) if is_away(error) => StatusCode::SERVICE_UNAVAILABLE,
            Self::Database(_) | Self::Io(_) | Self::Panicked(_) => {
                StatusCode::INTERNAL_SERVER_ERROR
            }
        }
    }

    /// JSON Pointer to the faulty value in the recipe, and the nearest one that
    /// would be allowed.
    pub(crate) fn place(&self) -> (Option<String>, Option<f64>) {
        match self {
            Self::Recipe(error) => (Some(error.place.pointer.clone()), None),
            Self::Grow(GrowError::TooCostly(error)) => {
                let fit = error.parameter.as_ref();
                (fit.map(|fit| fit.pointer.clone()), fit.map(|fit| fit.fits))
            }
            _ => (None, None),
        }
    }
}

macro_rules! rejected {
    ($($rejection:ty),*) => {$(
        impl From<$rejection> for ApiError {
            fn from(rejection: $rejection) -> Self {
                Self::Rejected {
                    status: rejection.status(),
                    detail: rejection.body_text(),
                }
            }
        }
    )*};
}

rejected!(BytesRejection, JsonRejection, PathRejection, QueryRejection);

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let status = self.status();
        match &self {
            Self::Database(source) => tracing::error!(%source, "database"),
            Self::Io(source) => tracing::error!(%source, "disk"),
            _ => {}
        }
        let (pointer, fits) = self.place();
        let mut response = answer(status, self.to_string(), pointer, fits);
        if status == StatusCode::SERVICE_UNAVAILABLE {
            let headers = response.headers_mut();
            headers.insert(header::RETRY_AFTER, RETRY_AFTER_S.into());
        }
        response
    }
}

/// Answers with a problem document.
pub(crate) fn problem(status: StatusCode, detail: String) -> Response {
    answer(status, detail, None, None)
}

fn answer(
    status: StatusCode,
    detail: String,
    pointer: Option<String>,
    fits: Option<f64>,
) -> Response {
    let title = status.canonical_reason().unwrap_or("Problem").to_owned();
    let body = Problem {
        title,
        status: status.as_u16(),
        detail,
        pointer,
        fits,
    };
    let mut response = (status, Json(body)).into_response();
    let kind = HeaderValue::from_static("application/problem+json");
    response.headers_mut().insert(header::CONTENT_TYPE, kind);
    response
}
