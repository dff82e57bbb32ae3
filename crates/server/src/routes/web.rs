//! The front end, out of the program itself.

use axum::http::{HeaderValue, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

use crate::error::problem;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// A file of the front end; its first page for every path of its own.
pub(super) async fn file(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        let detail = "there is nothing at this address".to_owned();
        return problem(StatusCode::NOT_FOUND, detail, None);
    }
    // Files under assets/ carry a hash of their content in the name.
    let lasting = path.starts_with("assets/");
    let (path, file) = match Files::get(path) {
        Some(file) => (path, Some(file)),
        None if lasting => (path, None),
        None => ("index.html", Files::get("index.html")),
    };
    let Some(file) = file else {
        let detail = "the front end is not built, or this file is not part of it".to_owned();
        return problem(StatusCode::NOT_FOUND, detail, None);
    };
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    let cached = if lasting {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let mut response = file.data.into_owned().into_response();
    let headers = response.headers_mut();
    if let Ok(kind) = HeaderValue::from_str(kind.as_ref()) {
        headers.insert(header::CONTENT_TYPE, kind);
    }
    headers.insert(header::CACHE_CONTROL, HeaderValue::from_static(cached));
    response
}
